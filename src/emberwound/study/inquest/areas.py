"""How near a seat came to hazards, checkpoints and pickups, and why a hazard did not wound it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from emberwound.bout.views.parts import solid_in_space
from emberwound.study.inquest.answer import Cause
from emberwound.study.inquest.settings_of import lines_of
from emberwound.study.shapes import gap

if TYPE_CHECKING:
    from collections.abc import Collection

    from emberwound.study.inquest.case import Case


STRIDE = 8
"""The nearest approach to an area is sought every so many ticks first."""

GRAIN = 1e-9
"""Gaps that differ by less are one."""


class AreaApproach(NamedTuple):
    """How near a seat came to an area of the arena."""

    name: str
    cause: Cause


def near_areas(case: Case, seat: str, places: dict[str, int], what: str, start: int = 0) -> list[AreaApproach]:
    """How near a seat's living body came to areas from a tick on, the nearest first: roughly, then tick by tick."""
    ends = case.chronicle.end.ticks
    found: dict[str, AreaApproach] = {}
    rough = _scan(case, seat, places, what, (start + 1, ends), STRIDE)
    for name, near in rough.items():
        middle = near.cause.tick or 1
        span = (max(middle - STRIDE, start + 1), min(middle + STRIDE, ends))
        found |= _scan(case, seat, {name: places[name]}, what, span, 1)
    return sorted(found.values(), key=lambda each: each.cause.gap or 0.0)


def _scan(
    case: Case, seat: str, places: dict[str, int], what: str, span: tuple[int, int], stride: int
) -> dict[str, AreaApproach]:
    """The nearest approach to each area in the states of a span, every so many ticks."""
    best: dict[str, AreaApproach] = {}
    play = case.play_at(span[0] - 1)
    while places and play.bout.tick < span[1] and not play.bout.over:
        play.until(play.bout.tick + stride)
        view = play.bout.view()
        body = next((each for each in view.bodies if each.seat == seat), None)
        if body is None:
            continue
        parts = [solid_in_space(case.plan, each) for each in body.hurtboxes.values()]
        for name, number in places.items():
            area = solid_in_space(case.plan, view.areas[number].solid)
            far = max(min(gap(part, area) for part in parts), 0.0)
            if name in best and far >= (best[name].cause.gap or 0.0) - GRAIN:
                continue
            told = f"{seat} came within {case.length(far)} of the {what} {name} at {view.time:.3f} s"
            told = told if far else f"{seat} touched the {what} {name} at {view.time:.3f} s"
            figures: dict[str, Any] = {"time": view.time, "tick": view.tick, "gap": far, "place": body.position}
            best[name] = AreaApproach(name, Cause(name="out-of-reach", told=told, seat=seat, **figures))
    return best


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
