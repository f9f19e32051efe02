"""Where the shapes fixed to moving frames are at the start and at the end of a tick."""

from __future__ import annotations

from math import inf, sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.legs import (
    PROTECTED_LAYER,
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_B_END,
    SHAPE_BODY,
    SHAPE_HIGH,
    SHAPE_IS_BOX,
    SHAPE_LAYER,
    SHAPE_LOW,
    SHAPE_MARKS,
    SHAPE_OWNER,
    SHAPE_RADIUS,
    SHAPE_RANK,
    SHAPE_ROWS,
    SHAPE_TEAM,
)

if TYPE_CHECKING:
    from numpy.typing import NDArray

FRAME_START, FRAME_END, FRAME_AHEAD, FRAME_VELOCITY, FRAME_WISH, FRAME_PACE = 0, 3, 6, 8, 11, 13
FRAME_LANDING = 14
FRAME_ROWS = 18
"""`WISH` is the velocity on the ground that a frame is asked to have, `VELOCITY` the one it has, `PACE` the share of
its speed that it walks with, `LANDING` when in the tick, in seconds, and where it landed."""

(
    FRAME_ID,
    FRAME_OWNER,
    FRAME_MODEL,
    FRAME_LIVE,
    FRAME_TEAM,
    FRAME_POSE,
    FRAME_POSE_LAST,
    FRAME_POSE_TICK,
    FRAME_GROUNDED,
    FRAME_MOVES,
    FRAME_LUNGES,
    FRAME_PATH,
    FRAME_PATH_NEXT,
    FRAME_PATH_STEP,
    FRAME_LOOKS,
    FRAME_POSTURE,
    FRAME_HIDDEN,
    FRAME_PROTECTED,
    FRAME_THROWN,
    FRAME_LANDED,
    FRAME_FROZEN,
) = range(21)
FRAME_MARKS = 21
"""`POSE` is a row of the pose tracks, reached at `POSE_TICK`; `POSE_LAST` how many rows follow it. `PATH` is the number
of a path + 1, and `LOOKS` whether the frame turns to its nearest foe. `POSTURE` is the number of one it holds, `HIDDEN`
a bit for each part that is off, `PROTECTED` whether all are out of reach, `THROWN` whether it flies and slides by
itself, `LANDED` whether it landed in this tick, `FROZEN` the tick up to which it stands still."""

STANDING, AIRBORNE = 0, 1
"""The postures that every frame has; any others follow."""

OFFSET_A, OFFSET_B, OFFSET_RADIUS, OFFSET_AXES, OFFSET_ROWS = 0, 3, 6, 7, 16
OFFSET_IS_BOX, OFFSET_LAYER, OFFSET_PRIORITY, OFFSET_JOINT_A, OFFSET_JOINT_B, OFFSET_MARKS = 0, 1, 2, 3, 4, 5
PRIORITY_STEP = 1 << 40
"""Ranks of one priority lie this far apart: more than bodies and hurtboxes can fill."""


@kernel
def frame_place(
    frames: NDArray[np.float64], frame: int, pose: int, ahead: float, left: float, up: float
) -> tuple[float, float, float]:
    """An offset on a frame at its pose START or END, in space: it turns and mirrors with the heading."""
    hx, hy = frames[FRAME_AHEAD, frame], frames[FRAME_AHEAD + 1, frame]
    return (
        frames[pose, frame] + ahead * hx - left * hy,
        frames[pose + 1, frame] + ahead * hy + left * hx,
        frames[pose + 2, frame] + up,
    )


@kernel
def part_offset(
    offsets: NDArray[np.float64], row: int, model: int, part: int, joint: int, tracks: NDArray[np.float64], pose: int
) -> tuple[float, float, float]:
    """The offset of one end of a part, that of the joint it hangs on added."""
    ahead, left, up = offsets[row, model, part], offsets[row + 1, model, part], offsets[row + 2, model, part]
    if joint >= 0:
        ahead += tracks[pose, joint, 0]
        left += tracks[pose, joint, 1]
        up += tracks[pose, joint, 2]
    return ahead, left, up


@kernel
def pose_row(frame_marks: NDArray[np.int64], frame: int, tick: int) -> int:
    """The row of the pose tracks that a frame stands in at the start of a tick; a frozen one in that of its thaw."""
    tick = max(tick, frame_marks[FRAME_FROZEN, frame])
    since = min(max(tick - frame_marks[FRAME_POSE_TICK, frame], 0), frame_marks[FRAME_POSE_LAST, frame])
    row: int = frame_marks[FRAME_POSE, frame] + since
    return row


def pose_rows(marks: NDArray[np.int64], ticks: NDArray[np.int64]) -> NDArray[np.int64]:
    """`pose_row` of n frames at once, whose marks are (marks, n), each at a tick of its own."""
    since = np.maximum(ticks, marks[FRAME_FROZEN]) - marks[FRAME_POSE_TICK]
    rows: NDArray[np.int64] = marks[FRAME_POSE] + np.clip(since, 0, marks[FRAME_POSE_LAST])
    return rows


@kernel
def lay_shapes(
    frames: NDArray[np.float64],
    frame_marks: NDArray[np.int64],
    offsets: NDArray[np.float64],
    offset_marks: NDArray[np.int64],
    hidden: NDArray[np.int64],
    tracks: NDArray[np.float64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    tick: int,
) -> None:
    """Write both poses of every shape of every frame; those of frames that are not live are zeroed.

    `offsets` is (16, models, most): A and B as (ahead, left, up), the radius, and the axes of boxes. `tracks` is
    (rows, joints, 3): the joints' offsets, tick by tick. `hidden` (models, postures) has a bit for each part that is
    off in a posture; in the air a frame is in the posture `AIRBORNE`. An offset (f, l, u) on a frame heading (hx, hy)
    lies at (f hx - l hy, f hy + l hx, u). A frame turns between ticks, never within one: both poses share its heading.
    """
    most = offsets.shape[2]
    for frame in range(frames.shape[1]):
        live = frame_marks[FRAME_LIVE, frame] in (1, 3)
        model = frame_marks[FRAME_MODEL, frame]
        start, end = pose_row(frame_marks, frame, tick), pose_row(frame_marks, frame, tick + 1)
        posture = frame_marks[FRAME_POSTURE, frame] if frame_marks[FRAME_GROUNDED, frame] else AIRBORNE
        off = frame_marks[FRAME_HIDDEN, frame] | hidden[model, posture]
        for part in range(most):
            shape = frame * most + part
            layer = offset_marks[OFFSET_LAYER, model, part]
            if not live or layer == 0 or off >> part & 1:
                if shape_marks[SHAPE_LAYER, shape]:
                    for row in range(SHAPE_MARKS):
                        shape_marks[row, shape] = 0
                    for row in range(SHAPE_ROWS):
                        shapes[row, shape] = 0.0
                continue
            shape_marks[SHAPE_OWNER, shape] = frame_marks[FRAME_OWNER, frame]
            rank = frame_marks[FRAME_ID, frame] * most + part
            shape_marks[SHAPE_RANK, shape] = rank - offset_marks[OFFSET_PRIORITY, model, part] * PRIORITY_STEP
            shape_marks[SHAPE_TEAM, shape] = frame_marks[FRAME_TEAM, frame]
            shape_marks[SHAPE_LAYER, shape] = PROTECTED_LAYER if frame_marks[FRAME_PROTECTED, frame] else layer
            shape_marks[SHAPE_BODY, shape] = frame_marks[FRAME_ID, frame]
            shape_marks[SHAPE_IS_BOX, shape] = offset_marks[OFFSET_IS_BOX, model, part]
            shapes[SHAPE_RADIUS, shape] = offsets[OFFSET_RADIUS, model, part]
            joint = offset_marks[OFFSET_JOINT_A, model, part]
            f, s, u = part_offset(offsets, OFFSET_A, model, part, joint, tracks, start)
            put(shapes, SHAPE_A, shape, frame_place(frames, frame, FRAME_START, f, s, u))
            f, s, u = part_offset(offsets, OFFSET_A, model, part, joint, tracks, end)
            put(shapes, SHAPE_A_END, shape, frame_place(frames, frame, FRAME_END, f, s, u))
            if offset_marks[OFFSET_IS_BOX, model, part]:
                lay_box(frames, frame, offsets, model, part, shapes, shape)
                continue
            joint = offset_marks[OFFSET_JOINT_B, model, part]
            f, s, u = part_offset(offsets, OFFSET_B, model, part, joint, tracks, start)
            put(shapes, SHAPE_B, shape, frame_place(frames, frame, FRAME_START, f, s, u))
            f, s, u = part_offset(offsets, OFFSET_B, model, part, joint, tracks, end)
            put(shapes, SHAPE_B_END, shape, frame_place(frames, frame, FRAME_END, f, s, u))
            bound_capsule(shapes, shape)


@kernel
def put(shapes: NDArray[np.float64], row: int, shape: int, point: tuple[float, float, float]) -> None:
    """Write a point into three rows of a column."""
    shapes[row, shape] = point[0]
    shapes[row + 1, shape] = point[1]
    shapes[row + 2, shape] = point[2]


@kernel
def lay_box(
    frames: NDArray[np.float64],
    frame: int,
    offsets: NDArray[np.float64],
    model: int,
    part: int,
    shapes: NDArray[np.float64],
    shape: int,
) -> None:
    """The half sizes and axes of a box on a frame, and its bounds."""
    hx, hy = frames[FRAME_AHEAD, frame], frames[FRAME_AHEAD + 1, frame]
    for axis in range(3):
        shapes[SHAPE_B + axis, shape] = offsets[OFFSET_B + axis, model, part]
        ahead = offsets[OFFSET_AXES + 3 * axis, model, part]
        left = offsets[OFFSET_AXES + 3 * axis + 1, model, part]
        shapes[SHAPE_AXES + 3 * axis, shape] = ahead * hx - left * hy
        shapes[SHAPE_AXES + 3 * axis + 1, shape] = ahead * hy + left * hx
        shapes[SHAPE_AXES + 3 * axis + 2, shape] = offsets[OFFSET_AXES + 3 * axis + 2, model, part]
    bound_box(shapes, shape)


@kernel
def bound_capsule(shapes: NDArray[np.float64], shape: int) -> None:
    """Write the bounds of a capsule through its tick."""
    radius = shapes[SHAPE_RADIUS, shape]
    for axis in range(3):
        a, b = shapes[SHAPE_A + axis, shape], shapes[SHAPE_B + axis, shape]
        c, d = shapes[SHAPE_A_END + axis, shape], shapes[SHAPE_B_END + axis, shape]
        shapes[SHAPE_LOW + axis, shape] = min(a, b, c, d) - radius
        shapes[SHAPE_HIGH + axis, shape] = max(a, b, c, d) + radius


@kernel
def bound_box(shapes: NDArray[np.float64], shape: int) -> None:
    """Write the bounds of a box through its tick: its half sizes seen along each axis of space."""
    for axis in range(3):
        half = 0.0
        for side in range(3):
            half += abs(shapes[SHAPE_AXES + 3 * side + axis, shape]) * shapes[SHAPE_B + side, shape]
        a, b = shapes[SHAPE_A + axis, shape], shapes[SHAPE_A_END + axis, shape]
        shapes[SHAPE_LOW + axis, shape] = min(a, b) - half
        shapes[SHAPE_HIGH + axis, shape] = max(a, b) + half


@kernel
def skin_normal(
    shapes: NDArray[np.float64], shape: int, x: float, y: float, z: float
) -> tuple[float, float, float, float]:
    """The unit vector out of a box towards (x, y, z) and how far outside that is; inside, out of the nearest face."""
    ox, oy, oz = x - shapes[SHAPE_A, shape], y - shapes[SHAPE_A + 1, shape], z - shapes[SHAPE_A + 2, shape]
    nx = ny = nz = 0.0
    nearest, depth, side = 0, inf, 1.0
    for axis in range(3):
        row = SHAPE_AXES + 3 * axis
        along = ox * shapes[row, shape] + oy * shapes[row + 1, shape] + oz * shapes[row + 2, shape]
        half = shapes[SHAPE_B + axis, shape]
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
