"""Checks of the parts of an arena that are touched: their shapes, and what a hazard does."""

from __future__ import annotations

from math import lcm
from typing import TYPE_CHECKING

from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.reading import Findings, said
from emberwound.vocabulary.limits import MOST_SCHEDULE_PARTS

if TYPE_CHECKING:
    from emberwound.rulebook.models import Area, Arena, Hazard, Schedule
    from emberwound.rulebook.outline import Key

SHAPES = ("radius", "size", "half_space")


def check_hazard(found: Findings, key: Key, hazard: Hazard, arena: Arena) -> None:
    """All that must fit within a hazard, and with its arena."""
    damage = hazard.damage
    if damage > 0.0 and hazard.fatal:
        found.report(
            (*key, "damage"), f"{damage:g} of what is fatal", "fatal takes all there is; leave one of them out"
        )
    if damage == 0.0 and not hazard.fatal and not hazard.afflicts:
        allowed = "give it damage and a kind, something it afflicts with, or fatal = true"
        found.report(key, "neither a wound nor fatal", allowed)
    if damage > 0.0 and hazard.kind is None:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    check_area(found, key, hazard, arena.space)
    check_push(found, key, hazard.push, travels=False)
    if hazard.schedule is not None:
        _schedule(found, (*key, "schedule"), hazard.schedule)
    if hazard.solid:
        _solid(found, key, hazard, arena)
    if hazard.path is not None and hazard.path not in arena.paths:
        found.unknown((*key, "path"), "path of the arena", hazard.path, arena.paths)
    if (hazard.path is None) != (hazard.speed is None):
        seen = "a speed without a path" if hazard.path is None else "a path without a speed"
        found.report((*key, "path"), seen, "they belong together: give both or neither")


def _schedule(found: Findings, key: Key, schedule: Schedule) -> None:
    """Times of a schedule have a common part that is not too small to count in."""
    times = {name: getattr(schedule, name) for name in ("first", "on", "off")}
    if lcm(*(found.seconds(time).denominator for time in times.values())) > MOST_SCHEDULE_PARTS:
        name = max(times, key=lambda each: found.seconds(times[each]).denominator)
        allowed = "give times that are all whole numbers of one part of a second, of 1e-9 s at least"
        found.report((*key, name), str(times[name].written()), allowed)


def _solid(found: Findings, key: Key, hazard: Hazard, arena: Arena) -> None:
    """What is solid is a wall: a box that stands still, with a name of its own."""
    if hazard.size is None:
        found.report((*key, "solid"), "true of what is no box", "a wall is a box: give it a size")
    if hazard.path is not None:
        found.report((*key, "path"), "the path of a wall", "a wall stands still; leave out the path, or solid")
    if key[-1] in arena.walls:
        found.report(key, f'a solid hazard named "{key[-1]}"', "a wall of the arena has that name; give it another")


def check_area(found: Findings, key: Key, area: Area, space: str) -> None:
    """The shape of a hazard, a checkpoint or a pickup."""
    for name in ("at", "to", "size", "half_space"):
        point = getattr(area, name)
        if point is not None:
            found.fits_space((*key, name), point, space)
    shapes = [name for name in SHAPES if getattr(area, name) is not None]
    if len(shapes) != 1:
        allowed = (
            "give a radius (and `to` for a capsule), a size for a box, or half_space for all that lies in a direction"
        )
        found.report(key, " and ".join(shapes) or "no shape", allowed)
    if area.to is not None and area.radius is None:
        found.report((*key, "to"), "to without a radius", "it belongs to a shape with a radius")
    if area.turn_deg and area.size is None:
        found.report((*key, "turn_deg"), "turn_deg without a size", "it belongs to a shape with a size")
    if area.size is not None and min(area.size) <= 0.0:
        found.report((*key, "size"), said(area.size), "each size must be above 0")
    if area.half_space is not None and not any(area.half_space):
        found.report((*key, "half_space"), said(area.half_space), "a direction is needed: give a number other than 0")
