"""Whether a body may begin an attack, beginning it, and breaking it off."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import BODY_ATTACK, BODY_BEGAN, DUE_RECOVERED, DUE_RELEASE, TICK
from emberwound.geometry.pose import FRAME_MODEL, FRAME_OWNER
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import AttackBegan, Interrupted
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World


def hindrance(world: World, row: int, slot: int) -> tuple[Reason, int] | None:
    """Why a body cannot begin the attack in `slot` now, and the tick from which it can; None when it can."""
    block, tick = world.block, world.counts[TICK]
    found = None
    if block.body_marks[BODY_ATTACK, row]:
        found = (Reason.ATTACKING, int(block.timers[DUE_RECOVERED][row]))
    ready = int(block.ready[slot, row])
    if ready > tick and (found is None or ready > found[1]):
        found = (Reason.COOLDOWN, ready)
    return found


def begin(world: World, row: int, slot: int) -> None:
    """Begin an attack: its release and its end go on the agenda, or happen in this tick."""
    block, tick = world.block, world.counts[TICK]
    attack = world.plan.fighters[block.body_marks[FRAME_MODEL, row]].attacks[slot]
    began = world.emit(
        AttackBegan,
        seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
        attack=attack.name,
        release_tick=tick + attack.release_ticks,
    )
    block.body_marks[BODY_BEGAN, row] = began
    if attack.whole_ticks:
        block.body_marks[BODY_ATTACK, row] = slot + 1
        block.timers[DUE_RECOVERED][row] = tick + attack.whole_ticks
        world.wake(tick + attack.whole_ticks)
    if attack.release_ticks:
        block.timers[DUE_RELEASE][row] = tick + attack.release_ticks
        world.wake(tick + attack.release_ticks)
    else:
        world.releasing.append((row, slot, began))


def break_off(world: World, row: int, reason: Reason, time: float) -> None:
    """Cut off what a body was about to do."""
    block = world.block
    slot = int(block.body_marks[BODY_ATTACK, row]) - 1
    if slot < 0:
        return
    world.emit(
        Interrupted,
        time=time,
        seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
        cause=int(block.body_marks[BODY_BEGAN, row]),
        attack=world.plan.fighters[block.body_marks[FRAME_MODEL, row]].attacks[slot].name,
        reason=reason,
    )
    block.body_marks[BODY_ATTACK, row] = 0
    block.timers[DUE_RELEASE][row] = NEVER
    block.timers[DUE_RECOVERED][row] = NEVER
