"""Plain geometry of shapes at rest: how far apart they are, and how far they reach."""

from __future__ import annotations

from itertools import product
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Iterable

    from numpy.typing import NDArray

    from emberwound.plan.solids import Solid

    Array = NDArray[np.float64]

STEPS = 9
"""Places along a capsule that are looked at."""


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
    if solid.shape == "capsule":
        way = solid.b - solid.a
        length = float(way @ way)
        share = 0.0 if length == 0.0 else min(max(float((point - solid.a) @ way) / length, 0.0), 1.0)
        return float(np.linalg.norm(point - (solid.a + share * way))) - solid.radius
    axes = np.eye(3) if solid.axes is None else solid.axes
    if solid.shape == "half_space":
        return float(-((point - solid.a) @ axes[0])) - solid.radius
    beyond = np.abs(axes @ (point - solid.a)) - solid.b
    outside = float(np.linalg.norm(np.maximum(beyond, 0.0)))
    return outside + min(float(beyond.max()), 0.0) - solid.radius


def places(solid: Solid) -> tuple[list[Array], float]:
    """Places of a shape that stand for all of it, and how far it reaches about them."""
    if solid.shape == "capsule":
        return [solid.a + share * (solid.b - solid.a) for share in np.linspace(0.0, 1.0, STEPS)], solid.radius
    axes = np.eye(3) if solid.axes is None else solid.axes
    corners = [solid.a + np.array(signs) * solid.b @ axes for signs in product((-1.0, 0.0, 1.0), repeat=3)]
    return corners, solid.radius


def gap(part: Solid, area: Solid) -> float:
    """How far a part of a fighter is from an area, nearly; below 0 they overlap."""
    points, radius = places(part)
    return min(distance(point, area) for point in points) - radius


def extent(solid: Solid) -> Extent:
    """The box that a shape fills; that of a half-space has no end."""
    if solid.shape == "half_space":
        return Extent(np.full(3, -np.inf), np.full(3, np.inf))
    points, radius = places(solid)
    array = np.array(points)
    return Extent(array.min(axis=0) - radius, array.max(axis=0) + radius)


def whole_extent(solids: Iterable[Solid]) -> Extent:
    """The box that several shapes fill together."""
    each = [extent(solid) for solid in solids]
    return Extent(np.min([one.low for one in each], axis=0), np.max([one.high for one in each], axis=0))


def lies_within(inner: Solid, outer: Solid) -> bool:
    """Whether one shape lies wholly within another, which has no hollow: all its places do, with their reach."""
    points, radius = places(inner)
    return all(distance(point, outer) <= -radius + 1e-9 for point in points)
