"""Earliest touch of moving capsules with moving capsules and boxes, down the convex gap between them.

Two convex bodies on straight paths have a distance that is a convex function of time. From outside, Newton's step
along its slope never goes past the first touch, and comes to it in a few rounds; where the slope turns upwards first,
there is none.
"""

from __future__ import annotations

from math import sqrt

from emberwound.geometry.jit import kernel
from emberwound.geometry.shapes import beyond, segment_box_share, segment_shares
from emberwound.geometry.sweep import MISS

ROUNDS = 200
CLOSE = 4e-14
"""A gap under this share of the lengths at hand is rounding: it counts as touching."""


@kernel
def capsule_capsule_touch(
    px: float,
    py: float,
    pz: float,
    ux: float,
    uy: float,
    uz: float,
    vx: float,
    vy: float,
    vz: float,
    wx: float,
    wy: float,
    wz: float,
    reach: float,
) -> float:
    """Fraction of the move w at which the segment p..p + u first comes within `reach` of 0..v; MISS for never.

    Overlapping at the start gives 0; touching while moving apart is no contact.
    """
    size = abs(px) + abs(py) + abs(pz) + abs(wx) + abs(wy) + abs(wz) + reach
    t = 0.0
    for _ in range(ROUNDS):
        qx = px + t * wx
        qy = py + t * wy
        qz = pz + t * wz
        a, b = segment_shares(qx, qy, qz, ux, uy, uz, vx, vy, vz)
        nx = qx + a * ux - b * vx
        ny = qy + a * uy - b * vy
        nz = qz + a * uz - b * vz
        apart = sqrt(nx * nx + ny * ny + nz * nz)
        gap = apart - reach
        if t == 0.0 and gap < 0.0:
            return 0.0
        closing = nx * wx + ny * wy + nz * wz
        if closing >= 0.0 and apart > 0.0:
            return MISS
        if gap <= CLOSE * size:
            return t if closing < 0.0 or t > 0.0 else MISS
        t -= gap * apart / closing
        if t > 1.0:
            return MISS
    return t


@kernel
def capsule_box_touch(
    px: float,
    py: float,
    pz: float,
    ux: float,
    uy: float,
    uz: float,
    hx: float,
    hy: float,
    hz: float,
    wx: float,
    wy: float,
    wz: float,
    reach: float,
) -> float:
    """Fraction of the move w at which the segment p..p + u comes within `reach` of the box of half sizes h round 0.

    All in the box's own axes. Overlapping at the start gives 0; touching while moving apart is no contact; MISS else.
    """
    size = abs(px) + abs(py) + abs(pz) + abs(wx) + abs(wy) + abs(wz) + reach
    t = 0.0
    for _ in range(ROUNDS):
        qx = px + t * wx
        qy = py + t * wy
        qz = pz + t * wz
        a = segment_box_share(qx, qy, qz, ux, uy, uz, hx, hy, hz)
        nx = beyond(qx + a * ux, hx)
        ny = beyond(qy + a * uy, hy)
        nz = beyond(qz + a * uz, hz)
        apart = sqrt(nx * nx + ny * ny + nz * nz)
        gap = apart - reach
        if t == 0.0 and (gap < 0.0 or apart == 0.0):
            return 0.0
        closing = nx * wx + ny * wy + nz * wz
        if closing >= 0.0 and apart > 0.0:
            return MISS
        if gap <= CLOSE * size:
            return t if closing < 0.0 or t > 0.0 else MISS
        t -= gap * apart / closing
        if t > 1.0:
            return MISS
    return t
