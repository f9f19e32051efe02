"""Who is near whom, of many, and whether something that hits may touch a shape at all."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import Layer, MayTouch, Refusal, ShapeColumn, ShapeMark

if TYPE_CHECKING:
    from numpy.typing import NDArray


@kernel
def bounds_of_bodies(
    shapes: NDArray[np.float64], shape_marks: NDArray[np.int64], bodies: tuple[int, int, int]
) -> NDArray[np.float64]:
    """The bounds of the shapes of each body, (6, n): low x, y, z and high x, y, z; empty of who has none.

    `bodies` is (first, last, how many columns of `shapes` a body has).
    """
    count, most = bodies[1] - bodies[0], bodies[2]
    bounds = np.empty((6, count))
    for body in range(count):
        for axis in range(3):
            bounds[axis, body], bounds[3 + axis, body] = inf, -inf
        for shape in range((bodies[0] + body) * most, (bodies[0] + body + 1) * most):
            if shape_marks[ShapeMark.OWNER, shape] == 0:
                continue
            for axis in range(3):
                bounds[axis, body] = min(bounds[axis, body], shapes[ShapeColumn.LOW + axis, shape])
                bounds[3 + axis, body] = max(bounds[3 + axis, body], shapes[ShapeColumn.HIGH + axis, shape])
    return bounds


@kernel
def widest(lows: NDArray[np.float64], highs: NDArray[np.float64]) -> float:
    """The largest difference of two rows where the second is not below the first; 0 where it always is."""
    most = 0.0
    for each in range(lows.shape[0]):
        if highs[each] >= lows[each]:
            most = max(most, highs[each] - lows[each])
    return most


@kernel
def first_from(values: NDArray[np.float64], order: NDArray[np.int64], least: float) -> int:
    """The first place in an ascending order whose value is not below `least`."""
    low, high = 0, order.shape[0]
    while low < high:
        middle = (low + high) // 2
        if values[order[middle]] < least:
            low = middle + 1
        else:
            high = middle
    return low


@kernel
def insert_sorted(values: NDArray[np.int64], count: int, value: int) -> int:
    """Put a value into the first `count` of an ascending list, at its place; how many there are now."""
    place = count
    while place > 0 and values[place - 1] > value:
        values[place] = values[place - 1]
        place -= 1
    values[place] = value
    return count + 1


@kernel
def nearest_foe(
    places: NDArray[np.float64], teams: NDArray[np.int64], order: NDArray[np.int64], rank: int
) -> tuple[int, float]:
    """The nearest of another team to the body at a place of the order, and how far in squares; -1 where there is none.

    `places` is (2, bodies), `order` sorts its first row. Of those that are as near the lowest index; who stands on the
    same spot is not looked at.
    """
    body = order[rank]
    x, y = places[0, body], places[1, body]
    best, nearest = inf, -1
    left, right = rank - 1, rank + 1
    while left >= 0 or right < order.shape[0]:
        before = x - places[0, order[left]] if left >= 0 else inf
        after = places[0, order[right]] - x if right < order.shape[0] else inf
        if before <= after:
            other = order[left]
            left -= 1
        else:
            other = order[right]
            right += 1
        dx, dy = places[0, other] - x, places[1, other] - y
        if dx * dx > best:
            break
        square = dx * dx + dy * dy
        if square <= 0.0 or teams[other] == teams[body]:
            continue
        if square < best or (square == best and other < nearest):
            best, nearest = square, other
    return nearest, best


@kernel
def refusal(layers: int, options: int, owner: int, team: int, shape_marks: NDArray[np.int64], shape: int) -> int:
    """Why a shape is left alone, a Refusal, 0 for one that may be touched.

    In this order: its layer, its owner's own body, its owner's team. `owner` is an index + 1; what nobody owns, and
    walls, know no owner and no team. An owner is judged as such, and not as one of its team.
    """
    layer = shape_marks[ShapeMark.LAYER, shape]
    if layer & layers == 0:
        if layer == Layer.CORPSE:
            return Refusal.TARGET_DEAD
        return Refusal.PROTECTED if layer == Layer.PROTECTED else Refusal.OTHER_LAYER
    theirs = shape_marks[ShapeMark.OWNER, shape]
    if owner == 0 or theirs == 0:
        return Refusal.NONE
    if theirs == owner:
        return Refusal.NONE if options & MayTouch.OWNER else Refusal.OWN_BODY
    if shape_marks[ShapeMark.TEAM, shape] == team and not options & MayTouch.TEAM:
        return Refusal.ALLY
    return Refusal.NONE
