"""What all events say."""

from __future__ import annotations

import msgspec

Point = tuple[float, ...]

ALL_OVER = "all over"
"""The hurtbox that the wounds of afflictions name."""


class Event(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all events say."""

    seq: int
    tick: int
    time: float
    seat: str | None = None
    by: str | None = None
    cause: int | None = None
