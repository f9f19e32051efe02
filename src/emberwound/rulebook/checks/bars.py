"""Checks of bars, and of the fighters that bear them."""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

TEXT_FIELDS = ("value", "max", "share")
MOST_PARTS = 200
"""More pips or segments than this cannot be told apart."""


def check_bar(found: Findings, name: str) -> None:
    """What must fit of a bar by itself: its text's fields, and shades in order."""
    bar = table(found.raw, "bars", name)
    key: Key = ("bars", name)
    found.placeholders((*key, "text"), bar.get("text"), "text", TEXT_FIELDS)
    shades = [number(table(each).get("above", 0.0)) for each in items(bar.get("shades"))]
    for index, (lower, upper) in enumerate(pairwise(shades), 1):
        if lower is not None and upper is not None and upper <= lower:
            found.report((*key, "shades", index, "above"), f"{upper:g}, after {lower:g}", "give the lowest shade first")
    if shades and shades[0]:
        found.report((*key, "shades", 0, "above"), f"{shades[0]:g}", "the lowest shade begins at 0")
    if "shades" in bar and not shades:
        found.report((*key, "shades"), "an empty list", "give at least one shade")


def check_bars_of(found: Findings, name: str, fighter: dict[str, Any]) -> None:
    """A fighter's bars: each of a pool that it has, and of no more pips than can be told apart."""
    named = items(fighter.get("bars"))
    found.doubles(("fighters", name, "bars"), named)
    pools = table(fighter, "pools")
    for index, each in enumerate(named):
        bar = table(found.raw, "bars", each) if isinstance(each, str) else {}
        key: Key = ("fighters", name, "bars", index)
        pool = bar.get("pool")
        if isinstance(pool, str) and pool not in pools:
            found.unknown(key, f"pool of {name}, as the bar {each} shows,", pool, pools)
        part, called = ("step", "pips") if bar.get("style") == "pips" else ("segment", "segments")
        most = number(table(pools, str(pool)).get("max"))
        size = number(bar.get(part, 1 if part == "step" else None))
        if most and size and size > 0 and ceil(most / size) > MOST_PARTS:
            said = f"{ceil(most / size)} {called} of {size:g} for {most:g} {pool}"
            found.report(key, said, f"allowed: up to {MOST_PARTS}; give the bar {each} a larger {part}")
