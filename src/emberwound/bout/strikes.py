"""Strikes: hitboxes that come on and go off in the course of an attack, and what a swing has touched."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

from emberwound.bout import bodies
from emberwound.bout.block import (
    BODY_ANCHOR,
    BODY_BEGAN,
    BODY_OPENED,
    BODY_OVER,
    BODY_REPEAT,
    BODY_TOUCHED,
    BODY_TRADES,
    STRIKING,
    TICK,
)
from emberwound.geometry.pose import FRAME_OWNER, FRAME_TEAM, OFFSET_IS_BOX
from emberwound.geometry.volumes import (
    BOX,
    CAPSULE,
    HITBOX_TURNS,
    TURNING,
    VOLUME_ENTRY,
    VOLUME_FROM,
    VOLUME_GROUP,
    VOLUME_LAYERS,
    VOLUME_OPTIONS,
    VOLUME_OWNER,
    VOLUME_RANK,
    VOLUME_SHAPE,
    VOLUME_TEAM,
    VOLUME_TO,
    VOLUME_UNTIL,
)
from emberwound.vocabulary.events import SwingEnded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import AttackPlan, Stage, StrikePlan, WindowPlan


def begin(world: World, row: int) -> None:
    """Let a swing begin that has touched nobody yet."""
    world.block.again[row, :] = 0.0
    world.block.bodies[BODY_TRADES, row] = inf
    world.block.body_marks[BODY_OPENED, row] = world.block.body_marks[BODY_TOUCHED, row] = 0


def open_or_close(world: World, row: int, attack: AttackPlan, stage: Stage) -> None:
    """Let one of a swing's hitboxes come on or go off; with the last of them the swing is over."""
    strike = attack.strike
    if strike is None:
        return
    window = strike.windows[stage.index]
    column = row * world.plan.most_hitboxes + window.hitbox
    if stage.action == "open":
        _open(world, row, column, attack, strike, window)
    elif world.block.volume_marks[VOLUME_SHAPE, column]:
        _close(world, column)
        last = max(each.closes for each in strike.windows)
        if not _is_on(world, row) and window.closes == last:
            end(world, row, attack)


def _open(world: World, row: int, column: int, attack: AttackPlan, strike: StrikePlan, window: WindowPlan) -> None:
    block = world.block
    volumes, marks, body = block.volumes, block.volume_marks, block.body_marks[:, row]
    hitbox = strike.hitboxes[window.hitbox]
    kinds = world.plan.tables.hitbox_marks[:, hitbox.entry, 0]
    start = attack.start_of(int(body[BODY_ANCHOR]), int(body[BODY_REPEAT]))
    volumes[VOLUME_FROM, column] = (start + window.opens) / attack.denominator
    volumes[VOLUME_TO, column] = (start + window.closes) / attack.denominator
    volumes[VOLUME_UNTIL, column] = block.bodies[BODY_TRADES, row]
    marks[VOLUME_SHAPE, column] = TURNING if kinds[HITBOX_TURNS] else BOX if kinds[OFFSET_IS_BOX] else CAPSULE
    marks[VOLUME_GROUP, column] = row
    marks[VOLUME_OWNER, column] = body[FRAME_OWNER]
    marks[VOLUME_TEAM, column] = body[FRAME_TEAM]
    marks[VOLUME_LAYERS, column] = strike.layers
    marks[VOLUME_OPTIONS, column] = strike.options
    marks[VOLUME_ENTRY, column] = hitbox.entry
    marks[VOLUME_RANK, column] = window.hitbox
    body[BODY_OPENED] = body[BODY_OPENED] or int(volumes[VOLUME_FROM, column]) + 1
    world.counts[STRIKING] += 1


def _close(world: World, column: int) -> None:
    world.block.volume_marks[:, column] = 0
    world.block.volumes[:, column] = 0.0
    world.counts[STRIKING] -= 1


def _is_on(world: World, row: int) -> bool:
    most = world.plan.most_hitboxes
    return bool(world.block.volume_marks[VOLUME_SHAPE, row * most : (row + 1) * most].any())


def limit(world: World, row: int, until: float) -> None:
    """Let nothing that a swing touches after an exact tick count any more."""
    block, most = world.block, world.plan.most_hitboxes
    block.bodies[BODY_TRADES, row] = until
    for column in range(row * most, (row + 1) * most):
        if block.volume_marks[VOLUME_SHAPE, column]:
            block.volumes[VOLUME_UNTIL, column] = until


def end(world: World, row: int, attack: AttackPlan) -> None:
    """End a swing whose hitboxes came on: one event for each."""
    body = world.block.body_marks[:, row]
    bodies.close_all(world, row)
    if not 0 <= body[BODY_OPENED] - 1 < world.counts[TICK]:
        return
    world.emit(
        SwingEnded,
        by=world.names[body[FRAME_OWNER] - 1],
        cause=int(body[BODY_BEGAN]),
        attack=attack.name,
        touched=int(body[BODY_TOUCHED]),
        cut_off=bool(body[BODY_OVER]),
    )
    body[BODY_OPENED] = 0
