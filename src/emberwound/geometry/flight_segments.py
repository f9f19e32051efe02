"""Segments of flight in arrays: where a flying sphere is, what ends its flight, and when it meets a shape.

Arrays are (rows, capacity) with the rows named here; a mark of 0 in the first row means the column is free.
"""

from __future__ import annotations

from math import ceil, inf, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.flight import (
    HALVINGS,
    climb_time,
    dragged_climb_time,
    dragged_fall_time,
    drift_time,
    fall_time,
    height_at,
    reach_of,
    rise_at,
)
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, Layer, Met, Refusal, ShapeColumn, ShapeMark, ShotColumn, ShotMark
from emberwound.geometry.neighbours import refusal
from emberwound.geometry.shape import least_size, touch_shape
from emberwound.geometry.sweep import MISS

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


CHORD_TOLERANCE = 1e-6
"""How far chords may leave a curved path: as a share of the radii that meet, and of the least size of a box."""

MOST_CHORDS = 4096

SAFELY = 1.001
"""How much thicker than it may be the one chord is that stands for all, so that no rounding rejects what touches."""


@kernel
def tick_zero(segments: NDArray[np.float64], segment: int, tick: int, tick_rate: int) -> float:
    """Seconds from the start of the segment to the start of the tick; negative when the segment starts within it."""
    seconds: float = (tick - segments[ShotColumn.TICK, segment]) / tick_rate - segments[ShotColumn.BEGIN, segment]
    return seconds


@kernel
def segment_place(segments: NDArray[np.float64], segment: int, t: float) -> tuple[float, float, float]:
    """Where the segment is t seconds after its start."""
    drag = segments[ShotColumn.DRAG, segment]
    s = reach_of(drag, t)
    return (
        segments[ShotColumn.X, segment] + segments[ShotColumn.VX, segment] * s,
        segments[ShotColumn.Y, segment] + segments[ShotColumn.VY, segment] * s,
        height_at(
            segments[ShotColumn.Z, segment],
            segments[ShotColumn.VZ, segment],
            segments[ShotColumn.GRAVITY, segment],
            drag,
            t,
        ),
    )


@kernel
def beyond_range(segments: NDArray[np.float64], segment: int, t: float) -> bool:
    """Whether the segment is further from its origin than its range, t seconds after its start."""
    x, y, z = segment_place(segments, segment, t)
    dx = x - segments[ShotColumn.ORIGIN, segment]
    dy = y - segments[ShotColumn.ORIGIN + 1, segment]
    dz = z - segments[ShotColumn.ORIGIN + 2, segment]
    most = segments[ShotColumn.RANGE, segment]
    beyond: bool = dx * dx + dy * dy + dz * dz > most * most
    return beyond


@kernel
def segment_limit(
    segments: NDArray[np.float64], segment: int, layers: int, walls: NDArray[np.float64], begin: float, end: float
) -> tuple[float, int]:
    """Seconds from its start at which the segment meets the floor, the bounds or its range, and which; `end`, 0: none.

    Asked for the time from `begin` to `end`; the floor comes first of what is met at one instant.
    """
    z, vz = segments[ShotColumn.Z, segment], segments[ShotColumn.VZ, segment]
    gravity, drag = segments[ShotColumn.GRAVITY, segment], segments[ShotColumn.DRAG, segment]
    floor = walls[ArenaBound.FLOOR] + segments[ShotColumn.RADIUS, segment] if layers & Layer.WALL else -inf
    until = min(
        drift_time(
            segments[ShotColumn.X, segment],
            segments[ShotColumn.VX, segment],
            drag,
            walls[ArenaBound.LOW],
            walls[ArenaBound.HIGH],
            end,
        ),
        drift_time(
            segments[ShotColumn.Y, segment],
            segments[ShotColumn.VY, segment],
            drag,
            walls[ArenaBound.LOW + 1],
            walls[ArenaBound.HIGH + 1],
            end,
        ),
    )
    if drag == 0.0:
        until = min(until, climb_time(z, vz, gravity, walls[ArenaBound.HIGH + 2]))
        until = min(until, fall_time(z, vz, gravity, walls[ArenaBound.LOW + 2]))
        down = fall_time(z, vz, gravity, floor)
    else:
        until = min(until, dragged_climb_time(z, vz, gravity, drag, walls[ArenaBound.HIGH + 2], end))
        until = min(until, dragged_fall_time(z, vz, gravity, drag, walls[ArenaBound.LOW + 2], end))
        down = dragged_fall_time(z, vz, gravity, drag, floor, end)
    what = Met.BOUNDS
    if until > end:
        until, what = end, 0
    if down <= until:
        until, what = down, Met.FLOOR
    if segments[ShotColumn.RANGE, segment] > 0.0 and beyond_range(segments, segment, until):
        near, far = min(begin, until), until
        for _ in range(HALVINGS):
            middle = 0.5 * (near + far)
            if beyond_range(segments, segment, middle):
                far = middle
            else:
                near = middle
        until, what = far, Met.RANGE
    return until, what


@kernel
def may_not_touch(
    segment_marks: NDArray[np.int64],
    segment: int,
    shape_marks: NDArray[np.int64],
    shape: int,
    touched: NDArray[np.int64],
) -> int:
    """Why this segment leaves this shape alone, a Refusal: by the one rule, or since it has passed through the body."""
    found = refusal(
        segment_marks[ShotMark.LAYERS, segment],
        segment_marks[ShotMark.OPTIONS, segment],
        segment_marks[ShotMark.OWNER, segment],
        segment_marks[ShotMark.TEAM, segment],
        shape_marks,
        shape,
    )
    if found == Refusal.NONE and shape_marks[ShapeMark.OWNER, shape] != 0:
        for passed in range(segment_marks[ShotMark.PASSED, segment]):
            if touched[passed, segment] == shape_marks[ShapeMark.BODY, shape]:
                return Refusal.TOUCHED_BEFORE
    return found


@kernel
def meet_time(
    segments: NDArray[np.float64],
    segment: int,
    shapes: NDArray[np.float64],
    shape: int,
    zero: float,
    begin: float,
    end: float,
    tick_seconds: float,
) -> float:
    """Seconds after its start at which the segment touches the shape, between `begin` and `end`; inf for never.

    `zero` is the segment's time at the start of the tick. A path whose acceleration is at most a leaves its
    chord over dt by at most a dt^2 / 8, so n chords of a duration leave it by 1 / n^2 of that. Most paths are
    rejected by one chord that is as much thicker.
    """
    duration = end - begin
    gravity, drag, radius = (
        segments[ShotColumn.GRAVITY, segment],
        segments[ShotColumn.DRAG, segment],
        segments[ShotColumn.RADIUS, segment],
    )
    ax = shapes[ShapeColumn.A, shape]
    ay = shapes[ShapeColumn.A + 1, shape]
    az = shapes[ShapeColumn.A + 2, shape]
    dx = (shapes[ShapeColumn.A_END, shape] - ax) / tick_seconds
    dy = (shapes[ShapeColumn.A_END + 1, shape] - ay) / tick_seconds
    dz = (shapes[ShapeColumn.A_END + 2, shape] - az) / tick_seconds
    vx, vy, vz = segments[ShotColumn.VX, segment], segments[ShotColumn.VY, segment], segments[ShotColumn.VZ, segment]
    if gravity == 0.0 and drag == 0.0:
        late = begin - zero
        fraction = touch_shape(
            segments[ShotColumn.X, segment] + vx * begin - ax - dx * late,
            segments[ShotColumn.Y, segment] + vy * begin - ay - dy * late,
            segments[ShotColumn.Z, segment] + vz * begin - az - dz * late,
            (vx - dx) * duration,
            (vy - dy) * duration,
            (vz - dz) * duration,
            radius,
            shapes,
            shape,
        )
        return begin + fraction * duration if fraction < MISS else inf
    size = radius + least_size(shapes, shape)
    pull = gravity + drag * sqrt(vx * vx + vy * vy + max(vz * vz, rise_at(vz, gravity, drag, end) ** 2))
    sag = pull * duration * duration / 8.0
    chords = int(min(ceil(sqrt(sag / (CHORD_TOLERANCE * size))), MOST_CHORDS)) if size > 0.0 else MOST_CHORDS
    chords = max(chords, 1)
    part = duration / chords
    x0, y0, z0 = segment_place(segments, segment, begin)
    if chords > 1:
        x1, y1, z1 = segment_place(segments, segment, end)
        if (
            touch_shape(
                x0 - ax - dx * (begin - zero),
                y0 - ay - dy * (begin - zero),
                z0 - az - dz * (begin - zero),
                x1 - x0 - dx * duration,
                y1 - y0 - dy * duration,
                z1 - z0 - dz * duration,
                radius + SAFELY * (sag + size * CHORD_TOLERANCE),
                shapes,
                shape,
            )
            == MISS
        ):
            return inf
    for chord in range(chords):
        t = begin + chord * part
        x1, y1, z1 = segment_place(segments, segment, t + part)
        late = t - zero
        fraction = touch_shape(
            x0 - ax - dx * late,
            y0 - ay - dy * late,
            z0 - az - dz * late,
            x1 - x0 - dx * part,
            y1 - y0 - dy * part,
            z1 - z0 - dz * part,
            radius,
            shapes,
            shape,
        )
        if fraction < MISS:
            return t + fraction * part
        x0, y0, z0 = x1, y1, z1
    return inf
