"""Earliest time of impact between a moving sphere and a moving capsule.

A sphere is a capsule of no length. Only the relative motion matters, so one body may be taken to stand still,
and the sphere's radius may be added to the capsule's: what is left is a point against a capsule of radius `reach`.
"""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel

if TYPE_CHECKING:
    from numpy.typing import ArrayLike, NDArray

MISS = 2.0
"""What the kernels give for no touch: beyond every fraction of a tick."""

PARALLEL = 1e-28
"""Square of the sideways share of a motion under which it runs along the axis: rounding is all that is left."""


@kernel
def touch_sphere(ox: float, oy: float, oz: float, wx: float, wy: float, wz: float, ww: float, reach: float) -> float:
    """Fraction of the move w at which a point outside, starting at o, enters the sphere of radius `reach` round 0.

    The closest approach is taken first and the half chord from there, which keeps full precision at any speed.
    """
    middle = -(ox * wx + oy * wy + oz * wz) / ww
    if middle < 0.0:
        return MISS
    cx = ox + middle * wx
    cy = oy + middle * wy
    cz = oz + middle * wz
    left = reach * reach - (cx * cx + cy * cy + cz * cz)
    if left < 0.0:
        return MISS
    fraction = max(middle - sqrt(left / ww), 0.0)
    return fraction if fraction <= 1.0 else MISS


@kernel
def touch_capsule(
    ox: float,
    oy: float,
    oz: float,
    wx: float,
    wy: float,
    wz: float,
    ux: float,
    uy: float,
    uz: float,
    reach: float,
) -> float:
    """Fraction of the move w at which a point starting at o first touches the capsule round the segment 0..u.

    Inside at the start gives 0; touching while moving apart is no contact; MISS (2.0) when there is none.
    The capsule is the union of a cylinder and two spheres, so the first entry into it is the first into any of them;
    the cylinder's flat ends lie inside the spheres and need no test. The side is entered where the motion square to
    the axis first comes within `reach` of it.
    """
    uu = ux * ux + uy * uy + uz * uz
    share = 0.0
    if uu > 0.0:
        share = min(max((ox * ux + oy * uy + oz * uz) / uu, 0.0), 1.0)
    ex = ox - share * ux
    ey = oy - share * uy
    ez = oz - share * uz
    if ex * ex + ey * ey + ez * ez < reach * reach:
        return 0.0
    ww = wx * wx + wy * wy + wz * wz
    if ww == 0.0:
        return MISS
    if uu > 0.0:
        length = sqrt(uu)
        nx = ux / length
        ny = uy / length
        nz = uz / length
        along = ox * nx + oy * ny + oz * nz
        gain = wx * nx + wy * ny + wz * nz
        px = ox - along * nx
        py = oy - along * ny
        pz = oz - along * nz
        qx = wx - gain * nx
        qy = wy - gain * ny
        qz = wz - gain * nz
        pp = px * px + py * py + pz * pz
        qq = qx * qx + qy * qy + qz * qz
        outside = pp >= reach * reach
        if qq > PARALLEL * ww:
            middle = -(px * qx + py * qy + pz * qz) / qq
            if middle < 0.0:
                if pp > reach * reach:
                    return MISS
            else:
                cx = px + middle * qx
                cy = py + middle * qy
                cz = pz + middle * qz
                left = reach * reach - (cx * cx + cy * cy + cz * cz)
                if left < 0.0:
                    return MISS
                if outside:
                    fraction = max(middle - sqrt(left / qq), 0.0)
                    if fraction > 1.0:
                        return MISS
                    height = along + fraction * gain
                    if 0.0 <= height <= length:
                        return fraction
        elif pp > reach * reach:
            return MISS
    first = touch_sphere(ox, oy, oz, wx, wy, wz, ww, reach)
    if uu > 0.0:
        first = min(first, touch_sphere(ox - ux, oy - uy, oz - uz, wx, wy, wz, ww, reach))
    return first


@kernel
def _touch_many(
    starts: NDArray[np.float64],
    moves: NDArray[np.float64],
    axes: NDArray[np.float64],
    reaches: NDArray[np.float64],
    fractions: NDArray[np.float64],
) -> None:
    """Fill `fractions` (n,) for points at `starts` (3, n) moving by `moves` (3, n) against capsules 0..`axes`."""
    for i in range(fractions.size):
        fractions[i] = touch_capsule(
            starts[0, i],
            starts[1, i],
            starts[2, i],
            moves[0, i],
            moves[1, i],
            moves[2, i],
            axes[0, i],
            axes[1, i],
            axes[2, i],
            reaches[i],
        )


def sphere_capsule_touches(
    centres: ArrayLike,
    moves: ArrayLike,
    radii: ArrayLike,
    ends_a: ArrayLike,
    ends_b: ArrayLike,
    capsule_moves: ArrayLike,
    capsule_radii: ArrayLike,
) -> NDArray[np.float64]:
    """First touch of n moving spheres with n moving capsules, each as the fraction of its move; inf for none.

    Points and moves are (n, 3), radii (n,). Raises ValueError for shapes that differ, numbers that are not finite,
    and negative radii.
    """
    points = [
        np.ascontiguousarray(np.asarray(each, float).T) for each in (centres, moves, ends_a, ends_b, capsule_moves)
    ]
    sizes = [np.asarray(each, float) for each in (radii, capsule_radii)]
    count = sizes[0].shape[0] if sizes[0].ndim == 1 else -1
    if any(each.shape != (3, count) for each in points) or any(each.shape != (count,) for each in sizes):
        raise ValueError("points and moves must be (n, 3) and radii (n,), with one n")
    if not all(np.isfinite(each).all() for each in (*points, *sizes)):
        raise ValueError("points, moves and radii must be finite numbers")
    if any((each < 0.0).any() for each in sizes):
        raise ValueError("radii must not be negative")
    start, move, end_a, end_b, capsule_move = points
    fractions = np.empty(count)
    _touch_many(start - end_a, move - capsule_move, end_b - end_a, sizes[0] + sizes[1], fractions)
    return np.where(fractions > 1.0, np.inf, fractions)
