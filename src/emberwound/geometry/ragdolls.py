"""All ragdolls of a bout, moved through a tick at once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    ModelColumn,
    PointColumn,
    RagdollColumn,
    RagdollMark,
    RagdollState,
)
from emberwound.geometry.ragdoll import step_ragdoll

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


@kernel
def step_ragdolls(
    points: NDArray[np.float64],
    bodies: NDArray[np.float64],
    body_marks: NDArray[np.int64],
    models: NDArray[np.float64],
    ragdolls: NDArray[np.float64],
    ragdoll_marks: NDArray[np.int64],
    links: NDArray[np.int64],
    lengths: NDArray[np.float64],
    most_points: int,
    flat: int,
    shapes: NDArray[np.float64],
    first_wall: int,
    walls: NDArray[np.float64],
    end: int,
    tick_rate: int,
    slow_ticks: int,
) -> int:
    """Move every ragdoll below column `end`, but those still or in a hit stop, through a tick; how many came to rest.

    `ragdolls` and `ragdoll_marks` (rows, fighters) say what each falls as, `links` (2, m) and `lengths` (m,) hold all
    their links. One that was slow for `slow_ticks` in a row lies still.
    """
    rested = 0
    for body in range(end):
        state, model = body_marks[BodyMark.RAGDOLL, body], body_marks[BodyMark.MODEL, body]
        count = ragdoll_marks[RagdollMark.POINTS, model]
        if state < RagdollState.MOVING or count == 0 or body_marks[BodyMark.FROZEN_UNTIL, body] != 0:
            continue
        first = body * most_points
        begin = ragdoll_marks[RagdollMark.FIRST_LINK, model]
        last = begin + ragdoll_marks[RagdollMark.LINKS, model]
        fast = step_ragdoll(
            points,
            first,
            count,
            links[:, begin:last],
            lengths[begin:last],
            ragdolls[RagdollColumn.RADIUS, model],
            ragdolls[RagdollColumn.STRETCH, model],
            models[ModelColumn.SLIDE_DECELERATION, model],
            models[ModelColumn.GRAVITY, model],
            (bodies[BodyColumn.AHEAD, body], bodies[BodyColumn.AHEAD + 1, body]),
            flat,
            shapes,
            first_wall,
            walls,
            1.0 / tick_rate,
        )
        state = RagdollState.MOVING if fast != 0 else state + 1
        if state >= slow_ticks + RagdollState.MOVING:
            points[PointColumn.VELOCITY : PointColumn.VELOCITY + 3, first : first + most_points] = 0.0
            state = RagdollState.STILL
            rested += 1
        body_marks[BodyMark.RAGDOLL, body] = state
    return rested
