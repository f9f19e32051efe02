"""What a shape is: its core, its bounds, its gap to another, its skin, and when what flies first touches it.

A shape stands in a column of an array whose rows are those of `ShapeColumn`. Its row KIND says what it is, a
ShapeKind. Hurtboxes, hitboxes, walls and areas are shapes alike.
"""

from __future__ import annotations

from math import cos, inf, sin, sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import ShapeColumn, ShapeKind, VolumeColumn
from emberwound.geometry.nearest import clamp, segment_box_share, segment_shares, share_on_segment
from emberwound.geometry.sweep import touch_box, touch_capsule

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


@kernel
def put(shapes: NDArray[np.float64], row: int, shape: int, point: tuple[float, float, float]) -> None:
    """Write a point into three rows of a column."""
    shapes[row, shape] = point[0]
    shapes[row + 1, shape] = point[1]
    shapes[row + 2, shape] = point[2]


@kernel
def along_axes(shapes: NDArray[np.float64], column: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A vector along the axes of a box."""
    a = ShapeColumn.AXES
    return (
        x * shapes[a, column] + y * shapes[a + 1, column] + z * shapes[a + 2, column],
        x * shapes[a + 3, column] + y * shapes[a + 4, column] + z * shapes[a + 5, column],
        x * shapes[a + 6, column] + y * shapes[a + 7, column] + z * shapes[a + 8, column],
    )


@kernel
def out_of_axes(shapes: NDArray[np.float64], column: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A vector along the axes of a box, in space."""
    a = ShapeColumn.AXES
    return (
        x * shapes[a, column] + y * shapes[a + 3, column] + z * shapes[a + 6, column],
        x * shapes[a + 1, column] + y * shapes[a + 4, column] + z * shapes[a + 7, column],
        x * shapes[a + 2, column] + y * shapes[a + 5, column] + z * shapes[a + 8, column],
    )


@kernel
def core_ends(
    shapes: NDArray[np.float64], column: int, share: float
) -> tuple[float, float, float, float, float, float]:
    """Both ends of the core of a shape at a fraction of the tick; for a box or a plane, its place twice."""
    kind = shapes[ShapeColumn.KIND, column]
    later = 1.0 - share
    ax = shapes[ShapeColumn.A, column] * later + shapes[ShapeColumn.A_END, column] * share
    ay = shapes[ShapeColumn.A + 1, column] * later + shapes[ShapeColumn.A_END + 1, column] * share
    az = shapes[ShapeColumn.A + 2, column] * later + shapes[ShapeColumn.A_END + 2, column] * share
    if kind == ShapeKind.CAPSULE:
        return (
            ax,
            ay,
            az,
            shapes[ShapeColumn.B, column] * later + shapes[ShapeColumn.B_END, column] * share,
            shapes[ShapeColumn.B + 1, column] * later + shapes[ShapeColumn.B_END + 1, column] * share,
            shapes[ShapeColumn.B + 2, column] * later + shapes[ShapeColumn.B_END + 2, column] * share,
        )
    if kind != ShapeKind.TURNING:
        return ax, ay, az, ax, ay, az
    turn = shapes[VolumeColumn.TURN, column] + shapes[VolumeColumn.TURNING, column] * min(
        share, shapes[VolumeColumn.TURNED, column]
    )
    one, other = cos(turn), sin(turn)
    wx = one * shapes[VolumeColumn.ONE, column] + other * shapes[VolumeColumn.OTHER, column]
    wy = one * shapes[VolumeColumn.ONE + 1, column] + other * shapes[VolumeColumn.OTHER + 1, column]
    wz = one * shapes[VolumeColumn.ONE + 2, column] + other * shapes[VolumeColumn.OTHER + 2, column]
    inner, reach = shapes[VolumeColumn.INNER, column], shapes[VolumeColumn.REACH, column]
    return (
        ax + inner * wx,
        ay + inner * wy,
        az + inner * wz,
        ax + reach * wx,
        ay + reach * wy,
        az + reach * wz,
    )


@kernel
def bound_shape(shapes: NDArray[np.float64], column: int) -> None:
    """Write the bounds of a shape through its tick; what turns about A is bounded where it is laid."""
    kind, radius = shapes[ShapeColumn.KIND, column], shapes[ShapeColumn.RADIUS, column]
    for axis in range(3):
        a, c = shapes[ShapeColumn.A + axis, column], shapes[ShapeColumn.A_END + axis, column]
        low, high = min(a, c), max(a, c)
        if kind == ShapeKind.CAPSULE:
            b, d = shapes[ShapeColumn.B + axis, column], shapes[ShapeColumn.B_END + axis, column]
            low, high = min(low, b, d), max(high, b, d)
        elif kind == ShapeKind.BOX:
            half = 0.0
            for side in range(3):
                half += abs(shapes[ShapeColumn.AXES + 3 * side + axis, column]) * shapes[ShapeColumn.B + side, column]
            low, high = low - half, high + half
        else:
            low, high = -inf, inf
        shapes[ShapeColumn.LOW + axis, column], shapes[ShapeColumn.HIGH + axis, column] = low - radius, high + radius


@kernel
def least_size(shapes: NDArray[np.float64], column: int) -> float:
    """How thick a shape is at least, from its middle: its radius, and for a box half of its least size more."""
    size: float = shapes[ShapeColumn.RADIUS, column]
    if shapes[ShapeColumn.KIND, column] == ShapeKind.BOX:
        size += min(shapes[ShapeColumn.B, column], shapes[ShapeColumn.B + 1, column], shapes[ShapeColumn.B + 2, column])
    return size


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
    px, py, pz = along_axes(shapes, column, a[0] - mx, a[1] - my, a[2] - mz)
    ux, uy, uz = along_axes(shapes, column, b[0] - a[0], b[1] - a[1], b[2] - a[2])
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    qx, qy, qz = px + share * ux, py + share * uy, pz + share * uz
    cx, cy, cz = min(max(qx, -hx), hx), min(max(qy, -hy), hy), min(max(qz, -hz), hz)
    dx, dy, dz = qx - cx, qy - cy, qz - cz
    sx, sy, sz = out_of_axes(shapes, column, cx, cy, cz)
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
            a = out_of_axes(edges, one, -hx, s * hy, t * hz)
            b = out_of_axes(edges, one, hx, s * hy, t * hz)
        elif axis == 1:
            a = out_of_axes(edges, one, s * hx, -hy, t * hz)
            b = out_of_axes(edges, one, s * hx, hy, t * hz)
        else:
            a = out_of_axes(edges, one, s * hx, t * hy, -hz)
            b = out_of_axes(edges, one, s * hx, t * hy, hz)
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
    shapes: NDArray[np.float64],
    shape: int,
    share: float,
) -> tuple[float, float, float, float]:
    """The gap between a volume and a shape at a fraction of the tick, negative where they overlap, and where.

    The place is that of the shape's core nearest to the volume, moved towards it by the shape's radius. Boxes are
    nearest to each other at an edge of one of them, or one holds a corner of the other.
    """
    kind, is_box = volumes[ShapeColumn.KIND, volume], shapes[ShapeColumn.KIND, shape] == ShapeKind.BOX
    ax, ay, az, bx, by, bz = core_ends(volumes, volume, share)
    later = 1.0 - share
    cx = shapes[ShapeColumn.A, shape] * later + shapes[ShapeColumn.A_END, shape] * share
    cy = shapes[ShapeColumn.A + 1, shape] * later + shapes[ShapeColumn.A_END + 1, shape] * share
    cz = shapes[ShapeColumn.A + 2, shape] * later + shapes[ShapeColumn.A_END + 2, shape] * share
    reach, size = volumes[ShapeColumn.RADIUS, volume], shapes[ShapeColumn.RADIUS, shape]
    if is_box:
        size = 0.0
        if kind == ShapeKind.HALF_SPACE:
            return _beyond_box(volumes, volume, ax, ay, az, shapes, shape, cx, cy, cz)
        if kind == ShapeKind.BOX:
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
        if kind == ShapeKind.HALF_SPACE:
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
        if kind == ShapeKind.BOX:
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
    px, py, pz = along_axes(shapes, shape, nx, ny, nz)
    hx, hy, hz = shapes[ShapeColumn.B, shape], shapes[ShapeColumn.B + 1, shape], shapes[ShapeColumn.B + 2, shape]
    x, y, z = out_of_axes(shapes, shape, hx if px > 0.0 else -hx, hy if py > 0.0 else -hy, hz if pz > 0.0 else -hz)
    x, y, z = cx + x, cy + y, cz + z
    return (ax - x) * nx + (ay - y) * ny + (az - z) * nz - volumes[ShapeColumn.RADIUS, volume], x, y, z


@kernel
def core_speed(volumes: NDArray[np.float64], volume: int, shapes: NDArray[np.float64], shape: int) -> float:
    """At most how fast a gap can shrink, a tick: points of a core move as some mean of its ends."""
    kind, is_box = volumes[ShapeColumn.KIND, volume], shapes[ShapeColumn.KIND, shape] == ShapeKind.BOX
    fastest = 0.0
    for mine in range(2):
        if mine == 1 and kind != ShapeKind.CAPSULE:
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
    if kind == ShapeKind.TURNING and volumes[VolumeColumn.TURNED, volume] > 0.0:
        out = max(abs(volumes[VolumeColumn.REACH, volume]), abs(volumes[VolumeColumn.REACH - 1, volume]))
        fastest += abs(volumes[VolumeColumn.TURNING, volume]) * out
    return fastest


@kernel
def nearest_of(
    place: tuple[float, float, float], share: float, shapes: NDArray[np.float64], shape: int
) -> tuple[float, float, float, float]:
    """How far a place is from a shape, and the shape's nearest point."""
    later = 1.0 - share
    ax = shapes[ShapeColumn.A, shape] * later + shapes[ShapeColumn.A_END, shape] * share
    ay = shapes[ShapeColumn.A + 1, shape] * later + shapes[ShapeColumn.A_END + 1, shape] * share
    az = shapes[ShapeColumn.A + 2, shape] * later + shapes[ShapeColumn.A_END + 2, shape] * share
    px, py, pz = place[0] - ax, place[1] - ay, place[2] - az
    nx = ny = nz = 0.0
    size = shapes[ShapeColumn.RADIUS, shape]
    if shapes[ShapeColumn.KIND, shape] == ShapeKind.BOX:
        size = 0.0
        for axis in range(3):
            row = ShapeColumn.AXES + 3 * axis
            along = px * shapes[row, shape] + py * shapes[row + 1, shape] + pz * shapes[row + 2, shape]
            along = clamp(along, -shapes[ShapeColumn.B + axis, shape], shapes[ShapeColumn.B + axis, shape])
            nx += along * shapes[row, shape]
            ny += along * shapes[row + 1, shape]
            nz += along * shapes[row + 2, shape]
    else:
        ux = shapes[ShapeColumn.B, shape] * later + shapes[ShapeColumn.B_END, shape] * share - ax
        uy = shapes[ShapeColumn.B + 1, shape] * later + shapes[ShapeColumn.B_END + 1, shape] * share - ay
        uz = shapes[ShapeColumn.B + 2, shape] * later + shapes[ShapeColumn.B_END + 2, shape] * share - az
        along = share_on_segment(px, py, pz, ux, uy, uz)
        nx, ny, nz = along * ux, along * uy, along * uz
    dx, dy, dz = px - nx, py - ny, pz - nz
    apart = sqrt(dx * dx + dy * dy + dz * dz)
    lift = min(size / apart, 1.0) if apart > 0.0 else 0.0
    return max(apart - size, 0.0), ax + nx + lift * dx, ay + ny + lift * dy, az + nz + lift * dz


@kernel
def skin_normal(
    shapes: NDArray[np.float64], shape: int, x: float, y: float, z: float
) -> tuple[float, float, float, float]:
    """The unit vector out of a box towards (x, y, z) and how far outside that is; inside, out of the nearest face."""
    ox, oy, oz = (
        x - shapes[ShapeColumn.A, shape],
        y - shapes[ShapeColumn.A + 1, shape],
        z - shapes[ShapeColumn.A + 2, shape],
    )
    nx = ny = nz = 0.0
    nearest, depth, side = 0, inf, 1.0
    for axis in range(3):
        row = ShapeColumn.AXES + 3 * axis
        along = ox * shapes[row, shape] + oy * shapes[row + 1, shape] + oz * shapes[row + 2, shape]
        half = shapes[ShapeColumn.B + axis, shape]
        out = along - min(max(along, -half), half)
        nx += out * shapes[row, shape]
        ny += out * shapes[row + 1, shape]
        nz += out * shapes[row + 2, shape]
        if half - abs(along) < depth:
            nearest, depth, side = row, half - abs(along), 1.0 if along > 0.0 else -1.0
    length = sqrt(nx * nx + ny * ny + nz * nz)
    if length > 0.0:
        return nx / length, ny / length, nz / length, length
    return (
        side * shapes[nearest, shape],
        side * shapes[nearest + 1, shape],
        side * shapes[nearest + 2, shape],
        -depth,
    )


@kernel
def distance_from(shapes: NDArray[np.float64], shape: int, x: float, y: float, z: float) -> float:
    """How far a point is from a shape at the start of the tick; below 0 within it."""
    kind, radius = shapes[ShapeColumn.KIND, shape], shapes[ShapeColumn.RADIUS, shape]
    px, py, pz = (
        x - shapes[ShapeColumn.A, shape],
        y - shapes[ShapeColumn.A + 1, shape],
        z - shapes[ShapeColumn.A + 2, shape],
    )
    if kind == ShapeKind.HALF_SPACE:
        a = ShapeColumn.AXES
        before: float = -(px * shapes[a, shape] + py * shapes[a + 1, shape] + pz * shapes[a + 2, shape]) - radius
        return before
    if kind == ShapeKind.BOX:
        apart: float = skin_normal(shapes, shape, x, y, z)[3] - radius
        return apart
    ux = shapes[ShapeColumn.B, shape] - shapes[ShapeColumn.A, shape]
    uy = shapes[ShapeColumn.B + 1, shape] - shapes[ShapeColumn.A + 1, shape]
    uz = shapes[ShapeColumn.B + 2, shape] - shapes[ShapeColumn.A + 2, shape]
    along = share_on_segment(px, py, pz, ux, uy, uz)
    dx, dy, dz = px - along * ux, py - along * uy, pz - along * uz
    beside: float = sqrt(dx * dx + dy * dy + dz * dz) - radius
    return beside


@kernel
def touch_shape(
    ox: float,
    oy: float,
    oz: float,
    wx: float,
    wy: float,
    wz: float,
    radius: float,
    shapes: NDArray[np.float64],
    shape: int,
) -> float:
    """Fraction of the move w at which a sphere starting at o, both relative to the shape's A, touches it; or MISS."""
    if shapes[ShapeColumn.KIND, shape] == ShapeKind.BOX:
        a = ShapeColumn.AXES
        return touch_box(
            ox * shapes[a, shape] + oy * shapes[a + 1, shape] + oz * shapes[a + 2, shape],
            ox * shapes[a + 3, shape] + oy * shapes[a + 4, shape] + oz * shapes[a + 5, shape],
            ox * shapes[a + 6, shape] + oy * shapes[a + 7, shape] + oz * shapes[a + 8, shape],
            wx * shapes[a, shape] + wy * shapes[a + 1, shape] + wz * shapes[a + 2, shape],
            wx * shapes[a + 3, shape] + wy * shapes[a + 4, shape] + wz * shapes[a + 5, shape],
            wx * shapes[a + 6, shape] + wy * shapes[a + 7, shape] + wz * shapes[a + 8, shape],
            shapes[ShapeColumn.B, shape],
            shapes[ShapeColumn.B + 1, shape],
            shapes[ShapeColumn.B + 2, shape],
            radius,
        )
    return touch_capsule(
        ox,
        oy,
        oz,
        wx,
        wy,
        wz,
        shapes[ShapeColumn.B, shape] - shapes[ShapeColumn.A, shape],
        shapes[ShapeColumn.B + 1, shape] - shapes[ShapeColumn.A + 1, shape],
        shapes[ShapeColumn.B + 2, shape] - shapes[ShapeColumn.A + 2, shape],
        radius + shapes[ShapeColumn.RADIUS, shape],
    )
