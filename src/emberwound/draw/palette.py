"""Colours that keep apart in grey and for the colour-blind, and the look of each seat."""

from __future__ import annotations

from typing import Any, TypeAlias

Dash: TypeAlias = str | tuple[float, tuple[float, ...]]
"""How a line is broken: by a name, or an offset and the lengths on and off in turn."""

Look: TypeAlias = dict[str, Any]
"""Options of what is drawn, by their names."""

INK = "#26313b"
SOFT_INK = "#6d7780"
PAPER = "#fbfaf6"
GROUND = "#d9d2c3"
EMBER = "#c2410c"
MISS = "#7d8790"
CAIRN = "#1b6f8a"
PEARL = "#7a5c00"

SEAT_LOOKS = (
    ("#8a4b08", "-"),
    ("#1b6f8a", "--"),
    ("#5b3f8c", "-."),
    ("#3f7d3a", ":"),
    ("#a3315e", (0, (5, 1, 1, 1, 1, 1))),
    ("#4a5a12", (0, (8, 2))),
)
"""A colour and a line for each seat in turn; the line tells them apart where the colour does not."""


def seat_look(index: int) -> tuple[str, Dash]:
    """The colour and line of a seat by its place in the bout."""
    return SEAT_LOOKS[index % len(SEAT_LOOKS)]
