"""What a hit does, whatever makes it: the keys that attacks, hitboxes, blasts and hazards share; and blasts."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, Damage, Name, NameOf, NotNegative, Positive, Time, Truth
from emberwound.rulebook.models.tables import GuardClass, Push, Table, seconds


class HitOptions(Table):
    """The wound of a hit, what it leaves behind, its push and hit stop, and the layers that it touches."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    """Kind of its wound; needed where there is damage."""
    damage: Damage = 0.0
    """Points of its wound, before anything changes them."""
    against: dict[Name, NotNegative] = Field(default_factory=dict)
    """Factors on the damage against fighters with a label."""
    guard_class: GuardClass = "ordinary"
    """Guards that list this class stop it; "unguardable" none does."""
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] = ()
    """Afflictions of a victim that lost points, or of any that it hits if it has no damage."""
    push: Push | None = None
    """Knockback of its victim."""
    hit_stop: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds that it freezes its victim; a strike its owner too."""
    layers: tuple[Name, ...] | None = None
    """Layers of hurtboxes that it touches; without it all."""


class OwnedHitOptions(HitOptions):
    """The same of what somebody does: whether it also hits allies and its owner."""

    hits_allies: Truth = False
    """Whether it touches its owner's team."""
    hits_owner: Truth = False
    """Whether it touches its owner."""


class HitOverrides(Table):
    """The same keys on a hitbox, each in place of its attack's; what is left out is as the attack has it."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    """Kind of its own wound, in place of the attack's."""
    damage: Damage | None = None
    """Points of its own wound, in place of the attack's."""
    against: dict[Name, NotNegative] | None = None
    """Factors against labels, in place of the attack's."""
    guard_class: GuardClass | None = None
    """Guard class, in place of the attack's."""
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] | None = None
    """Afflictions, in place of the attack's."""
    push: Push | None = None
    """Knockback, in place of the attack's."""
    hit_stop: Time | None = None
    """Seconds of hit stop, in place of the attack's."""
    layers: tuple[Name, ...] | None = None
    """Layers it touches, in place of the attack's."""
    hits_allies: Truth | None = None
    """Whether it touches its owner's team, in place of the attack's."""
    hits_owner: Truth | None = None
    """Whether it touches its owner, in place of the attack's."""


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
