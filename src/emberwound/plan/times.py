"""Times of a rulebook as ticks, exactly."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING

from emberwound.vocabulary.clock import ticks_in

if TYPE_CHECKING:
    from emberwound.vocabulary.clock import Duration


class Times:
    """Reads durations at a frame rate and a tick rate."""

    def __init__(self, frame_rate: int, tick_rate: int) -> None:
        self.frame_rate = frame_rate
        self.tick_rate = tick_rate

    def seconds(self, *parts: Duration) -> Fraction:
        """The sum of the parts in seconds."""
        return sum((part.seconds(self.frame_rate) for part in parts), Fraction(0))

    def exact_ticks(self, *parts: Duration) -> Fraction:
        """The sum of the parts in ticks, not rounded."""
        return self.seconds(*parts) * self.tick_rate

    def ticks(self, *parts: Duration) -> int:
        """The ticks of the sum of the parts, rounded up once."""
        return ticks_in(self.seconds(*parts), self.tick_rate)
