"""Where the shapes fixed to moving bodies are at the start and at the end of a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    Layer,
    PartColumn,
    PartMark,
    Posture,
    Presence,
    ShapeColumn,
    ShapeKind,
    ShapeMark,
)
from emberwound.geometry.shape import bound_shape, put

if TYPE_CHECKING:
    from numpy.typing import NDArray


PRIORITY_STEP = 1 << 40
"""Ranks of one priority lie this far apart: more than bodies and hurtboxes can fill."""


@kernel
def body_place(
    bodies: NDArray[np.float64], body: int, pose: int, ahead: float, left: float, up: float
) -> tuple[float, float, float]:
    """An offset on a body at its pose START or END, in space: it turns and mirrors with the heading."""
    hx, hy = bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body]
    return (
        bodies[pose, body] + ahead * hx - left * hy,
        bodies[pose + 1, body] + ahead * hy + left * hx,
        bodies[pose + 2, body] + up,
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
def pose_of(body_marks: NDArray[np.int64], body: int, tick: int) -> int:
    """The row of the pose tracks that a body stands in at the start of a tick; a frozen one in that of its end."""
    tick = max(tick, body_marks[BodyMark.FROZEN_UNTIL, body])
    since = min(max(tick - body_marks[BodyMark.POSE_TICK, body], 0), body_marks[BodyMark.POSE_LAST, body])
    row: int = body_marks[BodyMark.POSE, body] + since
    return row


def poses_of(marks: NDArray[np.int64], ticks: NDArray[np.int64]) -> NDArray[np.int64]:
    """`pose_row` of n bodies at once, whose marks are (marks, n), each at a tick of its own."""
    since = np.maximum(ticks, marks[BodyMark.FROZEN_UNTIL]) - marks[BodyMark.POSE_TICK]
    rows: NDArray[np.int64] = marks[BodyMark.POSE] + np.clip(since, 0, marks[BodyMark.POSE_LAST])
    return rows


@kernel
def lay_shapes(
    bodies: NDArray[np.float64],
    body_marks: NDArray[np.int64],
    offsets: NDArray[np.float64],
    offset_marks: NDArray[np.int64],
    hidden: NDArray[np.int64],
    tracks: NDArray[np.float64],
    shapes: NDArray[np.float64],
    shape_marks: NDArray[np.int64],
    end: int,
    tick: int,
) -> None:
    """Write both poses of every shape of the bodies before `end`; of who is neither live nor revivable they are zeroed.

    `offsets` is (17, models, most): A and B as (ahead, left, up), the radius, and the axes of boxes. `tracks` is
    (rows, joints, 3): the joints' offsets, tick by tick. `hidden` (models, postures) has a bit for each part that is
    off in a posture; in the air a body is in the posture `AIRBORNE`. An offset (f, l, u) on a body heading (hx, hy)
    lies at (f hx - l hy, f hy + l hx, u). A body turns between ticks, never within one: both poses share its heading.
    """
    most = offsets.shape[2]
    for body in range(end):
        revivable = body_marks[BodyMark.REVIVABLE, body] != 0
        live = revivable or body_marks[BodyMark.PRESENCE, body] in (Presence.LIVE, Presence.PROP)
        model = body_marks[BodyMark.MODEL, body]
        start, then = pose_of(body_marks, body, tick), pose_of(body_marks, body, tick + 1)
        posture = body_marks[BodyMark.POSTURE, body] if body_marks[BodyMark.GROUNDED, body] else Posture.AIRBORNE
        off = body_marks[BodyMark.HIDDEN, body] | hidden[model, posture]
        for part in range(most):
            shape = body * most + part
            layer = offset_marks[PartMark.LAYER, model, part]
            if not live or layer == 0 or off >> part & 1:
                if shape_marks[ShapeMark.LAYER, shape]:
                    for row in range(ShapeMark.COLUMNS):
                        shape_marks[row, shape] = 0
                    for row in range(ShapeColumn.COLUMNS):
                        shapes[row, shape] = 0.0
                continue
            shape_marks[ShapeMark.OWNER, shape] = body_marks[BodyMark.OWNER, body]
            rank = body_marks[BodyMark.ID, body] * most + part
            shape_marks[ShapeMark.RANK, shape] = rank - offset_marks[PartMark.PRIORITY, model, part] * PRIORITY_STEP
            shape_marks[ShapeMark.TEAM, shape] = body_marks[BodyMark.TEAM, body]
            if revivable:
                layer = Layer.CORPSE
            elif body_marks[BodyMark.PROTECTED, body]:
                layer = Layer.PROTECTED
            shape_marks[ShapeMark.LAYER, shape] = layer
            shape_marks[ShapeMark.BODY, shape] = body_marks[BodyMark.ID, body]
            shapes[ShapeColumn.KIND, shape] = offsets[PartColumn.KIND, model, part]
            shapes[ShapeColumn.RADIUS, shape] = offsets[PartColumn.RADIUS, model, part]
            joint = offset_marks[PartMark.JOINT_A, model, part]
            f, s, u = part_offset(offsets, PartColumn.A, model, part, joint, tracks, start)
            put(shapes, ShapeColumn.A, shape, body_place(bodies, body, BodyColumn.START, f, s, u))
            f, s, u = part_offset(offsets, PartColumn.A, model, part, joint, tracks, then)
            put(shapes, ShapeColumn.A_END, shape, body_place(bodies, body, BodyColumn.END, f, s, u))
            if offsets[PartColumn.KIND, model, part] == ShapeKind.BOX:
                lay_box(bodies, body, offsets, model, part, shapes, shape)
                continue
            joint = offset_marks[PartMark.JOINT_B, model, part]
            f, s, u = part_offset(offsets, PartColumn.B, model, part, joint, tracks, start)
            put(shapes, ShapeColumn.B, shape, body_place(bodies, body, BodyColumn.START, f, s, u))
            f, s, u = part_offset(offsets, PartColumn.B, model, part, joint, tracks, then)
            put(shapes, ShapeColumn.B_END, shape, body_place(bodies, body, BodyColumn.END, f, s, u))
            bound_shape(shapes, shape)


@kernel
def lay_box(
    bodies: NDArray[np.float64],
    body: int,
    offsets: NDArray[np.float64],
    model: int,
    part: int,
    shapes: NDArray[np.float64],
    shape: int,
) -> None:
    """The half sizes and axes of a box on a body, and its bounds."""
    hx, hy = bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body]
    for axis in range(3):
        shapes[ShapeColumn.B + axis, shape] = offsets[PartColumn.B + axis, model, part]
        ahead = offsets[PartColumn.AXES + 3 * axis, model, part]
        left = offsets[PartColumn.AXES + 3 * axis + 1, model, part]
        shapes[ShapeColumn.AXES + 3 * axis, shape] = ahead * hx - left * hy
        shapes[ShapeColumn.AXES + 3 * axis + 1, shape] = ahead * hy + left * hx
        shapes[ShapeColumn.AXES + 3 * axis + 2, shape] = offsets[PartColumn.AXES + 3 * axis + 2, model, part]
    bound_shape(shapes, shape)
