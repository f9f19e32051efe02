"""How frames move by themselves: walking, following a path, lunging, falling, stopping at floors and walls."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import WALL_FLOOR, WALL_HIGH, WALL_LOW
from emberwound.geometry.obstacles import carry, has_footing, within_bounds
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_FROZEN,
    FRAME_GROUNDED,
    FRAME_LANDED,
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
    FRAME_THROWN,
    FRAME_VELOCITY,
    FRAME_WISH,
    put,
)
from emberwound.geometry.thrown import MODEL_GRAVITY, MODEL_HEIGHT, MODEL_RADIUS, MODEL_SPEED, throw_frame

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

PATH_FIRST, PATH_COUNT, PATH_CLOSED = range(3)

AT_REST, MOVES, PLACED = 0, 1, 2
"""What `FRAME_MOVES` says: at rest until told otherwise, moving by itself, or left where its host put it."""

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
    f, v = FRAME_START, FRAME_VELOCITY
    falls = not marks[FRAME_GROUNDED, frame]
    feet = (frames[f, frame], frames[f + 1, frame], frames[f + 2, frame])
    velocity = (frames[v, frame], frames[v + 1, frame], frames[v + 2, frame])
    x, y, z, vx, vy, vz, lands = carry(shapes, first_wall, feet, move, velocity, radius, core, 0.0)
    floor = max(walls[WALL_FLOOR], walls[WALL_LOW + 2])
    if z <= floor:
        z, lands = floor, True
    x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
    if z > walls[WALL_HIGH + 2]:
        z, vz = walls[WALL_HIGH + 2], min(vz, 0.0)
    lands = lands or weightless
    if not lands and not falls and vz <= 0.0:
        lands = has_footing(shapes, first_wall, (x, y, z), radius, core)
    if lands:
        vz = max(vz, 0.0) if marks[FRAME_LUNGES, frame] else 0.0
    marks[FRAME_GROUNDED, frame] = 1 if lands else 0
    put(frames, FRAME_END, frame, (x, y, z))
    put(frames, FRAME_VELOCITY, frame, (vx, vy, vz))


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
) -> tuple[int, int]:
    """Move every frame that moves by itself through one tick; how many will move in the next, and how many landed.

    What was thrown flies and slides as `geometry.thrown` says. On the ground a frame has the velocity it wishes for, in
    the air it keeps what it had unless it wishes for another;
    a lunge keeps its velocity and feels no pull. Falling is exact: v dt - g dt^2 / 2. Walls are boxes in the columns
    of `shapes` from `first_wall` on.
    """
    dt = 1.0 / tick_rate
    moving = landed = 0
    for frame in range(frames.shape[1]):
        if marks[FRAME_MOVES, frame] != MOVES or marks[FRAME_LIVE, frame] == 0:
            continue
        if marks[FRAME_FROZEN, frame]:
            moving += 1
            continue
        if marks[FRAME_THROWN, frame]:
            moving += throw_frame(frames, marks, frame, models, shapes, walls, first_wall, dt)
            landed += marks[FRAME_LANDED, frame]
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
    return moving, landed


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
