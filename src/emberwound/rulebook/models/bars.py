"""The tables of the bars over heads."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, Colour, Name, NameOf, NotNegative, Positive, Share, Text, Time, Truth
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
    """Share of the pool from which on it is shown."""
    colour: Colour
    """Its colour."""
    pattern: Annotated[
        Literal["solid", "striped", "dotted", "crossed"],
        Allowed('allowed: "solid", "striped", "dotted" or "crossed"'),
    ] = "solid"
    """Its pattern, so that it reads without colour."""


class Trail(Table):
    """What was lost of late: it stays for `delay`, then drains by halves."""

    delay: Time = Field(default_factory=lambda: seconds("0.5"))
    """Seconds that a loss stays visible."""
    half_life: Time = Field(default_factory=lambda: seconds("0.15"))
    """Seconds in which half of it drains then."""


class Bar(Table):
    """`[bars.X]`: how a pool of a fighter, its lives, a cooldown or a charge are shown over its head."""

    shows: Annotated[
        Literal["pool", "lives", "cooldown", "charge"], Allowed('allowed: "pool", "lives", "cooldown" or "charge"')
    ] = "pool"
    """What it shows: a pool, the lives left of those entered with, how far an attack has cooled down or is charged."""
    pool: Name | None = None
    """A pool that every fighter with this bar has; needed for a pool."""
    attack: Annotated[Name, NameOf("attacks")] | None = None
    """An attack that every fighter with this bar has; needed for a cooldown and a charge."""
    style: Annotated[
        Literal["bar", "pips", "number", "ring"], Allowed('allowed: "bar", "pips", "number" or "ring"')
    ] = "bar"
    """A bar, a row of symbols, a number, or a ring."""
    size: Size | None = None
    """Width and height, without it [1, 0.12]; these lengths and the next are for a fighter 1.8 tall, and grow with its
    height.
    """
    rise: NotNegative | None = None
    """Height of the lowest bar above the head, without it 0.15."""
    gap: NotNegative | None = None
    """Distance from the bar below, without it 0.06."""
    outline: NotNegative | None = None
    """Width of its outline, without it 0.02."""
    outline_colour: Colour = "ink"
    """Colour of its outline."""
    step: Positive = 1.0
    """Points that each pip stands for."""
    symbols: Symbols = ("●", "○")
    """A full pip and an empty one."""
    segment: Positive | None = None
    """Points of each part that the bar is divided into; of pips and segments no more than 200."""
    show: Annotated[
        Literal["always", "not_full", "after_change"], Allowed('allowed: "always", "not_full" or "after_change"')
    ] = "always"
    """When it is visible: always, while the pool is not full, or for `show_seconds` after a change."""
    show_seconds: Time = Field(default_factory=lambda: seconds("2"))
    """Seconds that it is visible, with "after_change"."""
    half_life: Time = Field(default_factory=lambda: seconds("0.07"))
    """Seconds in which the shown value covers half of the way to the true one."""
    half_life_up: Time | None = None
    """The same upwards; without it `half_life`."""
    trail: Trail | None = None
    """That a recent loss stays visible, then drains."""
    shades: tuple[Shade, ...] = (Shade(colour="ember"),)
    """Its colours by the share that is left, the lowest first."""
    ramp: Truth = False
    """Whether the colour goes evenly from one shade to the next."""
    text: Text = ""
    """What it says, with {value}, {max} and {share}; a number says "{value:g} / {max:g}" by itself."""
