"""Knockback in motion: flight under drag, landing, bouncing and sliding, exact but for the walls it meets."""

from __future__ import annotations

from math import exp, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.flight import dragged_fall_time, fall_time, height_at, reach_of, rise_at
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, BodyColumn, BodyMark, Knockback, ModelColumn
from emberwound.geometry.obstacles import carry, has_footing, within, within_bounds
from emberwound.geometry.pose import put

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


MOST_PARTS = 16
"""Of a tick: each ends at a landing or a wall."""

SMALLEST_BOUNCE = 0.05
"""What would bounce up with less than the pull of so many seconds stays down."""


@kernel
def fly_knocked_back(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    models: NDArray[np.float64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    first_wall: int,
    dt: float,
) -> int:
    """Move a body that is knocked back through one tick; 1 while it goes on.

    In the air it flies as segments do, v(t) = v e^(-k t) - g s, and comes down at the exact time. On the ground it
    slides, losing `slide_deceleration` a second, until it rests. A landing keeps the share
    `restitution` of its speed, if that is enough to leave the ground again. What feels no pull slides wherever it is.
    """
    model = marks[BodyMark.MODEL, body]
    radius = min(models[ModelColumn.RADIUS, model], 0.5 * models[ModelColumn.HEIGHT, model])
    core = models[ModelColumn.HEIGHT, model] - 2.0 * radius
    gravity, drag = models[ModelColumn.GRAVITY, model], models[ModelColumn.DRAG, model]
    slide_deceleration, restitution = (
        models[ModelColumn.SLIDE_DECELERATION, model],
        models[ModelColumn.RESTITUTION, model],
    )
    floor = max(walls[ArenaBound.FLOOR], walls[ArenaBound.LOW + 2])
    f, v = BodyColumn.START, BodyColumn.VELOCITY
    x, y, z = bodies[f, body], bodies[f + 1, body], bodies[f + 2, body]
    vx, vy, vz = bodies[v, body], bodies[v + 1, body], bodies[v + 2, body]
    grounded = marks[BodyMark.GROUNDED, body] == 1 or gravity == 0.0
    left = dt
    for _ in range(MOST_PARTS):
        if left <= 0.0:
            break
        if grounded:
            speed = sqrt(vx * vx + vy * vy + vz * vz)
            if speed == 0.0:
                break
            t = min(left, speed / slide_deceleration)
            way = (speed - 0.5 * slide_deceleration * t) * t / speed
            slower = max(speed - slide_deceleration * t, 0.0) / speed if t < speed / slide_deceleration else 0.0
            x, y, z, vx, vy, vz, _lands = carry(
                shapes,
                first_wall,
                (x, y, z),
                (vx * way, vy * way, vz * way),
                (vx * slower, vy * slower, vz * slower),
                radius,
                core,
                restitution,
            )
            left -= t
            if gravity > 0.0:
                vz = 0.0
                if z > floor and not has_footing(shapes, first_wall, (x, y, z), radius, core):
                    grounded = False
            x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
            z, vz = within(z, vz, floor, walls[ArenaBound.HIGH + 2])
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
            restitution,
        )
        left -= t
        if down <= t and z <= floor + 1e-9 * (1.0 + abs(floor)):
            z, lands = floor, True
            vz = -restitution * vz
            if vz > SMALLEST_BOUNCE * gravity:
                vx, vy = vx * restitution, vy * restitution
        x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
        if z > walls[ArenaBound.HIGH + 2]:
            z, vz = walls[ArenaBound.HIGH + 2], min(vz, 0.0)
        z = max(z, floor)
        if lands:
            _note_landing(bodies, marks, body, dt - left, (x, y, z))
            if vz <= SMALLEST_BOUNCE * gravity:
                vz, grounded = 0.0, True
    put(bodies, BodyColumn.END, body, (x, y, z))
    put(bodies, BodyColumn.VELOCITY, body, (vx, vy, vz))
    marks[BodyMark.GROUNDED, body] = 1 if grounded else 0
    told = marks[BodyMark.KNOCKBACK, body] == Knockback.SETTLING and (
        bodies[BodyColumn.WISH, body] != 0.0
        or bodies[BodyColumn.WISH + 1, body] != 0.0
        or marks[BodyMark.PATH, body] != 0
    )
    if grounded and (told or (vx == 0.0 and vy == 0.0 and vz == 0.0)):
        marks[BodyMark.KNOCKBACK, body] = Knockback.NONE
    return 1


@kernel
def _note_landing(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    late: float,
    feet: tuple[float, float, float],
) -> None:
    """Keep the first landing of a tick: seconds into it, and where."""
    if not marks[BodyMark.LANDED, body]:
        marks[BodyMark.LANDED, body] = 1
        bodies[BodyColumn.LANDING, body] = late
        put(bodies, BodyColumn.LANDING + 1, body, feet)
