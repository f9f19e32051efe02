"""Holds: attacks repeated or charged for as long as they are held, at their exact times."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.orders.input_buffer import refuse, refuse_blocked
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of, number_of
from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.attacks.timeline import Blocked
    from emberwound.bout.state.world import World

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


def look(world: World, seat: int) -> None:
    """Begin, repeat, charge or let go what a seat holds, if it is time."""
    body = queries.body_of(world, seat)
    if body is None:
        return
    block = world.block
    held, marks = int(block.seat_marks[SeatMark.HELD, seat]), block.body_marks
    if marks[BodyMark.CHARGING_SINCE, body]:
        slot = number_of(int(marks[BodyMark.ATTACK, body]))
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
    if not attack.repeats:
        _look_again(world, seat, NOT_AGAIN)
        return
    anchor, repeat = int(marks[BodyMark.ATTACK_TICK, body]), int(marks[BodyMark.REPEAT, body]) + 1
    due = attack.tick_of(0, anchor, repeat)
    if world.counts[Count.TICK] < due:
        _look_again(world, seat, due)
        return
    if timeline.blocked_by(world, body, slot, repeat=True) is None:
        timeline.begin(world, body, slot, anchor=anchor, repeat=repeat)
        _look_again(world, seat, attack.tick_of(0, anchor, repeat + 1))
        return
    world.block.seat_marks[SeatMark.REPEATS, seat] = 0
    _start(world, seat, body, slot)


def _start(world: World, seat: int, body: int, slot: int) -> None:
    """The first of a row of repeats, or a charge, if nothing hinders it."""
    block = world.block
    blocked = timeline.blocked_by(world, body, slot)
    if blocked is not None:
        _tell(world, seat, slot, blocked)
        _look_again(world, seat, world.counts[Count.TICK] + 1 if blocked.ready is None else blocked.ready)
        return
    block.seat_marks[SeatMark.TOLD_REASON, seat] = 0
    attack = queries.fighter_of(world, body).attacks[slot]
    if attack.charge:
        timeline.begin_charge(world, body, slot)
        return
    timeline.begin(world, body, slot)
    block.seat_marks[SeatMark.REPEATS, seat] = mark_of(slot)
    _look_again(world, seat, attack.tick_of(0, world.counts[Count.TICK], 1) if attack.repeats else NOT_AGAIN)


def _tell(world: World, seat: int, slot: int, blocked: Blocked) -> None:
    """Refuse a hold once for each reason that time alone does not end."""
    number = mark_of(REASONS.index(blocked.reason))
    if blocked.reason in PASSES or world.block.seat_marks[SeatMark.TOLD_REASON, seat] == number:
        return
    world.block.seat_marks[SeatMark.TOLD_REASON, seat] = number
    refuse_blocked(world, seat, f"hold {world.fighter_of_seat(seat).attacks[slot].name}", blocked)


def _look_again(world: World, seat: int, tick: int) -> None:
    world.block.timers[Timer.HELD][seat] = tick
    world.wake(tick)
