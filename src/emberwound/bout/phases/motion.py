"""Phase 4: where everything is at the start and at the end of the tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import LAY
from emberwound.geometry.pose import lay_capsules

if TYPE_CHECKING:
    from emberwound.bout.world import World


def motion(world: World) -> None:
    """Lay the hurtboxes at both poses of their bodies, if any body moved, turned, came or fell."""
    if world.counts[LAY]:
        block, plan = world.block, world.plan
        lay_capsules(
            block.bodies, block.body_marks, plan.offsets, plan.offset_counts, block.capsules, block.capsule_marks
        )
