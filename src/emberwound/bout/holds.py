"""Holds: attacks repeated or charged for as long as they are held, at their exact times."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import attacks, conditions
from emberwound.bout.block import (
    BODY_ANCHOR,
    BODY_ATTACK,
    BODY_CHARGING,
    BODY_REPEAT,
    DUE_HOLD,
    SEAT_CHAIN,
    SEAT_HOLD,
    SEAT_TOLD,
    TICK,
)
from emberwound.bout.presses import refuse_hindered
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.attacks import Hindrance
    from emberwound.bout.world import World

PASSES = frozenset({Reason.ATTACKING, Reason.COOLDOWN, Reason.REACTING, Reason.FROZEN})
"""What a hold simply waits for."""

REASONS = list(Reason)


def look(world: World, seat: int) -> None:
    """Begin, repeat, charge or let go what a seat holds, if it is time."""
    body = conditions.row_of(world, seat)
    if body is None:
        return
    block = world.block
    held, marks = int(block.seat_marks[SEAT_HOLD, seat]), block.body_marks
    if marks[BODY_CHARGING, body]:
        slot = int(marks[BODY_ATTACK, body]) - 1
        if not held >> slot & 1:
            attacks.begin(world, body, slot)
        return
    if not held:
        block.seat_marks[SEAT_CHAIN, seat] = block.seat_marks[SEAT_TOLD, seat] = 0
        return
    slot = (held & -held).bit_length() - 1
    if block.seat_marks[SEAT_CHAIN, seat] == slot + 1:
        _go_on(world, seat, body, slot)
    else:
        _start(world, seat, body, slot)


def _go_on(world: World, seat: int, body: int, slot: int) -> None:
    """The next of a row of repeats, if its exact time has come."""
    marks = world.block.body_marks
    attack = conditions.fighter_of(world, body).attacks[slot]
    anchor, repeat = int(marks[BODY_ANCHOR, body]), int(marks[BODY_REPEAT, body]) + 1
    due = attack.tick_of(0, anchor, repeat)
    if world.counts[TICK] < due:
        _look_again(world, seat, due)
        return
    if attacks.hindrance(world, body, slot, repeat=True) is None:
        attacks.begin(world, body, slot, anchor=anchor, repeat=repeat)
        _look_again(world, seat, attack.tick_of(0, anchor, repeat + 1))
        return
    world.block.seat_marks[SEAT_CHAIN, seat] = 0
    _start(world, seat, body, slot)


def _start(world: World, seat: int, body: int, slot: int) -> None:
    """The first of a row of repeats, or a charge, if nothing hinders it."""
    block = world.block
    hindered = attacks.hindrance(world, body, slot)
    if hindered is not None:
        _tell(world, seat, slot, hindered)
        _look_again(world, seat, world.counts[TICK] + 1 if hindered.ready is None else hindered.ready)
        return
    block.seat_marks[SEAT_TOLD, seat] = 0
    attack = conditions.fighter_of(world, body).attacks[slot]
    if attack.charge:
        attacks.begin_charge(world, body, slot)
        return
    attacks.begin(world, body, slot)
    block.seat_marks[SEAT_CHAIN, seat] = slot + 1
    _look_again(world, seat, attack.tick_of(0, world.counts[TICK], 1))


def _tell(world: World, seat: int, slot: int, hindered: Hindrance) -> None:
    """Refuse a hold once for each reason that time alone does not mend."""
    number = REASONS.index(hindered.reason) + 1
    if hindered.reason in PASSES or world.block.seat_marks[SEAT_TOLD, seat] == number:
        return
    world.block.seat_marks[SEAT_TOLD, seat] = number
    refuse_hindered(world, seat, f"hold {world.fighter_of_seat(seat).attacks[slot].name}", hindered)


def _look_again(world: World, seat: int, tick: int) -> None:
    world.block.timers[DUE_HOLD][seat] = tick
    world.wake(tick)
