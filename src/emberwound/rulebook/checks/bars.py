"""Checks of bars, and of the fighters that bear them."""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING

if TYPE_CHECKING:
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
