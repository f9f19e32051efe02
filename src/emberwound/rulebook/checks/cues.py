"""Checks of cues."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, table
from emberwound.vocabulary.events import TYPES

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.outline import Key

CUED = {name: kind for name, kind in TYPES.items() if name not in ("cue", "cue_skipped")}
"""The types of event that can give a cue: all but cues."""

NEEDED = {"min_points": "amount", "below": "vital_left", "attacks": "attack", "kinds": "kind"}
"""What an event must say for a key to have a meaning."""


def check_cue(found: Findings, name: str) -> None:
    """All that must fit of a cue: what it asks of an event is said by every event it is for."""
    key: Key = ("cues", name)
    cue = table(found.raw, "cues", name)
    on = [each for each in items(cue.get("on")) if isinstance(each, str)]
    found.doubles((*key, "on"), on)
    for index, event in enumerate(on):
        if event not in CUED:
            found.unknown((*key, "on", index), "event", event, sorted(CUED))
    for asked, said in NEEDED.items():
        deaf = [event for event in on if event in CUED and said not in CUED[event].__struct_fields__]
        if deaf and cue.get(asked) not in (None, []):
            able = [event for event, kind in CUED.items() if said in kind.__struct_fields__]
            found.report((*key, asked), f"on {deaf[0]}", f"has a meaning on {', '.join(able)} alone")
    if cue.get("overlap") == "restart" and cue.get("max_at_once") is not None:
        found.report(
            (*key, "max_at_once"),
            str(cue["max_at_once"]),
            'with overlap = "restart" there is one at a time; leave it out',
        )
    if cue.get("below") is not None and "healed" in on:
        found.report((*key, "below"), "on healed", "only a loss falls below a share; leave healed out")
    _names(found, (*key, "attacks"), cue, "attack, blast, affliction or hazard", _causes(found))
    _names(found, (*key, "kinds"), cue, "kind", list(table(found.raw, "kinds")))


def _names(found: Findings, key: Key, cue: dict[str, Any], what: str, known: Sequence[str]) -> None:
    named = items(cue.get(str(key[-1])))
    found.doubles(key, named)
    for index, name in enumerate(named):
        if isinstance(name, str) and name not in known:
            found.unknown((*key, index), what, name, known)


def _causes(found: Findings) -> list[str]:
    hazards = [name for arena in table(found.raw, "arenas") for name in table(found.raw, "arenas", arena, "hazards")]
    return [name for section in ("attacks", "blasts", "afflictions") for name in table(found.raw, section)] + hazards
