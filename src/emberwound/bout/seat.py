"""A seat: a player or a script, which outlives the bodies it sits in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import bodies, checks
from emberwound.bout.block import BODY_CHARGING, SEAT_LIFE, SEAT_LIVES, SEAT_TEAM, TICK
from emberwound.bout.inputs import take
from emberwound.bout.pools import bears_of
from emberwound.bout.pools import values as current
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_START
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.orders import Order, Place, Resize

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.world import World
    from emberwound.vocabulary.orders import Facing


class Seat:
    """A handle on one seat of a bout. It stays good through death and respawn; equal handles are the same seat."""

    __slots__ = ("_index", "_world", "name")

    def __init__(self, world: World, name: str) -> None:
        self._world = world
        self._index = world.names.index(name)
        self.name = name

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
        `press` begins an attack once; `hold` holds attacks or "guard" until the next `hold`, and () lets all go.
        Raises BoutError.
        """
        told = {"move": move, "aim": aim, "facing": facing, "press": press, "hold": hold, "patrol": patrol}
        if all(each is None for each in told.values()):
            raise BoutError(f"seat {self.name!r}: an order for nothing; give {', '.join(told)}")
        if move is not None and patrol is not None:
            raise BoutError("order: a fighter walks one way at a time; give move or patrol")
        plan = self._world.plan
        given = Order(
            tick=self._world.counts[TICK],
            seat=self.name,
            source="host",
            move=None if move is None else checks.move(move, plan),
            aim=None if aim is None else checks.direction("aim", aim, plan),
            facing=None if facing is None else checks.facing(facing, plan),
            press=None if press is None else self._attack(press),
            hold=None if hold is None else self._held(hold),
            patrol=None if patrol is None else checks.name(f"path of {plan.arena}", patrol, plan.path_names),
        )
        if move is not None or patrol is not None:
            self._must_walk()
        take(self._world, given)

    def _attack(self, name: str) -> str:
        fighter = self._world.fighter_of_seat(self._index)
        return checks.name(f"attack of {fighter.name}", name, [each.name for each in fighter.attacks])

    def _held(self, names: str | Sequence[str]) -> tuple[str, ...]:
        fighter = self._world.fighter_of_seat(self._index)
        known = [*(each.name for each in fighter.attacks), *(["guard"] if fighter.guards else [])]
        wanted = (names,) if isinstance(names, str) else tuple(names)
        return tuple(checks.name(f"attack or guard of {fighter.name}", each, known) for each in wanted)

    def _must_walk(self) -> None:
        fighter = self._world.fighter_of_seat(self._index)
        if fighter.speed == 0.0:
            raise BoutError(f"seat {self.name!r}: {fighter.name} has no speed; give it one in the rulebook")

    def place(
        self, position: Sequence[float], velocity: Sequence[float] | None = None, *, teleport: bool = False
    ) -> None:
        """Move the body to `position` in the coming tick; it sweeps the way there unless it is a teleport.

        A body that its host places stays where it is put, in the air too, until it is ordered to walk or lunges.
        `velocity` is what its shots may take a share of. Raises BoutError for a position outside the arena.
        """
        plan = self._world.plan
        given = Place(
            tick=self._world.counts[TICK],
            seat=self.name,
            source="host",
            position=checks.place("place", position, plan),
            velocity=None if velocity is None else checks.point("velocity", velocity, plan),
            teleport=bool(teleport),
        )
        take(self._world, given)

    def resize(self, pool: str, maximum: float) -> None:
        """Change the maximum of one of the living body's pools, for this life; the pool keeps its share of it.

        So a full pool stays full and an empty one empty. Raises BoutError for an unknown pool, a maximum that is not
        above 0, and a seat without a living body.
        """
        fighter = self._world.fighter_of_seat(self._index)
        known = checks.name(f"pool of {fighter.name}", pool, [each.name for each in fighter.bears.pools])
        size = checks.amount("maximum", maximum)
        if self._body is None:
            raise BoutError(f"seat {self.name!r} has no living body to resize a pool of; wait for its respawn")
        given = Resize(tick=self._world.counts[TICK], seat=self.name, source="host", pool=known, maximum=size)
        take(self._world, given)

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
        """The number of its life, from 1."""
        return int(self._world.block.seat_marks[SEAT_LIFE, self._index])

    @property
    def lives_left(self) -> int:
        """Lives it still has, the one in play included."""
        return int(self._world.block.seat_marks[SEAT_LIVES, self._index])

    @property
    def position(self) -> tuple[float, ...] | None:
        """Where its living body stands, or None."""
        row = self._body
        return None if row is None else self._world.point(self._world.block.bodies[FRAME_START : FRAME_START + 3, row])

    @property
    def facing(self) -> Facing | None:
        """The side its living body looks to, or degrees from +x where it can look around; None without a body."""
        row = self._body
        if row is None:
            return None
        return self._world.plan.plane.facing(self._world.block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist())

    @property
    def team(self) -> str | None:
        """The name of its team, or None for a team of its own."""
        return self._world.team_name(int(self._world.block.seat_marks[SEAT_TEAM, self._index]))

    @property
    def doing(self) -> tuple[str, ...]:
        """What its living body is doing: its attack, "charging", "moving", "airborne", "guarding"."""
        row = self._body
        if row is None:
            return ()
        attack = bodies.attack_of(self._world, row)
        charging = ["charging"] if self._world.block.body_marks[BODY_CHARGING, row] else []
        return (*([attack.name] if attack else []), *charging, *bodies.states_of(self._world, row))

    @property
    def pools(self) -> dict[str, float]:
        """The value of each pool of its living body; empty without one."""
        row = self._body
        if row is None:
            return {}
        pools = self._world.fighter_of_seat(self._index).bears.pools
        held = current(self._world, row)
        return {pool.name: value for pool, value in zip(pools, held, strict=True)}

    @property
    def pool_sizes(self) -> dict[str, float]:
        """The maximum of each pool of its living body; empty without one."""
        row = self._body
        return {} if row is None else {pool.name: pool.maximum for pool in bears_of(self._world, row).pools}

    @property
    def _body(self) -> int | None:
        return bodies.row_of(self._world, self._index)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Seat) and other._world is self._world and other._index == self._index

    def __hash__(self) -> int:
        return hash((id(self._world), self._index))

    def __repr__(self) -> str:
        return f"<Seat {self.name}: {self.fighter}, {'alive' if self.alive else 'dead'}>"
