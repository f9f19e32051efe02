"""The tables of attacks: what they launch and strike with, when, and what lingers."""

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
    TurnDegrees,
)
from emberwound.rulebook.models.tables import (
    Few,
    HitOverrides,
    OwnedHitOptions,
    PartShape,
    Place,
    Several,
    Severity,
    Table,
    seconds,
)


class Muzzle(Table):
    """`[attacks.X.shot.muzzle]`: a muzzle at an offset from a joint."""

    joint: Name
    """The joint that it hangs on."""
    offset: Offset = (0.0, 0.0)
    """Where it is from there."""
    turns: Truth = False
    """Whether it turns about the joint with where it shoots, in all planes: ahead is then that way."""


class Launch(Table):
    """What shots and rays share: where they start, which way they go, and how many at once."""

    muzzle: Annotated[
        Name | Offset | Muzzle,
        Allowed(
            "allowed: the name of a joint, an offset [ahead, up] or [ahead, up, left], or { joint, offset, turns }"
        ),
    ]
    """Where it leaves from: the name of a joint, an offset, or both as a table."""
    direction: Annotated[Literal["aim", "facing", "foe"], Allowed('allowed: "aim", "facing" or "foe"')] = "aim"
    """Where it goes: where its owner aims, or faces, or straight at the middle of the nearest foe, else as it faces."""
    lift_deg: Lift = 0.0
    """Degrees by which "facing" is raised."""
    spread_deg: Spread = 0.0
    """Greatest angle by which a draw turns it aside; drawn by the bout's seed, the seat's and the attack's name, and a
    count.
    """
    count: Several = 1
    """How many leave at once."""
    fan_deg: Degrees = 0.0
    """Angle that they are spread over evenly: up and down from the side; else about the upright, so that a fan that is
    aimed steeply is narrower.
    """
    pierce: Few = 0
    """Victims it passes through, each wounded once, before it ends."""


class Bounce(Table):
    """`[attacks.X.shot.bounce]`: the share of its speed that a shot keeps at a bounce, and how often it bounces."""

    restitution: Share
    """Share of its speed that it keeps."""
    times: Several
    """How often it bounces before a wall or the floor ends it."""


class Homing(Table):
    """`[attacks.X.shot.homing]`: that a shot turns to the middle of the nearest living foe, 30 times a second."""

    turn_deg: TurnDegrees
    """Degrees it turns a second at most."""
    range: Positive | None = None
    """Distance up to which it sees a foe; without it any."""


class Shot(Launch):
    """`[attacks.X.shot]`: the projectile of an attack."""

    radius: NotNegative
    """Its radius; 0 is a point."""
    speed: Positive
    """Its speed as it leaves, lengths a second."""
    velocity_share: NotNegative = 0.0
    """Share of its owner's velocity that is added."""
    gravity_share: NotNegative = 1.0
    """Share of the arena's gravity that it feels; 0 flies straight."""
    drag: NotNegative = 0.0
    """Share of its velocity that it loses a second."""
    life: LastingTime = Field(default_factory=lambda: seconds("10"))
    """Seconds after which it ends."""
    range: Positive | None = None
    """Distance from the muzzle at which it ends."""
    on_wall: Annotated[Literal["end", "bounce", "pass"], Allowed('allowed: "end", "bounce" or "pass"')] = "end"
    """Walls and the floor end it, throw it back, or let it pass."""
    bounce: Bounce | None = None
    """How it bounces; needed with "bounce"."""
    homing: Homing | None = None
    """That it turns to its foes."""
    health: Positive | None = None
    """Points of damage that destroy it; without it nothing hits it. It is on the layer "shot"."""


class Ray(Launch):
    """`[attacks.X.ray]`: what an attack hits at once, along a straight line."""

    range: Positive
    """How far it reaches from the muzzle."""
    on_wall: Annotated[Literal["end", "pass"], Allowed('allowed: "end" or "pass"')] = "end"
    """Walls and the floor end it, or let it pass."""


class Window(Table):
    """A window of an attack's time, counted from its start; without an end up to the end of the attack."""

    from_: Time = Field(default_factory=lambda: seconds("0"), alias="from")
    """Start, in seconds from the start of the attack."""
    until: LastingTime | None = None
    """End, in seconds from the start of the attack; without one the end of the attack."""


class FollowUp(Window):
    """`[attacks.X.follow_ups.Y]`: that Y may follow in this window, at a press of it or of the attack named."""

    press: Annotated[Name, NameOf("attacks")] | None = None
    """The attack whose press begins the follow-up, if it is another than its own."""


class Swing(Table):
    """`[attacks.X.strike.hitboxes.Y.swing]`: that a hitbox turns about its place `from` while it is on.

    Angles are degrees up from ahead; tilted, the plane of the swing leans to the left: at 90 it is level.
    """

    from_deg: Degrees
    """Angle at which it begins, degrees up from ahead."""
    to_deg: Degrees
    """Angle at which it ends; it turns evenly while the hitbox is on."""
    inner: NotNegative = 0.0
    """Distance from its place at which the hitbox begins."""
    reach: Positive
    """Distance from its place at which the hitbox ends."""
    tilt_deg: Lift = 0.0
    """Degrees by which the plane of the swing leans to the left; at 90 it is level."""


class Hitbox(PartShape, HitOverrides):
    """`[attacks.X.strike.hitboxes.Y]`: a shape that strikes, in these windows of the attack, with its own wound."""

    on: tuple[Window, ...] | None = None
    """When it is on, within the active time, counted from the start of the attack; without it the whole active time."""
    swing: Swing | None = None
    """That it turns about its place; it then has `from` and `radius` alone."""


class Strike(Table):
    """`[attacks.X.strike]`: what an attack strikes with by itself: a blade, a claw, a shoulder."""

    hitboxes: dict[Name, Hitbox]
    """The shapes that strike; of those that touch at the same instant the first of the file counts."""
    rehit_every: RehitTime | None = None
    """Seconds after which the same victim may be hit again, or "leave": once until left; without it once a swing."""
    leave_seconds: LastingTime = Field(default_factory=lambda: seconds("0.1"))
    """With "leave": how long the contact must be over before it counts again."""
    on_wall: Annotated[Literal["pass", "block"], Allowed('allowed: "pass" or "block"')] = "pass"
    """Whether a wall between its owner and the victim blocks it."""
    reflects: Truth = False
    """Whether it sends back the shots of foes that it touches; they are its owner's from then on."""


class Grab(Table):
    """`[attacks.X.grab]`: that its strike holds the first body it wounds unguarded, until a throw, damage or time."""

    at: Place
    """Where the middle of who is held is: a joint of its holder, or an offset."""
    seconds: LastingTime
    """How long it holds at most."""
    break_damage: NotNegative = 0.0
    """Points that one wound of its holder must take to end it; without it any that takes points."""


class ChargeUp(Table):
    """`[attacks.X.charge]`: holding makes the attack stronger, up to these factors after `seconds`."""

    seconds: LastingTime
    """Seconds of holding until it is full."""
    damage: NotNegative = 1.0
    """Factor on the damage when full."""
    speed: NotNegative = 1.0
    """Factor on the speed of its shots when full."""


class Lunge(Table):
    """`[attacks.X.lunge]`: movement that an attack gives its owner; without `seconds` a kick that gravity bends."""

    at: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds from the start of the attack at which it begins."""
    seconds: Time = Field(default_factory=lambda: seconds("0"))
    """How long it lasts, without gravity; 0 is a kick that gravity bends, such as a jump."""
    speed: Positive
    """Its speed, lengths a second."""
    lift_deg: Lift = 0.0
    """Degrees up from ahead."""


class Falloff(Table):
    """`[attacks.X.falloff]`: the whole wound up to `near`, evenly less from there, `share` of it from `far` on."""

    near: NotNegative
    """Distance up to which all of the damage is dealt."""
    far: Positive
    """Distance from which on only `share` of it is dealt."""
    share: Share = 0.0
    """Share that is left at `far`."""


class PoseKey(Table):
    """A place of a joint at a time of an attack."""

    at: Time
    """Seconds from the start of the attack."""
    offset: Offset
    """Where the joint is then; straight in between."""


State = Annotated[
    Literal["moving", "airborne", "guarding"], Allowed('allowed: a list of "moving", "airborne" and "guarding"')
]


class Affliction(Table):
    """`[afflictions.X]`: a wound that lingers, dealt `every` so often for `seconds`, and what it does meanwhile."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    """Kind of its wounds; needed where there is damage."""
    damage: Damage = 0.0
    """Points of each of its wounds."""
    every: LastingTime | None = None
    """Seconds from one of its wounds to the next."""
    seconds: LastingTime
    """How long it lasts."""
    stacking: Annotated[Literal["refresh", "add", "strongest"], Allowed('allowed: "refresh", "add" or "strongest"')] = (
        "refresh"
    )
    """What a second one does: begin the time again, count as one more up to `max_stacks`, or replace a weaker one."""
    max_stacks: Several = 1
    """How many count at once, with "add"."""
    cured_by: tuple[Annotated[Name, NameOf("kinds")], ...] = ()
    """Kinds of healing that end it."""
    speed_share: NotNegative = 1.0
    """Factor on the walking speed; of several they multiply."""
    damage_taken_share: NotNegative = 1.0
    """Factor on the damage its victim takes; of several they multiply."""
    disables_guard: Truth = False
    """Whether it keeps the guard down."""


BlastOn = Annotated[Literal["hit", "end"], Allowed('allowed: a list of "hit" and "end"')]


class Attack(OwnedHitOptions):
    """`[attacks.X]`: what a fighter does when it is ordered to press or hold X."""

    heal: NotNegative = 0.0
    """Points it heals instead of wounding."""
    revive: Truth = False
    """Whether its healing revives corpses."""
    falloff: Falloff | None = None
    """Less damage with the distance."""
    windup: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds from the press to the first release, or to the active time."""
    releases: tuple[Time, ...] = Field(default_factory=lambda: (seconds("0"),))
    """When it releases, in seconds from the end of the windup."""
    active: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds after the windup in which hitboxes may be on; an attack without hitboxes, such as a dodge, just takes
    that time.
    """
    recovery: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds from the last release and the active time to its end, when the next attack may begin."""
    cooldown: Time | None = None
    """Seconds from release to release; of a strike, from start to start."""
    rate: Positive | None = None
    """Releases a second, instead of `cooldown`."""
    allowed_while: tuple[State, ...] = ("moving", "airborne")
    """States it may begin in; without "moving" its owner stands still for it."""
    when_held: Annotated[Literal["repeat", "once"], Allowed('allowed: "repeat" or "once"')] = "repeat"
    """Whether holding it repeats it, or does no more than a press until it is let go."""
    cost: dict[Name, Positive] = Field(default_factory=dict)
    """Points of pools that are paid when it begins."""
    charge: ChargeUp | None = None
    """That holding it makes it stronger; it begins when it is let go."""
    lunge: Lunge | None = None
    """Movement for its owner."""
    poses: dict[Name, tuple[PoseKey, ...]] = Field(default_factory=dict)
    """Where it has joints, as a list of times and offsets for each."""
    withstands_severity: Severity = 0
    """Greatest severity of a reaction that does not interrupt it."""
    interrupted_by: tuple[Annotated[Name, NameOf("kinds")], ...] = ()
    """Kinds of wounds that interrupt it if they take points."""
    cancels: dict[Annotated[Name, NameOf("attacks")], Window] = Field(default_factory=dict)
    """Windows in which a press of another attack ends this one and begins that."""
    follow_ups: dict[Annotated[Name, NameOf("attacks")], FollowUp] = Field(default_factory=dict)
    """The same, but a press is kept for the window from the start of this attack on."""
    invulnerable: tuple[Window, ...] = ()
    """Windows in which only fatal hazards touch its owner."""
    hurtboxes_off: dict[Name, tuple[Window, ...]] = Field(default_factory=dict)
    """Windows in which hurtboxes of its owner are off."""
    shot: Shot | None = None
    """The projectile that it releases."""
    ray: Ray | None = None
    """What it hits at once along a straight line, instead of a shot."""
    strike: Strike | None = None
    """What it strikes with, instead of a shot or a ray."""
    grab: Grab | None = None
    """That its strike holds whom it hits."""
    throw: Truth = False
    """True if it releases whom its owner holds and hits that body, whatever guards it; instead of a shot or a strike.
    """
    blast: Annotated[Name, NameOf("blasts")] | None = None
    """Blast that its shots and rays set off."""
    blast_on: tuple[BlastOn, ...] = ("hit", "end")
    """Where the blast explodes: where a shot hits, and where it otherwise ends."""
    blast_at: Place | None = None
    """Place where the blast explodes at its releases, without a shot."""
