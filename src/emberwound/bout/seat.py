"""A seat: a player or a script, which outlives the bodies it sits in, and what its host may do to its body."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from emberwound.bout.lives import counters
from emberwound.bout.orders.inputs import give
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer
from emberwound.bout.views.body import body_view
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.orders import Become, Heal, Hurt, Leave, Order, Place, Push, Resize, SetPool

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.state.world import World
    from emberwound.bout.views.body import BodyView
    from emberwound.vocabulary.orders import Facing, Input


HOST = "host"
"""What stands as the attack of what a host does, unless it says another name."""


class Seat:
    """A handle on one seat of a bout. It stays good through death and respawn; equal handles are the same seat.

    `Bout.enter` and `Bout.seat` give one. A seat that has left, or that had not entered in the snapshot a bout was
    restored from, answers with a BoutError. What a host asks of it counts for the coming tick, and is recorded.
    """

    __slots__ = ("_column", "_id", "_name", "_world")

    _world: World
    _column: int
    _id: int
    _name: str

    def __init__(self) -> None:
        raise BoutError("a seat comes from bout.enter(...) or bout.seat(name)")

    @property
    def name(self) -> str:
        """Its name in the bout."""
        return self._name

    @property
    def _is_here(self) -> bool:
        names, ids = self._world.names, self._world.block.seat_marks[SeatMark.ID]
        return self._column < len(names) and names[self._column] == self.name and ids[self._column] == self._id

    @property
    def _index(self) -> int:
        """Its index. Raises BoutError when it is not in the bout."""
        if not self._is_here:
            raise BoutError(f"seat {self.name!r} has left the bout")
        return self._column

    def _give(self, kind: type[Input], /, **asked: object) -> None:
        give(self._world, kind, self._index, **asked)

    def order(
        self,
        *,
        move: float | Sequence[float] | None = None,
        aim: Sequence[float] | None = None,
        facing: Facing | None = None,
        press: str | None = None,
        hold: str | Sequence[str] | None = None,
        patrol: str | None = None,
    ) -> None:
        """Tell the fighter what to do from the coming tick on; what is left out stays as it was.

        `move` walks: from -1 to 1 seen from the side, else (x, y) no longer than 1, as shares of the fighter's speed;
        `patrol` walks along a path of the arena instead. `aim` is a direction in the arena, of any length. `facing`
        is "left" or "right", degrees from +x where it can look around, or "foe" to keep turning to the nearest one.
        An aim turns the fighter to that side unless `facing` is given with it, and a move unless either is.
        `press` begins an attack once; `hold` holds attacks, a posture or "guard" until the next `hold`, and () lets
        all go.
        Raises BoutError.
        """
        self._give(Order, move=move, aim=aim, facing=facing, press=press, hold=hold, patrol=patrol)

    def place(
        self,
        position: Sequence[float],
        velocity: Sequence[float] | None = None,
        *,
        teleport: bool = False,
        grounded: bool | None = None,
        posture: str | None = None,
    ) -> None:
        """Move the body to `position` in the coming tick; it sweeps the way there unless it is a teleport.

        A body that its host places stays where it is put, in the air too, until it is ordered to walk or lunges.
        `velocity` is what its shots may take a share of. `grounded` says whether it stands; without it, it stands
        with its feet on the floor or a wall, or up to a thousandth of its radius above. `posture` holds it in that
        posture, or "standing", until the next `hold`. Raises BoutError for a position outside the arena, and for an
        unknown posture.
        """
        self._give(Place, position=position, velocity=velocity, teleport=teleport, grounded=grounded, posture=posture)

    def resize(self, pool: str, maximum: float) -> None:
        """Change the maximum of one of the living body's pools, for this life; the pool keeps its share of it.

        So a full pool stays full and an empty one empty. Raises BoutError for an unknown pool, a maximum that is not
        above 0, or of more parts than a bar of it may have, and a seat without a living body.
        """
        self._give(Resize, pool=pool, maximum=maximum)

    def set_pool(self, pool: str, value: float) -> None:
        """Set what one of the living body's pools holds, at once and without an event.

        A vital pool at 0 would be a death that nobody dealt: `hurt` instead. Raises BoutError for an unknown pool, a
        value below 0 or above its maximum, 0 for the vital pool, and a seat without a living body.
        """
        self._give(SetPool, pool=pool, value=value)

    def push(self, velocity: Sequence[float], *, mode: Literal["set", "add"] = "set") -> None:
        """Push the living body in the coming tick: it flies as after a knockback of that velocity, whatever its weight.

        "set" clears its own velocity first, "add" adds to it. Raises BoutError for what is no velocity of the arena,
        another mode, and a seat without a living body.
        """
        self._give(Push, velocity=velocity, mode=mode)

    def hurt(self, points: float, kind: str, *, by: Seat | str | None = None, name: str = HOST) -> None:
        """Wound the living body in the coming tick, before all hits, through the same ledger as by a hit.

        Its shares, pools and the book's own steps count; guards, hurtboxes and protection do not, as nothing touches
        it. `name` stands as the attack in `Wounded`; `by` is credited. Raises BoutError for points that are not above
        0, an unknown kind or seat, and a seat without a living body.
        """
        self._give(Hurt, points=points, kind=kind, by=by, name=name)

    def heal(self, points: float, kind: str, *, by: Seat | str | None = None, name: str = HOST) -> None:
        """Heal the living body in the coming tick, after all wounds; all else is as for `hurt`."""
        self._give(Heal, points=points, kind=kind, by=by, name=name)

    def leave(self) -> None:
        """Leave the bout with the coming tick: the body and its shots go, and the seat is free for another."""
        self._give(Leave)

    def become(self, fighter: str) -> None:
        """Let the next body, from the coming respawn on, be another fighter's.

        Raises BoutError for an unknown one, and for a seat that is out: it has no next body.
        """
        self._give(Become, becomes=fighter)

    @property
    def fighter(self) -> str:
        """The name of its fighter."""
        return self._world.fighter_of_seat(self._index).name

    @property
    def alive(self) -> bool:
        """Whether it has a living body."""
        return self._body is not None

    @property
    def life(self) -> int:
        """Which of its lives this is, from 1."""
        return int(self._world.block.seat_marks[SeatMark.LIFE, self._index])

    @property
    def lives_left(self) -> int | None:
        """Lives it still has, the one in play included; None when they are endless."""
        return queries.lives_of(self._world, self._index)

    @property
    def score(self) -> dict[str, float]:
        """The value of each of its counters, the seconds of the running life included."""
        values = counters.counted(self._world, self._index)
        return {counter.name: value for counter, value in zip(self._world.plan.counters, values, strict=True)}

    @property
    def out(self) -> bool:
        """Whether its last life is over."""
        return bool(self._world.block.seat_marks[SeatMark.ELIMINATED, self._index])

    @property
    def respawns_in(self) -> float | None:
        """Seconds until its next body stands; None while it has one, or when none will come."""
        due = int(self._world.block.timers[Timer.RESPAWN][self._index])
        return None if due == NEVER else (due - self._world.counts[Count.TICK]) / self._world.plan.tick_rate

    @property
    def team(self) -> str | None:
        """The name of its team, or None for a team of its own."""
        return self._world.team_name(int(self._world.block.seat_marks[SeatMark.TEAM, self._index]))

    @property
    def body(self) -> BodyView | None:
        """Its living body as it is now, or None."""
        body = self._body
        return None if body is None else body_view(self._world, body)

    @property
    def corpse(self) -> BodyView | None:
        """Its fallen body for as long as it lies there, also when the seat lives on in a new one; else None."""
        corpse = queries.corpse_of(self._world, self._index)
        return None if corpse is None else body_view(self._world, corpse)

    @property
    def position(self) -> tuple[float, ...] | None:
        """Where its living body stands, or None."""
        body = self.body
        return None if body is None else body.position

    @property
    def facing(self) -> Facing | None:
        """The side its living body looks to, or degrees from +x where it can look around; None without a body."""
        body = self.body
        return None if body is None else body.facing

    @property
    def states(self) -> tuple[str, ...]:
        """What its living body does, as `BodyView.states` says it; empty without one."""
        body = self.body
        return () if body is None else body.states

    @property
    def pools(self) -> dict[str, float]:
        """The value of each pool of its living body; empty without one."""
        body = self.body
        return {} if body is None else body.pools

    @property
    def _body(self) -> int | None:
        """The living body, by its column."""
        return queries.body_of(self._world, self._index)

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, Seat)
            and other._world is self._world
            and other._id == self._id
            and other.name == self.name
        )

    def __hash__(self) -> int:
        return hash((id(self._world), self._id))

    def __repr__(self) -> str:
        if not self._is_here:
            return f"<Seat {self.name}: left the bout>"
        return f"<Seat {self.name}: {self.fighter}, {'alive' if self.alive else 'dead'}>"


def seat_of(world: World, index: int) -> Seat:
    """A handle on the seat at an index."""
    seat = Seat.__new__(Seat)
    seat._world = world  # noqa: SLF001 (this makes it)
    seat._column = index  # noqa: SLF001
    seat._id = int(world.block.seat_marks[SeatMark.ID, index])  # noqa: SLF001
    seat._name = world.names[index]  # noqa: SLF001
    return seat
