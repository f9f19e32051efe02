"""What all events say."""

from __future__ import annotations

from typing import Any

import msgspec

Point = tuple[float, ...]

WHOLE_BODY = "whole body"
"""The hurtbox that the wounds of afflictions name."""

UNNUMBERED = -1
"""The `seq` and the `tick` of an event that no bout has emitted yet."""

TICK_START = -1.0
"""The time of an event that happens at the very start of its tick; the bout that emits it puts the seconds in."""


class Event(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all events say.

    `seq` counts the events of a bout, `tick` the tick, and `time` the exact seconds. `seat` is whom it
    happened to, `by` who did it, and `cause` the `seq` of the event that it follows from.
    """

    seq: int = UNNUMBERED
    """Number of the event in its bout."""
    tick: int = UNNUMBERED
    """Tick that it happened in."""
    time: float = TICK_START
    """Exact time, in seconds of the bout."""
    seat: str | None = None
    """Whom it happened to."""
    by: str | None = None
    """Who did it."""
    cause: int | None = None
    """`seq` of the event that it follows from."""

    def to_dict(self) -> dict[str, Any]:
        """All fields as plain values that JSON can hold, with the type of the event as `type`."""
        found: dict[str, Any] = msgspec.to_builtins(self)
        return found
