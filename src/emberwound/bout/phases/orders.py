"""Phase 2: what seats ask."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import bodies, conditions, holds
from emberwound.bout.block import (
    AIM,
    ASK_AHEAD,
    ASK_AIM,
    ASK_MOVE,
    ASK_PLACE,
    ASK_VELOCITY,
    ASKED,
    ASKED_AIM,
    ASKED_FACING,
    ASKED_FOE,
    ASKED_HOLD,
    ASKED_MOVE,
    ASKED_PATH,
    ASKED_PLACE,
    ASKED_TELEPORT,
    DUE_HOLD,
    DUE_PRESS,
    HOLD_GUARD,
    HOLD_POSTURE,
    LAY,
    LOOKERS,
    MOVE,
    SEAT_ASK_HOLD,
    SEAT_ASK_PATH,
    SEAT_ASKED,
    SEAT_GUARD,
    SEAT_HOLD,
    SEAT_KEPT,
    SEAT_PATH,
    SEAT_POSTURE,
    SEAT_PRESS,
    SEATS,
)
from emberwound.bout.presses import refuse_for_the_dead, take_kept, take_press
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_FROZEN,
    FRAME_GROUNDED,
    FRAME_LUNGES,
    FRAME_MOVES,
    FRAME_PATH_STEP,
    FRAME_START,
    FRAME_VELOCITY,
)
from emberwound.geometry.walk import PLACED, look_at_foes
from emberwound.plan.plane import as_offset, unit
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from emberwound.bout.world import World


FEW_SEATS = 12


def orders(world: World) -> None:
    """Turn, aim, walk, be placed, and begin attacks; then those who watch their foes turn to them."""
    if world.counts[ASKED]:
        world.counts[ASKED] = 0
        for seat in _asking(world):
            _take(world, seat)
    if world.counts[LOOKERS]:
        block = world.block
        if look_at_foes(block.bodies, block.body_marks, int(world.plan.plane.looks_around)):
            world.counts[LAY] = max(world.counts[LAY], 1)


def _asking(world: World) -> list[int] | range:
    """The seats to be asked: all of a few, and of many those that were told something or whose time has come."""
    seats = world.counts[SEATS]
    if seats <= FEW_SEATS:
        return range(seats)
    marks, timers = world.block.seat_marks[:, :seats], world.block.timers
    pressed = (marks[SEAT_KEPT] != 0) & (timers[DUE_PRESS][:seats] == NEVER)
    held = (marks[SEAT_HOLD] != 0) & (timers[DUE_HOLD][:seats] == NEVER)
    told = (marks[SEAT_ASKED] != 0) | (marks[SEAT_PRESS] != 0)
    asking: list[int] = (told | pressed | held).nonzero()[0].tolist()
    return asking


def _take(world: World, seat: int) -> None:
    marks, timers = world.block.seat_marks[:, seat], world.block.timers
    asked, press = int(marks[SEAT_ASKED]), int(marks[SEAT_PRESS]) - 1
    if asked:
        _stance(world, seat, asked)
    if press >= 0:
        take_press(world, seat, press)
    elif marks[SEAT_KEPT] and timers[DUE_PRESS][seat] == NEVER:
        take_kept(world, seat)
    if asked & ASKED_HOLD or (marks[SEAT_HOLD] and timers[DUE_HOLD][seat] == NEVER):
        holds.look(world, seat)


def _stance(world: World, seat: int, asked: int) -> None:
    """All that is no attack. The dead keep their aim, move and guard for the next life; the rest is refused them."""
    block = world.block
    body = conditions.row_of(world, seat)
    _keep(world, seat, asked, body)
    if body is None:
        for flag, order in ((ASKED_FACING, "facing"), (ASKED_PLACE, "place")):
            if asked & flag:
                refuse_for_the_dead(world, seat, order)
        block.seat_marks[SEAT_ASKED, seat] = asked & ASKED_AIM
        return
    block.seat_marks[SEAT_ASKED, seat] = 0
    _turn(world, seat, asked, body)
    if asked & (ASKED_MOVE | ASKED_PATH):
        bodies.follow_orders(world, body)
        bodies.set_moving(world, body)
    if asked & ASKED_PLACE:
        _place(world, seat, body, teleport=bool(asked & ASKED_TELEPORT))


def _keep(world: World, seat: int, asked: int, body: int | None) -> None:
    """What lasts: where to walk, what to hold, and whether to watch the foes."""
    block = world.block
    marks = block.seat_marks[:, seat]
    if asked & ASKED_MOVE:
        block.seats[MOVE : MOVE + 2, seat] = block.seats[ASK_MOVE : ASK_MOVE + 2, seat]
        marks[SEAT_PATH] = 0
    if asked & ASKED_PATH:
        marks[SEAT_PATH] = marks[SEAT_ASK_PATH]
        if body is not None:
            block.body_marks[FRAME_PATH_STEP, body] = 0
    if asked & ASKED_HOLD:
        held = int(marks[SEAT_ASK_HOLD])
        guard = 1 if held & HOLD_GUARD else 0
        if body is not None and guard and not marks[SEAT_GUARD]:
            bodies.raise_guard(world, body)
        marks[SEAT_GUARD] = guard
        postures = held >> HOLD_POSTURE & ~1
        marks[SEAT_POSTURE] = (postures & -postures).bit_length() - 1 if postures else 0
        marks[SEAT_HOLD] = held & (HOLD_GUARD - 1) if body is not None else 0
        if body is not None:
            bodies.take_posture(world, body, int(marks[SEAT_POSTURE]))
    if asked & (ASKED_FOE | ASKED_FACING | ASKED_AIM):
        bodies.look(world, seat, body, at_foes=bool(asked & ASKED_FOE))


def _turn(world: World, seat: int, asked: int, body: int) -> None:
    block, plane = world.block, world.plan.plane
    if "turn" in conditions.locks_of(world, body) or block.body_marks[FRAME_FROZEN, body]:
        _aim_without_turning(world, seat, asked, body)
        return
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist()
    if asked & ASKED_FACING:
        ahead = block.seats[ASK_AHEAD : ASK_AHEAD + 2, seat].tolist()
    elif asked & ASKED_MOVE and not asked & (ASKED_AIM | ASKED_FOE):
        across, along = block.seats[MOVE : MOVE + 2, seat].tolist()
        ahead = plane.towards((across, along, 0.0)) or ahead
    if asked & ASKED_AIM:
        aim = unit(block.seats[ASK_AIM : ASK_AIM + 3, seat].tolist())
        if not asked & ASKED_FACING:
            ahead = plane.towards(aim) or ahead
        block.seats[AIM : AIM + 3, seat] = as_offset(aim, ahead)
    block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body] = ahead
    world.counts[LAY] = max(world.counts[LAY], 1)


def _aim_without_turning(world: World, seat: int, asked: int, body: int) -> None:
    block = world.block
    if asked & ASKED_AIM:
        aim = unit(block.seats[ASK_AIM : ASK_AIM + 3, seat].tolist())
        ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist()
        block.seats[AIM : AIM + 3, seat] = as_offset(aim, ahead)


def _place(world: World, seat: int, body: int, *, teleport: bool) -> None:
    block = world.block
    place = block.seats[ASK_PLACE : ASK_PLACE + 3, seat]
    block.bodies[FRAME_END : FRAME_END + 3, body] = place
    if teleport:
        block.bodies[FRAME_START : FRAME_START + 3, body] = place
    block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, body] = block.seats[ASK_VELOCITY : ASK_VELOCITY + 3, seat]
    block.body_marks[FRAME_MOVES, body] = PLACED
    block.body_marks[FRAME_GROUNDED, body] = conditions.stands_at(world, float(place[2]))
    block.body_marks[FRAME_LUNGES, body] = 0
    world.counts[LAY] = 2
