"""A seat: a player or a script, which outlives the bodies it sits in, and what its host may do to its body."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from emberwound.bout.bodies.pools import stats_of
from emberwound.bout.lives import counters
from emberwound.bout.orders import validate
from emberwound.bout.orders.inputs import take
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer
from emberwound.bout.views.body import BodyView
from emberwound.geometry.layout import Posture
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.limits import SMALLEST
from emberwound.vocabulary.orders import Become, Heal, Hurt, Leave, Order, Place, Push, Resize, SetPool

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.state.world import World
    from emberwound.bout.views.parts import RagdollView, ReactionView
    from emberwound.vocabulary.orders import Facing


HOST = "host"
"""What is told as the attack of what a host does, unless it says another name."""


class HostedBody:
    """The seat of a body that a host may move, push, hurt and heal; all of it is recorded."""

    __slots__ = ("_id", "_name", "_number", "_world")

    def __init__(self, world: World, number: int) -> None:
        self._world = world
        self._number = number
        self._id = int(world.block.seat_marks[SeatMark.ID, number])
        self._name = world.names[number]

    @property
    def name(self) -> str:
        """Its name in the bout."""
        return self._name

    @property
    def _is_here(self) -> bool:
        names, ids = self._world.names, self._world.block.seat_marks[SeatMark.ID]
        return self._number < len(names) and names[self._number] == self.name and ids[self._number] == self._id

    @property
    def _index(self) -> int:
        """Its number. Raises BoutError when it is not in the bout."""
        if not self._is_here:
            raise BoutError(f"seat {self.name!r} has left the bout")
        return self._number

    def _held_name(self) -> str:
        return self._world.names[self._index]

    @property
    def _body(self) -> int | None:
        return queries.body_of(self._world, self._index)

    def _posture(self, name: str) -> str:
        fighter = self._world.fighter_of_seat(self._index)
        known = [each for number, each in enumerate(fighter.postures) if number != Posture.AIRBORNE]
        return validate.name(f"posture of {fighter.name}", name, known)

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
        plan = self._world.plan
        given = Place(
            tick=self._world.counts[Count.TICK],
            seat=self._held_name(),
            source="host",
            position=validate.place("place", position, plan),
            velocity=None if velocity is None else validate.point("velocity", velocity, plan),
            teleport=validate.truth("teleport", teleport),
            grounded=None if grounded is None else validate.truth("grounded", grounded),
            posture=None if posture is None else self._posture(posture),
        )
        take(self._world, given)

    def resize(self, pool: str, maximum: float) -> None:
        """Change the maximum of one of the living body's pools, for this life; the pool keeps its share of it.

        So a full pool stays full and an empty one empty. Raises BoutError for an unknown pool, a maximum that is not
        above 0, or of more parts than a bar of it may have, and a seat without a living body.
        """
        fighter = self._world.fighter_of_seat(self._index)
        known = validate.name(f"pool of {fighter.name}", pool, [each.name for each in fighter.stats.pools])
        size = validate.amount("maximum", maximum)
        for bar in fighter.bars:
            if bar.pool_name == known:
                validate.parts("maximum", size, bar)
        self._living("resize a pool of")
        given = Resize(
            tick=self._world.counts[Count.TICK], seat=self._held_name(), source="host", pool=known, maximum=size
        )
        take(self._world, given)

    def set_pool(self, pool: str, value: float) -> None:
        """Set what one of the living body's pools holds, at once and without an event.

        A vital pool at 0 would be a death that nobody dealt: `hurt` instead. Raises BoutError for an unknown pool, a
        value below 0 or above its maximum, 0 for the vital pool, and a seat without a living body.
        """
        fighter = self._world.fighter_of_seat(self._index)
        names = [each.name for each in fighter.stats.pools]
        known = validate.name(f"pool of {fighter.name}", pool, names)
        body = self._living("set a pool of")
        most = stats_of(self._world, body).pools[names.index(known)].maximum
        least = SMALLEST if names.index(known) == fighter.stats.vital else 0.0
        given = SetPool(
            tick=self._world.counts[Count.TICK],
            seat=self._held_name(),
            source="host",
            pool=known,
            value=validate.between("value", value, least, most),
        )
        take(self._world, given)

    def push(self, velocity: Sequence[float], *, mode: Literal["set", "add"] = "set") -> None:
        """Push the living body in the coming tick: it flies as after a knockback of that velocity, whatever its weight.

        "set" clears its own velocity first, "add" adds to it. Raises BoutError for what is no velocity of the arena,
        another mode, and a seat without a living body.
        """
        self._living("push")
        given = Push(
            tick=self._world.counts[Count.TICK],
            seat=self._held_name(),
            source="host",
            velocity=validate.point("velocity", velocity, self._world.plan),
            mode="set" if validate.name("mode", mode, ("set", "add")) == "set" else "add",
        )
        take(self._world, given)

    def hurt(self, points: float, kind: str, *, by: HostedBody | str | None = None, name: str = HOST) -> None:
        """Wound the living body in the coming tick, before all hits, through the same ledger as by a hit.

        Its shares, pools and the book's own steps count; guards, hurtboxes and protection do not, as nothing touches
        it. `name` stands as the attack in `Wounded`; `by` is credited. Raises BoutError for points that are not above
        0, an unknown kind or seat, and a seat without a living body.
        """
        self._living("hurt")
        take(self._world, Hurt(**self._harm(points, kind, by, name)))

    def heal(self, points: float, kind: str, *, by: HostedBody | str | None = None, name: str = HOST) -> None:
        """Heal the living body in the coming tick, after all wounds; all else is as for `hurt`."""
        self._living("heal")
        take(self._world, Heal(**self._harm(points, kind, by, name)))

    def _harm(self, points: float, kind: str, by: HostedBody | str | None, name: str) -> dict[str, Any]:
        names = self._world.names
        return {
            "tick": self._world.counts[Count.TICK],
            "seat": self._held_name(),
            "source": "host",
            "points": validate.amount("points", points),
            "kind": validate.name("kind", kind, self._world.plan.kinds),
            "name": validate.called("name", name),
            "by": None if by is None else validate.name("seat", getattr(by, "name", by), list(names)),
        }

    def _living(self, doing: str) -> int:
        """The living body. Raises BoutError when there is none."""
        body = self._body
        if body is None:
            then = "wait for its respawn"
            if self._world.block.seat_marks[SeatMark.ELIMINATED, self._index]:
                restarts = self._world.plan.on_elimination == "restart"
                then = "wait for the restart" if restarts else "it has no life left, and none comes"
            raise BoutError(f"seat {self.name!r} has no living body to {doing}; {then}")
        return body


class Seat(HostedBody):
    """A handle on one seat of a bout. It stays good through death and respawn; equal handles are the same seat.

    A seat that has left, or that had not entered in the snapshot a bout was restored from, answers with a BoutError.
    """

    __slots__ = ()

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
        told = {"move": move, "aim": aim, "facing": facing, "press": press, "hold": hold, "patrol": patrol}
        if all(each is None for each in told.values()):
            raise BoutError(f"seat {self.name!r}: empty order; give {', '.join(told)}")
        if move is not None and patrol is not None:
            raise BoutError("order: a fighter walks one way at a time; give move or patrol")
        plan = self._world.plan
        given = Order(
            tick=self._world.counts[Count.TICK],
            seat=self._held_name(),
            source="host",
            move=None if move is None else validate.move(move, plan),
            aim=None if aim is None else validate.direction("aim", aim, plan),
            facing=None if facing is None else validate.facing(facing, plan),
            press=None if press is None else self._attack(press),
            hold=None if hold is None else self._held(hold),
            patrol=None if patrol is None else validate.name(f"path of {plan.arena}", patrol, plan.path_names),
        )
        if move is not None or patrol is not None:
            self._must_walk()
        if patrol is not None:
            self._must_follow(patrol)
        take(self._world, given)

    def _attack(self, name: str) -> str:
        fighter = self._world.fighter_of_seat(self._index)
        return validate.name(f"attack of {fighter.name}", name, [each.name for each in fighter.attacks])

    def _held(self, names: str | Sequence[str]) -> tuple[str, ...]:
        fighter = self._world.fighter_of_seat(self._index)
        known = [each.name for each in fighter.attacks] + list(fighter.postures[2:])
        known += ["guard"] if fighter.guards else []
        try:
            wanted = (names,) if isinstance(names, str) else tuple(names)
        except TypeError:
            raise BoutError(f"hold: give a name or a list of names; got {shortened(names)}") from None
        return tuple(validate.name(f"attack, posture or guard of {fighter.name}", each, known) for each in wanted)

    def _must_walk(self) -> None:
        fighter = self._world.fighter_of_seat(self._index)
        if fighter.speed == 0.0:
            raise BoutError(f"seat {self.name!r}: {fighter.name} has no speed; give it one in the rulebook")

    def _must_follow(self, path: str) -> None:
        plan, fighter = self._world.plan, self._world.fighter_of_seat(self._index)
        for point in plan.path_points(plan.path_names.index(path)):
            if not queries.stands_at(self._world, fighter, point):
                raise BoutError(
                    f"patrol: nothing is under {validate.said(plan.space.flatten(point))} of path {path!r}, and "
                    f"{fighter.name} walks on the ground; lay each point on the floor or a wall, or give it "
                    "gravity_share = 0"
                )

    def leave(self) -> None:
        """Leave the bout with the coming tick: the body and its shots go, and the seat is free for another."""
        take(self._world, Leave(tick=self._world.counts[Count.TICK], seat=self._held_name(), source="host"))

    def become(self, fighter: str) -> None:
        """Let the next body, from the coming respawn on, be another fighter's.

        Raises BoutError for an unknown one, and for a seat that is out: it has no next body.
        """
        plan = self._world.plan
        if self.out and plan.on_elimination != "restart":
            raise BoutError(f"seat {self.name!r} has no life left, so no next body can be another fighter's")
        known = validate.name("fighter", fighter, [each.name for each in plan.fighters if not each.is_prop])
        take(
            self._world,
            Become(tick=self._world.counts[Count.TICK], seat=self._held_name(), source="host", becomes=known),
        )

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
    def ragdoll(self) -> RagdollView | None:
        """Its fallen body, point by point; None when no ragdoll of it lies there."""
        corpse = queries.corpse_of(self._world, self._index)
        return None if corpse is None else BodyView(self._world, corpse).ragdoll

    @property
    def position(self) -> tuple[float, ...] | None:
        """Where its living body stands, or None."""
        view = self._view
        return None if view is None else view.position

    @property
    def facing(self) -> Facing | None:
        """The side its living body looks to, or degrees from +x where it can look around; None without a body."""
        view = self._view
        return None if view is None else view.facing

    @property
    def team(self) -> str | None:
        """The name of its team, or None for a team of its own."""
        return self._world.team_name(int(self._world.block.seat_marks[SeatMark.TEAM, self._index]))

    @property
    def states(self) -> tuple[str, ...]:
        """What its living body does, as `BodyView.states` says it; empty without one."""
        view = self._view
        return () if view is None else view.states

    @property
    def held_by(self) -> str | None:
        """The seat whose body holds its living body, or None."""
        view = self._view
        return None if view is None else view.held_by

    @property
    def stage(self) -> str | None:
        """The stage of its fighter that its living body is in; None before the first, and without a body."""
        view = self._view
        return None if view is None else view.stage

    @property
    def reaction(self) -> ReactionView | None:
        """The reaction its living body is in, as whoever draws it needs it; None when it is in none."""
        view = self._view
        return None if view is None else view.reaction

    @property
    def pools(self) -> dict[str, float]:
        """The value of each pool of its living body; empty without one."""
        view = self._view
        return {} if view is None else view.pools

    @property
    def pool_sizes(self) -> dict[str, float]:
        """The maximum of each pool of its living body; empty without one."""
        view = self._view
        return {} if view is None else view.pool_sizes

    @property
    def _view(self) -> BodyView | None:
        body = self._body
        return None if body is None else BodyView(self._world, body)

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
