"""The table of blasts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, Damage, Name, NameOf, NotNegative, Positive, Time, Truth
from emberwound.rulebook.models.tables import GuardClass, Push, Table, seconds


class Blast(Table):
    """`[blasts.X]`: what hurts all within a radius of a place, less with the distance."""

    radius: Positive
    falloff: Annotated[Literal["linear", "steep", "even"], Allowed('allowed: "linear", "steep" or "even"')] = "linear"
    kind: Annotated[Name, NameOf("kinds")] | None = None
    damage: Damage = 0.0
    against: dict[Name, NotNegative] = Field(default_factory=dict)
    guard_class: GuardClass = "ordinary"
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] = ()
    push: Push | None = None
    hit_stop: Time = Field(default_factory=lambda: seconds("0"))
    layers: tuple[Name, ...] | None = None
    own_team: Truth = False
    owner: Truth = False
    direct: Truth = False
    on_wall: Annotated[Literal["pass", "block"], Allowed('allowed: "pass" or "block"')] = "pass"
