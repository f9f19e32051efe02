"""Phase 5: the earliest times of impact."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import SHOTS_FLYING, SHOTS_TOP, TICK
from emberwound.geometry.contact import first_contacts

if TYPE_CHECKING:
    from emberwound.bout.world import World


def contact(world: World) -> None:
    """Find what each shot meets first, if anything; both sides may move."""
    counts = world.counts
    if counts[SHOTS_FLYING]:
        block, plan = world.block, world.plan
        world.contacts = first_contacts(
            block.shots,
            block.shot_marks,
            block.capsules,
            block.capsule_marks,
            plan.walls,
            world.found,
            world.found_marks,
            counts[SHOTS_TOP],
            counts[TICK],
            plan.tick_rate,
        )
