"""Phase 7: what the wounds lead to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import afflictions, attacks, bodies
from emberwound.bout.block import (
    DUE_REMOVE,
    DUE_RESPAWN,
    LAY,
    SEAT_BODY,
    SEAT_CHAIN,
    SEAT_DIED,
    SEAT_HOLD,
    SEAT_KEPT,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_TOLD,
    TICK,
)
from emberwound.bout.presses import forget_kept, press_name, refuse_for_the_dead
from emberwound.geometry.pose import FRAME_END, FRAME_OWNER
from emberwound.vocabulary.events import Died
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import Slain, World


def aftermath(world: World) -> None:
    """Deaths, in the order of their lethal wounds: what the body did breaks off, it falls, the seat's wait begins."""
    if not world.slain:
        return
    for slain in world.slain.values():
        _die(world, slain)
    world.slain.clear()


def _die(world: World, slain: Slain) -> None:
    block, row = world.block, slain.row
    after = world.counts[TICK] + 1
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter = world.fighter_of_seat(seat)
    lives = int(block.seat_marks[SEAT_LIVES, seat]) - 1
    block.seat_marks[SEAT_LIVES, seat] = lives
    if lives > 0:
        block.timers[DUE_RESPAWN][seat] = after + fighter.respawn_ticks
        world.wake(after + fighter.respawn_ticks)
    died = world.emit(
        Died,
        time=slain.time,
        seat=world.names[seat],
        by=slain.by,
        cause=slain.wound,
        attack=slain.attack,
        hurtbox=slain.hurtbox,
        position=world.point(block.bodies[FRAME_END : FRAME_END + 3, row]),
        overkill=slain.overkill,
        life=int(block.seat_marks[SEAT_LIFE, seat]),
        lives_left=lives,
        returns_tick=after + fighter.respawn_ticks if lives > 0 else None,
    )
    attacks.break_off(world, row, Reason.OWNER_DIED, slain.time)
    kept = int(block.seat_marks[SEAT_KEPT, seat]) - 1
    if kept >= 0:
        forget_kept(world, seat)
        refuse_for_the_dead(world, seat, press_name(world, seat, kept), slain.time)
    older = bodies.corpse_of(world, seat)
    if older is not None:
        bodies.remove(world, older, Reason.NEWER_CORPSE)
    afflictions.end_all(world, row, Reason.VICTIM_DIED, slain.time)
    bodies.fall(world, row, died)
    block.seat_marks[SEAT_DIED, seat] = died
    for mark in (SEAT_HOLD, SEAT_CHAIN, SEAT_TOLD):
        block.seat_marks[mark, seat] = 0
    block.timers[DUE_REMOVE][row] = after + fighter.corpse_ticks
    world.wake(after + fighter.corpse_ticks)
    block.seat_marks[SEAT_BODY, seat] = 0
    world.counts[LAY] = 2
