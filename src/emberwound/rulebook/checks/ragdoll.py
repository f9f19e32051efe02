"""Checks of limp bodies: points and the links between them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

MOST_POINTS = 64


def check_ragdoll(found: Findings, key: Key, fighter: dict[str, Any]) -> None:
    """All that must fit within a fighter's ragdoll."""
    if "ragdoll" not in fighter:
        return
    place: Key = (*key, "ragdoll")
    limp, joints = table(fighter, "ragdoll"), table(fighter, "joints")
    points = table(limp, "points")
    if not 2 <= len(points) <= MOST_POINTS:
        found.report((*place, "points"), f"{len(points)} points", f"allowed: 2 to {MOST_POINTS}")
    for name, at in points.items():
        if isinstance(at, str) and at not in joints:
            found.unknown((*place, "points", name), "joint", at, joints)
    if limp.get("links") == []:
        found.report((*place, "links"), "an empty list", "give the points links, or leave ragdoll out")
    for index, link in enumerate(items(limp.get("links"))):
        ends = [each for each in items(link) if isinstance(each, str)]
        for which, end in enumerate(ends):
            if end not in points:
                found.unknown((*place, "links", index, which), "point of the ragdoll", end, points)
        if len(ends) == 2 and ends[0] == ends[1]:
            found.report((*place, "links", index), f"{ends[0]} with itself", "a link joins two points")
    _check_hanging_together(found, (*place, "links"), list(points), items(limp.get("links")))


def _check_hanging_together(found: Findings, key: Key, points: list[str], links: list[Any]) -> None:
    pairs = [link for link in map(items, links) if len(link) == 2 and all(end in points for end in link)]
    if not points or not pairs or len(pairs) < len(links):
        return
    reached = {points[0]}
    for _ in points:
        reached.update(end for link in pairs if reached.intersection(link) for end in link)
    loose = [name for name in points if name not in reached]
    if loose:
        found.report(key, f"no chain of links from {points[0]} to {loose[0]}", "all points must hang together")
