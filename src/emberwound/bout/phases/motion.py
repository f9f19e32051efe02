"""Phase 4: where everything is at the start and at the end of the tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement, ragdoll
from emberwound.bout.hits import grabs, knockback
from emberwound.bout.state.layout import Count
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.separation import separate_bodies, share_parted
from emberwound.geometry.volumes import lay_hazards, lay_hitboxes
from emberwound.geometry.walk import move_bodies

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def motion(world: World) -> None:
    """Move the bodies that move by themselves; recompute the hurtboxes if any body moved, turned, came or fell.

    Then lay the hitboxes and hazards that are on.
    """
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[Count.MOVING_BODIES]:
        counts[Count.MOVING_BODIES], landed = move_bodies(
            block.bodies,
            block.body_marks,
            tables.models,
            tables.points,
            tables.paths,
            block.shapes,
            tables.bounds,
            block.first_wall,
            block.bodies_end,
            world.plan.tick_rate,
        )
        counts[Count.DIRTY_POSE_TICKS] = max(counts[Count.DIRTY_POSE_TICKS], 2)
        if landed:
            knockback.tell_landings(world)
    lay(world)


def lay(world: World) -> None:
    """What follows when bodies have moved: ragdolls, postures, room between bodies, and all that is laid anew."""
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[Count.MOVING_RAGDOLLS]:
        ragdoll.move(world)
    if world.plan.has_postures and counts[Count.DIRTY_POSE_TICKS]:
        movement.rest_again(world)
    if world.plan.bodies_separate and counts[Count.SEATS] > 1:
        _part(world)
    if counts[Count.GRABS]:
        grabs.carry(world)
    if counts[Count.DIRTY_POSE_TICKS]:
        lay_shapes(
            block.bodies,
            block.body_marks,
            tables.offsets,
            tables.offset_marks,
            tables.hidden,
            tables.tracks,
            block.shapes,
            block.shape_marks,
            block.bodies_end,
            counts[Count.TICK],
        )
    if counts[Count.HITBOXES_ON]:
        lay_hitboxes(
            block.bodies,
            block.body_marks,
            tables.hitboxes,
            tables.hitbox_marks,
            tables.tracks,
            block.volumes,
            block.volume_marks,
            world.plan.most_hitboxes,
            block.bodies_end,
            counts[Count.TICK],
        )
    if counts[Count.TICK] >= counts[Count.HAZARDS_DUE] and world.plan.areas:
        counts[Count.HAZARDS_NEAR] = 1
        counts[Count.HAZARDS_DUE] = lay_hazards(
            tables.hazards,
            tables.hazard_marks,
            tables.points,
            tables.paths,
            block.volumes,
            block.volume_marks,
            block.first_hazard,
            block.first_hazard_group,
            counts[Count.TICK],
            world.plan.tick_rate,
        )


def _part(world: World) -> None:
    """Let living bodies that stand in each other give way."""
    block, tables = world.block, world.plan.tables
    moved = separate_bodies(
        block.bodies,
        block.body_marks,
        tables.models,
        block.shapes,
        tables.bounds,
        block.first_wall,
        block.bodies_end,
        share_parted(1.0 / world.plan.tick_rate),
    )
    if moved:
        world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 2)
