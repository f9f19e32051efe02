"""How the points of an arena lie in space.

Inside, all is three numbers (x, y, z), z up. Seen from the side a point is (x, z), and the missing y is 0.
"""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy as np
    from numpy.typing import NDArray

    from emberwound.vocabulary.orders import Facing

Vector = tuple[float, float, float]
Heading = tuple[float, float]

FACINGS: dict[str, Heading] = {"right": (1.0, 0.0), "left": (-1.0, 0.0)}


class Plane:
    """An arena seen from the side: points are (x, z), a fighter faces right or left."""

    axes = ("x", "z")

    def lift(self, point: Sequence[float]) -> Vector:
        """The point in space."""
        return (float(point[0]), 0.0, float(point[1]))

    def flatten(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """The point as the arena's users write it."""
        return (float(vector[0]), float(vector[2]))

    def offset(self, written: Sequence[float]) -> Vector:
        """An offset written [ahead, up(, left)] as (ahead, left, up); seen from the side there is no left."""
        return (float(written[0]), 0.0, float(written[1]))

    def heading(self, facing: Facing) -> Heading:
        """The direction on the ground that a named facing means."""
        return FACINGS[facing]

    def towards(self, aim: Vector) -> Heading | None:
        """The heading that looks along an aim; None for an aim straight up or down."""
        if aim[0] == 0.0:
            return None
        return (1.0 if aim[0] > 0.0 else -1.0, 0.0)


def turned(offset: Sequence[float], heading: Sequence[float]) -> Vector:
    """An offset (ahead, left, up) on a fighter, in space: it turns and mirrors with the heading."""
    ahead, left, up = offset
    return (ahead * heading[0] - left * heading[1], ahead * heading[1] + left * heading[0], up)


def as_offset(vector: Sequence[float], heading: Sequence[float]) -> Vector:
    """A direction in space as (ahead, left, up) of a fighter: the inverse of `turned`."""
    x, y, z = vector
    return (x * heading[0] + y * heading[1], y * heading[0] - x * heading[1], z)


def unit(vector: Sequence[float]) -> Vector:
    """The vector at length 1. Raises ValueError for a vector without a direction."""
    largest = max(abs(each) for each in vector)
    if not 0.0 < largest < float("inf"):
        raise ValueError("no direction")
    x, y, z = (each / largest for each in vector)
    length = hypot(x, y, z)
    return (x / length, y / length, z / length)
