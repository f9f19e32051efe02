"""Phase 8: the tick becomes the next state."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import cues, endings
from emberwound.bout.block import LAY, RESTARTING, TICK
from emberwound.geometry.pose import FRAME_END, FRAME_START

if TYPE_CHECKING:
    from emberwound.bout.world import World


def close(world: World) -> None:
    """Cues are given; bodies are where they went; the clock moves on by one tick."""
    counts = world.counts
    if counts[RESTARTING]:
        endings.restart(world)
    if world.events and world.plan.cued:
        cues.give(world)
    if counts[LAY]:
        bodies = world.block.bodies
        bodies[FRAME_START : FRAME_START + 3] = bodies[FRAME_END : FRAME_END + 3]
        counts[LAY] -= 1
    counts[TICK] += 1
