"""How the points of an arena lie in space.

Inside, all is three numbers (x, y, z), z up. An arena seen from the side has points (x, z) and the missing y is 0; one
seen from the top has points (x, y) and no heights; one in 3d has all three. An offset on a fighter is
(ahead, left, up).
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from math import atan2, cos, degrees, hypot, pi, radians, sin
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    import numpy as np
    from numpy.typing import NDArray

    from emberwound.vocabulary.orders import Facing

Vector = tuple[float, float, float]
Heading = tuple[float, float]

THICK = 1.0
"""Half the size of a box along an axis that its plane does not have: more than 0, since everything lies at 0 there."""

_QUARTERS = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}


class Space(ABC):
    """What differs between the planes: which axes a point has, and what turns."""

    name: str
    axes: tuple[str, ...]
    has_heights = True
    looks_around = True

    @abstractmethod
    def lift(self, point: Sequence[float]) -> Vector:
        """The point in space."""

    @abstractmethod
    def flatten(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """The point as the arena's users write it."""

    def offset(self, written: Sequence[float]) -> Vector:
        """An offset written [ahead, up] or [ahead, up, left] as (ahead, left, up)."""
        ahead, up, *left = (float(each) for each in written)
        return (ahead, left[0] if left else 0.0, up)

    @abstractmethod
    def half_sizes(self, size: Sequence[float]) -> Vector:
        """Half the sizes of a wall along its own axes."""

    def axes_turned(self, turn_deg: float) -> tuple[Vector, Vector, Vector]:
        """The axes of a box turned in the plane: in 3d, about the upright."""
        across, along = direction_of(turn_deg)
        return ((across, along, 0.0), (-along, across, 0.0), (0.0, 0.0, 1.0))

    def offset_box(self, size: Sequence[float], turn_deg: float) -> tuple[Vector, tuple[Vector, Vector, Vector]]:
        """Half sizes and axes, in (ahead, left, up), of a box of `size` [ahead, up] or [ahead, up, left] on a fighter.

        A turn tilts it upwards, from ahead.
        """
        ahead, up, *left = (float(each) / 2.0 for each in size)
        across, along = direction_of(turn_deg)
        turned = ((across, 0.0, along), (0.0, 1.0, 0.0), (-along, 0.0, across))
        return (ahead, left[0] if left else THICK, up), turned

    def heading(self, facing: Facing) -> Heading:
        """The direction on the ground that a facing means; "right" is along +x."""
        if isinstance(facing, str):
            return (-1.0, 0.0) if facing == "left" else (1.0, 0.0)
        return direction_of(facing)

    def facing(self, heading: Sequence[float]) -> Facing:
        """The facing that a heading shows, in degrees from +x."""
        return degrees(atan2(heading[1], heading[0]))

    def towards(self, aim: Vector) -> Heading | None:
        """The heading that looks along an aim; None for an aim straight up or down."""
        length = hypot(aim[0], aim[1])
        return (aim[0] / length, aim[1] / length) if length > 0.0 else None

    def ground(self, move: float | Sequence[float]) -> Heading:
        """A move as shares of a fighter's speed along x and y."""
        across, along = (move, 0.0) if isinstance(move, int | float) else move
        return (float(across), float(along))

    def lifted(self, lift: float) -> Vector:
        """The direction (ahead, left, up) straight ahead, raised by an angle."""
        return (cos(lift), 0.0, sin(lift)) if self.has_heights else (1.0, 0.0, 0.0)

    def spread(self, direction: Vector, turn: float) -> Vector:
        """A direction (ahead, left, up) turned by an angle in the plane: in 3d, about the upright."""
        ahead, left, up = direction
        return (ahead * cos(turn) - left * sin(turn), ahead * sin(turn) + left * cos(turn), up)

    def scattered(self, direction: Vector, most: float, draws: Sequence[float]) -> Vector:
        """A direction turned aside by at most an angle, evenly, as two draws from 0 to 1 say."""
        return self.spread(direction, (2.0 * draws[0] - 1.0) * most)


class SideSpace(Space):
    """Seen from the side: points are (x, z), a fighter faces right or left."""

    name = "side"
    axes = ("x", "z")
    looks_around = False

    def lift(self, point: Sequence[float]) -> Vector:
        """(x, 0, z)."""
        return (float(point[0]), 0.0, float(point[1]))

    def flatten(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """(x, z)."""
        return (float(vector[0]), float(vector[2]))

    def offset(self, written: Sequence[float]) -> Vector:
        """Seen from the side there is no left."""
        return (float(written[0]), 0.0, float(written[1]))

    def half_sizes(self, size: Sequence[float]) -> Vector:
        """Half of [along x, along z]."""
        return (float(size[0]) / 2.0, THICK, float(size[1]) / 2.0)

    def axes_turned(self, turn_deg: float) -> tuple[Vector, Vector, Vector]:
        """Turned upwards, from +x."""
        across, along = direction_of(turn_deg)
        return ((across, 0.0, along), (0.0, 1.0, 0.0), (-along, 0.0, across))

    def facing(self, heading: Sequence[float]) -> Facing:
        """The side that a heading shows."""
        return "right" if heading[0] > 0.0 else "left"

    def towards(self, aim: Vector) -> Heading | None:
        """Right or left; None for an aim straight up or down."""
        if aim[0] == 0.0:
            return None
        return (1.0 if aim[0] > 0.0 else -1.0, 0.0)

    def ground(self, move: float | Sequence[float]) -> Heading:
        """A number: right is above 0."""
        return (float(move if isinstance(move, int | float) else move[0]), 0.0)

    def spread(self, direction: Vector, turn: float) -> Vector:
        """Turned upwards."""
        ahead, left, up = direction
        return (ahead * cos(turn) - up * sin(turn), left, ahead * sin(turn) + up * cos(turn))


class TopSpace(Space):
    """Seen from the top: points are (x, y), there is no gravity, and heights are dropped."""

    name = "top"
    axes = ("x", "y")
    has_heights = False

    def lift(self, point: Sequence[float]) -> Vector:
        """(x, y, 0)."""
        return (float(point[0]), float(point[1]), 0.0)

    def flatten(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """(x, y)."""
        return (float(vector[0]), float(vector[1]))

    def offset(self, written: Sequence[float]) -> Vector:
        """Without its height."""
        ahead, left, _ = super().offset(written)
        return (ahead, left, 0.0)

    def half_sizes(self, size: Sequence[float]) -> Vector:
        """Half of [along x, along y]."""
        return (float(size[0]) / 2.0, float(size[1]) / 2.0, THICK)

    def offset_box(self, size: Sequence[float], turn_deg: float) -> tuple[Vector, tuple[Vector, Vector, Vector]]:
        """Its length ahead and its width to the left, which is that ahead when it is not given; a turn is dropped."""
        del turn_deg
        ahead, _, *left = (float(each) / 2.0 for each in size)
        return (ahead, left[0] if left else ahead, THICK), ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


class FullSpace(Space):
    """In full: points are (x, y, z)."""

    name = "3d"
    axes = ("x", "y", "z")

    def lift(self, point: Sequence[float]) -> Vector:
        """The point itself."""
        return (float(point[0]), float(point[1]), float(point[2]))

    def flatten(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """The point itself."""
        return (float(vector[0]), float(vector[1]), float(vector[2]))

    def half_sizes(self, size: Sequence[float]) -> Vector:
        """Half of [along x, along y, along z]."""
        return (float(size[0]) / 2.0, float(size[1]) / 2.0, float(size[2]) / 2.0)

    def offset_box(self, size: Sequence[float], turn_deg: float) -> tuple[Vector, tuple[Vector, Vector, Vector]]:
        """As any; without a size to the left it is as wide as it is long."""
        half, turned = super().offset_box(size, turn_deg)
        return (half if len(size) > 2 else (half[0], half[0], half[2])), turned

    def scattered(self, direction: Vector, most: float, draws: Sequence[float]) -> Vector:
        """Evenly over the cap of the sphere: the cosine of the angle aside is even between its ends."""
        level = 1.0 - draws[0] * (1.0 - cos(most))
        aside, round_ = (max(1.0 - level * level, 0.0)) ** 0.5, 2.0 * pi * draws[1]
        ahead, left, up = direction
        flat = hypot(ahead, left)
        across = (-left / flat, ahead / flat, 0.0) if flat > 0.0 else (0.0, 1.0, 0.0)
        over = (-up * across[1], up * across[0], flat) if flat > 0.0 else (-up, 0.0, 0.0)
        return tuple(
            level * a + aside * (cos(round_) * b + sin(round_) * c)
            for a, b, c in zip(direction, across, over, strict=True)
        )


SPACES: dict[str, Space] = {space.name: space for space in (SideSpace(), TopSpace(), FullSpace())}


def direction_of(degrees_: float) -> Heading:
    """The unit vector at an angle in degrees; exact at quarter turns."""
    exact = _QUARTERS.get(degrees_ % 360.0)
    return exact or (cos(radians(degrees_)), sin(radians(degrees_)))


def turned(offset: Sequence[float], heading: Sequence[float]) -> Vector:
    """An offset (ahead, left, up) on a fighter, in space: it turns and mirrors with the heading."""
    ahead, left, up = offset
    return (ahead * heading[0] - left * heading[1], ahead * heading[1] + left * heading[0], up)


def as_offset(vector: Sequence[float], heading: Sequence[float]) -> Vector:
    """A direction in space as (ahead, left, up) of a fighter: the inverse of `turned`."""
    x, y, z = vector
    return (x * heading[0] + y * heading[1], y * heading[0] - x * heading[1], z)


def along(offset: Sequence[float], way: Sequence[float]) -> Vector:
    """An offset (ahead, left, up) turned so that ahead is a way, itself such and 1 long; left stays level."""
    x, y, z = way
    level = hypot(x, y)
    left = (-y / level, x / level) if level > 0.0 else (0.0, 1.0)
    up = (-z * left[1], z * left[0], level)
    ahead, aside, above = offset
    return (
        ahead * x + aside * left[0] + above * up[0],
        ahead * y + aside * left[1] + above * up[1],
        ahead * z + above * up[2],
    )


def unit(vector: Sequence[float]) -> Vector:
    """The vector at length 1. Raises ValueError for a vector without a direction."""
    largest = max(abs(each) for each in vector)
    if not 0.0 < largest < float("inf"):
        raise ValueError("no direction")
    x, y, z = (each / largest for each in vector)
    length = hypot(x, y, z)
    return (x / length, y / length, z / length)
