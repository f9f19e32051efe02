"""Checks of what is seen and heard: bars, the fighters that bear them, and cues."""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING

from emberwound.vocabulary.events import TYPES

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Bar, Fighter
    from emberwound.rulebook.outline import Key


TEXT_FIELDS = ("value", "max", "share")
MOST_PARTS = 200
"""More pips or segments than this cannot be told apart."""


def check_bar(found: Findings, name: str) -> None:
    """What must fit of a bar by itself: its text's fields, and shades in order."""
    bar = found.book.bars[name]
    key: Key = ("bars", name)
    found.placeholders((*key, "text"), bar.text, "text", TEXT_FIELDS)
    shades = [shade.above for shade in bar.shades]
    for index, (lower, upper) in enumerate(pairwise(shades), 1):
        if upper <= lower:
            found.report((*key, "shades", index, "above"), f"{upper:g}, after {lower:g}", "give the lowest shade first")
    if shades and shades[0]:
        found.report((*key, "shades", 0, "above"), f"{shades[0]:g}", "the lowest shade begins at 0")
    if not shades:
        found.report((*key, "shades"), "an empty list", "give at least one shade")
    _subject(found, key, bar)


def _subject(found: Findings, key: Key, bar: Bar) -> None:
    """What a bar shows is named, and nothing else; only pools ease, trail and change at a time."""
    needed = {"pool": "pool", "cooldown": "attack", "charge": "attack"}.get(bar.shows)
    for name in ("pool", "attack"):
        value = getattr(bar, name)
        if name == needed and value is None:
            found.report((*key, name), "missing", f'required of a bar that shows "{bar.shows}"')
        elif name != needed and value is not None:
            found.report((*key, name), f'"{value}"', f'a bar that shows "{bar.shows}" has none; leave it out')
    if bar.shows != "pool":
        if bar.trail is not None:
            found.report((*key, "trail"), "a trail", f'only pools leave one; a bar that shows "{bar.shows}" has none')
        if bar.show == "after_change":
            allowed = (
                f'only pools change at a time; a bar that shows "{bar.shows}" is shown "always" or while "not_full"'
            )
            found.report((*key, "show"), '"after_change"', allowed)


def check_bars_of(found: Findings, name: str, fighter: Fighter) -> None:
    """A fighter's bars: each of a pool that it has, and of no more pips than can be told apart."""
    found.doubles(("fighters", name, "bars"), fighter.bars)
    for index, each in enumerate(fighter.bars):
        bar = found.book.bars.get(each)
        if bar is None:
            continue
        key: Key = ("fighters", name, "bars", index)
        if bar.pool is None:
            _attack_shown(found, key, name, fighter, each)
            continue
        if bar.pool not in fighter.pools:
            found.unknown(key, f"pool of {name}, as the bar {each} shows,", bar.pool, fighter.pools)
            continue
        check_parts(found, key, each, fighter.pools[bar.pool].max)


def check_parts(found: Findings, key: Key, name: str, most: float) -> None:
    """The pips or segments of a bar of a pool as large as `most` can be told apart."""
    bar = found.book.bars[name]
    part, called, size = ("step", "pips", bar.step) if bar.style == "pips" else ("segment", "segments", bar.segment)
    if size and ceil(most / size) > MOST_PARTS:
        seen = f"{ceil(most / size)} {called} of {size:g} for {most:g} {bar.pool}"
        found.report(key, seen, f"allowed: up to {MOST_PARTS}; give the bar {name} a larger {part}")


def _attack_shown(found: Findings, key: Key, name: str, fighter: Fighter, each: str) -> None:
    """An attack that a bar shows is one of the fighter's, and cools down or charges up."""
    bar = found.book.bars[each]
    if bar.attack is None or bar.shows not in ("cooldown", "charge"):
        return
    if bar.attack not in fighter.all_attacks:
        found.unknown(key, f"attack of {name}, as the bar {each} shows,", bar.attack, fighter.all_attacks)
        return
    attack = found.book.attacks.get(bar.attack)
    if attack is not None and bar.shows == "charge" and attack.charge is None:
        found.report(key, f"the charge of {bar.attack}", f"attacks.{bar.attack} has no charge; give it one")
    if attack is not None and bar.shows == "cooldown" and attack.cooldown is None and attack.rate is None:
        found.report(
            key, f"the cooldown of {bar.attack}", f"attacks.{bar.attack} has none; give it a cooldown or a rate"
        )


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
