"""The host's handle on a prop."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.state.queries import body_of
from emberwound.geometry.layout import BodyColumn

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.orders import Facing


class Prop:
    """A handle on a prop of the arena: a body without health, that nobody orders about."""

    __slots__ = ("_index", "_name", "_world")

    def __init__(self, world: World, index: int) -> None:
        self._world = world
        self._index = index
        self._name = world.names[index]

    @property
    def name(self) -> str:
        """Its name in the arena."""
        return self._name

    @property
    def sort(self) -> str:
        """Which of the book's props it is."""
        return self._world.fighter_of_seat(self._index).name

    @property
    def position(self) -> tuple[float, ...]:
        """Where it stands."""
        return self._world.point(self._world.block.bodies[BodyColumn.START : BodyColumn.START + 3, self._body])

    @property
    def velocity(self) -> tuple[float, ...]:
        """How fast it goes."""
        return self._world.point(self._world.block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, self._body])

    @property
    def facing(self) -> Facing:
        """The side it looks to, or degrees from +x where there is a round to look in."""
        ahead = self._world.block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, self._body].tolist()
        return self._world.plan.space.facing(ahead)

    @property
    def _body(self) -> int:
        body = body_of(self._world, self._index)
        return -1 if body is None else body

    def __repr__(self) -> str:
        return f"<Prop {self.name!r}: {self.sort} at {self.position}>"
