"""The order of a seat: move, aim, turn, press, hold or patrol; what may be asked, and how it is written down."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.orders import validate
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Asked, Count, HeldBit, SeatColumn, SeatMark, index_of_mark, mark_of
from emberwound.vocabulary.errors import BoutError, shortened

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout.orders.validate import Fields
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.orders import Order


def check(world: World, seat: int, **asked: object) -> Fields:
    """The fields of an order; what is None stays as it was. Raises BoutError."""
    if all(each is None for each in asked.values()):
        raise BoutError(f"seat {world.names[seat]!r}: empty order; give {', '.join(asked)}")
    if asked["move"] is not None and asked["patrol"] is not None:
        raise BoutError("order: a fighter walks one way at a time; give move or patrol")
    checks: dict[str, Callable[..., object]] = {
        "move": lambda value: validate.move(value, world.plan),
        "aim": lambda value: validate.direction("aim", value, world.plan),
        "facing": lambda value: validate.facing(value, world.plan),
        "press": lambda value: _attack_named(world, seat, value),
        "hold": lambda value: _held_names(world, seat, value),
        "patrol": lambda value: validate.name(f"path of {world.plan.arena}", value, world.plan.path_names),
    }
    fields: Fields = {key: None if value is None else checks[key](value) for key, value in asked.items()}
    if asked["move"] is not None or asked["patrol"] is not None:
        _must_walk(world, seat)
    if asked["patrol"] is not None:
        _must_follow(world, seat, fields["patrol"])
    return fields


def _attack_named(world: World, seat: int, name: object) -> str:
    fighter = world.fighter_of_seat(seat)
    return validate.name(f"attack of {fighter.name}", name, [each.name for each in fighter.attacks])


def _held_names(world: World, seat: int, names: str | Sequence[str]) -> tuple[str, ...]:
    fighter = world.fighter_of_seat(seat)
    known = [each.name for each in fighter.attacks] + list(fighter.postures[2:])
    known += ["guard"] if fighter.guards else []
    try:
        wanted = (names,) if isinstance(names, str) else tuple(names)
    except TypeError:
        raise BoutError(f"hold: give a name or a list of names; got {shortened(names)}") from None
    return tuple(validate.name(f"attack, posture or guard of {fighter.name}", each, known) for each in wanted)


def _must_walk(world: World, seat: int) -> None:
    fighter = world.fighter_of_seat(seat)
    if fighter.table.speed == 0.0:
        raise BoutError(f"seat {world.names[seat]!r}: {fighter.name} has no speed; give it one in the rulebook")


def _must_follow(world: World, seat: int, path: str) -> None:
    plan, fighter = world.plan, world.fighter_of_seat(seat)
    for point in plan.path_points(plan.path_names.index(path)):
        if not queries.stands_at(world, fighter, point):
            raise BoutError(
                f"patrol: nothing is under {validate.said(plan.space.flatten(point))} of path {path!r}, and "
                f"{fighter.name} walks on the ground; lay each point on the floor or a wall, or give it "
                "gravity_share = 0"
            )


def effect(world: World, seat: int, given: Order) -> None:
    """Write an order into the block; the coming tick carries it out."""
    block, space = world.block, world.plan.space
    asked = 0
    if given.move is not None:
        block.seats[SeatColumn.ASKED_MOVE : SeatColumn.ASKED_MOVE + 2, seat] = space.ground(given.move)
        asked |= Asked.MOVE
    if given.aim is not None:
        block.seats[SeatColumn.ASKED_AIM : SeatColumn.ASKED_AIM + 3, seat] = space.lift(given.aim)
        asked |= Asked.AIM
    if given.facing == "foe":
        asked |= Asked.FOE
    elif given.facing is not None:
        block.seats[SeatColumn.ASKED_AHEAD : SeatColumn.ASKED_AHEAD + 2, seat] = space.heading(given.facing)
        asked |= Asked.FACING
    if given.press is not None:
        _press(world, seat, given.press)
    if given.hold is not None:
        block.seat_marks[SeatMark.ASKED_HOLD, seat] = _held_bits(world, seat, given.hold)
        asked |= Asked.HOLD
    if given.patrol is not None:
        block.seat_marks[SeatMark.ASKED_PATH, seat] = mark_of(world.plan.path_names.index(given.patrol))
        asked |= Asked.PATH
    before = int(block.seat_marks[SeatMark.ORDERS_PENDING, seat])
    for mine, other in (
        (Asked.FOE, Asked.FACING),
        (Asked.FACING, Asked.FOE),
        (Asked.MOVE, Asked.PATH),
        (Asked.PATH, Asked.MOVE),
    ):
        if asked & mine:
            before &= ~other
    block.seat_marks[SeatMark.ORDERS_PENDING, seat] = before | asked
    world.counts[Count.ORDERS_PENDING] = 1


def _press(world: World, seat: int, attack: str) -> None:
    marks = world.block.seat_marks[:, seat]
    slot = world.fighter_of_seat(seat).slot(attack)
    older = index_of_mark(int(marks[SeatMark.PRESS]))
    if older >= 0 and older != slot:
        marks[SeatMark.DROPPED_PRESSES] |= 1 << older
    if slot is not None:
        marks[SeatMark.DROPPED_PRESSES] &= ~(1 << slot)
        marks[SeatMark.PRESS] = mark_of(slot)


def _held_bits(world: World, seat: int, names: tuple[str, ...]) -> int:
    """What is held, as a bit a slot, a posture, and the guard."""
    fighter = world.fighter_of_seat(seat)
    slots = [fighter.slot(name) for name in names]
    postures = [fighter.postures.index(name) for name in names if name in fighter.postures]
    bits = [slot for slot in slots if slot is not None] + [HeldBit.POSTURE + index for index in postures]
    return sum(1 << bit for bit in set(bits)) | (HeldBit.GUARD if "guard" in names else 0)
