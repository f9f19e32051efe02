"""Writes inputs, already checked, into the block and into the list of the coming tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import (
    AIM,
    ASK_AHEAD,
    ASK_AIM,
    ASK_MOVE,
    ASK_PLACE,
    ASK_VELOCITY,
    ASKED,
    ASKED_AIM,
    ASKED_FACING,
    ASKED_FOE,
    ASKED_HOLD,
    ASKED_MOVE,
    ASKED_PATH,
    ASKED_PLACE,
    ASKED_TELEPORT,
    DUE_ENTER,
    ENDLESS,
    ENTRY,
    ENTRY_AHEAD,
    HOLD_GUARD,
    HOLD_POSTURE,
    LEAVING,
    SEAT_ASK_HOLD,
    SEAT_ASK_PATH,
    SEAT_ASKED,
    SEAT_BECOMES,
    SEAT_DROPPED,
    SEAT_FIGHTER,
    SEAT_LEAVES,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_LIVES_FIRST,
    SEAT_PRESS,
    SEAT_TEAM,
    SEATS,
    TICK,
)
from emberwound.bout.bodies import stand
from emberwound.bout.conditions import row_of
from emberwound.bout.pools import resize
from emberwound.bout.scores import open_for
from emberwound.vocabulary.orders import Become, Enter, Leave, Order, Place, Resize

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.vocabulary.orders import Input


def take(world: World, given: Input) -> None:
    """Take one input; its names and numbers must fit the plan."""
    if isinstance(given, Enter):
        _enter(world, given)
    elif isinstance(given, Order):
        _order(world, world.names.index(given.seat), given)
    elif isinstance(given, Place):
        _place(world, world.names.index(given.seat), given)
    elif isinstance(given, Resize):
        _resize(world, world.names.index(given.seat), given)
    elif isinstance(given, Leave):
        _leave(world, world.names.index(given.seat))
    elif isinstance(given, Become):
        fighter = world.plan.fighter(given.becomes)
        world.block.seat_marks[SEAT_BECOMES, world.names.index(given.seat)] = fighter.id + 1 if fighter else 0
    world.inputs.append(given)


def _enter(world: World, given: Enter) -> None:
    block, counts, plane = world.block, world.counts, world.plan.plane
    entry = world.plan.entries[given.at] if isinstance(given.at, str) else None
    fighter = world.plan.fighter(given.fighter)
    facing = given.facing or (entry.facing if entry else "right")
    seat = world.names.index("") if "" in world.names else counts[SEATS]
    if seat == counts[SEATS]:
        counts[SEATS] = seat + 1
        world.names.append("")
    world.names[seat] = given.seat
    block.seats[ENTRY : ENTRY + 3, seat] = entry.position if entry else plane.lift(given.at)  # type: ignore[arg-type]
    block.seats[ENTRY_AHEAD : ENTRY_AHEAD + 2, seat] = plane.heading(facing)
    block.seats[AIM, seat] = 1.0
    block.seat_marks[SEAT_FIGHTER, seat] = fighter.id if fighter else 0
    block.seat_marks[SEAT_LIFE, seat] = 1
    block.seat_marks[[SEAT_LIVES, SEAT_LIVES_FIRST], seat] = ENDLESS if given.lives is None else given.lives
    block.seat_marks[SEAT_TEAM, seat] = world.team_number(given.team, seat)
    open_for(world, seat)
    block.again[block.first_pickup_group :, seat] = block.taken
    stand(
        world,
        seat,
        block.seats[ENTRY : ENTRY + 3, seat].tolist(),
        block.seats[ENTRY_AHEAD : ENTRY_AHEAD + 2, seat].tolist(),
    )
    block.timers[DUE_ENTER][seat] = counts[TICK]
    world.wake(counts[TICK])


def stand_props(world: World) -> None:
    """Let the arena's props stand in it, before all seats."""
    for prop in world.plan.props:
        place = world.point(prop.position)
        enter = Enter(tick=0, seat=prop.name, source="script", fighter=prop.sort, at=place, facing=prop.facing, lives=1)
        _enter(world, enter)


def _leave(world: World, seat: int) -> None:
    world.block.seat_marks[SEAT_LEAVES, seat] = 1
    world.counts[LEAVING] = 1
    world.wake(world.counts[TICK])


def _order(world: World, seat: int, given: Order) -> None:
    block, plane = world.block, world.plan.plane
    asked = 0
    if given.move is not None:
        block.seats[ASK_MOVE : ASK_MOVE + 2, seat] = plane.ground(given.move)
        asked |= ASKED_MOVE
    if given.aim is not None:
        block.seats[ASK_AIM : ASK_AIM + 3, seat] = plane.lift(given.aim)
        asked |= ASKED_AIM
    if given.facing == "foe":
        asked |= ASKED_FOE
    elif given.facing is not None:
        block.seats[ASK_AHEAD : ASK_AHEAD + 2, seat] = plane.heading(given.facing)
        asked |= ASKED_FACING
    if given.press is not None:
        _press(world, seat, given.press)
    if given.hold is not None:
        block.seat_marks[SEAT_ASK_HOLD, seat] = _held(world, seat, given.hold)
        asked |= ASKED_HOLD
    if given.patrol is not None:
        block.seat_marks[SEAT_ASK_PATH, seat] = world.plan.path_names.index(given.patrol) + 1
        asked |= ASKED_PATH
    before = int(block.seat_marks[SEAT_ASKED, seat])
    for mine, other in (
        (ASKED_FOE, ASKED_FACING),
        (ASKED_FACING, ASKED_FOE),
        (ASKED_MOVE, ASKED_PATH),
        (ASKED_PATH, ASKED_MOVE),
    ):
        if asked & mine:
            before &= ~other
    block.seat_marks[SEAT_ASKED, seat] = before | asked
    world.counts[ASKED] = 1


def _press(world: World, seat: int, attack: str) -> None:
    marks = world.block.seat_marks[:, seat]
    slot = world.fighter_of_seat(seat).slot(attack)
    older = int(marks[SEAT_PRESS]) - 1
    if older >= 0 and older != slot:
        marks[SEAT_DROPPED] |= 1 << older
    if slot is not None:
        marks[SEAT_DROPPED] &= ~(1 << slot)
        marks[SEAT_PRESS] = slot + 1


def _held(world: World, seat: int, names: tuple[str, ...]) -> int:
    """What is held, as a bit a slot, a posture, and the guard."""
    fighter = world.fighter_of_seat(seat)
    slots = [fighter.slot(name) for name in names]
    postures = [fighter.postures.index(name) for name in names if name in fighter.postures]
    bits = [slot for slot in slots if slot is not None] + [HOLD_POSTURE + number for number in postures]
    return sum(1 << bit for bit in set(bits)) | (HOLD_GUARD if "guard" in names else 0)


def _place(world: World, seat: int, given: Place) -> None:
    block, plane = world.block, world.plan.plane
    block.seats[ASK_PLACE : ASK_PLACE + 3, seat] = plane.lift(given.position)
    block.seats[ASK_VELOCITY : ASK_VELOCITY + 3, seat] = (
        (0.0, 0.0, 0.0) if given.velocity is None else plane.lift(given.velocity)
    )
    asked = int(block.seat_marks[SEAT_ASKED, seat]) & ~ASKED_TELEPORT
    block.seat_marks[SEAT_ASKED, seat] = asked | ASKED_PLACE | (ASKED_TELEPORT if given.teleport else 0)
    world.counts[ASKED] = 1


def _resize(world: World, seat: int, given: Resize) -> None:
    row = row_of(world, seat)
    if row is not None:
        names = [pool.name for pool in world.fighter_of_seat(seat).bears.pools]
        resize(world, row, names.index(given.pool), given.maximum)
