"""Leaving a bout: a seat's body, its shots and all that remembers it go, and its place is free."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles, timeline
from emberwound.bout.bodies import movement
from emberwound.bout.hits import afflictions, grabs, kill_credit
from emberwound.bout.lives import counters
from emberwound.bout.state.layout import AfflictionMark, Count, SeatMark, Timer, mark_of
from emberwound.geometry.layout import BodyMark, ShotMark
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import SeatLeft
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def leave_all(world: World) -> list[int]:
    """Take the seats that leave out of the bout, at the start of the tick, before anything else; who they were."""
    world.counts[Count.LEAVING] = 0
    seats: list[int] = world.block.seat_marks[SeatMark.LEAVING].nonzero()[0].tolist()
    for seat in seats:
        _leave(world, seat)
    return seats


def _leave(world: World, seat: int) -> None:
    block = world.block
    names = [counter.name for counter in world.plan.counters]
    left_with = dict(zip(names, counters.counted(world, seat), strict=True))
    for shot in (block.shot_marks[ShotMark.OWNER] == mark_of(seat)).nonzero()[0].tolist():
        projectiles.end(world, shot, Reason.OWNER_LEFT, projectiles.place_of(world, shot))
    projectiles.free_ended(world)
    for body in (block.body_marks[BodyMark.OWNER] == mark_of(seat)).nonzero()[0].tolist():
        timeline.abandon(world, body, Reason.OWNER_LEFT)
        grabs.end_of(world, body, Reason.OWNER_LEFT, Reason.OWNER_LEFT)
        afflictions.end_all(world, body, Reason.OWNER_LEFT, world.counts[Count.TICK] / world.plan.tick_rate)
        movement.remove(world, body, Reason.OWNER_LEFT)
    world.emit(SeatLeft(seat=world.names[seat], counters=left_with))
    _forget(world, seat)


def _forget(world: World, seat: int) -> None:
    """Take a seat out of all that remembers it; a team that nobody is of any more is free too."""
    block = world.block
    kill_credit.forget(world, seat)
    block.afflicted_marks[AfflictionMark.BY][block.afflicted_marks[AfflictionMark.BY] == mark_of(seat)] = 0
    block.seat_marks[SeatMark.REVIVED_BY][block.seat_marks[SeatMark.REVIVED_BY] == mark_of(seat)] = 0
    block.combos.forget(seat)
    block.swing_touches.forget_other(seat)
    block.again[:, seat] = 0.0
    team = int(block.seat_marks[SeatMark.TEAM, seat])
    for view in (
        block.seats,
        block.seat_pools,
        block.seat_marks,
        block.counters,
        block.variant_turns,
        block.spread_draws,
    ):
        view[:, seat] = 0
    for timer in block.timers[Timer.ENTER :]:
        timer[seat] = NEVER
    world.names.free(seat)
    if (
        0 < team <= len(world.teams)
        and not (block.seat_marks[SeatMark.TEAM, : world.counts[Count.SEATS]] == team).any()
    ):
        world.teams[team - 1] = ""
