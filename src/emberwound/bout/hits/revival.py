"""Reviving: that healing raised a corpse, noted until its seat stands again with the coming tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of
from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit
    from emberwound.bout.state.world import World


def note_revived(world: World, body: int, hit: Hit, healed: int) -> None:
    """Let the seat of a corpse that can be revived respawn with the coming tick; the first who revives it counts.

    `healed` is the event of the healing.
    """
    block = world.block
    if not block.body_marks[BodyMark.REVIVABLE, body]:
        return
    seat, soon = world.seat_of(body), world.counts[Count.TICK] + 1
    if not block.seat_marks[SeatMark.REVIVED_SEQ, seat]:
        block.seat_marks[SeatMark.REVIVED_SEQ, seat] = mark_of(healed)
        block.seat_marks[SeatMark.REVIVED_BY, seat] = mark_of(hit.by)
    block.timers[Timer.RESPAWN][seat] = soon
    block.timers[Timer.CORPSE_GONE][body] = NEVER
    world.wake(soon)
