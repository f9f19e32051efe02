"""Checks of arenas: bounds, floor, entries, walls, props and paths."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.checkpoints import check_checkpoints
from emberwound.rulebook.checks.hazards import check_hazard
from emberwound.rulebook.checks.layers import check_layers, layers_named
from emberwound.rulebook.checks.reading import Findings, items, number, said, table, vector

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


MESSAGE_FIELDS = ("seat", "by", "attack", "arena", "life")


def check_arena(found: Findings, name: str) -> None:
    """All that must fit within an arena."""
    key: Key = ("arenas", name)
    arena = table(found.raw, "arenas", name)
    space = plane_of(arena)
    bounds = table(arena, "bounds")
    fits = [found.fits_plane((*key, "bounds", each), bounds.get(each), space) for each in ("low", "high")]
    low, high = vector(bounds.get("low")), vector(bounds.get("high"))
    if all(fits) and low and high and not all(a < b for a, b in zip(low, high, strict=True)):
        found.report((*key, "bounds"), f"low {said(low)}, high {said(high)}", "each number of low must be less")
    floor = number(arena.get("floor"))
    if floor is not None and space == "top":
        found.report((*key, "floor"), f"{floor:g}", "seen from the top there are no heights; leave the floor out")
    elif all(fits) and low and high and floor is not None and not low[-1] <= floor < high[-1]:
        found.report((*key, "floor"), f"{floor:g}", f"the floor must lie in the bounds: {low[-1]:g} to {high[-1]:g}")
    for wall in table(arena, "walls"):
        _wall(found, (*key, "walls", wall), table(arena, "walls", wall), space)
    for entry in table(arena, "entries"):
        spot: Key = (*key, "entries", entry)
        check_spot(found, (*spot, "at"), table(arena, "entries", entry).get("at"), arena)
        check_facing(found, (*spot, "facing"), table(arena, "entries", entry).get("facing"), arena)
    for prop in table(arena, "props"):
        stands: Key = (*key, "props", prop)
        check_spot(found, (*stands, "at"), table(arena, "props", prop).get("at"), arena)
        check_facing(found, (*stands, "facing"), table(arena, "props", prop).get("facing"), arena)
    for hazard in table(arena, "hazards"):
        place: Key = (*key, "hazards", hazard)
        check_hazard(found, place, table(arena, "hazards", hazard), arena, space)
        layers = items(table(arena, "hazards", hazard).get("layers"))
        check_layers(found, (*place, "layers"), layers, layers_named(found))
    for checkpoint in table(arena, "checkpoints"):
        returns: Key = (*key, "checkpoints", checkpoint)
        check_spot(found, (*returns, "respawn_at"), table(arena, "checkpoints", checkpoint).get("respawn_at"), arena)
        check_facing(found, (*returns, "facing"), table(arena, "checkpoints", checkpoint).get("facing"), arena)
    check_checkpoints(found, key, arena, space)
    _out(found, key, arena)
    for path in table(arena, "paths"):
        _path(found, (*key, "paths", path), items(table(arena, "paths", path).get("points")), arena)


def _out(found: Findings, key: Key, arena: dict[str, Any]) -> None:
    """What comes of a seat that is out: a team that it hangs on, and a message."""
    if "elimination_team" in arena and arena.get("on_elimination", "go_on") not in ("end", "restart"):
        allowed = 'a team decides only with on_elimination = "end" or "restart"'
        found.report((*key, "elimination_team"), f'"{arena["elimination_team"]}"', allowed)
    found.placeholders((*key, "elimination_message"), arena.get("elimination_message"), "message", MESSAGE_FIELDS)


def plane_of(arena: dict[str, Any]) -> str:
    """The plane an arena says it has, or the one it has when it says nothing."""
    return str(arena.get("space", "side"))


def check_spot(found: Findings, key: Key, value: Any, arena: dict[str, Any]) -> None:
    """A place to stand: in the plane, in the bounds, not below the floor, in no wall."""
    if isinstance(value, str) or not found.fits_plane(key, value, plane_of(arena)):
        return
    point, floor = vector(value) or (), number(arena.get("floor"))
    low, high = vector(table(arena, "bounds").get("low")), vector(table(arena, "bounds").get("high"))
    if low is None or high is None or not len(low) == len(high) == len(point):
        return
    if floor is not None and plane_of(arena) != "top":
        low = (*low[:-1], max(floor, low[-1]))
    if not all(a <= b <= c for a, b, c in zip(low, point, high, strict=True)):
        found.report(key, f"{said(point)} is outside the arena", f"allowed: {said(low)} to {said(high)}")
    for name in table(arena, "walls"):
        if _inside(point, table(arena, "walls", name)):
            found.report(key, f"{said(point)} is inside the wall {name}", "choose a place beside it")


def check_facing(found: Findings, key: Key, value: Any, arena: dict[str, Any]) -> None:
    """Degrees make sense only where a fighter can look along y."""
    if number(value) is not None and plane_of(arena) == "side":
        found.report(key, str(value), 'seen from the side a fighter looks "left" or "right"')


def _wall(found: Findings, key: Key, wall: dict[str, Any], space: str) -> None:
    found.fits_plane((*key, "at"), wall.get("at"), space)
    size = vector(wall.get("size"))
    if found.fits_plane((*key, "size"), wall.get("size"), space) and size and min(size) <= 0.0:
        found.report((*key, "size"), said(size), "each size of a wall must be above 0: a wall has a thickness")


def _inside(point: tuple[float, ...], wall: dict[str, Any]) -> bool:
    middle, size = vector(wall.get("at")), vector(wall.get("size"))
    if middle is None or size is None or not len(middle) == len(size) == len(point):
        return False
    turn = radians(number(wall.get("turn_deg")) or 0.0)
    away = [a - b for a, b in zip(point, middle, strict=True)]
    along = away[0] * cos(turn) + away[1] * sin(turn)
    across = away[1] * cos(turn) - away[0] * sin(turn)
    return all(abs(a) < b / 2 for a, b in zip((along, across, *away[2:]), size, strict=True))


def _path(found: Findings, key: Key, points: list[Any], arena: dict[str, Any]) -> None:
    if len(points) < 2:
        found.report((*key, "points"), f"{len(points)} points", "a path needs at least 2")
    for index, point in enumerate(points):
        check_spot(found, (*key, "points", index), point, arena)
        if index and vector(point) is not None and vector(point) == vector(points[index - 1]):
            found.report((*key, "points", index), said(vector(point) or ()), "the same point twice running")
