"""Hit stop: a body's own clock stands still for some ticks, and everything timed by it moves on by as many."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING

from emberwound.bout.block import (
    AFFLICTED_SINCE,
    AFFLICTED_UNTIL_FROM,
    BODY_ANCHOR,
    BODY_ATTACK,
    BODY_CHARGING,
    BODY_GUARD_BACK,
    BODY_GUARD_SINCE,
    BODY_OPENED,
    BODY_OVER,
    BODY_REACTION,
    BODY_REACTS_SINCE,
    BODY_RESISTS_SINCE,
    BODY_TRADES,
    DUE_AFFLICTION,
    DUE_HOLD,
    DUE_PRESS,
    DUE_PROTECT,
    DUE_PUSH,
    DUE_REACTION,
    DUE_REMOVE,
    DUE_STAGE,
    DUE_THAW,
    LAY,
    MOST_AFFLICTIONS,
    SEAT_BODY,
    SEAT_KEPT,
    SEAT_KEPT_UNTIL,
    TICK,
)
from emberwound.geometry.pose import FRAME_FROZEN, FRAME_OWNER, FRAME_POSE_TICK
from emberwound.geometry.volumes import VOLUME_FROM, VOLUME_SHAPE, VOLUME_SINCE, VOLUME_TO, VOLUME_UNTIL
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Frozen

if TYPE_CHECKING:
    from emberwound.bout.world import World


def settle(world: World) -> None:
    """Freeze whom this tick's blows stop: what is left of a freeze is the longer of the old and the new, capped."""
    block, after = world.block, world.counts[TICK] + 1
    for row, (ticks, cause) in world.freezes.items():
        left = max(int(block.body_marks[FRAME_FROZEN, row]) - after, 0)
        longer = min(max(left, ticks), max(world.plan.most_frozen_ticks, left)) - left
        if longer <= 0:
            continue
        thaw = after + left + longer
        block.body_marks[FRAME_FROZEN, row] = thaw
        block.timers[DUE_THAW][row] = thaw
        world.wake(thaw)
        _put_off(world, row, longer, thaw)
        world.emit(Frozen, seat=world.names[int(block.body_marks[FRAME_OWNER, row]) - 1], cause=cause, until_tick=thaw)
    world.freezes.clear()


def thaw(world: World, row: int) -> None:
    """Let a body's clock go on."""
    world.block.body_marks[FRAME_FROZEN, row] = 0


def local_tick(world: World, row: int) -> int:
    """The tick that a body's own clock shows: that of its thaw, while it is frozen."""
    return max(world.counts[TICK], int(world.block.body_marks[FRAME_FROZEN, row]))


def _put_off(world: World, row: int, ticks: int, thaw: int) -> None:
    """Move all that a body's clock times by some ticks."""
    block, tick = world.block, world.counts[TICK]
    marks = block.body_marks[:, row]
    for mark in (FRAME_POSE_TICK, BODY_GUARD_SINCE, BODY_RESISTS_SINCE):
        marks[mark] += ticks
    for mark, needs in (
        (BODY_ANCHOR, BODY_ATTACK),
        (BODY_CHARGING, BODY_CHARGING),
        (BODY_OVER, BODY_OVER),
        (BODY_OPENED, BODY_OPENED),
        (BODY_REACTS_SINCE, BODY_REACTION),
    ):
        if marks[needs]:
            marks[mark] += ticks
    if marks[BODY_GUARD_BACK] > tick:
        marks[BODY_GUARD_BACK] += ticks
    if isfinite(block.bodies[BODY_TRADES, row]):
        block.bodies[BODY_TRADES, row] += ticks
    block.ready[:, row] += ticks * (block.ready[:, row] > tick)
    block.pools_since[:, row] += ticks
    world.counts[LAY] += ticks
    for timer in (DUE_STAGE, DUE_REACTION, DUE_PUSH, DUE_PROTECT):
        if block.timers[timer][row] != NEVER:
            block.timers[timer][row] += ticks
    if marks[BODY_OVER] and block.timers[DUE_REMOVE][row] != NEVER:
        block.timers[DUE_REMOVE][row] = max(int(block.timers[DUE_REMOVE][row]), int(marks[BODY_OVER]))
    _put_off_afflictions(world, row, ticks)
    _put_off_hitboxes(world, row, ticks, thaw)
    seat = int(marks[FRAME_OWNER]) - 1
    if block.seat_marks[SEAT_BODY, seat] == row + 1:
        _put_off_presses(world, seat, ticks)


def _put_off_afflictions(world: World, row: int, ticks: int) -> None:
    if not world.plan.afflictions:
        return
    block, span = world.block, slice(row * MOST_AFFLICTIONS, (row + 1) * MOST_AFFLICTIONS)
    running = block.timers[DUE_AFFLICTION][span] != NEVER
    block.timers[DUE_AFFLICTION][span] += ticks * running
    for mark in (AFFLICTED_SINCE, AFFLICTED_UNTIL_FROM):
        block.afflicted_marks[mark, span] += ticks * running


def _put_off_hitboxes(world: World, row: int, ticks: int, thaw: int) -> None:
    """What a frozen body strikes with stands still, and touches nobody new until it thaws."""
    block, most = world.block, world.plan.most_hitboxes
    for column in range(row * most, (row + 1) * most):
        if block.volume_marks[VOLUME_SHAPE, column]:
            for at in (VOLUME_FROM, VOLUME_TO, VOLUME_UNTIL):
                block.volumes[at, column] += ticks
            block.volumes[VOLUME_SINCE, column] = thaw
    if most:
        again = block.again[row]
        again += ticks * (again > world.counts[TICK])


def _put_off_presses(world: World, seat: int, ticks: int) -> None:
    block = world.block
    if block.seat_marks[SEAT_KEPT, seat]:
        block.seat_marks[SEAT_KEPT_UNTIL, seat] += ticks
    for timer in (DUE_PRESS, DUE_HOLD):
        if block.timers[timer][seat] != NEVER:
            block.timers[timer][seat] += ticks
