"""Ticks in which nothing happens: run at once, by one kernel, until something does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.bout.bodies import ragdoll
from emberwound.bout.hits import contacts, knockback, shots_met
from emberwound.bout.phases.hits_and_after import aftermath, close, contact, judgement
from emberwound.bout.phases.movement import lay
from emberwound.bout.state.layout import Count
from emberwound.geometry.layout import BodyMark, Posture
from emberwound.geometry.quiet_ticks import (
    Ended,
    QuietBodies,
    QuietRules,
    QuietShots,
    QuietSizes,
    QuietState,
    QuietVolumes,
    run_quietly,
)
from emberwound.geometry.separation import share_parted

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def may_be_quiet(world: World) -> bool:
    """Whether the coming ticks go by without an order, an attack's stage or anything else that is due."""
    counts = world.counts
    if counts[Count.SHOTS_TOP] > contacts.FEW_SHOTS or counts[Count.NEXT_DUE] < counts[Count.TICK] + 2:
        return False
    if (world.has_grabs and counts[Count.GRABS]) or shots_met.may_be(world):
        return False
    return not (world.inputs or _waits(world) or (world.plan.has_postures and _holds_postures(world)))


def _holds_postures(world: World) -> bool:
    """Whether any body holds a posture, whose joints change when it leaves the ground or comes down to it."""
    return bool((world.block.body_marks[BodyMark.POSTURE, : world.block.bodies_end] > Posture.AIRBORNE).any())


def _waits(world: World) -> bool:
    counts = world.counts
    return bool(
        counts[Count.TICK] >= counts[Count.NEXT_DUE]
        or counts[Count.ORDERS_PENDING]
        or counts[Count.SETTLED_ON]
        or counts[Count.LEAVING]
        or counts[Count.OVER]
    )


def stands_still(world: World) -> bool:
    """Whether the coming tick does nothing but pass: nothing is due, moves, flies or is laid."""
    counts, plan = world.counts, world.plan
    return not (
        counts[Count.SHOTS_FLYING]
        or counts[Count.HITBOXES_ON]
        or counts[Count.MOVING_RAGDOLLS]
        or counts[Count.MOVING_BODIES]
        or counts[Count.DIRTY_POSE_TICKS]
        or counts[Count.TURNING_TO_FOES]
        or counts[Count.GRABS]
        or _waits(world)
        or (plan.bodies_separate and counts[Count.SEATS] > 1)
        or (world.areas and (counts[Count.HAZARDS_NEAR] or counts[Count.TICK] >= counts[Count.HAZARDS_DUE]))
    )


def run_quiet(world: World, until: int) -> None:
    """Run the ticks before `until` while they are quiet, and the one in which something happens."""
    counts = world.counts
    left, ended, met = _run(world, min(until, counts[Count.NEXT_DUE]))
    counts[Count.TICK], counts[Count.MOVING_BODIES], counts[Count.DIRTY_POSE_TICKS] = left.tick, left.moving, left.dirty
    counts[Count.HAZARDS_DUE], counts[Count.HAZARDS_NEAR] = left.due, left.near
    counts[Count.MOVING_RAGDOLLS] = left.falling
    if ended == Ended.TIME:
        return
    if ended == Ended.LANDED:
        knockback.emit_landings(world)
        lay(world)
        contact(world)
    else:
        world.contacts = met
        if counts[Count.HITBOXES_ON]:
            world.touches = contacts.of_strikes(world)
        if world.areas and (left.near or left.dirty):
            found, counts[Count.HAZARDS_NEAR] = contacts.of_hazards(world)
            world.touches += found
    judgement(world)
    aftermath(world)
    close(world)


def _run(world: World, until: int) -> tuple[QuietState, int, int]:
    block, plan, counts = world.block, world.plan, world.counts
    block.swing_touches.settle()
    parts = plan.bodies_separate and counts[Count.SEATS] > 1
    named = (
        QuietBodies(block.bodies, block.body_marks, block.shapes, block.shape_marks, block.ragdoll),
        QuietVolumes(
            block.volumes, block.volume_marks, block.again, block.swing_touches.keys, block.swing_touches.figures
        ),
        QuietShots(
            block.shots,
            block.shot_marks,
            block.touched,
            world.found,
            world.found_marks,
            world.touched,
            world.touched_marks,
        ),
        world.quiet_tables,
        QuietSizes(
            block.bodies_end,
            plan.most_hurtboxes,
            block.first_wall,
            block.first_hazard,
            block.first_hazard_group,
            world.areas,
            plan.most_hitboxes,
            plan.most_ragdoll_points,
            counts[Count.SHOTS_TOP] if counts[Count.SHOTS_FLYING] else 0,
        ),
        QuietRules(
            counts[Count.TURNING_TO_FOES],
            int(plan.space.looks_around),
            counts[Count.HITBOXES_ON],
            share_parted(1.0 / plan.tick_rate) if parts else -1.0,
            ragdoll.FLAT[plan.space.name],
            plan.tick_rate,
            ragdoll.slow_ticks(plan.tick_rate),
        ),
        QuietState(
            counts[Count.TICK],
            counts[Count.MOVING_BODIES],
            counts[Count.DIRTY_POSE_TICKS],
            counts[Count.HAZARDS_DUE],
            counts[Count.HAZARDS_NEAR],
            counts[Count.MOVING_RAGDOLLS],
        ),
    )
    arguments: Any = (*map(tuple, named), until)
    left, ended, met = run_quietly(*arguments)
    return QuietState(*left), ended, met
