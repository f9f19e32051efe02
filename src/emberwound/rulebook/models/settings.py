"""The tables of what holds for a whole book."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, LastingTime, Name, NameOf, NotNegative, Text, Time
from emberwound.rulebook.models.tables import Count, Table, TickRate, seconds


class Combo(Table):
    """`[settings.combo]`: shares of one seat's wounds on one victim less than `seconds` apart; the last stays."""

    seconds: LastingTime
    """Two wounds of one seat on one victim are of one combo while less than this lies between them."""
    shares: tuple[NotNegative, ...]
    """Share that the first, second, ... wound counts; the last counts for all after it. Hazards and afflictions take
    no part.
    """


class Settings(Table):
    """`[settings]`: what holds for the whole book."""

    title: Text = ""
    """Shown above stories and figures."""
    units: Text = "units"
    """Label of lengths in figures."""
    tick_rate: TickRate = 60
    """Ticks a second."""
    frame_rate: TickRate = 60
    """Frames a second that times such as "12f" count in."""
    buffer: Time = Field(default_factory=lambda: seconds("0.1"))
    """Seconds that a press made too early is kept."""
    trade_window: Time = Field(default_factory=lambda: seconds("1/30"))
    """Seconds that a strike still counts after the wound that interrupts or kills its owner."""
    longest_hit_stop: Time = Field(default_factory=lambda: seconds("0.5"))
    """No body is stopped for longer, however many hits add to it."""
    max_seats: Count = 16
    """Seats that may enter a bout."""
    max_shots: Count = 256
    """Shots that may fly at once."""
    credit_seconds: Time = Field(default_factory=lambda: seconds("5"))
    """Seconds that a hit is remembered: the seat with the last hit before a death is credited with the kill."""
    combo: Combo | None = None
    """That wounds in quick succession count less or more."""
    rounding: Annotated[Literal["none", "whole"], Allowed('allowed: "none" or "whole"')] = "none"
    """With "whole" the points of each wound are rounded, half away from zero, so two wounds of 1.5 are 4; healing is
    not.
    """
    steps: tuple[Name, ...] = ()
    """Own steps of the ledger, in order; a host registers them with `Rulebook.load(path, steps=...)`."""
    board: tuple[Annotated[Name, NameOf("counters")], ...] = ()
    """Counters that seats are ordered by, the first first."""


class Kind(Table):
    """`[kinds.X]`: a kind of wound."""

    description: Text = ""
    """What it is."""
