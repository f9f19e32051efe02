"""Phase 5: the earliest times of impact."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import contacts
from emberwound.bout.block import HAZARDS_NEAR, LAY, SHOTS_FLYING, SHOTS_TOP, STRIKING

if TYPE_CHECKING:
    from emberwound.bout.world import World


def contact(world: World) -> None:
    """Find what each shot meets first, and whom each swing and hazard touches; both sides may move."""
    if world.counts[SHOTS_FLYING]:
        world.contacts = contacts.of_shots(world, 0, world.counts[SHOTS_TOP])
    if world.counts[STRIKING]:
        world.touches = contacts.of_strikes(world)
    if world.plan.areas and (world.counts[HAZARDS_NEAR] or world.counts[LAY]):
        found, world.counts[HAZARDS_NEAR] = contacts.of_hazards(world)
        world.touches += found
