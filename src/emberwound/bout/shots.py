"""Shots come and go: a column is taken for each, and freed when it ends."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.block import (
    DUE_LIFE,
    SHOT_FIGHTER,
    SHOT_RELEASED,
    SHOT_SLOT,
    SHOTS_FLYING,
    SHOTS_MADE,
    SHOTS_TOP,
    TICK,
)
from emberwound.geometry.contact import (
    LEG_GRAVITY,
    LEG_RADIUS,
    LEG_VX,
    LEG_X,
    MARK_ID,
    MARK_OWNER,
    MARK_TICK,
)
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Released, ShotEnded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.plan import AttackPlan, FighterPlan
    from emberwound.plan.plane import Vector
    from emberwound.vocabulary.reasons import Reason


def is_full(world: World) -> bool:
    """Whether no further shot has room."""
    return world.counts[SHOTS_FLYING] == world.plan.max_shots


def launch(
    world: World, seat: int, fighter: FighterPlan, slot: int, muzzle: Vector, velocity: Vector, began: int
) -> None:
    """Let a shot fly from `muzzle`; there must be room."""
    block, counts = world.block, world.counts
    ids = block.shot_marks[MARK_ID]
    top = counts[SHOTS_TOP]
    row = top if counts[SHOTS_FLYING] == top else int(np.argmin(ids[:top]))
    counts[SHOTS_TOP] = max(top, row + 1)
    counts[SHOTS_FLYING] += 1
    counts[SHOTS_MADE] += 1
    number = counts[SHOTS_MADE]
    attack = fighter.attacks[slot]
    shot = attack.shot
    released = world.emit(
        Released,
        by=world.names[seat],
        cause=began,
        attack=attack.name,
        shot=number,
        position=world.point(muzzle),
        velocity=world.point(velocity),
    )
    block.shots[LEG_X : LEG_X + 3, row] = muzzle
    block.shots[LEG_VX : LEG_VX + 3, row] = velocity
    block.shots[LEG_GRAVITY, row] = shot.gravity
    block.shots[LEG_RADIUS, row] = shot.radius
    marks = block.shot_marks
    marks[MARK_ID, row] = number
    marks[MARK_OWNER, row] = seat + 1
    marks[MARK_TICK, row] = counts[TICK]
    marks[SHOT_FIGHTER, row] = fighter.id
    marks[SHOT_SLOT, row] = slot
    marks[SHOT_RELEASED, row] = released
    block.timers[DUE_LIFE][row] = counts[TICK] + shot.life_ticks
    world.wake(counts[TICK] + shot.life_ticks)


def attack_of(world: World, row: int) -> AttackPlan:
    """The attack that a shot came from."""
    marks = world.block.shot_marks
    return world.plan.fighters[int(marks[SHOT_FIGHTER, row])].attacks[int(marks[SHOT_SLOT, row])]


def end(world: World, row: int, reason: Reason, position: Vector, *, time: float | None = None, **figures: Any) -> None:
    """End a shot: one event, and its column is free."""
    block, counts = world.block, world.counts
    marks = block.shot_marks
    figures.setdefault("cause", int(marks[SHOT_RELEASED, row]))
    world.emit(
        ShotEnded,
        time=time,
        by=world.names[marks[MARK_OWNER, row] - 1],
        attack=attack_of(world, row).name,
        shot=int(marks[MARK_ID, row]),
        reason=reason,
        position=world.point(position),
        **figures,
    )
    block.shots[:, row] = 0.0
    marks[:, row] = 0
    block.timers[DUE_LIFE][row] = NEVER
    counts[SHOTS_FLYING] -= 1
    top = counts[SHOTS_TOP]
    while top and marks[MARK_ID, top - 1] == 0:
        top -= 1
    counts[SHOTS_TOP] = top


def place_of(world: World, row: int) -> Vector:
    """Where a shot is at the start of the tick."""
    x, y, z, vx, vy, vz, gravity, _ = world.block.shots[:, row].tolist()
    t = (world.counts[TICK] - int(world.block.shot_marks[MARK_TICK, row])) / world.plan.tick_rate
    return (x + vx * t, y + vy * t, z + (vz - 0.5 * gravity * t) * t)
