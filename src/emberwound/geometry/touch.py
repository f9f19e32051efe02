"""When volumes first touch shapes in a tick: conservative advancement through turns and motion.

In no time can a gap shrink by more than the fastest relative speed of the two cores times that time. So a step of the
gap over that speed goes past nothing. Near a touch steps are held at the least of a share of the volume's radius: a
touch is only told where the gap is below zero, and none deeper than half that share is passed over.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ShapeColumn
from emberwound.geometry.shape import core_speed, gap_at, least_size
from emberwound.geometry.sweep import MISS

if TYPE_CHECKING:
    import numpy as np
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
