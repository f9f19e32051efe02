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
    medium: str
    starts: float
    ends: float
    pitch: float
    strength: float
    cuts: int | None = None
    position: Point | None = None


class CueSkipped(Event, frozen=True, kw_only=True, tag="cue_skipped"):
    """The event `cause` would have given a cue, but it was too much, or too soon."""

    cue: str
    reason: Reason
