"""Whether a body may begin an attack, beginning it, taking it through its stages, and breaking it off."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import bodies, pools
from emberwound.bout.block import (
    BODY_ANCHOR,
    BODY_ATTACK,
    BODY_BEGAN,
    BODY_CHARGE,
    BODY_CHARGING,
    BODY_REPEAT,
    BODY_STAGE,
    DUE_STAGE,
    TICK,
)
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_OWNER
from emberwound.plan.plane import turned
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import AttackBegan, ChargeBegan, Interrupted
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World

STATE_REASONS = {
    bodies.MOVING: Reason.MOVING,
    bodies.AIRBORNE: Reason.AIRBORNE,
    bodies.GUARDING: Reason.GUARDING,
}


class Hindrance(NamedTuple):
    """Why an attack cannot begin now, and the tick from which it can, where that is known."""

    reason: Reason
    ready: int | None
    pool: str | None = None
    needs: float | None = None
    has: float | None = None


def hindrance(world: World, row: int, slot: int, *, repeat: bool = False) -> Hindrance | None:
    """Why a body cannot begin the attack in `slot` now; None when it can. A held repeat keeps its own time."""
    block, tick = world.block, world.counts[TICK]
    attack = bodies.fighter_of(world, row).attacks[slot]
    found = None
    held = pools.values(world, row) if attack.cost else []
    for index, points in attack.cost:
        if held[index] < points:
            pool = bodies.fighter_of(world, row).bears.pools[index].name
            ready = pools.tick_of(world, row, index, points)
            return Hindrance(Reason.COST, ready, pool, points, held[index])
    busy = bodies.attack_of(world, row)
    if busy is not None:
        found = Hindrance(Reason.ATTACKING, _end_tick(world, row))
    ready = int(block.ready[slot, row])
    if ready > tick and not repeat and (found is None or found.ready is None or ready > found.ready):
        found = Hindrance(Reason.COOLDOWN, ready)
    if found is None:
        for state in bodies.states_of(world, row):
            if state not in attack.states:
                return Hindrance(STATE_REASONS[state], None)
    return found


def _end_tick(world: World, row: int) -> int | None:
    marks = world.block.body_marks
    attack = bodies.attack_of(world, row)
    if attack is None or marks[BODY_CHARGING, row]:
        return None
    return attack.tick_of(attack.stages[-1].at, int(marks[BODY_ANCHOR, row]), int(marks[BODY_REPEAT, row]))


def begin(world: World, row: int, slot: int, *, anchor: int | None = None, repeat: int = 0) -> None:
    """Begin an attack: pay for it, and do what it does on this tick; the rest goes on the agenda.

    A held repeat is the `repeat`-th after the attack that began on tick `anchor`.
    """
    block = world.block
    fighter = bodies.fighter_of(world, row)
    attack = fighter.attacks[slot]
    marks = block.body_marks
    charging = int(marks[BODY_CHARGING, row])
    share = None
    if attack.charge:
        share = min((world.counts[TICK] - charging + 1) / attack.charge.ticks, 1.0) if charging else 0.0
    marks[BODY_CHARGING, row] = 0
    block.bodies[BODY_CHARGE, row] = share or 0.0
    marks[BODY_ANCHOR, row] = world.counts[TICK] if anchor is None else anchor
    marks[BODY_REPEAT, row] = repeat
    marks[BODY_STAGE, row] = 0
    marks[BODY_ATTACK, row] = slot + 1
    began = marks[BODY_BEGAN, row] = world.emit(
        AttackBegan,
        seat=world.names[marks[FRAME_OWNER, row] - 1],
        attack=attack.name,
        release_tick=attack.tick_of(attack.first, int(marks[BODY_ANCHOR, row]), repeat),
        charge=share,
    )
    if attack.cost:
        held = pools.values(world, row)
        paid = [*held]
        for index, points in attack.cost:
            paid[index] = max(paid[index] - points, 0.0)
        seat = world.names[marks[FRAME_OWNER, row] - 1]
        pools.tell_emptied(world, seat, pools.spend(world, row, held, paid), began)
    if attack.pose_last:
        bodies.pose(world, row, attack.pose, attack.pose_last)
    if attack.launch is None:
        block.ready[slot, row] = world.counts[TICK] + attack.cooldown_ticks
    bodies.follow_orders(world, row)
    run_stages(world, row)


def begin_charge(world: World, row: int, slot: int) -> None:
    """Hold an attack back to charge it."""
    block = world.block
    block.body_marks[BODY_ATTACK, row] = slot + 1
    block.body_marks[BODY_CHARGING, row] = world.counts[TICK] + 1
    seat = world.names[block.body_marks[FRAME_OWNER, row] - 1]
    block.body_marks[BODY_BEGAN, row] = world.emit(
        ChargeBegan, seat=seat, attack=bodies.fighter_of(world, row).attacks[slot].name
    )
    bodies.follow_orders(world, row)


def run_stages(world: World, row: int) -> None:
    """Do all that a body's attack does up to this tick, and put the rest on the agenda."""
    block, tick = world.block, world.counts[TICK]
    marks = block.body_marks
    slot = int(marks[BODY_ATTACK, row]) - 1
    attack = bodies.fighter_of(world, row).attacks[slot]
    anchor, repeat = int(marks[BODY_ANCHOR, row]), int(marks[BODY_REPEAT, row])
    for number in range(int(marks[BODY_STAGE, row]), len(attack.stages)):
        stage = attack.stages[number]
        due = attack.tick_of(stage.at, anchor, repeat)
        if due > tick:
            marks[BODY_STAGE, row] = number
            block.timers[DUE_STAGE][row] = due
            world.wake(due)
            return
        if stage.action == "release":
            world.releasing.append((row, slot, int(marks[BODY_BEGAN, row]), stage.index))
        elif stage.action == "lunge":
            velocity = turned(attack.lunge, block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist())
            lasting = any(each.action == "coast" for each in attack.stages)
            bodies.lunge(world, row, velocity, lasting=lasting)
        elif stage.action == "coast":
            bodies.coast(world, row)
    _end(world, row)


def _end(world: World, row: int) -> None:
    block = world.block
    attack = bodies.attack_of(world, row)
    block.body_marks[BODY_ATTACK, row] = 0
    block.body_marks[BODY_CHARGING, row] = 0
    block.timers[DUE_STAGE][row] = NEVER
    bodies.coast(world, row)
    if attack is not None and bodies.GUARDING not in attack.states:
        bodies.raise_guard(world, row)
    if attack is not None and attack.pose_last:
        bodies.pose(world, row, bodies.fighter_of(world, row).rest_pose, 0)
    bodies.follow_orders(world, row)


def break_off(world: World, row: int, reason: Reason, time: float | None = None) -> None:
    """Cut off what a body was about to do."""
    block = world.block
    attack = bodies.attack_of(world, row)
    if attack is None:
        return
    world.emit(
        Interrupted,
        time=time,
        seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
        cause=int(block.body_marks[BODY_BEGAN, row]),
        attack=attack.name,
        reason=reason,
    )
    _end(world, row)
