"""Phase 8: the tick becomes the next state."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.lives import elimination
from emberwound.bout.state.layout import Count
from emberwound.bout.views import cues
from emberwound.geometry.layout import BodyColumn

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def close(world: World) -> None:
    """Cues are given; bodies are where they went; the clock moves on by one tick."""
    counts = world.counts
    if 0 < counts[Count.SETTLED_ON] <= counts[Count.TICK] + 1:
        elimination.settle_bout(world)
    if world.events and world.plan.cued:
        cues.give(world)
    if counts[Count.DIRTY_POSE_TICKS]:
        bodies = world.block.bodies
        bodies[BodyColumn.START : BodyColumn.START + 3] = bodies[BodyColumn.END : BodyColumn.END + 3]
        counts[Count.DIRTY_POSE_TICKS] -= 1
    counts[Count.TICK] += 1
