"""Shapes as values: written from a book's tables, placed in space, measured, and read by whoever draws.

A `Solid` is a column as kernels have it (`geometry.layout.ShapeColumn`), so what is drawn and measured is what is hit.
"""

from __future__ import annotations

from itertools import product
from typing import TYPE_CHECKING, Literal, NamedTuple, Self

import numpy as np

from emberwound.geometry.layout import PartColumn, PartMark, ShapeColumn, ShapeKind
from emberwound.geometry.shape import bound_shape, core_ends, distance_from, nearest_of
from emberwound.plan.space import unit

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from numpy.typing import NDArray

    from emberwound.plan.space import Space, Vector
    from emberwound.rulebook.models import Area, Fighter, PartShape, Wall

    Array = NDArray[np.float64]

ShapeName = Literal["capsule", "box", "half_space"]

NAMES: dict[int, ShapeName] = {
    ShapeKind.CAPSULE: "capsule",
    ShapeKind.TURNING: "capsule",
    ShapeKind.BOX: "box",
    ShapeKind.HALF_SPACE: "half_space",
}

STEPS = 9
"""Places along a capsule that are looked at."""


class Solid:
    """A shape in space at one moment, all points (x, y, z).

    A capsule goes from `a` to `b`, a sphere has both at one place. A box lies round `a`, with `half_sizes` along the
    rows of `axes`. A half-space is all that lies beyond `a` along the first row of `axes`. `radius` is that of a
    capsule, and a margin about the others.
    """

    __slots__ = ("columns",)

    def __init__(self, columns: Array, share: float = 0.0) -> None:
        """The shape in a column, (ShapeColumn.COLUMNS,) or more, when a share of its tick is over."""
        self.columns = np.zeros((ShapeColumn.COLUMNS, 1))
        self.columns[:, 0] = columns[: ShapeColumn.COLUMNS]
        ends = core_ends(np.ascontiguousarray(columns).reshape(-1, 1), 0, share)
        self._put(ShapeColumn.A, ends[:3])
        if self.kind in (ShapeKind.CAPSULE, ShapeKind.TURNING):
            self._put(ShapeColumn.B, ends[3:])
            self.columns[ShapeColumn.KIND] = ShapeKind.CAPSULE

    def _put(self, row: int, place: Sequence[float] | Array) -> None:
        self.columns[row : row + 3, 0] = self.columns[row + 6 : row + 9, 0] = place

    @classmethod
    def capsule(cls, a: Sequence[float] | Array, b: Sequence[float] | Array, radius: float) -> Self:
        """A capsule, or a sphere where both ends are one."""
        columns = np.zeros(ShapeColumn.COLUMNS)
        columns[ShapeColumn.KIND], columns[ShapeColumn.RADIUS] = ShapeKind.CAPSULE, radius
        for row, place in ((ShapeColumn.A, a), (ShapeColumn.B, b)):
            columns[row : row + 3] = columns[row + 6 : row + 9] = place
        return cls(columns)

    @classmethod
    def box(cls, middle: Sequence[float] | Array, half_sizes: Sequence[float] | Array, axes: Array) -> Self:
        """A box round its middle, its axes in the rows of `axes` (3, 3)."""
        columns = np.zeros(ShapeColumn.COLUMNS)
        columns[ShapeColumn.KIND] = ShapeKind.BOX
        columns[ShapeColumn.A : ShapeColumn.A + 3] = columns[ShapeColumn.A_END : ShapeColumn.A_END + 3] = middle
        columns[ShapeColumn.B : ShapeColumn.B + 3] = half_sizes
        columns[ShapeColumn.AXES : ShapeColumn.AXES + 9] = np.asarray(axes, float).ravel()
        return cls(columns)

    @property
    def kind(self) -> int:
        """What it is, a ShapeKind."""
        return int(self.columns[ShapeColumn.KIND, 0])

    @property
    def name(self) -> ShapeName:
        """What it is, in a word."""
        return NAMES[self.kind]

    @property
    def a(self) -> Array:
        """One end, the middle of a box, or a place on the plane of a half-space."""
        return self.columns[ShapeColumn.A : ShapeColumn.A + 3, 0]

    @property
    def b(self) -> Array:
        """The other end; `a` again of what has none."""
        return self.columns[ShapeColumn.B : ShapeColumn.B + 3, 0] if self.kind == ShapeKind.CAPSULE else self.a

    @property
    def half_sizes(self) -> Array:
        """Half the sizes of a box; 0 of others."""
        return self.columns[ShapeColumn.B : ShapeColumn.B + 3, 0] if self.kind == ShapeKind.BOX else np.zeros(3)

    @property
    def radius(self) -> float:
        """The radius of a capsule, and a margin about the others."""
        return float(self.columns[ShapeColumn.RADIUS, 0])

    @property
    def axes(self) -> Array:
        """The unit vectors that it lies along, one a row: three of a box, one of a half-space, none of a capsule."""
        rows = {ShapeKind.BOX: 3, ShapeKind.HALF_SPACE: 1}.get(self.kind, 0)
        return self.columns[ShapeColumn.AXES : ShapeColumn.AXES + 3 * rows, 0].reshape(rows, 3)

    @property
    def middle(self) -> Array:
        """The middle between its ends."""
        return (self.a + self.b) / 2.0

    def places(self) -> list[Array]:
        """Places of its core that stand for all of it; it reaches `radius` about them."""
        if self.kind == ShapeKind.BOX:
            return [
                self.a + np.array(signs) * self.half_sizes @ self.axes for signs in product((-1.0, 0.0, 1.0), repeat=3)
            ]
        return [self.a + share * (self.b - self.a) for share in np.linspace(0.0, 1.0, STEPS)]

    def on_the_way(self, later: Solid, share: float) -> Solid:
        """It on its straight way to where it is later."""
        return type(self)(self.columns[:, 0] + share * (later.columns[:, 0] - self.columns[:, 0]))

    def foot(self, point: Array) -> Array:
        """The place of its core that is nearest to a point."""
        core = self.columns.copy()
        core[ShapeColumn.RADIUS] = 0.0
        return np.array(nearest_of(tuple(point.tolist()), 0.0, core, 0)[1:])


class Extent(NamedTuple):
    """The box of the arena's axes that a shape fills: its least and greatest x, y and z."""

    low: Array
    high: Array

    def holds(self, other: Extent) -> bool:
        """Whether another lies wholly within it."""
        return bool((self.low <= other.low + 1e-9).all() and (other.high <= self.high + 1e-9).all())

    def grown(self, low: Iterable[float], high: Iterable[float]) -> Extent:
        """It, moved outwards by so much at its low and its high sides."""
        return Extent(self.low - np.array(list(low)), self.high + np.array(list(high)))


def distance(point: Array, solid: Solid) -> float:
    """How far a point is from a shape; below 0 within it."""
    x, y, z = point.tolist()
    return float(distance_from(solid.columns, 0, x, y, z))


def gap(part: Solid, area: Solid) -> float:
    """How far a part of a fighter is from an area, nearly; below 0 they overlap."""
    return min(distance(point, area) for point in part.places()) - part.radius


def extent(solid: Solid) -> Extent:
    """The box that a shape fills; that of a half-space has no end."""
    bound_shape(solid.columns, 0)
    low, high = solid.columns[ShapeColumn.LOW : ShapeColumn.LOW + 6, 0].reshape(2, 3).copy()
    return Extent(low, high)


def whole_extent(solids: Iterable[Solid]) -> Extent:
    """The box that several shapes fill together."""
    each = [extent(solid) for solid in solids]
    return Extent(np.min([one.low for one in each], axis=0), np.max([one.high for one in each], axis=0))


def lies_within(inner: Solid, outer: Solid) -> bool:
    """Whether one shape lies wholly within another, which has no hollow: all its places do, with their reach."""
    return all(distance(point, outer) <= -inner.radius + 1e-9 for point in inner.places())


def joint_and_offset(fighter: Fighter, place: str | Sequence[float], space: Space) -> tuple[int, Vector]:
    """A place on a fighter as a joint's index and an offset from it; -1 for an offset from the feet."""
    if isinstance(place, str):
        return list(fighter.joints).index(place), (0.0, 0.0, 0.0)
    return -1, space.offset(place)


def write_part(
    offsets: NDArray[np.float64], marks: NDArray[np.int64], box: PartShape, fighter: Fighter, space: Space
) -> None:
    """Write the shape of a hurtbox or a hitbox into its column."""
    joint, offset = joint_and_offset(fighter, box.from_, space)
    marks[PartMark.JOINT_A] = marks[PartMark.JOINT_B] = joint
    offsets[PartColumn.A : PartColumn.A + 3] = offset
    offsets[PartColumn.KIND] = ShapeKind.CAPSULE if box.size is None else ShapeKind.BOX
    if box.size is not None:
        half, axes = space.offset_box(box.size, box.turn_deg)
        offsets[PartColumn.B : PartColumn.B + 3] = half
        offsets[PartColumn.AXES : PartColumn.AXES + 9] = np.array(axes).ravel()
        return
    if box.to is not None:
        marks[PartMark.JOINT_B], offset = joint_and_offset(fighter, box.to, space)
    offsets[PartColumn.B : PartColumn.B + 3] = offset
    offsets[PartColumn.RADIUS] = box.radius


def write_area(column: Array, area: Area, space: Space) -> None:
    """Write the shape of a area, a checkpoint or a pickup into its column, where it starts."""
    column[ShapeColumn.A : ShapeColumn.A + 3] = column[ShapeColumn.A_END : ShapeColumn.A_END + 3] = space.lift(area.at)
    column[ShapeColumn.RADIUS] = area.margin
    if area.half_space is not None:
        column[ShapeColumn.AXES : ShapeColumn.AXES + 3] = unit(space.lift(area.half_space))
        column[ShapeColumn.KIND] = ShapeKind.HALF_SPACE
        return
    if area.size is not None:
        column[ShapeColumn.B : ShapeColumn.B + 3] = space.half_sizes(area.size)
        column[ShapeColumn.AXES : ShapeColumn.AXES + 9] = np.array(space.axes_turned(area.turn_deg)).ravel()
        column[ShapeColumn.KIND] = ShapeKind.BOX
        return
    other = space.lift(area.at if area.to is None else area.to)
    column[ShapeColumn.B : ShapeColumn.B + 3] = column[ShapeColumn.B_END : ShapeColumn.B_END + 3] = other
    column[ShapeColumn.RADIUS] += area.radius or 0.0
    column[ShapeColumn.KIND] = ShapeKind.CAPSULE


def write_wall(column: Array, wall: Wall, space: Space) -> None:
    """Write the shape of a wall into its column."""
    column[ShapeColumn.KIND] = ShapeKind.BOX
    column[ShapeColumn.A : ShapeColumn.A + 3] = column[ShapeColumn.A_END : ShapeColumn.A_END + 3] = space.lift(wall.at)
    column[ShapeColumn.B : ShapeColumn.B + 3] = space.half_sizes(wall.size)
    column[ShapeColumn.AXES : ShapeColumn.AXES + 9] = np.array(space.axes_turned(wall.turn_deg)).ravel()
