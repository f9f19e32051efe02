"""Walking on the ground: a body keeps its speed over it, steps over what is low, and is stopped by what is steep.

The feet of a walker are where its upright capsule comes down on what is below it: a function of the place alone, so it
does not depend on the tick rate. It is found in pieces of the way, and where ground ends by halving.
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING, Final

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ShapeColumn
from emberwound.geometry.obstacles import FOOTHOLD, HALVINGS, SLIDES, STEEP, carry, first_wall, has_footing, wall_normal

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

PIECE: Final = 0.5
"""The way is walked in pieces of this share of the radius, so that no gap or step is missed."""

MOST_PIECES: Final = 256
STEEPEST: Final = 1.05
"""How far a slope that can be walked rises over a length, and a little more: sqrt(1 - STEEP^2) / STEEP is 1.02."""

SLACK: Final = 1e-9
"""A share of the radius that is nothing: what is swept above the ground does not graze it."""


@kernel
def walk(
    shapes: NDArray[np.float64],
    begin: int,
    floor: float,
    feet: tuple[float, float, float],
    move: tuple[float, float],
    velocity: tuple[float, float],
    radius: float,
    core: float,
    step: float,
) -> tuple[float, float, float, float, float, float]:
    """Walk an upright capsule along `move` on the ground: its feet, its velocity over the ground, and the share left.

    The share of the way that is left is above 0 where the ground ends: from there on the body falls. `step` is the
    height that it steps up and down: the ground ends where it falls by more than that within a radius. Walls are in
    the columns of `shapes` from `begin` on.
    """
    x, y, z = feet
    mx, my = move
    vx, vy = velocity
    whole = sqrt(mx * mx + my * my)
    if not _is_near(shapes, begin, feet, move, radius, core, step):
        if z <= floor + FOOTHOLD * radius:
            return x + mx, y + my, floor, vx, vy, 0.0
        return x, y, z, vx, vy, 1.0
    if whole == 0.0:
        stands = z <= floor + FOOTHOLD * radius or has_footing(shapes, begin, feet, radius, core)
        return x, y, max(z, floor), vx, vy, 0.0 if stands else 1.0
    steady = ground_below(shapes, begin, floor, (x, y, z), FOOTHOLD * radius, radius, core)[1] > STEEP
    blocked = 0
    for _ in range(MOST_PIECES):
        length = sqrt(mx * mx + my * my)
        if length <= SLACK * radius or blocked > 3:
            return x, y, z, vx, vy, 0.0
        part = min(PIECE * radius / length, 1.0)
        px, py = mx * part, my * part
        fraction, wall = first_wall(shapes, begin, (x, y, z), (px, py, 0.0), radius, core)
        lift = 0.0
        if wall >= 0:
            x, y, mx, my = x + px * fraction, y + py * fraction, mx - px * fraction, my - py * fraction
            px, py = px * (1.0 - fraction), py * (1.0 - fraction)
            nx, ny, nz = wall_normal(shapes, wall, (x, y, z), radius, core)
            lift = _lift_over(shapes, begin, wall, (x, y, z), (px, py), (nx, ny, nz), radius, core, step)
            if lift > 0.0:
                fraction, wall = first_wall(shapes, begin, (x, y, z + lift), (px, py, 0.0), radius, core)
                if wall >= 0:
                    px, py = px * fraction, py * fraction
                    if fraction == 0.0:
                        lift = 0.0
                        nx, ny, nz = wall_normal(shapes, wall, (x, y, z + step), radius, core)
            if lift == 0.0:
                mx, my, vx, vy = _along(mx, my, vx, vy, nx, ny)
                blocked += 1
                continue
            blocked = 0
        down = lift + step + STEEPEST * PIECE * radius
        under, upward = ground_below(shapes, begin, floor, (x + px, y + py, z + lift), down, radius, core)
        if steady and upward <= STEEP and under < z:
            share = _last_ground(shapes, begin, floor, (x, y, z), (px, py), lift, down, radius, core)
            ex, ey = x + px * share, y + py * share
            ez = ground_below(shapes, begin, floor, (ex, ey, z + lift), down, radius, core)[0]
            if ez == -1e300:
                ez = z
            ahead = (ex + mx / length * radius, ey + my / length * radius, ez)
            if ground_below(shapes, begin, floor, ahead, step, radius, core)[1] == 0.0:
                left = sqrt((mx - px * share) ** 2 + (my - py * share) ** 2) / whole
                return ex, ey, ez, vx, vy, max(left, 1e-12)
        if under == -1e300:
            return x, y, z, vx, vy, max(length / whole, 1e-12)
        steady = upward > STEEP
        x, y, z, mx, my = x + px, y + py, under, mx - px, my - py
    return x, y, z, vx, vy, 0.0


@kernel
def drop_along(
    shapes: NDArray[np.float64],
    begin: int,
    feet: tuple[float, float, float],
    move: tuple[float, float, float],
    velocity: tuple[float, float, float],
    radius: float,
    core: float,
) -> tuple[float, float, float, float, float, float, bool]:
    """Move an upright capsule in the air, over the ground first, then up or down: its feet, velocity, and if it lands.

    What it meets on its way over the ground stops it there, or is slid along, and lifts it by nothing.
    """
    x, y, z = feet
    mx, my, mz = move
    vx, vy, vz = velocity
    for _ in range(SLIDES):
        if mx == 0.0 and my == 0.0:
            break
        fraction, wall = first_wall(shapes, begin, (x, y, z), (mx, my, 0.0), radius, core)
        if wall < 0:
            x, y = x + mx, y + my
            break
        x, y, mx, my = x + mx * fraction, y + my * fraction, mx * (1.0 - fraction), my * (1.0 - fraction)
        nx, ny, _nz = wall_normal(shapes, wall, (x, y, z), radius, core)
        mx, my, vx, vy = _along(mx, my, vx, vy, nx, ny)
    return carry(shapes, begin, (x, y, z), (0.0, 0.0, mz), (vx, vy, vz), radius, core, 0.0)


@kernel
def ground_below(
    shapes: NDArray[np.float64],
    begin: int,
    floor: float,
    feet: tuple[float, float, float],
    down: float,
    radius: float,
    core: float,
) -> tuple[float, float]:
    """Where an upright capsule comes down at most `down` below, and how far the ground there looks up, from 0 to 1.

    The height is -1e300, and the share 0, where nothing is.
    """
    fraction, wall = first_wall(shapes, begin, feet, (0.0, 0.0, -down), radius, core)
    low = feet[2] - down * fraction if wall >= 0 else -1e300
    if floor >= low and floor >= feet[2] - down:
        return floor, 1.0
    if wall < 0:
        return -1e300, 0.0
    return low, wall_normal(shapes, wall, (feet[0], feet[1], low), radius, core)[2]


@kernel
def _is_near(
    shapes: NDArray[np.float64],
    begin: int,
    feet: tuple[float, float, float],
    move: tuple[float, float],
    radius: float,
    core: float,
    step: float,
) -> bool:
    """Whether any wall may matter to a walk."""
    low_x, high_x = feet[0] + min(move[0], 0.0) - 2.0 * radius, feet[0] + max(move[0], 0.0) + 2.0 * radius
    low_y, high_y = feet[1] + min(move[1], 0.0) - 2.0 * radius, feet[1] + max(move[1], 0.0) + 2.0 * radius
    low_z, high_z = feet[2] - step - radius, feet[2] + core + 2.0 * radius + step
    for wall in range(begin, shapes.shape[1]):
        if not (
            high_x < shapes[ShapeColumn.LOW, wall]
            or low_x > shapes[ShapeColumn.HIGH, wall]
            or high_y < shapes[ShapeColumn.LOW + 1, wall]
            or low_y > shapes[ShapeColumn.HIGH + 1, wall]
            or high_z < shapes[ShapeColumn.LOW + 2, wall]
            or low_z > shapes[ShapeColumn.HIGH + 2, wall]
        ):
            return True
    return False


@kernel
def _lift_over(
    shapes: NDArray[np.float64],
    begin: int,
    wall: int,
    feet: tuple[float, float, float],
    move: tuple[float, float],
    normal: tuple[float, float, float],
    radius: float,
    core: float,
    step: float,
) -> float:
    """How far a walker is lifted to go over a wall that it touches; 0 where it is stopped.

    A slope that can be walked lifts it by its rise. Over anything steeper it steps if it meets the same wall no more,
    lifted by its step, within two radii.
    """
    nx, ny, nz = normal
    lift = max(-(move[0] * nx + move[1] * ny) / nz, 0.0) + SLACK * radius if nz > STEEP else step
    if lift == 0.0:
        return 0.0
    fraction = first_wall(shapes, begin, feet, (0.0, 0.0, lift), radius, core)[0]
    if fraction < 1.0:
        lift *= fraction
        if lift <= SLACK * radius:
            return 0.0
    if nz > STEEP:
        return lift
    length = sqrt(move[0] * move[0] + move[1] * move[1])
    ahead = (move[0] / length * 2.0 * radius, move[1] / length * 2.0 * radius, 0.0)
    over = first_wall(shapes, begin, (feet[0], feet[1], feet[2] + lift), ahead, radius, core)[1]
    return 0.0 if over == wall else lift


@kernel
def _along(mx: float, my: float, vx: float, vy: float, nx: float, ny: float) -> tuple[float, float, float, float]:
    """A way and a velocity over the ground, without what goes into a wall whose normal is (nx, ny) over the ground."""
    size = sqrt(nx * nx + ny * ny)
    if size == 0.0:
        return 0.0, 0.0, 0.0, 0.0
    nx, ny = nx / size, ny / size
    into, towards = min(mx * nx + my * ny, 0.0), min(vx * nx + vy * ny, 0.0)
    return mx - into * nx, my - into * ny, vx - towards * nx, vy - towards * ny


@kernel
def _last_ground(
    shapes: NDArray[np.float64],
    begin: int,
    floor: float,
    feet: tuple[float, float, float],
    move: tuple[float, float],
    lift: float,
    down: float,
    radius: float,
    core: float,
) -> float:
    """The share of a piece of the way at which the ground below ceases to be one that can be walked."""
    held, lost = 0.0, 1.0
    for _ in range(HALVINGS):
        half = 0.5 * (held + lost)
        place = (feet[0] + move[0] * half, feet[1] + move[1] * half, feet[2] + lift)
        if ground_below(shapes, begin, floor, place, down, radius, core)[1] > STEEP:
            held = half
        else:
            lost = half
    return held
