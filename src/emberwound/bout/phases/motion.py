"""Phase 4: where everything is at the start and at the end of the tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import LAY, MOVERS, TICK
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.walk import move_frames

if TYPE_CHECKING:
    from emberwound.bout.world import World


def motion(world: World) -> None:
    """Move the bodies that move by themselves; lay the hurtboxes anew if any body moved, turned, came or fell."""
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[MOVERS]:
        counts[MOVERS] = move_frames(
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
    if counts[LAY]:
        lay_shapes(
            block.bodies,
            block.body_marks,
            tables.offsets,
            tables.offset_marks,
            tables.tracks,
            block.shapes,
            block.shape_marks,
            counts[TICK],
        )
