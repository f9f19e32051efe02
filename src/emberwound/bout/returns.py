"""Entering and standing again: where, which way, and what is told of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import bodies, conditions
from emberwound.bout.block import (
    ENTRY,
    ENTRY_AHEAD,
    SEAT_BECOMES,
    SEAT_CHECKPOINT,
    SEAT_DIED,
    SEAT_FIGHTER,
    SEAT_GUARD,
    SEAT_LIFE,
    SEAT_POSTURE,
    SEAT_TEAM,
    TICK,
)
from emberwound.bout.spots import free_spot
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_START
from emberwound.vocabulary.events import Entered, PropStood, Respawned

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector


def announce(world: World, seat: int) -> None:
    """Tell that a seat's first body, or a prop, stands."""
    name, fighter = world.names[seat], world.fighter_of_seat(seat)
    position, facing = _pose(world, seat)
    if fighter.is_prop:
        world.emit(PropStood, seat=name, prop=fighter.name, position=position, facing=facing)
        return
    world.emit(
        Entered,
        seat=name,
        fighter=fighter.name,
        position=position,
        facing=facing,
        lives=conditions.lives_of(world, seat),
        team=world.team_name(int(world.block.seat_marks[SEAT_TEAM, seat])),
    )


def stand_again(world: World, seat: int) -> None:
    """Let a seat stand in its next body: at its checkpoint or entry, or at the free spot nearest to that."""
    block, tick = world.block, world.counts[TICK]
    block.seat_marks[SEAT_LIFE, seat] += 1
    _become(world, seat)
    place, ahead = _wanted(world, seat)
    spot = free_spot(world, seat, place)
    row = bodies.stand(world, seat, spot or place, ahead)
    fighter = world.fighter_of_seat(seat)
    if fighter.protected_ticks:
        bodies.protect(world, row, fighter.protected_ticks)
    position, facing = _pose(world, seat)
    number = int(block.seat_marks[SEAT_CHECKPOINT, seat]) - 1
    world.emit(
        Respawned,
        seat=world.names[seat],
        cause=int(block.seat_marks[SEAT_DIED, seat]) or None,
        fighter=fighter.name,
        position=position,
        facing=facing,
        life=int(block.seat_marks[SEAT_LIFE, seat]),
        checkpoint=world.plan.checkpoints[number].name if number >= 0 else None,
        moved=sum((a - b) ** 2 for a, b in zip(spot, place, strict=True)) ** 0.5 if spot else 0.0,
        crowded=spot is None,
        protected_until=tick + fighter.protected_ticks if fighter.protected_ticks else None,
    )


def _become(world: World, seat: int) -> None:
    """Let a seat's next body be the fighter's that it was asked to be, which cannot hold itself as the last one did."""
    marks = world.block.seat_marks[:, seat]
    if marks[SEAT_BECOMES]:
        marks[SEAT_FIGHTER] = marks[SEAT_BECOMES] - 1
        for mark in (SEAT_BECOMES, SEAT_POSTURE, SEAT_GUARD):
            marks[mark] = 0


def _wanted(world: World, seat: int) -> tuple[Vector, Sequence[float]]:
    """Where a seat should stand again, and which way."""
    block, plan = world.block, world.plan
    number = int(block.seat_marks[SEAT_CHECKPOINT, seat]) - 1
    if number >= 0:
        checkpoint = plan.checkpoints[number]
        return checkpoint.stand, plan.plane.heading(checkpoint.facing)
    if plan.respawn_entry is not None:
        entry = plan.entries[plan.respawn_entry]
        return entry.position, plan.plane.heading(entry.facing)
    x, y, z = block.seats[ENTRY : ENTRY + 3, seat].tolist()
    return (x, y, z), block.seats[ENTRY_AHEAD : ENTRY_AHEAD + 2, seat].tolist()


def _pose(world: World, seat: int) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Where a seat's body stands and which way it looks, as users of the arena say it."""
    block, row = world.block, conditions.row_of(world, seat)
    position = world.point(block.bodies[FRAME_START : FRAME_START + 3, row])
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
    return position, world.point((*ahead, 0.0))
