"""The tables of arenas: walls, entries, paths, hazards."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    ArenaPoint,
    Degrees,
    LastingTime,
    Name,
    NameOf,
    NotNegative,
    Number,
    Positive,
    RehitTime,
    Text,
    Time,
    Truth,
)
from emberwound.rulebook.models.hits import HitOptions
from emberwound.rulebook.models.tables import EntryFacing, Few, Rank, Table, seconds


class Bounds(Table):
    """`[arenas.X.bounds]`: two corners; what leaves them is gone."""

    low: ArenaPoint
    high: ArenaPoint


class Entry(Table):
    """`[arenas.X.entries.Y]`: where a fighter may enter, and which way it then looks."""

    at: ArenaPoint
    facing: EntryFacing = "right"


class PropEntry(Table):
    """`[arenas.X.props.Y]`: where a prop stands when a bout begins."""

    prop: Annotated[Name, NameOf("props")]
    at: ArenaPoint
    facing: EntryFacing = "right"


class Wall(Table):
    """`[arenas.X.walls.Y]`: a box round its middle, turned in the plane (in 3d: about the upright)."""

    at: ArenaPoint
    size: ArenaPoint
    turn_deg: Degrees = 0.0


class Path(Table):
    """`[arenas.X.paths.Y]`: points to walk along, back and forth, or round when closed."""

    points: tuple[ArenaPoint, ...]
    closed: Truth = False


class Schedule(Table):
    """`[arenas.X.hazards.Y.schedule]`: on for a while, off for a while, and so on from `first` on."""

    first: Time = Field(default_factory=lambda: seconds("0"))
    on: LastingTime
    off: LastingTime


class Area(Table):
    """A part of an arena that the living touch.

    Round `at`: a sphere of a radius, a capsule with another end `to`, a box of a `size`; or the half-space that
    lies in a direction from `at`. It is touched by what comes within its `margin`.
    """

    at: ArenaPoint
    to: ArenaPoint | None = None
    radius: Positive | None = None
    size: ArenaPoint | None = None
    turn_deg: Degrees = 0.0
    half_space: ArenaPoint | None = None
    margin: NotNegative = 0.0


class Checkpoint(Area):
    """`[arenas.X.checkpoints.Y]`: where seats that touched it respawn."""

    order: Rank
    respawn_at: ArenaPoint
    facing: EntryFacing = "right"
    refill: tuple[Name, ...] = ()
    whole_team: Truth = False


class Pickup(Area):
    """`[arenas.X.pickups.Y]`: what the first to touch it takes: points of pools, what is counted, and lives."""

    gives: dict[Name, Positive] = Field(default_factory=dict)
    counts: dict[Annotated[Name, NameOf("counters")], Number] = Field(default_factory=dict)
    lives: Few = 0
    returns_after: LastingTime | None = None


class Hazard(Area, HitOptions):
    """`[arenas.X.hazards.Y]`: a part of the arena that wounds or kills the living in it."""

    rehit_every: RehitTime = Field(default_factory=lambda: seconds("0.5"))
    fatal: Truth = False
    schedule: Schedule | None = None
    path: Name | None = None
    speed: Positive | None = None


class Arena(Table):
    """`[arenas.X]`: the place a bout is held in."""

    space: Annotated[Literal["side", "top", "3d"], Allowed('allowed: "side", "top" or "3d"')] = "side"
    gravity: NotNegative = 9.81
    floor: Number | None = None
    body_contact: Annotated[Literal["none", "separate"], Allowed('allowed: "none" or "separate"')] = "none"
    bounds: Bounds
    entries: dict[Name, Entry] = Field(default_factory=dict)
    walls: dict[Name, Wall] = Field(default_factory=dict)
    paths: dict[Name, Path] = Field(default_factory=dict)
    on_elimination: Annotated[
        Literal["go_on", "end", "restart", "last_team"], Allowed('allowed: "go_on", "end", "restart" or "last_team"')
    ] = "go_on"
    elimination_team: Name | None = None
    elimination_seconds: Time = Field(default_factory=lambda: seconds("0"))
    elimination_message: Text = "{seat} is out"
    respawn_entry: Name | None = None
    checkpoint_rule: Annotated[Literal["furthest", "latest"], Allowed('allowed: "furthest" or "latest"')] = "furthest"
    hazards: dict[Name, Hazard] = Field(default_factory=dict)
    checkpoints: dict[Name, Checkpoint] = Field(default_factory=dict)
    pickups: dict[Name, Pickup] = Field(default_factory=dict)
    props: dict[Name, PropEntry] = Field(default_factory=dict)
