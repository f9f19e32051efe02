"""Checks of layers: those that hurtboxes are on, and what touches them."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.outline import Key


def layers_named(found: Findings) -> list[str]:
    """The layers of all hurtboxes in the book."""
    bodies = (*found.book.fighters.values(), *found.book.props.values())
    return list(dict.fromkeys(box.layer for body in bodies for box in body.hurtboxes.values()))


def check_layers(found: Findings, key: Key, layers: Sequence[str] | None) -> None:
    """Layers must be those of hurtboxes, each once."""
    if layers is None:
        return
    known = layers_named(found)
    for index, layer in enumerate(layers):
        if layer not in known:
            found.unknown((*key, index), "hurtbox with the layer", layer, known)
    found.doubles(key, layers)
