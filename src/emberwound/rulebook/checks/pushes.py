"""Checks of pushes: authored by speed or by where they land, and possible at all."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Push
    from emberwound.rulebook.outline import Key


def check_push(found: Findings, holder: Key, push: Push | None, *, travels: bool) -> None:
    """All that must fit within the push of an attack, a hitbox or a hazard; `travels` says whether it flies."""
    if push is None:
        return
    key: Key = (*holder, "push")
    speeds = [name for name in ("speed", "per_point") if getattr(push, name)]
    if bool(speeds) == (push.distance is not None):
        seen = f"{' and '.join(speeds)} and a distance" if speeds else "neither a speed nor a distance"
        found.report(key, seen, "give speed (and per_point), or the distance it goes, and the rest follows")
    arcs = [name for name in ("apex", "seconds") if getattr(push, name) is not None]
    for name in arcs:
        if push.distance is None:
            found.report((*key, name), f"{name} without a distance", "it says how the way there is: give a distance")
    if len(arcs) > 1:
        found.report((*key, "seconds"), "an apex and seconds", "one follows from the other; give one of them")
    if push.distance is not None and push.lift_deg:
        found.report((*key, "lift_deg"), "a lift and a distance", "the lift follows from apex or seconds; leave it out")
    _heading(found, key, push, travels=travels)
    for arena, each in found.book.arenas.items():
        if arcs and each.space != "top" and each.gravity == 0.0:
            allowed = f"arena {arena} has no gravity: nothing comes down there; give the distance alone"
            found.report((*key, arcs[0]), _written(push, arcs[0]), allowed)


def _written(push: Push, arc: str) -> str:
    return f"{push.apex:g}" if arc == "apex" or push.seconds is None else str(push.seconds.written())


def _heading(found: Findings, key: Key, push: Push, *, travels: bool) -> None:
    if push.heading == "travel" and not travels:
        allowed = 'only shots and rays travel; allowed here: "away", "towards", "facing", "radial", "fixed"'
        found.report((*key, "heading"), '"travel"', allowed)
    if push.distance is not None and push.heading in ("travel", "radial", "fixed"):
        allowed = 'a distance is along the ground: "away", "towards" or "facing"'
        found.report((*key, "heading"), f'"{push.heading}" and a distance', allowed)
    if (push.heading == "fixed") is (push.direction is None):
        where, seen = ("direction", "missing") if push.direction is None else ("heading", f'"{push.heading}"')
        found.report((*key, where), seen, 'a heading "fixed" goes with a direction, such as [1, 0]')
    if push.direction is not None:
        _direction(found, key, push, push.direction)


def _direction(found: Findings, key: Key, push: Push, direction: Sequence[float]) -> None:
    if not any(direction):
        found.report((*key, "direction"), "no direction", "give a number other than 0")
    if push.lift_deg:
        found.report((*key, "lift_deg"), "a lift and a direction", "the direction says how it rises; leave it out")
    for arena, each in found.book.arenas.items():
        if len(direction) != (3 if each.space == "3d" else 2):
            seen = f"{len(direction)} numbers"
            found.report((*key, "direction"), seen, f"arena {arena} is seen in another space: leave out or add one")
