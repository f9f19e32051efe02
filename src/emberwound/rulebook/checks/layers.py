"""Checks of layers: those that hurtboxes are on, and what touches them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.vocabulary.limits import SHOT_LAYER

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.outline import Key


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
