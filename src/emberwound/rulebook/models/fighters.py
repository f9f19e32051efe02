"""The tables of fighters: pools, hurtboxes, postures, guards, reactions."""

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    Arc,
    BelowShare,
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
    """The most points it holds."""
    start: NotNegative | None = None
    """Points that a new life has; without it `max`."""
    vital: Truth = False
    """Whether the fighter dies at 0; exactly one pool is."""
    share: NotNegative = 1.0
    """Points it loses for each point that reaches it; 0 passes it over."""
    overflow: Truth = True
    """Whether the points it could not take go on to the next pool of the route; else they are lost."""
    refill: NotNegative = 0.0
    """Points it regains a second."""
    delay: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds after its last loss before it refills."""


class Body(Table):
    """`[fighters.X.body]`: the room a fighter takes, standing on its position."""

    radius: Positive
    """Radius of the room it takes."""
    height: Positive
    """Height of the room it takes, standing on its position."""


class Hurtbox(PartShape):
    """`[fighters.X.hurtboxes.Y]`: a shape that can be hit, in all postures or in those named alone."""

    multiplier: NotNegative = 1.0
    """Factor on the damage of hits on it."""
    push_share: NotNegative = 1.0
    """Factor on the knockback of hits on it."""
    route: tuple[Name, ...] | None = None
    """Pools that a wound goes through here, in order; without it the fighter's."""
    layer: Name = "body"
    """Layer it is on; attacks may be limited to some."""
    priority: Priority = 0
    """Of hurtboxes touched at one instant the highest counts, then the older body, then file order."""
    postures: tuple[Name, ...] | None = None
    """Postures in which alone it is on: "standing", "airborne", or the fighter's own; without it all."""


class Posture(Table):
    """`[fighters.X.postures.Y]`: how a fighter holds itself when ordered to: joints elsewhere, and its pace."""

    joints: dict[Name, Offset] = Field(default_factory=dict)
    """Where joints are meanwhile."""
    speed_share: NotNegative = 1.0
    """Factor on the walking speed."""


Reflects = Annotated[Literal["never", "perfect", "always"], Allowed('allowed: "never", "perfect" or "always"')]


class Guard(Table):
    """`[fighters.X.guard]`: that a fighter can hold its guard, from where it stops what, and what that costs."""

    arc_deg: Arc = 180.0
    """Angle from which it stops hits, half to each side of where its owner faces."""
    damage_share: Share = 0.0
    """Share of the points that pass."""
    push_share: NotNegative = 1.0
    """Factor on the knockback of guarded hits."""
    classes: tuple[GuardClass, ...] = ("ordinary", "low", "high")
    """Guard classes that it stops."""
    drain: NotNegative = 0.0
    """Points of `pool` that each point it stops costs."""
    pool: Name | None = None
    """Pool that it drains; when that is empty the guard breaks."""
    perfect: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds from its start in which nothing passes and nothing is drained."""
    reflects: Annotated[Literal["never", "perfect", "always"], Allowed('allowed: "never", "perfect" or "always"')] = (
        "never"
    )
    """Whether it sends back the shots that it stops, or those of its perfect moment; they are its owner's then."""
    broken: Time = Field(default_factory=lambda: seconds("1"))
    """Seconds that a broken guard stays down."""


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
    """Its name, as events have it."""
    guarded: Truth | None = None
    """That a guard took the hit, or that none did."""
    breaks: Truth | None = None
    """That the hit broke the guard, or did not."""
    sides: tuple[Side, ...] | None = Field(default=None, alias="from")
    """Sides the hit comes from, by quadrants, ties to the front; "above" from over 60 degrees."""
    hurtboxes: tuple[Name, ...] | None = None
    """Hurtboxes that are hit."""
    kinds: tuple[Annotated[Name, NameOf("kinds")], ...] | None = None
    """Kinds of the wound."""
    damage: NotNegative = 0.0
    """The least points lost."""
    push: NotNegative = 0.0
    """The least speed of the knockback."""
    airborne: Truth | None = None
    """That the victim is in the air, or that it is not."""
    parried: Truth = False
    """Fits its own strike that meets a guard's perfect moment, and no hit on itself."""
    dying: Truth = False
    """Fits lethal hits: the animation of the death, named by `Died`, and for its seconds the corpse's `reaction`."""
    variants: tuple[Name, ...] | None = None
    """Names of animations that are taken in turns, over all lives of a seat; without it its name."""
    seconds: LastingTime
    """How long it lasts."""
    severity: Severity = 1
    """A running reaction gives way to one as severe or more; an attack that withstands as much is not interrupted."""
    locks: tuple[Lock, ...] = ("move", "attack", "guard", "turn")
    """What it keeps its fighter from."""
    blend_in: Time = Field(default_factory=lambda: seconds("0.05"))
    """Seconds in which it grows to full strength, for whoever draws it."""
    blend_out: Time = Field(default_factory=lambda: seconds("0.1"))
    """Seconds in which it fades, for whoever draws it."""
    part: Name = "all"
    """Part of the body that it moves, for whoever draws it."""


class StaggerResistance(Table):
    """`[fighters.X.stagger_resistance]`: points of damage taken without a reaction, and how they come back."""

    points: Positive
    """Points of damage taken without a reaction."""
    refill: NotNegative = 0.0
    """Points that come back a second."""
    delay: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds after the last hit before they come back."""


class FighterStage(Table):
    """`[[fighters.X.stages]]`: what changes for the rest of a life once a pool is low, such as of a boss."""

    name: Name
    """Its name, as events have it."""
    below: BelowShare
    """It begins with the tick after the pool holds less than this share of its maximum."""
    pool: Name | None = None
    """Which pool; without it the vital one."""
    attacks: tuple[Annotated[Name, NameOf("attacks")], ...] | None = None
    """Attacks that it may press or hold from then on; without it as before."""
    damage_dealt: NotNegative = 1.0
    """Factor on the damage of all that it hits with."""
    speed_share: NotNegative = 1.0
    """Factor on the walking speed."""


class Ragdoll(Table):
    """`[fighters.X.ragdoll]`: the points and links that a corpse falls and slides as."""

    points: dict[Name, Place]
    """2 to 64 balls that the corpse is made of: offsets or joints."""
    links: tuple[tuple[Name, Name], ...]
    """Pairs of points that keep their distance; all points must hang together."""
    radius: Positive
    """Radius of every point."""
    stretch: Share = 0.03
    """Share of its length by which a link may be longer or shorter."""
    decay: Share = 0.5
    """Share of the lethal knockback that each link passes on."""


class Physique(Table):
    """What fighters and props have alike: the room they take, how they are knocked back, and where they can be hit."""

    body: Body
    """The room it takes."""
    gravity_share: NotNegative = 1.0
    """Share of the arena's gravity that it feels; what feels none stands wherever it is."""
    weight: Positive = 1.0
    """Pushes are divided by it."""
    drag: NotNegative = 0.0
    """Share of its velocity lost a second in the air, after a knockback."""
    slide_deceleration: Positive | None = None
    """Speed lost each second when it slides; without it 20/3 of its height, 12 for a height of 1.8."""
    restitution: Share = 0.0
    """What a bounce returns: the floor this share of all its speed, a wall of the speed into it."""
    hurtboxes: dict[Name, Hurtbox]
    """Shapes that can be hit."""

    @property
    def steps_over(self) -> float:
        """The height that it steps up and down as it walks."""
        return 0.0

    @property
    def slows_by(self) -> float:
        """The speed that it loses in each second in which it slides; by itself 20/3 of its height, 12 for 1.8."""
        return self.body.height * 20.0 / 3.0 if self.slide_deceleration is None else self.slide_deceleration


class Prop(Physique):
    """`[props.X]`: a body without health, such as a crate: it can be knocked back, and no more."""


class Fighter(Physique):
    """`[fighters.X]`: one sort of body, what it can do and what it can bear."""

    speed: NotNegative = 0.0
    """How fast it walks, lengths a second; without it, it cannot walk."""
    step_height: NotNegative | None = None
    """How high a step it walks up and down, a fifth of its height without it; slopes it walks up to 45 degrees."""
    pools: dict[Name, Pool]
    """Points it has, such as health, shield or stamina."""
    route: tuple[Name, ...] | None = None
    """Pools that a wound goes through, in order; without it the vital one."""
    joints: dict[Name, Offset] = Field(default_factory=dict)
    """Offsets with a name, which attacks and postures may move."""
    attacks: tuple[Annotated[Name, NameOf("attacks")], ...] = ()
    """Attacks it may press or hold; of several held the first goes."""
    stages: tuple[FighterStage, ...] = ()
    """What changes as a pool runs low: each begins once a life, and the last one that fits counts."""
    guard: Guard | None = None
    """That it can hold a guard."""
    postures: dict[Name, Posture] = Field(default_factory=dict)
    """Ways to hold itself, which orders may `hold`; it has "standing" and "airborne" besides."""
    reactions: tuple[Reaction, ...] = ()
    """How it reacts to hits: the first row that fits counts."""
    stagger_resistance: StaggerResistance | None = None
    """Points of damage taken without a reaction."""
    ragdoll: Ragdoll | None = None
    """What its corpse falls as; without it the corpse stays upright."""
    death_blast: Annotated[Name, NameOf("blasts")] | None = None
    """Blast that its death sets off, on the next tick."""
    bars: tuple[Annotated[Name, NameOf("bars")], ...] = ()
    """Bars over its head, the lowest first."""
    labels: tuple[Name, ...] = ()
    """Words that attacks may be stronger against."""
    damage_taken: dict[Name, NotNegative] = Field(default_factory=dict)
    """Factor on the damage of a kind; 0 is immune."""
    flat_reduction: NotNegative | dict[Name, NotNegative] = 0.0
    """Points off each wound, or points by kind."""
    min_damage: NotNegative = 0.0
    """Points that a flat reduction leaves at the least."""
    corpse_seconds: Time = Field(default_factory=lambda: seconds("2"))
    """How long its corpse lies."""
    respawn_protection: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds after a respawn in which only what is fatal touches it."""
    respawn_seconds: Time = Field(default_factory=lambda: seconds("3"))
    """Seconds from its death to its next life."""

    @property
    def steps_over(self) -> float:
        """The height that it steps up and down as it walks; by itself a fifth of its height, 0.36 for 1.8."""
        return 0.2 * self.body.height if self.step_height is None else self.step_height

    @property
    def all_attacks(self) -> tuple[str, ...]:
        """The attacks that it may use at first, then those of its stages."""
        of_stages = (each for stage in self.stages for each in stage.attacks or ())
        return tuple(dict.fromkeys((*self.attacks, *of_stages)))
