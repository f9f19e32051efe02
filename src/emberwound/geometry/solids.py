"""Spheres, capsules and boxes by the array: distances, nearest points and first touches, for use and for proof."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.nearest import segment_box_share, segment_shares
from emberwound.geometry.sweep import capsule_box_touch, capsule_capsule_touch, touch_box, touch_capsule

if TYPE_CHECKING:
    from numpy.typing import ArrayLike, NDArray


@dataclass(frozen=True, eq=False)
class Capsules:
    """n capsules: ends a and b (n, 3) and radii (n,). A sphere is one whose ends are the same point."""

    a: NDArray[np.float64]
    b: NDArray[np.float64]
    radius: NDArray[np.float64]

    @classmethod
    def of(cls, a: ArrayLike, b: ArrayLike, radius: ArrayLike) -> Capsules:
        """Capsules from anything like arrays. Raises ValueError for shapes that differ, NaN and negative radii."""
        ends = [_points(each) for each in (a, b)]
        return cls(ends[0], ends[1], _sizes("radius", radius, len(ends[0]), *ends))


@dataclass(frozen=True, eq=False)
class Boxes:
    """n oriented boxes: centres (n, 3), half sizes (n, 3), and the axes as rows of turns (n, 3, 3)."""

    centre: NDArray[np.float64]
    half: NDArray[np.float64]
    axes: NDArray[np.float64]

    @classmethod
    def of(cls, centre: ArrayLike, half: ArrayLike, axes: ArrayLike) -> Boxes:
        """Boxes from anything like arrays. Raises ValueError for wrong shapes, NaN, negative sizes and skew axes."""
        middles, halves = _points(centre), _points(half)
        turns = np.asarray(axes, float)
        if turns.shape != (len(middles), 3, 3) or halves.shape != middles.shape:
            raise ValueError("centres and half sizes must be (n, 3) and axes (n, 3, 3), with one n")
        if (halves < 0.0).any():
            raise ValueError("half sizes must not be negative")
        if not np.allclose(turns @ turns.transpose(0, 2, 1), np.eye(3), atol=1e-9):
            raise ValueError("axes must be three unit vectors square to each other")
        return cls(middles, halves, turns)


def _points(value: ArrayLike) -> NDArray[np.float64]:
    points = np.asarray(value, float)
    if points.ndim != 2 or points.shape[1] != 3:
        raise ValueError("points, moves and sizes of boxes must be (n, 3)")
    if not np.isfinite(points).all():
        raise ValueError("all numbers must be finite")
    return points


def _sizes(name: str, value: ArrayLike, count: int, *points: NDArray[np.float64]) -> NDArray[np.float64]:
    sizes = np.asarray(value, float)
    if sizes.shape != (count,) or any(each.shape != (count, 3) for each in points):
        raise ValueError(f"points must be (n, 3) and {name} (n,), with one n")
    if not np.isfinite(sizes).all():
        raise ValueError("all numbers must be finite")
    if (sizes < 0.0).any():
        raise ValueError(f"{name} must not be negative")
    return sizes


@kernel
def _touch_capsules(
    p: NDArray[np.float64],
    u: NDArray[np.float64],
    v: NDArray[np.float64],
    w: NDArray[np.float64],
    reach: NDArray[np.float64],
    out: NDArray[np.float64],
) -> None:
    for i in range(out.size):
        if u[i, 0] == 0.0 and u[i, 1] == 0.0 and u[i, 2] == 0.0:
            out[i] = touch_capsule(
                p[i, 0], p[i, 1], p[i, 2], w[i, 0], w[i, 1], w[i, 2], v[i, 0], v[i, 1], v[i, 2], reach[i]
            )
        else:
            out[i] = capsule_capsule_touch(
                p[i, 0],
                p[i, 1],
                p[i, 2],
                u[i, 0],
                u[i, 1],
                u[i, 2],
                v[i, 0],
                v[i, 1],
                v[i, 2],
                w[i, 0],
                w[i, 1],
                w[i, 2],
                reach[i],
            )


@kernel
def _touch_boxes(
    p: NDArray[np.float64],
    u: NDArray[np.float64],
    h: NDArray[np.float64],
    w: NDArray[np.float64],
    reach: NDArray[np.float64],
    out: NDArray[np.float64],
) -> None:
    for i in range(out.size):
        if u[i, 0] == 0.0 and u[i, 1] == 0.0 and u[i, 2] == 0.0:
            out[i] = touch_box(
                p[i, 0], p[i, 1], p[i, 2], w[i, 0], w[i, 1], w[i, 2], h[i, 0], h[i, 1], h[i, 2], reach[i]
            )
        else:
            out[i] = capsule_box_touch(
                p[i, 0],
                p[i, 1],
                p[i, 2],
                u[i, 0],
                u[i, 1],
                u[i, 2],
                h[i, 0],
                h[i, 1],
                h[i, 2],
                w[i, 0],
                w[i, 1],
                w[i, 2],
                reach[i],
            )


def touches(
    movers: Capsules, moves: ArrayLike, targets: Capsules | Boxes, target_moves: ArrayLike
) -> NDArray[np.float64]:
    """First touch of n moving spheres or capsules with n moving spheres, capsules or boxes, pair by pair.

    Moves are (n, 3). The answer (n,) is the fraction of the move, inf for none; overlapping at the start gives 0, and
    touching while moving apart is no contact. A ray is a mover of no size. Raises ValueError for shapes that differ
    and for numbers that are not finite.
    """
    w = _points(moves) - _points(target_moves)
    out = np.empty(len(movers.radius))
    if len(w) != len(out):
        raise ValueError("movers, targets and moves must be of one n")
    u = movers.b - movers.a
    if isinstance(targets, Capsules):
        if len(targets.radius) != len(out):
            raise ValueError("movers, targets and moves must be of one n")
        reach = movers.radius + targets.radius
        _touch_capsules(movers.a - targets.a, u, targets.b - targets.a, w, reach, out)
    else:
        if len(targets.centre) != len(out):
            raise ValueError("movers, targets and moves must be of one n")
        start, core, move = (_in_axes(targets, each) for each in (movers.a - targets.centre, u, w))
        _touch_boxes(start, core, targets.half, move, movers.radius, out)
    return np.where(out > 1.0, np.inf, out)


def _in_axes(boxes: Boxes, vectors: NDArray[np.float64]) -> NDArray[np.float64]:
    turned: NDArray[np.float64] = np.einsum("nij,nj->ni", boxes.axes, vectors)
    return turned


@kernel
def _capsule_shares(
    p: NDArray[np.float64],
    u: NDArray[np.float64],
    v: NDArray[np.float64],
    a: NDArray[np.float64],
    b: NDArray[np.float64],
) -> None:
    for i in range(a.size):
        a[i], b[i] = segment_shares(p[i, 0], p[i, 1], p[i, 2], u[i, 0], u[i, 1], u[i, 2], v[i, 0], v[i, 1], v[i, 2])


@kernel
def _box_shares(p: NDArray[np.float64], u: NDArray[np.float64], h: NDArray[np.float64], a: NDArray[np.float64]) -> None:
    for i in range(a.size):
        a[i] = segment_box_share(p[i, 0], p[i, 1], p[i, 2], u[i, 0], u[i, 1], u[i, 2], h[i, 0], h[i, 1], h[i, 2])


def nearest(
    solids: Capsules, targets: Capsules | Boxes
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Distances (n,) of n spheres or capsules to n others or boxes, and the nearest points (n, 3) on either.

    Distances are 0 where they overlap; the points then lie inside. A point is a solid of no size. Raises ValueError
    for numbers of solids that differ.
    """
    count = len(solids.radius)
    u, a = solids.b - solids.a, np.empty(count)
    if isinstance(targets, Capsules):
        if len(targets.radius) != count:
            raise ValueError("solids and targets must be of one n")
        v, b = targets.b - targets.a, np.empty(count)
        _capsule_shares(solids.a - targets.a, u, v, a, b)
        mine, theirs = solids.a + a[:, None] * u, targets.a + b[:, None] * v
        their_radius = targets.radius
    else:
        if len(targets.centre) != count:
            raise ValueError("solids and targets must be of one n")
        local, turned = _in_axes(targets, solids.a - targets.centre), _in_axes(targets, u)
        _box_shares(local, turned, targets.half, a)
        mine = solids.a + a[:, None] * u
        inside = np.clip(local + a[:, None] * turned, -targets.half, targets.half)
        theirs = targets.centre + np.einsum("nji,nj->ni", targets.axes, inside)
        their_radius = np.zeros(count)
    apart = theirs - mine
    length = np.linalg.norm(apart, axis=1)
    way = apart / np.where(length > 0.0, length, 1.0)[:, None]
    gap = length - solids.radius - their_radius
    return np.maximum(gap, 0.0), mine + way * solids.radius[:, None], theirs - way * their_radius[:, None]
