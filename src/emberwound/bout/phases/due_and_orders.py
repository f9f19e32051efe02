"""Phases 1 and 2: all that is due on this tick, then what seats ask."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.attacks import projectiles, timeline
from emberwound.bout.bodies import movement
from emberwound.bout.hits import afflictions, blasts, grabs, knockback, reactions
from emberwound.bout.lives import cues, death, respawn
from emberwound.bout.orders import input_buffer
from emberwound.bout.orders.input_buffer import refuse_for_the_dead, take_buffered, take_press
from emberwound.bout.orders.inputs import take
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Asked, Count, HeldBit, Limit, SeatColumn, SeatMark, Timer, index_of_mark
from emberwound.bout.state.pending import PendingBlast
from emberwound.geometry.layout import BodyColumn, BodyMark, Movement, ShotMark
from emberwound.geometry.walk import turn_to_foes
from emberwound.plan.space import as_offset, unit
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.orders import EndShot, Enter, Leave
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.bout.state.world import World
    from emberwound.plan.script import Script


COMES_AND_GOES = (Enter, Leave)
"""The inputs of a script that are taken before all else of their tick."""


def agenda(world: World) -> None:
    """Seats leave, corpses go, shots expire, attacks release and end, seats respawn, scripts speak."""
    tick = world.counts[Count.TICK]
    if tick < world.counts[Count.NEXT_DUE]:
        return
    if world.script is not None and world.script.comes_and_goes:
        _come_and_go(world, world.script, tick)
    if world.counts[Count.LEAVING]:
        for seat in death.leave_all(world):
            cues.forget(world, seat)
    if world.inputs:
        _end_shots(world)
    due, starts = world.block.due, world.block.due_starts
    places: list[int] = (due <= tick).nonzero()[0].tolist()
    due[places] = NEVER
    calls = [(timer := bisect_right(starts, place) - 1, place - starts[timer]) for place in places]
    if len(calls) > 1:
        calls.sort(key=lambda call: (call[0], _id(world, *call)))
    for timer, column in calls:
        if timer > Timer.SHOT_STEERING or _id(world, timer, column):
            DUE[timer](world, column)
    projectiles.free_ended(world)
    _script(world, tick)
    world.counts[Count.NEXT_DUE] = world.soonest()


def _end_shots(world: World) -> None:
    """End the shots that the host ends, before anything else becomes of them."""
    told = [given.shot for given in world.inputs if isinstance(given, EndShot)]
    ids = world.block.shot_marks[ShotMark.ID]
    for shot in (column for shot_id in dict.fromkeys(told) for column in (ids == shot_id).nonzero()[0].tolist()):
        projectiles.end(world, shot, Reason.ENDED_BY_HOST, projectiles.place_of(world, shot))
    projectiles.free_ended(world)


def _id(world: World, timer: int, column: int) -> int:
    """What decides between columns whose timers are up in one tick: the body's, the shot's or the seat's id."""
    if timer > Timer.SHOT_STEERING:
        return column
    if timer >= Timer.SHOT_LIFETIME:
        return int(world.block.shot_marks[ShotMark.ID, column])
    body = column // Limit.AFFLICTIONS if timer == Timer.AFFLICTION else column
    return int(world.block.body_marks[BodyMark.ID, body])


def _corpse_goes(world: World, body: int) -> None:
    movement.remove(world, body, Reason.CORPSE_TIME_OVER)


def _push_is_due(world: World, body: int) -> None:
    knockback.start(world, [body])


def _grab_is_over(world: World, body: int) -> None:
    grabs.end(world, body, Reason.TIME_OVER)


def _shot_expires(world: World, shot: int) -> None:
    attack, seat = projectiles.attack_of(world, shot), index_of_mark(int(world.block.shot_marks[ShotMark.OWNER, shot]))
    shot_id, released = world.block.shot_marks[[ShotMark.ID, ShotMark.RELEASE_SEQ], shot].tolist()
    place = projectiles.place_of(world, shot)
    projectiles.end(world, shot, Reason.LIFE_OVER, place)
    if attack.blast >= 0 and "end" in attack.table.blast_on:
        world.pending_blasts.append(PendingBlast(attack.blast, seat, 0.0, place, released, shot=shot_id))


def _shot_turns(world: World, shot: int) -> None:
    if shot not in world.ended_shots:
        projectiles.steer(world, shot)


def _seat_enters(world: World, seat: int) -> None:
    respawn.announce(world, seat)
    if world.plan.awaits_late_seats and world.counts[Count.TICK]:
        death.decide(world)


def _seat_respawns(world: World, seat: int) -> None:
    respawn.respawn(world, seat)
    world.counts[Count.ORDERS_PENDING] = 1


def _order_is_due(world: World, seat: int) -> None:
    del seat
    world.counts[Count.ORDERS_PENDING] = 1


DUE: dict[int, Callable[[World, int], None]] = {
    Timer.DEATH_BLAST: blasts.set_off_at_death,
    Timer.CORPSE_GONE: _corpse_goes,
    Timer.HIT_STOP_END: knockback.thaw,
    Timer.ATTACK_STAGE: timeline.run_stages,
    Timer.REACTION_END: reactions.end,
    Timer.KNOCKBACK: _push_is_due,
    Timer.PROTECTION_END: movement.bare,
    Timer.GRAB_END: _grab_is_over,
    Timer.AFFLICTION: afflictions.work,
    Timer.SHOT_LIFETIME: _shot_expires,
    Timer.SHOT_STEERING: _shot_turns,
    Timer.ENTER: _seat_enters,
    Timer.RESPAWN: _seat_respawns,
    Timer.BUFFERED_PRESS: _order_is_due,
    Timer.HELD: _order_is_due,
}
"""What is called when a timer is due, with the column of the body, affliction, shot or seat that it is of."""


def _come_and_go(world: World, script: Script, tick: int) -> None:
    """Let the script's seats enter and leave that do so on this tick; after a restart also those it had let leave."""
    cursor, shift = world.counts[Count.SCRIPT_CURSOR], world.counts[Count.SCRIPT_OFFSET]
    if shift and tick == shift:
        for entry in script.entries:
            if entry.seat in script.leaving and entry.seat not in world.names:
                take(world, msgspec.structs.replace(entry, tick=tick))
    while cursor < len(script.inputs) and script.inputs[cursor].tick + shift <= tick:
        given = script.inputs[cursor]
        cursor += 1
        if isinstance(given, COMES_AND_GOES) and (given.seat in world.names) is isinstance(given, Leave):
            take(world, msgspec.structs.replace(given, tick=tick))


def _script(world: World, tick: int) -> None:
    if world.script is None:
        return
    inputs = world.script.inputs
    cursor, shift = world.counts[Count.SCRIPT_CURSOR], world.counts[Count.SCRIPT_OFFSET]
    while cursor < len(inputs) and inputs[cursor].tick + shift <= tick:
        given = inputs[cursor]
        cursor += 1
        if given.seat in world.names and not isinstance(given, COMES_AND_GOES):
            take(world, msgspec.structs.replace(given, tick=given.tick + shift) if shift else given)
    world.counts[Count.SCRIPT_CURSOR] = cursor


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
    """The seats to be asked: all of a few, and of many those that were given something or whose time has come."""
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
    asked, press = int(marks[SeatMark.ORDERS_PENDING]), index_of_mark(int(marks[SeatMark.PRESS]))
    if asked:
        _stance(world, seat, asked)
    if press >= 0:
        take_press(world, seat, press)
    elif marks[SeatMark.BUFFERED_PRESS] and timers[Timer.BUFFERED_PRESS][seat] == NEVER:
        take_buffered(world, seat)
    if asked & Asked.HOLD or (marks[SeatMark.HELD] and timers[Timer.HELD][seat] == NEVER):
        input_buffer.look_at_holds(world, seat)


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
            input_buffer.refuse_behind(world, seat, int(marks[SeatMark.HELD]))
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
    grounded = index_of_mark(int(marks[SeatMark.ASKED_GROUNDED]))
    if grounded < 0:
        grounded = queries.stands_at(world, world.fighter_of_seat(seat), place.tolist())
    block.body_marks[BodyMark.GROUNDED, body] = grounded
    block.body_marks[BodyMark.LUNGES, body] = 0
    if marks[SeatMark.ASKED_POSTURE]:
        marks[SeatMark.POSTURE] = index_of_mark(int(marks[SeatMark.ASKED_POSTURE]))
        movement.take_posture(world, body, int(marks[SeatMark.POSTURE]))
    marks[[SeatMark.ASKED_GROUNDED, SeatMark.ASKED_POSTURE]] = 0
    world.counts[Count.DIRTY_POSE_TICKS] = 2
