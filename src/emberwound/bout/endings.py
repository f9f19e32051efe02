"""Seats whose last life is over, and what comes of it: the bout goes on, ends, or begins anew."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout import afflictions, attacks, bodies, scores, shots
from emberwound.bout.block import (
    AIM,
    CURSOR,
    DUE_RESPAWN,
    ENTRY,
    LAY,
    MOVE,
    NEXT_DUE,
    OVER,
    PROP,
    RESTARTING,
    SEAT_DRAWS,
    SEAT_FIGHTER,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_LIVES_FIRST,
    SEAT_OUT,
    SEAT_TEAM,
    SEATS,
    SHIFT,
    TICK,
)
from emberwound.geometry.legs import MARK_ID
from emberwound.geometry.pose import (
    FRAME_END,
    FRAME_FROZEN,
    FRAME_ID,
    FRAME_LIVE,
    FRAME_OWNER,
    FRAME_START,
    FRAME_THROWN,
    FRAME_VELOCITY,
)
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Died, Eliminated, Ended, Restarted
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World

KEPT = (SEAT_FIGHTER, SEAT_TEAM, SEAT_LIFE, SEAT_LIVES_FIRST, SEAT_DRAWS)
"""What a seat keeps when a bout begins anew."""


def settle(world: World, last: list[Died]) -> None:
    """Tell who is out by the last deaths of this tick, and whether that decides the bout."""
    if not last:
        return
    marks, plan = world.block.seat_marks, world.plan
    for died in last:
        if died.seat is None:
            continue
        marks[SEAT_OUT, world.names.index(died.seat)] = 1
        fields = {
            "seat": died.seat,
            "by": died.credit or f"the {died.attack}",
            "attack": died.attack,
            "arena": plan.arena,
            "life": died.life,
        }
        message = plan.out_message.format_map(fields)
        world.emit(Eliminated, time=died.time, seat=died.seat, by=died.credit, cause=died.seq, message=message)
    if plan.when_out == "go_on" or not _is_decided(world):
        return
    if plan.when_out == "restart":
        world.counts[RESTARTING] = 1
        return
    standing = _teams(world, standing=True)
    winner = _name(world, standing.pop()) if len(standing) == 1 else None
    world.emit(
        Ended, time=(world.counts[TICK] + 1) / plan.tick_rate, winner=winner, draw=not _teams(world, standing=True)
    )
    world.counts[OVER] = 1


def _is_decided(world: World) -> bool:
    plan, everybody = world.plan, _teams(world, standing=False)
    standing = _teams(world, standing=True)
    if plan.when_out == "last_team":
        return len(everybody) > 1 and len(standing) <= 1
    if plan.out_team is None:
        return True
    number = world.teams.index(plan.out_team) + 1 if plan.out_team in world.teams else -1
    return number in everybody and number not in standing


def _teams(world: World, *, standing: bool) -> set[int]:
    """The teams of all seats, or of those that are not out."""
    marks = world.block.seat_marks[:, len(world.plan.props) : world.counts[SEATS]]
    marks = marks[:, marks[SEAT_LIVES_FIRST] != 0]
    found: set[int] = set(marks[SEAT_TEAM, ~(marks[SEAT_OUT] != 0)].tolist() if standing else marks[SEAT_TEAM].tolist())
    return found


def _name(world: World, team: int) -> str | None:
    seats = np.flatnonzero(world.block.seat_marks[SEAT_TEAM, : world.counts[SEATS]] == team)
    return world.team_name(team) or world.names[int(seats[-1])]


def restart(world: World) -> None:
    """Take all away that the bout has become, and let every seat stand anew with the next tick.

    Ticks and luck go on; the script begins again.
    """
    block, counts = world.block, world.counts
    counts[RESTARTING] = 0
    world.emit(Restarted, time=(counts[TICK] + 1) / world.plan.tick_rate)
    for row in block.shot_marks[MARK_ID].nonzero()[0].tolist():
        shots.end(world, row, Reason.RESTARTED, shots.place_of(world, row))
    for row in block.body_marks[FRAME_ID].nonzero()[0].tolist():
        if block.body_marks[FRAME_LIVE, row] == PROP:
            _put_back(world, row)
        else:
            _clear(world, row)
    for seat in range(len(world.plan.props), counts[SEATS]):
        if not world.names[seat]:
            continue
        scores.begin_anew(world, seat)
        marks = block.seat_marks[:, seat]
        kept = marks[list(KEPT)]
        marks[:] = 0
        marks[list(KEPT)] = kept
        marks[SEAT_LIVES] = marks[SEAT_LIVES_FIRST]
        block.seats[MOVE : MOVE + 2, seat] = 0.0
        block.seats[AIM : AIM + 3, seat] = (1.0, 0.0, 0.0)
        for timer in block.timers[DUE_RESPAWN - 1 :]:
            timer[seat] = NEVER
        block.timers[DUE_RESPAWN][seat] = counts[TICK] + 1
    block.again[:] = 0.0
    block.taken[:] = 0.0
    counts[CURSOR], counts[SHIFT], counts[LAY] = 0, counts[TICK] + 1, 2
    counts[NEXT_DUE] = world.soonest()


def _clear(world: World, row: int) -> None:
    time = (world.counts[TICK] + 1) / world.plan.tick_rate
    attacks.abandon(world, row, Reason.RESTARTED)
    afflictions.end_all(world, row, Reason.RESTARTED, time)
    bodies.remove(world, row, Reason.RESTARTED)


def _put_back(world: World, row: int) -> None:
    """Put a prop where it stood at the start."""
    block = world.block
    place = block.seats[ENTRY : ENTRY + 3, block.body_marks[FRAME_OWNER, row] - 1]
    for at in (FRAME_START, FRAME_END):
        block.bodies[at : at + 3, row] = place
    block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, row] = 0.0
    block.body_marks[[FRAME_THROWN, FRAME_FROZEN], row] = 0
    bodies.set_moving(world, row)
