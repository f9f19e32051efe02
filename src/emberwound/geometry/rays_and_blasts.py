"""What a ray or a blast reaches at one instant, and where a ray ends."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, Layer, Met, ReachedColumn, Refusal, ShapeColumn, ShapeMark
from emberwound.geometry.neighbours import refusal
from emberwound.geometry.shape import nearest_of, touch_shape
from emberwound.geometry.sweep import MISS

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


@kernel
def ray_touches(
    start: NDArray[np.float64],
    move: NDArray[np.float64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    layers: int,
    shares: NDArray[np.float64],
) -> None:
    """Fill `shares` (shapes,) with how far along `move` (3,) the ray from `start` (3,) first touches each shape.

    The shapes are taken where they are at the start of the tick. A start inside gives 0; MISS (2) is no touch.
    """
    for shape in range(shares.size):
        shares[shape] = MISS
        if shape_marks[ShapeMark.LAYER, shape] & layers:
            shares[shape] = touch_shape(
                start[0] - shapes[ShapeColumn.A, shape],
                start[1] - shapes[ShapeColumn.A + 1, shape],
                start[2] - shapes[ShapeColumn.A + 2, shape],
                move[0],
                move[1],
                move[2],
                0.0,
                shapes,
                shape,
            )


@kernel
def ray_limit(
    start: NDArray[np.float64], move: NDArray[np.float64], walls: NDArray[np.float64], layers: int
) -> tuple[float, int]:
    """How far along `move` a ray ends without touching a shape, and by what: the floor, the bounds, or its range."""
    share, what = 1.0, Met.RANGE
    for axis in range(3):
        level = inf
        if move[axis] > 0.0:
            level = (walls[ArenaBound.HIGH + axis] - start[axis]) / move[axis]
        elif move[axis] < 0.0:
            level = (walls[ArenaBound.LOW + axis] - start[axis]) / move[axis]
        if start[axis] < walls[ArenaBound.LOW + axis] or start[axis] > walls[ArenaBound.HIGH + axis]:
            level = 0.0
        if level < share:
            share, what = max(level, 0.0), Met.BOUNDS
    if layers & Layer.WALL:
        down = inf
        if start[2] < walls[ArenaBound.FLOOR]:
            down = 0.0
        elif move[2] < 0.0:
            down = (walls[ArenaBound.FLOOR] - start[2]) / move[2]
        if down <= share:
            share, what = down, Met.FLOOR
    return share, what


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
        gap, x, y, z = nearest_of(place, share, shapes, shape)
        if gap <= radius:
            reached[ReachedColumn.GAP, shape] = gap
            (
                reached[ReachedColumn.X, shape],
                reached[ReachedColumn.X + 1, shape],
                reached[ReachedColumn.X + 2, shape],
            ) = x, y, z
            found += 1
    return found
