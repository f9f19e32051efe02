"""The table of blasts."""

from __future__ import annotations

from typing import Annotated, Literal

from emberwound.rulebook.fields import Allowed, Positive, Truth
from emberwound.rulebook.models.hits import OwnedHitOptions


class Blast(OwnedHitOptions):
    """`[blasts.X]`: what hurts all within a radius of a place, less with the distance."""

    radius: Positive
    falloff: Annotated[Literal["linear", "steep", "even"], Allowed('allowed: "linear", "steep" or "even"')] = "linear"
    hits_direct_victim: Truth = False
    on_wall: Annotated[Literal["pass", "block"], Allowed('allowed: "pass" or "block"')] = "pass"
