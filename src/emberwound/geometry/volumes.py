"""Volumes that wound what they touch: where those on moving bodies, and those that stand in the arena, are in a tick.

A volume is a shape, as in `geometry.flight_segments`, with a little more: it may turn about a pivot through the tick,
and it may be all of space beyond a plane.
"""

from __future__ import annotations

from math import cos, inf, pi, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    HazardColumn,
    HazardMark,
    HitboxColumn,
    PartColumn,
    PartMark,
    ShapeColumn,
    ShapeKind,
    VolumeColumn,
    VolumeMark,
)
from emberwound.geometry.pose import body_place, lay_box, part_offset, pose_of
from emberwound.geometry.shape import bound_shape, core_ends, put

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


@kernel
def lay_hitboxes(
    bodies: NDArray[np.float64],
    body_marks: NDArray[np.int64],
    table: NDArray[np.float64],
    table_marks: NDArray[np.int64],
    tracks: NDArray[np.float64],
    volumes: NDArray[np.float64],
    volume_marks: NDArray[np.int64],
    most: int,
    end: int,
    tick: int,
) -> None:
    """Write both poses of every hitbox that is on, of bodies before `end`; body f has the columns from f `most` on."""
    for column in range(end * most):
        if volumes[ShapeColumn.KIND, column] == 0.0:
            continue
        body, entry = column // most, volume_marks[VolumeMark.ENTRY, column]
        frozen = body_marks[BodyMark.FROZEN_UNTIL, body]
        times = max(tick, frozen), max(tick + 1, frozen)
        ends = (ShapeColumn.A, PartColumn.A, HitboxColumn.A_WAY)
        joint = table_marks[PartMark.JOINT_A, entry, 0]
        poses = pose_of(body_marks, body, tick), pose_of(body_marks, body, tick + 1)
        volumes[ShapeColumn.RADIUS, column] = table[PartColumn.RADIUS, entry, 0]
        _lay_end(bodies, body, table, entry, tracks, joint, poses, times, ends, volumes, column)
        kind = volumes[ShapeColumn.KIND, column]
        if kind == ShapeKind.TURNING:
            _lay_turning(bodies, body, table, entry, volumes, column, times)
        elif kind == ShapeKind.BOX:
            lay_box(bodies, body, table, entry, 0, volumes, column)
        else:
            ends = (ShapeColumn.B, PartColumn.B, HitboxColumn.B_WAY)
            joint = table_marks[PartMark.JOINT_B, entry, 0]
            _lay_end(bodies, body, table, entry, tracks, joint, poses, times, ends, volumes, column)
            bound_shape(volumes, column)


@kernel
def _lay_end(
    bodies: NDArray[np.float64],
    body: int,
    table: NDArray[np.float64],
    entry: int,
    tracks: NDArray[np.float64],
    joint: int,
    poses: tuple[int, int],
    times: tuple[int, int],
    rows: tuple[int, int, int],
    volumes: NDArray[np.float64],
    column: int,
) -> None:
    """Write where one end of a hitbox is at both ends of the tick, as if it were on all the while.

    `rows` are that of the end in `volumes`, its place and its way in the table.
    """
    begin, end = volumes[VolumeColumn.FROM, column], volumes[VolumeColumn.TO, column]
    for moment in range(2):
        f, s, u = part_offset(table, rows[1], entry, 0, joint, tracks, poses[moment])
        share = (times[moment] - begin) / (end - begin)
        f += share * table[rows[2], entry, 0]
        s += share * table[rows[2] + 1, entry, 0]
        u += share * table[rows[2] + 2, entry, 0]
        row, place = (rows[0] + 6, BodyColumn.END) if moment else (rows[0], BodyColumn.START)
        put(volumes, row, column, body_place(bodies, body, place, f, s, u))


@kernel
def _lay_turning(
    bodies: NDArray[np.float64],
    body: int,
    table: NDArray[np.float64],
    entry: int,
    volumes: NDArray[np.float64],
    column: int,
    times: tuple[int, int],
) -> None:
    """The plane, the angles and the bounds of what turns about its A, evenly from `FROM` to `TO`.

    A point of an arc lies off the chord under it by at most r (1 - cos(a / 2)), for the half turn and less.
    """
    hx, hy = bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body]
    left, up = table[HitboxColumn.LEFT, entry, 0], table[HitboxColumn.UP, entry, 0]
    put(volumes, VolumeColumn.ONE, column, (hx, hy, 0.0))
    put(volumes, VolumeColumn.OTHER, column, (-left * hy, left * hx, up))
    first, last = table[HitboxColumn.FROM, entry, 0], table[HitboxColumn.TO, entry, 0]
    begin, end = volumes[VolumeColumn.FROM, column], volumes[VolumeColumn.TO, column]
    rate = (last - first) / (end - begin)
    volumes[VolumeColumn.TURN, column] = first + rate * (min(float(times[0]), end) - begin)
    volumes[VolumeColumn.TURNING, column] = rate
    volumes[VolumeColumn.TURNED, column] = min(max(end - times[0], 0.0), float(times[1] - times[0]))
    volumes[VolumeColumn.INNER, column] = table[HitboxColumn.INNER, entry, 0]
    volumes[VolumeColumn.REACH, column] = table[HitboxColumn.REACH, entry, 0]
    turned = abs(rate) * volumes[VolumeColumn.TURNED, column]
    reach = table[HitboxColumn.REACH, entry, 0]
    bulge = reach * (1.0 - cos(0.5 * turned)) if turned < pi else 2.0 * reach
    room = bulge + volumes[ShapeColumn.RADIUS, column]
    start, end = core_ends(volumes, column, 0.0), core_ends(volumes, column, 1.0)
    for axis in range(3):
        a, b, c, d = start[axis], start[axis + 3], end[axis], end[axis + 3]
        volumes[ShapeColumn.LOW + axis, column] = min(a, b, c, d) - room
        volumes[ShapeColumn.HIGH + axis, column] = max(a, b, c, d) + room


NEVER = 2**62
"""The tick of what never changes."""


@kernel
def along_path(points: NDArray[np.float64], first: int, count: int, closed: int, length: float) -> tuple[int, float]:
    """Where `length` along a path is: the index of a point and the share of the way from it to the next.

    A closed path goes on from its last point to its first; any other is followed back and forth.
    """
    segments = count if closed else count - 1
    whole = 0.0
    for segment in range(segments):
        whole += _segment_length(points, first, count, segment)
    left = length % (whole if closed else 2.0 * whole)
    if left > whole:
        left = 2.0 * whole - left
    for segment in range(segments):
        long = _segment_length(points, first, count, segment)
        if left <= long:
            return segment, left / long
        left -= long
    return segments - 1, 1.0


@kernel
def _segment_length(points: NDArray[np.float64], first: int, count: int, segment: int) -> float:
    square = 0.0
    for axis in range(3):
        apart = points[first + (segment + 1) % count, axis] - points[first + segment, axis]
        square += apart * apart
    return sqrt(square)


@kernel
def _drift(points: NDArray[np.float64], first: int, count: int, closed: int, length: float, axis: int) -> float:
    """How far along an axis something has come that follows a path for `length`."""
    segment, share = along_path(points, first, count, closed, length)
    a, b = points[first + segment, axis], points[first + (segment + 1) % count, axis]
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

    The answer is the tick on which that must be done again. Each is a group of its own, from `first_group` on. One that
    goes off and on again within a tick stays on.
    """
    again = NEVER
    for entry in range(table.shape[1]):
        column = first + entry
        every, on = table_marks[HazardMark.EVERY, entry], table_marks[HazardMark.ON, entry]
        begins, parts = table_marks[HazardMark.FIRST, entry], table_marks[HazardMark.PARTS, entry]
        late, ends = (tick + 1) * parts - begins, 0
        if every and late > 0:
            begins += (late - 1) // every * every
            ends = begins + on
            if late > every and begins > tick * parts and begins - every + on > tick * parts:
                begins -= every
        path = table_marks[HazardMark.PATH, entry] - 1
        if path >= 0:
            again = min(again, tick + 1)
        elif every and ends > tick * parts:
            again = min(again, max(-(-ends // parts), tick + 1))
        elif every:
            following = begins + every if late > 0 else begins
            again = min(again, max(following // parts, tick + 1))
        if every and ends <= tick * parts:
            if volumes[ShapeColumn.KIND, column]:
                for row in range(VolumeMark.COLUMNS):
                    volume_marks[row, column] = 0
                for row in range(VolumeColumn.COLUMNS):
                    volumes[row, column] = 0.0
            continue
        for row in range(ShapeColumn.COLUMNS):
            volumes[row, column] = table[row, entry]
        if path >= 0:
            length = table[HazardColumn.SPEED, entry] / tick_rate
            begin, count, closed = paths[0, path], paths[1, path], paths[2, path]
            for axis in range(3):
                start = _drift(points, begin, count, closed, length * tick, axis)
                end = _drift(points, begin, count, closed, length * (tick + 1), axis)
                volumes[ShapeColumn.A + axis, column] += start
                volumes[ShapeColumn.A_END + axis, column] += end
                if table[ShapeColumn.KIND, entry] == ShapeKind.CAPSULE:
                    volumes[ShapeColumn.B + axis, column] += start
                    volumes[ShapeColumn.B_END + axis, column] += end
        bound_shape(volumes, column)
        volumes[VolumeColumn.FROM, column] = begins / parts if every else 0.0
        volumes[VolumeColumn.TO, column] = ends / parts if every else inf
        volumes[VolumeColumn.UNTIL, column] = inf
        volume_marks[VolumeMark.GROUP, column] = first_group + entry
        volume_marks[VolumeMark.ENTRY, column] = entry
        volume_marks[VolumeMark.LAYERS, column] = table_marks[HazardMark.LAYERS, entry]
    return again
