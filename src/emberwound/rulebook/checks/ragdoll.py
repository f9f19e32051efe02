"""Checks of ragdolls: points and the links between them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Fighter
    from emberwound.rulebook.outline import Key

MOST_POINTS = 64
LEAST_SHARE = 0.001


def check_ragdoll(found: Findings, key: Key, fighter: Fighter) -> None:
    """All that must fit within a fighter's ragdoll."""
    ragdoll = fighter.ragdoll
    if ragdoll is None:
        return
    place: Key = (*key, "ragdoll")
    points, links = ragdoll.points, ragdoll.links
    if not 2 <= len(points) <= MOST_POINTS:
        found.report((*place, "points"), f"{len(points)} points", f"allowed: 2 to {MOST_POINTS}")
    if ragdoll.radius < LEAST_SHARE * fighter.body.height:
        allowed = f"at least a thousandth of its height, {LEAST_SHARE * fighter.body.height:g}"
        found.report((*place, "radius"), f"{ragdoll.radius:g}", allowed)
    for name, at in points.items():
        if isinstance(at, str) and at not in fighter.joints:
            found.unknown((*place, "points", name), "joint", at, fighter.joints)
    if not links:
        found.report((*place, "links"), "an empty list", "give the points links, or leave ragdoll out")
    _links(found, (*place, "links"), points, links)
    _hangs_together(found, (*place, "links"), list(points), links)


def _links(found: Findings, key: Key, points: Mapping[str, object], links: Sequence[tuple[str, str]]) -> None:
    for index, link in enumerate(links):
        for which, end in enumerate(link):
            if end not in points:
                found.unknown((*key, index, which), "point of the ragdoll", end, points)
        if link[0] == link[1]:
            found.report((*key, index), f"{link[0]} with itself", "a link joins two points")


def _hangs_together(found: Findings, key: Key, points: list[str], links: Sequence[tuple[str, str]]) -> None:
    if not points or not links or any(end not in points for link in links for end in link):
        return
    reached = {points[0]}
    for _ in points:
        reached.update(end for link in links if reached.intersection(link) for end in link)
    loose = [name for name in points if name not in reached]
    if loose:
        found.report(key, f"no chain of links from {points[0]} to {loose[0]}", "all points must hang together")
