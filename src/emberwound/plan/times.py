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

    def rehit_ticks(self, every: Duration | str | None) -> float:
        """Ticks from one hit on a victim to the next; 0 where only one counts, or leaving."""
        return 0.0 if every is None or isinstance(every, str) else float(self.exact_ticks(every))

    def leave_ticks(self, every: Duration | str | None, over: Duration) -> float:
        """Ticks that a contact must be over to count again, at least one; 0 where leaving does not matter."""
        return max(float(self.exact_ticks(over)), 1.0) if isinstance(every, str) else 0.0
