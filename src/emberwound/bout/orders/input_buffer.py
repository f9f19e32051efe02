"""Presses: taken once, kept for a while when they come too early, and answered when they come to nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of, number_of
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import OrderRefused
from emberwound.vocabulary.events.base import TICK_START
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.attacks.timeline import Blocked
    from emberwound.bout.state.world import World


def refuse(world: World, seat: int, order: str, reason: Reason, ready: int | None, time: float = TICK_START) -> None:
    """Say that an order did nothing, and for how long it would have had to wait."""
    wait = None if ready is None or ready >= NEVER else ready - world.counts[Count.TICK]
    world.emit(OrderRefused(time=time, seat=world.names[seat], order=order, reason=reason, wait_ticks=wait))


def refuse_blocked(world: World, seat: int, order: str, blocked: Blocked) -> None:
    """Say that an order did nothing for what hinders it."""
    reason, ready, pool, needs, has = blocked
    wait = None if ready is None else ready - world.counts[Count.TICK]
    world.emit(
        OrderRefused(
            seat=world.names[seat],
            order=order,
            reason=reason,
            wait_ticks=wait,
            pool=pool,
            needs=needs,
            has=has,
        )
    )


def press_name(world: World, seat: int, slot: int) -> str:
    """How a press is named where it is refused."""
    return f"press {world.fighter_of_seat(seat).attacks[slot].name}"


def refuse_for_the_dead(world: World, seat: int, order: str, time: float = TICK_START) -> None:
    """Refuse an order of a seat without a living body."""
    back = int(world.block.timers[Timer.RESPAWN][seat])
    refuse(world, seat, order, Reason.OUT_OF_LIVES if back == NEVER else Reason.DEAD, back, time)


def take_press(world: World, seat: int, slot: int) -> None:
    """Take a new press: begin its attack, keep it, or refuse it; another that was pressed before it is refused.

    The same pressed again takes the place of the one that waits without a word: tapping is one press.
    """
    block, tick = world.block, world.counts[Count.TICK]
    marks = block.seat_marks[:, seat]
    dropped, older = int(marks[SeatMark.DROPPED_PRESSES]), number_of(int(marks[SeatMark.BUFFERED_PRESS]))
    marks[SeatMark.PRESS] = marks[SeatMark.DROPPED_PRESSES] = 0
    if older >= 0:
        forget_buffered(world, seat)
        if older != slot:
            refuse(world, seat, press_name(world, seat, older), Reason.REPLACED, None)
    for each in range(dropped.bit_length()):
        if dropped >> each & 1:
            refuse(world, seat, press_name(world, seat, each), Reason.REPLACED, None)
    body = queries.body_of(world, seat)
    if body is None:
        refuse_for_the_dead(world, seat, press_name(world, seat, slot))
        return
    begins, blocked, awaits = timeline.outlook(world, body, slot)
    if blocked is None:
        _begin(world, seat, body, begins)
    elif (world.plan.buffer_ticks == 0 and awaits is None) or _is_hopeless(blocked):
        refuse_blocked(world, seat, press_name(world, seat, slot), blocked)
    else:
        marks[SeatMark.BUFFERED_PRESS] = mark_of(slot)
        frozen = blocked.ready if blocked.reason is Reason.FROZEN else None
        marks[SeatMark.BUFFERED_UNTIL] = (awaits or frozen or tick) + world.plan.buffer_ticks
        _look_again(world, seat, blocked.ready)


def take_buffered(world: World, seat: int) -> None:
    """Look again at the press a seat has kept."""
    block, tick = world.block, world.counts[Count.TICK]
    marks = block.seat_marks[:, seat]
    slot = number_of(int(marks[SeatMark.BUFFERED_PRESS]))
    body = queries.body_of(world, seat)
    begins, blocked, _ = (slot, None, None) if body is None else timeline.outlook(world, body, slot)
    if blocked is not None and tick < marks[SeatMark.BUFFERED_UNTIL]:
        _look_again(world, seat, blocked.ready)
        return
    forget_buffered(world, seat)
    if body is None:
        refuse_for_the_dead(world, seat, press_name(world, seat, slot))
    elif blocked is None:
        _begin(world, seat, body, begins)
    else:
        refuse_blocked(world, seat, press_name(world, seat, slot), blocked)


def _is_hopeless(blocked: Blocked) -> bool:
    """Whether no waiting helps."""
    return blocked.reason is Reason.COST and blocked.ready is None


def shorten_buffer(world: World, seat: int) -> None:
    """Keep a press no longer than any, now that the attack is broken off which it was to follow."""
    marks, tick = world.block.seat_marks[:, seat], world.counts[Count.TICK]
    if marks[SeatMark.BUFFERED_PRESS]:
        marks[SeatMark.BUFFERED_UNTIL] = min(int(marks[SeatMark.BUFFERED_UNTIL]), tick + 1 + world.plan.buffer_ticks)
        _look_again(world, seat, tick + 1)


def _begin(world: World, seat: int, body: int, slot: int) -> None:
    held = number_of(int(world.block.seat_marks[SeatMark.REPEATS, seat]))
    if held >= 0 and queries.fighter_of(world, body).attacks[held].repeats:  # what does not repeat is done until let go
        world.block.seat_marks[SeatMark.REPEATS, seat] = 0
    timeline.begin(world, body, slot)


def _look_again(world: World, seat: int, ready: int | None) -> None:
    soon = world.counts[Count.TICK] + 1 if ready is None else ready
    due = min(soon, int(world.block.seat_marks[SeatMark.BUFFERED_UNTIL, seat]))
    world.block.timers[Timer.BUFFERED_PRESS][seat] = due
    world.wake(due)


def forget_buffered(world: World, seat: int) -> None:
    """Drop the press a seat has kept."""
    world.block.seat_marks[SeatMark.BUFFERED_PRESS, seat] = 0
    world.block.seat_marks[SeatMark.BUFFERED_UNTIL, seat] = 0
    world.block.timers[Timer.BUFFERED_PRESS][seat] = NEVER
