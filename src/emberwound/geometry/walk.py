"""How frames move by themselves: walking, following a path, lunging, falling, stopping at floors and walls."""

from __future__ import annotations

from math import sqrt
from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.knockback_flight import fly_knocked_back
from emberwound.geometry.layout import ArenaBound, BodyColumn, BodyMark, ModelColumn, Movement, PathMark, Presence
from emberwound.geometry.obstacles import carry, has_footing, within_bounds
from emberwound.geometry.pose import put

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


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
    path = marks[BodyMark.PATH, frame] - 1
    first, count = paths[PathMark.FIRST, path], paths[PathMark.COUNT, path]
    x, y = frames[BodyColumn.START, frame], frames[BodyColumn.START + 1, frame]
    for _ in range(MOST_POINTS):
        place = first + marks[BodyMark.PATH_NEXT, frame]
        dx, dy = points[place, 0] - x, points[place, 1] - y
        apart = sqrt(dx * dx + dy * dy)
        if apart > length:
            return x + dx / apart * length, y + dy / apart * length
        length -= apart
        x, y = points[place, 0], points[place, 1]
        following = marks[BodyMark.PATH_NEXT, frame] + marks[BodyMark.PATH_STEP, frame]
        if following < 0 or following >= count:
            if paths[PathMark.CLOSED, path]:
                following = 0
            else:
                marks[BodyMark.PATH_STEP, frame] = -marks[BodyMark.PATH_STEP, frame]
                following = marks[BodyMark.PATH_NEXT, frame] + marks[BodyMark.PATH_STEP, frame]
        marks[BodyMark.PATH_NEXT, frame] = following
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
    f, v = BodyColumn.START, BodyColumn.VELOCITY
    falls = not marks[BodyMark.GROUNDED, frame]
    feet = (frames[f, frame], frames[f + 1, frame], frames[f + 2, frame])
    velocity = (frames[v, frame], frames[v + 1, frame], frames[v + 2, frame])
    x, y, z, vx, vy, vz, lands = carry(shapes, first_wall, feet, move, velocity, radius, core, 0.0)
    floor = max(walls[ArenaBound.FLOOR], walls[ArenaBound.LOW + 2])
    if z <= floor:
        z, lands = floor, True
    x, y, vx, vy = within_bounds(walls, x, y, vx, vy)
    if z > walls[ArenaBound.HIGH + 2]:
        z, vz = walls[ArenaBound.HIGH + 2], min(vz, 0.0)
    lands = lands or weightless
    if not lands and not falls and vz <= 0.0:
        lands = has_footing(shapes, first_wall, (x, y, z), radius, core)
    if lands:
        vz = max(vz, 0.0) if marks[BodyMark.LUNGES, frame] else 0.0
    marks[BodyMark.GROUNDED, frame] = 1 if lands else 0
    put(frames, BodyColumn.END, frame, (x, y, z))
    put(frames, BodyColumn.VELOCITY, frame, (vx, vy, vz))


@kernel
def move_bodies(
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
        if marks[BodyMark.MOVEMENT, frame] != Movement.MOVING or marks[BodyMark.PRESENCE, frame] == Presence.NONE:
            continue
        if marks[BodyMark.FROZEN_UNTIL, frame]:
            moving += 1
            continue
        if marks[BodyMark.KNOCKBACK, frame]:
            moving += fly_knocked_back(frames, marks, frame, models, shapes, walls, first_wall, dt)
            landed += marks[BodyMark.LANDED, frame]
            continue
        model = marks[BodyMark.MODEL, frame]
        radius = min(models[ModelColumn.RADIUS, model], 0.5 * models[ModelColumn.HEIGHT, model])
        core = models[ModelColumn.HEIGHT, model] - 2.0 * radius
        wx, wy = frames[BodyColumn.WISH, frame], frames[BodyColumn.WISH + 1, frame]
        grounded = marks[BodyMark.GROUNDED, frame] == 1
        dz = 0.0
        if marks[BodyMark.LUNGES, frame]:
            dz = frames[BodyColumn.VELOCITY + 2, frame] * dt
        else:
            if marks[BodyMark.PATH, frame]:
                x, y = _along_path(
                    frames,
                    marks,
                    frame,
                    points,
                    paths,
                    models[ModelColumn.SPEED, model] * frames[BodyColumn.PACE, frame] * dt,
                )
                wx, wy = (x - frames[BodyColumn.START, frame]) / dt, (y - frames[BodyColumn.START + 1, frame]) / dt
                speed = sqrt(wx * wx + wy * wy)
                if speed > 0.0 and not marks[BodyMark.TURNS_TO_FOES, frame]:
                    frames[BodyColumn.AHEAD, frame], frames[BodyColumn.AHEAD + 1, frame] = wx / speed, wy / speed
            if grounded or wx != 0.0 or wy != 0.0:
                frames[BodyColumn.VELOCITY, frame], frames[BodyColumn.VELOCITY + 1, frame] = wx, wy
            if not grounded:
                pull = models[ModelColumn.GRAVITY, model]
                dz = (frames[BodyColumn.VELOCITY + 2, frame] - 0.5 * pull * dt) * dt
                frames[BodyColumn.VELOCITY + 2, frame] -= pull * dt
        move = (frames[BodyColumn.VELOCITY, frame] * dt, frames[BodyColumn.VELOCITY + 1, frame] * dt, dz)
        _advance(
            frames,
            marks,
            frame,
            shapes,
            first_wall,
            walls,
            move,
            radius,
            core,
            models[ModelColumn.GRAVITY, model] == 0.0,
        )
        still = (
            frames[BodyColumn.VELOCITY, frame] == 0.0
            and frames[BodyColumn.VELOCITY + 1, frame] == 0.0
            and marks[BodyMark.GROUNDED, frame] == 1
            and wx == 0.0
            and wy == 0.0
            and not marks[BodyMark.LUNGES, frame]
        )
        if still:
            marks[BodyMark.MOVEMENT, frame] = Movement.AT_REST
        else:
            moving += 1
    return moving, landed


@kernel
def turn_to_foes(frames: NDArray[np.float64], marks: NDArray[np.int64], sideways: int) -> int:
    """Turn every live frame that looks for foes to the nearest one; how many turned.

    Nearest on the ground, by the poses at the start of the tick; of equals the lowest column. `sideways` is 1 where
    frames look along y too.
    """
    turned = 0
    for frame in range(frames.shape[1]):
        if not marks[BodyMark.TURNS_TO_FOES, frame] or marks[BodyMark.PRESENCE, frame] != Presence.LIVE:
            continue
        best, bx, by = -1.0, 0.0, 0.0
        for other in range(frames.shape[1]):
            if (
                marks[BodyMark.PRESENCE, other] != Presence.LIVE
                or marks[BodyMark.TEAM, other] == marks[BodyMark.TEAM, frame]
            ):
                continue
            dx = frames[BodyColumn.START, other] - frames[BodyColumn.START, frame]
            dy = (frames[BodyColumn.START + 1, other] - frames[BodyColumn.START + 1, frame]) * sideways
            square = dx * dx + dy * dy
            if square > 0.0 and (best < 0.0 or square < best):
                best, bx, by = square, dx, dy
        if best <= 0.0:
            continue
        length = sqrt(best)
        if frames[BodyColumn.AHEAD, frame] != bx / length or frames[BodyColumn.AHEAD + 1, frame] != by / length:
            frames[BodyColumn.AHEAD, frame], frames[BodyColumn.AHEAD + 1, frame] = bx / length, by / length
            turned += 1
    return turned
