"""The tables of a rulebook as validated, frozen models. Nothing unknown is accepted."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from emberwound.rulebook.fields import (
    Allowed,
    Arc,
    Damage,
    Degrees,
    LastingTime,
    Lift,
    Name,
    NameOf,
    NotNegative,
    Number,
    Offset,
    PlanePoint,
    Positive,
    Share,
    Spread,
    Text,
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
else:
    TickRate = whole(1, 1000)
    Count = whole(1, 100_000)
    Few = whole(0, 64)
    Several = whole(1, 64)
    Seed = whole(0, 2**63 - 1)
    Priority = whole(-1000, 1000)

Facing = Annotated[
    Literal["left", "right", "foe"] | Degrees,
    Allowed('allowed: "left", "right", "foe" (the nearest one), or degrees in an arena seen from the top or in full'),
]
EntryFacing = Annotated[
    Literal["left", "right"] | Degrees,
    Allowed('allowed: "left" or "right", or degrees in an arena seen from the top or in full'),
]
Place = Annotated[Name | Offset, Allowed("allowed: the name of a joint, or an offset [ahead, up] or [ahead, up, left]")]
Held = Annotated[tuple[Name, ...], Allowed('allowed: a list of attacks and "guard"')]


def _seconds(text: str) -> Duration:
    return Duration.parse(text)


class Table(BaseModel):
    """What all tables share: frozen, and closed to unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, arbitrary_types_allowed=True)


class Combo(Table):
    """`[settings.combo]`: shares of one seat's wounds on one victim less than `seconds` apart; the last stays."""

    seconds: LastingTime
    shares: tuple[NotNegative, ...]


class Settings(Table):
    """`[settings]`: what holds for the whole book."""

    title: Text = ""
    units: Text = "units"
    tick_rate: TickRate = 60
    frame_rate: TickRate = 60
    buffer: Time = Field(default_factory=lambda: _seconds("0.1"))
    max_seats: Count = 16
    max_shots: Count = 256
    combo: Combo | None = None
    rounding: Annotated[Literal["none", "whole"], Allowed('allowed: "none" or "whole"')] = "none"
    steps: tuple[Name, ...] = ()


class Kind(Table):
    """`[kinds.X]`: a kind of wound."""

    about: Text = ""


class Pool(Table):
    """`[fighters.X.pools.Y]`: points a fighter has; at zero of the vital pool it dies."""

    max: Positive
    start: NotNegative | None = None
    vital: Truth = False
    share: NotNegative = 1.0
    spill: Truth = True
    refill: NotNegative = 0.0
    delay: Time = Field(default_factory=lambda: _seconds("0"))


class Body(Table):
    """`[fighters.X.body]`: the room a fighter takes, standing on its position."""

    radius: Positive
    height: Positive


class Hurtbox(Table):
    """`[fighters.X.hurtboxes.Y]`: a shape that can be hit.

    A capsule from one place to another, a sphere without `to`, or a box of a `size` round its place `from`.
    """

    from_: Place = Field(alias="from")
    to: Place | None = None
    radius: Positive | None = None
    size: Offset | None = None
    turn_deg: Degrees = 0.0
    multiplier: NotNegative = 1.0
    route: tuple[Name, ...] | None = None
    layer: Name = "body"
    priority: Priority = 0


GuardClass = Annotated[
    Literal["ordinary", "low", "high", "unguardable"], Allowed('allowed: "ordinary", "low", "high" or "unguardable"')
]


class Guard(Table):
    """`[fighters.X.guard]`: that a fighter can hold its guard, from where it stops what, and what that costs."""

    arc_deg: Arc = 180.0
    damage_share: Share = 0.0
    classes: tuple[GuardClass, ...] = ("ordinary", "low", "high")
    drain: NotNegative = 0.0
    pool: Name | None = None
    perfect: Time = Field(default_factory=lambda: _seconds("0"))
    broken: Time = Field(default_factory=lambda: _seconds("1"))


class Fighter(Table):
    """`[fighters.X]`: one sort of body, what it can do and what it can bear."""

    body: Body
    speed: NotNegative = 0.0
    gravity_share: NotNegative = 1.0
    pools: dict[Name, Pool]
    route: tuple[Name, ...] | None = None
    joints: dict[Name, Offset] = Field(default_factory=dict)
    hurtboxes: dict[Name, Hurtbox]
    attacks: tuple[Annotated[Name, NameOf("attacks")], ...] = ()
    guard: Guard | None = None
    labels: tuple[Name, ...] = ()
    takes: dict[Name, NotNegative] = Field(default_factory=dict)
    soak: NotNegative | dict[Name, NotNegative] = 0.0
    min_damage: NotNegative = 0.0
    corpse_seconds: Time = Field(default_factory=lambda: _seconds("2"))
    respawn_seconds: Time = Field(default_factory=lambda: _seconds("3"))


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
    """`[attacks.X.shot.bounce]`: the share of its speed a shot keeps at a bounce, and how many times it bounces."""

    keep: Share
    times: Several


class Shot(Launch):
    """`[attacks.X.shot]`: what an attack throws."""

    radius: NotNegative
    speed: Positive
    velocity_share: NotNegative = 0.0
    gravity_share: NotNegative = 1.0
    drag: NotNegative = 0.0
    life: LastingTime = Field(default_factory=lambda: _seconds("10"))
    range: Positive | None = None
    on_wall: Annotated[Literal["end", "bounce", "pass"], Allowed('allowed: "end", "bounce" or "pass"')] = "end"
    bounce: Bounce | None = None


class Ray(Launch):
    """`[attacks.X.ray]`: what an attack hits at once, along a straight line."""

    range: Positive
    on_wall: Annotated[Literal["end", "pass"], Allowed('allowed: "end" or "pass"')] = "end"


class Charge(Table):
    """`[attacks.X.charge]`: holding makes the attack stronger, up to these factors after `seconds`."""

    seconds: LastingTime
    damage: NotNegative = 1.0
    speed: NotNegative = 1.0


class Lunge(Table):
    """`[attacks.X.lunge]`: movement that an attack gives its owner; without `seconds` a kick that gravity bends."""

    at: Time = Field(default_factory=lambda: _seconds("0"))
    seconds: Time = Field(default_factory=lambda: _seconds("0"))
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
    most: Several = 1
    cured_by: tuple[Annotated[Name, NameOf("kinds")], ...] = ()
    speed_share: NotNegative = 1.0
    takes_share: NotNegative = 1.0
    guardless: Truth = False


class Attack(Table):
    """`[attacks.X]`: what a fighter does when it is told to press or hold X."""

    kind: Annotated[Name, NameOf("kinds")] | None = None
    damage: Damage = 0.0
    heal: NotNegative = 0.0
    revive: Truth = False
    falloff: Falloff | None = None
    against: dict[Name, NotNegative] = Field(default_factory=dict)
    guard_class: GuardClass = "ordinary"
    afflicts: tuple[Annotated[Name, NameOf("afflictions")], ...] = ()
    windup: Time = Field(default_factory=lambda: _seconds("0"))
    releases: tuple[Time, ...] = Field(default_factory=lambda: (_seconds("0"),))
    recovery: Time = Field(default_factory=lambda: _seconds("0"))
    cooldown: Time | None = None
    rate: Positive | None = None
    while_: tuple[State, ...] = Field(default=("moving", "airborne"), alias="while")
    cost: dict[Name, Positive] = Field(default_factory=dict)
    charge: Charge | None = None
    lunge: Lunge | None = None
    layers: tuple[Name, ...] | None = None
    own_team: Truth = False
    owner: Truth = False
    poses: dict[Name, tuple[PoseKey, ...]] = Field(default_factory=dict)
    shot: Shot | None = None
    ray: Ray | None = None


class Bounds(Table):
    """`[arenas.X.bounds]`: two corners; what leaves them is gone."""

    low: PlanePoint
    high: PlanePoint


class Entry(Table):
    """`[arenas.X.entries.Y]`: where a fighter may enter, and which way it then looks."""

    at: PlanePoint
    facing: EntryFacing = "right"


class Wall(Table):
    """`[arenas.X.walls.Y]`: a box round its middle, turned in the plane (in full: about the upright)."""

    at: PlanePoint
    size: PlanePoint
    turn_deg: Degrees = 0.0


class Path(Table):
    """`[arenas.X.paths.Y]`: points to walk along, back and forth, or round when closed."""

    points: tuple[PlanePoint, ...]
    closed: Truth = False


class Arena(Table):
    """`[arenas.X]`: the place a bout is held in."""

    plane: Annotated[Literal["side", "top", "full"], Allowed('allowed: "side", "top" or "full"')] = "side"
    gravity: NotNegative = 9.81
    floor: Number | None = None
    bounds: Bounds
    entries: dict[Name, Entry] = Field(default_factory=dict)
    walls: dict[Name, Wall] = Field(default_factory=dict)
    paths: dict[Name, Path] = Field(default_factory=dict)


class SeatEntry(Table):
    """`[bouts.X.seats.Y]`: who sits on a seat, where it enters, and how many lives it has."""

    fighter: Annotated[Name, NameOf("fighters")]
    at: Annotated[Name | PlanePoint, Allowed("allowed: the name of an entry of the bout's arena, or a point of it")]
    facing: EntryFacing | None = None
    lives: Count = 1
    team: Name | None = None


Move = Annotated[
    Number | PlanePoint,
    Allowed("allowed: from -1 to 1 from the side, else [x, y] no longer than 1: shares of the fighter's speed"),
]


class TimedOrder(Table):
    """`[[bouts.X.orders]]`: what a seat is told at a time of the bout, once, or `every` so often `until` a time."""

    time: Time
    seat: Name
    every: LastingTime | None = None
    until: Time | None = None
    move: Move | None = None
    aim: PlanePoint | None = None
    facing: Facing | None = None
    press: Name | None = None
    hold: Held | None = None
    patrol: Name | None = None
    place: PlanePoint | None = None
    teleport: Truth = False


class BoutTable(Table):
    """`[bouts.X]`: a scripted bout."""

    title: Text = ""
    arena: Annotated[Name, NameOf("arenas")]
    seconds: LastingTime
    seed: Seed = 0
    seats: dict[Name, SeatEntry]
    orders: tuple[TimedOrder, ...] = ()


class Book(Table):
    """A whole rulebook."""

    settings: Settings = Field(default_factory=Settings)
    kinds: dict[Name, Kind] = Field(default_factory=dict)
    fighters: dict[Name, Fighter] = Field(default_factory=dict)
    afflictions: dict[Name, Affliction] = Field(default_factory=dict)
    attacks: dict[Name, Attack] = Field(default_factory=dict)
    arenas: dict[Name, Arena] = Field(default_factory=dict)
    bouts: dict[Name, BoutTable] = Field(default_factory=dict)
