"""The tables of arenas: walls, entries, paths, hazards."""

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    ArenaPoint,
    Colour,
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
from emberwound.rulebook.models.tables import EntryFacing, Few, HitOptions, Rank, Table, seconds


class Bounds(Table):
    """`[arenas.X.bounds]`: two corners; what leaves them is gone."""

    low: ArenaPoint
    """The corner with the lowest coordinates."""
    high: ArenaPoint
    """The corner with the highest coordinates."""


class Entry(Table):
    """`[arenas.X.entries.Y]`: where a fighter may enter, and which way it then looks."""

    at: ArenaPoint
    """Where a body stands."""
    facing: EntryFacing = "right"
    """Which way it faces; degrees are from +x."""


class PropEntry(Table):
    """`[arenas.X.props.Y]`: where a prop stands when a bout begins."""

    prop: Annotated[Name, NameOf("props")]
    """Which prop."""
    at: ArenaPoint
    """Where it stands."""
    facing: EntryFacing = "right"
    """Which way it faces; degrees are from +x."""


class Wall(Table):
    """`[arenas.X.walls.Y]`: a box round its middle, turned in the plane (in 3d: about the upright)."""

    at: ArenaPoint
    """Its middle."""
    size: ArenaPoint
    """Its size along the axes, before the turn."""
    turn_deg: Degrees = 0.0
    """Degrees it is turned counterclockwise: from the side upwards from +x, else about the upright, from +x to +y."""


class Path(Table):
    """`[arenas.X.paths.Y]`: points to walk along, back and forth, or round when closed."""

    points: tuple[ArenaPoint, ...]
    """Points that it leads through."""
    closed: Truth = False
    """Whether it is walked round; else back and forth."""


class Schedule(Table):
    """`[arenas.X.hazards.Y.schedule]`: on for a while, off for a while, and so on from `first` on."""

    first: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds of the bout at which it first comes on."""
    on: LastingTime
    """Seconds that it is on, at exact times."""
    off: LastingTime
    """Seconds that it is off after that."""


class Area(Table):
    """A part of an arena that the living touch.

    Round `at`: a sphere of a radius, a capsule with another end `to`, a box of a `size`; or the half-space that
    lies in a direction from `at`. It is touched by what comes within its `margin`.
    """

    at: ArenaPoint
    """The middle of a sphere or box, one end of a capsule, or a place on the plane of a half-space."""
    to: ArenaPoint | None = None
    """The other end of a capsule."""
    radius: Positive | None = None
    """Radius of a sphere or capsule."""
    size: ArenaPoint | None = None
    """Size of a box, as of walls."""
    turn_deg: Degrees = 0.0
    """Degrees that a box is turned, as of walls."""
    half_space: ArenaPoint | None = None
    """A direction: all that lies that way from `at`, such as a tide line or a pit."""
    margin: NotNegative = 0.0
    """How far beyond its shape it reaches."""


class Checkpoint(Area):
    """`[arenas.X.checkpoints.Y]`: where seats that touched it respawn."""

    order: Rank
    """How far along it is, each its own."""
    respawn_at: ArenaPoint
    """Where a seat respawns."""
    facing: EntryFacing = "right"
    """Which way it then faces."""
    refill: tuple[Name, ...] = ()
    """Pools that are full when it is reached."""
    whole_team: Truth = False
    """Whether it counts for all of the team."""
    for_teams: tuple[Name, ...] = ()
    """Teams whose seats alone it is for; none named: all."""


class Pickup(Area):
    """`[arenas.X.pickups.Y]`: what the first to touch it takes: points of pools, what is counted, and lives."""

    gives: dict[Name, Positive] = Field(default_factory=dict)
    """Points of pools."""
    counts: dict[Annotated[Name, NameOf("counters")], Number] = Field(default_factory=dict)
    """Points of counters."""
    lives: Few = 0
    """Lives more."""
    returns_after: RehitTime | None = None
    """Seconds after which it is there again, from the exact time it was taken, for all who touch it at that instant;
    without it never; "leave": it stays, and gives once until it was left.
    """
    leave_seconds: LastingTime = Field(default_factory=lambda: seconds("0.1"))
    """With "leave": how long the contact must be over before it gives again."""
    for_teams: tuple[Name, ...] = ()
    """Teams whose seats alone it is for; none named: all."""


class Hazard(Area, HitOptions):
    """`[arenas.X.hazards.Y]`: a part of the arena that wounds or kills the living in it."""

    rehit_every: RehitTime = Field(default_factory=lambda: seconds("0.5"))
    """Seconds until it wounds the same victim again, from the exact time of the wound; "leave": once until left."""
    leave_seconds: LastingTime = Field(default_factory=lambda: seconds("0.1"))
    """With "leave": how long the contact must be over before it counts again."""
    fatal: Truth = False
    """That it kills at once instead, also through guards and invulnerability."""
    solid: Truth = False
    """Whether its box is a wall too, which wounds whom it stops: it reaches as far as hurtboxes lie within bodies."""
    schedule: Schedule | None = None
    """When it is on; without it always."""
    colour: Colour = "ember"
    """Its colour in pictures."""
    path: Name | None = None
    """A path of the arena that it is carried along, from the path's first point on."""
    speed: Positive | None = None
    """How fast it is carried, lengths a second."""


class Arena(Table):
    """`[arenas.X]`: the place a bout is held in."""

    space: Annotated[Literal["side", "top", "3d"], Allowed('allowed: "side", "top" or "3d"')] = "side"
    """How it is seen: from the side, from the top (no heights, no gravity), or in 3d."""
    gravity: NotNegative = 9.81
    """Downwards, lengths a second each second; must be given where no body is between 0.05 and 20 tall."""
    floor: Number | None = None
    """Height of the floor; without it there is none."""
    body_contact: Annotated[Literal["none", "separate"], Allowed('allowed: "none" or "separate"')] = "none"
    """With "separate" living bodies that overlap give way on the ground, the lighter more; half of an overlap is gone
    in 0.05 s.
    """
    bounds: Bounds
    """A shot that leaves them is gone; a body stops at them."""
    entries: dict[Name, Entry] = Field(default_factory=dict)
    """Where seats enter."""
    walls: dict[Name, Wall] = Field(default_factory=dict)
    """Boxes that stop bodies and shots, and strikes and blasts whose rules say so."""
    paths: dict[Name, Path] = Field(default_factory=dict)
    """Ways that seats patrol and hazards are carried along."""
    on_elimination: Annotated[
        Literal["go_on", "end", "restart", "last_team"], Allowed('allowed: "go_on", "end", "restart" or "last_team"')
    ] = "go_on"
    """What follows when a seat's last life is over; "last_team" ends the bout when one team is left."""
    elimination_team: Name | None = None
    """With "end" and "restart": the team whose seats must all be out; without it any seat."""
    elimination_seconds: Time = Field(default_factory=lambda: seconds("0"))
    """Seconds that the bout goes on after that, before it ends or restarts."""
    awaits_late_seats: Truth | None = None
    """Whether seats that the script still brings count as standing; without it only with "last_team"."""
    elimination_message: Text = "{seat} is out"
    """What `Eliminated` says; {seat}, {by}, {attack}, {arena} and {life} are filled in."""
    respawn_entry: Name | None = None
    """Entry at which a seat without a checkpoint respawns; without it where it entered."""
    checkpoint_rule: Annotated[Literal["furthest", "latest"], Allowed('allowed: "furthest" or "latest"')] = "furthest"
    """Which of several checkpoints counts."""
    hazards: dict[Name, Hazard] = Field(default_factory=dict)
    """Areas that wound the living that touch them."""
    checkpoints: dict[Name, Checkpoint] = Field(default_factory=dict)
    """Areas; seats that touched one respawn there."""
    pickups: dict[Name, Pickup] = Field(default_factory=dict)
    """Points, counters and lives for the first seat that touches one."""
    props: dict[Name, PropEntry] = Field(default_factory=dict)
    """Props that stand there from the start."""

    @property
    def all_walls(self) -> dict[str, Wall]:
        """The walls, and the hazards that are solid."""
        solid = {
            name: Wall(at=each.at, size=each.size, turn_deg=each.turn_deg)
            for name, each in self.hazards.items()
            if each.solid and each.size is not None
        }
        return {**self.walls, **solid}
