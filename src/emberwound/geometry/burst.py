"""How far shapes are from a place: what a blast reaches."""

from __future__ import annotations

from math import inf, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import (
    MAY_TOUCH_OWNER,
    MAY_TOUCH_TEAM,
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_B_END,
    SHAPE_IS_BOX,
    SHAPE_LAYER,
    SHAPE_OWNER,
    SHAPE_RADIUS,
    SHAPE_TEAM,
)
from emberwound.geometry.shapes import clamp, share_on_segment

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

REACHED_GAP, REACHED_X = 0, 1
REACHED_ROWS = 4


@kernel
def reach_shapes(
    place: tuple[float, float, float],
    share: float,
    radius: float,
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    whose: tuple[int, int, int, int],
    count: int,
    reached: NDArray[np.float64],
) -> int:
    """Fill `reached` (4, shapes) with how far each of the first `count` shapes is, and where it is nearest; how many.

    The shapes are taken where they are at a fraction of the tick. inf stands for what is further than `radius` or not
    touched: `whose` is (owner, team, layers, options), as of legs. Inside is 0.
    """
    owner, team, layers, options = whose
    found = 0
    for shape in range(count):
        reached[REACHED_GAP, shape] = inf
        if not shape_marks[SHAPE_LAYER, shape] & layers:
            continue
        theirs = shape_marks[SHAPE_OWNER, shape]
        if theirs == owner and not options & MAY_TOUCH_OWNER:
            continue
        if theirs != owner and shape_marks[SHAPE_TEAM, shape] == team and not options & MAY_TOUCH_TEAM:
            continue
        gap, x, y, z = _nearest(place, share, shapes, shape, shape_marks[SHAPE_IS_BOX, shape])
        if gap <= radius:
            reached[REACHED_GAP, shape] = gap
            reached[REACHED_X, shape], reached[REACHED_X + 1, shape], reached[REACHED_X + 2, shape] = x, y, z
            found += 1
    return found


@kernel
def _nearest(
    place: tuple[float, float, float], share: float, shapes: NDArray[np.float64], shape: int, is_box: int
) -> tuple[float, float, float, float]:
    """How far a place is from a shape, and the shape's nearest point."""
    later = 1.0 - share
    ax = shapes[SHAPE_A, shape] * later + shapes[SHAPE_A_END, shape] * share
    ay = shapes[SHAPE_A + 1, shape] * later + shapes[SHAPE_A_END + 1, shape] * share
    az = shapes[SHAPE_A + 2, shape] * later + shapes[SHAPE_A_END + 2, shape] * share
    px, py, pz = place[0] - ax, place[1] - ay, place[2] - az
    nx = ny = nz = 0.0
    size = shapes[SHAPE_RADIUS, shape]
    if is_box:
        size = 0.0
        for axis in range(3):
            row = SHAPE_AXES + 3 * axis
            along = px * shapes[row, shape] + py * shapes[row + 1, shape] + pz * shapes[row + 2, shape]
            along = clamp(along, -shapes[SHAPE_B + axis, shape], shapes[SHAPE_B + axis, shape])
            nx += along * shapes[row, shape]
            ny += along * shapes[row + 1, shape]
            nz += along * shapes[row + 2, shape]
    else:
        ux = shapes[SHAPE_B, shape] * later + shapes[SHAPE_B_END, shape] * share - ax
        uy = shapes[SHAPE_B + 1, shape] * later + shapes[SHAPE_B_END + 1, shape] * share - ay
        uz = shapes[SHAPE_B + 2, shape] * later + shapes[SHAPE_B_END + 2, shape] * share - az
        along = share_on_segment(px, py, pz, ux, uy, uz)
        nx, ny, nz = along * ux, along * uy, along * uz
    dx, dy, dz = px - nx, py - ny, pz - nz
    apart = sqrt(dx * dx + dy * dy + dz * dz)
    lift = min(size / apart, 1.0) if apart > 0.0 else 0.0
    return max(apart - size, 0.0), ax + nx + lift * dx, ay + ny + lift * dy, az + nz + lift * dz
