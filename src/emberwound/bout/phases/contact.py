"""Phase 5: the earliest times of impact."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import contacts
from emberwound.bout.block import SHOTS_FLYING, SHOTS_TOP

if TYPE_CHECKING:
    from emberwound.bout.world import World


def contact(world: World) -> None:
    """Find what each shot meets first, if anything; both sides may move."""
    if world.counts[SHOTS_FLYING]:
        world.contacts = contacts.of_shots(world, 0, world.counts[SHOTS_TOP])
