"""How thrown frames move: flight under drag, landing, bouncing and sliding, exact but for the walls they meet."""

from __future__ import annotations

from math import exp, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.flight import dragged_fall_time, fall_time, height_at, reach_of, rise_at
from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import WALL_FLOOR, WALL_HIGH, WALL_LOW
from emberwound.geometry.obstacles import carry, has_footing, within, within_bounds
from emberwound.geometry.pose import (
    FRAME_END,
    FRAME_GROUNDED,
    FRAME_LANDED,
    FRAME_LANDING,
    FRAME_MODEL,
    FRAME_PATH,
    FRAME_START,
    FRAME_THROWN,
    FRAME_VELOCITY,
    FRAME_WISH,
    put,
)

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

MODEL_RADIUS, MODEL_HEIGHT, MODEL_GRAVITY, MODEL_SPEED, MODEL_DRAG, MODEL_SLOWING, MODEL_KEEP, MODEL_WEIGHT = range(8)
MODEL_ROWS = 8

SETTLING = 2
"""What `FRAME_THROWN` says of a frame that walks again when it is told to and its feet are on the ground."""

MOST_PARTS = 16
"""Of a tick: each ends at a landing or a wall."""

SMALLEST_BOUNCE = 0.05
"""What would bounce up with less than the pull of so many seconds stays down."""


@kernel
def throw_frame(
    frames: NDArray[np.float64],
    marks: NDArray[np.int64],
    frame: int,
    models: NDArray[np.float64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    first_wall: int,
    dt: float,
) -> int:
    """Move a thrown frame through one tick; 1 while it goes on.

    In the air it flies as legs do, v(t) = v e^(-k t) - g s, and comes down at the exact time; on the ground it slides,
    losing `slowing` a second, until it rests. A landing keeps `keep` of its speed, if that is enough to leave the
    ground again. What feels no pull slides wherever it is.
    """
    model = marks[FRAME_MODEL, frame]
    radius = min(models[MODEL_RADIUS, model], 0.5 * models[MODEL_HEIGHT, model])
    core = models[MODEL_HEIGHT, model] - 2.0 * radius
    gravity, drag = models[MODEL_GRAVITY, model], models[MODEL_DRAG, model]
    slowing, keep = models[MODEL_SLOWING, model], models[MODEL_KEEP, model]
    floor = max(walls[WALL_FLOOR], walls[WALL_LOW + 2])
    f, v = FRAME_START, FRAME_VELOCITY
    x, y, z = frames[f, frame], frames[f + 1, frame], frames[f + 2, frame]
    vx, vy, vz = frames[v, frame], frames[v + 1, frame], frames[v + 2, frame]
    grounded = marks[FRAME_GROUNDED, frame] == 1 or gravity == 0.0
    left = dt
    for _ in range(MOST_PARTS):
        if left <= 0.0:
            break
        if grounded:
            speed = sqrt(vx * vx + vy * vy + vz * vz)
            if speed == 0.0:
                break
            t = min(left, speed / slowing)
            way = (speed - 0.5 * slowing * t) * t / speed
            slower = max(speed - slowing * t, 0.0) / speed if t < speed / slowing else 0.0
            x, y, z, vx, vy, vz, _lands = carry(
                shapes,
                first_wall,
                (x, y, z),
                (vx * way, vy * way, vz * way),
                (vx * slower, vy * slower, vz * slower),
                radius,
                core,
                keep,
            )
            left -= t
            if gravity > 0.0:
                vz = 0.0
                if z > floor and not has_footing(shapes, first_wall, (x, y, z), radius, core):
                    grounded = False
            x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
            z, vz = within(z, vz, floor, walls[WALL_HIGH + 2])
            continue
        free = drag == 0.0
        down = fall_time(z, vz, gravity, floor) if free else dragged_fall_time(z, vz, gravity, drag, floor, left)
        t = min(left, down)
        s, fade = reach_of(drag, t), exp(-drag * t)
        move = (vx * s, vy * s, height_at(z, vz, gravity, drag, t) - z)
        x, y, z, vx, vy, vz, lands = carry(
            shapes,
            first_wall,
            (x, y, z),
            move,
            (vx * fade, vy * fade, rise_at(vz, gravity, drag, t)),
            radius,
            core,
            keep,
        )
        left -= t
        if down <= t and z <= floor + 1e-9 * (1.0 + abs(floor)):
            z, lands = floor, True
            vz = -keep * vz
            if vz > SMALLEST_BOUNCE * gravity:
                vx, vy = vx * keep, vy * keep
        x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
        if z > walls[WALL_HIGH + 2]:
            z, vz = walls[WALL_HIGH + 2], min(vz, 0.0)
        z = max(z, floor)
        if lands:
            _note_landing(frames, marks, frame, dt - left, (x, y, z))
            if vz <= SMALLEST_BOUNCE * gravity:
                vz, grounded = 0.0, True
    put(frames, FRAME_END, frame, (x, y, z))
    put(frames, FRAME_VELOCITY, frame, (vx, vy, vz))
    marks[FRAME_GROUNDED, frame] = 1 if grounded else 0
    told = marks[FRAME_THROWN, frame] == SETTLING and (
        frames[FRAME_WISH, frame] != 0.0 or frames[FRAME_WISH + 1, frame] != 0.0 or marks[FRAME_PATH, frame] != 0
    )
    if grounded and (told or (vx == 0.0 and vy == 0.0 and vz == 0.0)):
        marks[FRAME_THROWN, frame] = 0
    return 1


@kernel
def _note_landing(
    frames: NDArray[np.float64],
    marks: NDArray[np.int64],
    frame: int,
    late: float,
    feet: tuple[float, float, float],
) -> None:
    """Keep the first landing of a tick: seconds into it, and where."""
    if not marks[FRAME_LANDED, frame]:
        marks[FRAME_LANDED, frame] = 1
        frames[FRAME_LANDING, frame] = late
        put(frames, FRAME_LANDING + 1, frame, feet)
