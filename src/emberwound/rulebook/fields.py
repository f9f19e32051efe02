"""The kinds of value a rulebook may hold, each with the words that say what is allowed."""

import re
from dataclasses import dataclass
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field, PlainSerializer, PlainValidator, WithJsonSchema

from emberwound.vocabulary.clock import LONGEST_SECONDS, Duration, exact
from emberwound.vocabulary.limits import LARGEST, SHORTEST_REHIT, SMALLEST

COLOURS = {
    "ember": "#c2410c",
    "amber": "#b45309",
    "pearl": "#7a5c00",
    "moss": "#3f7d3a",
    "glass": "#1b6f8a",
    "dusk": "#5b3f8c",
    "rose": "#a3315e",
    "ink": "#26313b",
    "stone": "#7d8790",
    "sand": "#d9d2c3",
    "paper": "#fbfaf6",
}
"""The colours that a rulebook may name."""

LEAST = 1e-100
"""What is nearer to 0 is 0: powers of it would be."""

LONGEST_NAME = 60
NAME = r"^[A-Za-z][A-Za-z0-9_-]*$"
"""What a name is made of."""

HEX = re.compile("#[0-9a-fA-F]{6}")


@dataclass(frozen=True, slots=True)
class NameOf:
    """Marks a text as the name of an entry in a section of the rulebook."""

    section: str


@dataclass(frozen=True, slots=True)
class Allowed:
    """Marks a field with the words that say what is allowed there."""

    text: str


def _float_of_decimal(value: object) -> object:
    if not isinstance(value, Decimal):
        return value
    number = float(value)
    return 0.0 if abs(number) < LEAST else number


def _known_colour(value: str) -> str:
    if value not in COLOURS and not HEX.fullmatch(value):
        raise ValueError("no such colour")
    return value


def _duration(value: object) -> Duration:
    return Duration.parse(value)


LEAVE = "leave"
"""In place of a time until the next hit: not before the contact was over."""


def _rehit(value: object) -> Duration | str:
    if value == LEAVE:
        return LEAVE
    duration = _lasting(value)
    if not duration.in_frames and duration.amount < exact(SHORTEST_REHIT):
        raise ValueError("too short")
    return duration


def _lasting(value: object) -> Duration:
    duration = Duration.parse(value)
    if duration.amount == 0:
        raise ValueError("no time at all")
    return duration


def _time_schema(*others: dict[str, object], **least: float) -> WithJsonSchema:
    """What JSON Schema can say of a time, or of `others`; `least` is the bound below of one in seconds."""
    number = {"type": "number", **least, "maximum": LONGEST_SECONDS}
    text = {"type": "string", "pattern": r"^[0-9.]+([eE][+-]?[0-9]+)?(/[0-9.]+)?f?$"}
    return WithJsonSchema({"anyOf": [number, text, *others]})


_Finite = Annotated[float, BeforeValidator(_float_of_decimal), Field(strict=True, allow_inf_nan=False)]

Number = Annotated[
    _Finite,
    Field(ge=-LARGEST, le=LARGEST),
    Allowed("allowed: a finite number between -1e9 and 1e9"),
]
NotNegative = Annotated[
    _Finite,
    Field(ge=0, le=LARGEST),
    Allowed("allowed: a finite number from 0 to 1e9"),
]
Positive = Annotated[
    _Finite,
    Field(ge=SMALLEST, le=LARGEST),
    Allowed("allowed: a finite number from 1e-6 to 1e9"),
]
Offset = Annotated[
    tuple[Number, Number] | tuple[Number, Number, Number],
    Allowed("allowed: [ahead, up] or [ahead, up, left], finite numbers between -1e9 and 1e9"),
]
ArenaPoint = Annotated[
    tuple[Number, Number] | tuple[Number, Number, Number],
    Allowed("allowed: [x, z] from the side, [x, y] from the top, [x, y, z] in 3d; numbers between -1e9 and 1e9"),
]
Share = Annotated[
    _Finite,
    Field(ge=0, le=1),
    Allowed("allowed: a share from 0 to 1"),
]
TurnDegrees = Annotated[
    _Finite,
    Field(ge=SMALLEST, le=36_000),
    Allowed("allowed: degrees a second from 1e-6 to 36000"),
]
BelowShare = Annotated[
    _Finite,
    Field(ge=SMALLEST, le=1),
    Allowed("allowed: a share from 1e-6 to 1"),
]
Degrees = Annotated[
    _Finite,
    Field(ge=-360, le=360),
    Allowed("allowed: degrees from -360 to 360"),
]
Arc = Annotated[
    _Finite,
    Field(gt=0, le=360),
    Allowed("allowed: degrees above 0, up to 360"),
]
Damage = Annotated[
    _Finite,
    Field(ge=0, le=LARGEST),
    Allowed("allowed: a finite number from 0 to 1e9; healing has a key of its own, heal"),
]
Spread = Annotated[
    _Finite,
    Field(ge=0, le=180),
    Allowed("allowed: degrees from 0 to 180"),
]
Lift = Annotated[
    _Finite,
    Field(ge=-90, le=90),
    Allowed("allowed: degrees from -90 (straight down) to 90 (straight up)"),
]
Time = Annotated[
    Duration,
    PlainValidator(_duration),
    PlainSerializer(Duration.written),
    _time_schema(minimum=0),
    Allowed('allowed: seconds (0.2), a fraction of a second ("1/30") or frames ("12f"), from 0 to a million'),
]
LastingTime = Annotated[
    Duration,
    PlainValidator(_lasting),
    PlainSerializer(Duration.written),
    _time_schema(exclusiveMinimum=0),
    Allowed('allowed: seconds (0.2), a fraction of a second ("1/30") or frames ("12f"), above 0, up to a million'),
]
RehitTime = Annotated[
    Duration | Literal["leave"],
    PlainValidator(_rehit),
    PlainSerializer(lambda value: value if value == LEAVE else value.written()),
    _time_schema({"const": LEAVE}, minimum=SHORTEST_REHIT),
    Allowed(
        'allowed: "leave", or seconds (0.2), a fraction of a second ("1/30") or frames ("12f"), from 0.001 to a million'
    ),
]
Name = Annotated[
    str,
    Field(strict=True, pattern=NAME, max_length=LONGEST_NAME),
    Allowed("allowed: a letter, then letters, digits, '_' and '-', at most 60 in all"),
]
Text = Annotated[str, Field(strict=True, max_length=200), Allowed("allowed: a text of at most 200 letters")]
Colour = Annotated[
    str,
    AfterValidator(_known_colour),
    Allowed(f'allowed: "#rrggbb", or one of {", ".join(COLOURS)}'),
]
Truth = Annotated[bool, Field(strict=True), Allowed("allowed: true or false")]


def whole(low: int, high: int) -> Any:
    """A whole number from `low` to `high`."""
    return Annotated[int, Field(strict=True, ge=low, le=high), Allowed(f"allowed: a whole number from {low} to {high}")]
