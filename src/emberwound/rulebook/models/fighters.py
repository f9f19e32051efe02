"""The tables of fighters: pools, hurtboxes, postures, guards, reactions."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    Arc,
    LastingTime,
    Name,
    NameOf,
    NotNegative,
    Offset,
    Positive,
    Share,
    Time,
    Truth,
)
from emberwound.rulebook.models.tables import GuardClass, PartShape, Place, Priority, Severity, Table, seconds


class Pool(Table):
    """`[fighters.X.pools.Y]`: points a fighter has; at zero of the vital pool it dies."""

    max: Positive
    start: NotNegative | None = None
    vital: Truth = False
    share: NotNegative = 1.0
    overflow: Truth = True
    refill: NotNegative = 0.0
    delay: Time = Field(default_factory=lambda: seconds("0"))


class Body(Table):
    """`[fighters.X.body]`: the room a fighter takes, standing on its position."""

    radius: Positive
    height: Positive


class Hurtbox(PartShape):
    """`[fighters.X.hurtboxes.Y]`: a shape that can be hit, in all postures or in those named alone."""

    multiplier: NotNegative = 1.0
    push_share: NotNegative = 1.0
    route: tuple[Name, ...] | None = None
    layer: Name = "body"
    priority: Priority = 0
    postures: tuple[Name, ...] | None = None


class Posture(Table):
    """`[fighters.X.postures.Y]`: how a fighter holds itself when it is told to: joints elsewhere, and its pace."""

    joints: dict[Name, Offset] = Field(default_factory=dict)
    speed_share: NotNegative = 1.0


class Guard(Table):
    """`[fighters.X.guard]`: that a fighter can hold its guard, from where it stops what, and what that costs."""

    arc_deg: Arc = 180.0
    damage_share: Share = 0.0
    push_share: NotNegative = 1.0
    classes: tuple[GuardClass, ...] = ("ordinary", "low", "high")
    drain: NotNegative = 0.0
    pool: Name | None = None
    perfect: Time = Field(default_factory=lambda: seconds("0"))
    broken: Time = Field(default_factory=lambda: seconds("1"))


Lock = Annotated[
    Literal["move", "attack", "guard", "turn"], Allowed('allowed: a list of "move", "attack", "guard" and "turn"')
]
Side = Annotated[
    Literal["front", "back", "left", "right", "above"],
    Allowed('allowed: a list of "front", "back", "left", "right" and "above"'),
]


class Reaction(Table):
    """`[[fighters.X.reactions]]`: what fits the row, and how the fighter then reacts; the first that fits counts."""

    name: Name
    guarded: Truth | None = None
    breaks: Truth | None = None
    sides: tuple[Side, ...] | None = Field(default=None, alias="from")
    hurtboxes: tuple[Name, ...] | None = None
    kinds: tuple[Annotated[Name, NameOf("kinds")], ...] | None = None
    damage: NotNegative = 0.0
    push: NotNegative = 0.0
    airborne: Truth | None = None
    dying: Truth = False
    variants: tuple[Name, ...] | None = None
    seconds: LastingTime
    severity: Severity = 1
    locks: tuple[Lock, ...] = ("move", "attack", "guard", "turn")
    blend_in: Time = Field(default_factory=lambda: seconds("0.05"))
    blend_out: Time = Field(default_factory=lambda: seconds("0.1"))
    part: Name = "all"


class StaggerResistance(Table):
    """`[fighters.X.stagger_resistance]`: points of damage taken without a reaction, and how they come back."""

    points: Positive
    refill: NotNegative = 0.0
    delay: Time = Field(default_factory=lambda: seconds("0"))


class Ragdoll(Table):
    """`[fighters.X.ragdoll]`: the points and links that a corpse falls and slides as."""

    points: dict[Name, Place]
    links: tuple[tuple[Name, Name], ...]
    radius: Positive
    stretch: Share = 0.03
    decay: Share = 0.5


class Physique(Table):
    """What fighters and props have alike: the room they take, how they are knocked back, and where they can be hit."""

    body: Body
    gravity_share: NotNegative = 1.0
    weight: Positive = 1.0
    drag: NotNegative = 0.0
    slide_deceleration: Positive | None = None
    restitution: Share = 0.0
    hurtboxes: dict[Name, Hurtbox]

    @property
    def slows_by(self) -> float:
        """The speed that it loses in each second in which it slides; by itself 20/3 of its height, 12 for 1.8."""
        return self.body.height * 20.0 / 3.0 if self.slide_deceleration is None else self.slide_deceleration


class Prop(Physique):
    """`[props.X]`: a body without health, such as a crate: it can be knocked back, and no more."""


class Fighter(Physique):
    """`[fighters.X]`: one sort of body, what it can do and what it can bear."""

    speed: NotNegative = 0.0
    pools: dict[Name, Pool]
    route: tuple[Name, ...] | None = None
    joints: dict[Name, Offset] = Field(default_factory=dict)
    attacks: tuple[Annotated[Name, NameOf("attacks")], ...] = ()
    guard: Guard | None = None
    postures: dict[Name, Posture] = Field(default_factory=dict)
    reactions: tuple[Reaction, ...] = ()
    stagger_resistance: StaggerResistance | None = None
    ragdoll: Ragdoll | None = None
    death_blast: Annotated[Name, NameOf("blasts")] | None = None
    bars: tuple[Annotated[Name, NameOf("bars")], ...] = ()
    labels: tuple[Name, ...] = ()
    damage_taken: dict[Name, NotNegative] = Field(default_factory=dict)
    flat_reduction: NotNegative | dict[Name, NotNegative] = 0.0
    min_damage: NotNegative = 0.0
    corpse_seconds: Time = Field(default_factory=lambda: seconds("2"))
    respawn_protection: Time = Field(default_factory=lambda: seconds("0"))
    respawn_seconds: Time = Field(default_factory=lambda: seconds("3"))
