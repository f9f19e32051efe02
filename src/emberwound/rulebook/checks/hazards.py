"""Checks of the parts of an arena that are touched: their shapes, and what a hazard does."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.reading import Findings, number, said, table, vector

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

SHAPES = ("radius", "size", "half_space")


def check_hazard(found: Findings, key: Key, hazard: dict[str, Any], arena: dict[str, Any], space: str) -> None:
    """All that must fit within a hazard, and with its arena."""
    damage = number(hazard.get("damage")) or 0.0
    if damage > 0.0 and hazard.get("fatal") is True:
        found.report(
            (*key, "damage"), f"{damage:g} of what is fatal", "fatal takes all there is; leave one of them out"
        )
    if damage == 0.0 and hazard.get("fatal") is not True and not hazard.get("afflicts"):
        allowed = "give it damage and a kind, something it afflicts with, or fatal = true"
        found.report(key, "neither a wound nor fatal", allowed)
    if damage > 0.0 and "kind" not in hazard:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    check_area(found, key, hazard, space)
    check_push(found, key, hazard, travels=False)
    path, paths = hazard.get("path"), table(arena, "paths")
    if isinstance(path, str) and path not in paths:
        found.unknown((*key, "path"), "path of the arena", path, paths)
    if ("path" in hazard) != ("speed" in hazard):
        seen = "a speed without a path" if "speed" in hazard else "a path without a speed"
        found.report((*key, "path"), seen, "they belong together: give both or neither")


def check_area(found: Findings, key: Key, hazard: dict[str, Any], space: str) -> None:
    """The shape of a hazard, a checkpoint or a pickup."""
    for name in ("at", "to", "size", "half_space"):
        if name in hazard:
            found.fits_plane((*key, name), hazard[name], space)
    shapes = [name for name in SHAPES if name in hazard]
    if len(shapes) != 1:
        allowed = (
            "give a radius (and `to` for a capsule), a size for a box, or half_space for all that lies in a direction"
        )
        found.report(key, " and ".join(shapes) or "no shape", allowed)
    for name, needed in (("to", "radius"), ("turn_deg", "size")):
        if (number(hazard.get(name)) or name == "to") and name in hazard and needed not in hazard:
            found.report((*key, name), f"{name} without a {needed}", f"it belongs to a shape with a {needed}")
    size, towards = vector(hazard.get("size")), vector(hazard.get("half_space"))
    if size and min(size) <= 0.0:
        found.report((*key, "size"), said(size), "each size must be above 0")
    if towards and not any(towards):
        found.report((*key, "half_space"), said(towards), "a direction is needed: give a number other than 0")
