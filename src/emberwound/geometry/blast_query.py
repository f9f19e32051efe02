"""How far shapes are from a place: what a blast reaches."""

from __future__ import annotations

from math import inf, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ReachedColumn, Refusal, ShapeColumn, ShapeMark
from emberwound.geometry.neighbours import refusal
from emberwound.geometry.shapes import clamp, share_on_segment

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


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
    touched: `whose` is (owner, team, layers, options), as of segments. Inside is 0.
    """
    owner, team, layers, options = whose
    found = 0
    for shape in range(count):
        reached[ReachedColumn.GAP, shape] = inf
        if refusal(layers, options, owner, team, shape_marks, shape) != Refusal.NONE:
            continue
        gap, x, y, z = _nearest(place, share, shapes, shape, shape_marks[ShapeMark.IS_BOX, shape])
        if gap <= radius:
            reached[ReachedColumn.GAP, shape] = gap
            (
                reached[ReachedColumn.X, shape],
                reached[ReachedColumn.X + 1, shape],
                reached[ReachedColumn.X + 2, shape],
            ) = x, y, z
            found += 1
    return found


@kernel
def _nearest(
    place: tuple[float, float, float], share: float, shapes: NDArray[np.float64], shape: int, is_box: int
) -> tuple[float, float, float, float]:
    """How far a place is from a shape, and the shape's nearest point."""
    later = 1.0 - share
    ax = shapes[ShapeColumn.A, shape] * later + shapes[ShapeColumn.A_END, shape] * share
    ay = shapes[ShapeColumn.A + 1, shape] * later + shapes[ShapeColumn.A_END + 1, shape] * share
    az = shapes[ShapeColumn.A + 2, shape] * later + shapes[ShapeColumn.A_END + 2, shape] * share
    px, py, pz = place[0] - ax, place[1] - ay, place[2] - az
    nx = ny = nz = 0.0
    size = shapes[ShapeColumn.RADIUS, shape]
    if is_box:
        size = 0.0
        for axis in range(3):
            row = ShapeColumn.AXES + 3 * axis
            along = px * shapes[row, shape] + py * shapes[row + 1, shape] + pz * shapes[row + 2, shape]
            along = clamp(along, -shapes[ShapeColumn.B + axis, shape], shapes[ShapeColumn.B + axis, shape])
            nx += along * shapes[row, shape]
            ny += along * shapes[row + 1, shape]
            nz += along * shapes[row + 2, shape]
    else:
        ux = shapes[ShapeColumn.B, shape] * later + shapes[ShapeColumn.B_END, shape] * share - ax
        uy = shapes[ShapeColumn.B + 1, shape] * later + shapes[ShapeColumn.B_END + 1, shape] * share - ay
        uz = shapes[ShapeColumn.B + 2, shape] * later + shapes[ShapeColumn.B_END + 2, shape] * share - az
        along = share_on_segment(px, py, pz, ux, uy, uz)
        nx, ny, nz = along * ux, along * uy, along * uz
    dx, dy, dz = px - nx, py - ny, pz - nz
    apart = sqrt(dx * dx + dy * dy + dz * dz)
    lift = min(size / apart, 1.0) if apart > 0.0 else 0.0
    return max(apart - size, 0.0), ax + nx + lift * dx, ay + ny + lift * dy, az + nz + lift * dz
