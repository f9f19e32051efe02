"""Phase 2: what seats ask."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement
from emberwound.bout.hits import grabs
from emberwound.bout.orders import held
from emberwound.bout.orders.input_buffer import refuse_for_the_dead, take_buffered, take_press
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Asked, Count, HeldBit, SeatColumn, SeatMark, Timer, number_of
from emberwound.geometry.layout import BodyColumn, BodyMark, Movement
from emberwound.geometry.walk import turn_to_foes
from emberwound.plan.space import as_offset, unit
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


FEW_SEATS = 12


def orders(world: World) -> None:
    """Turn, aim, walk, be placed, and begin attacks; then those who watch their foes turn to them."""
    if world.counts[Count.ORDERS_PENDING]:
        world.counts[Count.ORDERS_PENDING] = 0
        for seat in _asking(world):
            _take(world, seat)
    if world.counts[Count.TURNING_TO_FOES]:
        block = world.block
        if turn_to_foes(block.bodies, block.body_marks, block.bodies_end, int(world.plan.space.looks_around)):
            world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)


def _asking(world: World) -> list[int] | range:
    """The seats to be asked: all of a few, and of many those that were told something or whose time has come."""
    seats = world.counts[Count.SEATS]
    if seats <= FEW_SEATS:
        return range(seats)
    marks, timers = world.block.seat_marks[:, :seats], world.block.timers
    pressed = (marks[SeatMark.BUFFERED_PRESS] != 0) & (timers[Timer.BUFFERED_PRESS][:seats] == NEVER)
    held = (marks[SeatMark.HELD] != 0) & (timers[Timer.HELD][:seats] == NEVER)
    told = (marks[SeatMark.ORDERS_PENDING] != 0) | (marks[SeatMark.PRESS] != 0)
    asking: list[int] = (told | pressed | held).nonzero()[0].tolist()
    return asking


def _take(world: World, seat: int) -> None:
    marks, timers = world.block.seat_marks[:, seat], world.block.timers
    asked, press = int(marks[SeatMark.ORDERS_PENDING]), number_of(int(marks[SeatMark.PRESS]))
    if asked:
        _stance(world, seat, asked)
    if press >= 0:
        take_press(world, seat, press)
    elif marks[SeatMark.BUFFERED_PRESS] and timers[Timer.BUFFERED_PRESS][seat] == NEVER:
        take_buffered(world, seat)
    if asked & Asked.HOLD or (marks[SeatMark.HELD] and timers[Timer.HELD][seat] == NEVER):
        held.look(world, seat)


def _stance(world: World, seat: int, asked: int) -> None:
    """All that is no attack. The dead keep their aim, move and guard for the next life; the rest is refused them."""
    block = world.block
    body = queries.body_of(world, seat)
    _keep(world, seat, asked, body)
    if body is None:
        for flag, order in ((Asked.FACING, "facing"), (Asked.PLACE, "place")):
            if asked & flag:
                refuse_for_the_dead(world, seat, order)
        block.seat_marks[SeatMark.ORDERS_PENDING, seat] = asked & Asked.AIM
        block.seat_marks[[SeatMark.ASKED_GROUNDED, SeatMark.ASKED_POSTURE], seat] = 0
        return
    block.seat_marks[SeatMark.ORDERS_PENDING, seat] = 0
    _turn(world, seat, asked, body)
    if asked & (Asked.MOVE | Asked.PATH):
        movement.follow_orders(world, body)
        movement.set_moving(world, body)
    if asked & Asked.PLACE:
        _place(world, seat, body, teleport=bool(asked & Asked.TELEPORT))


def _keep(world: World, seat: int, asked: int, body: int | None) -> None:
    """What lasts: where to walk, what to hold, and whether to watch the foes."""
    block = world.block
    marks = block.seat_marks[:, seat]
    if asked & Asked.MOVE:
        block.seats[SeatColumn.MOVE : SeatColumn.MOVE + 2, seat] = block.seats[
            SeatColumn.ASKED_MOVE : SeatColumn.ASKED_MOVE + 2, seat
        ]
        marks[SeatMark.PATH] = 0
    if asked & Asked.PATH:
        marks[SeatMark.PATH] = marks[SeatMark.ASKED_PATH]
        if body is not None:
            block.body_marks[BodyMark.PATH_STEP, body] = 0
    if asked & Asked.HOLD:
        bits = int(marks[SeatMark.ASKED_HOLD])
        guard = 1 if bits & HeldBit.GUARD else 0
        if body is not None and guard and not marks[SeatMark.GUARD]:
            movement.raise_guard(world, body)
        marks[SeatMark.GUARD] = guard
        postures = bits >> HeldBit.POSTURE & ~1
        marks[SeatMark.POSTURE] = (postures & -postures).bit_length() - 1 if postures else 0
        marks[SeatMark.HELD] = bits & (HeldBit.GUARD - 1) if body is not None else 0
        if body is not None:
            movement.take_posture(world, body, int(marks[SeatMark.POSTURE]))
            held.refuse_behind(world, seat, int(marks[SeatMark.HELD]))
    if asked & (Asked.FOE | Asked.FACING | Asked.AIM):
        movement.look(world, seat, body, at_foes=bool(asked & Asked.FOE))


def _turn(world: World, seat: int, asked: int, body: int) -> None:
    block, space = world.block, world.plan.space
    if "turn" in queries.locks_of(world, body) or block.body_marks[BodyMark.FROZEN_UNTIL, body]:
        _aim_without_turning(world, seat, asked, body)
        return
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    if asked & Asked.FACING:
        ahead = block.seats[SeatColumn.ASKED_AHEAD : SeatColumn.ASKED_AHEAD + 2, seat].tolist()
    elif asked & Asked.MOVE and not asked & (Asked.AIM | Asked.FOE):
        across, along = block.seats[SeatColumn.MOVE : SeatColumn.MOVE + 2, seat].tolist()
        ahead = space.towards((across, along, 0.0)) or ahead
    if asked & Asked.AIM:
        aim = unit(block.seats[SeatColumn.ASKED_AIM : SeatColumn.ASKED_AIM + 3, seat].tolist())
        if not asked & Asked.FACING:
            ahead = space.towards(aim) or ahead
        block.seats[SeatColumn.AIM : SeatColumn.AIM + 3, seat] = as_offset(aim, ahead)
    block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body] = ahead
    world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)


def _aim_without_turning(world: World, seat: int, asked: int, body: int) -> None:
    block = world.block
    if asked & Asked.AIM:
        aim = unit(block.seats[SeatColumn.ASKED_AIM : SeatColumn.ASKED_AIM + 3, seat].tolist())
        ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
        block.seats[SeatColumn.AIM : SeatColumn.AIM + 3, seat] = as_offset(aim, ahead)


def _place(world: World, seat: int, body: int, *, teleport: bool) -> None:
    block = world.block
    if world.counts[Count.GRABS]:
        grabs.end(world, body, Reason.PLACED)
    place = block.seats[SeatColumn.ASKED_PLACE : SeatColumn.ASKED_PLACE + 3, seat]
    block.bodies[BodyColumn.END : BodyColumn.END + 3, body] = place
    if teleport:
        start = block.seats[SeatColumn.ASKED_START : SeatColumn.ASKED_START + 3, seat]
        block.bodies[BodyColumn.START : BodyColumn.START + 3, body] = start
    block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body] = block.seats[
        SeatColumn.ASKED_VELOCITY : SeatColumn.ASKED_VELOCITY + 3, seat
    ]
    block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4, body] = 0.0
    block.body_marks[BodyMark.MOVEMENT, body] = Movement.PLACED
    marks = block.seat_marks[:, seat]
    grounded = number_of(int(marks[SeatMark.ASKED_GROUNDED]))
    if grounded < 0:
        grounded = queries.stands_at(world, world.fighter_of_seat(seat), place.tolist())
    block.body_marks[BodyMark.GROUNDED, body] = grounded
    block.body_marks[BodyMark.LUNGES, body] = 0
    if marks[SeatMark.ASKED_POSTURE]:
        marks[SeatMark.POSTURE] = number_of(int(marks[SeatMark.ASKED_POSTURE]))
        movement.take_posture(world, body, int(marks[SeatMark.POSTURE]))
    marks[[SeatMark.ASKED_GROUNDED, SeatMark.ASKED_POSTURE]] = 0
    world.counts[Count.DIRTY_POSE_TICKS] = 2
