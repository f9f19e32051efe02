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
    """Types of event that trigger it, as they are named in a chronicle: "wounded", "died", "picked_up"."""
    medium: Annotated[Literal["sound", "flash", "shake"], Allowed('allowed: "sound", "flash" or "shake"')] = "sound"
    """What it is."""
    audience: Annotated[
        Literal["everyone", "victim", "striker"], Allowed('allowed: "everyone", "victim" or "striker"')
    ] = "everyone"
    """Whom it is for: all, whom the event befell, or who did it; then each seat has its own."""
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
