"""How bodies move by themselves: walking, following a path, lunging, falling, stopping at floors and walls."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.ground_walk import drop_along, walk
from emberwound.geometry.jit import kernel
from emberwound.geometry.knockback_flight import fly_knocked_back
from emberwound.geometry.layout import ArenaBound, BodyColumn, BodyMark, ModelColumn, Movement, PathMark, Presence
from emberwound.geometry.neighbours import nearest_foe
from emberwound.geometry.obstacles import carry, has_footing, within_bounds
from emberwound.geometry.shape import put

if TYPE_CHECKING:
    from numpy.typing import NDArray


MOST_POINTS = 64


@kernel
def _along_path(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    points: NDArray[np.float64],
    paths: NDArray[np.int64],
    length: float,
    climbs: float,
) -> tuple[float, float, float]:
    """Where a body comes to after `length` along its path, and which point it then goes to next.

    A closed path goes on from its last point to its first; any other is walked back and forth. `climbs` is 1 for what
    follows its heights, and 0 for what walks on the ground.
    """
    path = marks[BodyMark.PATH, body] - 1
    first, count = paths[PathMark.FIRST, path], paths[PathMark.COUNT, path]
    x, y, z = bodies[BodyColumn.START, body], bodies[BodyColumn.START + 1, body], bodies[BodyColumn.START + 2, body]
    for _ in range(MOST_POINTS):
        place = first + marks[BodyMark.PATH_NEXT, body]
        dx, dy, dz = points[place, 0] - x, points[place, 1] - y, (points[place, 2] - z) * climbs
        apart = sqrt(dx * dx + dy * dy + dz * dz)
        if apart > length:
            share = length / apart
            return x + dx * share, y + dy * share, z + dz * share
        length -= apart
        x, y, z = points[place, 0], points[place, 1], z + dz
        following = marks[BodyMark.PATH_NEXT, body] + marks[BodyMark.PATH_STEP, body]
        if following < 0 or following >= count:
            if paths[PathMark.CLOSED, path]:
                following = 0
            else:
                marks[BodyMark.PATH_STEP, body] = -marks[BodyMark.PATH_STEP, body]
                following = marks[BodyMark.PATH_NEXT, body] + marks[BodyMark.PATH_STEP, body]
        marks[BodyMark.PATH_NEXT, body] = following
    return x, y, z


@kernel
def _put(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    walls: NDArray[np.float64],
    feet: tuple[float, float, float],
    velocity: tuple[float, float, float],
    lands: bool,  # noqa: FBT001 (kernels take no keywords)
) -> None:
    """Write where a body ends the tick, within the bounds, and whether it stands."""
    x, y, z = feet
    vx, vy, vz = velocity
    x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
    if z > walls[ArenaBound.HIGH + 2]:
        z, vz = walls[ArenaBound.HIGH + 2], min(vz, 0.0)
    marks[BodyMark.GROUNDED, body] = 1 if lands else 0
    put(bodies, BodyColumn.END, body, (x, y, z))
    put(bodies, BodyColumn.VELOCITY, body, (vx, vy, vz))


@kernel
def _place_of(bodies: NDArray[np.float64], column: int, body: int) -> tuple[float, float, float]:
    return bodies[column, body], bodies[column + 1, body], bodies[column + 2, body]


@kernel
def _floor_of(walls: NDArray[np.float64]) -> float:
    floor: float = max(walls[ArenaBound.FLOOR], walls[ArenaBound.LOW + 2])
    return floor


@kernel
def _glide(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    move: tuple[float, float, float],
    radius: float,
    core: float,
    weightless: bool,  # noqa: FBT001 (kernels take no keywords)
) -> None:
    """Carry a body that feels no pull along `move`, sliding along what it meets, up and down too.

    What never feels any stands wherever it is; a lunge goes on when it is over.
    """
    feet, velocity = _place_of(bodies, BodyColumn.START, body), _place_of(bodies, BodyColumn.VELOCITY, body)
    falls = marks[BodyMark.GROUNDED, body] == 0
    x, y, z, vx, vy, vz, lands = carry(shapes, first_wall, feet, move, velocity, radius, core, 0.0)
    if z <= _floor_of(walls):
        z, lands = _floor_of(walls), True
    if weightless:
        lands, vz = True, max(vz, 0.0) if lands else vz
    elif not lands and not falls and vz <= 0.0:
        lands = has_footing(shapes, first_wall, (x, y, z), radius, core)
    if lands and not weightless:
        vz = max(vz, 0.0) if marks[BodyMark.LUNGES, body] else 0.0
    _put(bodies, marks, body, walls, (x, y, z), (vx, vy, vz), lands)


@kernel
def _walk_on(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    radius: float,
    core: float,
    step: float,
    gravity: float,
    dt: float,
) -> None:
    """Let a body walk on the ground for a tick; where that ends it falls from that moment on."""
    floor = _floor_of(walls)
    feet, (vx, vy, _) = _place_of(bodies, BodyColumn.START, body), _place_of(bodies, BodyColumn.VELOCITY, body)
    x, y, z, vx, vy, left = walk(shapes, first_wall, floor, feet, (vx * dt, vy * dt), (vx, vy), radius, core, step)
    vz, lands = 0.0, left == 0.0
    if not lands:
        falling = left * dt
        drop = (vx * falling, vy * falling, max(-0.5 * gravity * falling * falling, floor - z))
        speed = (vx, vy, -gravity * falling)
        x, y, z, vx, vy, vz, lands = drop_along(shapes, first_wall, (x, y, z), drop, speed, radius, core)
        if z <= floor:
            z, lands = floor, True
        if lands:
            vz = 0.0
    _put(bodies, marks, body, walls, (x, y, z), (vx, vy, vz), lands)


@kernel
def _fall(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    body: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    move: tuple[float, float, float],
    radius: float,
    core: float,
) -> None:
    """Let a body in the air move by `move`; nothing that it meets on its way over the ground lifts it."""
    feet, velocity = _place_of(bodies, BodyColumn.START, body), _place_of(bodies, BodyColumn.VELOCITY, body)
    x, y, z, vx, vy, vz, lands = drop_along(shapes, first_wall, feet, move, velocity, radius, core)
    if z <= _floor_of(walls):
        z, lands = _floor_of(walls), True
    if lands:
        vz = 0.0
    _put(bodies, marks, body, walls, (x, y, z), (vx, vy, vz), lands)


@kernel
def move_bodies(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    models: NDArray[np.float64],
    points: NDArray[np.float64],
    paths: NDArray[np.int64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    first_wall: int,
    end: int,
    tick_rate: int,
) -> tuple[int, int]:
    """Move every body before `end` that moves by itself by one tick; how many will in the next, and how many landed.

    A body that was knocked back moves as `geometry.knockback_flight` says. On the ground a body has
    the velocity it wishes for. In the air it keeps what it had unless it wishes for another. A lunge keeps its
    velocity and feels no pull. Falling is exact: v dt - g dt^2 / 2. Walls are boxes in the columns
    of `shapes` from `first_wall` on. What feels no pull follows its path in height too.
    """
    dt = 1.0 / tick_rate
    moving = landed = 0
    for body in range(end):
        if marks[BodyMark.MOVEMENT, body] != Movement.MOVING or marks[BodyMark.PRESENCE, body] == Presence.NONE:
            continue
        if marks[BodyMark.FROZEN_UNTIL, body]:
            moving += 1
            continue
        if marks[BodyMark.KNOCKBACK, body]:
            moving += fly_knocked_back(bodies, marks, body, models, shapes, walls, first_wall, dt)
            landed += marks[BodyMark.LANDED, body]
            continue
        model = marks[BodyMark.MODEL, body]
        radius = min(models[ModelColumn.RADIUS, model], 0.5 * models[ModelColumn.HEIGHT, model])
        core = models[ModelColumn.HEIGHT, model] - 2.0 * radius
        wx, wy = bodies[BodyColumn.WISH, body], bodies[BodyColumn.WISH + 1, body]
        grounded = marks[BodyMark.GROUNDED, body] == 1
        weightless = models[ModelColumn.GRAVITY, model] == 0.0
        dz = wz = 0.0
        if marks[BodyMark.LUNGES, body]:
            dz = bodies[BodyColumn.VELOCITY + 2, body] * dt
        else:
            if marks[BodyMark.PATH, body]:
                x, y, z = _along_path(
                    bodies,
                    marks,
                    body,
                    points,
                    paths,
                    models[ModelColumn.SPEED, model] * bodies[BodyColumn.PACE, body] * dt,
                    1.0 if weightless else 0.0,
                )
                wz = (z - bodies[BodyColumn.START + 2, body]) / dt
                wx, wy = (x - bodies[BodyColumn.START, body]) / dt, (y - bodies[BodyColumn.START + 1, body]) / dt
                speed = sqrt(wx * wx + wy * wy)
                if speed > 1e-9 * sqrt(wx * wx + wy * wy + wz * wz) and not marks[BodyMark.TURNS_TO_FOES, body]:
                    bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body] = wx / speed, wy / speed
            if grounded or wx != 0.0 or wy != 0.0:
                bodies[BodyColumn.VELOCITY, body], bodies[BodyColumn.VELOCITY + 1, body] = wx, wy
            if weightless:
                bodies[BodyColumn.VELOCITY + 2, body] = wz
                dz = wz * dt
            elif not grounded:
                pull = models[ModelColumn.GRAVITY, model]
                dz = (bodies[BodyColumn.VELOCITY + 2, body] - 0.5 * pull * dt) * dt
                bodies[BodyColumn.VELOCITY + 2, body] -= pull * dt
        move = (bodies[BodyColumn.VELOCITY, body] * dt, bodies[BodyColumn.VELOCITY + 1, body] * dt, dz)
        if weightless or marks[BodyMark.LUNGES, body]:
            _glide(bodies, marks, body, shapes, first_wall, walls, move, radius, core, weightless)
        elif grounded and bodies[BodyColumn.VELOCITY + 2, body] <= 0.0:
            step, gravity = models[ModelColumn.STEP, model], models[ModelColumn.GRAVITY, model]
            _walk_on(bodies, marks, body, shapes, first_wall, walls, radius, core, step, gravity, dt)
        else:
            _fall(bodies, marks, body, shapes, first_wall, walls, move, radius, core)
        still = (
            bodies[BodyColumn.VELOCITY, body] == 0.0
            and bodies[BodyColumn.VELOCITY + 1, body] == 0.0
            and (bodies[BodyColumn.VELOCITY + 2, body] == 0.0 or not weightless)
            and marks[BodyMark.GROUNDED, body] == 1
            and wx == 0.0
            and wy == 0.0
            and not marks[BodyMark.LUNGES, body]
        )
        if still:
            marks[BodyMark.MOVEMENT, body] = Movement.AT_REST
        else:
            moving += 1
    return moving, landed


@kernel
def turn_to_foes(bodies: NDArray[np.float64], marks: NDArray[np.int64], end: int, sideways: int) -> int:
    """Turn every live body before `end` that looks for foes to the nearest one; how many turned.

    Nearest on the ground, by the poses at the start of the tick; of equals the lowest column. `sideways` is 1 where
    bodies look along y too.
    """
    looking = 0
    for body in range(end):
        looking += marks[BodyMark.TURNS_TO_FOES, body]
    if looking == 0:
        return 0
    live = np.flatnonzero(marks[BodyMark.PRESENCE, :end] == Presence.LIVE)
    places = np.zeros((2, live.shape[0]))
    teams = np.empty(live.shape[0], np.int64)
    for index in range(live.shape[0]):
        places[0, index] = bodies[BodyColumn.START, live[index]]
        places[1, index] = bodies[BodyColumn.START + 1, live[index]] * sideways
        teams[index] = marks[BodyMark.TEAM, live[index]]
    order = np.argsort(places[0])
    turned = 0
    for rank in range(order.shape[0]):
        index = order[rank]
        body = live[index]
        if not marks[BodyMark.TURNS_TO_FOES, body]:
            continue
        foe, square = nearest_foe(places, teams, order, rank)
        if foe < 0:
            continue
        length = sqrt(square)
        ahead = (places[0, foe] - places[0, index]) / length
        aside = (places[1, foe] - places[1, index]) / length
        if bodies[BodyColumn.AHEAD, body] != ahead or bodies[BodyColumn.AHEAD + 1, body] != aside:
            bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body] = ahead, aside
            turned += 1
    return turned
