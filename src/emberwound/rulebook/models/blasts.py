"""The table of blasts."""

from __future__ import annotations

from typing import Annotated, Literal

from emberwound.rulebook.fields import Allowed, Positive, Truth
from emberwound.rulebook.models.hits import OwnedHitOptions


class Blast(OwnedHitOptions):
    """`[blasts.X]`: what hurts all within a radius of a place, less with the distance."""

    radius: Positive
    """How far it reaches, to the nearest point of each hurtbox; one wound a victim, by the hurtbox that hurts most."""
    falloff: Annotated[Literal["linear", "steep", "even"], Allowed('allowed: "linear", "steep" or "even"')] = "linear"
    """How damage and push lessen up to the radius: evenly, by the square, or not at all."""
    hits_direct_victim: Truth = False
    """Whether it also hurts the victim of its shot."""
    on_wall: Annotated[Literal["pass", "block"], Allowed('allowed: "pass" or "block"')] = "pass"
    """Whether a wall between blocks it."""
