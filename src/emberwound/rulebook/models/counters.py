"""The tables of what is counted for each seat."""

from __future__ import annotations

from typing import Annotated, Literal

from emberwound.rulebook.fields import Allowed, Number
from emberwound.rulebook.models.tables import Table


class Counter(Table):
    """`[counters.X]`: a number each seat has, and what changes it."""

    start: Number = 0.0
    per_second: Number = 0.0
    kill: Number = 0.0
    assist: Number = 0.0
    death: Number = 0.0
    on_death: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "keep"
    on_restart: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "reset"
    minimum: Number | None = None
    best: Annotated[Literal["highest", "lowest"], Allowed('allowed: "highest" or "lowest"')] = "highest"
