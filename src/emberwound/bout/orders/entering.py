"""What a host asks of a new seat, checked, and a seat's change to another fighter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from emberwound.bout.orders import validate
from emberwound.bout.orders.input_buffer import refuse
from emberwound.bout.state.layout import Count, HeldBit, SeatMark, mark_of, number_of
from emberwound.vocabulary.errors import BoutError, shortened
from emberwound.vocabulary.limits import LARGEST
from emberwound.vocabulary.orders import Enter
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.orders import Facing


MOST_LIVES = 100_000


def entered(  # noqa: PLR0913 (each is a field of the input, by name)
    world: World,
    fighter: str,
    *,
    at: str | Sequence[float],
    seat: str | None,
    facing: Facing | None,
    lives: int | Literal["endless"] | None,
    team: str | None,
    pools: Mapping[str, float],
    damage_dealt: float,
    speed_share: float,
) -> Enter:
    """The input of a seat that enters. Raises BoutError for what cannot be."""
    plan, names = world.plan, world.names
    if world.counts[Count.OVER]:
        raise BoutError("the bout is over; nobody can enter it any more; make a new one, or restore a snapshot")
    validate.name("fighter", fighter, [each.name for each in plan.fighters if not each.is_prop])
    where = validate.name("entry", at, plan.entries) if isinstance(at, str) else validate.place("at", at, plan)
    called = validate.free_name(fighter, names) if seat is None else seat
    validate.called("seat", called)
    if called in names:
        raise BoutError(f"seat {called!r} is taken; give another name, or use bout.seat({called!r})")
    if world.counts[Count.SEATS] == plan.max_seats and not names.have_gaps:
        most = plan.max_seats - len(plan.props)
        raise BoutError(f"no seat is free: settings.max_seats is {most}; raise it in the rulebook")
    return Enter(
        tick=world.counts[Count.TICK],
        seat=called,
        source="host",
        fighter=fighter,
        at=where,
        facing=None if facing is None else validate.facing(facing, plan, foe=False),
        lives=validate.lives(lives, MOST_LIVES),
        team=None if team is None else validate.called("team", team),
        pools=_pools(plan.fighter(fighter), pools),
        damage_dealt=validate.between("damage_dealt", damage_dealt, 0.0, LARGEST),
        speed_share=validate.between("speed_share", speed_share, 0.0, LARGEST),
    )


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
        old = number_of(int(marks[mark]))
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
