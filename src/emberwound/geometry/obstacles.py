"""Upright capsules among walls: what they meet on their way, sliding along it, and finding a footing."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, ShapeColumn
from emberwound.geometry.nearest import beyond, segment_box_share
from emberwound.geometry.shape import along_axes, out_of_axes
from emberwound.geometry.sweep import MISS, capsule_box_touch

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

SLIDES = 3
HALVINGS = 40
STEEP = 0.7
"""A wall whose normal points up by less than this share carries nobody."""

FOOTHOLD = 1e-3
"""How far below its feet, as a share of its radius, a body still finds support."""


@kernel
def first_wall(
    shapes: NDArray[np.float64],
    begin: int,
    feet: tuple[float, float, float],
    move: tuple[float, float, float],
    radius: float,
    core: float,
) -> tuple[float, int]:
    """The fraction of `move` at which an upright capsule standing at `feet` touches a wall, and which; MISS, -1."""
    best, met = MISS, -1
    low_x, high_x = feet[0] + min(move[0], 0.0) - radius, feet[0] + max(move[0], 0.0) + radius
    low_y, high_y = feet[1] + min(move[1], 0.0) - radius, feet[1] + max(move[1], 0.0) + radius
    low_z = feet[2] + min(move[2], 0.0)
    high_z = feet[2] + max(move[2], 0.0) + core + 2.0 * radius
    for wall in range(begin, shapes.shape[1]):
        if (
            high_x < shapes[ShapeColumn.LOW, wall]
            or low_x > shapes[ShapeColumn.HIGH, wall]
            or high_y < shapes[ShapeColumn.LOW + 1, wall]
            or low_y > shapes[ShapeColumn.HIGH + 1, wall]
            or high_z < shapes[ShapeColumn.LOW + 2, wall]
            or low_z > shapes[ShapeColumn.HIGH + 2, wall]
        ):
            continue
        px, py, pz = _to_wall(shapes, wall, feet[0], feet[1], feet[2] + radius)
        ux, uy, uz = along_axes(shapes, wall, 0.0, 0.0, core)
        wx, wy, wz = along_axes(shapes, wall, move[0], move[1], move[2])
        hx, hy, hz = shapes[ShapeColumn.B, wall], shapes[ShapeColumn.B + 1, wall], shapes[ShapeColumn.B + 2, wall]
        touch = capsule_box_touch(px, py, pz, ux, uy, uz, hx, hy, hz, wx, wy, wz, radius)
        if touch == 0.0 and not _goes_in(px, py, pz, ux, uy, uz, hx, hy, hz, wx, wy, wz):
            continue
        if touch < best:
            best, met = touch, wall
    return best, met


@kernel
def _goes_in(
    px: float,
    py: float,
    pz: float,
    ux: float,
    uy: float,
    uz: float,
    hx: float,
    hy: float,
    hz: float,
    wx: float,
    wy: float,
    wz: float,
) -> bool:
    """Whether a capsule that touches a box moves deeper into it; what rounding left overlapping may move along it."""
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    nx = beyond(px + share * ux, hx)
    ny = beyond(py + share * uy, hy)
    nz = beyond(pz + share * uz, hz)
    closing = nx * wx + ny * wy + nz * wz
    size = sqrt((nx * nx + ny * ny + nz * nz) * (wx * wx + wy * wy + wz * wz))
    return closing < -1e-9 * size


@kernel
def _to_wall(shapes: NDArray[np.float64], wall: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A point in a wall's own axes."""
    return along_axes(
        shapes,
        wall,
        x - shapes[ShapeColumn.A, wall],
        y - shapes[ShapeColumn.A + 1, wall],
        z - shapes[ShapeColumn.A + 2, wall],
    )


@kernel
def wall_normal(
    shapes: NDArray[np.float64], wall: int, feet: tuple[float, float, float], radius: float, core: float
) -> tuple[float, float, float]:
    """The unit vector out of a wall towards an upright capsule that touches it; 0 when their cores overlap."""
    px, py, pz = _to_wall(shapes, wall, feet[0], feet[1], feet[2] + radius)
    ux, uy, uz = along_axes(shapes, wall, 0.0, 0.0, core)
    hx, hy, hz = shapes[ShapeColumn.B, wall], shapes[ShapeColumn.B + 1, wall], shapes[ShapeColumn.B + 2, wall]
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    a, b, c = beyond(px + share * ux, hx), beyond(py + share * uy, hy), beyond(pz + share * uz, hz)
    length = sqrt(a * a + b * b + c * c)
    if length == 0.0:
        return 0.0, 0.0, 0.0
    x, y, z = out_of_axes(shapes, wall, a, b, c)
    return x / length, y / length, z / length


@kernel
def carry(
    shapes: NDArray[np.float64],
    begin: int,
    feet: tuple[float, float, float],
    move: tuple[float, float, float],
    velocity: tuple[float, float, float],
    radius: float,
    core: float,
    keep: float,
) -> tuple[float, float, float, float, float, float, bool]:
    """Carry an upright capsule along `move`, sliding along what it meets: its feet and velocity then, and if it lands.

    A wall takes the velocity into it away, or returns `restitution` of it; walls are in the columns from `begin` on.
    """
    x, y, z = feet
    mx, my, mz = move
    vx, vy, vz = velocity
    lands = False
    for _ in range(SLIDES):
        fraction, wall = first_wall(shapes, begin, (x, y, z), (mx, my, mz), radius, core)
        if wall < 0:
            x, y, z = x + mx, y + my, z + mz
            break
        x, y, z = x + mx * fraction, y + my * fraction, z + mz * fraction
        nx, ny, nz = wall_normal(shapes, wall, (x, y, z), radius, core)
        mx, my, mz = mx * (1.0 - fraction), my * (1.0 - fraction), mz * (1.0 - fraction)
        into = mx * nx + my * ny + mz * nz
        mx, my, mz = mx - into * nx, my - into * ny, mz - into * nz
        into = min(vx * nx + vy * ny + vz * nz, 0.0) * (1.0 + keep)
        vx, vy, vz = vx - into * nx, vy - into * ny, vz - into * nz
        lands = lands or nz > STEEP
    return x, y, z, vx, vy, vz, lands


@kernel
def within(place: float, speed: float, low: float, high: float) -> tuple[float, float]:
    """A coordinate held in a range, and its speed, 0 where it was held."""
    if place < low:
        return low, 0.0
    if place > high:
        return high, 0.0
    return place, speed


@kernel
def within_bounds(
    walls: NDArray[np.float64], x: float, y: float, vx: float, vy: float
) -> tuple[float, float, float, float]:
    """A place on the ground held in the bounds, and the velocity there."""
    x, vx = within(x, vx, walls[ArenaBound.LOW], walls[ArenaBound.HIGH])
    y, vy = within(y, vy, walls[ArenaBound.LOW + 1], walls[ArenaBound.HIGH + 1])
    return x, y, vx, vy


@kernel
def has_footing(
    shapes: NDArray[np.float64], begin: int, feet: tuple[float, float, float], radius: float, core: float
) -> bool:
    """Whether a wall is close enough below to stand on."""
    return first_wall(shapes, begin, feet, (0.0, 0.0, -FOOTHOLD * radius), radius, core)[1] >= 0


@kernel
def rests(
    shapes: NDArray[np.float64], begin: int, feet: tuple[float, float, float], radius: float, core: float
) -> bool:
    """Whether a wall below carries who does not walk: on a side that is not steep, and on no edge beside its middle."""
    fraction, wall = first_wall(shapes, begin, feet, (0.0, 0.0, -FOOTHOLD * radius), radius, core)
    if wall < 0:
        return False
    low = (feet[0], feet[1], feet[2] - FOOTHOLD * radius * fraction)
    up = wall_normal(shapes, wall, low, radius, core)[2]
    if up <= STEEP:
        return False
    px, py, pz = _to_wall(shapes, wall, low[0], low[1], low[2] + radius)
    ux, uy, uz = along_axes(shapes, wall, 0.0, 0.0, core)
    hx, hy, hz = shapes[ShapeColumn.B, wall], shapes[ShapeColumn.B + 1, wall], shapes[ShapeColumn.B + 2, wall]
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    beside = 0
    for out in (beyond(px + share * ux, hx), beyond(py + share * uy, hy), beyond(pz + share * uz, hz)):
        if out != 0.0:
            beside += 1
    return beside < 2 or up > 1.0 - FOOTHOLD


@kernel
def footing_share(
    shapes: NDArray[np.float64],
    begin: int,
    feet: tuple[float, float, float],
    move: tuple[float, float, float],
    radius: float,
    core: float,
) -> float:
    """The share of `move` after which a body that rests on a wall as it begins it, and not as it ends, has lost it."""
    held, lost = 0.0, 1.0
    for _ in range(HALVINGS):
        half = 0.5 * (held + lost)
        place = (feet[0] + move[0] * half, feet[1] + move[1] * half, feet[2] + move[2] * half)
        if rests(shapes, begin, place, radius, core):
            held = half
        else:
            lost = half
    return lost
