"""Phase 2: what seats ask."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import attacks, bodies
from emberwound.bout.block import (
    AIM,
    ASK_AHEAD,
    ASK_AIM,
    ASK_PLACE,
    ASKED,
    ASKED_AIM,
    ASKED_FACING,
    ASKED_PLACE,
    ASKED_TELEPORT,
    DUE_PRESS,
    DUE_RESPAWN,
    LAY,
    SEAT_ASKED,
    SEAT_DROPPED,
    SEAT_KEPT,
    SEAT_KEPT_UNTIL,
    SEAT_PRESS,
    SEATS,
    TICK,
)
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_END, FRAME_START
from emberwound.plan.plane import as_offset, unit
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Refused
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def orders(world: World) -> None:
    """Turn, aim, be placed, and begin attacks; a press that finds its seat busy is kept for a while."""
    if not world.counts[ASKED]:
        return
    world.counts[ASKED] = 0
    for seat in range(world.counts[SEATS]):
        marks = world.block.seat_marks[:, seat]
        asked, press = int(marks[SEAT_ASKED]), int(marks[SEAT_PRESS]) - 1
        if asked:
            _stance(world, seat, asked)
        if press >= 0:
            _new_press(world, seat, press)
        elif marks[SEAT_KEPT] and world.block.timers[DUE_PRESS][seat] == NEVER:
            _kept_press(world, seat)


def refuse(world: World, seat: int, order: str, reason: Reason, ready: int | None, time: float | None = None) -> None:
    """Say that an order did nothing, and for how long it would have had to wait."""
    wait = None if ready is None or ready >= NEVER else ready - world.counts[TICK]
    world.emit(Refused, time=time, seat=world.names[seat], order=order, reason=reason, wait_ticks=wait)


def press_name(world: World, seat: int, slot: int) -> str:
    """How a press is named where it is refused."""
    return f"press {world.fighter_of_seat(seat).attacks[slot].name}"


def refuse_for_the_dead(world: World, seat: int, order: str, time: float | None = None) -> None:
    """Refuse an order of a seat without a living body."""
    back = int(world.block.timers[DUE_RESPAWN][seat])
    refuse(world, seat, order, Reason.OUT_OF_LIVES if back == NEVER else Reason.DEAD, back, time)


def _stance(world: World, seat: int, asked: int) -> None:
    """Turning, aiming and placing. The dead keep their aim for the next life; the rest is refused them."""
    block = world.block
    body = bodies.row_of(world, seat)
    if body is None:
        for flag, order in ((ASKED_FACING, "facing"), (ASKED_PLACE, "place")):
            if asked & flag:
                refuse_for_the_dead(world, seat, order)
        block.seat_marks[SEAT_ASKED, seat] = asked & ASKED_AIM
        return
    block.seat_marks[SEAT_ASKED, seat] = 0
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist()
    if asked & ASKED_FACING:
        ahead = block.seats[ASK_AHEAD : ASK_AHEAD + 2, seat].tolist()
    if asked & ASKED_AIM:
        aim = unit(block.seats[ASK_AIM : ASK_AIM + 3, seat].tolist())
        if not asked & ASKED_FACING:
            ahead = world.plan.plane.towards(aim) or ahead
        block.seats[AIM : AIM + 3, seat] = as_offset(aim, ahead)
    block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body] = ahead
    world.counts[LAY] = max(world.counts[LAY], 1)
    if asked & ASKED_PLACE:
        block.bodies[FRAME_END : FRAME_END + 3, body] = block.seats[ASK_PLACE : ASK_PLACE + 3, seat]
        if asked & ASKED_TELEPORT:
            block.bodies[FRAME_START : FRAME_START + 3, body] = block.seats[ASK_PLACE : ASK_PLACE + 3, seat]
        world.counts[LAY] = 2


def _new_press(world: World, seat: int, slot: int) -> None:
    block, tick = world.block, world.counts[TICK]
    marks = block.seat_marks[:, seat]
    dropped, older = int(marks[SEAT_DROPPED]), int(marks[SEAT_KEPT]) - 1
    marks[SEAT_PRESS] = marks[SEAT_DROPPED] = 0
    if older >= 0:
        forget_kept(world, seat)
        refuse(world, seat, press_name(world, seat, older), Reason.REPLACED, None)
    for each in range(dropped.bit_length()):
        if dropped >> each & 1:
            refuse(world, seat, press_name(world, seat, each), Reason.REPLACED, None)
    body = bodies.row_of(world, seat)
    if body is None:
        refuse_for_the_dead(world, seat, press_name(world, seat, slot))
        return
    hindered = attacks.hindrance(world, body, slot)
    if hindered is None:
        attacks.begin(world, body, slot)
        return
    reason, ready = hindered
    if world.plan.buffer_ticks == 0:
        refuse(world, seat, press_name(world, seat, slot), reason, ready)
        return
    marks[SEAT_KEPT] = slot + 1
    marks[SEAT_KEPT_UNTIL] = tick + world.plan.buffer_ticks
    _look_again(world, seat, ready)


def _kept_press(world: World, seat: int) -> None:
    block, tick = world.block, world.counts[TICK]
    marks = block.seat_marks[:, seat]
    slot = int(marks[SEAT_KEPT]) - 1
    body = bodies.row_of(world, seat)
    hindered = None if body is None else attacks.hindrance(world, body, slot)
    if hindered is not None and tick < marks[SEAT_KEPT_UNTIL]:
        _look_again(world, seat, hindered[1])
        return
    forget_kept(world, seat)
    if body is None:
        refuse_for_the_dead(world, seat, press_name(world, seat, slot))
    elif hindered is None:
        attacks.begin(world, body, slot)
    else:
        refuse(world, seat, press_name(world, seat, slot), *hindered)


def _look_again(world: World, seat: int, ready: int) -> None:
    due = min(ready, int(world.block.seat_marks[SEAT_KEPT_UNTIL, seat]))
    world.block.timers[DUE_PRESS][seat] = due
    world.wake(due)


def forget_kept(world: World, seat: int) -> None:
    """Drop the press a seat has kept."""
    world.block.seat_marks[SEAT_KEPT, seat] = 0
    world.block.seat_marks[SEAT_KEPT_UNTIL, seat] = 0
    world.block.timers[DUE_PRESS][seat] = NEVER
