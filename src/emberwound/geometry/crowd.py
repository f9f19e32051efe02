"""One tick of contact in a crowd: many flying spheres against many shapes, through a grid.

The cost follows the number of spheres: each looks into the one cell of its middle, where every shape is listed that
it could reach. Spheres are taken block by block, and in each block every step but the last is free of branches that
depend on the data: boxes, candidates from the cells, rejection by boxes and layers, then the exact test.
"""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.contact import goes_first, note_contact
from emberwound.geometry.flight_segments import may_not_touch, meet_time, segment_limit
from emberwound.geometry.grid import (
    BLOCK,
    LONG,
    candidates,
    dragged_box,
    largest,
    list_shapes,
    live_shapes,
    mean_reach,
    pairs_that_meet,
    reaches,
    reject,
    segment_boxes,
    shape_boxes,
)
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ArenaBound, Met, Refusal, ShapeColumn, ShapeKind, ShapeMark, ShotColumn, ShotMark
from emberwound.geometry.sweep import MISS, touch_capsule

if TYPE_CHECKING:
    from numpy.typing import NDArray


FEW_SHAPES = 24
"""Among up to so many shapes testing every pair is cheaper than a grid."""


@kernel
def _limit_all(
    segments: NDArray[np.float64],
    marks: NDArray[np.int64],
    walls: NDArray[np.float64],
    at: int,
    size: int,
    dt: float,
    zeros: NDArray[np.float64],
    boxes: NDArray[np.float32],
    limits: NDArray[np.float64],
    whats: NDArray[np.int64],
) -> None:
    """When each segment is over without a shape, and by what; most are far from floor, bounds and range and go on."""
    low_x, low_y = np.float32(walls[ArenaBound.LOW]), np.float32(walls[ArenaBound.LOW + 1])
    low_z = np.float32(max(walls[ArenaBound.LOW + 2], walls[ArenaBound.FLOOR]))
    high_x, high_y, high_z = (
        np.float32(walls[ArenaBound.HIGH]),
        np.float32(walls[ArenaBound.HIGH + 1]),
        np.float32(walls[ArenaBound.HIGH + 2]),
    )
    a0, a1, a2, a3, a4, a5 = boxes[0], boxes[1], boxes[2], boxes[3], boxes[4], boxes[5]
    ranges = segments[ShotColumn.RANGE, at : at + size]
    near = 0
    for k in range(size):
        limits[k] = zeros[k] + dt
        flag = (
            (a0[k] <= low_x)
            | (a1[k] <= low_y)
            | (a2[k] <= low_z)
            | (a3[k] >= high_x)
            | (a4[k] >= high_y)
            | (a5[k] >= high_z)
            | (ranges[k] > 0.0)
        )
        whats[k] = flag
        near += flag
    if near == 0:
        return
    for k in range(size):
        if whats[k]:
            whats[k] = 0
            if marks[ShotMark.ID, at + k]:
                begin = max(zeros[k], 0.0)
                limits[k], whats[k] = segment_limit(
                    segments, at + k, marks[ShotMark.LAYERS, at + k], walls, begin, limits[k]
                )


@kernel
def _test_pairs(
    segments: NDArray[np.float64],
    segment_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    at: int,
    count: int,
    dt: float,
    wholes: tuple[NDArray[np.uint32], NDArray[np.uint32], NDArray[np.int64], NDArray[np.int64], NDArray[np.int64]],
    reals: tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]],
) -> None:
    """Take from each segment's time, what it meets and which shape the earliest touch of its pairs."""
    ours, theirs, met, whats, live = wholes
    zeros, limits, times, capsules = reals
    for pair in range(count):
        k, index = ours[pair], theirs[pair]
        shape = live[index]
        segment = at + k
        owner, team = shape_marks[ShapeMark.OWNER, shape], shape_marks[ShapeMark.TEAM, shape]
        plain = (
            owner != segment_marks[ShotMark.OWNER, segment]
            and team != segment_marks[ShotMark.TEAM, segment]
            and segment_marks[ShotMark.PASSED, segment] == 0
        )
        if not plain and may_not_touch(segment_marks, segment, shape_marks, shape, touched) != Refusal.NONE:
            continue
        begin = max(zeros[k], 0.0)
        if (
            segments[ShotColumn.GRAVITY, segment] == 0.0
            and segments[ShotColumn.DRAG, segment] == 0.0
            and shapes[ShapeColumn.KIND, shape] == ShapeKind.CAPSULE
        ):
            touch = _straight_time(segments, segment, capsules, index, zeros[k], begin, limits[k])
        else:
            touch = meet_time(segments, segment, shapes, shape, zeros[k], begin, limits[k], dt)
        if touch < times[k] or (
            touch == times[k] and (met[k] < 0 or (met[k] != shape and goes_first(shape_marks, shape, met[k])))
        ):
            times[k] = touch
            met[k] = shape
            whats[k] = Met.SHAPE


@kernel
def _straight_time(
    segments: NDArray[np.float64],
    segment: int,
    capsules: NDArray[np.float64],
    shape: int,
    zero: float,
    begin: float,
    end: float,
) -> float:
    """`meet_time` of a segment without a bend and a capsule, the same sums in one piece."""
    duration, late = end - begin, begin - zero
    dx, dy, dz = capsules[shape, 6], capsules[shape, 7], capsules[shape, 8]
    vx, vy, vz = segments[ShotColumn.VX, segment], segments[ShotColumn.VY, segment], segments[ShotColumn.VZ, segment]
    fraction = touch_capsule(
        segments[ShotColumn.X, segment] + vx * begin - capsules[shape, 0] - dx * late,
        segments[ShotColumn.Y, segment] + vy * begin - capsules[shape, 1] - dy * late,
        segments[ShotColumn.Z, segment] + vz * begin - capsules[shape, 2] - dz * late,
        (vx - dx) * duration,
        (vy - dy) * duration,
        (vz - dz) * duration,
        capsules[shape, 3],
        capsules[shape, 4],
        capsules[shape, 5],
        segments[ShotColumn.RADIUS, segment] + capsules[shape, 9],
    )
    return begin + fraction * duration if fraction < MISS else inf


@kernel
def _gather_capsules(shapes: NDArray[np.float64], live: NDArray[np.int64], dt: float) -> NDArray[np.float64]:
    """Start, axis, velocity and radius of every capsule that can be hit, side by side in memory, (live, 10)."""
    capsules = np.empty((live.size, 10))
    for index in range(live.size):
        shape = live[index]
        for axis in range(3):
            start = shapes[ShapeColumn.A + axis, shape]
            capsules[index, axis] = start
            capsules[index, 3 + axis] = shapes[ShapeColumn.B + axis, shape] - start
            capsules[index, 6 + axis] = (shapes[ShapeColumn.A_END + axis, shape] - start) / dt
        capsules[index, 9] = shapes[ShapeColumn.RADIUS, shape]
    return capsules


@kernel
def crowd_contacts(
    segments: NDArray[np.float64],
    segment_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    walls: NDArray[np.float64],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    columns: tuple[int, int],
    free: tuple[int, int],
    tick: int,
    tick_rate: int,
) -> int:
    """Count and list the first contact of each segment, as `contact.first_contacts` does, to the same bits."""
    first, last = columns
    dt, time = 1.0 / tick_rate, (tick, tick_rate)
    live = live_shapes(shape_marks, free)
    few = live.size <= FEW_SHAPES
    slack = (largest(shapes, live) + 8.0) * 1e-6
    layers = np.empty(live.size, np.int64)
    for index in range(live.size):
        layers[index] = shape_marks[ShapeMark.LAYER, live[index]]
    boxes, capsules = np.empty((live.size, 6), np.float32), _gather_capsules(shapes, live, dt)
    axis, low_x, low_y, high_x, high_y, sizes = shape_boxes(shapes, live, boxes, slack)
    far, reach, grid = np.empty(0 if few else last - first), 0.0, (0.0, 0.0, 0.0, 0, 0)
    starts = lists = np.empty(0, np.uint32)
    if not few:
        mean = mean_reach(segments, segment_marks, columns, axis, time, 0.5 * dt)
        reach = reaches(segments, columns, axis, time, 0.5 * dt, LONG * mean, far) + slack
        width, depth = high_x - low_x + 2.0 * reach, high_y - low_y + 2.0 * reach
        full = sizes / (2 * layers.size) + 2.0 * reach
        side = max(full * (0.25 if last - first >= 4 * layers.size else 0.5), 1e-9)
        while (width / side + 3.0) * (depth / side + 3.0) > 64.0 * layers.size + 4096.0:
            side *= 1.25
        grid = (low_x - reach - side, low_y - reach - side, 1.0 / side, int(width / side) + 3, int(depth / side) + 3)
        starts, lists = list_shapes(boxes, layers, axis, grid, reach)
    count, room = 0, min(BLOCK, last - first)
    pairs = (np.empty(16 * room, np.uint32), np.empty(16 * room, np.uint32))
    zeros, bounds = np.empty(room), np.empty((6, room), np.float32)
    times, met = np.empty(room), np.empty(room, np.int64)
    limits, whats = np.empty(room), np.empty(room, np.int64)
    for at in range(first, last, BLOCK):
        size = min(BLOCK, last - at)
        if segment_boxes(segments, at, size, tick, tick_rate, zeros, bounds):
            for k in range(size):
                if segments[ShotColumn.DRAG, at + k] > 0.0:
                    dragged_box(segments, at + k, k, zeros[k], dt, bounds, slack)
        _limit_all(segments, segment_marks, walls, at, size, dt, zeros, bounds, limits, whats)
        for k in range(size):
            times[k] = limits[k]
            met[k] = -1
        masks = segment_marks[ShotMark.LAYERS, at : at + size]
        if few:
            kept, ours, theirs = pairs_that_meet(bounds, boxes, masks, layers, size, pairs)
        else:
            near, ours, theirs = candidates(
                segment_marks,
                at,
                size,
                bounds,
                starts,
                lists,
                axis,
                grid,
                far[at - first : at - first + size],
                reach - slack,
                layers.size,
                pairs,
            )
            kept = reject(bounds, boxes, masks, layers, ours, theirs, near)
        pairs = (ours, theirs)
        _test_pairs(
            segments,
            segment_marks,
            shapes,
            shape_marks,
            touched,
            at,
            kept,
            dt,
            (ours, theirs, met, whats, live),
            (zeros, limits, times, capsules),
        )
        for k in range(size):
            if whats[k]:
                fraction = (times[k] - zeros[k]) * tick_rate
                note_contact(segments, at + k, times[k], whats[k], met[k], fraction, found, found_marks, count)
                count += 1
    return count
