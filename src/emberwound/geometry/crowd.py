"""One tick of contact in a crowd: many flying spheres against many shapes, through a grid.

The cost follows the number of spheres: each looks into the one cell of its middle, where every shape is listed that
it could reach. Spheres are taken block by block, and in each block every step but the last is free of branches that
depend on the data: boxes, candidates from the cells, rejection by boxes and layers, then the exact test.
"""

from __future__ import annotations

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
    MET_SHAPE,
    SHAPE_HIGH,
    SHAPE_IS_BOX,
    SHAPE_LAYER,
    SHAPE_LOW,
    WALL_FLOOR,
    WALL_HIGH,
    WALL_LOW,
    barred,
    leg_limit,
    leg_place,
    meet_time,
)

if TYPE_CHECKING:
    from numpy.typing import NDArray

BLOCK = 1024
LONG = 4.0
"""Spheres that move or reach more than so many times the mean are too long for the grid and try every shape."""


@kernel
def _shape_boxes(
    shapes: NDArray[np.float64], boxes: NDArray[np.float32], slack: float
) -> tuple[float, float, float, float, float]:
    """Fill `boxes` (6, shapes) with the bounds of all shapes, widened; the span of x and y of all, and their sizes.

    float32 is enough for rejecting; `slack` is more than it can lose.
    """
    low_x, low_y, high_x, high_y, sizes = 1e30, 1e30, -1e30, -1e30, 0.0
    for shape in range(boxes.shape[1]):
        for axis in range(3):
            boxes[axis, shape] = shapes[SHAPE_LOW + axis, shape] - slack
            boxes[3 + axis, shape] = shapes[SHAPE_HIGH + axis, shape] + slack
        low_x, high_x = min(low_x, boxes[0, shape]), max(high_x, boxes[3, shape])
        low_y, high_y = min(low_y, boxes[1, shape]), max(high_y, boxes[4, shape])
        sizes += boxes[3, shape] - boxes[0, shape] + boxes[4, shape] - boxes[1, shape]
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
    """The mean of half a tick's way plus radius, of all legs in flight."""
    total, count = 0.0, 0
    for leg in range(first, last):
        if leg_marks[MARK_ID, leg]:
            speed = abs(legs[LEG_VX, leg]) + abs(legs[LEG_VY, leg])
            total += speed * half + legs[LEG_RADIUS, leg]
            count += 1
    return total / count if count else 0.0


@kernel
def _cells_of(low: float, high: float, origin: float, inverse: float, most: int) -> tuple[int, int]:
    """The first and the last cell along one axis that a span touches, within the grid."""
    first = min(max((low - origin) * inverse, 0.0), most - 1.0)
    last = min(max((high - origin) * inverse, 0.0), most - 1.0)
    return int(first), int(last)


@kernel
def _list_shapes(
    boxes: NDArray[np.float32],
    layers: NDArray[np.int64],
    grid: tuple[float, float, float, int, int],
    reach: float,
) -> tuple[NDArray[np.uint32], NDArray[np.uint32]]:
    """For each cell the shapes within `reach` of it: where its list starts (cells + 1,), and all lists in one."""
    x, y, inverse, across, along = grid
    shapes = layers.size
    starts = np.zeros(across * along + 1, np.uint32)
    for shape in range(shapes):
        if layers[shape] == 0:
            continue
        i0, i1 = _cells_of(boxes[0, shape] - reach, boxes[3, shape] + reach, x, inverse, across)
        k0, k1 = _cells_of(boxes[1, shape] - reach, boxes[4, shape] + reach, y, inverse, along)
        for k in range(k0, k1 + 1):
            for i in range(i0, i1 + 1):
                starts[k * across + i] += 1
    total = 0
    for cell in range(across * along):
        total += starts[cell]
        starts[cell] = total
    starts[across * along] = total
    lists = np.empty(total + 4, np.uint32)
    lists[total:] = 0
    for back in range(shapes):
        shape = shapes - 1 - back
        if layers[shape] == 0:
            continue
        i0, i1 = _cells_of(boxes[0, shape] - reach, boxes[3, shape] + reach, x, inverse, across)
        k0, k1 = _cells_of(boxes[1, shape] - reach, boxes[4, shape] + reach, y, inverse, along)
        for k in range(k0, k1 + 1):
            for i in range(i0, i1 + 1):
                starts[k * across + i] -= 1
                lists[starts[k * across + i]] = shape
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
    total, longs = 4, 0
    for k in range(size):
        long = max(abs(vx[k]), abs(vy[k])) * half + radius[k] > reach
        longs += long
        total += starts[cells[k] + np.uint32(1)] - starts[cells[k]]
    total += longs * shapes
    ours, theirs = pairs
    if total > ours.size:
        ours, theirs = np.empty(2 * total, np.uint32), np.empty(2 * total, np.uint32)
    count = 0
    for k in range(size):
        start = starts[cells[k]]
        listed = starts[cells[k] + np.uint32(1)] - start
        for g in range(4):
            ours[count + g] = k
            theirs[count + g] = lists[start + g]
        for g in range(4, listed):
            ours[count + g] = k
            theirs[count + g] = lists[start + g]
        count += listed
    if longs:
        for k in range(size):
            if marks[MARK_ID, at + k] and max(abs(vx[k]), abs(vy[k])) * half + radius[k] > reach:
                for shape in range(shapes):
                    ours[count] = k
                    theirs[count] = shape
                    count += 1
    return count, ours, theirs


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
    b0, b1, b2, b3, b4, b5 = shapes[0], shapes[1], shapes[2], shapes[3], shapes[4], shapes[5]
    kept = np.uint32(0)
    for pair in range(count):
        k, j = ours[pair], theirs[pair]
        ok = (
            (b0[j] <= a3[k])
            & (b3[j] >= a0[k])
            & (b1[j] <= a4[k])
            & (b4[j] >= a1[k])
            & (b2[j] <= a5[k])
            & (b5[j] >= a2[k])
            & ((layers[j] & masks[k]) != 0)
        )
        ours[kept] = k
        theirs[kept] = j
        kept += np.uint32(ok)
    return int(kept)


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
    boxes = np.empty((6, shapes.shape[1]), np.float32)
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
        for pair in range(kept):
            k, shape = ours[pair], theirs[pair]
            leg = at + k
            if barred(leg_marks, leg, shape_marks, shape, touched):
                continue
            begin = max(zeros[k], 0.0)
            is_box = shape_marks[SHAPE_IS_BOX, shape]
            touch = meet_time(legs, leg, shapes, shape, is_box, zeros[k], begin, limits[k], dt)
            if touch < times[k] or (
                touch == times[k] and (met[k] < 0 or (met[k] != shape and goes_first(shape_marks, shape, met[k])))
            ):
                times[k] = touch
                met[k] = shape
                whats[k] = MET_SHAPE
        for k in range(size):
            if whats[k]:
                fraction = (times[k] - zeros[k]) * tick_rate
                note_contact(legs, at + k, times[k], whats[k], met[k], fraction, found, found_marks, count)
                count += 1
    return count
