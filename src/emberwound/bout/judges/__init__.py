"""Who judges what a contact means: one room for shots, one for rays, one for strikes and hazards."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from emberwound.bout.world import World

Contact = tuple[float, int, int, int, int, "Judge", Any]
"""An entry of the queue of a tick: the fraction of the tick, then what decides at one instant (the attacker's seat, the
number of the release, the hitbox, the victim's body), who judges it, and what it needs for that."""

Judge = Callable[["World", Contact], list[Contact]]
"""Judges one contact, and gives those that follow from it in the same tick."""
