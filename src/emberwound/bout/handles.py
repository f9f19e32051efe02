"""The host's handles on props and on shots in flight."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.orders.inputs import give
from emberwound.bout.state import queries
from emberwound.bout.views.body import body_view
from emberwound.bout.views.parts import shot_view
from emberwound.geometry.layout import ShotMark
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.orders import EndShot

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.bout.views.body import BodyView
    from emberwound.bout.views.parts import ShotView


class Prop:
    """A handle on a prop of the arena: a body without health, that nobody orders about. `Bout.props` gives them."""

    __slots__ = ("_index", "_name", "_world")

    _world: World
    _index: int
    _name: str

    def __init__(self) -> None:
        raise BoutError("a prop comes from bout.props")

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
        return self.body.position

    @property
    def body(self) -> BodyView:
        """Its body as it is now: velocity, facing, shapes."""
        body = queries.body_of(self._world, self._index)
        return body_view(self._world, -1 if body is None else body)

    def __repr__(self) -> str:
        return f"<Prop {self.name!r}: {self.sort} at {self.position}>"


class Shot:
    """A handle on a shot in flight, by its id; equal handles are the same shot. `Bout.shots` gives them.

    A shot that has ended answers with a BoutError; `flying` says so before.
    """

    __slots__ = ("_id", "_world")

    _world: World
    _id: int

    def __init__(self) -> None:
        raise BoutError("a shot comes from bout.shots")

    @property
    def id(self) -> int:
        """Its id, as events say it in `shot`: from 1, over all shots and rays of the bout."""
        return self._id

    @property
    def flying(self) -> bool:
        """Whether it is in flight."""
        return bool((self._world.block.shot_marks[ShotMark.ID] == self.id).any())

    @property
    def by(self) -> str:
        """The seat that released it."""
        return self.view.by

    @property
    def attack(self) -> str:
        """The attack that it was released by."""
        return self.view.attack

    @property
    def position(self) -> tuple[float, ...]:
        """Where it is."""
        return self.view.position

    @property
    def view(self) -> ShotView:
        """The shot as it is now: velocity, health, times."""
        return shot_view(self._world, queries.column_of_shot(self._world, self.id), 0.0)

    def end(self) -> None:
        """End it with the coming tick, before anything else: one `ShotEnded`, and no blast. Raises BoutError."""
        give(self._world, EndShot, -1, shot=self.id)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Shot) and (self._world, self.id) == (other._world, other.id)

    def __hash__(self) -> int:
        return hash(self.id)

    def __repr__(self) -> str:
        return f"<Shot {self.id}: {'in flight' if self.flying else 'ended'}>"


def props_of(world: World) -> tuple[Prop, ...]:
    """Handles on the props of the arena, in its order."""
    found = []
    for index in range(len(world.plan.props)):
        prop = Prop.__new__(Prop)
        prop._world, prop._index, prop._name = world, index, world.names[index]  # noqa: SLF001 (this makes it)
        found.append(prop)
    return tuple(found)


def shots_of(world: World) -> tuple[Shot, ...]:
    """Handles on the shots in flight, by their ids."""
    found = []
    for shot_id in sorted(filter(None, world.block.shot_marks[ShotMark.ID].tolist())):
        shot = Shot.__new__(Shot)
        shot._world, shot._id = world, shot_id  # noqa: SLF001 (this makes it)
        found.append(shot)
    return tuple(found)
