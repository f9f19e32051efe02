"""Presses and holds: taken once, kept for a while, repeated or charged at their exact times."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, index_of_mark, mark_of
from emberwound.geometry.layout import BodyMark
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
    dropped, older = int(marks[SeatMark.DROPPED_PRESSES]), index_of_mark(int(marks[SeatMark.BUFFERED_PRESS]))
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
    slot = index_of_mark(int(marks[SeatMark.BUFFERED_PRESS]))
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
    held = index_of_mark(int(world.block.seat_marks[SeatMark.REPEATS, seat]))
    if (
        held >= 0 and queries.fighter_of(world, body).attacks[held].table.when_held == "repeat"
    ):  # what does not repeat is done until let go
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


PASSES = frozenset({Reason.ATTACKING, Reason.COOLDOWN, Reason.REACTING, Reason.FROZEN, Reason.HELD})
"""What a hold simply waits for."""

REASONS = list(Reason)

NOT_AGAIN = NEVER - 1
"""The tick at which a hold that does not repeat is looked at again: only another order changes it."""


def refuse_behind(world: World, seat: int, held: int) -> None:
    """Refuse once, of several attacks that a seat begins to hold, all but the first: they never go."""
    fighter = world.fighter_of_seat(seat)
    attacks = fighter.attacks
    if fighter.stages:  # the first that the stage has goes
        return
    for slot in range((held & -held).bit_length(), held.bit_length()):
        if held >> slot & 1:
            refuse(world, seat, f"hold {attacks[slot].name}", Reason.HELD_BEHIND, None)


def look_at_holds(world: World, seat: int) -> None:
    """Begin, repeat, charge or let go what a seat holds, if it is time."""
    body = queries.body_of(world, seat)
    if body is None:
        return
    block = world.block
    held, marks = int(block.seat_marks[SeatMark.HELD, seat]), block.body_marks
    if marks[BodyMark.CHARGING_SINCE, body]:
        slot = index_of_mark(int(marks[BodyMark.ATTACK, body]))
        if not held >> slot & 1:
            timeline.begin(world, body, slot)
        return
    if not held:
        block.seat_marks[SeatMark.REPEATS, seat] = block.seat_marks[SeatMark.TOLD_REASON, seat] = 0
        return
    if world.has_stages:
        held = held & queries.usable_attacks(world, body) or held
    slot = (held & -held).bit_length() - 1
    if block.seat_marks[SeatMark.REPEATS, seat] == mark_of(slot):
        _go_on(world, seat, body, slot)
    else:
        _start(world, seat, body, slot)


def _go_on(world: World, seat: int, body: int, slot: int) -> None:
    """The next of a row of repeats, if its exact time has come."""
    marks = world.block.body_marks
    attack = queries.fighter_of(world, body).attacks[slot]
    if attack.table.when_held != "repeat":
        _look_again_at(world, seat, NOT_AGAIN)
        return
    anchor, repeat = int(marks[BodyMark.ATTACK_TICK, body]), int(marks[BodyMark.REPEAT, body]) + 1
    due = attack.tick_of(0, anchor, repeat)
    if world.counts[Count.TICK] < due:
        _look_again_at(world, seat, due)
        return
    if timeline.blocked_by(world, body, slot, repeat=True) is None:
        timeline.begin(world, body, slot, anchor=anchor, repeat=repeat)
        _look_again_at(world, seat, attack.tick_of(0, anchor, repeat + 1))
        return
    world.block.seat_marks[SeatMark.REPEATS, seat] = 0
    _start(world, seat, body, slot)


def _start(world: World, seat: int, body: int, slot: int) -> None:
    """The first of a row of repeats, or a charge, if nothing hinders it."""
    block = world.block
    blocked = timeline.blocked_by(world, body, slot)
    if blocked is not None:
        _emit_refusal(world, seat, slot, blocked)
        _look_again_at(world, seat, world.counts[Count.TICK] + 1 if blocked.ready is None else blocked.ready)
        return
    block.seat_marks[SeatMark.TOLD_REASON, seat] = 0
    attack = queries.fighter_of(world, body).attacks[slot]
    if attack.charge:
        timeline.begin_charge(world, body, slot)
        return
    timeline.begin(world, body, slot)
    block.seat_marks[SeatMark.REPEATS, seat] = mark_of(slot)
    _look_again_at(
        world, seat, attack.tick_of(0, world.counts[Count.TICK], 1) if attack.table.when_held == "repeat" else NOT_AGAIN
    )


def _emit_refusal(world: World, seat: int, slot: int, blocked: Blocked) -> None:
    """Refuse a hold once for each reason that time alone does not end."""
    index = mark_of(REASONS.index(blocked.reason))
    if blocked.reason in PASSES or world.block.seat_marks[SeatMark.TOLD_REASON, seat] == index:
        return
    world.block.seat_marks[SeatMark.TOLD_REASON, seat] = index
    refuse_blocked(world, seat, f"hold {world.fighter_of_seat(seat).attacks[slot].name}", blocked)


def _look_again_at(world: World, seat: int, tick: int) -> None:
    world.block.timers[Timer.HELD][seat] = tick
    world.wake(tick)
