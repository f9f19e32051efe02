"""Phase 5: the earliest times of impact."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.hits import contacts, shots_met
from emberwound.bout.hits.judges import met_shots
from emberwound.bout.state.layout import Count

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def contact(world: World) -> None:
    """Find what each shot meets first, and whom each swing and hazard touches; both sides may move."""
    if world.counts[Count.SHOTS_FLYING]:
        world.contacts = contacts.of_shots(world, 0, world.counts[Count.SHOTS_TOP])
    if world.counts[Count.HITBOXES_ON]:
        world.touches = contacts.of_strikes(world)
    if world.plan.areas and (world.counts[Count.HAZARDS_NEAR] or world.counts[Count.DIRTY_POSE_TICKS]):
        found, world.counts[Count.HAZARDS_NEAR] = contacts.of_hazards(world)
        world.touches += found
    if shots_met.may_be(world):
        world.struck = met_shots.contacts_of(world)
