"""Strikes: hitboxes that come on and go off during an attack, and what a swing has touched."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement
from emberwound.bout.state.layout import Count
from emberwound.geometry.layout import BodyColumn, BodyMark, PartColumn, ShapeColumn, VolumeColumn, VolumeMark
from emberwound.vocabulary.events import SwingEnded
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import AttackPlan, Stage, StrikePlan, WindowPlan


def begin(world: World, body: int) -> None:
    """Let a swing begin that has touched nobody yet."""
    world.block.swing_touches.forget(body)
    world.block.bodies[BodyColumn.TRADES_UNTIL, body] = inf
    world.block.body_marks[BodyMark.SWING_OPENED, body] = world.block.body_marks[BodyMark.SWING_TOUCHED, body] = 0


def open_or_close(world: World, body: int, attack: AttackPlan, stage: Stage) -> None:
    """Let one of a swing's hitboxes come on or go off; with the last of them the swing is over."""
    strike = attack.strike
    if strike is None:
        return
    window = strike.windows[stage.index]
    column = body * world.plan.most_hitboxes + window.column
    if stage.action == "open":
        _open(world, body, column, attack, strike, window)
    elif world.block.volumes[ShapeColumn.KIND, column]:
        _close(world, column)
        last = max(each.closes for each in strike.windows)
        if not _is_on(world, body) and window.closes == last:
            end(world, body, attack, TICK_START)


def _open(world: World, body: int, column: int, attack: AttackPlan, strike: StrikePlan, window: WindowPlan) -> None:
    block = world.block
    volumes, marks, own = block.volumes, block.volume_marks, block.body_marks[:, body]
    hitbox = strike.hitboxes[window.hitbox]
    start = attack.start_of(int(own[BodyMark.ATTACK_TICK]), int(own[BodyMark.REPEAT]))
    volumes[VolumeColumn.FROM, column] = (start + window.opens) / attack.denominator
    volumes[VolumeColumn.TO, column] = (start + window.closes) / attack.denominator
    volumes[VolumeColumn.UNTIL, column] = block.bodies[BodyColumn.TRADES_UNTIL, body]
    volumes[ShapeColumn.KIND, column] = world.plan.tables.hitboxes[PartColumn.KIND, window.entry, 0]
    marks[VolumeMark.GROUP, column] = body
    marks[VolumeMark.OWNER, column] = own[BodyMark.OWNER]
    marks[VolumeMark.TEAM, column] = own[BodyMark.TEAM]
    marks[VolumeMark.LAYERS, column] = hitbox.hit.layers
    marks[VolumeMark.OPTIONS, column] = hitbox.hit.options
    marks[VolumeMark.ENTRY, column] = window.entry
    marks[VolumeMark.RANK, column] = window.hitbox
    own[BodyMark.SWING_OPENED] = own[BodyMark.SWING_OPENED] or int(volumes[VolumeColumn.FROM, column]) + 1
    world.counts[Count.HITBOXES_ON] += 1


def _close(world: World, column: int) -> None:
    world.block.volume_marks[:, column] = 0
    world.block.volumes[:, column] = 0.0
    world.counts[Count.HITBOXES_ON] -= 1


def _is_on(world: World, body: int) -> bool:
    most = world.plan.most_hitboxes
    return bool(world.block.volumes[ShapeColumn.KIND, body * most : (body + 1) * most].any())


def limit(world: World, body: int, until: float) -> None:
    """Let nothing that a swing touches after an exact tick count any more."""
    block, most = world.block, world.plan.most_hitboxes
    block.bodies[BodyColumn.TRADES_UNTIL, body] = until
    for column in range(body * most, (body + 1) * most):
        if block.volumes[ShapeColumn.KIND, column]:
            block.volumes[VolumeColumn.UNTIL, column] = until


def end(world: World, body: int, attack: AttackPlan, time: float) -> None:
    """End a swing whose hitboxes came on, at a time of its tick: one event for each."""
    own = world.block.body_marks[:, body]
    movement.close_all(world, body)
    if not 0 <= own[BodyMark.SWING_OPENED] - 1 < world.counts[Count.TICK]:
        return
    world.emit(
        SwingEnded(
            time=time,
            by=world.name_of_body(body),
            cause=int(own[BodyMark.ATTACK_SEQ]),
            attack=attack.name,
            touched=int(own[BodyMark.SWING_TOUCHED]),
            cut_off=bool(own[BodyMark.STRIKE_OVER]),
        )
    )
    own[BodyMark.SWING_OPENED] = 0
