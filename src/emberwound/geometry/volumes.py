"""Volumes that wound what they touch: where those on moving frames, and those that stand in the arena, are in a tick.

A volume is a shape, as in `geometry.legs`, with a little more: it may turn about a pivot through the tick, and it may
be all of space beyond a plane.
"""

from __future__ import annotations

from math import cos, inf, pi, sin, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import (
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_B,
    SHAPE_B_END,
    SHAPE_HIGH,
    SHAPE_LOW,
    SHAPE_RADIUS,
    SHAPE_ROWS,
)
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_START,
    OFFSET_A,
    OFFSET_B,
    OFFSET_IS_BOX,
    OFFSET_JOINT_A,
    OFFSET_JOINT_B,
    OFFSET_MARKS,
    OFFSET_RADIUS,
    OFFSET_ROWS,
    bound_box,
    bound_capsule,
    frame_place,
    lay_box,
    part_offset,
    pose_row,
    put,
)

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

VOLUME_ONE, VOLUME_OTHER = SHAPE_ROWS, SHAPE_ROWS + 3
(
    VOLUME_TURN,
    VOLUME_TURNING,
    VOLUME_TURNED,
    VOLUME_INNER,
    VOLUME_REACH,
    VOLUME_FROM,
    VOLUME_TO,
    VOLUME_UNTIL,
    VOLUME_SINCE,
) = range(SHAPE_ROWS + 6, SHAPE_ROWS + 15)
VOLUME_ROWS = SHAPE_ROWS + 15
"""One that turns about A lies from `INNER` to `REACH` along cos(turn) `ONE` + sin(turn) `OTHER`. `TURN` is its angle at
the start of the tick, `TURNING` radians a tick, and `TURNED` the fraction of the tick after which it stands still. In
ticks, exactly: it is on, and turns, `FROM` .. `TO`, and it touches nothing after `UNTIL` nor
before `SINCE`."""

(
    VOLUME_SHAPE,
    VOLUME_GROUP,
    VOLUME_OWNER,
    VOLUME_TEAM,
    VOLUME_LAYERS,
    VOLUME_OPTIONS,
    VOLUME_ENTRY,
    VOLUME_RANK,
) = range(8)
VOLUME_MARKS = 8
CAPSULE, BOX, TURNING, BEYOND = 1, 2, 3, 4
"""What `VOLUME_SHAPE` says; 0 is a free column. Those of one `GROUP` share whom they have touched; `ENTRY` is the
column of the table one is laid from, `RANK` its place among those of its group."""

ARC_FROM, ARC_TO, ARC_INNER, ARC_REACH, ARC_LEFT, ARC_UP = range(OFFSET_ROWS, OFFSET_ROWS + 6)
HITBOX_ROWS = OFFSET_ROWS + 6
HITBOX_TURNS = OFFSET_MARKS
HITBOX_MARKS = OFFSET_MARKS + 1
"""Hitboxes on frames are laid out as hurtboxes are, (rows, hitboxes, 1), with the angles of their turn in radians from
ahead towards (`LEFT`, `UP`), and from where to where along that they lie."""


@kernel
def lay_hitboxes(
    frames: NDArray[np.float64],
    frame_marks: NDArray[np.int64],
    table: NDArray[np.float64],
    table_marks: NDArray[np.int64],
    tracks: NDArray[np.float64],
    volumes: NDArray[np.float64],
    volume_marks: NDArray[np.int64],
    most: int,
    tick: int,
) -> None:
    """Write both poses of every hitbox that is on; frame f has the columns from f `most` on."""
    for column in range(frames.shape[1] * most):
        if volume_marks[VOLUME_SHAPE, column] == 0:
            continue
        frame, entry = column // most, volume_marks[VOLUME_ENTRY, column]
        start, end = pose_row(frame_marks, frame, tick), pose_row(frame_marks, frame, tick + 1)
        volumes[SHAPE_RADIUS, column] = table[OFFSET_RADIUS, entry, 0]
        joint = table_marks[OFFSET_JOINT_A, entry, 0]
        f, s, u = part_offset(table, OFFSET_A, entry, 0, joint, tracks, start)
        put(volumes, SHAPE_A, column, frame_place(frames, frame, FRAME_START, f, s, u))
        f, s, u = part_offset(table, OFFSET_A, entry, 0, joint, tracks, end)
        put(volumes, SHAPE_A_END, column, frame_place(frames, frame, FRAME_END, f, s, u))
        if table_marks[HITBOX_TURNS, entry, 0]:
            _lay_turning(frames, frame, table, entry, volumes, column, tick)
        elif table_marks[OFFSET_IS_BOX, entry, 0]:
            lay_box(frames, frame, table, entry, 0, volumes, column)
        else:
            joint = table_marks[OFFSET_JOINT_B, entry, 0]
            f, s, u = part_offset(table, OFFSET_B, entry, 0, joint, tracks, start)
            put(volumes, SHAPE_B, column, frame_place(frames, frame, FRAME_START, f, s, u))
            f, s, u = part_offset(table, OFFSET_B, entry, 0, joint, tracks, end)
            put(volumes, SHAPE_B_END, column, frame_place(frames, frame, FRAME_END, f, s, u))
            bound_capsule(volumes, column)


@kernel
def _lay_turning(
    frames: NDArray[np.float64],
    frame: int,
    table: NDArray[np.float64],
    entry: int,
    volumes: NDArray[np.float64],
    column: int,
    tick: int,
) -> None:
    """The plane, the angles and the bounds of what turns about its A, evenly from `FROM` to `TO`.

    A point of an arc lies off the chord under it by at most r (1 - cos(a / 2)), for the half turn and less.
    """
    hx, hy = frames[FRAME_AHEAD, frame], frames[FRAME_AHEAD + 1, frame]
    left, up = table[ARC_LEFT, entry, 0], table[ARC_UP, entry, 0]
    put(volumes, VOLUME_ONE, column, (hx, hy, 0.0))
    put(volumes, VOLUME_OTHER, column, (-left * hy, left * hx, up))
    first, last = table[ARC_FROM, entry, 0], table[ARC_TO, entry, 0]
    begin, end = volumes[VOLUME_FROM, column], volumes[VOLUME_TO, column]
    rate = (last - first) / (end - begin)
    volumes[VOLUME_TURN, column] = first + rate * (min(float(tick), end) - begin)
    volumes[VOLUME_TURNING, column] = rate
    volumes[VOLUME_TURNED, column] = min(max(end - tick, 0.0), 1.0)
    volumes[VOLUME_INNER, column] = table[ARC_INNER, entry, 0]
    volumes[VOLUME_REACH, column] = table[ARC_REACH, entry, 0]
    turned = abs(rate) * volumes[VOLUME_TURNED, column]
    reach = table[ARC_REACH, entry, 0]
    bulge = reach * (1.0 - cos(0.5 * turned)) if turned < pi else 2.0 * reach
    room = bulge + volumes[SHAPE_RADIUS, column]
    start, end = volume_ends(volumes, column, TURNING, 0.0), volume_ends(volumes, column, TURNING, 1.0)
    for axis in range(3):
        a, b, c, d = start[axis], start[axis + 3], end[axis], end[axis + 3]
        volumes[SHAPE_LOW + axis, column] = min(a, b, c, d) - room
        volumes[SHAPE_HIGH + axis, column] = max(a, b, c, d) + room


@kernel
def volume_ends(
    volumes: NDArray[np.float64], column: int, shape: int, share: float
) -> tuple[float, float, float, float, float, float]:
    """Both ends of the core of a volume at a fraction of the tick; for a box or a plane, its place twice."""
    later = 1.0 - share
    ax = volumes[SHAPE_A, column] * later + volumes[SHAPE_A_END, column] * share
    ay = volumes[SHAPE_A + 1, column] * later + volumes[SHAPE_A_END + 1, column] * share
    az = volumes[SHAPE_A + 2, column] * later + volumes[SHAPE_A_END + 2, column] * share
    if shape == CAPSULE:
        return (
            ax,
            ay,
            az,
            volumes[SHAPE_B, column] * later + volumes[SHAPE_B_END, column] * share,
            volumes[SHAPE_B + 1, column] * later + volumes[SHAPE_B_END + 1, column] * share,
            volumes[SHAPE_B + 2, column] * later + volumes[SHAPE_B_END + 2, column] * share,
        )
    if shape != TURNING:
        return ax, ay, az, ax, ay, az
    turn = volumes[VOLUME_TURN, column] + volumes[VOLUME_TURNING, column] * min(share, volumes[VOLUME_TURNED, column])
    one, other = cos(turn), sin(turn)
    wx = one * volumes[VOLUME_ONE, column] + other * volumes[VOLUME_OTHER, column]
    wy = one * volumes[VOLUME_ONE + 1, column] + other * volumes[VOLUME_OTHER + 1, column]
    wz = one * volumes[VOLUME_ONE + 2, column] + other * volumes[VOLUME_OTHER + 2, column]
    inner, reach = volumes[VOLUME_INNER, column], volumes[VOLUME_REACH, column]
    return (
        ax + inner * wx,
        ay + inner * wy,
        az + inner * wz,
        ax + reach * wx,
        ay + reach * wy,
        az + reach * wz,
    )


NEVER = 2**62
"""The tick of what never changes."""

HAZARD_SPEED = SHAPE_ROWS
HAZARD_ROWS = SHAPE_ROWS + 1
HAZARD_SHAPE, HAZARD_LAYERS, HAZARD_PATH, HAZARD_FIRST, HAZARD_ON, HAZARD_EVERY, HAZARD_PARTS = range(7)
HAZARD_MARKS = 7
"""Hazards as laid out in a plan, (rows, hazards): a shape where it stands, how fast it follows its path (a number + 1,
0 for none), and when it is on: first after `FIRST`, then for `ON` out of each `EVERY` parts of a tick, `PARTS` of which
are one; an `EVERY` of 0 is always."""


@kernel
def along_path(points: NDArray[np.float64], first: int, count: int, closed: int, length: float) -> tuple[int, float]:
    """Where `length` along a path is: the number of a point and the share of the way from it to the next.

    A closed path goes on from its last point to its first; any other is followed back and forth.
    """
    legs = count if closed else count - 1
    whole = 0.0
    for leg in range(legs):
        whole += _leg_length(points, first, count, leg)
    left = length % (whole if closed else 2.0 * whole)
    if left > whole:
        left = 2.0 * whole - left
    for leg in range(legs):
        long = _leg_length(points, first, count, leg)
        if left <= long:
            return leg, left / long
        left -= long
    return legs - 1, 1.0


@kernel
def _leg_length(points: NDArray[np.float64], first: int, count: int, leg: int) -> float:
    square = 0.0
    for axis in range(3):
        apart = points[first + (leg + 1) % count, axis] - points[first + leg, axis]
        square += apart * apart
    return sqrt(square)


@kernel
def _drift(points: NDArray[np.float64], first: int, count: int, closed: int, length: float, axis: int) -> float:
    """How far along an axis something has come that follows a path for `length`."""
    leg, share = along_path(points, first, count, closed, length)
    a, b = points[first + leg, axis], points[first + (leg + 1) % count, axis]
    drift: float = a + (b - a) * share - points[first, axis]
    return drift


@kernel
def lay_hazards(
    table: NDArray[np.float64],
    table_marks: NDArray[np.int64],
    points: NDArray[np.float64],
    paths: NDArray[np.int64],
    volumes: NDArray[np.float64],
    volume_marks: NDArray[np.int64],
    first: int,
    first_group: int,
    tick: int,
    tick_rate: int,
) -> int:
    """Write both poses of every hazard that is on in this tick into the columns from `first` on, and free the others.

    The answer is the tick on which that must be done anew. Each is a group of its own, from `first_group` on. One that
    goes off and on again within a tick stays on.
    """
    again = NEVER
    for entry in range(table.shape[1]):
        column = first + entry
        every, on = table_marks[HAZARD_EVERY, entry], table_marks[HAZARD_ON, entry]
        begins, parts = table_marks[HAZARD_FIRST, entry], table_marks[HAZARD_PARTS, entry]
        late, ends = (tick + 1) * parts - begins, 0
        if every and late > 0:
            begins += (late - 1) // every * every
            ends = begins + on
            if late > every and begins > tick * parts and begins - every + on > tick * parts:
                begins -= every
        path = table_marks[HAZARD_PATH, entry] - 1
        if path >= 0:
            again = min(again, tick + 1)
        elif every and ends > tick * parts:
            again = min(again, max(-(-ends // parts), tick + 1))
        elif every:
            following = begins + every if late > 0 else begins
            again = min(again, max(following // parts, tick + 1))
        if every and ends <= tick * parts:
            if volume_marks[VOLUME_SHAPE, column]:
                for row in range(VOLUME_MARKS):
                    volume_marks[row, column] = 0
                for row in range(VOLUME_ROWS):
                    volumes[row, column] = 0.0
            continue
        for row in range(SHAPE_ROWS):
            volumes[row, column] = table[row, entry]
        if path >= 0:
            length = table[HAZARD_SPEED, entry] / tick_rate
            begin, count, closed = paths[0, path], paths[1, path], paths[2, path]
            for axis in range(3):
                start = _drift(points, begin, count, closed, length * tick, axis)
                end = _drift(points, begin, count, closed, length * (tick + 1), axis)
                volumes[SHAPE_A + axis, column] += start
                volumes[SHAPE_A_END + axis, column] += end
                if table_marks[HAZARD_SHAPE, entry] == CAPSULE:
                    volumes[SHAPE_B + axis, column] += start
                    volumes[SHAPE_B_END + axis, column] += end
        _bound_hazard(volumes, column, table_marks[HAZARD_SHAPE, entry])
        volumes[VOLUME_FROM, column] = begins / parts if every else 0.0
        volumes[VOLUME_TO, column] = ends / parts if every else inf
        volumes[VOLUME_UNTIL, column] = inf
        volume_marks[VOLUME_SHAPE, column] = table_marks[HAZARD_SHAPE, entry]
        volume_marks[VOLUME_GROUP, column] = first_group + entry
        volume_marks[VOLUME_ENTRY, column] = entry
        volume_marks[VOLUME_LAYERS, column] = table_marks[HAZARD_LAYERS, entry]
    return again


@kernel
def _bound_hazard(volumes: NDArray[np.float64], column: int, shape: int) -> None:
    if shape == CAPSULE:
        bound_capsule(volumes, column)
        return
    if shape == BOX:
        bound_box(volumes, column)
    for axis in range(3):
        if shape == BOX:
            volumes[SHAPE_LOW + axis, column] -= volumes[SHAPE_RADIUS, column]
            volumes[SHAPE_HIGH + axis, column] += volumes[SHAPE_RADIUS, column]
        else:
            volumes[SHAPE_LOW + axis, column], volumes[SHAPE_HIGH + axis, column] = -inf, inf
