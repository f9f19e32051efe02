"""What all tables of a rulebook share, and what a hit does, whatever makes it."""

from typing import TYPE_CHECKING, Annotated, Literal, NoReturn

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from emberwound.rulebook.fields import (
    Allowed,
    ArenaPoint,
    Damage,
    Degrees,
    LastingTime,
    Lift,
    Name,
    NameOf,
    NotNegative,
    Offset,
    Positive,
    Time,
    Truth,
    whole,
)
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    TickRate = int
    Count = int
    Few = int
    Several = int
    Seed = int
    Priority = int
    Severity = int
    Rank = int
else:
    TickRate = whole(1, 1000)
    Count = whole(1, 100_000)
    Few = whole(0, 64)
    Several = whole(1, 64)
    Seed = whole(0, 2**63 - 1)
    Priority = whole(-1000, 1000)
    Severity = whole(0, 100)
    Rank = whole(1, 1000)

Facing = Annotated[
    Literal["left", "right", "foe"] | Degrees,
    Allowed('allowed: "left", "right", "foe" (the nearest one), or degrees in an arena seen from the top or in 3d'),
]
EntryFacing = Annotated[
    Literal["left", "right"] | Degrees,
    Allowed('allowed: "left" or "right", or degrees in an arena seen from the top or in 3d'),
]
Place = Annotated[Name | Offset, Allowed("allowed: the name of a joint, or an offset [ahead, up] or [ahead, up, left]")]
Lives = Annotated[Count | Literal["endless"], Allowed('allowed: a whole number from 1 up to 100000, or "endless"')]
Held = Annotated[
    tuple[Name, ...],
    BeforeValidator(
        lambda held: (held,) if isinstance(held, str) else held, json_schema_input_type=str | tuple[str, ...]
    ),
    Allowed('allowed: an attack, a posture, "guard", or a list of them'),
]


def seconds(text: str) -> Duration:
    """A duration as a default."""
    return Duration.parse(text)


class FrozenTable(dict[str, object]):
    """A table of tables or values by name that nobody can change; `dict(table)` is a copy to be changed."""

    def _refuse(self, *_given: object, **_named: object) -> NoReturn:
        raise TypeError("the tables of a rulebook are frozen; rules.edit({key: value}) gives a changed rulebook")

    __setitem__ = __delitem__ = __ior__ = clear = pop = popitem = setdefault = update = _refuse

    def __reduce__(self) -> tuple[type[dict[str, object]], tuple[dict[str, object]]]:
        return FrozenTable, (dict(self),)


class Table(BaseModel):
    """What all tables share: frozen, and closed to unknown keys."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        populate_by_name=True,
        arbitrary_types_allowed=True,
        defer_build=True,  # the schema of the whole book is built once, not one for each table in it too
    )

    def model_post_init(self, _context: object) -> None:
        """Freeze the tables within."""
        for name, value in self.__dict__.items():
            if type(value) is dict:
                self.__dict__[name] = FrozenTable(value)


GuardClass = Annotated[
    Literal["ordinary", "low", "high", "unguardable"], Allowed('allowed: "ordinary", "low", "high" or "unguardable"')
]


class Push(Table):
    """How a hit knocks its victim back: with a speed and a lift, or so that it lands at a distance.

    `apex` is how high it rises on the way there, `seconds` how long it is in the air; without either it slides.
    """

    heading: Annotated[
        Literal["away", "towards", "facing", "travel", "radial", "fixed"],
        Allowed('allowed: "away", "towards", "facing", "travel", "radial" or "fixed"'),
    ] = "away"
    """Which way: along the ground away from the source or towards it, where the attacker faces, where the shot travels,
    radially from the centre with its height, or in a fixed `direction`.
    """
    direction: ArenaPoint | None = None
    """Which way in the arena, of any length, with "fixed"."""
    mode: Annotated[Literal["set", "add"], Allowed('allowed: "set" or "add"')] = "set"
    """"set" clears the victim's own velocity first; "add" adds to it."""
    speed: NotNegative = 0.0
    """Speed given to a victim of weight 1, lengths a second."""
    lift_deg: Lift = 0.0
    """Degrees by which the push is raised from the ground; with "travel" and "radial" added to their own rise."""
    per_point: NotNegative = 0.0
    """Speed added for each point of damage."""
    distance: Positive | None = None
    """How far a victim of weight 1 lands, instead of a speed; without `apex` and `seconds`, where it comes to rest."""
    apex: Positive | None = None
    """How high it rises on the way to `distance`."""
    seconds: LastingTime | None = None
    """How long it is in the air on the way to `distance`; instead of `apex`."""


class PartShape(Table):
    """A shape on a fighter.

    A capsule from one place to another, a sphere without `to`, or a box of a `size` round its place `from`.
    """

    from_: Place = Field(alias="from")
    """One end of a capsule, or the middle of a sphere or box: the name of a joint, or an offset."""
    to: Place | None = None
    """The other end of a capsule."""
    radius: Positive | None = None
    """Radius of a capsule or sphere."""
    size: Offset | None = None
    """Size of a box, [ahead, up] or [ahead, up, left]; without `left` it is as wide as it is long where there is a
    left.
    """
    turn_deg: Degrees = 0.0
    """Degrees by which a box is tilted upwards from ahead; dropped in an arena seen from the top."""


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
