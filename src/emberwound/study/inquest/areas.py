"""How near a seat came to hazards, checkpoints and pickups."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from emberwound.bout.views.solids import solid_in_space
from emberwound.study.inquest.answer import Cause
from emberwound.study.shapes import gap

if TYPE_CHECKING:
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
