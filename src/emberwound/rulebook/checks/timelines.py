"""Checks of an attack's course: stretches of its time, and what may follow it."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


def check_timeline(found: Findings, name: str) -> None:
    """All stretches of an attack must lie in its time, and what may follow it must be of its fighters."""
    key: Key = ("attacks", name)
    attack = table(found.raw, "attacks", name)
    whole = timeline_ends(found, attack)[2]
    if attack.get("invulnerable"):
        check_windows(found, (*key, "invulnerable"), attack["invulnerable"], (Fraction(0), whole), "the attack")
    for box, spans in table(attack, "hurtboxes_off").items():
        check_windows(found, (*key, "hurtboxes_off", box), spans, (Fraction(0), whole), "the attack")
        for fighter, owner in found.owners(name):
            boxes = table(owner, "hurtboxes")
            if box not in boxes:
                found.unknown((*key, "hurtboxes_off", box), f"hurtbox of {fighter}", box, boxes)
    for what in ("cancels", "follow_ups"):
        for following in table(attack, what):
            _passage(found, (*key, what, following), name, table(attack, what, following), whole)
    circle = _circle(found, name)
    if circle:
        allowed = "give one of them a stretch of time, `from` or `until`: else each would follow the other at once"
        found.report((*key, "follow_ups"), " -> ".join(circle), allowed)


def timeline_ends(found: Findings, attack: dict[str, Any]) -> tuple[Fraction | None, Fraction | None, Fraction | None]:
    """When an attack's windup, its active time and all of it end; None where that cannot be read."""
    windup, recovery = (found.seconds(attack.get(each, 0)) for each in ("windup", "recovery"))
    active, last = found.seconds(attack.get("active", 0)), found.seconds((items(attack.get("releases")) or [0])[-1])
    if windup is None or active is None or last is None:
        return windup, None, None
    ready = windup + max(active, last)
    return windup, ready, None if recovery is None else ready + recovery


def check_windows(
    found: Findings, key: Key, spans: Any, within: tuple[Fraction | None, Fraction | None], of: str
) -> None:
    """Stretches of time: none empty, each after the one before it, all within another."""
    read = [_span(found, each, within[1]) for each in items(spans)]
    if spans == []:
        found.report(key, "an empty list", "give a stretch { from, until }, or leave it out")
    for index, span in enumerate(read):
        if span is not None:
            _within(found, (*key, index), span, within, of)
    for index, (before, after) in enumerate(pairwise(read), start=1):
        if before and after and after[0] < before[1]:
            found.report((*key, index), f"from {float(after[0]):g}", f"the stretch before ends at {float(before[1]):g}")


def _span(found: Findings, raw: Any, end: Fraction | None) -> tuple[Fraction, Fraction] | None:
    if not isinstance(raw, dict):
        return None
    begins = found.seconds(raw.get("from", 0))
    ends = found.seconds(raw["until"]) if "until" in raw else end
    return None if begins is None or ends is None else (begins, ends)


def _within(
    found: Findings,
    key: Key,
    span: tuple[Fraction, Fraction],
    within: tuple[Fraction | None, Fraction | None],
    of: str,
) -> None:
    low, high = within
    said = f"{float(span[0]):g} to {float(span[1]):g}"
    if span[0] >= span[1]:
        found.report(key, said, "it must end after it begins")
    elif low is not None and high is not None and not low <= span[0] < span[1] <= high:
        found.report(key, said, f"allowed: within the time of {of}, {float(low):g} to {float(high):g} s")


def _passage(found: Findings, key: Key, name: str, passage: dict[str, Any], whole: Fraction | None) -> None:
    span = _span(found, passage, whole)
    if span is not None:
        _within(found, key, span, (Fraction(0), whole), "the attack")
    for fighter, owner in found.owners(name):
        attacks = [str(each) for each in items(owner.get("attacks"))]
        for place, needed in ((key, str(key[-1])), ((*key, "press"), str(passage.get("press", key[-1])))):
            if needed not in attacks and needed in table(found.raw, "attacks"):
                found.unknown(place, f"attack of {fighter}", needed, attacks)


def _circle(found: Findings, name: str) -> list[str]:
    """A way from an attack back to it through follow-ups without a stretch of time; empty when there is none."""
    ways = [[name]]
    for way in ways:
        following = table(found.raw, "attacks", way[-1], "follow_ups")
        for each in following:
            if {"from", "until"} & table(following, each).keys():
                continue
            if each == name:
                return [*way, each]
            if each not in way:
                ways.append([*way, each])
    return []
