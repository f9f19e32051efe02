"""The tables of scripted bouts."""

from __future__ import annotations

from typing import Annotated

from emberwound.rulebook.fields import Allowed, ArenaPoint, LastingTime, Name, NameOf, Number, Text, Time, Truth
from emberwound.rulebook.models.tables import EntryFacing, Facing, Held, Lives, Seed, Table


class SeatEntry(Table):
    """`[bouts.X.seats.Y]`: who sits on a seat, where it enters, and how many lives it has."""

    fighter: Annotated[Name, NameOf("fighters")]
    at: Annotated[Name | ArenaPoint, Allowed("allowed: the name of an entry of the bout's arena, or a point of it")]
    facing: EntryFacing | None = None
    lives: Lives = 1
    team: Name | None = None


Move = Annotated[
    Number | ArenaPoint,
    Allowed("allowed: from -1 to 1 from the side, else [x, y] no longer than 1: shares of the fighter's speed"),
]


class TimedOrder(Table):
    """`[[bouts.X.orders]]`: what a seat is told at a time of the bout, once, or `every` so often `until` a time."""

    time: Time
    seat: Name
    every: LastingTime | None = None
    until: Time | None = None
    move: Move | None = None
    aim: ArenaPoint | None = None
    facing: Facing | None = None
    press: Name | None = None
    hold: Held | None = None
    patrol: Name | None = None
    place: ArenaPoint | None = None
    teleport: Truth = False


class BoutTable(Table):
    """`[bouts.X]`: a scripted bout."""

    title: Text = ""
    arena: Annotated[Name, NameOf("arenas")]
    seconds: LastingTime
    seed: Seed = 0
    seats: dict[Name, SeatEntry]
    orders: tuple[TimedOrder, ...] = ()
