"""The host's handles on props and on shots in flight."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.orders.inputs import take
from emberwound.bout.state.layout import Count
from emberwound.bout.state.queries import body_of
from emberwound.bout.views.parts import ShotView
from emberwound.geometry.layout import BodyColumn, ShotMark
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.orders import EndShot

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


def numbers_flying(world: World) -> list[int]:
    """The numbers of all shots in flight, in order."""
    numbers: list[int] = world.block.shot_marks[ShotMark.ID].tolist()
    return sorted(filter(None, numbers))


class Shot:
    """A handle on a shot, by its number; equal handles are the same shot.

    A shot that has ended answers with a BoutError; `flying` says so before.
    """

    __slots__ = ("_number", "_world")

    def __init__(self, world: World, number: int) -> None:
        self._world = world
        self._number = number

    @property
    def number(self) -> int:
        """Its number, as events tell it in `shot`: from 1, over all shots and rays of the bout."""
        return self._number

    @property
    def flying(self) -> bool:
        """Whether it is in flight."""
        return self._column is not None

    @property
    def by(self) -> str:
        """The seat that released it."""
        return self._view.by

    @property
    def attack(self) -> str:
        """The attack that it was released by."""
        return self._view.attack

    @property
    def position(self) -> tuple[float, ...]:
        """Where it is."""
        return self._view.position

    @property
    def velocity(self) -> tuple[float, ...]:
        """How fast it flies, lengths a second."""
        return self._view.velocity

    @property
    def health(self) -> float | None:
        """The points it can still take; None of one that cannot be destroyed."""
        return self._view.health

    @property
    def seconds(self) -> float:
        """Seconds since it left, or was sent back."""
        return self._view.seconds

    def end(self) -> None:
        """End it with the coming tick, before anything else: one `ShotEnded`, and no blast. Raises BoutError."""
        given = EndShot(tick=self._world.counts[Count.TICK], seat=self.by, source="host", shot=self.number)
        take(self._world, given)

    @property
    def _column(self) -> int | None:
        columns: list[int] = (self._world.block.shot_marks[ShotMark.ID] == self.number).nonzero()[0].tolist()
        return columns[0] if columns else None

    @property
    def _view(self) -> ShotView:
        column = self._column
        if column is None:
            flying = ", ".join(map(str, numbers_flying(self._world))) or "none"
            raise BoutError(f"shot {self.number} is not in flight; flying: {flying}")
        return ShotView.of(self._world, column, 0.0)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Shot) and (self._world, self.number) == (other._world, other.number)

    def __hash__(self) -> int:
        return hash(self.number)

    def __repr__(self) -> str:
        return f"<Shot {self.number}: {'in flight' if self.flying else 'ended'}>"
