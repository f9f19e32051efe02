"""Writes inputs, already checked, into the block and into the list of the coming tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies.movement import stand
from emberwound.bout.bodies.pools import fill, resize
from emberwound.bout.state.layout import Asked, Count, HeldBit, Limit, SeatColumn, SeatMark, Timer, mark_of, number_of
from emberwound.bout.state.queries import body_of
from emberwound.vocabulary.orders import Become, EndShot, Enter, Heal, Hurt, Leave, Order, Place, Push, Resize, SetPool

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.orders import Input


def take(world: World, given: Input) -> None:
    """Take one input; its names and numbers must fit the plan."""
    if isinstance(given, Enter):
        _enter(world, given)
    elif isinstance(given, Order):
        _order(world, world.names.number_of(given.seat), given)
    elif isinstance(given, Place):
        _place(world, world.names.number_of(given.seat), given)
    elif isinstance(given, Resize):
        _resize(world, world.names.number_of(given.seat), given)
    elif isinstance(given, SetPool):
        _set_pool(world, world.names.number_of(given.seat), given)
    elif isinstance(given, Leave):
        _leave(world, world.names.number_of(given.seat))
    elif isinstance(given, Become):
        fighter = world.plan.fighter(given.becomes)
        seat = world.names.number_of(given.seat)
        world.block.seat_marks[SeatMark.BECOMES, seat] = mark_of(fighter.id) if fighter else 0
    elif isinstance(given, Push | Hurt | Heal | EndShot):  # which the coming tick does
        world.wake(world.counts[Count.TICK])
    world.inputs.append(given)


def _enter(world: World, given: Enter) -> None:
    block, counts, space = world.block, world.counts, world.plan.space
    entry = world.plan.entries[given.at] if isinstance(given.at, str) else None
    fighter = world.plan.fighter(given.fighter)
    facing = given.facing or (entry.facing if entry else "right")
    seat = world.names.give(given.seat)
    counts[Count.SEATS] = len(world.names)
    counts[Count.SEATS_MADE] += 1
    block.seat_marks[SeatMark.ID, seat] = counts[Count.SEATS_MADE]
    block.seats[SeatColumn.ENTRY : SeatColumn.ENTRY + 3, seat] = entry.position if entry else space.lift(given.at)  # type: ignore[arg-type]
    block.seats[SeatColumn.ENTRY_AHEAD : SeatColumn.ENTRY_AHEAD + 2, seat] = space.heading(facing)
    block.seats[SeatColumn.AIM, seat] = 1.0
    block.seats[SeatColumn.DAMAGE_DEALT, seat] = given.damage_dealt
    block.seats[SeatColumn.SPEED_SHARE, seat] = given.speed_share
    if given.damage_dealt != 1.0:
        counts[Count.DEALS_OTHERWISE] = 1
        world.look_for_dealers()
    if fighter is not None:
        block.seat_pools[: len(fighter.stats.pools), seat] = [
            given.pools.get(pool.name, 0.0) for pool in fighter.stats.pools
        ]
    block.seat_marks[SeatMark.FIGHTER, seat] = fighter.id if fighter else 0
    block.seat_marks[SeatMark.LIFE, seat] = 1
    block.seat_marks[[SeatMark.LIVES, SeatMark.LIVES_AT_ENTRY], seat] = (
        Limit.ENDLESS_LIVES if given.lives is None else given.lives
    )
    block.seat_marks[SeatMark.TEAM, seat] = world.team_number(given.team, seat)
    block.counters[:, seat] = [counter.start for counter in world.plan.counters]
    block.again[block.first_pickup :, seat] = block.taken
    stand(
        world,
        seat,
        block.seats[SeatColumn.ENTRY : SeatColumn.ENTRY + 3, seat].tolist(),
        block.seats[SeatColumn.ENTRY_AHEAD : SeatColumn.ENTRY_AHEAD + 2, seat].tolist(),
    )
    block.timers[Timer.ENTER][seat] = counts[Count.TICK]
    world.wake(counts[Count.TICK])


def stand_props(world: World) -> None:
    """Let the arena's props stand in it, before all seats."""
    for prop in world.plan.props:
        place = world.point(prop.position)
        enter = Enter(tick=0, seat=prop.name, source="script", fighter=prop.sort, at=place, facing=prop.facing, lives=1)
        _enter(world, enter)


def _leave(world: World, seat: int) -> None:
    world.block.seat_marks[SeatMark.LEAVING, seat] = 1
    world.counts[Count.LEAVING] = 1
    world.wake(world.counts[Count.TICK])


def _order(world: World, seat: int, given: Order) -> None:
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
        block.seat_marks[SeatMark.ASKED_HOLD, seat] = _held(world, seat, given.hold)
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
    older = number_of(int(marks[SeatMark.PRESS]))
    if older >= 0 and older != slot:
        marks[SeatMark.DROPPED_PRESSES] |= 1 << older
    if slot is not None:
        marks[SeatMark.DROPPED_PRESSES] &= ~(1 << slot)
        marks[SeatMark.PRESS] = mark_of(slot)


def _held(world: World, seat: int, names: tuple[str, ...]) -> int:
    """What is held, as a bit a slot, a posture, and the guard."""
    fighter = world.fighter_of_seat(seat)
    slots = [fighter.slot(name) for name in names]
    postures = [fighter.postures.index(name) for name in names if name in fighter.postures]
    bits = [slot for slot in slots if slot is not None] + [HeldBit.POSTURE + number for number in postures]
    return sum(1 << bit for bit in set(bits)) | (HeldBit.GUARD if "guard" in names else 0)


def _place(world: World, seat: int, given: Place) -> None:
    block, space = world.block, world.plan.space
    block.seats[SeatColumn.ASKED_PLACE : SeatColumn.ASKED_PLACE + 3, seat] = space.lift(given.position)
    block.seats[SeatColumn.ASKED_VELOCITY : SeatColumn.ASKED_VELOCITY + 3, seat] = (
        (0.0, 0.0, 0.0) if given.velocity is None else space.lift(given.velocity)
    )
    asked = int(block.seat_marks[SeatMark.ORDERS_PENDING, seat]) | Asked.PLACE
    if given.teleport:
        block.seats[SeatColumn.ASKED_START : SeatColumn.ASKED_START + 3, seat] = space.lift(given.position)
        asked |= Asked.TELEPORT
    marks = block.seat_marks[:, seat]
    marks[SeatMark.ORDERS_PENDING] = asked
    marks[SeatMark.ASKED_GROUNDED] = 0 if given.grounded is None else mark_of(int(given.grounded))
    if given.posture is not None:
        marks[SeatMark.ASKED_POSTURE] = mark_of(world.fighter_of_seat(seat).postures.index(given.posture))
    world.counts[Count.ORDERS_PENDING] = 1


def _set_pool(world: World, seat: int, given: SetPool) -> None:
    body = body_of(world, seat)
    if body is not None:
        names = [pool.name for pool in world.fighter_of_seat(seat).stats.pools]
        fill(world, body, names.index(given.pool), given.value)


def _resize(world: World, seat: int, given: Resize) -> None:
    body = body_of(world, seat)
    if body is not None:
        names = [pool.name for pool in world.fighter_of_seat(seat).stats.pools]
        resize(world, body, names.index(given.pool), given.maximum)
