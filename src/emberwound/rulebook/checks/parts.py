"""Checks of shapes on fighters, hurtboxes and hitboxes alike, and of the layers that they are on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.reading import Findings, said
from emberwound.vocabulary.limits import SHOT_LAYER

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.rulebook.models import PartShape
    from emberwound.rulebook.outline import Key


def check_joints(found: Findings, key: Key, part: PartShape, what: str, joints: Mapping[str, object]) -> None:
    """The places of a part must be joints that there are."""
    for end, place in (("from", part.from_), ("to", part.to)):
        if isinstance(place, str) and place not in joints:
            found.unknown((*key, end), what, place, joints)


def check_shape(found: Findings, key: Key, part: PartShape) -> None:
    """A part is a sphere or a capsule, or else a box."""
    if (part.radius is None) == (part.size is None):
        seen = "radius and size" if part.size is not None else "neither radius nor size"
        found.report(key, seen, "a sphere or capsule has a radius, a box has a size; give one of them")
    if part.size is not None and part.to is not None:
        found.report((*key, "to"), "a box with a second end", "a box lies round its place `from`; leave `to` out")
    if part.turn_deg and part.size is None:
        found.report((*key, "turn_deg"), "a turn of what is no box", "only a box, with a size, can be turned")
    if part.size is not None and min(part.size) <= 0.0:
        found.report((*key, "size"), said(part.size), "each size of a box must be above 0")


def layers_named(found: Findings) -> list[str]:
    """The layers of all hurtboxes in the book, and of shots that can be destroyed."""
    bodies = (*found.book.fighters.values(), *found.book.props.values())
    shots = [SHOT_LAYER for attack in found.book.attacks.values() if attack.shot and attack.shot.health]
    return list(dict.fromkeys([*(box.layer for body in bodies for box in body.hurtboxes.values()), *shots]))


def check_layers(found: Findings, key: Key, layers: Sequence[str] | None) -> None:
    """Layers must be those of hurtboxes, each once."""
    if layers is None:
        return
    known = layers_named(found)
    for index, layer in enumerate(layers):
        if layer not in known:
            found.unknown((*key, index), "hurtbox with the layer", layer, known)
    found.doubles(key, layers)
