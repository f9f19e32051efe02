"""Checks of arenas: bounds, floor, entries, walls, props, paths, hazards, checkpoints and pickups."""

from __future__ import annotations

from math import cos, lcm, log, radians, sin
from typing import TYPE_CHECKING

from emberwound.rulebook.checks.attacks import check_push
from emberwound.rulebook.checks.reading import Findings, check_layers, said
from emberwound.vocabulary.limits import MOST_PATH_POINTS, MOST_SCHEDULE_PARTS

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.models import Area, Arena, Hazard, Schedule, Wall
    from emberwound.rulebook.outline import Key


LIKELY_METRES = (0.05, 20.0)
"""Heights of bodies between which a book may well be in metres."""

ROUNDING = 1e-12
"""Share of its coordinates by which a point on the face of a wall may seem to lie within: decimals are rounded."""

MESSAGE_FIELDS = ("seat", "by", "attack", "arena", "life")


def check_arena(found: Findings, name: str) -> None:
    """All that must fit within an arena."""
    key: Key = ("arenas", name)
    arena = found.book.arenas[name]
    _room(found, key, arena)
    _gravity(found, key, arena)
    for each, wall in arena.walls.items():
        _wall(found, (*key, "walls", each), wall, arena.space)
    for section, places in (("entries", arena.entries), ("props", arena.props)):
        for each, place in places.items():
            spot: Key = (*key, section, each)
            check_spot(found, (*spot, "at"), place.at, arena)
            check_facing(found, (*spot, "facing"), place.facing, arena)
    for each, hazard in arena.hazards.items():
        spot = (*key, "hazards", each)
        check_hazard(found, spot, hazard, arena)
        check_layers(found, (*spot, "layers"), hazard.layers)
    for each, checkpoint in arena.checkpoints.items():
        spot = (*key, "checkpoints", each)
        check_spot(found, (*spot, "respawn_at"), checkpoint.respawn_at, arena)
        check_facing(found, (*spot, "facing"), checkpoint.facing, arena)
    check_checkpoints(found, key, arena)
    _elimination(found, key, arena)
    for each, path in arena.paths.items():
        _path(found, (*key, "paths", each, "points"), path.points, arena)


def _room(found: Findings, key: Key, arena: Arena) -> None:
    """Bounds that enclose something, and a floor within them."""
    low, high, floor = arena.bounds.low, arena.bounds.high, arena.floor
    fits = [
        found.fits_space((*key, "bounds", name), corner, arena.space) for name, corner in (("low", low), ("high", high))
    ]
    if all(fits) and not all(a < b for a, b in zip(low, high, strict=True)):
        found.report((*key, "bounds"), f"low {said(low)}, high {said(high)}", "each number of low must be less")
    if floor is not None and arena.space == "top":
        found.report((*key, "floor"), f"{floor:g}", "seen from the top there are no heights; leave the floor out")
    elif all(fits) and floor is not None and not low[-1] <= floor < high[-1]:
        found.report((*key, "floor"), f"{floor:g}", f"the floor must lie in the bounds: {low[-1]:g} to {high[-1]:g}")


def _gravity(found: Findings, key: Key, arena: Arena) -> None:
    """The gravity that a book has by itself is in metres: one with giants or dwarfs must say its own."""
    heights = {name: body.body.height for name, body in (found.book.fighters | found.book.props).items()}
    if "gravity" in arena.model_fields_set or arena.space == "top" or not heights:
        return
    name = min(heights, key=lambda each: abs(log(heights[each])))
    if not LIKELY_METRES[0] <= heights[name] <= LIKELY_METRES[1]:
        allowed = f"9.81 is for metres, and {name} is {heights[name]:g} tall: give the gravity of its lengths"
        found.report((*key, "gravity"), "missing", allowed)


def _elimination(found: Findings, key: Key, arena: Arena) -> None:
    """What comes of a seat that is eliminated: a team that decides, and a message."""
    if arena.elimination_team is not None and arena.on_elimination not in ("end", "restart"):
        allowed = 'a team decides only with on_elimination = "end" or "restart"'
        found.report((*key, "elimination_team"), f'"{arena.elimination_team}"', allowed)
    if arena.on_elimination == "go_on" and found.seconds(arena.elimination_seconds) > 0:
        allowed = "a bout that goes on waits for nothing; leave it out, or say what on_elimination does"
        found.report((*key, "elimination_seconds"), str(arena.elimination_seconds.written()), allowed)
    if arena.on_elimination == "go_on" and arena.awaits_late_seats is not None:
        allowed = "a bout that goes on waits for nobody; leave it out, or say what on_elimination does"
        found.report((*key, "awaits_late_seats"), str(arena.awaits_late_seats).lower(), allowed)
    found.placeholders((*key, "elimination_message"), arena.elimination_message, "message", MESSAGE_FIELDS)


def check_spot(found: Findings, key: Key, point: Sequence[float], arena: Arena) -> None:
    """A place to stand: in the space, in the bounds, not below the floor, in no wall."""
    if not found.fits_space(key, point, arena.space):
        return
    low, high = arena.bounds.low, arena.bounds.high
    if not len(low) == len(high) == len(point):
        return
    lowest = list(low)
    if arena.floor is not None and arena.space != "top":
        lowest[-1] = max(arena.floor, low[-1])
    if not all(a <= b <= c for a, b, c in zip(lowest, point, high, strict=True)):
        found.report(key, f"{said(point)} is outside the arena", f"allowed: {said(lowest)} to {said(high)}")
    for name, wall in arena.all_walls.items():
        if _inside(point, wall):
            found.report(key, f"{said(point)} is inside the wall {name}", "choose a place beside it")


def has_ground(point: Sequence[float], arena: Arena, slack: float) -> bool:
    """Whether a point lies on the floor or on a wall, or at most `slack` above."""
    floor = arena.bounds.low[-1] if arena.floor is None else arena.floor
    below = (*point[:-1], point[-1] - slack)
    return below[-1] <= floor or any(_inside(below, wall) for wall in arena.all_walls.values())


def check_facing(found: Findings, key: Key, facing: object, arena: Arena) -> None:
    """Degrees make sense only where a fighter can look along y."""
    if isinstance(facing, int | float) and arena.space == "side":
        found.report(key, f"{facing:g}", 'seen from the side a fighter looks "left" or "right"')


def _wall(found: Findings, key: Key, wall: Wall, space: str) -> None:
    found.fits_space((*key, "at"), wall.at, space)
    if found.fits_space((*key, "size"), wall.size, space) and min(wall.size) <= 0.0:
        found.report((*key, "size"), said(wall.size), "each size of a wall must be above 0: a wall has a thickness")


def _inside(point: Sequence[float], wall: Wall) -> bool:
    if not len(wall.at) == len(wall.size) == len(point):
        return False
    turn = radians(wall.turn_deg)
    away = [a - b for a, b in zip(point, wall.at, strict=True)]
    along = away[0] * cos(turn) + away[1] * sin(turn)
    across = away[1] * cos(turn) - away[0] * sin(turn)
    slack = ROUNDING * max(map(abs, (*point, *wall.at, *wall.size)))
    return all(abs(a) < b / 2 - slack for a, b in zip((along, across, *away[2:]), wall.size, strict=True))


def _path(found: Findings, key: Key, points: Sequence[Sequence[float]], arena: Arena) -> None:
    if len(points) < 2:
        found.report(key, f"{len(points)} points", "a path needs at least 2")
    if len(points) > MOST_PATH_POINTS:
        found.report(key, f"{len(points)} points", f"allowed: up to {MOST_PATH_POINTS}")
        return
    for index, point in enumerate(points):
        check_spot(found, (*key, index), point, arena)
        if index and point == points[index - 1]:
            found.report((*key, index), said(point), "the same point twice running")


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


def check_checkpoints(found: Findings, key: Key, arena: Arena) -> None:
    """All that must fit of an arena's checkpoints and pickups; their places to respawn are checked as entries are."""
    pools = sorted({pool for fighter in found.book.fighters.values() for pool in fighter.pools})
    orders: dict[int, str] = {}
    for name, checkpoint in arena.checkpoints.items():
        place: Key = (*key, "checkpoints", name)
        check_area(found, place, checkpoint, arena.space)
        order = checkpoint.order
        if order in orders:
            found.report((*place, "order"), f"{order}, as of {orders[order]}", "which is further? give each its own")
        orders.setdefault(order, name)
        for index, pool in enumerate(checkpoint.refill):
            if pool not in pools:
                found.unknown((*place, "refill", index), "pool of any fighter", pool, pools)
    for name, pickup in arena.pickups.items():
        place = (*key, "pickups", name)
        check_area(found, place, pickup, arena.space)
        for pool in pickup.gives:
            if pool not in pools:
                found.unknown((*place, "gives", pool), "pool of any fighter", pool, pools)
        if not (pickup.gives or pickup.lives or pickup.counts):
            found.report(place, "it gives nothing", "give points of pools, lives, or what is counted")
    if arena.respawn_entry is not None and arena.respawn_entry not in arena.entries:
        found.unknown((*key, "respawn_entry"), "entry of the arena", arena.respawn_entry, arena.entries)
