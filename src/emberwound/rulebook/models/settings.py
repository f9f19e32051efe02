"""The tables of what holds for a whole book."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, LastingTime, Name, NameOf, NotNegative, Text, Time
from emberwound.rulebook.models.tables import Count, Table, TickRate, seconds


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
    buffer: Time = Field(default_factory=lambda: seconds("0.1"))
    trade_window: Time = Field(default_factory=lambda: seconds("1/30"))
    longest_hit_stop: Time = Field(default_factory=lambda: seconds("0.5"))
    max_seats: Count = 16
    max_shots: Count = 256
    credit_seconds: Time = Field(default_factory=lambda: seconds("5"))
    combo: Combo | None = None
    rounding: Annotated[Literal["none", "whole"], Allowed('allowed: "none" or "whole"')] = "none"
    steps: tuple[Name, ...] = ()
    board: tuple[Annotated[Name, NameOf("counters")], ...] = ()


class Kind(Table):
    """`[kinds.X]`: a kind of wound."""

    description: Text = ""
