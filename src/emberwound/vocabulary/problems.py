"""One thing wrong in a rulebook, said so that it can be mended at once."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Problem:
    """Where a rulebook is wrong, what was seen there, what is allowed, and the nearest known name.

    `finding` is the name by which `emberwound check` knows it, of those it has a name for.
    """

    file: str
    key: str
    seen: str
    allowed: str
    nearest: str | None = None
    finding: str | None = None

    def __str__(self) -> str:
        guess = f" (did you mean '{self.nearest}'?)" if self.nearest else ""
        place = "".join(f"{each}: " for each in (self.file, self.key) if each)
        return f"{place}{self.seen}{guess}; {self.allowed}"
