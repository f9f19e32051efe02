"""What records hold: ledgers, inputs, a chronicle's header and end, and tracks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound._lazy import loader

if TYPE_CHECKING:
    from emberwound.bout.lives.counters import BoardRow
    from emberwound.chronicle.header import End, Header
    from emberwound.chronicle.tracks import Tracks
    from emberwound.combat.terms import WoundContext
    from emberwound.vocabulary.ledger import Ledger, Loss, Step
    from emberwound.vocabulary.orders import (
        Become,
        EndShot,
        Enter,
        Heal,
        Hurt,
        Input,
        Leave,
        Order,
        Place,
        Push,
        Resize,
        SetPool,
    )

__all__ = [
    "Become",
    "BoardRow",
    "End",
    "EndShot",
    "Enter",
    "Header",
    "Heal",
    "Hurt",
    "Input",
    "Leave",
    "Ledger",
    "Loss",
    "Order",
    "Place",
    "Push",
    "Resize",
    "SetPool",
    "Step",
    "Tracks",
    "WoundContext",
]

_HOMES = {
    "BoardRow": "emberwound.bout.lives.counters",
    **dict.fromkeys(("End", "Header"), "emberwound.chronicle.header"),
    "Tracks": "emberwound.chronicle.tracks",
    "WoundContext": "emberwound.combat.terms",
    **dict.fromkeys(("Ledger", "Loss", "Step"), "emberwound.vocabulary.ledger"),
    **dict.fromkeys(
        ("Become", "EndShot", "Enter", "Heal", "Hurt", "Input", "Leave", "Order", "Place", "Push", "Resize", "SetPool"),
        "emberwound.vocabulary.orders",
    ),
}

if not TYPE_CHECKING:  # a checker that saw it would let every misspelt name pass
    __getattr__ = loader(__name__, _HOMES)


def __dir__() -> list[str]:
    return list(__all__)
