"""One tick of contact: where each flying sphere first meets a capsule, the floor, or the end of the world.

Arrays are (rows, capacity) with the rows named here; a mark of 0 in the first row means the column is free.
"""

from __future__ import annotations

from math import ceil, inf, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.flight import climb_time, drift_time, fall_time
from emberwound.geometry.jit import kernel
from emberwound.geometry.sweep import MISS, touch_capsule

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

LEG_X, LEG_Y, LEG_Z, LEG_VX, LEG_VY, LEG_VZ, LEG_GRAVITY, LEG_RADIUS = range(8)
LEG_ROWS = 8
MARK_ID, MARK_OWNER, MARK_TICK = range(3)

CAPSULE_A, CAPSULE_B, CAPSULE_A_END, CAPSULE_B_END, CAPSULE_RADIUS = 0, 3, 6, 9, 12
CAPSULE_ROWS = 13
CAPSULE_OWNER, CAPSULE_RANK = range(2)
CAPSULE_MARKS = 2

WALL_FLOOR, WALL_LOW, WALL_HIGH = 0, 1, 4
WALL_ROWS = 7

FOUND_FRACTION, FOUND_SECONDS, FOUND_X, FOUND_Y, FOUND_Z = range(5)
FOUND_ROWS = 5
FOUND_LEG, FOUND_WHAT, FOUND_CAPSULE = range(3)
FOUND_MARKS = 3
MET_CAPSULE, MET_FLOOR, MET_BOUNDS = 1, 2, 3

CHORD_TOLERANCE = 1e-6
"""How far the chords that stand for a curved path may leave it, as a share of the sizes that meet."""

MOST_CHORDS = 4096


@kernel
def _meets_path(
    legs: NDArray[np.float64],
    leg: int,
    capsules: NDArray[np.float64],
    capsule: int,
    begin: float,
    end: float,
    tick_seconds: float,
) -> float:
    """Seconds since the leg's start at which it touches the capsule between `begin` and `end`; inf for never.

    A parabola leaves its chord by at most g dt^2 / 8, so n chords of the span leave it by 1 / n^2 of that.
    """
    span = end - begin
    reach = legs[LEG_RADIUS, leg] + capsules[CAPSULE_RADIUS, capsule]
    gravity = legs[LEG_GRAVITY, leg]
    sag = gravity * span * span / 8.0
    chords = 1
    if sag > CHORD_TOLERANCE * reach:
        chords = int(min(ceil(sqrt(sag / (CHORD_TOLERANCE * reach))), MOST_CHORDS)) if reach > 0.0 else MOST_CHORDS
    ax = capsules[CAPSULE_A, capsule]
    ay = capsules[CAPSULE_A + 1, capsule]
    az = capsules[CAPSULE_A + 2, capsule]
    dx = capsules[CAPSULE_A_END, capsule] - ax
    dy = capsules[CAPSULE_A_END + 1, capsule] - ay
    dz = capsules[CAPSULE_A_END + 2, capsule] - az
    ux = capsules[CAPSULE_B, capsule] - ax
    uy = capsules[CAPSULE_B + 1, capsule] - ay
    uz = capsules[CAPSULE_B + 2, capsule] - az
    part = span / chords
    vx = legs[LEG_VX, leg] * part - dx * (part / tick_seconds)
    vy = legs[LEG_VY, leg] * part - dy * (part / tick_seconds)
    for chord in range(chords):
        t = begin + chord * part
        shift = (t - begin) / tick_seconds
        ox = legs[LEG_X, leg] + legs[LEG_VX, leg] * t - ax - dx * shift
        oy = legs[LEG_Y, leg] + legs[LEG_VY, leg] * t - ay - dy * shift
        oz = legs[LEG_Z, leg] + (legs[LEG_VZ, leg] - 0.5 * gravity * t) * t - az - dz * shift
        vz = (legs[LEG_VZ, leg] - gravity * (t + 0.5 * part)) * part - dz * (part / tick_seconds)
        fraction = touch_capsule(ox, oy, oz, vx, vy, vz, ux, uy, uz, reach)
        if fraction < MISS:
            return t + fraction * part
    return inf


@kernel
def first_contacts(
    legs: NDArray[np.float64],
    leg_marks: NDArray[np.int64],
    capsules: NDArray[np.float64],
    capsule_marks: NDArray[np.int64],
    walls: NDArray[np.float64],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    top: int,
    tick: int,
    tick_rate: int,
) -> int:
    """Count and list the first contact of each leg in columns below `top` during `tick`.

    A leg meets no capsule of its own owner. Of capsules touched at one instant the lowest rank counts, and a capsule
    comes before the floor and the bounds. `found` gets the fraction of the tick, the seconds since the leg's start
    and the centre's place; `found_marks` the leg's column, what was met, and the capsule's column.
    """
    count = 0
    tick_seconds = 1.0 / tick_rate
    for leg in range(top):
        if leg_marks[MARK_ID, leg] == 0:
            continue
        begin = (tick - leg_marks[MARK_TICK, leg]) / tick_rate
        end = (tick + 1 - leg_marks[MARK_TICK, leg]) / tick_rate
        x = legs[LEG_X, leg]
        y = legs[LEG_Y, leg]
        z = legs[LEG_Z, leg]
        vx = legs[LEG_VX, leg]
        vy = legs[LEG_VY, leg]
        vz = legs[LEG_VZ, leg]
        gravity = legs[LEG_GRAVITY, leg]
        radius = legs[LEG_RADIUS, leg]

        what = 0
        until = min(
            drift_time(x, vx, walls[WALL_LOW], walls[WALL_HIGH]),
            drift_time(y, vy, walls[WALL_LOW + 1], walls[WALL_HIGH + 1]),
            climb_time(z, vz, gravity, walls[WALL_HIGH + 2]),
            fall_time(z, vz, gravity, walls[WALL_LOW + 2]),
        )
        if until <= end:
            what = MET_BOUNDS
        else:
            until = end
        down = fall_time(z, vz, gravity, walls[WALL_FLOOR] + radius)
        if down <= until:
            what = MET_FLOOR
            until = down

        x0 = x + vx * begin
        y0 = y + vy * begin
        z0 = z + (vz - 0.5 * gravity * begin) * begin
        x1 = x + vx * until
        y1 = y + vy * until
        z1 = z + (vz - 0.5 * gravity * until) * until
        peak = max(z0, z1)
        if gravity > 0.0 and vz > gravity * begin and vz < gravity * until:
            peak = z + 0.5 * vz * vz / gravity
        limit = until
        met = -1
        for capsule in range(capsule_marks.shape[1]):
            owner = capsule_marks[CAPSULE_OWNER, capsule]
            if owner in (0, leg_marks[MARK_OWNER, leg]):
                continue
            c = capsules[:, capsule]
            reach = radius + c[CAPSULE_RADIUS]
            if (
                max(x0, x1) + reach < min(c[0], c[3], c[6], c[9])
                or min(x0, x1) - reach > max(c[0], c[3], c[6], c[9])
                or peak + reach < min(c[2], c[5], c[8], c[11])
                or min(z0, z1) - reach > max(c[2], c[5], c[8], c[11])
                or max(y0, y1) + reach < min(c[1], c[4], c[7], c[10])
                or min(y0, y1) - reach > max(c[1], c[4], c[7], c[10])
            ):
                continue
            touch = _meets_path(legs, leg, capsules, capsule, begin, limit, tick_seconds)
            if touch < until or (touch == until and met < 0):
                until = touch
                met = capsule
                what = MET_CAPSULE
            elif touch == until and capsule_marks[CAPSULE_RANK, capsule] < capsule_marks[CAPSULE_RANK, met]:
                met = capsule
        if what == 0:
            continue
        found[FOUND_FRACTION, count] = min(max((until - begin) * tick_rate, 0.0), 1.0)
        found[FOUND_SECONDS, count] = until
        found[FOUND_X, count] = x + vx * until
        found[FOUND_Y, count] = y + vy * until
        found[FOUND_Z, count] = z + (vz - 0.5 * gravity * until) * until
        found_marks[FOUND_LEG, count] = leg
        found_marks[FOUND_WHAT, count] = what
        found_marks[FOUND_CAPSULE, count] = met
        count += 1
    return count
