"""One tick of contact in a small world: every flying sphere against every shape, the floor and the bounds."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.flight_segments import may_not_touch, meet_time, segment_limit, segment_place, tick_zero
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
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


@kernel
def goes_first(shape_marks: NDArray[np.int64], one: int, other: int) -> bool:
    """Whether of two shapes touched at one instant the first comes first: bodies before walls, then by rank."""
    walls: bool = shape_marks[ShapeMark.OWNER, other] == 0
    lower: bool = shape_marks[ShapeMark.RANK, one] < shape_marks[ShapeMark.RANK, other]
    return walls if walls != (shape_marks[ShapeMark.OWNER, one] == 0) else lower


@kernel
def note_contact(
    legs: NDArray[np.float64],
    leg: int,
    until: float,
    what: int,
    met: int,
    fraction: float,
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    count: int,
) -> None:
    """Write one line of what was found."""
    x, y, z = segment_place(legs, leg, until)
    found[FoundColumn.FRACTION, count] = min(max(fraction, 0.0), 1.0)
    found[FoundColumn.SECONDS, count] = until
    found[FoundColumn.X, count] = x
    found[FoundColumn.Y, count] = y
    found[FoundColumn.Z, count] = z
    found_marks[FoundMark.SHOT, count] = leg
    found_marks[FoundMark.WHAT, count] = what
    found_marks[FoundMark.SHAPE, count] = met


@kernel
def first_contacts(
    legs: NDArray[np.float64],
    leg_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    walls: NDArray[np.float64],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    span: tuple[int, int],
    tick: int,
    tick_rate: int,
) -> int:
    """Count and list the first contact of each leg in the columns of `span` during what is left of `tick` for it.

    Of shapes touched at one instant bodies come before walls, then the lowest rank; shapes come before the floor and
    the bounds. `found` gets the fraction of the tick, the seconds since the leg's start and the centre's place;
    `found_marks` the leg's column, what was met, and the shape's column.
    """
    count = 0
    tick_seconds = 1.0 / tick_rate
    for leg in range(span[0], span[1]):
        if leg_marks[ShotMark.ID, leg] == 0:
            continue
        zero = tick_zero(legs, leg, tick, tick_rate)
        begin, end = max(zero, 0.0), zero + tick_seconds
        layers = leg_marks[ShotMark.LAYERS, leg]
        until, what = segment_limit(legs, leg, layers, walls, begin, end)
        radius = legs[ShotColumn.RADIUS, leg]
        x0, y0, z0 = segment_place(legs, leg, begin)
        x1, y1, z1 = segment_place(legs, leg, until)
        bulge = _bulge(legs, leg, until - begin)
        low_x, high_x = min(x0, x1) - radius - bulge, max(x0, x1) + radius + bulge
        low_y, high_y = min(y0, y1) - radius - bulge, max(y0, y1) + radius + bulge
        low_z, high_z = min(z0, z1) - radius - bulge, max(z0, z1) + radius + bulge
        limit = until
        met = -1
        for shape in range(shape_marks.shape[1]):
            if (
                shape_marks[ShapeMark.LAYER, shape] == 0
                or high_x < shapes[ShapeColumn.LOW, shape]
                or low_x > shapes[ShapeColumn.HIGH, shape]
                or high_z < shapes[ShapeColumn.LOW + 2, shape]
                or low_z > shapes[ShapeColumn.HIGH + 2, shape]
                or high_y < shapes[ShapeColumn.LOW + 1, shape]
                or low_y > shapes[ShapeColumn.HIGH + 1, shape]
                or may_not_touch(leg_marks, leg, shape_marks, shape, touched) != Refusal.NONE
            ):
                continue
            is_box = shape_marks[ShapeMark.IS_BOX, shape]
            touch = meet_time(legs, leg, shapes, shape, is_box, zero, begin, limit, tick_seconds)
            if touch < until or (touch == until and (met < 0 or goes_first(shape_marks, shape, met))):
                until, what, met = touch, Met.SHAPE, shape
        if what == 0:
            continue
        note_contact(legs, leg, until, what, met, (until - zero) * tick_rate, found, found_marks, count)
        count += 1
    return count


@kernel
def _bulge(legs: NDArray[np.float64], leg: int, span: float) -> float:
    """How far the path of a leg can leave the straight between two of its places `span` seconds apart."""
    gravity, drag = legs[ShotColumn.GRAVITY, leg], legs[ShotColumn.DRAG, leg]
    if gravity == 0.0 and drag == 0.0:
        return 0.0
    vx, vy, vz = abs(legs[ShotColumn.VX, leg]), abs(legs[ShotColumn.VY, leg]), abs(legs[ShotColumn.VZ, leg])
    fastest = vx + vy + vz + (gravity / drag if drag > 0.0 else 0.0)
    bulge: float = (gravity + drag * fastest) * span * span / 8.0
    return bulge
