"""When volumes first touch shapes in a tick, by conservative advancement, and which hits that makes.

In no time can a gap shrink by more than the fastest relative speed of the two cores times that time. So a step of the
gap over that speed goes past nothing. Near a touch steps are held at the least of a share of the volume's radius: a
touch is only reported where the gap is below zero, and none deeper than half that share is passed over. Each group of
volumes touches a body once: the first touch counts.
"""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    Refusal,
    ShapeColumn,
    ShapeKind,
    ShapeMark,
    TouchColumn,
    TouchMark,
    VolumeColumn,
    VolumeMark,
)
from emberwound.geometry.neighbours import bounds_of_bodies, first_from, insert_sorted, refusal, widest
from emberwound.geometry.shape import core_speed, gap_at, least_size
from emberwound.geometry.sweep import MISS

if TYPE_CHECKING:
    from numpy.typing import NDArray


SLACK = 1e-3
"""The share of a volume's radius under which steps do not shrink."""

MOST_STEPS = 200_000
"""Of one tick, at the least step."""

TOUCH = -1e-12
"""A gap above this share of the sizes at hand is rounding, and no touch."""

ROUNDS = 60


@kernel
def first_touch(
    volumes: NDArray[np.float64],
    volume: int,
    shapes: NDArray[np.float64],
    shape: int,
    begin: float,
    end: float,
) -> float:
    """The fraction of the tick from `begin` to `end` at which a volume first overlaps a shape; MISS for never."""
    size = volumes[ShapeColumn.RADIUS, volume]
    if size == 0.0:
        size = least_size(volumes, volume)
    if size == 0.0:
        size = shapes[ShapeColumn.RADIUS, shape]
    if size == 0.0:
        size = shapes[ShapeColumn.B, shape]
    touch = TOUCH * (
        1.0
        + size
        + abs(shapes[ShapeColumn.A, shape])
        + abs(shapes[ShapeColumn.A + 1, shape])
        + abs(shapes[ShapeColumn.A + 2, shape])
    )
    gap = gap_at(volumes, volume, shapes, shape, begin)[0]
    if gap < touch:
        return begin
    speed = core_speed(volumes, volume, shapes, shape)
    if speed == 0.0 or gap > speed * (end - begin):
        return MISS
    least = max(SLACK * size / speed, 1.0 / MOST_STEPS)
    share = begin
    while share < end:
        later = min(share + max(gap / speed, least), end)
        ahead = gap_at(volumes, volume, shapes, shape, later)[0]
        if ahead < touch:
            return _crossing(volumes, volume, shapes, shape, share, later, gap, ahead, touch)
        share, gap = later, ahead
    return MISS


@kernel
def _crossing(
    volumes: NDArray[np.float64],
    volume: int,
    shapes: NDArray[np.float64],
    shape: int,
    out: float,
    into: float,
    above: float,
    below: float,
    level: float,
) -> float:
    """Where between `out` and `into` the gap comes down to `level`: chords, halved where they creep."""
    above, below = above - level, below - level
    side = 0
    for _ in range(ROUNDS):
        if into - out <= 1e-13:
            break
        middle = (out * below - into * above) / (below - above)
        if not out < middle < into:
            middle = 0.5 * (out + into)
        gap = gap_at(volumes, volume, shapes, shape, middle)[0] - level
        if gap < 0.0:
            into, below = middle, gap
            if side == -1:
                above *= 0.5
            side = -1
        else:
            out, above = middle, gap
            if side == 1:
                below *= 0.5
            side = 1
        if gap == 0.0:
            break
    return into


FEW_BODIES = 24
"""Up to so many bodies each is looked at; of more only those beside a group of volumes."""

CLOSE = 1e-9
"""Ticks nearer than this to the end of a volume's time are its end, which is not part of it."""


@kernel
def volume_refusal(volume_marks: NDArray[np.int64], volume: int, shape_marks: NDArray[np.int64], shape: int) -> int:
    """Why a volume leaves a shape alone, a Refusal."""
    return refusal(
        volume_marks[VolumeMark.LAYERS, volume],
        volume_marks[VolumeMark.OPTIONS, volume],
        volume_marks[VolumeMark.OWNER, volume],
        volume_marks[VolumeMark.TEAM, volume],
        shape_marks,
        shape,
    )


@kernel
def _falls_short(volumes: NDArray[np.float64], volume: int, shapes: NDArray[np.float64], shape: int) -> bool:
    """Whether the bounds of a shape lie wholly before the plane that a volume is beyond of, all the tick."""
    start = end = -volumes[ShapeColumn.RADIUS, volume]
    for axis in range(3):
        way = volumes[ShapeColumn.AXES + axis, volume]
        if way != 0.0:
            corner = shapes[(ShapeColumn.HIGH if way > 0.0 else ShapeColumn.LOW) + axis, shape]
            start += way * (volumes[ShapeColumn.A + axis, volume] - corner)
            end += way * (volumes[ShapeColumn.A_END + axis, volume] - corner)
    short: bool = start > 0.0 and end > 0.0
    return short


@kernel
def touchable_from(
    kept: tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.float64]], first_area: int, group: int, seat: int
) -> float:
    """The exact tick from which a group of volumes may touch a seat's body, 0 for one that it did not touch.

    Of areas, the groups from `first_area` on, `kept` holds it for each seat, (areas, seats); of others for the pairs
    that touched: their keys, group x seats + seat, ascending, and the ticks (1, n).
    """
    areas, keys, ticks = kept
    if group >= first_area:
        of_area: float = areas[group - first_area, seat]
        return of_area
    key, low, high = group * areas.shape[1] + seat, 0, keys.shape[0]
    while low < high:
        middle = (low + high) // 2
        if keys[middle] < key:
            low = middle + 1
        else:
            high = middle
    found: float = ticks[0, low] if low < keys.shape[0] and keys[low] == key else 0.0
    return found


@kernel
def touch_contacts(
    volumes: NDArray[np.float64],
    volume_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    kept: tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.float64]],
    found: NDArray[np.float64],
    found_marks: NDArray[np.int64],
    columns: tuple[int, int, int],
    bodies: tuple[int, int, int],
    first_area: int,
    tick: int,
    since: float,
) -> tuple[int, int, int]:
    """Count and list the first touch of each group of volumes in the columns of `columns` with each body in this tick.

    `columns` is (first, last, how many columns a group has), `bodies` is (first, last, how many columns of `shapes` a
    body has). `kept` and `first_area` say from when a group may touch a body, see `touchable_from`; nothing is touched
    before `since`, a fraction of the tick. At one instant the lower rank of the volumes counts, then that of the
    shapes. `found` gets the fraction of the tick and the place, `found_marks` the columns of the volume and the shape.
    Where there is no room for a whole group more, the column of the next one is given, else the last of all columns.
    The third answer is how many bodies are near: the bounds of a shape of theirs meet those of a volume.
    """
    count = near = 0
    size = bodies[1] - bodies[0]
    many, beside = size > FEW_BODIES, np.arange(size)
    bounds = bounds_of_bodies(shapes, shape_marks, bodies) if many else np.empty((6, 0))
    order, wide = np.argsort(bounds[0]), widest(bounds[0], bounds[3])
    for group in range(columns[0], columns[1], columns[2]):
        if count + size > found.shape[1]:
            return count, group, near
        busy = 0
        for volume in range(group, group + columns[2]):
            busy += volumes[ShapeColumn.KIND, volume] != 0.0
        if busy == 0:
            continue
        at_hand = size
        if many:
            at_hand = _bodies_beside(volumes, (group, columns[2]), bounds, order, wide, beside)
        for index in range(at_hand):
            body = bodies[0] + beside[index]
            share, volume, shape, met = _first_of_body(
                volumes,
                volume_marks,
                shapes,
                shape_marks,
                kept,
                (group, columns[2]),
                body * bodies[2],
                bodies[2],
                first_area,
                tick,
                since,
            )
            near += met
            if volume < 0:
                continue
            _, x, y, z = gap_at(volumes, volume, shapes, shape, share)
            found[TouchColumn.SHARE, count] = share
            found[TouchColumn.X, count], found[TouchColumn.X + 1, count], found[TouchColumn.X + 2, count] = x, y, z
            found_marks[TouchMark.VOLUME, count], found_marks[TouchMark.SHAPE, count] = volume, shape
            count += 1
    return count, columns[1], near


@kernel
def _bodies_beside(
    volumes: NDArray[np.float64],
    group: tuple[int, int],
    bounds: NDArray[np.float64],
    order: NDArray[np.int64],
    wide: float,
    beside: NDArray[np.int64],
) -> int:
    """How many bodies have bounds that meet those of a group of volumes along x; their indexes, ascending, in `beside`.

    `order` sorts them by their lower bounds, and `wide` is the widest of them.
    """
    low, high = inf, -inf
    for volume in range(group[0], group[0] + group[1]):
        if volumes[ShapeColumn.KIND, volume] != 0.0:
            low = min(low, volumes[ShapeColumn.LOW, volume])
            high = max(high, volumes[ShapeColumn.HIGH, volume])
    count = 0
    for rank in range(first_from(bounds[0], order, low - wide), order.shape[0]):
        body = order[rank]
        if bounds[0, body] > high or bounds[0, body] == inf:
            break
        if bounds[3, body] >= low:
            count = insert_sorted(beside, count, body)
    return count


@kernel
def _first_of_body(
    volumes: NDArray[np.float64],
    volume_marks: NDArray[np.int64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    kept: tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.float64]],
    group: tuple[int, int],
    first: int,
    most: int,
    first_area: int,
    tick: int,
    since: float,
) -> tuple[float, int, int, int]:
    """The first touch of a group with the shapes of one body: when, which of either or -1; and if it is near at all."""
    best, met, part, near = MISS, -1, -1, 0
    for shape in range(first, first + most):
        seat = shape_marks[ShapeMark.OWNER, shape] - 1
        if seat < 0:
            continue
        for volume in range(group[0], group[0] + group[1]):
            kind = volumes[ShapeColumn.KIND, volume]
            if (
                kind == 0.0
                or volumes[ShapeColumn.LOW, volume] > shapes[ShapeColumn.HIGH, shape]
                or volumes[ShapeColumn.HIGH, volume] < shapes[ShapeColumn.LOW, shape]
                or volumes[ShapeColumn.LOW + 2, volume] > shapes[ShapeColumn.HIGH + 2, shape]
                or volumes[ShapeColumn.HIGH + 2, volume] < shapes[ShapeColumn.LOW + 2, shape]
                or volumes[ShapeColumn.LOW + 1, volume] > shapes[ShapeColumn.HIGH + 1, shape]
                or volumes[ShapeColumn.HIGH + 1, volume] < shapes[ShapeColumn.LOW + 1, shape]
                or volume_refusal(volume_marks, volume, shape_marks, shape) != Refusal.NONE
                or (kind == ShapeKind.HALF_SPACE and _falls_short(volumes, volume, shapes, shape))
            ):
                continue
            near = 1
            begin = max(
                since,
                touchable_from(kept, first_area, volume_marks[VolumeMark.GROUP, volume], seat) - tick,
                volumes[VolumeColumn.FROM, volume] - tick,
                volumes[VolumeColumn.SINCE, volume] - tick,
            )
            end = min(1.0, volumes[VolumeColumn.UNTIL, volume] - tick, volumes[VolumeColumn.TO, volume] - tick, best)
            if begin >= 1.0 or begin > end or begin >= volumes[VolumeColumn.TO, volume] - tick - CLOSE:
                continue
            share = first_touch(volumes, volume, shapes, shape, begin, end)
            if share < best or (
                share == best and share < MISS and _goes_first(volume_marks, shape_marks, (volume, shape), (met, part))
            ):
                best, met, part = share, volume, shape
    return best, met, part, near


@kernel
def _goes_first(
    volume_marks: NDArray[np.int64], shape_marks: NDArray[np.int64], one: tuple[int, int], other: tuple[int, int]
) -> bool:
    """Whether of two touches at one instant the first counts: by the volume's rank, then by the shape's."""
    mine, theirs = volume_marks[VolumeMark.RANK, one[0]], volume_marks[VolumeMark.RANK, other[0]]
    if mine != theirs:
        first: bool = mine < theirs
        return first
    lower: bool = shape_marks[ShapeMark.RANK, one[1]] < shape_marks[ShapeMark.RANK, other[1]]
    return lower
