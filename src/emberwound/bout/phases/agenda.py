"""Phase 1: all that is due on this tick."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.attacks import projectiles, steering, timeline
from emberwound.bout.bodies import movement
from emberwound.bout.hits import afflictions, blasts, grabs, hit_stop, knockback, reactions
from emberwound.bout.lives import elimination, leaving, respawn
from emberwound.bout.orders.inputs import take
from emberwound.bout.state.layout import Count, Limit, Timer, number_of
from emberwound.bout.state.pending import PendingBlast
from emberwound.bout.views import cues
from emberwound.geometry.layout import BodyMark, ShotMark
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
        for seat in leaving.leave_all(world):
            cues.forget(world, seat)
    if world.inputs:
        _end_told_shots(world)
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


def _end_told_shots(world: World) -> None:
    """End the shots that the host told to end, before anything else becomes of them."""
    told = [given.shot for given in world.inputs if isinstance(given, EndShot)]
    numbers = world.block.shot_marks[ShotMark.ID]
    for shot in (column for number in dict.fromkeys(told) for column in (numbers == number).nonzero()[0].tolist()):
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
    attack, seat = projectiles.attack_of(world, shot), number_of(int(world.block.shot_marks[ShotMark.OWNER, shot]))
    number, released = world.block.shot_marks[[ShotMark.ID, ShotMark.RELEASE_SEQ], shot].tolist()
    place = projectiles.place_of(world, shot)
    projectiles.end(world, shot, Reason.LIFE_OVER, place)
    if attack.blast >= 0 and "end" in attack.blast_on:
        world.pending_blasts.append(PendingBlast(attack.blast, seat, 0.0, place, released, number=number))


def _shot_turns(world: World, shot: int) -> None:
    if shot not in world.ended_shots:
        steering.steer(world, shot)


def _seat_enters(world: World, seat: int) -> None:
    respawn.announce(world, seat)
    if world.plan.awaits_late_seats and world.counts[Count.TICK]:
        elimination.decide(world)


def _seat_respawns(world: World, seat: int) -> None:
    respawn.respawn(world, seat)
    world.counts[Count.ORDERS_PENDING] = 1


def _order_is_due(world: World, seat: int) -> None:
    del seat
    world.counts[Count.ORDERS_PENDING] = 1


DUE: dict[int, Callable[[World, int], None]] = {
    Timer.DEATH_BLAST: blasts.set_off_at_death,
    Timer.CORPSE_GONE: _corpse_goes,
    Timer.HIT_STOP_END: hit_stop.end,
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
