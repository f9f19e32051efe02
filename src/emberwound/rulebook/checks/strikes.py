"""Checks of strikes: hitboxes, when they are on, and how they turn."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.parts import check_joints, check_shape
from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.reading import Findings, number, table
from emberwound.rulebook.checks.timelines import check_windows, timeline_ends

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.outline import Key


def check_strike(
    found: Findings, key: Key, attack: dict[str, Any], owners: Sequence[tuple[str, dict[str, Any]]]
) -> None:
    """All that must fit within a strike, with its attack's times, and with its fighters."""
    if "strike" not in attack:
        return
    boxes = table(attack, "strike", "hitboxes")
    if boxes == {}:
        found.report((*key, "strike", "hitboxes"), "no hitbox", "a strike without a hitbox never hits; give it one")
    windup, active, _ = timeline_ends(found, attack)
    if windup is not None and windup == active:
        allowed = "required with a strike: how long, after the windup, its hitboxes may be on"
        found.report((*key, "active"), "no active time", allowed)
    for name in boxes:
        place: Key = (*key, "strike", "hitboxes", name)
        box = table(boxes, name)
        check_shape(found, place, box)
        if windup != active:
            check_windows(found, (*place, "on"), box.get("on"), (windup, active), "the attack that is active")
        _swing(found, place, box)
        check_push(found, place, box, travels=False)
        if (number(box.get("damage")) or 0.0) > 0.0 and "kind" not in box and "kind" not in attack:
            found.report((*place, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
        for fighter, owner in owners:
            check_joints(found, place, box, f"joint of {fighter}", table(owner, "joints"))


def _swing(found: Findings, key: Key, box: dict[str, Any]) -> None:
    swing = table(box, "swing")
    if not swing:
        return
    for end in ("to", "size"):
        if end in box:
            allowed = f"what swings lies from inner to reach from its place `from`; leave `{end}` out"
            found.report((*key, end), f"a swing and `{end}`", allowed)
    inner, reach = number(swing.get("inner", 0)), number(swing.get("reach"))
    if inner is not None and reach is not None and inner > reach:
        found.report((*key, "swing", "inner"), f"{inner:g}", f"allowed: 0 up to its reach, {reach:g}")
    first, last = number(swing.get("from_deg")), number(swing.get("to_deg"))
    if first is not None and first == last:
        found.report((*key, "swing", "to_deg"), f"{last:g}", "it begins there: what does not turn needs no swing")
