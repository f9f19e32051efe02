"""Hit stop: a body's own clock stands still for some ticks, and everything timed by it moves on by as many."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING

from emberwound.bout.state.layout import AfflictionMark, Count, Limit, SeatMark, Timer, mark_of
from emberwound.bout.state.pairs import TOLD
from emberwound.geometry.layout import BodyColumn, BodyMark, VolumeColumn, VolumeMark
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import HitStopBegan

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def settle(world: World) -> None:
    """Freeze whom this tick's hits stop: what is left of a freeze is the longer of the old and the new, capped."""
    block, after = world.block, world.counts[Count.TICK] + 1
    for body, (ticks, cause) in world.hit_stops.items():
        left = max(int(block.body_marks[BodyMark.FROZEN_UNTIL, body]) - after, 0)
        longer = min(max(left, ticks), max(world.plan.longest_hit_stop_ticks, left)) - left
        if longer <= 0:
            continue
        end = after + left + longer
        block.body_marks[BodyMark.FROZEN_UNTIL, body] = end
        block.timers[Timer.HIT_STOP_END][body] = end
        world.wake(end)
        _put_off(world, body, longer, end)
        world.emit(HitStopBegan(seat=world.name_of_body(body), cause=cause, until_tick=end))
    world.hit_stops.clear()


def end(world: World, body: int) -> None:
    """Let a body's clock go on."""
    world.block.body_marks[BodyMark.FROZEN_UNTIL, body] = 0


def _put_off(world: World, body: int, ticks: int, end: int) -> None:
    """Move all that a body's clock times by some ticks."""
    block, tick = world.block, world.counts[Count.TICK]
    marks = block.body_marks[:, body]
    for mark in (BodyMark.POSE_TICK, BodyMark.GUARD_SINCE, BodyMark.STAGGER_SINCE):
        marks[mark] += ticks
    for mark, needs in (
        (BodyMark.ATTACK_TICK, BodyMark.ATTACK),
        (BodyMark.CHARGING_SINCE, BodyMark.CHARGING_SINCE),
        (BodyMark.STRIKE_OVER, BodyMark.STRIKE_OVER),
        (BodyMark.SWING_OPENED, BodyMark.SWING_OPENED),
        (BodyMark.REACTION_SINCE, BodyMark.REACTION),
    ):
        if marks[needs]:
            marks[mark] += ticks
    if marks[BodyMark.GUARD_BACK_TICK] > tick:
        marks[BodyMark.GUARD_BACK_TICK] += ticks
    if isfinite(block.bodies[BodyColumn.TRADES_UNTIL, body]):
        block.bodies[BodyColumn.TRADES_UNTIL, body] += ticks
    block.ready[:, body] += ticks * (block.ready[:, body] > tick)
    block.pools_since[:, body] += ticks
    world.counts[Count.DIRTY_POSE_TICKS] += ticks
    for timer in (Timer.ATTACK_STAGE, Timer.REACTION_END, Timer.KNOCKBACK, Timer.PROTECTION_END):
        if block.timers[timer][body] != NEVER:
            block.timers[timer][body] += ticks
    if marks[BodyMark.STRIKE_OVER] and block.timers[Timer.CORPSE_GONE][body] != NEVER:
        block.timers[Timer.CORPSE_GONE][body] = max(
            int(block.timers[Timer.CORPSE_GONE][body]), int(marks[BodyMark.STRIKE_OVER])
        )
    _put_off_afflictions(world, body, ticks)
    _put_off_hitboxes(world, body, ticks, end)
    seat = world.seat_of(body)
    if block.seat_marks[SeatMark.BODY, seat] == mark_of(body):
        _put_off_presses(world, seat, ticks)


def _put_off_afflictions(world: World, body: int, ticks: int) -> None:
    if not world.plan.afflictions:
        return
    block, columns = world.block, slice(body * Limit.AFFLICTIONS, (body + 1) * Limit.AFFLICTIONS)
    running = block.timers[Timer.AFFLICTION][columns] != NEVER
    block.timers[Timer.AFFLICTION][columns] += ticks * running
    for mark in (AfflictionMark.SINCE, AfflictionMark.RENEWED):
        block.afflicted_marks[mark, columns] += ticks * running


def _put_off_hitboxes(world: World, body: int, ticks: int, end: int) -> None:
    """What a frozen body strikes with stands still, and hits nobody new until hit stop ends."""
    block, most = world.block, world.plan.most_hitboxes
    for column in range(body * most, (body + 1) * most):
        if block.volume_marks[VolumeMark.SHAPE, column]:
            for at in (VolumeColumn.FROM, VolumeColumn.TO, VolumeColumn.UNTIL):
                block.volumes[at, column] += ticks
            block.volumes[VolumeColumn.SINCE, column] = end
    if most:
        touched_until = block.swing_touches.of(body)
        touched_until += ticks * (touched_until > world.counts[Count.TICK])
        touched_until -= ticks * (touched_until < TOLD)


def _put_off_presses(world: World, seat: int, ticks: int) -> None:
    block = world.block
    if block.seat_marks[SeatMark.BUFFERED_PRESS, seat]:
        block.seat_marks[SeatMark.BUFFERED_UNTIL, seat] += ticks
    for timer in (Timer.BUFFERED_PRESS, Timer.HELD):
        if block.timers[timer][seat] != NEVER:
            block.timers[timer][seat] += ticks
