"""How living bodies keep apart: softly, a share of their overlap at a time."""

from __future__ import annotations

from math import exp2, inf, sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import BodyColumn, BodyMark, ModelColumn, Presence
from emberwound.geometry.neighbours import first_from, insert_sorted
from emberwound.geometry.obstacles import carry, within_bounds

if TYPE_CHECKING:
    from numpy.typing import NDArray

HALF_LIFE = 0.05
"""Seconds in which half of an overlap is gone."""

PLACED = 2
"""What `FRAME_MOVES` says of a body that its host moves: it stays, and the others make room."""


def share_parted(dt: float) -> float:
    """The share of an overlap that goes in a time: 1 - 2^(-dt / h)."""
    return 1.0 - exp2(-dt / HALF_LIFE)


@kernel
def separate_bodies(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    models: NDArray[np.float64],
    shapes: NDArray[np.float64],
    walls: NDArray[np.float64],
    first_wall: int,
    end: int,
    share: float,
) -> int:
    """Move the ends of living bodies before `end` that stand in each other apart on the ground; how many moved.

    Of each overlap a `share` goes in a tick, the lighter giving way more; `share_parted` halves it in the same time at
    every tick rate. On one spot the one of the higher id goes along +x. All see the same places; walls stop them.
    """
    moves = np.zeros((2, end))
    across = np.empty(end)
    reach = 0.0
    for body in range(end):
        live = marks[BodyMark.PRESENCE, body] == Presence.LIVE
        across[body] = bodies[BodyColumn.END, body] if live else inf
        if live:
            reach = max(reach, 2.0 * models[ModelColumn.RADIUS, marks[BodyMark.MODEL, body]])
    order, beside = np.argsort(across), np.empty(end, np.int64)
    for one in range(end):
        if across[one] == inf:
            continue
        count = 0
        for rank in range(first_from(across, order, across[one] - reach), end):
            if across[order[rank]] > across[one] + reach:
                break
            if order[rank] > one:
                count = insert_sorted(beside, count, order[rank])
        for index in range(count):
            _push_apart(bodies, marks, models, one, beside[index], share, moves)
    moved = 0
    for body in range(end):
        mx, my = moves[0, body], moves[1, body]
        if mx == 0.0 and my == 0.0:
            continue
        model = marks[BodyMark.MODEL, body]
        radius = min(models[ModelColumn.RADIUS, model], 0.5 * models[ModelColumn.HEIGHT, model])
        core = models[ModelColumn.HEIGHT, model] - 2.0 * radius
        e = BodyColumn.END
        feet = (bodies[e, body], bodies[e + 1, body], bodies[e + 2, body])
        x, y, _z, _vx, _vy, _vz, _lands = carry(
            shapes, first_wall, feet, (mx, my, 0.0), (0.0, 0.0, 0.0), radius, core, 0.0
        )
        bodies[e, body], bodies[e + 1, body], _vx, _vy = within_bounds(walls, x, y, 0.0, 0.0)
        moved += 1
    return moved


@kernel
def _push_apart(
    bodies: NDArray[np.float64],
    marks: NDArray[np.int64],
    models: NDArray[np.float64],
    one: int,
    other: int,
    share: float,
    moves: NDArray[np.float64],
) -> None:
    e = BodyColumn.END
    if marks[BodyMark.HOLDS, one] == other + 1 or marks[BodyMark.HOLDS, other] == one + 1:
        return
    mine, theirs = marks[BodyMark.MODEL, one], marks[BodyMark.MODEL, other]
    reach = models[ModelColumn.RADIUS, mine] + models[ModelColumn.RADIUS, theirs]
    dx, dy = bodies[e, one] - bodies[e, other], bodies[e + 1, one] - bodies[e + 1, other]
    rise = bodies[e + 2, one] - bodies[e + 2, other]
    if (
        abs(dx) >= reach
        or abs(dy) >= reach
        or rise >= models[ModelColumn.HEIGHT, theirs]
        or -rise >= models[ModelColumn.HEIGHT, mine]
    ):
        return
    apart = sqrt(dx * dx + dy * dy)
    if apart >= reach:
        return
    if apart == 0.0:
        dx, apart = 1.0 if marks[BodyMark.ID, one] > marks[BodyMark.ID, other] else -1.0, 1.0
        gap = reach * share
    else:
        gap = (reach - apart) * share
    weight = models[ModelColumn.WEIGHT, mine] + models[ModelColumn.WEIGHT, theirs]
    give = models[ModelColumn.WEIGHT, theirs] / weight
    held, others_held = _is_held(marks, one), _is_held(marks, other)
    give = 0.0 if held else 1.0 if others_held else give
    take = 0.0 if others_held else 1.0 - give
    moves[0, one] += dx / apart * gap * give
    moves[1, one] += dy / apart * gap * give
    moves[0, other] -= dx / apart * gap * take
    moves[1, other] -= dy / apart * gap * take


@kernel
def _is_held(marks: NDArray[np.int64], body: int) -> bool:
    """Whether a body does not give way: placed by its host, or frozen."""
    held: bool = marks[BodyMark.MOVEMENT, body] == PLACED or marks[BodyMark.FROZEN_UNTIL, body] != 0
    return held
