"""Checks of layers: those that hurtboxes are on, and what touches them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, table

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.outline import Key


def layers_named(found: Findings) -> list[str]:
    """The layers of all hurtboxes in the book."""
    sorts = (table(found.raw, "fighters"), table(found.raw, "props"))
    boxes = [table(box) for sort in sorts for each in sort for box in table(sort, each, "hurtboxes").values()]
    return list(dict.fromkeys(str(box.get("layer", "body")) for box in boxes))


def check_layers(found: Findings, key: Key, layers: Sequence[Any], known: Sequence[str]) -> None:
    """Layers must be those of hurtboxes, each once."""
    for index, layer in enumerate(layers):
        if isinstance(layer, str) and layer not in known:
            found.unknown((*key, index), "hurtbox with the layer", layer, known)
    found.doubles(key, list(layers))
