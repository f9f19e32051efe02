"""The tables of what holds for a whole book: settings, kinds, counters, cues, bars."""

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import (
    Allowed,
    Colour,
    LastingTime,
    Name,
    NameOf,
    NotNegative,
    Number,
    Positive,
    Share,
    Text,
    Time,
    Truth,
    whole,
)
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


class Counter(Table):
    """`[counters.X]`: a number each seat has, and what changes it."""

    start: Number = 0.0
    """Where it starts."""
    per_second: Number = 0.0
    """Added for each second that the seat has a living body."""
    kill: Number = 0.0
    """Added for a death of another team that it is credited with."""
    assist: Number = 0.0
    """Added for a death of another team that it helped in."""
    death: Number = 0.0
    """Added for a death of its own."""
    on_death: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "keep"
    """Whether it goes back to its start at a death of the seat."""
    on_restart: Annotated[Literal["keep", "reset"], Allowed('allowed: "keep" or "reset"')] = "reset"
    """Whether it goes back to its start when the bout restarts."""
    minimum: Number | None = None
    """It never falls below this."""
    best: Annotated[Literal["highest", "lowest"], Allowed('allowed: "highest" or "lowest"')] = "highest"
    """Which value leads the board."""


if TYPE_CHECKING:
    Together = int
    Hertz = int
else:
    Together = whole(1, 16)
    Hertz = whole(20, 20_000)


class Cue(Table):
    """`[cues.X]`: a sound, a flash or a shake that events of the types `on` give.

    `min_points`, or a fall of the vital pool to the share `below`, are what a wound must come to; `attacks` and
    `kinds` which ones count. `max_at_once` sound, and wait, at once. `pitch_spread` is the share by which
    chance varies it.
    """

    on: Annotated[tuple[Name, ...], Field(min_length=1), Allowed("allowed: a list of types of event")]
    """Types of event that trigger it, as they are named in a chronicle: "wounded", "died", "picked_up"."""
    medium: Annotated[Literal["sound", "flash", "shake"], Allowed('allowed: "sound", "flash" or "shake"')] = "sound"
    """What it is."""
    audience: Annotated[
        Literal["everyone", "victim", "striker"], Allowed('allowed: "everyone", "victim" or "striker"')
    ] = "everyone"
    """Whom it is for: everyone, whom the event happened to, or who did it; then each seat has its own."""
    overlap: Annotated[Literal["together", "restart", "wait"], Allowed('allowed: "together", "restart" or "wait"')] = (
        "together"
    )
    """What a second one does: begin beside the running one, cut it off, or wait until it is over."""
    max_at_once: Together | None = None
    """How many run and wait at once, more are skipped; without it 4, with "restart" 1."""
    seconds: LastingTime = Field(default_factory=lambda: seconds("0.3"))
    """How long it lasts."""
    gap: Time = Field(default_factory=lambda: seconds("0"))
    """Least time from the start of one to the next; earlier ones are skipped, or wait."""
    pool: Name | None = None
    """Of wounds and healing: the pool that must lose or gain points, and whose points count; without it all pools."""
    min_points: NotNegative | None = None
    """Of wounds and healing: the least points that trigger it."""
    below: Share | None = None
    """Of wounds: triggered when the `pool`, without one the vital pool, falls from above this share to it or below."""
    attacks: tuple[Name, ...] = ()
    """Attacks, blasts, afflictions and hazards whose events trigger it; none named: all."""
    kinds: tuple[Name, ...] = ()
    """Kinds that trigger it; none named: all."""
    pitch: Hertz = 440
    """Pitch in hertz."""
    pitch_spread: Share = 0.0
    """Share by which a random draw raises or lowers the pitch."""
    strength: Share = 1.0
    """How strong it is."""


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
