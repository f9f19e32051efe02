"""Phase 4: where everything is at the start and at the end of the tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import limps, pushes
from emberwound.bout.block import HAZARDS_DUE, HAZARDS_NEAR, LAY, LIMP, MOVERS, SEATS, STRIKING, TICK
from emberwound.geometry.parting import part_frames
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.volumes import lay_hazards, lay_hitboxes
from emberwound.geometry.walk import move_frames

if TYPE_CHECKING:
    from emberwound.bout.world import World


def motion(world: World) -> None:
    """Move the bodies that move by themselves; lay the hurtboxes anew if any body moved, turned, came or fell.

    Then lay the hitboxes and hazards that are on.
    """
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[MOVERS]:
        counts[MOVERS], landed = move_frames(
            block.bodies,
            block.body_marks,
            tables.models,
            tables.points,
            tables.paths,
            block.shapes,
            tables.bounds,
            block.first_wall,
            world.plan.tick_rate,
        )
        counts[LAY] = max(counts[LAY], 2)
        if landed:
            pushes.tell_landings(world)
    if counts[LIMP]:
        limps.move(world)
    if world.plan.bodies_part and counts[SEATS] > 1:
        _part(world)
    if counts[LAY]:
        lay_shapes(
            block.bodies,
            block.body_marks,
            tables.offsets,
            tables.offset_marks,
            tables.hidden,
            tables.tracks,
            block.shapes,
            block.shape_marks,
            counts[TICK],
        )
    if counts[STRIKING]:
        lay_hitboxes(
            block.bodies,
            block.body_marks,
            tables.hitboxes,
            tables.hitbox_marks,
            tables.tracks,
            block.volumes,
            block.volume_marks,
            world.plan.most_hitboxes,
            counts[TICK],
        )
    if counts[TICK] >= counts[HAZARDS_DUE] and world.plan.areas:
        counts[HAZARDS_NEAR] = 1
        counts[HAZARDS_DUE] = lay_hazards(
            tables.hazards,
            tables.hazard_marks,
            tables.points,
            tables.paths,
            block.volumes,
            block.volume_marks,
            block.first_hazard,
            block.first_hazard_group,
            counts[TICK],
            world.plan.tick_rate,
        )


def _part(world: World) -> None:
    """Let living bodies that stand in each other give way."""
    block, tables = world.block, world.plan.tables
    moved = part_frames(
        block.bodies,
        block.body_marks,
        tables.models,
        block.shapes,
        tables.bounds,
        block.first_wall,
        1.0 / world.plan.tick_rate,
    )
    if moved:
        world.counts[LAY] = max(world.counts[LAY], 2)
