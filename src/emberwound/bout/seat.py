"""A seat: a player or a script, which outlives the bodies it sits in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.hosted import HostedBody
from emberwound.bout.lives import counters
from emberwound.bout.orders import validate
from emberwound.bout.orders.inputs import take
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer
from emberwound.bout.views.body import BodyView
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.orders import Become, Leave, Order

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.views.parts import RagdollView, ReactionView
    from emberwound.vocabulary.orders import Facing


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
