"""Why hazards did not wound a seat: they were off, not ready again, or it never came to them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Cause
from emberwound.study.inquest.areas import near_areas
from emberwound.study.inquest.settings_of import lines_of

if TYPE_CHECKING:
    from collections.abc import Collection

    from emberwound.study.inquest.areas import AreaApproach
    from emberwound.study.inquest.case import Case

NEAR = 3.0
"""Heights of a body: what it never came nearer to is not told of."""


def about_hazards(case: Case, seat: str, start: int, wounded: Collection[str]) -> list[Cause]:
    """Why the hazards of the arena that a seat came near to did not wound it from a tick on, the nearest first."""
    arena = case.book.arenas[case.chronicle.header.arena]
    places = {name: number for number, name in enumerate(arena.hazards) if name not in wounded}
    if not places:
        return []
    tall = case.book.fighters[case.fighter_of(seat, start)].body.height
    found = near_areas(case, seat, places, "hazard", start)
    return [_why(case, seat, each) for each in found if (each.cause.gap or 0.0) <= NEAR * tall]


def _why(case: Case, seat: str, near: AreaApproach) -> Cause:
    """Why one hazard did not wound it."""
    name = case.chronicle.header.arena
    hazard, key = case.book.arenas[name].hazards[near.name], f"arenas.{name}.hazards.{near.name}"
    figures = {"time": near.cause.time, "tick": near.cause.tick, "gap": near.cause.gap, "place": near.cause.place}
    if near.cause.gap:
        fatal = ("fatal = true",) if hazard.fatal else ()
        set_by = (*lines_of(case, f"{key}.at"), *fatal)
        return Cause(name="out-of-reach", told=near.cause.told, seat=seat, set_by=set_by, **figures)  # type: ignore[arg-type]
    when = f"{seat} was in the hazard {near.name} at {near.cause.time:.3f} s"
    if hazard.schedule is not None:
        first = hazard.schedule.first.written()
        told = f"{when}, while it was off: it first comes on at {first} s, for {hazard.schedule.on.written()} s"
        keys = lines_of(case, f"{key}.schedule.first", f"{key}.schedule.on", f"{key}.schedule.off")
        return Cause(name="switched-off", told=told, seat=seat, set_by=keys, **figures)  # type: ignore[arg-type]
    fighter = case.fighter_or_none(seat, near.cause.tick or 0)
    keys = lines_of(case, f"{key}.layers", f"fighters.{fighter}.respawn_protection", f"{key}.rehit_every")
    told = f"{when}, and was not wounded: its layers, a protection, or its time until it wounds again"
    return Cause(name="passed-over:hazard", told=told, seat=seat, set_by=keys, **figures)  # type: ignore[arg-type]
