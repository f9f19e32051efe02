"""What a host does to a seat's body by its own rules: it moves it, pushes it, hurts it, and sets its pools."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from emberwound.bout.bodies.pools import stats_of
from emberwound.bout.orders import validate
from emberwound.bout.orders.inputs import take
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark
from emberwound.geometry.layout import Posture
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.limits import SMALLEST
from emberwound.vocabulary.orders import Heal, Hurt, Place, Push, Resize, SetPool

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.state.world import World

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
