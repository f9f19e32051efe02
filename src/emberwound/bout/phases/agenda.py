"""Phase 1: all that is due on this tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout import bodies, shots
from emberwound.bout.block import (
    ASKED,
    BODY_ATTACK,
    BODY_BEGAN,
    CURSOR,
    DUE_ENTER,
    DUE_PRESS,
    DUE_RECOVERED,
    DUE_RELEASE,
    DUE_REMOVE,
    DUE_RESPAWN,
    NEXT_DUE,
    SEAT_DIED,
    SEAT_LIFE,
    SEAT_LIVES,
    TICK,
)
from emberwound.bout.inputs import take
from emberwound.geometry.contact import MARK_ID
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_ID, FRAME_START
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Entered, Respawned
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.world import World


def agenda(world: World) -> None:
    """Corpses go, shots burn out, attacks release and end, seats stand up again, scripts speak."""
    tick = world.counts[TICK]
    if tick < world.counts[NEXT_DUE]:
        return
    _bodies(world, tick)
    _shots(world, tick)
    _seats(world, tick)
    _script(world, tick)
    world.counts[NEXT_DUE] = world.soonest()


def _due(timers: NDArray[np.int64], ids: NDArray[np.int64], tick: int) -> list[int]:
    """The columns whose timer is up, in the order of their ids."""
    columns: list[int] = np.flatnonzero(timers <= tick).tolist()
    if columns:
        timers[columns] = NEVER
        columns.sort(key=lambda column: int(ids[column]))
    return columns


def _bodies(world: World, tick: int) -> None:
    block = world.block
    ids = block.body_marks[FRAME_ID]
    for row in _due(block.body_due[DUE_REMOVE], ids, tick):
        bodies.remove(world, row, Reason.CORPSE_TIME_OVER)
    for row in _due(block.body_due[DUE_RELEASE], ids, tick):
        marks = block.body_marks[:, row]
        world.releasing.append((row, int(marks[BODY_ATTACK]) - 1, int(marks[BODY_BEGAN])))
    for row in _due(block.body_due[DUE_RECOVERED], ids, tick):
        block.body_marks[BODY_ATTACK, row] = 0


def _shots(world: World, tick: int) -> None:
    block = world.block
    for row in _due(block.shot_due[0], block.shot_marks[MARK_ID], tick):
        shots.end(world, row, Reason.LIFE_OVER, shots.place_of(world, row))


def _seats(world: World, tick: int) -> None:
    block = world.block
    ids = np.arange(block.seat_due.shape[1])
    for seat in _due(block.seat_due[DUE_ENTER], ids, tick):
        _announce(world, seat, first=True)
    for seat in _due(block.seat_due[DUE_RESPAWN], ids, tick):
        block.seat_marks[SEAT_LIFE, seat] += 1
        bodies.stand(world, seat)
        world.counts[ASKED] = 1
        _announce(world, seat, first=False)
    if (block.seat_due[DUE_PRESS] <= tick).any():
        world.counts[ASKED] = 1


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
        world.emit(Entered, seat=name, fighter=fighter, position=position, facing=facing, lives=lives)
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
