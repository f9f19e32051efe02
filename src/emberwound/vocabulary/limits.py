"""How much a rulebook, a record or a question may ask for: one place for what would hang a program or fill memory."""

from __future__ import annotations

LARGEST = 1e9
"""No number of a rulebook is larger: beyond it, sums with small lengths lose their digits."""

SMALLEST = 1e-6
"""No number of a rulebook that must be above 0 is smaller."""

MOST_LEVELS = 20
"""Tables and lists of a rulebook within each other."""

MOST_BOOK_BYTES = 64 << 20
"""A rulebook's file is not read any further."""

MOST_SCHEDULE_PARTS = 10**9
"""Times of a schedule fall on parts of a second as small as this at the least, so that they stay whole numbers."""

MOST_PROBLEMS_TOLD = 40
"""A message lists so many problems and counts the rest; `RulebookError.problems` has all of them."""

MOST_NAMES_TOLD = 40
"""A message lists so many known names and counts the rest."""

MOST_PATH_POINTS = 1_000

MOST_POSED_SECONDS = 60
"""An attack with poses: a row of joints is kept for each of its ticks."""

SHORTEST_REHIT = 0.001
"""Seconds: what hits again sooner is one hit."""

MOST_PREVIEW_SECONDS = 60
"""A ragdoll is looked at no longer, however long its corpse lies."""

MOST_RECORDED_TICKS = 10_000_000
"""A record of more is refused: running it again would take minutes, or for ever when its end was edited."""

LONGEST_SEAT_NAME = 200

MOST_BLOCK_BYTES = 4 << 30
"""A bout whose state would take more memory is refused."""


def listed(names: list[str]) -> str:
    """Names in one line, the first of many and how many more there are."""
    rest = len(names) - MOST_NAMES_TOLD
    shown = ", ".join(names[:MOST_NAMES_TOLD]) or "none"
    return f"{shown} and {rest} more" if rest > 0 else shown


SHOT_LAYER = "shot"
"""The layer of shots that can be destroyed."""
