"""The tables of the bars over heads."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, Colour, Name, NotNegative, Positive, Share, Text, Time, Truth
from emberwound.rulebook.models.tables import Table, seconds

if TYPE_CHECKING:
    Size = tuple[float, float]
    Symbols = tuple[str, str]
else:
    Size = Annotated[tuple[Positive, Positive], Allowed("allowed: [width, height], finite numbers above 0")]
    Symbols = Annotated[tuple[Text, Text], Allowed("allowed: two texts: a full pip, and an empty one")]


class Shade(Table):
    """A colour and a pattern from a share of the pool on."""

    above: Share = 0.0
    colour: Colour
    pattern: Annotated[
        Literal["solid", "striped", "dotted", "crossed"],
        Allowed('allowed: "solid", "striped", "dotted" or "crossed"'),
    ] = "solid"


class Trail(Table):
    """What was lost of late: it stays for `delay`, then drains by halves."""

    delay: Time = Field(default_factory=lambda: seconds("0.5"))
    half_life: Time = Field(default_factory=lambda: seconds("0.15"))


class Bar(Table):
    """`[bars.X]`: how a pool of a fighter is shown over its head."""

    pool: Name
    style: Annotated[
        Literal["bar", "pips", "number", "ring"], Allowed('allowed: "bar", "pips", "number" or "ring"')
    ] = "bar"
    size: Size | None = None
    rise: NotNegative | None = None
    gap: NotNegative | None = None
    outline: NotNegative | None = None
    outline_colour: Colour = "ink"
    step: Positive = 1.0
    symbols: Symbols = ("●", "○")
    segment: Positive | None = None
    show: Annotated[
        Literal["always", "not_full", "after_change"], Allowed('allowed: "always", "not_full" or "after_change"')
    ] = "always"
    show_seconds: Time = Field(default_factory=lambda: seconds("2"))
    half_life: Time = Field(default_factory=lambda: seconds("0.07"))
    half_life_up: Time | None = None
    trail: Trail | None = None
    shades: tuple[Shade, ...] = (Shade(colour="ember"),)
    ramp: Truth = False
    text: Text = ""
