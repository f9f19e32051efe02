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
from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import (
    LEG_BEGIN,
    LEG_DRAG,
    LEG_GRAVITY,
    LEG_RADIUS,
    LEG_RANGE,
    LEG_TICK,
    LEG_VX,
    LEG_VY,
    LEG_VZ,
    LEG_X,
    LEG_Y,
    LEG_Z,
    MARK_ID,
    MARK_LAYERS,
    MARK_OWNER,
    MARK_PASSED,
    MARK_TEAM,
    MET_SHAPE,
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_B,
    SHAPE_HIGH,
    SHAPE_IS_BOX,
    SHAPE_LAYER,
    SHAPE_LOW,
    SHAPE_OWNER,
    SHAPE_RADIUS,
    SHAPE_TEAM,
    WALL_FLOOR,
    WALL_HIGH,
    WALL_LOW,
    barred,
    leg_limit,
    leg_place,
    meet_time,
)
from emberwound.geometry.sweep import MISS, touch_capsule

if TYPE_CHECKING:
    from numpy.typing import NDArray

BLOCK = 1024
ONE = np.uint32(1)
U1, U2, U3, U4 = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
"""Counts without a sign: an index that cannot be negative needs no check for counting from the end."""

LONG = 4.0
"""Spheres that move or reach more than so many times the mean are too long for the grid and try every shape."""


@kernel
def _shape_boxes(
    shapes: NDArray[np.float64], boxes: NDArray[np.float32], slack: float
) -> tuple[float, float, float, float, float]:
    """Fill `boxes` (shapes, 6) with the bounds of all shapes, widened; the span of x and y of all, and their sizes.

    float32 is enough for rejecting; `slack` is more than it can lose.
    """
    low_x, low_y, high_x, high_y, sizes = 1e30, 1e30, -1e30, -1e30, 0.0
    for shape in range(boxes.shape[0]):
        for axis in range(3):
            boxes[shape, axis] = shapes[SHAPE_LOW + axis, shape] - slack
            boxes[shape, 3 + axis] = shapes[SHAPE_HIGH + axis, shape] + slack
        low_x, high_x = min(low_x, boxes[shape, 0]), max(high_x, boxes[shape, 3])
        low_y, high_y = min(low_y, boxes[shape, 1]), max(high_y, boxes[shape, 4])
        sizes += boxes[shape, 3] - boxes[shape, 0] + boxes[shape, 4] - boxes[shape, 1]
    return low_x, low_y, high_x, high_y, sizes


@kernel
def _largest(shapes: NDArray[np.float64]) -> float:
    """The largest coordinate of all bounds."""
    most = 0.0
    for shape in range(shapes.shape[1]):
        for axis in range(3):
            most = max(most, abs(shapes[SHAPE_LOW + axis, shape]), abs(shapes[SHAPE_HIGH + axis, shape]))
    return most


@kernel
def _mean_reach(legs: NDArray[np.float64], leg_marks: NDArray[np.int64], first: int, last: int, half: float) -> float:
    """The mean of half a tick's way plus radius, of some thousand legs in flight taken evenly."""
    total, count = 0.0, 0
    for leg in range(first, last, max((last - first) // BLOCK, 1)):
        if leg_marks[MARK_ID, leg]:
            speed = abs(legs[LEG_VX, leg]) + abs(legs[LEG_VY, leg])
            total += speed * half + legs[LEG_RADIUS, leg]
            count += 1
    return total / count if count else 0.0


@kernel
def _cell_of(place: float, origin: float, inverse: float, most: int) -> np.uint64:
    """The cell along one axis that a place lies in, within the grid."""
    return np.uint64(min(max((place - origin) * inverse, 0.0), most - 1.0))


@kernel
def _list_shapes(
    boxes: NDArray[np.float32],
    layers: NDArray[np.int64],
    grid: tuple[float, float, float, int, int],
    reach: float,
) -> tuple[NDArray[np.uint32], NDArray[np.uint32]]:
    """For each cell the shapes within `reach` of it: where its list starts (cells + 1,), and all lists in one."""
    x, y, inverse, across, along = grid
    wide, cells = np.uint64(across), np.uint64(across * along)
    rooms = np.zeros((layers.size, 4), np.uint64)
    starts = np.zeros(across * along + 1, np.uint32)
    for shape in range(layers.size):
        if layers[shape] == 0:
            continue
        low, high = (
            _cell_of(boxes[shape, 0] - reach, x, inverse, across),
            _cell_of(boxes[shape, 3] + reach, x, inverse, across),
        )
        first, last = (
            _cell_of(boxes[shape, 1] - reach, y, inverse, along),
            _cell_of(boxes[shape, 4] + reach, y, inverse, along),
        )
        rooms[shape, 0], rooms[shape, 1] = first * wide + low, high - low + U1
        rooms[shape, 2] = last * wide + low + U1
        row = first * wide + low
        while row < rooms[shape, 2]:
            cell, end = row, row + rooms[shape, 1]
            while cell < end:
                starts[cell] += ONE
                cell += U1
            row += wide
    total, cell = np.uint32(0), np.uint64(0)
    while cell < cells:
        total += starts[cell]
        starts[cell] = total
        cell += U1
    starts[cells] = total
    lists = np.zeros(int(total) + 4, np.uint32)
    for back in range(layers.size):
        shape = layers.size - 1 - back
        row = rooms[shape, 0]
        while row < rooms[shape, 2]:
            cell, end = row, row + rooms[shape, 1]
            while cell < end:
                starts[cell] -= ONE
                lists[starts[cell]] = shape
                cell += U1
            row += wide
    return starts, lists


@kernel
def _leg_boxes(
    legs: NDArray[np.float64],
    at: int,
    size: int,
    tick: int,
    tick_rate: int,
    zeros: NDArray[np.float64],
    boxes: NDArray[np.float32],
) -> int:
    """Fill `zeros` with the times of `size` legs at the start of the tick and `boxes` (6, n) with their bounds.

    How many of them feel a drag: the bounds of those are not filled. (Rows are cut out of the whole array one by one:
    only so are they known to lie in one piece, which is what makes these loops run several legs at a time.)
    """
    x, y, z = legs[LEG_X, at : at + size], legs[LEG_Y, at : at + size], legs[LEG_Z, at : at + size]
    vx, vy, vz = legs[LEG_VX, at : at + size], legs[LEG_VY, at : at + size], legs[LEG_VZ, at : at + size]
    gravity, radius = legs[LEG_GRAVITY, at : at + size], legs[LEG_RADIUS, at : at + size]
    drag, ticks, begins = (
        legs[LEG_DRAG, at : at + size],
        legs[LEG_TICK, at : at + size],
        legs[LEG_BEGIN, at : at + size],
    )
    dt = 1.0 / tick_rate
    dragged = 0
    low_x, low_y, low_z = boxes[0], boxes[1], boxes[2]
    high_x, high_y, high_z = boxes[3], boxes[4], boxes[5]
    for k in range(size):
        zeros[k] = (tick - ticks[k]) / tick_rate - begins[k]
    for k in range(size):
        begin = max(zeros[k], 0.0)
        end = zeros[k] + dt
        a, b = x[k] + vx[k] * begin, x[k] + vx[k] * end
        low_x[k] = min(a, b) - radius[k]
        high_x[k] = max(a, b) + radius[k]
    for k in range(size):
        begin = max(zeros[k], 0.0)
        end = zeros[k] + dt
        a, b = y[k] + vy[k] * begin, y[k] + vy[k] * end
        low_y[k] = min(a, b) - radius[k]
        high_y[k] = max(a, b) + radius[k]
    for k in range(size):
        begin = max(zeros[k], 0.0)
        end = zeros[k] + dt
        pull = 0.5 * gravity[k]
        a, b = z[k] + (vz[k] - pull * begin) * begin, z[k] + (vz[k] - pull * end) * end
        low_z[k] = min(a, b) - radius[k]
        high_z[k] = max(a, b) + radius[k] + pull * dt * dt
    for k in range(size):
        dragged += drag[k] > 0.0
    return dragged


@kernel
def _dragged_box(
    legs: NDArray[np.float64], leg: int, k: int, zero: float, dt: float, boxes: NDArray[np.float32], slack: float
) -> None:
    """The bounds of a leg that feels a drag, into column `k`."""
    radius, drag, gravity = legs[LEG_RADIUS, leg], legs[LEG_DRAG, leg], legs[LEG_GRAVITY, leg]
    fastest = abs(legs[LEG_VX, leg]) + abs(legs[LEG_VY, leg]) + abs(legs[LEG_VZ, leg]) + gravity / drag
    wide = radius + (gravity + drag * fastest) * dt * dt / 8.0 + slack
    first = leg_place(legs, leg, max(zero, 0.0))
    last = leg_place(legs, leg, zero + dt)
    for axis in range(3):
        boxes[axis, k] = min(first[axis], last[axis]) - wide
        boxes[3 + axis, k] = max(first[axis], last[axis]) + wide


@kernel
def _longest(legs: NDArray[np.float64], first: int, last: int, half: float, cap: float) -> float:
    """The longest reach in x or y of the legs, of those that stay under `cap`."""
    most = 0.0
    x, y, radius = legs[LEG_VX, first:last], legs[LEG_VY, first:last], legs[LEG_RADIUS, first:last]
    for k in range(last - first):
        reach = max(abs(x[k]), abs(y[k])) * half + radius[k]
        most = max(most, reach if reach <= cap else 0.0)
    return most


@kernel
def _limit_all(
    legs: NDArray[np.float64],
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
    """When each leg is over without a shape, and by what; most are far from floor, bounds and range, and just go on."""
    low_x, low_y = np.float32(walls[WALL_LOW]), np.float32(walls[WALL_LOW + 1])
    low_z = np.float32(max(walls[WALL_LOW + 2], walls[WALL_FLOOR]))
    high_x, high_y, high_z = (
        np.float32(walls[WALL_HIGH]),
        np.float32(walls[WALL_HIGH + 1]),
        np.float32(walls[WALL_HIGH + 2]),
    )
    a0, a1, a2, a3, a4, a5 = boxes[0], boxes[1], boxes[2], boxes[3], boxes[4], boxes[5]
    ranges = legs[LEG_RANGE, at : at + size]
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
            if marks[MARK_ID, at + k]:
                begin = max(zeros[k], 0.0)
                limits[k], whats[k] = leg_limit(legs, at + k, marks[MARK_LAYERS, at + k], walls, begin, limits[k])


@kernel
def _candidates(
    legs: NDArray[np.float64],
    marks: NDArray[np.int64],
    at: int,
    size: int,
    boxes: NDArray[np.float32],
    starts: NDArray[np.uint32],
    lists: NDArray[np.uint32],
    grid: tuple[float, float, float, int, int],
    half: float,
    reach: float,
    shapes: int,
    pairs: tuple[NDArray[np.uint32], NDArray[np.uint32]],
) -> tuple[int, NDArray[np.uint32], NDArray[np.uint32]]:
    """All pairs of a leg and a shape listed in the cell of its middle; legs too long for that are paired with all.

    The count, and the two halves of the pairs, in `pairs` or in larger arrays.
    """
    x, y, inverse, across, along = grid
    cells = np.empty(size, np.uint32)
    most_x, most_y = np.float32(across - 1), np.float32(along - 1)
    vx, vy, radius = legs[LEG_VX, at : at + size], legs[LEG_VY, at : at + size], legs[LEG_RADIUS, at : at + size]
    low_x, low_y, high_x, high_y = boxes[0], boxes[1], boxes[3], boxes[4]
    for k in range(size):
        i = ((low_x[k] + high_x[k]) * np.float32(0.5) - np.float32(x)) * np.float32(inverse)
        j = ((low_y[k] + high_y[k]) * np.float32(0.5) - np.float32(y)) * np.float32(inverse)
        i = min(max(i, np.float32(0.0)), most_x)
        j = min(max(j, np.float32(0.0)), most_y)
        cells[k] = np.uint32(j) * np.uint32(across) + np.uint32(i)
    total, longs = np.uint64(4), np.uint64(0)
    for k in range(size):
        longs += np.uint64(max(abs(vx[k]), abs(vy[k])) * half + radius[k] > reach)
    for k in range(size):
        total += np.uint64(starts[cells[k] + ONE] - starts[cells[k]])
    total += longs * np.uint64(shapes)
    ours, theirs = pairs
    if total > np.uint64(ours.size):
        ours, theirs = np.empty(2 * int(total), np.uint32), np.empty(2 * int(total), np.uint32)
    count = np.uint64(0)
    for leg in range(size):
        mine = np.uint32(leg)
        start = np.uint64(starts[cells[leg]])
        listed = np.uint64(starts[cells[leg] + ONE]) - start
        ours[count] = ours[count + U1] = ours[count + U2] = ours[count + U3] = mine
        theirs[count], theirs[count + U1] = lists[start], lists[start + U1]
        theirs[count + U2], theirs[count + U3] = lists[start + U2], lists[start + U3]
        g = U4
        while g < listed:
            ours[count + g] = mine
            theirs[count + g] = lists[start + g]
            g += U1
        count += listed
    if longs:
        for k in range(size):
            if marks[MARK_ID, at + k] and max(abs(vx[k]), abs(vy[k])) * half + radius[k] > reach:
                for shape in range(shapes):
                    ours[count] = k
                    theirs[count] = shape
                    count += U1
    return int(count), ours, theirs


@kernel
def _reject(
    legs: NDArray[np.float32],
    shapes: NDArray[np.float32],
    masks: NDArray[np.int64],
    layers: NDArray[np.int64],
    ours: NDArray[np.uint32],
    theirs: NDArray[np.uint32],
    count: int,
) -> int:
    """Keep the pairs whose bounds overlap and whose layers meet, in their order; how many."""
    a0, a1, a2, a3, a4, a5 = legs[0], legs[1], legs[2], legs[3], legs[4], legs[5]
    kept, pair = np.uint64(0), np.uint64(0)
    last = np.uint64(count)
    while pair < last:
        k, j = ours[pair], theirs[pair]
        ok = (
            (shapes[j, 0] <= a3[k])
            & (shapes[j, 3] >= a0[k])
            & (shapes[j, 1] <= a4[k])
            & (shapes[j, 4] >= a1[k])
            & (shapes[j, 2] <= a5[k])
            & (shapes[j, 5] >= a2[k])
            & ((layers[j] & masks[k]) != 0)
        )
        ours[kept] = k
        theirs[kept] = j
        kept += np.uint64(ok)
        pair += U1
    return int(kept)


@kernel
def _test_pairs(
    legs: NDArray[np.float64],
    leg_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    at: int,
    count: int,
    dt: float,
    wholes: tuple[NDArray[np.uint32], NDArray[np.uint32], NDArray[np.int64], NDArray[np.int64]],
    reals: tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]],
) -> None:
    """Take from each leg's time, what it meets and which shape the earliest touch of its pairs."""
    ours, theirs, met, whats = wholes
    zeros, limits, times, capsules = reals
    for pair in range(count):
        k, shape = ours[pair], theirs[pair]
        leg = at + k
        owner, team = shape_marks[SHAPE_OWNER, shape], shape_marks[SHAPE_TEAM, shape]
        plain = (
            owner != leg_marks[MARK_OWNER, leg]
            and team != leg_marks[MARK_TEAM, leg]
            and leg_marks[MARK_PASSED, leg] == 0
        )
        if not plain and barred(leg_marks, leg, shape_marks, shape, touched):
            continue
        begin = max(zeros[k], 0.0)
        if legs[LEG_GRAVITY, leg] == 0.0 and legs[LEG_DRAG, leg] == 0.0 and not shape_marks[SHAPE_IS_BOX, shape]:
            touch = _straight_time(legs, leg, capsules, shape, zeros[k], begin, limits[k])
        else:
            is_box = shape_marks[SHAPE_IS_BOX, shape]
            touch = meet_time(legs, leg, shapes, shape, is_box, zeros[k], begin, limits[k], dt)
        if touch < times[k] or (
            touch == times[k] and (met[k] < 0 or (met[k] != shape and goes_first(shape_marks, shape, met[k])))
        ):
            times[k] = touch
            met[k] = shape
            whats[k] = MET_SHAPE


@kernel
def _straight_time(
    legs: NDArray[np.float64],
    leg: int,
    capsules: NDArray[np.float64],
    shape: int,
    zero: float,
    begin: float,
    end: float,
) -> float:
    """`meet_time` of a leg without a bend and a capsule, the same sums in one piece."""
    span, late = end - begin, begin - zero
    dx, dy, dz = capsules[shape, 6], capsules[shape, 7], capsules[shape, 8]
    vx, vy, vz = legs[LEG_VX, leg], legs[LEG_VY, leg], legs[LEG_VZ, leg]
    fraction = touch_capsule(
        legs[LEG_X, leg] + vx * begin - capsules[shape, 0] - dx * late,
        legs[LEG_Y, leg] + vy * begin - capsules[shape, 1] - dy * late,
        legs[LEG_Z, leg] + vz * begin - capsules[shape, 2] - dz * late,
        (vx - dx) * span,
        (vy - dy) * span,
        (vz - dz) * span,
        capsules[shape, 3],
        capsules[shape, 4],
        capsules[shape, 5],
        legs[LEG_RADIUS, leg] + capsules[shape, 9],
    )
    return begin + fraction * span if fraction < MISS else inf


@kernel
def _gather_capsules(shapes: NDArray[np.float64], dt: float) -> NDArray[np.float64]:
    """Start, axis, velocity and radius of every capsule, side by side in memory, (shapes, 10)."""
    capsules = np.empty((shapes.shape[1], 10))
    for shape in range(shapes.shape[1]):
        for axis in range(3):
            start = shapes[SHAPE_A + axis, shape]
            capsules[shape, axis] = start
            capsules[shape, 3 + axis] = shapes[SHAPE_B + axis, shape] - start
            capsules[shape, 6 + axis] = (shapes[SHAPE_A_END + axis, shape] - start) / dt
        capsules[shape, 9] = shapes[SHAPE_RADIUS, shape]
    return capsules


@kernel
def crowd_contacts(
    legs: NDArray[np.float64],
    leg_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    touched: NDArray[np.int64],
    walls: NDArray[np.float64],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    span: tuple[int, int],
    tick: int,
    tick_rate: int,
) -> int:
    """Count and list the first contact of each leg, as `contact.first_contacts` does, to the same bits."""
    first, last = span
    dt = 1.0 / tick_rate
    slack = (_largest(shapes) + 8.0) * 1e-6
    layers = shape_marks[SHAPE_LAYER].copy()
    boxes = np.empty((shapes.shape[1], 6), np.float32)
    low_x, low_y, high_x, high_y, sizes = _shape_boxes(shapes, boxes, slack)
    mean = _mean_reach(legs, leg_marks, first, last, 0.5 * dt)
    reach = _longest(legs, first, last, 0.5 * dt, LONG * mean) + slack
    width, depth = high_x - low_x + 2.0 * reach, high_y - low_y + 2.0 * reach
    full = sizes / (2 * layers.size) + 2.0 * reach
    side = max(full * (0.25 if last - first >= 4 * layers.size else 0.5), 1e-9)
    while (width / side + 3.0) * (depth / side + 3.0) > 64.0 * layers.size + 4096.0:
        side *= 1.25
    across, along = int(width / side) + 3, int(depth / side) + 3
    grid = (low_x - reach - side, low_y - reach - side, 1.0 / side, across, along)
    starts, lists = _list_shapes(boxes, layers, grid, reach)
    capsules = _gather_capsules(shapes, dt)
    count = 0
    pairs = (np.empty(16 * BLOCK, np.uint32), np.empty(16 * BLOCK, np.uint32))
    zeros, leg_boxes = np.empty(BLOCK), np.empty((6, BLOCK), np.float32)
    times, met = np.empty(BLOCK), np.empty(BLOCK, np.int64)
    limits, whats = np.empty(BLOCK), np.empty(BLOCK, np.int64)
    for at in range(first, last, BLOCK):
        size = min(BLOCK, last - at)
        if _leg_boxes(legs, at, size, tick, tick_rate, zeros, leg_boxes):
            for k in range(size):
                if legs[LEG_DRAG, at + k] > 0.0:
                    _dragged_box(legs, at + k, k, zeros[k], dt, leg_boxes, slack)
        _limit_all(legs, leg_marks, walls, at, size, dt, zeros, leg_boxes, limits, whats)
        for k in range(size):
            times[k] = limits[k]
            met[k] = -1
        number, ours, theirs = _candidates(
            legs, leg_marks, at, size, leg_boxes, starts, lists, grid, 0.5 * dt, reach - slack, layers.size, pairs
        )
        pairs = (ours, theirs)
        kept = _reject(leg_boxes, boxes, leg_marks[MARK_LAYERS, at : at + size], layers, ours, theirs, number)
        _test_pairs(
            legs,
            leg_marks,
            shapes,
            shape_marks,
            touched,
            at,
            kept,
            dt,
            (ours, theirs, met, whats),
            (zeros, limits, times, capsules),
        )
        for k in range(size):
            if whats[k]:
                fraction = (times[k] - zeros[k]) * tick_rate
                note_contact(legs, at + k, times[k], whats[k], met[k], fraction, found, found_marks, count)
                count += 1
    return count
