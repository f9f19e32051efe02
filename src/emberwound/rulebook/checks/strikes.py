"""Checks of strikes: hitboxes, when they are on, and how they turn."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.checks.layers import check_layers
from emberwound.rulebook.checks.parts import check_joints, check_shape
from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.timelines import check_windows

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Attack, Fighter, Hitbox
    from emberwound.rulebook.outline import Key


def check_strike(found: Findings, key: Key, attack: Attack, owners: Sequence[tuple[str, Fighter]]) -> None:
    """All that must fit within a strike, with its attack's times, and with its fighters."""
    if attack.strike is None:
        return
    boxes = attack.strike.hitboxes
    if not boxes:
        found.report(
            (*key, "strike", "hitboxes"),
            "no hitbox",
            "a strike without a hitbox never hits; give it one",
            finding="hitbox-never-on",
        )
    timeline = AttackTimeline.of(attack, found.book.settings.frame_rate)
    if timeline.windup == timeline.active:
        allowed = "required with a strike: how long, after the windup, its hitboxes may be on"
        found.report((*key, "active"), "no active time", allowed, finding="hitbox-never-on")
    for name, box in boxes.items():
        place: Key = (*key, "strike", "hitboxes", name)
        check_shape(found, place, box)
        if timeline.windup != timeline.active and box.on is not None:
            active = (timeline.windup, timeline.active)
            check_windows(found, (*place, "on"), box.on, active, "the attack that is active", needed=True)
        _swing(found, place, box)
        check_push(found, place, box.push, travels=False)
        check_layers(found, (*place, "layers"), box.layers)
        if box.damage and box.kind is None and attack.kind is None:
            found.report((*place, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
        for fighter, owner in owners:
            check_joints(found, place, box, f"joint of {fighter}", owner.joints)


def _swing(found: Findings, key: Key, box: Hitbox) -> None:
    swing = box.swing
    if swing is None:
        return
    for end in ("to", "size"):
        if getattr(box, end) is not None:
            allowed = f"what swings lies from inner to reach from its place `from`; leave `{end}` out"
            found.report((*key, end), f"a swing and `{end}`", allowed)
    if swing.inner > swing.reach:
        found.report((*key, "swing", "inner"), f"{swing.inner:g}", f"allowed: 0 up to its reach, {swing.reach:g}")
    if swing.from_deg == swing.to_deg:
        allowed = "it begins there: what does not turn needs no swing"
        found.report((*key, "swing", "to_deg"), f"{swing.to_deg:g}", allowed)
