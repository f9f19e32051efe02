"""The tables of what is heard and seen of a bout."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from emberwound.rulebook.fields import Allowed, LastingTime, Name, NotNegative, Share, Time, whole
from emberwound.rulebook.models.tables import Table, seconds

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
    medium: Annotated[Literal["sound", "flash", "shake"], Allowed('allowed: "sound", "flash" or "shake"')] = "sound"
    audience: Annotated[
        Literal["everyone", "victim", "striker"], Allowed('allowed: "everyone", "victim" or "striker"')
    ] = "everyone"
    overlap: Annotated[Literal["together", "restart", "wait"], Allowed('allowed: "together", "restart" or "wait"')] = (
        "together"
    )
    max_at_once: Together | None = None
    seconds: LastingTime = Field(default_factory=lambda: seconds("0.3"))
    gap: Time = Field(default_factory=lambda: seconds("0"))
    min_points: NotNegative | None = None
    below: Share | None = None
    attacks: tuple[Name, ...] = ()
    kinds: tuple[Name, ...] = ()
    pitch: Hertz = 440
    pitch_spread: Share = 0.0
    strength: Share = 1.0
