"""What becomes of presses and holds when a seat's next body is another fighter's."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.orders.input_buffer import refuse
from emberwound.bout.state.layout import HeldBit, SeatMark, mark_of, number_of
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan

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
