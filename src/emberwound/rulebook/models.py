"""The tables of a rulebook as validated, frozen models. Nothing unknown is accepted."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from emberwound.rulebook.fields import (
    Allowed,
    LastingTime,
    Name,
    NameOf,
    NotNegative,
    Number,
    Offset,
    PlanePoint,
    Positive,
    Text,
    Time,
    Truth,
    whole,
)
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    Rate = int
    Count = int
    Seed = int
else:
    Rate = whole(1, 1000)
    Count = whole(1, 100_000)
    Seed = whole(0, 2**63 - 1)

Facing = Annotated[Literal["left", "right"], Allowed('allowed: "left" or "right"')]


def _seconds(text: str) -> Duration:
    return Duration.parse(text)


class Table(BaseModel):
    """What all tables share: frozen, and closed to unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, arbitrary_types_allowed=True)


class Settings(Table):
    """`[settings]`: what holds for the whole book."""

    title: Text = ""
    units: Text = "units"
    tick_rate: Rate = 60
    frame_rate: Rate = 60
    buffer: Time = Field(default_factory=lambda: _seconds("0.1"))
    max_seats: Count = 16
    max_shots: Count = 256


class Kind(Table):
    """`[kinds.X]`: a kind of wound."""

    about: Text = ""


class Pool(Table):
    """`[fighters.X.pools.Y]`: points a fighter has; at zero of the vital pool it dies."""

    max: Positive
    start: NotNegative | None = None
    vital: Truth = False


class Body(Table):
    """`[fighters.X.body]`: the room a fighter takes, standing on its position."""

    radius: Positive
    height: Positive


class Hurtbox(Table):
    """`[fighters.X.hurtboxes.Y]`: a capsule that can be hit, from one offset to another; a sphere without `to`."""

    from_: Offset = Field(alias="from")
    to: Offset | None = None
    radius: Positive
    multiplier: NotNegative = 1.0


class Fighter(Table):
    """`[fighters.X]`: one sort of body, what it can do and what it can bear."""

    body: Body
    pools: dict[Name, Pool]
    route: tuple[Name, ...] | None = None
    hurtboxes: dict[Name, Hurtbox]
    attacks: tuple[Annotated[Name, NameOf("attacks")], ...] = ()
    corpse_seconds: Time = Field(default_factory=lambda: _seconds("2"))
    respawn_seconds: Time = Field(default_factory=lambda: _seconds("3"))


class Shot(Table):
    """`[attacks.X.shot]`: what an attack throws."""

    radius: NotNegative
    speed: Positive
    gravity_share: NotNegative = 1.0
    life: LastingTime = Field(default_factory=lambda: _seconds("10"))
    muzzle: Offset


class Attack(Table):
    """`[attacks.X]`: what a fighter does when it is told to press X."""

    kind: Annotated[Name, NameOf("kinds")]
    damage: NotNegative
    windup: Time = Field(default_factory=lambda: _seconds("0"))
    recovery: Time = Field(default_factory=lambda: _seconds("0"))
    cooldown: Time = Field(default_factory=lambda: _seconds("0"))
    shot: Shot


class Bounds(Table):
    """`[arenas.X.bounds]`: two corners; what leaves them is gone."""

    low: PlanePoint
    high: PlanePoint


class Entry(Table):
    """`[arenas.X.entries.Y]`: where a fighter may enter, and which way it then looks."""

    at: PlanePoint
    facing: Facing = "right"


class Arena(Table):
    """`[arenas.X]`: the place a bout is held in."""

    plane: Annotated[Literal["side"], Allowed('allowed: "side"')] = "side"
    gravity: NotNegative = 9.81
    floor: Number | None = None
    bounds: Bounds
    entries: dict[Name, Entry] = Field(default_factory=dict)


class SeatEntry(Table):
    """`[bouts.X.seats.Y]`: who sits on a seat, where it enters, and how many lives it has."""

    fighter: Annotated[Name, NameOf("fighters")]
    at: Annotated[Name | PlanePoint, Allowed("allowed: the name of an entry of the bout's arena, or a point [x, z]")]
    facing: Facing | None = None
    lives: Count = 1


class TimedOrder(Table):
    """`[[bouts.X.orders]]`: what a seat is told at a time of the bout."""

    time: Time
    seat: Name
    aim: PlanePoint | None = None
    facing: Facing | None = None
    press: Name | None = None
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
    attacks: dict[Name, Attack] = Field(default_factory=dict)
    arenas: dict[Name, Arena] = Field(default_factory=dict)
    bouts: dict[Name, BoutTable] = Field(default_factory=dict)
