"""Legs of flight in arrays: where a flying sphere is, what ends its course, and when it meets a shape.

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
from emberwound.geometry.may_touch import refusal
from emberwound.geometry.sweep import MISS, touch_box, touch_capsule

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


CHORD_TOLERANCE = 1e-6
"""How far the chords that stand for a curved path may leave it, as a share of the sizes that meet."""

MOST_CHORDS = 4096


@kernel
def tick_zero(legs: NDArray[np.float64], leg: int, tick: int, tick_rate: int) -> float:
    """Seconds from the start of the leg to the start of the tick; negative when the leg starts within it."""
    seconds: float = (tick - legs[ShotColumn.TICK, leg]) / tick_rate - legs[ShotColumn.BEGIN, leg]
    return seconds


@kernel
def segment_place(legs: NDArray[np.float64], leg: int, t: float) -> tuple[float, float, float]:
    """Where the leg is t seconds after its start."""
    drag = legs[ShotColumn.DRAG, leg]
    s = reach_of(drag, t)
    return (
        legs[ShotColumn.X, leg] + legs[ShotColumn.VX, leg] * s,
        legs[ShotColumn.Y, leg] + legs[ShotColumn.VY, leg] * s,
        height_at(legs[ShotColumn.Z, leg], legs[ShotColumn.VZ, leg], legs[ShotColumn.GRAVITY, leg], drag, t),
    )


@kernel
def beyond_range(legs: NDArray[np.float64], leg: int, t: float) -> bool:
    """Whether the leg is further from its origin than its range, t seconds after its start."""
    x, y, z = segment_place(legs, leg, t)
    dx = x - legs[ShotColumn.ORIGIN, leg]
    dy = y - legs[ShotColumn.ORIGIN + 1, leg]
    dz = z - legs[ShotColumn.ORIGIN + 2, leg]
    most = legs[ShotColumn.RANGE, leg]
    beyond: bool = dx * dx + dy * dy + dz * dz > most * most
    return beyond


@kernel
def segment_limit(
    legs: NDArray[np.float64], leg: int, layers: int, walls: NDArray[np.float64], begin: float, end: float
) -> tuple[float, int]:
    """Seconds after its start at which the leg meets the floor, the bounds or its range, and which; `end`, 0 for none.

    Asked for the time from `begin` to `end`; the floor comes first of what is met at one instant.
    """
    z, vz = legs[ShotColumn.Z, leg], legs[ShotColumn.VZ, leg]
    gravity, drag = legs[ShotColumn.GRAVITY, leg], legs[ShotColumn.DRAG, leg]
    floor = walls[ArenaBound.FLOOR] + legs[ShotColumn.RADIUS, leg] if layers & Layer.WALL else -inf
    until = min(
        drift_time(
            legs[ShotColumn.X, leg], legs[ShotColumn.VX, leg], drag, walls[ArenaBound.LOW], walls[ArenaBound.HIGH], end
        ),
        drift_time(
            legs[ShotColumn.Y, leg],
            legs[ShotColumn.VY, leg],
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
    if legs[ShotColumn.RANGE, leg] > 0.0 and beyond_range(legs, leg, until):
        near, far = min(begin, until), until
        for _ in range(HALVINGS):
            middle = 0.5 * (near + far)
            if beyond_range(legs, leg, middle):
                far = middle
            else:
                near = middle
        until, what = far, Met.RANGE
    return until, what


@kernel
def may_not_touch(
    leg_marks: NDArray[np.int64],
    leg: int,
    shape_marks: NDArray[np.int64],
    shape: int,
    touched: NDArray[np.int64],
) -> int:
    """Why this leg leaves this shape alone, a Refusal: by the one rule, or since it has passed through the body."""
    found = refusal(
        leg_marks[ShotMark.LAYERS, leg],
        leg_marks[ShotMark.OPTIONS, leg],
        leg_marks[ShotMark.OWNER, leg],
        leg_marks[ShotMark.TEAM, leg],
        shape_marks,
        shape,
    )
    if found == Refusal.NONE and shape_marks[ShapeMark.OWNER, shape] != 0:
        for passed in range(leg_marks[ShotMark.PASSED, leg]):
            if touched[passed, leg] == shape_marks[ShapeMark.BODY, shape]:
                return Refusal.TOUCHED_BEFORE
    return found


@kernel
def touch_shape(
    ox: float,
    oy: float,
    oz: float,
    wx: float,
    wy: float,
    wz: float,
    radius: float,
    shapes: NDArray[np.float64],
    shape: int,
    is_box: int,
) -> float:
    """Fraction of the move w at which a sphere starting at o, both relative to the shape's A, touches it; or MISS."""
    if is_box:
        a = ShapeColumn.AXES
        return touch_box(
            ox * shapes[a, shape] + oy * shapes[a + 1, shape] + oz * shapes[a + 2, shape],
            ox * shapes[a + 3, shape] + oy * shapes[a + 4, shape] + oz * shapes[a + 5, shape],
            ox * shapes[a + 6, shape] + oy * shapes[a + 7, shape] + oz * shapes[a + 8, shape],
            wx * shapes[a, shape] + wy * shapes[a + 1, shape] + wz * shapes[a + 2, shape],
            wx * shapes[a + 3, shape] + wy * shapes[a + 4, shape] + wz * shapes[a + 5, shape],
            wx * shapes[a + 6, shape] + wy * shapes[a + 7, shape] + wz * shapes[a + 8, shape],
            shapes[ShapeColumn.B, shape],
            shapes[ShapeColumn.B + 1, shape],
            shapes[ShapeColumn.B + 2, shape],
            radius,
        )
    return touch_capsule(
        ox,
        oy,
        oz,
        wx,
        wy,
        wz,
        shapes[ShapeColumn.B, shape] - shapes[ShapeColumn.A, shape],
        shapes[ShapeColumn.B + 1, shape] - shapes[ShapeColumn.A + 1, shape],
        shapes[ShapeColumn.B + 2, shape] - shapes[ShapeColumn.A + 2, shape],
        radius + shapes[ShapeColumn.RADIUS, shape],
    )


@kernel
def meet_time(
    legs: NDArray[np.float64],
    leg: int,
    shapes: NDArray[np.float64],
    shape: int,
    is_box: int,
    zero: float,
    begin: float,
    end: float,
    tick_seconds: float,
) -> float:
    """Seconds after its start at which the leg touches the shape, between `begin` and `end`; inf for never.

    `zero` is the leg's time at the start of the tick. A path whose acceleration is at most a leaves its chord over dt
    by at most a dt^2 / 8, so n chords of a span leave it by 1 / n^2 of that.
    """
    span = end - begin
    gravity, drag, radius = legs[ShotColumn.GRAVITY, leg], legs[ShotColumn.DRAG, leg], legs[ShotColumn.RADIUS, leg]
    ax = shapes[ShapeColumn.A, shape]
    ay = shapes[ShapeColumn.A + 1, shape]
    az = shapes[ShapeColumn.A + 2, shape]
    dx = (shapes[ShapeColumn.A_END, shape] - ax) / tick_seconds
    dy = (shapes[ShapeColumn.A_END + 1, shape] - ay) / tick_seconds
    dz = (shapes[ShapeColumn.A_END + 2, shape] - az) / tick_seconds
    vx, vy, vz = legs[ShotColumn.VX, leg], legs[ShotColumn.VY, leg], legs[ShotColumn.VZ, leg]
    if gravity == 0.0 and drag == 0.0:
        late = begin - zero
        fraction = touch_shape(
            legs[ShotColumn.X, leg] + vx * begin - ax - dx * late,
            legs[ShotColumn.Y, leg] + vy * begin - ay - dy * late,
            legs[ShotColumn.Z, leg] + vz * begin - az - dz * late,
            (vx - dx) * span,
            (vy - dy) * span,
            (vz - dz) * span,
            radius,
            shapes,
            shape,
            is_box,
        )
        return begin + fraction * span if fraction < MISS else inf
    size = radius + shapes[ShapeColumn.RADIUS, shape]
    if is_box:
        size += (
            shapes[ShapeColumn.B, shape] + shapes[ShapeColumn.B + 1, shape] + shapes[ShapeColumn.B + 2, shape]
        ) / 3.0
    pull = gravity + drag * sqrt(vx * vx + vy * vy + max(vz * vz, rise_at(vz, gravity, drag, end) ** 2))
    sag = pull * span * span / 8.0
    chords = int(min(ceil(sqrt(sag / (CHORD_TOLERANCE * size))), MOST_CHORDS)) if size > 0.0 else MOST_CHORDS
    chords = max(chords, 1)
    part = span / chords
    x0, y0, z0 = segment_place(legs, leg, begin)
    for chord in range(chords):
        t = begin + chord * part
        x1, y1, z1 = segment_place(legs, leg, t + part)
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
            is_box,
        )
        if fraction < MISS:
            return t + fraction * part
        x0, y0, z0 = x1, y1, z1
    return inf
