"""What is to be heard and seen."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.reasons import Reason


class Cue(Event, frozen=True, kw_only=True, tag="cue"):
    """Something to be heard or seen, given by the event `cause`; `seat` is the only one it is for, None for all.

    It lasts from `starts` to `ends`, in seconds of the bout, and starts late when it waits for another of its name.
    `pitch` is in hertz; `cuts` is the `seq` of the cue that it cuts short.
    """

    cue: str
    """Which cue of the book."""
    medium: str
    """`sound`, `flash` or `shake`."""
    starts: float
    """When it begins, in seconds of the bout."""
    ends: float
    """When it ends, in seconds of the bout."""
    pitch: float
    """Pitch in hertz."""
    strength: float
    """How strong it is, from 0 to 1."""
    cuts: int | None = None
    """`seq` of the cue that it cuts off."""
    position: Point | None = None
    """Where it comes from."""


class CueSkipped(Event, frozen=True, kw_only=True, tag="cue_skipped"):
    """The event `cause` would have given a cue, but it was too much, or too soon."""

    cue: str
    """Which cue of the book."""
    reason: Reason
    """`cue_full` or `cue_too_soon`."""
