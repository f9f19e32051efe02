"""The tables of attacks: what they launch and strike with, when, and what lingers."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    Damage,
    Degrees,
    LastingTime,
    Lift,
    Name,
    NameOf,
    NotNegative,
    Offset,
    Positive,
    RehitTime,
    Share,
    Spread,
    Time,
    Truth,
)
from emberwound.rulebook.models.hits import HitOverrides, OwnedHitOptions
from emberwound.rulebook.models.tables import Few, PartShape, Place, Several, Severity, Table, seconds


class Launch(Table):
    """What shots and rays share: where they start, which way they go, and how many at once."""

    muzzle: Place
    direction: Annotated[Literal["aim", "facing"], Allowed('allowed: "aim" or "facing"')] = "aim"
    lift_deg: Lift = 0.0
    spread_deg: Spread = 0.0
    count: Several = 1
    fan_deg: Degrees = 0.0
    pierce: Few = 0


class Bounce(Table):
    """`[attacks.X.shot.bounce]`: the share of its speed that a shot keeps at a bounce, and how often it bounces."""

    restitution: Share
    times: Several


class Shot(Launch):
    """`[attacks.X.shot]`: the projectile of an attack."""

    radius: NotNegative
    speed: Positive
    velocity_share: NotNegative = 0.0
    gravity_share: NotNegative = 1.0
    drag: NotNegative = 0.0
    life: LastingTime = Field(default_factory=lambda: seconds("10"))
    range: Positive | None = None
    on_wall: Annotated[Literal["end", "bounce", "pass"], Allowed('allowed: "end", "bounce" or "pass"')] = "end"
    bounce: Bounce | None = None


class Ray(Launch):
    """`[attacks.X.ray]`: what an attack hits at once, along a straight line."""

    range: Positive
    on_wall: Annotated[Literal["end", "pass"], Allowed('allowed: "end" or "pass"')] = "end"


class Window(Table):
    """A window of an attack's time, counted from its start; without an end up to the end of the attack."""

    from_: Time = Field(default_factory=lambda: seconds("0"), alias="from")
    until: LastingTime | None = None


class FollowUp(Window):
    """`[attacks.X.follow_ups.Y]`: that Y may follow in this window, at a press of it or of the attack named."""

    press: Annotated[Name, NameOf("attacks")] | None = None


class Swing(Table):
    """`[attacks.X.strike.hitboxes.Y.swing]`: that a hitbox turns about its place `from` while it is on.

    Angles are degrees up from ahead; tilted, the plane of the swing leans to the left: at 90 it is level.
    """

    from_deg: Degrees
    to_deg: Degrees
    inner: NotNegative = 0.0
    reach: Positive
    tilt_deg: Lift = 0.0


class Hitbox(PartShape, HitOverrides):
    """`[attacks.X.strike.hitboxes.Y]`: a shape that strikes, in these windows of the attack, with its own wound."""

    on: tuple[Window, ...] | None = None
    swing: Swing | None = None


class Strike(Table):
    """`[attacks.X.strike]`: what an attack strikes with by itself: a blade, a claw, a shoulder."""

    hitboxes: dict[Name, Hitbox]
    rehit_every: RehitTime | None = None
    on_wall: Annotated[Literal["pass", "block"], Allowed('allowed: "pass" or "block"')] = "pass"


class ChargeUp(Table):
    """`[attacks.X.charge]`: holding makes the attack stronger, up to these factors after `seconds`."""

    seconds: LastingTime
    damage: NotNegative = 1.0
    speed: NotNegative = 1.0


class Lunge(Table):
    """`[attacks.X.lunge]`: movement that an attack gives its owner; without `seconds` a kick that gravity bends."""

    at: Time = Field(default_factory=lambda: seconds("0"))
    seconds: Time = Field(default_factory=lambda: seconds("0"))
    speed: Positive
    lift_deg: Lift = 0.0


class Falloff(Table):
    """`[attacks.X.falloff]`: the whole wound up to `near`, evenly less from there, `share` of it from `far` on."""

    near: NotNegative
    far: Positive
    share: Share = 0.0


class PoseKey(Table):
    """A place of a joint at a time of an attack."""

    at: Time
    offset: Offset


State = Annotated[
    Literal["moving", "airborne", "guarding"], Allowed('allowed: a list of "moving", "airborne" and "guarding"')
]


class Affliction(Table):
    """`[afflictions.X]`: a wound that lingers, dealt `every` so often for `seconds`, and what it does meanwhile."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    damage: Damage = 0.0
    every: LastingTime | None = None
    seconds: LastingTime
    stacking: Annotated[Literal["refresh", "add", "strongest"], Allowed('allowed: "refresh", "add" or "strongest"')] = (
        "refresh"
    )
    max_stacks: Several = 1
    cured_by: tuple[Annotated[Name, NameOf("kinds")], ...] = ()
    speed_share: NotNegative = 1.0
    damage_taken_share: NotNegative = 1.0
    disables_guard: Truth = False


BlastOn = Annotated[Literal["hit", "end"], Allowed('allowed: a list of "hit" and "end"')]


class Attack(OwnedHitOptions):
    """`[attacks.X]`: what a fighter does when it is told to press or hold X."""

    heal: NotNegative = 0.0
    revive: Truth = False
    falloff: Falloff | None = None
    windup: Time = Field(default_factory=lambda: seconds("0"))
    releases: tuple[Time, ...] = Field(default_factory=lambda: (seconds("0"),))
    active: Time = Field(default_factory=lambda: seconds("0"))
    recovery: Time = Field(default_factory=lambda: seconds("0"))
    cooldown: Time | None = None
    rate: Positive | None = None
    allowed_while: tuple[State, ...] = ("moving", "airborne")
    cost: dict[Name, Positive] = Field(default_factory=dict)
    charge: ChargeUp | None = None
    lunge: Lunge | None = None
    poses: dict[Name, tuple[PoseKey, ...]] = Field(default_factory=dict)
    withstands_severity: Severity = 0
    interrupted_by: tuple[Annotated[Name, NameOf("kinds")], ...] = ()
    cancels: dict[Annotated[Name, NameOf("attacks")], Window] = Field(default_factory=dict)
    follow_ups: dict[Annotated[Name, NameOf("attacks")], FollowUp] = Field(default_factory=dict)
    invulnerable: tuple[Window, ...] = ()
    hurtboxes_off: dict[Name, tuple[Window, ...]] = Field(default_factory=dict)
    shot: Shot | None = None
    ray: Ray | None = None
    strike: Strike | None = None
    blast: Annotated[Name, NameOf("blasts")] | None = None
    blast_on: tuple[BlastOn, ...] = ("hit", "end")
    blast_at: Place | None = None
