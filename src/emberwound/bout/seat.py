"""A seat: a player or a script, which outlives the bodies it sits in."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import bodies, checks
from emberwound.bout.block import SEAT_LIFE, SEAT_LIVES, TICK
from emberwound.bout.inputs import take
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_START
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.orders import Order, Place

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
        self, *, aim: Sequence[float] | None = None, facing: Facing | None = None, press: str | None = None
    ) -> None:
        """Tell the fighter what to do from the coming tick on; what is left out stays as it was.

        `aim` is a direction in the arena, of any length; it turns the fighter to that side unless `facing` is given
        with it. `facing` turns the fighter, and its aim with it. `press` begins an attack once. Raises BoutError.
        """
        if aim is None and facing is None and press is None:
            raise BoutError(f"seat {self.name!r}: an order for nothing; give aim, facing or press")
        fighter = self._world.fighter_of_seat(self._index)
        given = Order(
            tick=self._world.counts[TICK],
            seat=self.name,
            source="host",
            aim=None if aim is None else checks.direction("aim", aim, self._world.plan),
            facing=None if facing is None else checks.facing(facing),
            press=None
            if press is None
            else checks.name(f"attack of {fighter.name}", press, [each.name for each in fighter.attacks]),
        )
        take(self._world, given)

    def place(self, position: Sequence[float], *, teleport: bool = False) -> None:
        """Move the body to `position` in the coming tick; it sweeps the way there unless it is a teleport.

        Raises BoutError for a position outside the arena.
        """
        where = checks.place("place", position, self._world.plan)
        given = Place(
            tick=self._world.counts[TICK], seat=self.name, source="host", position=where, teleport=bool(teleport)
        )
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
        """The side its living body looks to, or None."""
        row = self._body
        if row is None:
            return None
        return "right" if self._world.block.bodies[FRAME_AHEAD, row] > 0.0 else "left"

    @property
    def pools(self) -> dict[str, float]:
        """The value of each pool of its living body; empty without one."""
        row = self._body
        if row is None:
            return {}
        pools = self._world.fighter_of_seat(self._index).pools.pools
        return {pool.name: float(self._world.block.pools[index, row]) for index, pool in enumerate(pools)}

    @property
    def _body(self) -> int | None:
        return bodies.row_of(self._world, self._index)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Seat) and other._world is self._world and other._index == self._index

    def __hash__(self) -> int:
        return hash((id(self._world), self._index))

    def __repr__(self) -> str:
        return f"<Seat {self.name}: {self.fighter}, {'alive' if self.alive else 'dead'}>"
