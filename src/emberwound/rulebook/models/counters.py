"""The tables of what is counted for each seat."""

from __future__ import annotations

from typing import Annotated, Literal

from emberwound.rulebook.fields import Allowed, Number
from emberwound.rulebook.models.tables import Table


class Counter(Table):
    """`[counters.X]`: a number each seat has, and what changes it."""

    start: Number = 0.0
    """Where it starts."""
    per_second: Number = 0.0
    """Added for each second that the seat has a living body."""
    kill: Number = 0.0
    """Added for a death of another team that it is credited with."""
    assist: Number = 0.0
    """Added for a death of another team that it helped in."""
    death: Number = 0.0
    """Added for a death of its own."""
    on_death: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "keep"
    """Whether it goes back to its start at a death of the seat."""
    on_restart: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "reset"
    """Whether it goes back to its start when the bout restarts."""
    minimum: Number | None = None
    """It never falls below this."""
    best: Annotated[Literal["highest", "lowest"], Allowed('allowed: "highest" or "lowest"')] = "highest"
    """Which value leads the board."""
