"""Leaving a bout: a seat's body, its shots and all that remembers it go, and its place is free."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import afflictions, attacks, bodies, credit, cues, scores, shots
from emberwound.bout.block import AFFLICTED_BY, DUE_ENTER, LEAVING, SEAT_LEAVES, SEAT_TEAM, SEATS, TICK
from emberwound.geometry.legs import MARK_OWNER
from emberwound.geometry.pose import FRAME_OWNER
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Left
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def leave_all(world: World) -> None:
    """Take the seats that leave out of the bout, at the start of the tick at hand, before anything else."""
    world.counts[LEAVING] = 0
    for seat in world.block.seat_marks[SEAT_LEAVES].nonzero()[0].tolist():
        _leave(world, seat)


def _leave(world: World, seat: int) -> None:
    block = world.block
    names = [counter.name for counter in world.plan.counters]
    counters = dict(zip(names, scores.counted(world, seat), strict=True))
    for row in (block.shot_marks[MARK_OWNER] == seat + 1).nonzero()[0].tolist():
        shots.end(world, row, Reason.OWNER_LEFT, shots.place_of(world, row))
    for row in (block.body_marks[FRAME_OWNER] == seat + 1).nonzero()[0].tolist():
        attacks.abandon(world, row, Reason.OWNER_LEFT)
        afflictions.end_all(world, row, Reason.OWNER_LEFT, world.counts[TICK] / world.plan.tick_rate)
        bodies.remove(world, row, Reason.OWNER_LEFT)
    world.emit(Left, seat=world.names[seat], counters=counters)
    _forget(world, seat)


def _forget(world: World, seat: int) -> None:
    """Take a seat out of all that remembers it; a team that nobody is of any more is free too."""
    block = world.block
    credit.forget(world, seat)
    cues.forget(world, seat)
    block.afflicted_marks[AFFLICTED_BY][block.afflicted_marks[AFFLICTED_BY] == seat + 1] = 0
    if seat < block.row_counts.shape[0]:
        block.row_counts[seat] = 0
        block.row_times[seat] = 0.0
    block.again[:, seat] = 0.0
    team = int(block.seat_marks[SEAT_TEAM, seat])
    for view in (block.seats, block.seat_marks, block.counters):
        view[:, seat] = 0
    for timer in block.timers[DUE_ENTER:]:
        timer[seat] = NEVER
    world.names[seat] = ""
    if 0 < team <= len(world.teams) and not (block.seat_marks[SEAT_TEAM, : world.counts[SEATS]] == team).any():
        world.teams[team - 1] = ""
