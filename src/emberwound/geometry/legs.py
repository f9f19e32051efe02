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
from emberwound.geometry.sweep import MISS, touch_box, touch_capsule

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

(
    LEG_X,
    LEG_Y,
    LEG_Z,
    LEG_VX,
    LEG_VY,
    LEG_VZ,
    LEG_GRAVITY,
    LEG_RADIUS,
    LEG_DRAG,
    LEG_TICK,
    LEG_BEGIN,
    LEG_ORIGIN,
) = range(12)
LEG_RANGE = LEG_ORIGIN + 3
LEG_ROWS = LEG_RANGE + 1
"""`LEG_TICK` and `LEG_BEGIN` say when the leg starts: in which tick, and seconds into it. A range of 0 is none."""

MARK_ID, MARK_OWNER, MARK_TEAM, MARK_LAYERS, MARK_OPTIONS, MARK_PASSED = range(6)
LEG_MARKS = 6
MAY_TOUCH_OWNER, MAY_TOUCH_TEAM = 1, 2
WALL_LAYER = 1 << 62
"""The layer of walls and of the floor; legs without it pass through both."""

SHAPE_A, SHAPE_B, SHAPE_A_END, SHAPE_B_END, SHAPE_RADIUS, SHAPE_AXES, SHAPE_LOW, SHAPE_HIGH = 0, 3, 6, 9, 12, 13, 22, 25
SHAPE_ROWS = 28
SHAPE_OWNER, SHAPE_RANK, SHAPE_TEAM, SHAPE_LAYER, SHAPE_BODY, SHAPE_IS_BOX = range(6)
SHAPE_MARKS = 6
"""A capsule has its ends in A and B at the start of the tick and in A_END and B_END at its end; a box its centre in A
and A_END, its half sizes in B and its axes in AXES. LOW and HIGH bound all of it through the tick."""

WALL_FLOOR, WALL_LOW, WALL_HIGH = 0, 1, 4
WALL_ROWS = 7

PROTECTED_LAYER = 1 << 61
"""The layer of the shapes of whom nothing may hurt just now, whatever layers they are on otherwise."""

MET_SHAPE, MET_FLOOR, MET_BOUNDS, MET_RANGE = 1, 2, 3, 4

CHORD_TOLERANCE = 1e-6
"""How far the chords that stand for a curved path may leave it, as a share of the sizes that meet."""

MOST_CHORDS = 4096


@kernel
def tick_zero(legs: NDArray[np.float64], leg: int, tick: int, tick_rate: int) -> float:
    """Seconds from the start of the leg to the start of the tick; negative when the leg starts within it."""
    seconds: float = (tick - legs[LEG_TICK, leg]) / tick_rate - legs[LEG_BEGIN, leg]
    return seconds


@kernel
def leg_place(legs: NDArray[np.float64], leg: int, t: float) -> tuple[float, float, float]:
    """Where the leg is t seconds after its start."""
    drag = legs[LEG_DRAG, leg]
    s = reach_of(drag, t)
    return (
        legs[LEG_X, leg] + legs[LEG_VX, leg] * s,
        legs[LEG_Y, leg] + legs[LEG_VY, leg] * s,
        height_at(legs[LEG_Z, leg], legs[LEG_VZ, leg], legs[LEG_GRAVITY, leg], drag, t),
    )


@kernel
def beyond_range(legs: NDArray[np.float64], leg: int, t: float) -> bool:
    """Whether the leg is further from its origin than its range, t seconds after its start."""
    x, y, z = leg_place(legs, leg, t)
    dx = x - legs[LEG_ORIGIN, leg]
    dy = y - legs[LEG_ORIGIN + 1, leg]
    dz = z - legs[LEG_ORIGIN + 2, leg]
    most = legs[LEG_RANGE, leg]
    beyond: bool = dx * dx + dy * dy + dz * dz > most * most
    return beyond


@kernel
def leg_limit(
    legs: NDArray[np.float64], leg: int, layers: int, walls: NDArray[np.float64], begin: float, end: float
) -> tuple[float, int]:
    """Seconds after its start at which the leg meets the floor, the bounds or its range, and which; `end`, 0 for none.

    Asked for the time from `begin` to `end`; the floor comes first of what is met at one instant.
    """
    z, vz = legs[LEG_Z, leg], legs[LEG_VZ, leg]
    gravity, drag = legs[LEG_GRAVITY, leg], legs[LEG_DRAG, leg]
    floor = walls[WALL_FLOOR] + legs[LEG_RADIUS, leg] if layers & WALL_LAYER else -inf
    until = min(
        drift_time(legs[LEG_X, leg], legs[LEG_VX, leg], drag, walls[WALL_LOW], walls[WALL_HIGH], end),
        drift_time(legs[LEG_Y, leg], legs[LEG_VY, leg], drag, walls[WALL_LOW + 1], walls[WALL_HIGH + 1], end),
    )
    if drag == 0.0:
        until = min(until, climb_time(z, vz, gravity, walls[WALL_HIGH + 2]))
        until = min(until, fall_time(z, vz, gravity, walls[WALL_LOW + 2]))
        down = fall_time(z, vz, gravity, floor)
    else:
        until = min(until, dragged_climb_time(z, vz, gravity, drag, walls[WALL_HIGH + 2], end))
        until = min(until, dragged_fall_time(z, vz, gravity, drag, walls[WALL_LOW + 2], end))
        down = dragged_fall_time(z, vz, gravity, drag, floor, end)
    what = MET_BOUNDS
    if until > end:
        until, what = end, 0
    if down <= until:
        until, what = down, MET_FLOOR
    if legs[LEG_RANGE, leg] > 0.0 and beyond_range(legs, leg, until):
        near, far = min(begin, until), until
        for _ in range(HALVINGS):
            middle = 0.5 * (near + far)
            if beyond_range(legs, leg, middle):
                far = middle
            else:
                near = middle
        until, what = far, MET_RANGE
    return until, what


@kernel
def barred(
    leg_marks: NDArray[np.int64],
    leg: int,
    shape_marks: NDArray[np.int64],
    shape: int,
    touched: NDArray[np.int64],
) -> bool:
    """Whether this leg may not touch this shape: its owner's, its team's, or a body it has already passed through."""
    owner = shape_marks[SHAPE_OWNER, shape]
    if owner == 0:
        return False
    options = leg_marks[MARK_OPTIONS, leg]
    if owner == leg_marks[MARK_OWNER, leg]:
        if not options & MAY_TOUCH_OWNER:
            return True
    elif shape_marks[SHAPE_TEAM, shape] == leg_marks[MARK_TEAM, leg] and not options & MAY_TOUCH_TEAM:
        return True
    for passed in range(leg_marks[MARK_PASSED, leg]):  # noqa: SIM110 (kernels know no generators)
        if touched[passed, leg] == shape_marks[SHAPE_BODY, shape]:
            return True
    return False


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
        a = SHAPE_AXES
        return touch_box(
            ox * shapes[a, shape] + oy * shapes[a + 1, shape] + oz * shapes[a + 2, shape],
            ox * shapes[a + 3, shape] + oy * shapes[a + 4, shape] + oz * shapes[a + 5, shape],
            ox * shapes[a + 6, shape] + oy * shapes[a + 7, shape] + oz * shapes[a + 8, shape],
            wx * shapes[a, shape] + wy * shapes[a + 1, shape] + wz * shapes[a + 2, shape],
            wx * shapes[a + 3, shape] + wy * shapes[a + 4, shape] + wz * shapes[a + 5, shape],
            wx * shapes[a + 6, shape] + wy * shapes[a + 7, shape] + wz * shapes[a + 8, shape],
            shapes[SHAPE_B, shape],
            shapes[SHAPE_B + 1, shape],
            shapes[SHAPE_B + 2, shape],
            radius,
        )
    return touch_capsule(
        ox,
        oy,
        oz,
        wx,
        wy,
        wz,
        shapes[SHAPE_B, shape] - shapes[SHAPE_A, shape],
        shapes[SHAPE_B + 1, shape] - shapes[SHAPE_A + 1, shape],
        shapes[SHAPE_B + 2, shape] - shapes[SHAPE_A + 2, shape],
        radius + shapes[SHAPE_RADIUS, shape],
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
    gravity, drag, radius = legs[LEG_GRAVITY, leg], legs[LEG_DRAG, leg], legs[LEG_RADIUS, leg]
    ax = shapes[SHAPE_A, shape]
    ay = shapes[SHAPE_A + 1, shape]
    az = shapes[SHAPE_A + 2, shape]
    dx = (shapes[SHAPE_A_END, shape] - ax) / tick_seconds
    dy = (shapes[SHAPE_A_END + 1, shape] - ay) / tick_seconds
    dz = (shapes[SHAPE_A_END + 2, shape] - az) / tick_seconds
    vx, vy, vz = legs[LEG_VX, leg], legs[LEG_VY, leg], legs[LEG_VZ, leg]
    if gravity == 0.0 and drag == 0.0:
        late = begin - zero
        fraction = touch_shape(
            legs[LEG_X, leg] + vx * begin - ax - dx * late,
            legs[LEG_Y, leg] + vy * begin - ay - dy * late,
            legs[LEG_Z, leg] + vz * begin - az - dz * late,
            (vx - dx) * span,
            (vy - dy) * span,
            (vz - dz) * span,
            radius,
            shapes,
            shape,
            is_box,
        )
        return begin + fraction * span if fraction < MISS else inf
    size = radius + shapes[SHAPE_RADIUS, shape]
    if is_box:
        size += (shapes[SHAPE_B, shape] + shapes[SHAPE_B + 1, shape] + shapes[SHAPE_B + 2, shape]) / 3.0
    pull = gravity + drag * sqrt(vx * vx + vy * vy + max(vz * vz, rise_at(vz, gravity, drag, end) ** 2))
    sag = pull * span * span / 8.0
    chords = int(min(ceil(sqrt(sag / (CHORD_TOLERANCE * size))), MOST_CHORDS)) if size > 0.0 else MOST_CHORDS
    chords = max(chords, 1)
    part = span / chords
    x0, y0, z0 = leg_place(legs, leg, begin)
    for chord in range(chords):
        t = begin + chord * part
        x1, y1, z1 = leg_place(legs, leg, t + part)
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
