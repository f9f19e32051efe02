"""Checks of checkpoints, pickups and where one stands again."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.hazards import check_area
from emberwound.rulebook.checks.reading import Findings, items, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


def check_checkpoints(found: Findings, key: Key, arena: dict[str, Any], space: str) -> None:
    """All that must fit of an arena's checkpoints and pickups; their places to stand are checked as entries are."""
    pools = {pool for each in table(found.raw, "fighters") for pool in table(found.raw, "fighters", each, "pools")}
    orders: dict[Any, str] = {}
    for name in table(arena, "checkpoints"):
        place: Key = (*key, "checkpoints", name)
        checkpoint = table(arena, "checkpoints", name)
        check_area(found, place, checkpoint, space)
        order = checkpoint.get("order")
        if order in orders:
            found.report((*place, "order"), f"{order}, as of {orders[order]}", "which is further? give each its own")
        orders.setdefault(order, name)
        for index, pool in enumerate(items(checkpoint.get("refill"))):
            if isinstance(pool, str) and pool not in pools:
                found.unknown((*place, "refill", index), "pool of any fighter", pool, sorted(pools))
    for name in table(arena, "pickups"):
        place = (*key, "pickups", name)
        pickup = table(arena, "pickups", name)
        check_area(found, place, pickup, space)
        for pool in table(pickup, "gives"):
            if pool not in pools:
                found.unknown((*place, "gives", pool), "pool of any fighter", pool, sorted(pools))
        if not any(pickup.get(each) for each in ("gives", "lives", "counts")):
            found.report(place, "it gives nothing", "give points of pools, lives, or what is counted")
    entry, entries = arena.get("respawn_entry"), table(arena, "entries")
    if isinstance(entry, str) and entry not in entries:
        found.unknown((*key, "respawn_entry"), "entry of the arena", entry, entries)
