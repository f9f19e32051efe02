"""Part of a bout's time, for figures that show no more, and what their titles say of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.plan import compile_plan
from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.chronicle import Chronicle
    from emberwound.plan import Plan


Window = tuple[float, float]
"""From which second to which."""


def window_of(chronicle: Chronicle, between: Window | None) -> Window:
    """The time that is asked for, or all of the bout's. Raises OutputError for what is not within it."""
    whole = max(chronicle.seconds, 1.0 / chronicle.header.tick_rate)
    start, end = between or (0.0, whole)
    if not 0.0 <= start < end <= whole:
        raise OutputError(f"give two times of the bout, from 0 to {chronicle.seconds:g} s; got {start:g} to {end:g}")
    return start, end


def states_of(chronicle: Chronicle, ticks: Sequence[int] | None, *, minimum: int = 0) -> list[int]:
    """The places among a bout's states of those after so many ticks, from `minimum` on.

    Raises OutputError for others; a chronicle that begins late has no states before its first tick.
    """
    first, last = max(chronicle.header.first_tick, minimum), chronicle.end.ticks
    wrong = next((tick for tick in ticks or () if not first <= tick <= last), None)
    if wrong is not None:
        raise OutputError(f"tick {wrong}: give ticks of the bout, from {first} to {last}")
    return [tick - chronicle.header.first_tick for tick in ticks or ()]


def plan_of(chronicle: Chronicle) -> Plan:
    """The plan that a chronicle's bout ran by."""
    return compile_plan(chronicle.rules, chronicle.header.arena, chronicle.header.tick_rate)


def title_of(chronicle: Chronicle) -> str:
    """What a chronicle's figures are headed with."""
    book = chronicle.rules.book
    table = book.bouts.get(chronicle.header.script or "")
    name = (table.title if table else "") or chronicle.header.script or f"a bout in {chronicle.header.arena}"
    return f"{book.settings.title}: {name}" if book.settings.title else name
