"""What all pictures of a chronicle begin with: its plan and its heading."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.plan import compile_plan

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle
    from emberwound.plan import Plan


def plan_of(chronicle: Chronicle) -> Plan:
    """The plan that a chronicle's bout ran by."""
    return compile_plan(chronicle.rules, chronicle.header.arena, chronicle.header.tick_rate)


def title_of(chronicle: Chronicle) -> str:
    """What a chronicle's figures are headed with."""
    book = chronicle.rules.book
    table = book.bouts.get(chronicle.header.script or "")
    name = (table.title if table else "") or chronicle.header.script or f"a bout in {chronicle.header.arena}"
    return f"{book.settings.title}: {name}" if book.settings.title else name
