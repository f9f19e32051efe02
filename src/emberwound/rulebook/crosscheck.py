"""What the models cannot see: names that must exist elsewhere, and values that must fit each other.

The checks read the raw data, so that they can speak of one part of a book while another part is broken.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Any

from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import Key, dotted, names_used
from emberwound.vocabulary.clock import Duration
from emberwound.vocabulary.errors import nearest_name
from emberwound.vocabulary.problems import Problem

MOST_ATTACKS = 32


def crosscheck(raw: dict[str, Any], file: str) -> list[Problem]:
    """All problems of names and of values that do not fit each other."""
    checker = _Checker(raw, file)
    checker.names()
    for name in _table(raw, "fighters"):
        checker.fighter(name)
    for name in _table(raw, "arenas"):
        checker.arena(name)
    for name in _table(raw, "bouts"):
        checker.bout(name)
    return checker.problems


def _table(raw: Any, *path: str) -> dict[str, Any]:
    for step in path:
        raw = raw.get(step) if isinstance(raw, dict) else None
    return raw if isinstance(raw, dict) else {}


def _list(raw: Any) -> list[Any]:
    return raw if isinstance(raw, list) else []


def _number(value: Any) -> float | None:
    real = isinstance(value, int | float | Decimal) and not isinstance(value, bool)
    return float(value) if real and abs(value) <= 1e9 else None


def _point(value: Any) -> tuple[float, float] | None:
    numbers = [_number(each) for each in _list(value)]
    if len(numbers) == 2 and numbers[0] is not None and numbers[1] is not None:
        return numbers[0], numbers[1]
    return None


class _Checker:
    def __init__(self, raw: dict[str, Any], file: str) -> None:
        self.raw = raw
        self.file = file
        self.problems: list[Problem] = []

    def report(self, key: Key, seen: str, allowed: str, nearest: str | None = None) -> None:
        self.problems.append(Problem(self.file, dotted(key), seen, allowed, nearest))

    def unknown(self, key: Key, what: str, name: str, known: dict[str, Any] | list[str]) -> None:
        names = ", ".join(known) or "none"
        self.report(key, f'there is no {what} "{name}"', f"known: {names}", nearest_name(name, known))

    def names(self) -> None:
        for key, section, name in names_used(Book, self.raw):
            known = _table(self.raw, section)
            if name not in known:
                self.unknown(key, section.removesuffix("s"), name, known)

    def fighter(self, name: str) -> None:
        key: Key = ("fighters", name)
        fighter = _table(self.raw, "fighters", name)
        pools = _table(fighter, "pools")
        vital = [pool for pool in pools if _table(pools, pool).get("vital") is True]
        if "pools" in fighter and len(vital) != 1:
            seen = f"vital pools: {', '.join(vital)}" if vital else "no pool is vital"
            self.report((*key, "pools"), seen, "exactly one pool of a fighter needs vital = true")
        for pool in pools:
            self.pool((*key, "pools", pool), _table(pools, pool))
        if "route" in fighter:
            self.route((*key, "route"), fighter["route"], pools, vital)
        if fighter.get("hurtboxes") == {}:
            self.report((*key, "hurtboxes"), "no hurtbox", "a fighter without a hurtbox can never be hit; give it one")
        attacks = _list(fighter.get("attacks"))
        self.doubles((*key, "attacks"), attacks)
        if len(attacks) > MOST_ATTACKS:
            self.report((*key, "attacks"), f"{len(attacks)} attacks", f"allowed: at most {MOST_ATTACKS}")

    def pool(self, key: Key, pool: dict[str, Any]) -> None:
        most, start = _number(pool.get("max")), _number(pool.get("start"))
        if most is not None and start is not None and start > most:
            self.report((*key, "start"), f"{start:g} is above max", f"allowed: 0 to {most:g}")
        if pool.get("vital") is True and start == 0.0:
            self.report((*key, "start"), "0", "the vital pool must start above 0: at 0 the fighter is dead")

    def route(self, key: Key, route: Any, pools: dict[str, Any], vital: list[str]) -> None:
        names = [each for each in _list(route) if isinstance(each, str)]
        for index, pool in enumerate(names):
            if pool not in pools:
                self.unknown((*key, index), "pool", pool, pools)
        self.doubles(key, names)
        if len(vital) == 1 and vital[0] not in names:
            self.report(key, f'"{vital[0]}" is missing', "a wound must be able to reach the vital pool")

    def doubles(self, key: Key, names: list[Any]) -> None:
        for index, name in enumerate(names):
            if name in names[:index]:
                self.report((*key, index), f'"{name}" for the second time', "each may stand here once")

    def arena(self, name: str) -> None:
        key: Key = ("arenas", name)
        arena = _table(self.raw, "arenas", name)
        low, high = _point(_table(arena, "bounds").get("low")), _point(_table(arena, "bounds").get("high"))
        if low and high and not (low[0] < high[0] and low[1] < high[1]):
            self.report((*key, "bounds"), f"low {_said(low)}, high {_said(high)}", "each number of low must be less")
        floor = _number(arena.get("floor"))
        if low and high and floor is not None and not low[1] <= floor < high[1]:
            self.report((*key, "floor"), f"{floor:g}", f"the floor must lie in the bounds: {low[1]:g} to {high[1]:g}")
        for entry in _table(arena, "entries"):
            self.inside((*key, "entries", entry, "at"), _table(arena, "entries", entry).get("at"), arena)

    def inside(self, key: Key, value: Any, arena: dict[str, Any]) -> None:
        point, floor = _point(value), _number(arena.get("floor"))
        low, high = _point(_table(arena, "bounds").get("low")), _point(_table(arena, "bounds").get("high"))
        if point is None or low is None or high is None:
            return
        bottom = low[1] if floor is None else max(floor, low[1])
        if not (low[0] <= point[0] <= high[0] and bottom <= point[1] <= high[1]):
            lowest, highest = _said((low[0], bottom)), _said(high)
            self.report(key, f"{_said(point)} is outside the arena", f"allowed: {lowest} to {highest}")

    def bout(self, name: str) -> None:
        key: Key = ("bouts", name)
        bout = _table(self.raw, "bouts", name)
        arena = _table(self.raw, "arenas", str(bout.get("arena")))
        seats = _table(bout, "seats")
        if bout.get("seats") == {}:
            self.report((*key, "seats"), "no seat", "a bout needs at least one")
        room = _table(self.raw, "settings").get("max_seats", 16)
        if isinstance(room, int) and len(seats) > room:
            self.report((*key, "seats"), f"{len(seats)} seats", f"settings.max_seats allows {room}")
        for seat in seats:
            at = _table(seats, seat).get("at")
            entries = _table(arena, "entries")
            if isinstance(at, str) and arena and at not in entries:
                self.unknown((*key, "seats", seat, "at"), f"entry of arena {bout.get('arena')}", at, entries)
            self.inside((*key, "seats", seat, "at"), at, arena)
        for index, order in enumerate(_list(bout.get("orders"))):
            if isinstance(order, dict):
                self.order((*key, "orders", index), order, bout, arena)

    def order(self, key: Key, order: dict[str, Any], bout: dict[str, Any], arena: dict[str, Any]) -> None:
        seats, seat, press = _table(bout, "seats"), order.get("seat"), order.get("press")
        if isinstance(seat, str) and seat not in seats:
            self.unknown((*key, "seat"), "seat", seat, seats)
        fighter = _table(seats, str(seat)).get("fighter")
        attacks = _list(_table(self.raw, "fighters", str(fighter)).get("attacks"))
        if isinstance(press, str) and fighter in _table(self.raw, "fighters") and press not in attacks:
            self.unknown((*key, "press"), f"attack of {fighter}", press, [str(each) for each in attacks])
        if _point(order.get("aim")) == (0.0, 0.0):
            self.report((*key, "aim"), "[0, 0]", "an aim needs a direction: give a number other than 0")
        self.inside((*key, "place"), order.get("place"), arena)
        if order.get("teleport") is True and "place" not in order:
            self.report((*key, "teleport"), "true without a place", "a teleport needs place = [x, z]")
        if not {"aim", "facing", "press", "place"} & order.keys():
            self.report(key, "an order for nothing", "give it aim, facing, press or place")
        self.in_time((*key, "time"), order.get("time"), bout.get("seconds"))

    def in_time(self, key: Key, time: Any, seconds: Any) -> None:
        rate = _table(self.raw, "settings").get("frame_rate", 60)
        try:
            late = Duration.parse(time).seconds(rate) >= Duration.parse(seconds).seconds(rate)
        except (ValueError, TypeError, ZeroDivisionError):
            return
        if late:
            self.report(key, str(time), f"the bout is over after {seconds} s; an order must come before")


def _said(point: tuple[float, float]) -> str:
    return f"[{point[0]:g}, {point[1]:g}]"
