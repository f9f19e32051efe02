"""Checks of cues."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.vocabulary.events import TYPES

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.outline import Key

CUED = {name: kind for name, kind in TYPES.items() if name not in ("cue", "cue_skipped")}
"""The types of event that can give a cue: all but cues."""

NEEDED = {
    "pool": ("ledger",),
    "min_points": ("amount",),
    "below": ("vital_left",),
    "attacks": ("attack", "affliction", "blast"),
    "kinds": ("kind",),
}
"""What an event must say, one of each, for a key to have a meaning."""


def check_cue(found: Findings, name: str) -> None:
    """All that must fit of a cue: what it asks of an event is said by every event it is for."""
    key: Key = ("cues", name)
    cue = found.book.cues[name]
    found.doubles((*key, "on"), cue.on)
    for index, event in enumerate(cue.on):
        if event not in CUED:
            found.unknown((*key, "on", index), "event", event, sorted(CUED))
    for asked, needed in NEEDED.items():
        able = [event for event, kind in CUED.items() if not {*needed}.isdisjoint(kind.__struct_fields__)]
        deaf = [event for event in cue.on if event in CUED and event not in able]
        if deaf and getattr(cue, asked) not in (None, ()):
            found.report((*key, asked), f"on {deaf[0]}", f"has a meaning on {', '.join(able)} alone")
    if cue.overlap == "restart" and cue.max_at_once is not None:
        allowed = 'with overlap = "restart" there is one at a time; leave it out'
        found.report((*key, "max_at_once"), str(cue.max_at_once), allowed)
    if cue.below is not None and "healed" in cue.on:
        found.report((*key, "below"), "on healed", "only a loss falls below a share; leave healed out")
    _names(found, (*key, "attacks"), cue.attacks, "attack, blast, affliction or hazard", _causes(found))
    pools = {pool for fighter in found.book.fighters.values() for pool in fighter.pools}
    if cue.pool is not None and cue.pool not in pools:
        found.unknown((*key, "pool"), "pool", cue.pool, sorted(pools))
    _names(found, (*key, "kinds"), cue.kinds, "kind", found.book.names["kinds"])


def _names(found: Findings, key: Key, named: Sequence[str], what: str, known: Sequence[str]) -> None:
    found.doubles(key, named)
    for index, name in enumerate(named):
        if name not in known:
            found.unknown((*key, index), what, name, known)


def _causes(found: Findings) -> list[str]:
    names = found.book.names
    hazards = [name for arena in found.book.arenas.values() for name in arena.hazards]
    return [*names["attacks"], *names["blasts"], *names["afflictions"], *hazards]
