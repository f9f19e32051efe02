"""Phase 3: shots leave their muzzles."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import shots
from emberwound.bout.block import AIM, TICK
from emberwound.bout.phases.orders import press_name, refuse
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_MODEL, FRAME_OWNER, FRAME_START
from emberwound.plan.plane import turned
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def release(world: World) -> None:
    """Let fly what is due, from where its owner stands at the start of the tick, the way it then looks and aims."""
    if not world.releasing:
        return
    for row, slot, began in world.releasing:
        _release(world, row, slot, began)
    world.releasing.clear()


def _release(world: World, row: int, slot: int, began: int) -> None:
    block, tick = world.block, world.counts[TICK]
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter = world.plan.fighters[block.body_marks[FRAME_MODEL, row]]
    attack = fighter.attacks[slot]
    if shots.is_full(world):
        refuse(world, seat, press_name(world, seat, slot), Reason.SHOTS_FULL, None)
        return
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
    x, y, z = block.bodies[FRAME_START : FRAME_START + 3, row].tolist()
    mx, my, mz = turned(attack.shot.muzzle, ahead)
    dx, dy, dz = turned(block.seats[AIM : AIM + 3, seat].tolist(), ahead)
    speed = attack.shot.speed
    velocity = (dx * speed, dy * speed, dz * speed)
    shots.launch(world, seat, fighter, slot, (x + mx, y + my, z + mz), velocity, began)
    block.ready[slot, row] = tick + attack.cooldown_ticks - attack.release_ticks
