"""Checks of scripted bouts: seats, entries and timed orders."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from emberwound.rulebook.checks.arenas import check_facing, check_spot, has_ground
from emberwound.rulebook.checks.bars import check_parts
from emberwound.rulebook.checks.reading import Findings, said

if TYPE_CHECKING:
    from emberwound.rulebook.models import Arena, BoutTable, Fighter, SeatEntry, TimedOrder
    from emberwound.rulebook.outline import Key

MOST_ORDERS = 100_000
ORDERS = ("move", "aim", "facing", "press", "hold", "patrol", "place")


def check_bout(found: Findings, name: str) -> None:
    """All that must fit within a bout, and with its arena and fighters."""
    key: Key = ("bouts", name)
    bout = found.book.bouts[name]
    arena = found.book.arenas.get(bout.arena)
    if not bout.seats:
        found.report((*key, "seats"), "no seat", "a bout needs at least one")
    room = found.book.settings.max_seats
    if len(bout.seats) > room:
        found.report((*key, "seats"), f"{len(bout.seats)} seats", f"settings.max_seats allows {room}")
    if arena is not None:
        for seat in bout.seats:
            _seat(found, (*key, "seats", seat), bout.seats[seat], bout.arena, arena)
    for name_of_seat, seat_entry in bout.seats.items():
        _own_pools(found, (*key, "seats", name_of_seat, "pools"), seat_entry)
        _presence(found, (*key, "seats", name_of_seat), bout, seat_entry)
    for index, order in enumerate(bout.orders):
        _order(found, (*key, "orders", index), order, bout, arena)


def _seat(found: Findings, key: Key, seat: SeatEntry, name: str, arena: Arena) -> None:
    if key[-1] in arena.props:
        found.report(key, f'a seat named "{key[-1]}"', f"a prop of arena {name} has that name; give it another")
    if not isinstance(seat.at, str):
        check_spot(found, (*key, "at"), seat.at, arena)
    elif seat.at not in arena.entries:
        found.unknown((*key, "at"), f"entry of arena {name}", seat.at, arena.entries)
    check_facing(found, (*key, "facing"), seat.facing, arena)


def _own_pools(found: Findings, key: Key, seat: SeatEntry) -> None:
    """The pools of a seat must be its fighter's, and fit the bars of them."""
    fighter = found.book.fighters.get(seat.fighter)
    if fighter is None:
        return
    for pool, maximum in seat.pools.items():
        if pool not in fighter.pools:
            found.unknown((*key, pool), f"pool of {seat.fighter}", pool, fighter.pools)
            continue
        for name in fighter.bars:
            if name in found.book.bars and found.book.bars[name].pool == pool:
                check_parts(found, (*key, pool), name, maximum)


def _presence(found: Findings, key: Key, bout: BoutTable, seat: SeatEntry) -> None:
    """When a seat is there must be a part of the bout."""
    if found.seconds(seat.time) >= found.seconds(bout.seconds):
        allowed = f"the bout is over after {bout.seconds.written()} s; a seat must enter before"
        found.report((*key, "time"), str(seat.time.written()), allowed)
    if seat.until is not None and found.seconds(seat.until) <= found.seconds(seat.time):
        allowed = f"it must come after time, {seat.time.written()}"
        found.report((*key, "until"), str(seat.until.written()), allowed)


def _order(found: Findings, key: Key, order: TimedOrder, bout: BoutTable, arena: Arena | None) -> None:
    seat = bout.seats.get(order.seat)
    if seat is None:
        found.unknown((*key, "seat"), "seat", order.seat, bout.seats, finding="order-to-nobody")
    elif seat.fighter in found.book.fighters:
        _of_fighter(found, key, order, seat.fighter, found.book.fighters[seat.fighter])
    if arena is not None:
        _in_arena(found, key, order, bout.arena, arena)
        if seat is not None and seat.fighter in found.book.fighters:
            _follows_path(found, key, order, arena, seat.fighter)
    if order.patrol is not None and order.move is not None:
        found.report((*key, "patrol"), "a patrol and a move", "a fighter walks one way at a time; give one of them")
    if order.teleport and order.place is None:
        found.report((*key, "teleport"), "true without a place", "a teleport needs a place to go to")
    if all(getattr(order, each) is None for each in ORDERS):
        found.report(key, "empty order", f"give it {', '.join(ORDERS[:-1])} or {ORDERS[-1]}")
    _times(found, key, order, bout)


def _in_arena(found: Findings, key: Key, order: TimedOrder, name: str, arena: Arena) -> None:
    aim = order.aim
    if aim is not None and found.fits_space((*key, "aim"), aim, arena.space) and not any(aim):
        found.report((*key, "aim"), said(aim), "an aim needs a direction: give a number other than 0")
    check_facing(found, (*key, "facing"), order.facing, arena)
    if order.place is not None:
        check_spot(found, (*key, "place"), order.place, arena)
    if order.move is not None:
        _move(found, (*key, "move"), order.move, arena.space)
    if order.patrol is not None and order.patrol not in arena.paths:
        found.unknown((*key, "patrol"), f"path of arena {name}", order.patrol, arena.paths, finding="order-to-nobody")


def _follows_path(found: Findings, key: Key, order: TimedOrder, arena: Arena, name: str) -> None:
    """Who feels gravity walks on the ground, and cannot follow a path in height."""
    path = arena.paths.get(order.patrol or "")
    if path is None or arena.space == "top" or arena.gravity * found.book.fighters[name].gravity_share == 0.0:
        return
    slack = 1e-3 * found.book.fighters[name].body.radius
    for point in path.points:
        if not has_ground(point, arena, slack):
            seen = f"path {order.patrol}: nothing is under {said(point)}"
            allowed = f"{name} walks on the ground: lay each point on the floor or a wall, or give it gravity_share = 0"
            found.report((*key, "patrol"), seen, allowed, finding="order-to-nobody")
            return


def _of_fighter(found: Findings, key: Key, order: TimedOrder, name: str, fighter: Fighter) -> None:
    if order.press is not None and order.press not in fighter.all_attacks:
        found.unknown((*key, "press"), f"attack of {name}", order.press, fighter.all_attacks)
    known = [*fighter.all_attacks, *fighter.postures, *(["guard"] if fighter.guard else [])]
    for index, each in enumerate(order.hold or ()):
        if each not in known:
            found.unknown((*key, "hold", index), f"attack, posture or guard of {name}", each, known)
    for walk in ("move", "patrol"):
        if getattr(order, walk) is not None and fighter.speed == 0.0:
            found.report(
                (*key, walk), "an order to walk", f"{name} has no speed; give it one", finding="order-to-nobody"
            )


def _move(found: Findings, key: Key, move: float | tuple[float, ...], space: str) -> None:
    if space == "side":
        if isinstance(move, tuple) or abs(move) > 1.0:
            seen = said(move) if isinstance(move, tuple) else f"{move:g}"
            found.report(key, seen, "seen from the side a move is a number from -1 (left) to 1 (right)")
    elif not isinstance(move, tuple) or len(move) != 2 or hypot(*move) > 1.0 + 1e-9:
        found.report(key, said(move) if isinstance(move, tuple) else f"{move:g}", "a move is [x, y], no longer than 1")


def _times(found: Findings, key: Key, order: TimedOrder, bout: BoutTable) -> None:
    time, whole = found.seconds(order.time), found.seconds(bout.seconds)
    if time >= whole:
        allowed = f"the bout is over after {bout.seconds.written()} s; an order must come before"
        found.report((*key, "time"), str(order.time.written()), allowed, finding="order-to-nobody")
    seat = bout.seats.get(order.seat)
    if seat is not None and time < found.seconds(seat.time):
        allowed = f"{order.seat} enters at {seat.time.written()} s; an order must not come before"
        found.report((*key, "time"), str(order.time.written()), allowed, finding="order-to-nobody")
    if seat is not None and seat.until is not None and time >= found.seconds(seat.until):
        allowed = f"{order.seat} leaves at {seat.until.written()} s, its `until`; an order must come before"
        found.report((*key, "time"), str(order.time.written()), allowed, finding="order-to-nobody")
    if order.until is not None and found.seconds(order.until) <= time:
        found.report((*key, "until"), str(order.until.written()), f"it must come after time, {order.time.written()}")
    if order.every is not None and order.press is None:
        found.report((*key, "every"), "nothing to press", "every repeats a press; give it one")
    if order.until is not None and all(each is None for each in (order.every, order.hold, order.move, order.patrol)):
        found.report((*key, "until"), "nothing that lasts", "until ends a hold, a move, a patrol or a repeated press")
    if order.every is not None and (whole - time) / found.seconds(order.every) > MOST_ORDERS:
        found.report((*key, "every"), str(order.every.written()), f"it would press more than {MOST_ORDERS} times")
