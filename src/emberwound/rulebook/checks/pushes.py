"""Checks of pushes: authored by speed or by where they land, and possible at all."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

ARCS = ("apex", "seconds")


def check_push(found: Findings, key: Key, holder: dict[str, Any], *, travels: bool) -> None:
    """All that must fit within the push of an attack, a hitbox or a hazard; `travels` says whether it has a course."""
    if "push" not in holder:
        return
    place: Key = (*key, "push")
    push = table(holder, "push")
    speeds = [name for name in ("speed", "per_point") if number(push.get(name))]
    if bool(speeds) == ("distance" in push):
        seen = f"{' and '.join(speeds)} and a distance" if speeds else "neither a speed nor a distance"
        found.report(place, seen, "give speed (and per_point), or the distance it goes, and the rest follows")
    arcs = [name for name in ARCS if name in push]
    for name in arcs:
        if "distance" not in push:
            found.report((*place, name), f"{name} without a distance", "it says how the way there is: give a distance")
    if len(arcs) > 1:
        found.report((*place, "seconds"), "an apex and seconds", "one follows from the other; give one of them")
    if "distance" in push and number(push.get("lift_deg")):
        found.report(
            (*place, "lift_deg"), "a lift and a distance", "the lift follows from apex or seconds; leave it out"
        )
    _heading(found, place, push, travels=travels)
    for arena, each in table(found.raw, "arenas").items():
        if (
            arcs
            and isinstance(each, dict)
            and each.get("space", "side") != "top"
            and number(each.get("gravity")) == 0.0
        ):
            allowed = f"arena {arena} has no gravity: nothing comes down there; give the distance alone"
            found.report((*place, arcs[0]), str(push[arcs[0]]), allowed)


def _heading(found: Findings, place: Key, push: dict[str, Any], *, travels: bool) -> None:
    heading = push.get("heading", "away")
    if heading == "travel" and not travels:
        found.report(
            (*place, "heading"), '"travel"', 'only shots and rays travel; allowed here: "away", "facing", "radial"'
        )
    if "distance" in push and heading in ("travel", "radial"):
        found.report(
            (*place, "heading"), f'"{heading}" and a distance', 'a distance is along the ground: "away" or "facing"'
        )
