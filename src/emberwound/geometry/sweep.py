"""Earliest time of impact: a moving sphere or capsule against a moving capsule or box.

A sphere is a capsule of no length. Only the relative motion matters, so one body may be taken to stand still, and the
sphere's radius may be added to the capsule's: what is left is a point against a capsule of radius `reach`.

Two convex bodies on straight paths have a distance that is a convex function of time. From outside, Newton's step
along its slope never goes past the first touch, and comes to it in a few rounds; where the slope turns upwards first,
there is none.
"""

from __future__ import annotations

from math import sqrt

from emberwound.geometry.jit import kernel
from emberwound.geometry.nearest import beyond, segment_box_share, segment_shares

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
def _slab(o: float, w: float, half: float, enter: float, leave: float) -> tuple[float, float]:
    """The window of time enter..leave cut to that in which o + w t lies in -half..half; gliding along an end is out."""
    if w == 0.0:
        return (enter, leave) if abs(o) < half else (MISS, 0.0)
    first = (-half - o) / w
    last = (half - o) / w
    return max(enter, min(first, last)), min(leave, max(first, last))


@kernel
def touch_box(
    ox: float,
    oy: float,
    oz: float,
    wx: float,
    wy: float,
    wz: float,
    hx: float,
    hy: float,
    hz: float,
    reach: float,
) -> float:
    """Fraction of the move w at which a point starting at o first comes within `reach` of the box of half sizes h.

    All in the box's own axes, the box round 0. Inside at the start gives 0; touching while moving apart is no contact;
    MISS when there is none. The box grown by `reach` bounds what can be entered. What is entered is that rounded at
    its edges: the faces pushed out by `reach`, and a capsule round each of the twelve edges.
    """
    ex = ox - min(max(ox, -hx), hx)
    ey = oy - min(max(oy, -hy), hy)
    ez = oz - min(max(oz, -hz), hz)
    square = ex * ex + ey * ey + ez * ez
    if square < reach * reach or (square == 0.0 and abs(ox) < hx and abs(oy) < hy and abs(oz) < hz):
        return 0.0
    enter, leave = _slab(ox, wx, hx + reach, 0.0, 1.0)
    enter, leave = _slab(oy, wy, hy + reach, enter, leave)
    enter, leave = _slab(oz, wz, hz + reach, enter, leave)
    if enter > leave:
        return MISS
    first = MISS
    for face in range(3):
        gx = hx + (reach if face == 0 else 0.0)
        gy = hy + (reach if face == 1 else 0.0)
        gz = hz + (reach if face == 2 else 0.0)
        into, out = _slab(ox, wx, gx, 0.0, 1.0)
        into, out = _slab(oy, wy, gy, into, out)
        into, out = _slab(oz, wz, gz, into, out)
        if into <= out and (into > 0.0 or _closing(ox, oy, oz, wx, wy, wz, gx, gy, gz)):
            first = min(first, into)
    if reach == 0.0:
        return first
    for edge in range(12):
        axis = edge // 4
        a = hx if edge % 2 else -hx
        b = hy if (edge // 2) % 2 else -hy
        c = hz if edge % 2 else -hz
        if axis == 0:
            touch = touch_capsule(ox + hx, oy - b, oz - c, wx, wy, wz, 2.0 * hx, 0.0, 0.0, reach)
        elif axis == 1:
            c = hz if (edge // 2) % 2 else -hz
            touch = touch_capsule(ox - a, oy + hy, oz - c, wx, wy, wz, 0.0, 2.0 * hy, 0.0, reach)
        else:
            touch = touch_capsule(ox - a, oy - b, oz + hz, wx, wy, wz, 0.0, 0.0, 2.0 * hz, reach)
        first = min(first, touch)
    return first


@kernel
def _closing(ox: float, oy: float, oz: float, wx: float, wy: float, wz: float, gx: float, gy: float, gz: float) -> bool:
    """Whether a point on the skin of a box, or within it, moves inwards through every face it lies on."""
    return (
        not (abs(ox) >= gx and ox * wx >= 0.0)
        and not (abs(oy) >= gy and oy * wy >= 0.0)
        and not (abs(oz) >= gz and oz * wz >= 0.0)
    )


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
