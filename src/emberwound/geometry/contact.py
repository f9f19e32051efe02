"""One tick of contact in a small world: every flying sphere against every shape, the floor and the bounds."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.flight_segments import may_not_touch, meet_time, segment_limit, segment_place, tick_zero
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    ArenaBound,
    FoundColumn,
    FoundMark,
    Met,
    Refusal,
    ShapeColumn,
    ShapeMark,
    ShotColumn,
    ShotMark,
)

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

CLEAR = 1e-6
"""Lengths: what is further than this from floor and bounds all the tick meets neither."""


@kernel
def goes_first(shape_marks: NDArray[np.int64], one: int, other: int) -> bool:
    """Whether of two shapes touched at one instant the first comes first: bodies before walls, then by rank."""
    walls: bool = shape_marks[ShapeMark.OWNER, other] == 0
    lower: bool = shape_marks[ShapeMark.RANK, one] < shape_marks[ShapeMark.RANK, other]
    return walls if walls != (shape_marks[ShapeMark.OWNER, one] == 0) else lower


@kernel
def note_contact(
    segments: NDArray[np.float64],
    segment: int,
    until: float,
    what: int,
    met: int,
    fraction: float,
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    count: int,
) -> None:
    """Write one line of what was found."""
    x, y, z = segment_place(segments, segment, until)
    found[FoundColumn.FRACTION, count] = min(max(fraction, 0.0), 1.0)
    found[FoundColumn.SECONDS, count] = until
    found[FoundColumn.X, count] = x
    found[FoundColumn.Y, count] = y
    found[FoundColumn.Z, count] = z
    found_marks[FoundMark.SHOT, count] = segment
    found_marks[FoundMark.WHAT, count] = what
    found_marks[FoundMark.SHAPE, count] = met


@kernel
def first_contacts(
    segments: NDArray[np.float64],
    segment_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    walls: NDArray[np.float64],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    columns: tuple[int, int],
    free: tuple[int, int],
    tick: int,
    tick_rate: int,
) -> int:
    """Count and list the first contact of each segment in `columns` during what is left of `tick` for it.

    Of shapes touched at one instant bodies come before walls, then the lowest rank; shapes come before the floor and
    the bounds. `found` gets the fraction of the tick, the seconds since the segment's start and the centre's place;
    `found_marks` the segment's column, what was met, and the shape's column. There are no shapes from the first to the
    second column of `free`.
    """
    count = 0
    tick_seconds = 1.0 / tick_rate
    for segment in range(columns[0], columns[1]):
        if segment_marks[ShotMark.ID, segment] == 0:
            continue
        zero = tick_zero(segments, segment, tick, tick_rate)
        begin, end = max(zero, 0.0), zero + tick_seconds
        radius = segments[ShotColumn.RADIUS, segment]
        x0, y0, z0 = segment_place(segments, segment, begin)
        x1, y1, z1 = segment_place(segments, segment, end)
        bulge = _bulge(segments, segment, end - begin)
        low_x, high_x = min(x0, x1) - radius - bulge, max(x0, x1) + radius + bulge
        low_y, high_y = min(y0, y1) - radius - bulge, max(y0, y1) + radius + bulge
        low_z, high_z = min(z0, z1) - radius - bulge, max(z0, z1) + radius + bulge
        until, what, met = end, 0, -1
        if (
            segments[ShotColumn.RANGE, segment] > 0.0
            or low_x - CLEAR < walls[ArenaBound.LOW]
            or high_x + CLEAR > walls[ArenaBound.HIGH]
            or low_y - CLEAR < walls[ArenaBound.LOW + 1]
            or high_y + CLEAR > walls[ArenaBound.HIGH + 1]
            or low_z - CLEAR < max(walls[ArenaBound.LOW + 2], walls[ArenaBound.FLOOR])
            or high_z + CLEAR > walls[ArenaBound.HIGH + 2]
        ):
            layers = segment_marks[ShotMark.LAYERS, segment]
            until, what = segment_limit(segments, segment, layers, walls, begin, end)
        limit = until
        for place in range(shape_marks.shape[1] - free[1] + free[0]):
            shape = place if place < free[0] else place - free[0] + free[1]
            if (
                shape_marks[ShapeMark.LAYER, shape] == 0
                or high_x < shapes[ShapeColumn.LOW, shape]
                or low_x > shapes[ShapeColumn.HIGH, shape]
                or high_z < shapes[ShapeColumn.LOW + 2, shape]
                or low_z > shapes[ShapeColumn.HIGH + 2, shape]
                or high_y < shapes[ShapeColumn.LOW + 1, shape]
                or low_y > shapes[ShapeColumn.HIGH + 1, shape]
                or may_not_touch(segment_marks, segment, shape_marks, shape, touched) != Refusal.NONE
            ):
                continue
            touch = meet_time(segments, segment, shapes, shape, zero, begin, limit, tick_seconds)
            if touch < until or (touch == until and (met < 0 or goes_first(shape_marks, shape, met))):
                until, what, met = touch, Met.SHAPE, shape
        if what == 0:
            continue
        note_contact(segments, segment, until, what, met, (until - zero) * tick_rate, found, found_marks, count)
        count += 1
    return count


@kernel
def _bulge(segments: NDArray[np.float64], segment: int, seconds: float) -> float:
    """How far the path of a segment can leave the straight between two of its places `seconds` seconds apart."""
    gravity, drag = segments[ShotColumn.GRAVITY, segment], segments[ShotColumn.DRAG, segment]
    if gravity == 0.0 and drag == 0.0:
        return 0.0
    vx, vy, vz = (
        abs(segments[ShotColumn.VX, segment]),
        abs(segments[ShotColumn.VY, segment]),
        abs(segments[ShotColumn.VZ, segment]),
    )
    fastest = vx + vy + vz + (gravity / drag if drag > 0.0 else 0.0)
    bulge: float = (gravity + drag * fastest) * seconds * seconds / 8.0
    return bulge
