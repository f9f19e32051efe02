"""Phase 8: the tick becomes the next state."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import LAY, TICK
from emberwound.geometry.pose import FRAME_END, FRAME_START

if TYPE_CHECKING:
    from emberwound.bout.world import World


def close(world: World) -> None:
    """Bodies are where they went; the clock moves on by one tick."""
    counts = world.counts
    if counts[LAY]:
        bodies = world.block.bodies
        bodies[FRAME_START : FRAME_START + 3] = bodies[FRAME_END : FRAME_END + 3]
        counts[LAY] -= 1
    counts[TICK] += 1
