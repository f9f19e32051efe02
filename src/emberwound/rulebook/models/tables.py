"""What all tables of a rulebook share, and the kinds of value that several of them hold."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field

from emberwound.rulebook.fields import Allowed, Degrees, LastingTime, Lift, Name, NotNegative, Offset, Positive, whole
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    TickRate = int
    Count = int
    Few = int
    Several = int
    Seed = int
    Priority = int
    Severity = int
    Rank = int
else:
    TickRate = whole(1, 1000)
    Count = whole(1, 100_000)
    Few = whole(0, 64)
    Several = whole(1, 64)
    Seed = whole(0, 2**63 - 1)
    Priority = whole(-1000, 1000)
    Severity = whole(0, 100)
    Rank = whole(1, 1000)

Facing = Annotated[
    Literal["left", "right", "foe"] | Degrees,
    Allowed('allowed: "left", "right", "foe" (the nearest one), or degrees in an arena seen from the top or in 3d'),
]
EntryFacing = Annotated[
    Literal["left", "right"] | Degrees,
    Allowed('allowed: "left" or "right", or degrees in an arena seen from the top or in 3d'),
]
Place = Annotated[Name | Offset, Allowed("allowed: the name of a joint, or an offset [ahead, up] or [ahead, up, left]")]
Lives = Annotated[Count | Literal["endless"], Allowed('allowed: a whole number from 1 up to 100000, or "endless"')]
Held = Annotated[
    tuple[Name, ...],
    BeforeValidator(lambda held: (held,) if isinstance(held, str) else held),
    Allowed('allowed: an attack, a posture, "guard", or a list of them'),
]


def seconds(text: str) -> Duration:
    """A duration as a default."""
    return Duration.parse(text)


class Table(BaseModel):
    """What all tables share: frozen, and closed to unknown keys."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True, arbitrary_types_allowed=True)


GuardClass = Annotated[
    Literal["ordinary", "low", "high", "unguardable"], Allowed('allowed: "ordinary", "low", "high" or "unguardable"')
]


class Push(Table):
    """How a hit knocks its victim back: with a speed and a lift, or so that it lands at a distance.

    `apex` is how high it rises on the way there, `seconds` how long it is in the air; without either it slides.
    """

    heading: Annotated[
        Literal["away", "facing", "travel", "radial"], Allowed('allowed: "away", "facing", "travel" or "radial"')
    ] = "away"
    mode: Annotated[Literal["set", "add"], Allowed('allowed: "set" or "add"')] = "set"
    speed: NotNegative = 0.0
    lift_deg: Lift = 0.0
    per_point: NotNegative = 0.0
    distance: Positive | None = None
    apex: Positive | None = None
    seconds: LastingTime | None = None


class PartShape(Table):
    """A shape on a fighter.

    A capsule from one place to another, a sphere without `to`, or a box of a `size` round its place `from`.
    """

    from_: Place = Field(alias="from")
    to: Place | None = None
    radius: Positive | None = None
    size: Offset | None = None
    turn_deg: Degrees = 0.0
