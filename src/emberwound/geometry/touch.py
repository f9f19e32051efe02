"""When volumes first touch shapes in a tick: conservative advancement through turns and motion.

In no time can a gap shrink by more than the fastest relative speed of the two cores times that time. So a step of the
gap over that speed goes past nothing. Near a touch steps are held at the least of a share of the volume's radius: a
touch is only told where the gap is below zero, and none deeper than half that share is passed over.
"""

from __future__ import annotations

from math import inf, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ShapeColumn, VolumeColumn, VolumeShape
from emberwound.geometry.shapes import segment_box_share, segment_shares
from emberwound.geometry.sweep import MISS
from emberwound.geometry.volumes import volume_ends

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
def _axes(shapes: NDArray[np.float64], column: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A vector along the axes of a box."""
    a = ShapeColumn.AXES
    return (
        x * shapes[a, column] + y * shapes[a + 1, column] + z * shapes[a + 2, column],
        x * shapes[a + 3, column] + y * shapes[a + 4, column] + z * shapes[a + 5, column],
        x * shapes[a + 6, column] + y * shapes[a + 7, column] + z * shapes[a + 8, column],
    )


@kernel
def _out(shapes: NDArray[np.float64], column: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A vector along the axes of a box, in space."""
    a = ShapeColumn.AXES
    return (
        x * shapes[a, column] + y * shapes[a + 3, column] + z * shapes[a + 6, column],
        x * shapes[a + 1, column] + y * shapes[a + 4, column] + z * shapes[a + 7, column],
        x * shapes[a + 2, column] + y * shapes[a + 5, column] + z * shapes[a + 8, column],
    )


@kernel
def _into_box(
    shapes: NDArray[np.float64],
    column: int,
    mx: float,
    my: float,
    mz: float,
    a: tuple[float, float, float],
    b: tuple[float, float, float],
) -> tuple[float, float, float, float, float, float, float]:
    """The distance of the segment a..b from a box round m, and the nearest points: on the segment, in the box."""
    hx, hy, hz = shapes[ShapeColumn.B, column], shapes[ShapeColumn.B + 1, column], shapes[ShapeColumn.B + 2, column]
    px, py, pz = _axes(shapes, column, a[0] - mx, a[1] - my, a[2] - mz)
    ux, uy, uz = _axes(shapes, column, b[0] - a[0], b[1] - a[1], b[2] - a[2])
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    qx, qy, qz = px + share * ux, py + share * uy, pz + share * uz
    cx, cy, cz = min(max(qx, -hx), hx), min(max(qy, -hy), hy), min(max(qz, -hz), hz)
    dx, dy, dz = qx - cx, qy - cy, qz - cz
    sx, sy, sz = _out(shapes, column, cx, cy, cz)
    return (
        sqrt(dx * dx + dy * dy + dz * dz),
        a[0] + share * (b[0] - a[0]),
        a[1] + share * (b[1] - a[1]),
        a[2] + share * (b[2] - a[2]),
        mx + sx,
        my + sy,
        mz + sz,
    )


@kernel
def _edges_into_box(
    edges: NDArray[np.float64],
    one: int,
    om: tuple[float, float, float],
    boxes: NDArray[np.float64],
    other: int,
    bm: tuple[float, float, float],
) -> tuple[float, float, float, float, float, float, float]:
    """The least distance of the twelve edges of a box round `om` from a box round `bm`, and the nearest points."""
    best = (inf, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    for edge in range(12):
        axis = edge // 4
        s = 1.0 if edge % 2 else -1.0
        t = 1.0 if (edge // 2) % 2 else -1.0
        hx, hy, hz = edges[ShapeColumn.B, one], edges[ShapeColumn.B + 1, one], edges[ShapeColumn.B + 2, one]
        if axis == 0:
            a = _out(edges, one, -hx, s * hy, t * hz)
            b = _out(edges, one, hx, s * hy, t * hz)
        elif axis == 1:
            a = _out(edges, one, s * hx, -hy, t * hz)
            b = _out(edges, one, s * hx, hy, t * hz)
        else:
            a = _out(edges, one, s * hx, t * hy, -hz)
            b = _out(edges, one, s * hx, t * hy, hz)
        found = _into_box(
            boxes,
            other,
            bm[0],
            bm[1],
            bm[2],
            (om[0] + a[0], om[1] + a[1], om[2] + a[2]),
            (om[0] + b[0], om[1] + b[1], om[2] + b[2]),
        )
        if found[0] < best[0]:
            best = found
    return best


@kernel
def gap_at(
    volumes: NDArray[np.float64],
    volume: int,
    kind: int,
    shapes: NDArray[np.float64],
    shape: int,
    is_box: int,
    share: float,
) -> tuple[float, float, float, float]:
    """The gap between a volume and a shape at a fraction of the tick, negative where they overlap, and where.

    The place is that of the shape's core nearest to the volume, moved towards it by the shape's radius. Boxes are
    nearest to each other at an edge of one of them, or one holds a corner of the other.
    """
    ax, ay, az, bx, by, bz = volume_ends(volumes, volume, kind, share)
    later = 1.0 - share
    cx = shapes[ShapeColumn.A, shape] * later + shapes[ShapeColumn.A_END, shape] * share
    cy = shapes[ShapeColumn.A + 1, shape] * later + shapes[ShapeColumn.A_END + 1, shape] * share
    cz = shapes[ShapeColumn.A + 2, shape] * later + shapes[ShapeColumn.A_END + 2, shape] * share
    reach, size = volumes[ShapeColumn.RADIUS, volume], shapes[ShapeColumn.RADIUS, shape]
    if is_box:
        size = 0.0
        if kind == VolumeShape.HALF_SPACE:
            return _beyond_box(volumes, volume, ax, ay, az, shapes, shape, cx, cy, cz)
        if kind == VolumeShape.BOX:
            found = _edges_into_box(shapes, shape, (cx, cy, cz), volumes, volume, (ax, ay, az))
            apart, sx, sy, sz, vx, vy, vz = found
            back = _edges_into_box(volumes, volume, (ax, ay, az), shapes, shape, (cx, cy, cz))
            if back[0] < apart:
                apart, vx, vy, vz, sx, sy, sz = back
        else:
            apart, vx, vy, vz, sx, sy, sz = _into_box(shapes, shape, cx, cy, cz, (ax, ay, az), (bx, by, bz))
    else:
        dx = shapes[ShapeColumn.B, shape] * later + shapes[ShapeColumn.B_END, shape] * share
        dy = shapes[ShapeColumn.B + 1, shape] * later + shapes[ShapeColumn.B_END + 1, shape] * share
        dz = shapes[ShapeColumn.B + 2, shape] * later + shapes[ShapeColumn.B_END + 2, shape] * share
        if kind == VolumeShape.HALF_SPACE:
            nx, ny, nz = (
                volumes[ShapeColumn.AXES, volume],
                volumes[ShapeColumn.AXES + 1, volume],
                volumes[ShapeColumn.AXES + 2, volume],
            )
            c = (ax - cx) * nx + (ay - cy) * ny + (az - cz) * nz
            d = (ax - dx) * nx + (ay - dy) * ny + (az - dz) * nz
            if c <= d:
                return c - size - reach, cx + size * nx, cy + size * ny, cz + size * nz
            return d - size - reach, dx + size * nx, dy + size * ny, dz + size * nz
        if kind == VolumeShape.BOX:
            apart, sx, sy, sz, vx, vy, vz = _into_box(volumes, volume, ax, ay, az, (cx, cy, cz), (dx, dy, dz))
        else:
            ux, uy, uz = bx - ax, by - ay, bz - az
            wx, wy, wz = dx - cx, dy - cy, dz - cz
            a, b = segment_shares(ax - cx, ay - cy, az - cz, ux, uy, uz, wx, wy, wz)
            vx, vy, vz = ax + a * ux, ay + a * uy, az + a * uz
            sx, sy, sz = cx + b * wx, cy + b * wy, cz + b * wz
            ox, oy, oz = vx - sx, vy - sy, vz - sz
            apart = sqrt(ox * ox + oy * oy + oz * oz)
    if apart > 0.0:
        lift = min(size / apart, 1.0)
        sx, sy, sz = sx + lift * (vx - sx), sy + lift * (vy - sy), sz + lift * (vz - sz)
        return apart - size - reach, sx, sy, sz
    return -max(size + reach, 1e-9), sx, sy, sz


@kernel
def _beyond_box(
    volumes: NDArray[np.float64],
    volume: int,
    ax: float,
    ay: float,
    az: float,
    shapes: NDArray[np.float64],
    shape: int,
    cx: float,
    cy: float,
    cz: float,
) -> tuple[float, float, float, float]:
    """The gap between all that lies beyond a plane and the corner of a box that reaches furthest into it."""
    nx, ny, nz = (
        volumes[ShapeColumn.AXES, volume],
        volumes[ShapeColumn.AXES + 1, volume],
        volumes[ShapeColumn.AXES + 2, volume],
    )
    px, py, pz = _axes(shapes, shape, nx, ny, nz)
    hx, hy, hz = shapes[ShapeColumn.B, shape], shapes[ShapeColumn.B + 1, shape], shapes[ShapeColumn.B + 2, shape]
    x, y, z = _out(shapes, shape, hx if px > 0.0 else -hx, hy if py > 0.0 else -hy, hz if pz > 0.0 else -hz)
    x, y, z = cx + x, cy + y, cz + z
    return (ax - x) * nx + (ay - y) * ny + (az - z) * nz - volumes[ShapeColumn.RADIUS, volume], x, y, z


@kernel
def _speed(
    volumes: NDArray[np.float64], volume: int, kind: int, shapes: NDArray[np.float64], shape: int, is_box: int
) -> float:
    """At most how fast a gap can shrink, a tick: points of a core move as some mean of its ends."""
    fastest = 0.0
    for mine in range(2):
        if mine == 1 and kind != VolumeShape.CAPSULE:
            break
        start, end = (ShapeColumn.B, ShapeColumn.B_END) if mine else (ShapeColumn.A, ShapeColumn.A_END)
        vx = volumes[end, volume] - volumes[start, volume]
        vy = volumes[end + 1, volume] - volumes[start + 1, volume]
        vz = volumes[end + 2, volume] - volumes[start + 2, volume]
        for theirs in range(2):
            if theirs == 1 and is_box:
                break
            first, last = (ShapeColumn.B, ShapeColumn.B_END) if theirs else (ShapeColumn.A, ShapeColumn.A_END)
            wx = vx - shapes[last, shape] + shapes[first, shape]
            wy = vy - shapes[last + 1, shape] + shapes[first + 1, shape]
            wz = vz - shapes[last + 2, shape] + shapes[first + 2, shape]
            fastest = max(fastest, sqrt(wx * wx + wy * wy + wz * wz))
    if kind == VolumeShape.TURNING and volumes[VolumeColumn.TURNED, volume] > 0.0:
        out = max(abs(volumes[VolumeColumn.REACH, volume]), abs(volumes[VolumeColumn.REACH - 1, volume]))
        fastest += abs(volumes[VolumeColumn.TURNING, volume]) * out
    return fastest


@kernel
def first_touch(
    volumes: NDArray[np.float64],
    volume: int,
    kind: int,
    shapes: NDArray[np.float64],
    shape: int,
    is_box: int,
    begin: float,
    end: float,
) -> float:
    """The fraction of the tick from `begin` to `end` at which a volume first overlaps a shape; MISS for never."""
    size = volumes[ShapeColumn.RADIUS, volume]
    if kind == VolumeShape.BOX and size == 0.0:
        size = min(
            volumes[ShapeColumn.B, volume], volumes[ShapeColumn.B + 1, volume], volumes[ShapeColumn.B + 2, volume]
        )
    if size == 0.0:
        size = shapes[ShapeColumn.RADIUS, shape] if not is_box else shapes[ShapeColumn.B, shape]
    touch = TOUCH * (
        1.0
        + size
        + abs(shapes[ShapeColumn.A, shape])
        + abs(shapes[ShapeColumn.A + 1, shape])
        + abs(shapes[ShapeColumn.A + 2, shape])
    )
    gap = gap_at(volumes, volume, kind, shapes, shape, is_box, begin)[0]
    if gap < touch:
        return begin
    speed = _speed(volumes, volume, kind, shapes, shape, is_box)
    if speed == 0.0 or gap > speed * (end - begin):
        return MISS
    least = max(SLACK * size / speed, 1.0 / MOST_STEPS)
    share = begin
    while share < end:
        later = min(share + max(gap / speed, least), end)
        ahead = gap_at(volumes, volume, kind, shapes, shape, is_box, later)[0]
        if ahead < touch:
            return _crossing(volumes, volume, kind, shapes, shape, is_box, share, later, gap, ahead, touch)
        share, gap = later, ahead
    return MISS


@kernel
def _crossing(
    volumes: NDArray[np.float64],
    volume: int,
    kind: int,
    shapes: NDArray[np.float64],
    shape: int,
    is_box: int,
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
        gap = gap_at(volumes, volume, kind, shapes, shape, is_box, middle)[0] - level
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
