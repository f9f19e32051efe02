"""Seats that enter, leave, and change to another fighter: what may be asked, and what it does."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies.movement import stand
from emberwound.bout.orders import validate
from emberwound.bout.orders.input_buffer import refuse
from emberwound.bout.state.layout import Count, HeldBit, Limit, SeatColumn, SeatMark, Timer, index_of_mark, mark_of
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.limits import LARGEST
from emberwound.vocabulary.orders import Enter
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.bout.orders.validate import Fields
    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.orders import Become, Leave


MOST_LIVES = 100_000


def check(  # noqa: PLR0913 (one argument for each thing asked)
    world: World,
    _seat: int,
    *,
    fighter: object,
    at: object,
    seat: object,
    facing: object,
    lives: object,
    team: object,
    pools: Mapping[str, float],
    damage_dealt: object,
    speed_share: object,
) -> Fields:
    """The fields of a seat that enters, which has no index yet. Raises BoutError for what cannot be."""
    plan, names = world.plan, world.names
    if world.counts[Count.OVER]:
        raise BoutError("the bout is over; nobody can enter it any more; make a new one, or restore a snapshot")
    fighter_name = validate.name("fighter", fighter, [each.name for each in plan.fighters if not each.is_prop])
    where = validate.name("entry", at, plan.entries) if isinstance(at, str) else validate.place("at", at, plan)
    called = validate.called("seat", validate.free_name(fighter_name, names) if seat is None else seat)
    if called in names:
        raise BoutError(f"seat {called!r} is taken; give another name, or use bout.seat({called!r})")
    if world.counts[Count.SEATS] == plan.max_seats and not names.have_gaps:
        most = plan.max_seats - len(plan.props)
        raise BoutError(f"no seat is free: settings.max_seats is {most}; raise it in the rulebook")
    return {
        "seat": called,
        "fighter": fighter_name,
        "at": where,
        "facing": None if facing is None else validate.facing(facing, plan, foe=False),
        "lives": validate.lives(lives, MOST_LIVES),
        "team": None if team is None else validate.called("team", team),
        "pools": _pools(plan.fighter(fighter_name), pools),
        "damage_dealt": validate.between("damage_dealt", damage_dealt, 0.0, LARGEST),
        "speed_share": validate.between("speed_share", speed_share, 0.0, LARGEST),
    }


def _pools(fighter: FighterPlan | None, asked: Mapping[str, float]) -> dict[str, float]:
    """The maxima of pools that are not the fighter's own, in its order of pools."""
    try:
        given = dict(asked)
    except (TypeError, ValueError):
        raise BoutError(f"pools: give a table of pools and their maxima; got {shortened(asked)}") from None
    if fighter is None:
        return {}
    known = [pool.name for pool in fighter.stats.pools]
    for name, maximum in given.items():
        validate.name(f"pool of {fighter.name}", name, known)
        size = validate.amount(f"pools: {name}", maximum)
        for bar in fighter.bars:
            if bar.pool_name == name:
                validate.parts(f"pools: {name}", size, bar)
    return {name: float(given[name]) for name in known if name in given}


def enter(world: World, _seat: int, given: Enter) -> None:
    """Give a new seat its place, and let its body stand at the start of the coming tick."""
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
    block.seat_marks[SeatMark.TEAM, seat] = world.team_index(given.team, seat)
    block.counters[:, seat] = [counter.table.start for counter in world.plan.counters]
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
        standing = Enter(
            tick=0, seat=prop.name, source="script", fighter=prop.sort, at=place, facing=prop.facing, lives=1
        )
        enter(world, -1, standing)


def check_leave(_world: World, _seat: int) -> Fields:
    """Any seat that is there may leave."""
    return {}


def leave(world: World, seat: int, _given: Leave) -> None:
    """The coming tick takes it away."""
    world.block.seat_marks[SeatMark.LEAVING, seat] = 1
    world.counts[Count.LEAVING] = 1
    world.wake(world.counts[Count.TICK])


def check_become(world: World, seat: int, *, becomes: str) -> Fields:
    """Which fighter the next body will be. Raises BoutError."""
    plan = world.plan
    if world.block.seat_marks[SeatMark.ELIMINATED, seat] and plan.on_elimination != "restart":
        name = world.names[seat]
        raise BoutError(f"seat {name!r} has no life left, so no next body can be another fighter's")
    known = [each.name for each in plan.fighters if not each.is_prop]
    return {"becomes": validate.name("fighter", becomes, known)}


def become(world: World, seat: int, given: Become) -> None:
    """The next body that stands will be that fighter's."""
    fighter = world.plan.fighter(given.becomes)
    world.block.seat_marks[SeatMark.BECOMES, seat] = mark_of(fighter.id) if fighter else 0


PRESSES = (SeatMark.PRESS, SeatMark.BUFFERED_PRESS, SeatMark.REPEATS)
HOLDS = (SeatMark.HELD, SeatMark.ASKED_HOLD, SeatMark.DROPPED_PRESSES)


def rename_slots(world: World, seat: int, before: FighterPlan) -> None:
    """Let what waits in slots of the fighter `before` wait in those of the seat's fighter that have the same names.

    A press of an attack that the new fighter does not have is refused; a hold of one is let go.
    """
    marks, fighter = world.block.seat_marks[:, seat], world.fighter_of_seat(seat)
    sizes = dict(
        zip([pool.name for pool in before.stats.pools], world.block.seat_pools[:, seat].tolist(), strict=False)
    )
    world.block.seat_pools[: len(fighter.stats.pools), seat] = [
        sizes.get(pool.name, 0.0) for pool in fighter.stats.pools
    ]
    slots = [fighter.slot(attack.name) for attack in before.attacks]
    for mark in PRESSES:
        old = index_of_mark(int(marks[mark]))
        if old < 0:
            continue
        slot = slots[old]
        marks[mark] = 0 if slot is None else mark_of(slot)
        if slot is None and mark != SeatMark.REPEATS:
            refuse(world, seat, f"press {before.attacks[old].name}", Reason.OTHER_FIGHTER, None)
    for mark in HOLDS:
        held = int(marks[mark])
        kept = {slot for old, slot in enumerate(slots) if held >> old & 1 and slot is not None}
        marks[mark] = sum(1 << slot for slot in kept) | (held & HeldBit.GUARD if fighter.guards else 0)
