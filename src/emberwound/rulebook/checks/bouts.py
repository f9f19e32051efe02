"""Checks of scripted bouts: seats, entries and timed orders."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.arenas import check_facing, check_spot, plane_of
from emberwound.rulebook.checks.reading import POINTS, Findings, items, number, said, table, vector

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

MOST_ORDERS = 100_000
DOINGS = ("move", "aim", "facing", "press", "hold", "patrol", "place")


def check_bout(found: Findings, name: str) -> None:
    """All that must fit within a bout, and with its arena and fighters."""
    key: Key = ("bouts", name)
    bout = table(found.raw, "bouts", name)
    arena = table(found.raw, "arenas", str(bout.get("arena")))
    seats = table(bout, "seats")
    if bout.get("seats") == {}:
        found.report((*key, "seats"), "no seat", "a bout needs at least one")
    room = table(found.raw, "settings").get("max_seats", 16)
    if isinstance(room, int) and len(seats) > room:
        found.report((*key, "seats"), f"{len(seats)} seats", f"settings.max_seats allows {room}")
    for seat in seats:
        at = table(seats, seat).get("at")
        entries = table(arena, "entries")
        if isinstance(at, str) and arena and at not in entries:
            found.unknown((*key, "seats", seat, "at"), f"entry of arena {bout.get('arena')}", at, entries)
        check_spot(found, (*key, "seats", seat, "at"), at, arena)
        check_facing(found, (*key, "seats", seat, "facing"), table(seats, seat).get("facing"), arena)
    for index, order in enumerate(items(bout.get("orders"))):
        if isinstance(order, dict):
            _order(found, (*key, "orders", index), order, bout, arena)


def _order(found: Findings, key: Key, order: dict[str, Any], bout: dict[str, Any], arena: dict[str, Any]) -> None:
    seats, seat = table(bout, "seats"), order.get("seat")
    if isinstance(seat, str) and seat not in seats:
        found.unknown((*key, "seat"), "seat", seat, seats)
    name = table(seats, str(seat)).get("fighter")
    fighter = table(found.raw, "fighters", str(name))
    if fighter:
        _doings_of(found, key, order, str(name), fighter)
    aim = vector(order.get("aim"))
    if aim is not None and found.fits_plane((*key, "aim"), order["aim"], plane_of(arena)) and not any(aim):
        found.report((*key, "aim"), said(aim), "an aim needs a direction: give a number other than 0")
    check_facing(found, (*key, "facing"), order.get("facing"), arena)
    check_spot(found, (*key, "place"), order.get("place"), arena)
    _move(found, (*key, "move"), order.get("move"), plane_of(arena))
    patrol = order.get("patrol")
    if isinstance(patrol, str) and arena and patrol not in table(arena, "paths"):
        found.unknown((*key, "patrol"), f"path of arena {bout.get('arena')}", patrol, table(arena, "paths"))
    if "patrol" in order and "move" in order:
        found.report((*key, "patrol"), "a patrol and a move", "a fighter walks one way at a time; give one of them")
    if order.get("teleport") is True and "place" not in order:
        found.report((*key, "teleport"), "true without a place", "a teleport needs a place to go to")
    if not set(DOINGS) & order.keys():
        found.report(key, "an order for nothing", f"give it {', '.join(DOINGS[:-1])} or {DOINGS[-1]}")
    _times(found, key, order, bout)


def _doings_of(found: Findings, key: Key, order: dict[str, Any], name: str, fighter: dict[str, Any]) -> None:
    attacks = [str(each) for each in items(fighter.get("attacks"))]
    press = order.get("press")
    if isinstance(press, str) and press not in attacks:
        found.unknown((*key, "press"), f"attack of {name}", press, attacks)
    held = [*attacks, *table(fighter, "postures"), *(["guard"] if "guard" in fighter else [])]
    for index, each in enumerate(items(order.get("hold"))):
        if isinstance(each, str) and each not in held:
            found.unknown((*key, "hold", index), f"attack, posture or guard of {name}", each, held)
    walks = (number(fighter.get("speed", 0)) or 0.0) > 0.0
    for doing in ("move", "patrol"):
        if doing in order and not walks:
            found.report((*key, doing), "an order to walk", f"{name} has no speed; give it one")


def _move(found: Findings, key: Key, value: Any, space: str) -> None:
    if value is None:
        return
    numbers = vector(value)
    if space == "side":
        scalar = number(value)
        if numbers is not None or (scalar is not None and abs(scalar) > 1.0):
            seen = said(numbers) if numbers else f"{scalar:g}"
            found.report(key, seen, "seen from the side a move is a number from -1 (left) to 1 (right)")
    elif space in POINTS and (numbers is None or len(numbers) != 2 or hypot(*numbers) > 1.0 + 1e-9):
        found.report(key, str(value) if numbers is None else said(numbers), "a move is [x, y], no longer than 1")


def _times(found: Findings, key: Key, order: dict[str, Any], bout: dict[str, Any]) -> None:
    time, whole = found.seconds(order.get("time")), found.seconds(bout.get("seconds"))
    until, every = found.seconds(order.get("until")), found.seconds(order.get("every"))
    if time is not None and whole is not None and time >= whole:
        allowed = f"the bout is over after {bout.get('seconds')} s; an order must come before"
        found.report((*key, "time"), str(order.get("time")), allowed)
    if "until" in order and time is not None and until is not None and until <= time:
        found.report((*key, "until"), str(order["until"]), f"it must come after time, {order.get('time')}")
    if "every" in order and "press" not in order:
        found.report((*key, "every"), "nothing to press", "every repeats a press; give it one")
    if "until" in order and not {"every", "hold", "move", "patrol"} & order.keys():
        found.report((*key, "until"), "nothing that lasts", "until ends a hold, a move, a patrol or a repeated press")
    if every and time is not None and whole is not None and (whole - time) / every > MOST_ORDERS:
        found.report((*key, "every"), str(order["every"]), f"it would press more than {MOST_ORDERS} times")
