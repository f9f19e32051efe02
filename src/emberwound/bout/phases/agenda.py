"""Phase 1: all that is due on this tick."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

from emberwound.bout import afflictions, attacks, bodies, shots
from emberwound.bout.block import (
    ASKED,
    CURSOR,
    DUE_AFFLICTION,
    DUE_LIFE,
    MOST_AFFLICTIONS,
    NEXT_DUE,
    SEAT_DIED,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_TEAM,
    TICK,
)
from emberwound.bout.inputs import take
from emberwound.geometry.legs import MARK_ID
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_ID, FRAME_START
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Entered, Respawned
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def agenda(world: World) -> None:
    """Corpses go, shots burn out, attacks release and end, seats stand up again, scripts speak."""
    tick = world.counts[TICK]
    if tick < world.counts[NEXT_DUE]:
        return
    due, starts = world.block.due, world.block.due_starts
    places: list[int] = (due <= tick).nonzero()[0].tolist()
    due[places] = NEVER
    calls = [(timer := bisect_right(starts, place) - 1, place - starts[timer]) for place in places]
    if len(calls) > 1:
        calls.sort(key=lambda call: (call[0], _id(world, *call)))
    for timer, column in calls:
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


def _attack_goes_on(world: World, row: int) -> None:
    attacks.run_stages(world, row)


def _affliction_works(world: World, column: int) -> None:
    afflictions.work(world, column)


def _shot_burns_out(world: World, row: int) -> None:
    shots.end(world, row, Reason.LIFE_OVER, shots.place_of(world, row))


def _seat_enters(world: World, seat: int) -> None:
    _announce(world, seat, first=True)


def _seat_respawns(world: World, seat: int) -> None:
    world.block.seat_marks[SEAT_LIFE, seat] += 1
    bodies.stand(world, seat)
    world.counts[ASKED] = 1
    _announce(world, seat, first=False)


def _order_is_due(world: World, seat: int) -> None:
    del seat
    world.counts[ASKED] = 1


_TAKERS = (
    _corpse_goes,
    _attack_goes_on,
    _affliction_works,
    _shot_burns_out,
    _seat_enters,
    _seat_respawns,
    _order_is_due,
    _order_is_due,
)
"""What each timer calls for, in the order of the timers in the block."""


def _announce(world: World, seat: int, *, first: bool) -> None:
    block = world.block
    marks = block.seat_marks[:, seat]
    row = bodies.row_of(world, seat)
    name = world.names[seat]
    fighter = world.fighter_of_seat(seat).name
    position = world.point(block.bodies[FRAME_START : FRAME_START + 3, row])
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
    facing = world.point((*ahead, 0.0))
    if first:
        lives = int(marks[SEAT_LIVES])
        team = world.team_name(int(marks[SEAT_TEAM]))
        world.emit(Entered, seat=name, fighter=fighter, position=position, facing=facing, lives=lives, team=team)
    else:
        life, cause = int(marks[SEAT_LIFE]), int(marks[SEAT_DIED])
        world.emit(Respawned, seat=name, cause=cause, fighter=fighter, position=position, facing=facing, life=life)


def _script(world: World, tick: int) -> None:
    if world.script is None:
        return
    inputs = world.script.inputs
    cursor = world.counts[CURSOR]
    while cursor < len(inputs) and inputs[cursor].tick <= tick:
        take(world, inputs[cursor])
        cursor += 1
    world.counts[CURSOR] = cursor
