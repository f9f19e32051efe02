"""Phase 1: all that is due on this tick."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout import afflictions, attacks, blasts, bodies, freezes, leaving, pushes, reactions, returns, shots
from emberwound.bout.blasts import Charge
from emberwound.bout.block import (
    ASKED,
    CURSOR,
    DUE_AFFLICTION,
    DUE_LIFE,
    LEAVING,
    MOST_AFFLICTIONS,
    NEXT_DUE,
    SHIFT,
    SHOT_RELEASED,
    TICK,
)
from emberwound.bout.inputs import take
from emberwound.geometry.legs import MARK_ID, MARK_OWNER
from emberwound.geometry.pose import FRAME_ID
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def agenda(world: World) -> None:
    """Seats leave, corpses go, shots burn out, attacks release and end, seats stand up again, scripts speak."""
    tick = world.counts[TICK]
    if tick < world.counts[NEXT_DUE]:
        return
    if world.counts[LEAVING]:
        leaving.leave_all(world)
    due, starts = world.block.due, world.block.due_starts
    places: list[int] = (due <= tick).nonzero()[0].tolist()
    due[places] = NEVER
    calls = [(timer := bisect_right(starts, place) - 1, place - starts[timer]) for place in places]
    if len(calls) > 1:
        calls.sort(key=lambda call: (call[0], _id(world, *call)))
    for timer, column in calls:
        if timer > DUE_LIFE or _id(world, timer, column):
            _TAKERS[timer](world, column)
    _script(world, tick)
    world.counts[NEXT_DUE] = world.soonest()


def _id(world: World, timer: int, column: int) -> int:
    """What decides between columns whose timers are up in one tick: the body's, the shot's or the seat's id."""
    if timer == DUE_LIFE:
        return int(world.block.shot_marks[MARK_ID, column])
    if timer > DUE_LIFE:
        return column
    row = column // MOST_AFFLICTIONS if timer == DUE_AFFLICTION else column
    return int(world.block.body_marks[FRAME_ID, row])


def _corpse_goes(world: World, row: int) -> None:
    bodies.remove(world, row, Reason.CORPSE_TIME_OVER)


def _body_thaws(world: World, row: int) -> None:
    freezes.thaw(world, row)


def _attack_goes_on(world: World, row: int) -> None:
    attacks.run_stages(world, row)


def _reaction_is_over(world: World, row: int) -> None:
    reactions.end(world, row)


def _push_is_due(world: World, row: int) -> None:
    pushes.start(world, [row])


def _protection_is_over(world: World, row: int) -> None:
    bodies.bare(world, row)


def _affliction_works(world: World, column: int) -> None:
    afflictions.work(world, column)


def _shot_burns_out(world: World, row: int) -> None:
    attack, seat = shots.attack_of(world, row), int(world.block.shot_marks[MARK_OWNER, row]) - 1
    number, released = world.block.shot_marks[[MARK_ID, SHOT_RELEASED], row].tolist()
    place = shots.place_of(world, row)
    shots.end(world, row, Reason.LIFE_OVER, place)
    if attack.blast >= 0 and "end" in attack.blast_on:
        world.charges.append(Charge(attack.blast, seat, 0.0, place, released, number=number))


def _death_bursts(world: World, row: int) -> None:
    blasts.set_off_at_death(world, row)


def _seat_enters(world: World, seat: int) -> None:
    returns.announce(world, seat)


def _seat_respawns(world: World, seat: int) -> None:
    returns.stand_again(world, seat)
    world.counts[ASKED] = 1


def _order_is_due(world: World, seat: int) -> None:
    del seat
    world.counts[ASKED] = 1


_TAKERS = (
    _death_bursts,
    _corpse_goes,
    _body_thaws,
    _attack_goes_on,
    _reaction_is_over,
    _push_is_due,
    _protection_is_over,
    _affliction_works,
    _shot_burns_out,
    _seat_enters,
    _seat_respawns,
    _order_is_due,
    _order_is_due,
)
"""What each timer calls for, in the order of the timers in the block."""


def _script(world: World, tick: int) -> None:
    if world.script is None:
        return
    inputs = world.script.inputs
    cursor, shift = world.counts[CURSOR], world.counts[SHIFT]
    while cursor < len(inputs) and inputs[cursor].tick + shift <= tick:
        given = inputs[cursor]
        take(world, msgspec.structs.replace(given, tick=given.tick + shift) if shift else given)
        cursor += 1
    world.counts[CURSOR] = cursor
