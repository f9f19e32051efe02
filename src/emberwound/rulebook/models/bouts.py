"""The tables of scripted bouts."""

from typing import Annotated

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    ArenaPoint,
    LastingTime,
    Name,
    NameOf,
    NotNegative,
    Number,
    Positive,
    Text,
    Time,
    Truth,
)
from emberwound.rulebook.models.tables import EntryFacing, Facing, Held, Lives, Seed, Table, seconds


class SeatEntry(Table):
    """`[bouts.X.seats.Y]`: who sits on a seat, where it enters, and how many lives it has."""

    fighter: Annotated[Name, NameOf("fighters")]
    """Which fighter sits there."""
    at: Annotated[Name | ArenaPoint, Allowed("allowed: the name of an entry of the bout's arena, or a point of it")]
    """Where it enters: an entry of the arena, or a point."""
    facing: EntryFacing | None = None
    """Which way it faces; without it as the entry says."""
    lives: Lives = 1
    """How many lives it has."""
    team: Name | None = None
    """Its team; without one it is a team of its own."""
    time: Time = Field(default_factory=lambda: seconds("0"))
    """When it enters, in seconds of the bout."""
    until: LastingTime | None = None
    """When it leaves."""
    pools: dict[Name, Positive] = Field(default_factory=dict)
    """Maximum of pools by name, in place of its fighter's, over all its lives; what they start with grows alike."""
    damage_dealt: NotNegative = 1.0
    """Factor on the damage of all that it hits with."""
    speed_share: NotNegative = 1.0
    """Factor on the walking speed."""


Move = Annotated[
    Number | ArenaPoint,
    Allowed("allowed: from -1 to 1 from the side, else [x, y] no longer than 1: shares of the fighter's speed"),
]


class TimedOrder(Table):
    """`[[bouts.X.orders]]`: what a seat is ordered at a time of the bout, once, or `every` so often `until` a time."""

    time: Time
    """When, in seconds of the bout: the order is given to tick ceil(time × tick_rate)."""
    seat: Name
    """To which seat."""
    every: LastingTime | None = None
    """Seconds after which a press is repeated, at exact times."""
    until: Time | None = None
    """When the repeating, a `hold`, a `move` or a `patrol` ends."""
    move: Move | None = None
    """Walk that way, as shares of the fighter's speed, until it is replaced."""
    aim: ArenaPoint | None = None
    """Aim that way; a direction in the arena, of any length."""
    facing: Facing | None = None
    """Face that way; "foe" keeps turning to the nearest living body of another team."""
    press: Name | None = None
    """Begin an attack, once."""
    hold: Held | None = None
    """Hold attacks, a posture or "guard" until the next `hold`; [] lets all go."""
    patrol: Name | None = None
    """Walk along a path of the arena."""
    place: ArenaPoint | None = None
    """Be moved to a point, swept on the way."""
    teleport: Truth = False
    """With `place`: be moved there at once, without a sweep."""


class BoutTable(Table):
    """`[bouts.X]`: a scripted bout."""

    title: Text = ""
    """Shown above the figure."""
    arena: Annotated[Name, NameOf("arenas")]
    """Where."""
    seconds: LastingTime
    """How long."""
    seed: Seed = 0
    """Seed of its random draws."""
    seats: dict[Name, SeatEntry]
    """Who takes part; they enter in this order."""
    orders: tuple[TimedOrder, ...] = ()
    """What seats are ordered, and when; orders of one tick keep the file's order."""
