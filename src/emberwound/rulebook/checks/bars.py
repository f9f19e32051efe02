"""Checks of bars, and of the fighters that bear them."""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Fighter
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


def check_bars_of(found: Findings, name: str, fighter: Fighter) -> None:
    """A fighter's bars: each of a pool that it has, and of no more pips than can be told apart."""
    found.doubles(("fighters", name, "bars"), fighter.bars)
    for index, each in enumerate(fighter.bars):
        bar = found.book.bars.get(each)
        if bar is None:
            continue
        key: Key = ("fighters", name, "bars", index)
        if bar.pool not in fighter.pools:
            found.unknown(key, f"pool of {name}, as the bar {each} shows,", bar.pool, fighter.pools)
            continue
        part, called, size = ("step", "pips", bar.step) if bar.style == "pips" else ("segment", "segments", bar.segment)
        most = fighter.pools[bar.pool].max
        if size and ceil(most / size) > MOST_PARTS:
            seen = f"{ceil(most / size)} {called} of {size:g} for {most:g} {bar.pool}"
            found.report(key, seen, f"allowed: up to {MOST_PARTS}; give the bar {each} a larger {part}")
