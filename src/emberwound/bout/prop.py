"""The host's handle on a prop."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.conditions import row_of
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_START, FRAME_VELOCITY

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.vocabulary.orders import Facing


class Prop:
    """A handle on a prop of the arena: a body without health, that nobody orders about."""

    __slots__ = ("_index", "_world", "name")

    def __init__(self, world: World, index: int) -> None:
        self._world = world
        self._index = index
        self.name = world.names[index]

    @property
    def sort(self) -> str:
        """Which of the book's props it is."""
        return self._world.fighter_of_seat(self._index).name

    @property
    def position(self) -> tuple[float, ...]:
        """Where it stands."""
        return self._world.point(self._world.block.bodies[FRAME_START : FRAME_START + 3, self._row])

    @property
    def velocity(self) -> tuple[float, ...]:
        """How fast it goes."""
        return self._world.point(self._world.block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, self._row])

    @property
    def facing(self) -> Facing:
        """The side it looks to, or degrees from +x where there is a round to look in."""
        ahead = self._world.block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, self._row].tolist()
        return self._world.plan.plane.facing(ahead)

    @property
    def _row(self) -> int:
        row = row_of(self._world, self._index)
        return -1 if row is None else row

    def __repr__(self) -> str:
        return f"<Prop {self.name!r}: {self.sort} at {self.position}>"
