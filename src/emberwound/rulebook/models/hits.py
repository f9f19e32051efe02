"""What a hit does, whatever makes it: the keys that attacks, hitboxes, blasts and hazards share."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from emberwound.rulebook.fields import Damage, Name, NameOf, NotNegative, Time, Truth
from emberwound.rulebook.models.tables import GuardClass, Push, Table, seconds


class HitOptions(Table):
    """The wound of a hit, what it leaves behind, its push and hit stop, and the layers that it touches."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    damage: Damage = 0.0
    against: dict[Name, NotNegative] = Field(default_factory=dict)
    guard_class: GuardClass = "ordinary"
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] = ()
    push: Push | None = None
    hit_stop: Time = Field(default_factory=lambda: seconds("0"))
    layers: tuple[Name, ...] | None = None


class OwnedHitOptions(HitOptions):
    """The same of what somebody does: whether it also hits allies and its owner."""

    hits_allies: Truth = False
    hits_owner: Truth = False


class HitOverrides(Table):
    """The same keys on a hitbox, each in place of its attack's; what is left out is as the attack has it."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    damage: Damage | None = None
    against: dict[Name, NotNegative] | None = None
    guard_class: GuardClass | None = None
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] | None = None
    push: Push | None = None
    hit_stop: Time | None = None
    layers: tuple[Name, ...] | None = None
    hits_allies: Truth | None = None
    hits_owner: Truth | None = None
