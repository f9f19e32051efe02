"""Bodies come and go: standing up, falling, being taken away."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import (
    BODIES_MADE,
    BODY_DIED,
    BODY_LIFE,
    CORPSE,
    DUE_RECOVERED,
    DUE_RELEASE,
    DUE_REMOVE,
    ENTRY,
    ENTRY_AHEAD,
    LAY,
    LIVE,
    SEAT_BODY,
    SEAT_FIGHTER,
    SEAT_LIFE,
    TICK,
)
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_ID,
    FRAME_LIVE,
    FRAME_MODEL,
    FRAME_OWNER,
    FRAME_START,
)
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import BodyRemoved

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.vocabulary.reasons import Reason


def stand(world: World, seat: int) -> int:
    """Give a seat a new body where it entered, pools at their start; the body's column."""
    block, counts = world.block, world.counts
    row: int = block.body_marks[FRAME_ID].tolist().index(0)
    counts[BODIES_MADE] += 1
    marks = block.body_marks
    marks[FRAME_ID, row] = counts[BODIES_MADE]
    marks[FRAME_OWNER, row] = seat + 1
    marks[FRAME_MODEL, row] = block.seat_marks[SEAT_FIGHTER, seat]
    marks[FRAME_LIVE, row] = LIVE
    marks[BODY_LIFE, row] = block.seat_marks[SEAT_LIFE, seat]
    block.bodies[FRAME_START : FRAME_START + 3, row] = block.seats[ENTRY : ENTRY + 3, seat]
    block.bodies[FRAME_END : FRAME_END + 3, row] = block.seats[ENTRY : ENTRY + 3, seat]
    block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row] = block.seats[ENTRY_AHEAD : ENTRY_AHEAD + 2, seat]
    for index, pool in enumerate(world.fighter_of_seat(seat).pools.pools):
        block.pools[index, row] = pool.start
        block.pools_since[index, row] = counts[TICK]
    block.seat_marks[SEAT_BODY, seat] = row + 1
    counts[LAY] = max(counts[LAY], 1)
    return row


def corpse_of(world: World, seat: int) -> int | None:
    """The column of the corpse a seat has lying in the arena, or None."""
    marks = world.block.body_marks
    owners, states = marks[FRAME_OWNER].tolist(), marks[FRAME_LIVE].tolist()
    pairs = enumerate(zip(owners, states, strict=True))
    return next((row for row, (owner, state) in pairs if owner == seat + 1 and state == CORPSE), None)


def remove(world: World, row: int, reason: Reason) -> None:
    """Take a corpse away and free its column."""
    block = world.block
    world.emit(
        BodyRemoved,
        seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
        cause=int(block.body_marks[BODY_DIED, row]),
        life=int(block.body_marks[BODY_LIFE, row]),
        reason=reason,
    )
    for view in (block.bodies, block.body_marks, block.ready, block.pools, block.pools_since):
        view[:, row] = 0
    for timer in (DUE_REMOVE, DUE_RELEASE, DUE_RECOVERED):
        block.timers[timer][row] = NEVER


def row_of(world: World, seat: int) -> int | None:
    """The column of a seat's living body, or None."""
    row = int(world.block.seat_marks[SEAT_BODY, seat]) - 1
    return None if row < 0 else row
