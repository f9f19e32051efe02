"""Ragdolls: points joined by links that fall, slide and come to rest, and never gain energy."""

from __future__ import annotations

from math import ceil, exp, inf, sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    ArenaBound,
    BodyColumn,
    BodyMark,
    ModelColumn,
    PointColumn,
    RagdollColumn,
    RagdollMark,
    RagdollState,
    ShapeColumn,
)
from emberwound.geometry.shape import skin_normal

if TYPE_CHECKING:
    from numpy.typing import NDArray


ROUNDS = 12
"""How often the links are put right in a step."""

MOST_STEPS = 400
TOP = 2
"""The axis that a plane seen from above does not have: all in it lies on the ground."""

HOOKED = 1.05
"""How many times its length a link must be, to be let go of a wall that stands between its ends."""

STRIDE = 0.5
"""Of its radius: what a point moves in a step at most, if the steps suffice."""

BEHIND = 0.01
"""Of the gap: how far behind the end that is kept the other is put."""

MOST_LOOKS = 1000.0
MOST_STRIDES = 2000.0

SETTLING = 1.0
"""Share of its velocity that a ragdoll loses a second in itself."""

LEAN = 0.02
"""Of the pull: what tips a body that touches something over, so that none stays upright as if it stood."""

STILL = 0.01
"""Under this speed, as a share of what the pull or its slide_deceleration gives in a second, a body may lie still."""


@kernel
def step_ragdoll(
    points: NDArray[np.float64],
    first: int,
    count: int,
    links: NDArray[np.int64],
    lengths: NDArray[np.float64],
    radius: float,
    stretch: float,
    slide_deceleration: float,
    gravity: float,
    lean: tuple[float, float],
    flat: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    dt: float,
) -> int:
    """Move the points in the columns first .. first + count of `points` (6, n) through a tick; 1 when any is fast.

    `links` (2, m) joins them, counted from `first`, at `lengths` (m,) that may differ by `stretch` of them. Steps are
    so short that no point goes far in one. In each: the pull, a straight move, the links put right, then floor, walls
    and bounds; the velocity is what came of it, slowed where it touches. Where that holds more energy than before, it
    is scaled down to as much. `lean` is the way on the ground in which every other point tips, those between the other
    way. `flat` is the axis that the plane does not have, or -1.
    """
    fastest = 0.0
    for point in range(first, first + count):
        square = 0.0
        for axis in range(3):
            square += points[PointColumn.VELOCITY + axis, point] ** 2
        fastest = max(fastest, sqrt(square))
    wanted = max(ceil((fastest + gravity * dt) * dt / (STRIDE * radius)), ceil(dt * 240.0))
    steps = int(min(wanted, MOST_STEPS))
    h = dt / steps
    old = np.empty((3, count))
    touching = np.zeros(count, np.int64)
    tips = 0.0
    for _ in range(steps):
        before = _energy(points, first, count, gravity)
        for k in range(count):
            point, side = first + k, tips if k % 2 else -tips
            points[PointColumn.VELOCITY, point] += side * lean[0] * h
            points[PointColumn.VELOCITY + 1, point] += side * lean[1] * h
            points[PointColumn.VELOCITY + 2, point] -= gravity * h
            for axis in range(3):
                old[axis, k] = points[axis, point]
                points[axis, point] += points[PointColumn.VELOCITY + axis, point] * h
            _sweep_out(points, point, old, k, radius, shapes, first_wall, walls)
            touching[k] = 1 if flat == TOP else 0
        for _ in range(ROUNDS):
            _put_links_right(points, first, links, lengths, stretch)
            for k in range(count):
                touching[k] |= _keep_out(points, first + k, radius, shapes, first_wall, walls)
        for k in range(count):
            point = first + k
            for axis in range(3):
                points[PointColumn.VELOCITY + axis, point] = (points[axis, point] - old[axis, k]) / h
            if flat >= 0:
                points[flat, point] = points[PointColumn.VELOCITY + flat, point] = 0.0
        _slow(points, first, touching, slide_deceleration, h)
        _unhook(points, first, links, lengths, radius, shapes, first_wall)
        _take_away(points, first, count, before, gravity)
        tips = LEAN * gravity if _count(touching) else 0.0
    return 1 if _speed(points, first, count) > STILL * (gravity if gravity > 0.0 else slide_deceleration) else 0


@kernel
def _energy(points: NDArray[np.float64], first: int, count: int, gravity: float) -> float:
    """The energy of all points, of mass 1 each."""
    energy = 0.0
    for point in range(first, first + count):
        energy += gravity * points[2, point]
        for axis in range(3):
            energy += 0.5 * points[PointColumn.VELOCITY + axis, point] ** 2
    return energy


@kernel
def _count(touching: NDArray[np.int64]) -> int:
    found = 0
    for each in touching:
        found += each
    return found


@kernel
def _speed(points: NDArray[np.float64], first: int, count: int) -> float:
    fastest = 0.0
    for point in range(first, first + count):
        for axis in range(3):
            fastest = max(fastest, abs(points[PointColumn.VELOCITY + axis, point]))
    return fastest


@kernel
def _take_away(points: NDArray[np.float64], first: int, count: int, before: float, gravity: float) -> None:
    """Scale the velocities so that there is no more energy than before."""
    after = _energy(points, first, count, gravity)
    if after <= before:
        return
    moving = 0.0
    for point in range(first, first + count):
        for axis in range(3):
            moving += 0.5 * points[PointColumn.VELOCITY + axis, point] ** 2
    left = max(moving - (after - before), 0.0)
    share = sqrt(left / moving) if moving > 0.0 else 0.0
    for point in range(first, first + count):
        for axis in range(3):
            points[PointColumn.VELOCITY + axis, point] *= share


@kernel
def _put_links_right(
    points: NDArray[np.float64], first: int, links: NDArray[np.int64], lengths: NDArray[np.float64], stretch: float
) -> None:
    for link in range(lengths.size):
        a, b = first + links[0, link], first + links[1, link]
        dx, dy, dz = points[0, b] - points[0, a], points[1, b] - points[1, a], points[2, b] - points[2, a]
        apart = sqrt(dx * dx + dy * dy + dz * dz)
        wanted = min(max(apart, lengths[link] * (1.0 - stretch)), lengths[link] * (1.0 + stretch))
        if apart in (0.0, wanted):
            continue
        more = 0.5 * (wanted - apart) / apart
        points[0, a] -= more * dx
        points[1, a] -= more * dy
        points[2, a] -= more * dz
        points[0, b] += more * dx
        points[1, b] += more * dy
        points[2, b] += more * dz


@kernel
def _unhook(
    points: NDArray[np.float64],
    first: int,
    links: NDArray[np.int64],
    lengths: NDArray[np.float64],
    radius: float,
    shapes: NDArray[np.float64],
    first_wall: int,
) -> None:
    """Take the upper end of a link that hangs torn across a wall to its lower end's side, just behind that."""
    for link in range(lengths.size):
        a, b = first + links[0, link], first + links[1, link]
        square = 0.0
        for axis in range(3):
            square += (points[axis, b] - points[axis, a]) ** 2
        if square <= (HOOKED * lengths[link]) ** 2 or not _wall_between(points, a, b, radius, shapes, first_wall):
            continue
        kept, moved = (a, b) if points[2, a] < points[2, b] else (b, a)
        for axis in range(3):
            points[axis, moved] = points[axis, kept] + BEHIND * (points[axis, kept] - points[axis, moved])
            points[PointColumn.VELOCITY + axis, moved] = points[PointColumn.VELOCITY + axis, kept]


@kernel
def _wall_between(
    points: NDArray[np.float64], a: int, b: int, radius: float, shapes: NDArray[np.float64], first_wall: int
) -> bool:
    """Whether a wall lies between two points, looked for in strides."""
    square = 0.0
    for axis in range(3):
        square += (points[axis, b] - points[axis, a]) ** 2
    looks = int(min(ceil(sqrt(square) / (STRIDE * radius)), MOST_LOOKS))
    for wall in range(first_wall, shapes.shape[1]):
        for look in range(1, looks):
            share = look / looks
            x = points[0, a] + share * (points[0, b] - points[0, a])
            y = points[1, a] + share * (points[1, b] - points[1, a])
            z = points[2, a] + share * (points[2, b] - points[2, a])
            if skin_normal(shapes, wall, x, y, z)[3] < radius:
                return True
    return False


@kernel
def _keep_out(
    points: NDArray[np.float64],
    point: int,
    radius: float,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
) -> int:
    """Put a point out of walls, onto the floor and into the bounds; 1 when it had to be."""
    touched = 0
    for wall in range(first_wall, shapes.shape[1]):
        x, y, z = points[0, point], points[1, point], points[2, point]
        if (
            x + radius < shapes[ShapeColumn.LOW, wall]
            or x - radius > shapes[ShapeColumn.HIGH, wall]
            or y + radius < shapes[ShapeColumn.LOW + 1, wall]
            or y - radius > shapes[ShapeColumn.HIGH + 1, wall]
            or z + radius < shapes[ShapeColumn.LOW + 2, wall]
            or z - radius > shapes[ShapeColumn.HIGH + 2, wall]
        ):
            continue
        nx, ny, nz, apart = skin_normal(shapes, wall, x, y, z)
        if apart < radius:
            points[0, point] += (radius - apart) * nx
            points[1, point] += (radius - apart) * ny
            points[2, point] += (radius - apart) * nz
            touched = 1
    low = max(walls[ArenaBound.FLOOR], walls[ArenaBound.LOW + 2]) + radius
    for axis in range(3):
        least = low if axis == 2 else walls[ArenaBound.LOW + axis]
        most = walls[ArenaBound.HIGH + axis]
        if points[axis, point] < least and least > -inf:
            points[axis, point] = least
            touched = 1
        elif points[axis, point] > most:
            points[axis, point] = most
            touched = 1
    return touched


@kernel
def _sweep_out(
    points: NDArray[np.float64],
    point: int,
    old: NDArray[np.float64],
    k: int,
    radius: float,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
) -> None:
    """Where the steps do not suffice, walk a move in strides, and stop it at what it meets."""
    square = 0.0
    for axis in range(3):
        square += (points[axis, point] - old[axis, k]) ** 2
    strides = int(min(ceil(sqrt(square) / (STRIDE * radius)), MOST_STRIDES))
    if strides <= 1:
        return
    move = np.empty(3)
    for axis in range(3):
        move[axis] = (points[axis, point] - old[axis, k]) / strides
        points[axis, point] = old[axis, k]
    for _ in range(strides):
        for axis in range(3):
            points[axis, point] += move[axis]
        if _keep_out(points, point, radius, shapes, first_wall, walls):
            return


@kernel
def _slow(
    points: NDArray[np.float64], first: int, touching: NDArray[np.int64], slide_deceleration: float, h: float
) -> None:
    """What a ragdoll loses in itself, and by rubbing: the points that touch bear the weight of all."""
    inner = exp(-SETTLING * h)
    rubbing = slide_deceleration * h * touching.size / max(_count(touching), 1)
    for k in range(touching.size):
        square = 0.0
        for axis in range(3):
            points[PointColumn.VELOCITY + axis, first + k] *= inner
            square += points[PointColumn.VELOCITY + axis, first + k] ** 2
        speed = sqrt(square)
        if touching[k] and speed > 0.0:
            share = max(speed - rubbing, 0.0) / speed
            for axis in range(3):
                points[PointColumn.VELOCITY + axis, first + k] *= share


@kernel
def step_ragdolls(
    points: NDArray[np.float64],
    bodies: NDArray[np.float64],
    body_marks: NDArray[np.int64],
    models: NDArray[np.float64],
    ragdolls: NDArray[np.float64],
    ragdoll_marks: NDArray[np.int64],
    links: NDArray[np.int64],
    lengths: NDArray[np.float64],
    most_points: int,
    flat: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    end: int,
    tick_rate: int,
    slow_ticks: int,
) -> int:
    """Move every ragdoll below column `end`, but those still or in a hit stop, through a tick; how many came to rest.

    `ragdolls` and `ragdoll_marks` (rows, fighters) say what each falls as, `links` (2, m) and `lengths` (m,) hold all
    their links. One that was slow for `slow_ticks` in a row lies still.
    """
    rested = 0
    for body in range(end):
        state, model = body_marks[BodyMark.RAGDOLL, body], body_marks[BodyMark.MODEL, body]
        count = ragdoll_marks[RagdollMark.POINTS, model]
        if state < RagdollState.MOVING or count == 0 or body_marks[BodyMark.FROZEN_UNTIL, body] != 0:
            continue
        first = body * most_points
        begin = ragdoll_marks[RagdollMark.FIRST_LINK, model]
        last = begin + ragdoll_marks[RagdollMark.LINKS, model]
        fast = step_ragdoll(
            points,
            first,
            count,
            links[:, begin:last],
            lengths[begin:last],
            ragdolls[RagdollColumn.RADIUS, model],
            ragdolls[RagdollColumn.STRETCH, model],
            models[ModelColumn.SLIDE_DECELERATION, model],
            models[ModelColumn.GRAVITY, model],
            (bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body]),
            flat,
            shapes,
            first_wall,
            walls,
            1.0 / tick_rate,
        )
        state = RagdollState.MOVING if fast != 0 else state + 1
        if state >= slow_ticks + RagdollState.MOVING:
            points[PointColumn.VELOCITY : PointColumn.VELOCITY + 3, first : first + most_points] = 0.0
            state = RagdollState.STILL
            rested += 1
        body_marks[BodyMark.RAGDOLL, body] = state
    return rested
