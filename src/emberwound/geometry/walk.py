"""How frames move by themselves: walking, following a path, lunging, falling, stopping at floors and walls."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.gap import capsule_box_touch
from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import (
    SHAPE_A,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_HIGH,
    SHAPE_LOW,
    WALL_FLOOR,
    WALL_HIGH,
    WALL_LOW,
)
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_GROUNDED,
    FRAME_LIVE,
    FRAME_LOOKS,
    FRAME_LUNGES,
    FRAME_MODEL,
    FRAME_MOVES,
    FRAME_PACE,
    FRAME_PATH,
    FRAME_PATH_NEXT,
    FRAME_PATH_STEP,
    FRAME_START,
    FRAME_TEAM,
    FRAME_VELOCITY,
    FRAME_WISH,
)
from emberwound.geometry.shapes import beyond, segment_box_share
from emberwound.geometry.sweep import MISS

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

MODEL_RADIUS, MODEL_HEIGHT, MODEL_GRAVITY, MODEL_SPEED = range(4)
MODEL_ROWS = 4
PATH_FIRST, PATH_COUNT, PATH_CLOSED = range(3)

AT_REST, MOVES, PLACED = 0, 1, 2
"""What `FRAME_MOVES` says: at rest until told otherwise, moving by itself, or left where its host put it."""

SLIDES = 3
STEEP = 0.7
"""A wall whose normal points up by less than this share carries nobody."""

FOOTHOLD = 1e-3
"""How far below its feet, as a share of its radius, a frame still finds support."""

MOST_POINTS = 64


@kernel
def _along_path(
    frames: NDArray[np.float64],
    marks: NDArray[np.int64],
    frame: int,
    points: NDArray[np.float64],
    paths: NDArray[np.int64],
    length: float,
) -> tuple[float, float]:
    """Where a frame comes to after `length` along its path, and which point it then goes to next.

    A closed path goes on from its last point to its first; any other is walked back and forth.
    """
    path = marks[FRAME_PATH, frame] - 1
    first, count = paths[PATH_FIRST, path], paths[PATH_COUNT, path]
    x, y = frames[FRAME_START, frame], frames[FRAME_START + 1, frame]
    for _ in range(MOST_POINTS):
        place = first + marks[FRAME_PATH_NEXT, frame]
        dx, dy = points[place, 0] - x, points[place, 1] - y
        apart = sqrt(dx * dx + dy * dy)
        if apart > length:
            return x + dx / apart * length, y + dy / apart * length
        length -= apart
        x, y = points[place, 0], points[place, 1]
        following = marks[FRAME_PATH_NEXT, frame] + marks[FRAME_PATH_STEP, frame]
        if following < 0 or following >= count:
            if paths[PATH_CLOSED, path]:
                following = 0
            else:
                marks[FRAME_PATH_STEP, frame] = -marks[FRAME_PATH_STEP, frame]
                following = marks[FRAME_PATH_NEXT, frame] + marks[FRAME_PATH_STEP, frame]
        marks[FRAME_PATH_NEXT, frame] = following
    return x, y


@kernel
def _first_wall(
    shapes: NDArray[np.float64],
    first_wall: int,
    feet: tuple[float, float, float],
    move: tuple[float, float, float],
    radius: float,
    core: float,
) -> tuple[float, int]:
    """The fraction of `move` at which an upright capsule standing at `feet` touches a wall, and which; MISS, -1."""
    best, met = MISS, -1
    low_x, high_x = feet[0] + min(move[0], 0.0) - radius, feet[0] + max(move[0], 0.0) + radius
    low_y, high_y = feet[1] + min(move[1], 0.0) - radius, feet[1] + max(move[1], 0.0) + radius
    low_z = feet[2] + min(move[2], 0.0)
    high_z = feet[2] + max(move[2], 0.0) + core + 2.0 * radius
    for wall in range(first_wall, shapes.shape[1]):
        if (
            high_x < shapes[SHAPE_LOW, wall]
            or low_x > shapes[SHAPE_HIGH, wall]
            or high_y < shapes[SHAPE_LOW + 1, wall]
            or low_y > shapes[SHAPE_HIGH + 1, wall]
            or high_z < shapes[SHAPE_LOW + 2, wall]
            or low_z > shapes[SHAPE_HIGH + 2, wall]
        ):
            continue
        px, py, pz = _to_wall(shapes, wall, feet[0], feet[1], feet[2] + radius)
        ux, uy, uz = _turn(shapes, wall, 0.0, 0.0, core)
        wx, wy, wz = _turn(shapes, wall, move[0], move[1], move[2])
        hx, hy, hz = shapes[SHAPE_B, wall], shapes[SHAPE_B + 1, wall], shapes[SHAPE_B + 2, wall]
        touch = capsule_box_touch(px, py, pz, ux, uy, uz, hx, hy, hz, wx, wy, wz, radius)
        if touch == 0.0 and not _goes_in(px, py, pz, ux, uy, uz, hx, hy, hz, wx, wy, wz):
            continue
        if touch < best:
            best, met = touch, wall
    return best, met


@kernel
def _goes_in(
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
) -> bool:
    """Whether a capsule that touches a box moves deeper into it; what rounding left overlapping may move along it."""
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    nx = beyond(px + share * ux, hx)
    ny = beyond(py + share * uy, hy)
    nz = beyond(pz + share * uz, hz)
    closing = nx * wx + ny * wy + nz * wz
    size = sqrt((nx * nx + ny * ny + nz * nz) * (wx * wx + wy * wy + wz * wz))
    return closing < -1e-9 * size


@kernel
def _to_wall(shapes: NDArray[np.float64], wall: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A point in a wall's own axes."""
    return _turn(shapes, wall, x - shapes[SHAPE_A, wall], y - shapes[SHAPE_A + 1, wall], z - shapes[SHAPE_A + 2, wall])


@kernel
def _turn(shapes: NDArray[np.float64], wall: int, x: float, y: float, z: float) -> tuple[float, float, float]:
    """A vector in a wall's own axes."""
    a = SHAPE_AXES
    return (
        x * shapes[a, wall] + y * shapes[a + 1, wall] + z * shapes[a + 2, wall],
        x * shapes[a + 3, wall] + y * shapes[a + 4, wall] + z * shapes[a + 5, wall],
        x * shapes[a + 6, wall] + y * shapes[a + 7, wall] + z * shapes[a + 8, wall],
    )


@kernel
def _wall_normal(
    shapes: NDArray[np.float64], wall: int, feet: tuple[float, float, float], radius: float, core: float
) -> tuple[float, float, float]:
    """The unit vector out of a wall towards an upright capsule that touches it; 0 when their cores overlap."""
    px, py, pz = _to_wall(shapes, wall, feet[0], feet[1], feet[2] + radius)
    ux, uy, uz = _turn(shapes, wall, 0.0, 0.0, core)
    hx, hy, hz = shapes[SHAPE_B, wall], shapes[SHAPE_B + 1, wall], shapes[SHAPE_B + 2, wall]
    share = segment_box_share(px, py, pz, ux, uy, uz, hx, hy, hz)
    a, b, c = beyond(px + share * ux, hx), beyond(py + share * uy, hy), beyond(pz + share * uz, hz)
    length = sqrt(a * a + b * b + c * c)
    if length == 0.0:
        return 0.0, 0.0, 0.0
    x = SHAPE_AXES
    return (
        (a * shapes[x, wall] + b * shapes[x + 3, wall] + c * shapes[x + 6, wall]) / length,
        (a * shapes[x + 1, wall] + b * shapes[x + 4, wall] + c * shapes[x + 7, wall]) / length,
        (a * shapes[x + 2, wall] + b * shapes[x + 5, wall] + c * shapes[x + 8, wall]) / length,
    )


@kernel
def _advance(
    frames: NDArray[np.float64],
    marks: NDArray[np.int64],
    frame: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    move: tuple[float, float, float],
    radius: float,
    core: float,
    weightless: bool,  # noqa: FBT001 (kernels take no keywords)
) -> None:
    """Carry a frame along `move`, sliding along what it meets, and write its END, velocity and footing.

    What feels no pull stands wherever it is.
    """
    x, y, z = frames[FRAME_START, frame], frames[FRAME_START + 1, frame], frames[FRAME_START + 2, frame]
    mx, my, mz = move
    vx = frames[FRAME_VELOCITY, frame]
    vy = frames[FRAME_VELOCITY + 1, frame]
    vz = frames[FRAME_VELOCITY + 2, frame]
    falls = not marks[FRAME_GROUNDED, frame]
    lands = False
    for _ in range(SLIDES):
        fraction, wall = _first_wall(shapes, first_wall, (x, y, z), (mx, my, mz), radius, core)
        if wall < 0:
            x, y, z = x + mx, y + my, z + mz
            break
        x, y, z = x + mx * fraction, y + my * fraction, z + mz * fraction
        nx, ny, nz = _wall_normal(shapes, wall, (x, y, z), radius, core)
        mx, my, mz = mx * (1.0 - fraction), my * (1.0 - fraction), mz * (1.0 - fraction)
        into = mx * nx + my * ny + mz * nz
        mx, my, mz = mx - into * nx, my - into * ny, mz - into * nz
        into = min(vx * nx + vy * ny + vz * nz, 0.0)
        vx, vy, vz = vx - into * nx, vy - into * ny, vz - into * nz
        lands = lands or nz > STEEP
    floor = max(walls[WALL_FLOOR], walls[WALL_LOW + 2])
    if z <= floor:
        z, lands = floor, True
    if x < walls[WALL_LOW] or x > walls[WALL_HIGH]:
        x, vx = min(max(x, walls[WALL_LOW]), walls[WALL_HIGH]), 0.0
    if y < walls[WALL_LOW + 1] or y > walls[WALL_HIGH + 1]:
        y, vy = min(max(y, walls[WALL_LOW + 1]), walls[WALL_HIGH + 1]), 0.0
    if z > walls[WALL_HIGH + 2]:
        z, vz = walls[WALL_HIGH + 2], min(vz, 0.0)
    lands = lands or weightless
    if not lands and not falls and vz <= 0.0:
        fraction, wall = _first_wall(shapes, first_wall, (x, y, z), (0.0, 0.0, -FOOTHOLD * radius), radius, core)
        lands = wall >= 0
    if lands:
        vz = max(vz, 0.0) if marks[FRAME_LUNGES, frame] else 0.0
    marks[FRAME_GROUNDED, frame] = 1 if lands else 0
    frames[FRAME_END, frame], frames[FRAME_END + 1, frame], frames[FRAME_END + 2, frame] = x, y, z
    frames[FRAME_VELOCITY, frame], frames[FRAME_VELOCITY + 1, frame] = vx, vy
    frames[FRAME_VELOCITY + 2, frame] = vz


@kernel
def move_frames(
    frames: NDArray[np.float64],
    marks: NDArray[np.int64],
    models: NDArray[np.float64],
    points: NDArray[np.float64],
    paths: NDArray[np.int64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    first_wall: int,
    tick_rate: int,
) -> int:
    """Move every frame that moves by itself through one tick; how many will move in the next.

    On the ground a frame has the velocity it wishes for, in the air it keeps what it had unless it wishes for another;
    a lunge keeps its velocity and feels no pull. Falling is exact: v dt - g dt^2 / 2. Walls are boxes in the columns
    of `shapes` from `first_wall` on.
    """
    dt = 1.0 / tick_rate
    moving = 0
    for frame in range(frames.shape[1]):
        if marks[FRAME_MOVES, frame] != MOVES or marks[FRAME_LIVE, frame] == 0:
            continue
        model = marks[FRAME_MODEL, frame]
        radius = min(models[MODEL_RADIUS, model], 0.5 * models[MODEL_HEIGHT, model])
        core = models[MODEL_HEIGHT, model] - 2.0 * radius
        wx, wy = frames[FRAME_WISH, frame], frames[FRAME_WISH + 1, frame]
        grounded = marks[FRAME_GROUNDED, frame] == 1
        dz = 0.0
        if marks[FRAME_LUNGES, frame]:
            dz = frames[FRAME_VELOCITY + 2, frame] * dt
        else:
            if marks[FRAME_PATH, frame]:
                x, y = _along_path(
                    frames, marks, frame, points, paths, models[MODEL_SPEED, model] * frames[FRAME_PACE, frame] * dt
                )
                wx, wy = (x - frames[FRAME_START, frame]) / dt, (y - frames[FRAME_START + 1, frame]) / dt
                speed = sqrt(wx * wx + wy * wy)
                if speed > 0.0 and not marks[FRAME_LOOKS, frame]:
                    frames[FRAME_AHEAD, frame], frames[FRAME_AHEAD + 1, frame] = wx / speed, wy / speed
            if grounded or wx != 0.0 or wy != 0.0:
                frames[FRAME_VELOCITY, frame], frames[FRAME_VELOCITY + 1, frame] = wx, wy
            if not grounded:
                pull = models[MODEL_GRAVITY, model]
                dz = (frames[FRAME_VELOCITY + 2, frame] - 0.5 * pull * dt) * dt
                frames[FRAME_VELOCITY + 2, frame] -= pull * dt
        move = (frames[FRAME_VELOCITY, frame] * dt, frames[FRAME_VELOCITY + 1, frame] * dt, dz)
        _advance(
            frames, marks, frame, shapes, first_wall, walls, move, radius, core, models[MODEL_GRAVITY, model] == 0.0
        )
        still = (
            frames[FRAME_VELOCITY, frame] == 0.0
            and frames[FRAME_VELOCITY + 1, frame] == 0.0
            and marks[FRAME_GROUNDED, frame] == 1
            and wx == 0.0
            and wy == 0.0
            and not marks[FRAME_LUNGES, frame]
        )
        if still:
            marks[FRAME_MOVES, frame] = AT_REST
        else:
            moving += 1
    return moving


@kernel
def look_at_foes(frames: NDArray[np.float64], marks: NDArray[np.int64], sideways: int) -> int:
    """Turn every live frame that looks for foes to the nearest one; how many turned.

    Nearest on the ground, by the poses at the start of the tick; of equals the lowest column. `sideways` is 1 where
    frames look along y too.
    """
    turned = 0
    for frame in range(frames.shape[1]):
        if not marks[FRAME_LOOKS, frame] or marks[FRAME_LIVE, frame] != 1:
            continue
        best, bx, by = -1.0, 0.0, 0.0
        for other in range(frames.shape[1]):
            if marks[FRAME_LIVE, other] != 1 or marks[FRAME_TEAM, other] == marks[FRAME_TEAM, frame]:
                continue
            dx = frames[FRAME_START, other] - frames[FRAME_START, frame]
            dy = (frames[FRAME_START + 1, other] - frames[FRAME_START + 1, frame]) * sideways
            square = dx * dx + dy * dy
            if square > 0.0 and (best < 0.0 or square < best):
                best, bx, by = square, dx, dy
        if best <= 0.0:
            continue
        length = sqrt(best)
        if frames[FRAME_AHEAD, frame] != bx / length or frames[FRAME_AHEAD + 1, frame] != by / length:
            frames[FRAME_AHEAD, frame], frames[FRAME_AHEAD + 1, frame] = bx / length, by / length
            turned += 1
    return turned
