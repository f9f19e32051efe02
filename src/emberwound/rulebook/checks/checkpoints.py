"""Checks of checkpoints, pickups and where a seat respawns."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.hazards import check_area

if TYPE_CHECKING:
    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Arena
    from emberwound.rulebook.outline import Key


def check_checkpoints(found: Findings, key: Key, arena: Arena) -> None:
    """All that must fit of an arena's checkpoints and pickups; their places to respawn are checked as entries are."""
    pools = sorted({pool for fighter in found.book.fighters.values() for pool in fighter.pools})
    orders: dict[int, str] = {}
    for name, checkpoint in arena.checkpoints.items():
        place: Key = (*key, "checkpoints", name)
        check_area(found, place, checkpoint, arena.space)
        order = checkpoint.order
        if order in orders:
            found.report((*place, "order"), f"{order}, as of {orders[order]}", "which is further? give each its own")
        orders.setdefault(order, name)
        for index, pool in enumerate(checkpoint.refill):
            if pool not in pools:
                found.unknown((*place, "refill", index), "pool of any fighter", pool, pools)
    for name, pickup in arena.pickups.items():
        place = (*key, "pickups", name)
        check_area(found, place, pickup, arena.space)
        for pool in pickup.gives:
            if pool not in pools:
                found.unknown((*place, "gives", pool), "pool of any fighter", pool, pools)
        if not (pickup.gives or pickup.lives or pickup.counts):
            found.report(place, "it gives nothing", "give points of pools, lives, or what is counted")
    if arena.respawn_entry is not None and arena.respawn_entry not in arena.entries:
        found.unknown((*key, "respawn_entry"), "entry of the arena", arena.respawn_entry, arena.entries)
