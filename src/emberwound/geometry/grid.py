"""The grid of a crowd: which pairs of a flying sphere and a shape are worth an exact test."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.flight_segments import segment_place
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ShapeColumn, ShapeMark, ShotColumn, ShotMark

if TYPE_CHECKING:
    from numpy.typing import NDArray

BLOCK = 1024
ONE = np.uint32(1)
U1, U2, U3, U4 = np.uint64(1), np.uint64(2), np.uint64(3), np.uint64(4)
"""Counts without a sign: an index that cannot be negative needs no check for counting from the end."""

SAMPLES = 128
"""Of so many spheres the mean reach is taken."""

LONG = 4.0
"""Spheres that move or reach more than so many times the mean are too long for the grid and try every shape."""


@kernel
def shape_boxes(
    shapes: NDArray[np.float64], live: NDArray[np.int64], boxes: NDArray[np.float32], slack: float
) -> tuple[int, float, float, float, float, float]:
    """Fill `boxes` (live, 6) with the bounds of the shapes in the columns `live`, widened; how the grid lies over them.

    The axis of its columns: y, or z where shapes spread further upwards, as they do in an arena seen from the side.
    Then the range of x and of that axis, and the sizes of all shapes. float32 is enough for rejecting; `slack` is more
    than it can lose.
    """
    low_x, low_y, high_x, high_y, sizes = 1e30, 1e30, -1e30, -1e30, 0.0
    low_z, high_z, heights = 1e30, -1e30, 0.0
    for shape in range(live.size):
        for axis in range(3):
            boxes[shape, axis] = shapes[ShapeColumn.LOW + axis, live[shape]] - slack
            boxes[shape, 3 + axis] = shapes[ShapeColumn.HIGH + axis, live[shape]] + slack
        low_x, high_x = min(low_x, boxes[shape, 0]), max(high_x, boxes[shape, 3])
        low_y, high_y = min(low_y, boxes[shape, 1]), max(high_y, boxes[shape, 4])
        low_z, high_z = min(low_z, boxes[shape, 2]), max(high_z, boxes[shape, 5])
        wide = boxes[shape, 3] - boxes[shape, 0]
        sizes += wide + boxes[shape, 4] - boxes[shape, 1]
        heights += wide + boxes[shape, 5] - boxes[shape, 2]
    if high_z - low_z > high_y - low_y:
        return 2, low_x, low_z, high_x, high_z, heights
    return 1, low_x, low_y, high_x, high_y, sizes


@kernel
def live_shapes(shape_marks: NDArray[np.int64], free: tuple[int, int]) -> NDArray[np.int64]:
    """The columns of the shapes that can be hit; there are none from the first to the second column of `free`."""
    live, count = np.empty(shape_marks.shape[1], np.int64), 0
    for place in range(shape_marks.shape[1] - free[1] + free[0]):
        shape = place if place < free[0] else place - free[0] + free[1]
        if shape_marks[ShapeMark.LAYER, shape] != 0:
            live[count] = shape
            count += 1
    return live[:count]


@kernel
def largest(shapes: NDArray[np.float64], live: NDArray[np.int64]) -> float:
    """The largest coordinate of the bounds of the shapes in the columns `live`."""
    most = 0.0
    for shape in live:
        for axis in range(3):
            most = max(most, abs(shapes[ShapeColumn.LOW + axis, shape]), abs(shapes[ShapeColumn.HIGH + axis, shape]))
    return most


@kernel
def reach_along(segments: NDArray[np.float64], segment: int, axis: int, time: tuple[int, int], half: float) -> float:
    """Half of what a segment's bounds are long at most along an axis: half a tick's way at its fastest, and its radius.

    `time` is the tick and the tick rate; `half` is half a tick. Upwards and downwards it is also pulled.
    """
    speed, radius = segments[ShotColumn.VX + axis, segment], segments[ShotColumn.RADIUS, segment]
    if axis == 2:
        gravity, drag = segments[ShotColumn.GRAVITY, segment], segments[ShotColumn.DRAG, segment]
        if drag > 0.0:
            speed = abs(speed) + gravity / drag
            radius += (gravity + drag * speed) * half * half
        elif gravity != 0.0:
            tick, tick_rate = time
            begin = (tick - segments[ShotColumn.TICK, segment]) / tick_rate - segments[ShotColumn.BEGIN, segment]
            speed = max(abs(speed), abs(speed - gravity * (begin + 2.0 * half)))
            radius += 2.0 * gravity * half * half
    reach: float = abs(speed) * half + radius
    return reach


@kernel
def mean_reach(
    segments: NDArray[np.float64],
    segment_marks: NDArray[np.int64],
    columns: tuple[int, int],
    axis: int,
    time: tuple[int, int],
    half: float,
) -> float:
    """The mean reach along both axes of the grid, of some hundred segments in flight taken evenly."""
    total, count = 0.0, 0
    first, last = columns
    for segment in range(first, last, max((last - first) // SAMPLES, 1)):
        if segment_marks[ShotMark.ID, segment]:
            speed = abs(segments[ShotColumn.VX, segment])
            total += speed * half + reach_along(segments, segment, axis, time, half)
            count += 1
    return total / count if count else 0.0


@kernel
def cell_of(place: float, origin: float, inverse: float, most: int) -> np.uint64:
    """The cell along one axis that a place lies in, within the grid."""
    return np.uint64(min(max((place - origin) * inverse, 0.0), most - 1.0))


@kernel
def list_shapes(
    boxes: NDArray[np.float32],
    layers: NDArray[np.int64],
    axis: int,
    grid: tuple[float, float, float, int, int],
    reach: float,
) -> tuple[NDArray[np.uint32], NDArray[np.uint32]]:
    """For each cell the shapes within `reach` of it: where its list starts (cells + 1,), and all lists in one."""
    x, y, inverse, across, along = grid
    wide, cells = np.uint64(across), np.uint64(across * along)
    rooms = np.zeros((layers.size, 4), np.uint64)
    starts = np.zeros(across * along + 1, np.uint32)
    for shape in range(layers.size):
        low, high = (
            cell_of(boxes[shape, 0] - reach, x, inverse, across),
            cell_of(boxes[shape, 3] + reach, x, inverse, across),
        )
        first, last = (
            cell_of(boxes[shape, axis] - reach, y, inverse, along),
            cell_of(boxes[shape, 3 + axis] + reach, y, inverse, along),
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
def segment_boxes(
    segments: NDArray[np.float64],
    at: int,
    size: int,
    tick: int,
    tick_rate: int,
    zeros: NDArray[np.float64],
    boxes: NDArray[np.float32],
) -> int:
    """Fill `zeros` with the times of `size` segments at the start of the tick and `boxes` (6, n) with their bounds.

    How many of them feel a drag: the bounds of those are not filled. (Rows are cut out of the whole array one by one:
    only so are they known to lie in one piece, which is what makes these loops run several segments at a time.)
    """
    x, y, z = (
        segments[ShotColumn.X, at : at + size],
        segments[ShotColumn.Y, at : at + size],
        segments[ShotColumn.Z, at : at + size],
    )
    vx, vy, vz = (
        segments[ShotColumn.VX, at : at + size],
        segments[ShotColumn.VY, at : at + size],
        segments[ShotColumn.VZ, at : at + size],
    )
    gravity, radius = segments[ShotColumn.GRAVITY, at : at + size], segments[ShotColumn.RADIUS, at : at + size]
    drag, ticks, begins = (
        segments[ShotColumn.DRAG, at : at + size],
        segments[ShotColumn.TICK, at : at + size],
        segments[ShotColumn.BEGIN, at : at + size],
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
def dragged_box(
    segments: NDArray[np.float64],
    segment: int,
    k: int,
    zero: float,
    dt: float,
    boxes: NDArray[np.float32],
    slack: float,
) -> None:
    """The bounds of a segment that feels a drag, into column `k`."""
    radius, drag, gravity = (
        segments[ShotColumn.RADIUS, segment],
        segments[ShotColumn.DRAG, segment],
        segments[ShotColumn.GRAVITY, segment],
    )
    fastest = (
        abs(segments[ShotColumn.VX, segment])
        + abs(segments[ShotColumn.VY, segment])
        + abs(segments[ShotColumn.VZ, segment])
        + gravity / drag
    )
    wide = radius + (gravity + drag * fastest) * dt * dt / 8.0 + slack
    first = segment_place(segments, segment, max(zero, 0.0))
    last = segment_place(segments, segment, zero + dt)
    for axis in range(3):
        boxes[axis, k] = min(first[axis], last[axis]) - wide
        boxes[3 + axis, k] = max(first[axis], last[axis]) + wide


@kernel
def reaches(
    segments: NDArray[np.float64],
    columns: tuple[int, int],
    axis: int,
    time: tuple[int, int],
    half: float,
    cap: float,
    found: NDArray[np.float64],
) -> float:
    """Fill `found` with each segment's greater reach along the axes of the grid; the longest that is under `cap`."""
    first, last = columns
    most = 0.0
    x, y, radius = (
        segments[ShotColumn.VX, first:last],
        segments[ShotColumn.VX + axis, first:last],
        segments[ShotColumn.RADIUS, first:last],
    )
    for k in range(last - first):
        found[k] = max(abs(x[k]), abs(y[k])) * half + radius[k]
    if axis == 2:
        gravity, drag = segments[ShotColumn.GRAVITY, first:last], segments[ShotColumn.DRAG, first:last]
        for k in range(last - first):
            if gravity[k] != 0.0 or drag[k] != 0.0:
                found[k] = max(found[k], reach_along(segments, first + k, axis, time, half))
    for k in range(last - first):
        most = max(most, found[k] if found[k] <= cap else 0.0)
    return most


@kernel
def candidates(
    marks: NDArray[np.int64],
    at: int,
    size: int,
    boxes: NDArray[np.float32],
    starts: NDArray[np.uint32],
    lists: NDArray[np.uint32],
    axis: int,
    grid: tuple[float, float, float, int, int],
    far: NDArray[np.float64],
    reach: float,
    shapes: int,
    pairs: tuple[NDArray[np.uint32], NDArray[np.uint32]],
) -> tuple[int, NDArray[np.uint32], NDArray[np.uint32]]:
    """All pairs of a segment and a shape listed in the cell of its middle; too long segments are paired with all.

    `far` (size,) is how far each reaches; `reach` is what shapes are listed for. The count, and the two halves of the
    pairs, in `pairs` or in larger arrays.
    """
    x, y, inverse, across, along = grid
    cells = np.empty(size, np.uint32)
    most_x, most_y = np.float32(across - 1), np.float32(along - 1)
    low_x, low_y, high_x, high_y = boxes[0], boxes[axis], boxes[3], boxes[3 + axis]
    for k in range(size):
        i = ((low_x[k] + high_x[k]) * np.float32(0.5) - np.float32(x)) * np.float32(inverse)
        j = ((low_y[k] + high_y[k]) * np.float32(0.5) - np.float32(y)) * np.float32(inverse)
        i = min(max(i, np.float32(0.0)), most_x)
        j = min(max(j, np.float32(0.0)), most_y)
        cells[k] = np.uint32(j) * np.uint32(across) + np.uint32(i)
    total, longs = np.uint64(4), np.uint64(0)
    for k in range(size):
        longs += np.uint64(far[k] > reach)
    for k in range(size):
        total += np.uint64(starts[cells[k] + ONE] - starts[cells[k]])
    total += longs * np.uint64(shapes)
    ours, theirs = pairs
    if total > np.uint64(ours.size):
        ours, theirs = np.empty(2 * int(total), np.uint32), np.empty(2 * int(total), np.uint32)
    count = np.uint64(0)
    for segment in range(size):
        mine = np.uint32(segment)
        start = np.uint64(starts[cells[segment]])
        listed = np.uint64(starts[cells[segment] + ONE]) - start
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
            if marks[ShotMark.ID, at + k] and far[k] > reach:
                for shape in range(shapes):
                    ours[count] = k
                    theirs[count] = shape
                    count += U1
    return int(count), ours, theirs


@kernel
def pairs_that_meet(
    segments: NDArray[np.float32],
    shapes: NDArray[np.float32],
    masks: NDArray[np.int64],
    layers: NDArray[np.int64],
    size: int,
    pairs: tuple[NDArray[np.uint32], NDArray[np.uint32]],
) -> tuple[int, NDArray[np.uint32], NDArray[np.uint32]]:
    """The pairs of all whose bounds overlap and whose layers meet: for few shapes cheaper than a grid.

    The count, and the two halves of the pairs, in `pairs` or in larger arrays.
    """
    ours, theirs = pairs
    if size * layers.size > ours.size:
        ours, theirs = np.empty(size * layers.size, np.uint32), np.empty(size * layers.size, np.uint32)
    meets = np.empty(size, np.uint8)
    a0, a1, a2, a3, a4, a5 = segments[0], segments[1], segments[2], segments[3], segments[4], segments[5]
    kept = np.uint64(0)
    for j in range(layers.size):
        low_x, low_y, low_z = shapes[j, 0], shapes[j, 1], shapes[j, 2]
        high_x, high_y, high_z, layer = shapes[j, 3], shapes[j, 4], shapes[j, 5], layers[j]
        for k in range(size):
            meets[k] = (
                (low_x <= a3[k])
                & (high_x >= a0[k])
                & (low_y <= a4[k])
                & (high_y >= a1[k])
                & (low_z <= a5[k])
                & (high_z >= a2[k])
                & ((layer & masks[k]) != 0)
            )
        for k in range(size):
            ours[kept] = k
            theirs[kept] = j
            kept += np.uint64(meets[k])
    return int(kept), ours, theirs


@kernel
def reject(
    segments: NDArray[np.float32],
    shapes: NDArray[np.float32],
    masks: NDArray[np.int64],
    layers: NDArray[np.int64],
    ours: NDArray[np.uint32],
    theirs: NDArray[np.uint32],
    count: int,
) -> int:
    """Keep the pairs whose bounds overlap and whose layers meet, in their order; how many."""
    a0, a1, a2, a3, a4, a5 = segments[0], segments[1], segments[2], segments[3], segments[4], segments[5]
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
