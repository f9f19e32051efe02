"""Checks of shapes on fighters: hurtboxes and hitboxes alike."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, number

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


def check_joints(found: Findings, key: Key, part: dict[str, Any], what: str, joints: dict[str, Any]) -> None:
    """The places of a part must be joints that there are."""
    for end in ("from", "to"):
        place = part.get(end)
        if isinstance(place, str) and place not in joints:
            found.unknown((*key, end), what, place, joints)


def check_shape(found: Findings, key: Key, part: dict[str, Any]) -> None:
    """A part is a sphere or a capsule, or else a box."""
    if ("radius" in part) == ("size" in part):
        seen = "radius and size" if "size" in part else "neither radius nor size"
        found.report(key, seen, "a sphere or capsule has a radius, a box has a size; give one of them")
    if "size" in part and "to" in part:
        found.report((*key, "to"), "a box with a second end", "a box lies round its place `from`; leave `to` out")
    if number(part.get("turn_deg")) and "size" not in part:
        found.report((*key, "turn_deg"), "a turn of what is no box", "only a box, with a size, can be turned")
    size = items(part.get("size"))
    if any((number(each) or 0.0) <= 0.0 for each in size):
        found.report((*key, "size"), f"[{', '.join(map(str, size))}]", "each size of a box must be above 0")
