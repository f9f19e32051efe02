"""Knockback in motion: flight under drag, landing, bouncing and sliding, exact but for the walls it meets."""

from __future__ import annotations

from math import exp, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.flight import dragged_fall_time, fall_time, height_at, reach_of, rise_at
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, BodyColumn, BodyMark, Knockback, ModelColumn
from emberwound.geometry.obstacles import (
    STEEP,
    carry,
    first_wall,
    footing_share,
    rests,
    wall_normal,
    within_bounds,
)
from emberwound.geometry.shape import put

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


MOST_PARTS = 64
"""Of a tick: each ends at a landing, a wall or a ledge, or comes nearer to a wall."""

SMALLEST_BOUNCE = 0.05
"""What would bounce with less than the pull of so many seconds stays where it is."""

FINEST = 0.0005
"""Seconds of flight that count as straight where a wall is near; g t^2 / 8 off at most."""

STUCK = 1e-9
"""A share of the radius: who comes no further in the air lies between two edges, and on both."""

State = tuple[float, float, float, float, float, float]


@kernel
def fly_knocked_back(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    models: NDArray[np.float64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    begin: int,
    dt: float,
) -> int:
    """Move a body that is knocked back through one tick, and its head start before it; 1 while it goes on.

    In the air it flies as segments do, v(t) = v e^(-k t) - g s, and comes down at the exact time. On the ground it
    slides, losing `slide_deceleration` a second, until it rests, or falls from the moment on which the ground ends. A
    landing keeps the share `restitution` of its speed, if that is enough to leave the ground again; a wall that of the
    speed into it. What feels no pull slides wherever it is.
    """
    model = marks[BodyMark.MODEL, body]
    gravity = models[ModelColumn.GRAVITY, model]
    floor = max(walls[ArenaBound.FLOOR], walls[ArenaBound.LOW + 2])
    f, v = BodyColumn.START, BodyColumn.VELOCITY
    x, y, z = bodies[f, body], bodies[f + 1, body], bodies[f + 2, body]
    vx, vy, vz = bodies[v, body], bodies[v + 1, body], bodies[v + 2, body]
    grounded = marks[BodyMark.GROUNDED, body] == 1 or gravity == 0.0
    left = dt + bodies[BodyColumn.HEAD_START, body]
    if left > dt:
        h = BodyColumn.HEAD_START
        x, y, z = bodies[h + 1, body], bodies[h + 2, body], bodies[h + 3, body]
        bodies[h, body] = 0.0
        put(bodies, h + 1, body, (0.0, 0.0, 0.0))
    for _ in range(MOST_PARTS):
        if left <= 0.0 or (grounded and vx == 0.0 and vy == 0.0 and vz == 0.0):
            break
        state = (x, y, z, vx, vy, vz)
        if grounded:
            (x, y, z, vx, vy, vz), took, grounded = _slide(models, model, shapes, begin, floor, state, left)
            lands = False
        else:
            (x, y, z, vx, vy, vz), took, lands = _fly(models, model, shapes, begin, floor, state, left)
        left -= took
        x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
        if z > walls[ArenaBound.HIGH + 2]:
            z, vz = walls[ArenaBound.HIGH + 2], min(vz, 0.0)
        if z < floor:
            z, vz = floor, max(vz, 0.0)
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
def _size_of(models: NDArray[np.float64], model: int) -> tuple[float, float]:
    """The radius and the core of a body's upright capsule."""
    radius = min(models[ModelColumn.RADIUS, model], 0.5 * models[ModelColumn.HEIGHT, model])
    return radius, models[ModelColumn.HEIGHT, model] - 2.0 * radius


@kernel
def _slide(
    models: NDArray[np.float64],
    model: int,
    shapes: NDArray[np.float64],
    begin: int,
    floor: float,
    state: State,
    left: float,
) -> tuple[State, float, bool]:
    """Slide on the ground up to a wall that throws back, a ledge, rest or the end of the tick.

    The place and the velocity then, the seconds that took, and whether it still has ground under it.
    """
    x, y, z, vx, vy, vz = state
    radius, core = _size_of(models, model)
    slowing, restitution = models[ModelColumn.SLIDE_DECELERATION, model], models[ModelColumn.RESTITUTION, model]
    gravity = models[ModelColumn.GRAVITY, model]
    speed = sqrt(vx * vx + vy * vy + vz * vz)
    t = min(left, speed / slowing)
    way = (speed - 0.5 * slowing * t) * t
    move = (vx / speed * way, vy / speed * way, vz / speed * way)
    fraction, wall = first_wall(shapes, begin, (x, y, z), move, radius, core)
    if wall >= 0 and restitution > 0.0:
        met = _slide_time(speed, slowing, fraction * way)
        slower = max(speed - slowing * met, 0.0) / speed
        place = (x + move[0] * fraction, y + move[1] * fraction, z + move[2] * fraction)
        back, bounces, _ = _thrown_back(
            shapes, wall, place, (vx * slower, vy * slower, vz * slower), radius, core, restitution, gravity
        )
        if bounces:
            return (place[0], place[1], place[2], back[0], back[1], back[2]), met, True
    slower = max(speed - slowing * t, 0.0) / speed if t < speed / slowing else 0.0
    ex, ey, ez, ax, ay, az, _lands = carry(
        shapes, begin, (x, y, z), move, (vx * slower, vy * slower, vz * slower), radius, core, 0.0
    )
    if gravity == 0.0:
        return (ex, ey, ez, ax, ay, az), t, True
    if ez <= floor or rests(shapes, begin, (ex, ey, ez), radius, core):
        return (ex, ey, ez, ax, ay, 0.0), t, True
    if wall >= 0 or not rests(shapes, begin, (x, y, z), radius, core):
        return (ex, ey, ez, ax, ay, 0.0), t, False
    share = footing_share(shapes, begin, (x, y, z), move, radius, core)
    met = _slide_time(speed, slowing, share * way)
    slower = max(speed - slowing * met, 0.0) / speed
    return (x + move[0] * share, y + move[1] * share, z + move[2] * share, vx * slower, vy * slower, 0.0), met, False


@kernel
def _slide_time(speed: float, slowing: float, way: float) -> float:
    """After how many seconds a slide has come so far: v t - a t^2 / 2 = s."""
    return (speed - sqrt(max(speed * speed - 2.0 * slowing * way, 0.0))) / slowing


@kernel
def _fly(
    models: NDArray[np.float64],
    model: int,
    shapes: NDArray[np.float64],
    begin: int,
    floor: float,
    state: State,
    left: float,
) -> tuple[State, float, bool]:
    """Fly up to a landing, a wall that throws back, or the end of the tick, or come half the way nearer to a wall.

    The place and the velocity then, the seconds that took, and whether it lands.
    """
    x, y, z, vx, vy, vz = state
    radius, core = _size_of(models, model)
    gravity, drag = models[ModelColumn.GRAVITY, model], models[ModelColumn.DRAG, model]
    restitution = models[ModelColumn.RESTITUTION, model]
    down = fall_time(z, vz, gravity, floor) if drag == 0.0 else dragged_fall_time(z, vz, gravity, drag, floor, left)
    t = min(left, down)
    if restitution > 0.0:
        move = _flight(state, gravity, drag, t)
        fraction, wall = first_wall(shapes, begin, (x, y, z), move, radius, core)
        while wall >= 0 and t > FINEST:
            t *= 0.5
            move = _flight(state, gravity, drag, t)
            fraction, wall = first_wall(shapes, begin, (x, y, z), move, radius, core)
        if wall < 0 and t < min(left, down):
            fade = exp(-drag * t)
            after = (x + move[0], y + move[1], z + move[2], vx * fade, vy * fade, rise_at(vz, gravity, drag, t))
            return after, t, False
        if wall >= 0:
            met = t * fraction
            fade = exp(-drag * met)
            place = (x + move[0] * fraction, y + move[1] * fraction, z + move[2] * fraction)
            speed = (vx * fade, vy * fade, rise_at(vz, gravity, drag, met))
            back, bounces, upward = _thrown_back(shapes, wall, place, speed, radius, core, restitution, gravity)
            if bounces:
                return (place[0], place[1], place[2], back[0], back[1], back[2]), met, upward
            t = min(left, down)
    fade = exp(-drag * t)
    ex, ey, ez, ax, ay, az, lands = carry(
        shapes,
        begin,
        (x, y, z),
        _flight(state, gravity, drag, t),
        (vx * fade, vy * fade, rise_at(vz, gravity, drag, t)),
        radius,
        core,
        0.0,
    )
    if down <= t and ez <= floor + 1e-9 * (1.0 + abs(floor)):
        ez, lands, az = floor, True, -restitution * az
        if az > SMALLEST_BOUNCE * gravity:
            ax, ay = ax * restitution, ay * restitution
    elif lands:
        stuck = abs(ex - x) + abs(ey - y) + abs(ez - z) <= STUCK * radius
        lands = stuck or rests(shapes, begin, (ex, ey, ez), radius, core)
    return (ex, ey, ez, ax, ay, az), t, lands


@kernel
def _flight(state: State, gravity: float, drag: float, t: float) -> tuple[float, float, float]:
    """How far a flight goes in so many seconds."""
    s = reach_of(drag, t)
    return state[3] * s, state[4] * s, height_at(state[2], state[5], gravity, drag, t) - state[2]


@kernel
def _thrown_back(
    shapes: NDArray[np.float64],
    wall: int,
    place: tuple[float, float, float],
    velocity: tuple[float, float, float],
    radius: float,
    core: float,
    restitution: float,
    gravity: float,
) -> tuple[tuple[float, float, float], bool, bool]:
    """The velocity with which a wall throws a body back, whether that is enough to leave it, and if it carries it."""
    nx, ny, nz = wall_normal(shapes, wall, place, radius, core)
    into = velocity[0] * nx + velocity[1] * ny + velocity[2] * nz
    bounces = into < 0.0 and -into * restitution > SMALLEST_BOUNCE * gravity
    more = into * (1.0 + restitution)
    return (velocity[0] - more * nx, velocity[1] - more * ny, velocity[2] - more * nz), bounces, nz > STEEP


@kernel
def _note_landing(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    late: float,
    feet: tuple[float, float, float],
) -> None:
    """Keep the first landing of a tick: seconds into it, below 0 within the head start, and where."""
    if not marks[BodyMark.LANDED, body]:
        marks[BodyMark.LANDED, body] = 1
        bodies[BodyColumn.LANDING, body] = late
        put(bodies, BodyColumn.LANDING + 1, body, feet)
