"""Nearest points of spheres, capsules and oriented boxes.

Every shape is a core and a radius round it: a point for a sphere, a segment for a capsule, a box for a box (whose
radius is then 0). Distances are between cores; shapes touch where that is the sum of the radii.
"""

from __future__ import annotations

from emberwound.geometry.jit import kernel

PARALLEL = 1e-14
"""Square of the sine of the angle between segments under which their lines meet nowhere in particular."""


@kernel
def clamp(value: float, low: float, high: float) -> float:
    """The value, or the end of the range that it lies beyond."""
    return min(max(value, low), high)


@kernel
def share_on_segment(px: float, py: float, pz: float, ux: float, uy: float, uz: float) -> float:
    """Where on the segment 0..u, as a share of it, the point p is nearest; 0 for a segment of no length."""
    uu = ux * ux + uy * uy + uz * uz
    return clamp((px * ux + py * uy + pz * uz) / uu, 0.0, 1.0) if uu > 0.0 else 0.0


@kernel
def segment_shares(
    px: float,
    py: float,
    pz: float,
    ux: float,
    uy: float,
    uz: float,
    vx: float,
    vy: float,
    vz: float,
) -> tuple[float, float]:
    """Where on p..p + u and on 0..v, as shares of them, the two segments are nearest; one such pair if there are more.

    |p + a u - b v|^2 is a convex bowl over the square of shares (a, b): its least value lies inside, where both
    slopes vanish, or on one of the four sides, each of which is a point against a segment.
    """
    uu = ux * ux + uy * uy + uz * uz
    vv = vx * vx + vy * vy + vz * vz
    uv = ux * vx + uy * vy + uz * vz
    pu = px * ux + py * uy + pz * uz
    pv = px * vx + py * vy + pz * vz
    best = -1.0
    best_a = best_b = 0.0
    spread = uu * vv - uv * uv
    if spread > PARALLEL * uu * vv:
        a = (uv * pv - vv * pu) / spread
        b = (uu * pv - uv * pu) / spread
        if 0.0 <= a <= 1.0 and 0.0 <= b <= 1.0:
            best = _square(px + a * ux - b * vx, py + a * uy - b * vy, pz + a * uz - b * vz)
            best_a, best_b = a, b
    for side in range(4):
        if side < 2:
            a = float(side)
            b = share_on_segment(px + a * ux, py + a * uy, pz + a * uz, vx, vy, vz)
        else:
            b = float(side - 2)
            a = share_on_segment(b * vx - px, b * vy - py, b * vz - pz, ux, uy, uz)
        square = _square(px + a * ux - b * vx, py + a * uy - b * vy, pz + a * uz - b * vz)
        if best < 0.0 or square < best:
            best, best_a, best_b = square, a, b
    return best_a, best_b


@kernel
def _square(x: float, y: float, z: float) -> float:
    return x * x + y * y + z * z


@kernel
def beyond(value: float, half: float) -> float:
    """How far a coordinate lies beyond -half..half, with its sign; 0 between."""
    return value - clamp(value, -half, half)


@kernel
def segment_box_share(
    px: float, py: float, pz: float, ux: float, uy: float, uz: float, hx: float, hy: float, hz: float
) -> float:
    """Where on the segment p..p + u, as a share of it, it is nearest to the box of half sizes h round 0.

    Half the squared distance is convex along the segment and its slope, the sum of u times what lies beyond the box,
    is linear between the planes of the faces: the slope's zero lies between the two of these that it changes sign at.
    """
    low, high = 0.0, 1.0
    for plane in range(6):
        if plane < 2:
            p, u, h = px, ux, hx
        elif plane < 4:
            p, u, h = py, uy, hy
        else:
            p, u, h = pz, uz, hz
        if u == 0.0:
            continue
        share = ((h if plane % 2 else -h) - p) / u
        if not low < share < high:
            continue
        slope = ux * beyond(px + share * ux, hx) + uy * beyond(py + share * uy, hy) + uz * beyond(pz + share * uz, hz)
        if slope > 0.0:
            high = share
        else:
            low = share
    rise = ux * beyond(px + low * ux, hx) + uy * beyond(py + low * uy, hy) + uz * beyond(pz + low * uz, hz)
    fall = ux * beyond(px + high * ux, hx) + uy * beyond(py + high * uy, hy) + uz * beyond(pz + high * uz, hz)
    if rise >= 0.0:
        return low
    if fall <= 0.0:
        return high
    return low + (high - low) * (-rise / (fall - rise))
