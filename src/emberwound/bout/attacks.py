"""Whether a body may begin an attack, beginning it, taking it through its stages, and breaking it off."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import bodies, conditions, pools, strikes
from emberwound.bout.block import (
    BODY_ANCHOR,
    BODY_ATTACK,
    BODY_BEGAN,
    BODY_CHARGE,
    BODY_CHARGING,
    BODY_OVER,
    BODY_REPEAT,
    BODY_STAGE,
    DUE_REACTION,
    DUE_STAGE,
    LIVE,
    TICK,
)
from emberwound.bout.doings import become, become_free
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_FROZEN, FRAME_HIDDEN, FRAME_LIVE, FRAME_OWNER, FRAME_PROTECTED
from emberwound.plan.plane import turned
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.doings import Doing
from emberwound.vocabulary.events import AttackBegan, ChargeBegan, Interrupted
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import AttackPlan, Stage

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


class Outlook(NamedTuple):
    """What a press would come to: the slot it begins, what hinders that, and the tick a follow-up waits for."""

    slot: int
    hindered: Hindrance | None
    awaits: int | None = None


def outlook(world: World, row: int, press: int) -> Outlook:
    """What pressing a slot comes to now: its attack, or another that may follow the one at hand."""
    busy, tick = conditions.attack_of(world, row), world.counts[TICK]
    marks = world.block.body_marks
    if busy is None or marks[BODY_CHARGING, row] or marks[BODY_OVER, row] or marks[FRAME_FROZEN, row] > tick:
        return Outlook(press, hindrance(world, row, press))
    anchor, repeat = int(marks[BODY_ANCHOR, row]), int(marks[BODY_REPEAT, row])
    for passage in busy.passages:
        if passage.press != press:
            continue
        opens = busy.tick_of(passage.opens, anchor, repeat)
        if opens <= tick < max(busy.tick_of(passage.closes, anchor, repeat), opens + 1):
            return Outlook(passage.slot, hindrance(world, row, passage.slot, through=True))
        if tick < opens:
            return Outlook(press, Hindrance(Reason.ATTACKING, opens), opens if passage.follows else None)
    return Outlook(press, hindrance(world, row, press))


def _locked(world: World, row: int) -> Hindrance | None:
    """That hit stop or a reaction keeps a body from attacking, and until when."""
    frozen = int(world.block.body_marks[FRAME_FROZEN, row])
    if frozen > world.counts[TICK]:
        return Hindrance(Reason.FROZEN, frozen)
    if "attack" not in conditions.locks_of(world, row):
        return None
    return Hindrance(Reason.REACTING, int(world.block.timers[DUE_REACTION][row]))


def hindrance(world: World, row: int, slot: int, *, repeat: bool = False, through: bool = False) -> Hindrance | None:
    """Why a body cannot begin the attack in `slot` now; None when it can.

    A held repeat keeps its own time; `through` an opening in it, the attack at hand is no hindrance.
    """
    block, tick = world.block, world.counts[TICK]
    attack = conditions.fighter_of(world, row).attacks[slot]
    found = _locked(world, row)
    held = pools.values(world, row) if attack.cost else []
    for index, points in attack.cost:
        if held[index] < points:
            pool = conditions.fighter_of(world, row).bears.pools[index].name
            ready = pools.tick_of(world, row, index, points)
            return Hindrance(Reason.COST, ready, pool, points, held[index])
    busy = None if through else conditions.attack_of(world, row)
    if busy is not None and found is None:
        found = Hindrance(Reason.ATTACKING, _end_tick(world, row))
    ready = int(block.ready[slot, row])
    if ready > tick and not repeat and (found is None or found.ready is None or ready > found.ready):
        found = Hindrance(Reason.COOLDOWN, ready)
    if found is None:
        for state in conditions.states_of(world, row):
            if state not in attack.states:
                return Hindrance(STATE_REASONS[state], None)
    return found


def _end_tick(world: World, row: int) -> int | None:
    marks = world.block.body_marks
    attack = conditions.attack_of(world, row)
    if attack is None or marks[BODY_CHARGING, row]:
        return None
    if marks[BODY_OVER, row]:
        return int(marks[BODY_OVER, row]) - 1
    return attack.tick_of(attack.stages[-1].at, int(marks[BODY_ANCHOR, row]), int(marks[BODY_REPEAT, row]))


def begin(world: World, row: int, slot: int, *, anchor: int | None = None, repeat: int = 0) -> None:
    """Begin an attack: pay for it, and do what it does on this tick; the rest goes on the agenda.

    A held repeat is the `repeat`-th after the attack that began on tick `anchor`. One still at hand is left for it.
    """
    block = world.block
    left = _leave(world, row)
    fighter = conditions.fighter_of(world, row)
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
        release_tick=attack.first_tick(int(marks[BODY_ANCHOR, row]), repeat),
        charge=share,
        follows=left,
    )
    become(world, row, Doing.ATTACKING)
    if attack.strike:
        strikes.begin(world, row)
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
    become(world, row, Doing.CHARGING)
    seat = world.names[block.body_marks[FRAME_OWNER, row] - 1]
    block.body_marks[BODY_BEGAN, row] = world.emit(
        ChargeBegan, seat=seat, attack=conditions.fighter_of(world, row).attacks[slot].name
    )
    bodies.follow_orders(world, row)


def run_stages(world: World, row: int) -> None:
    """Do all that a body's attack does up to this tick, and put the rest on the agenda."""
    block, tick = world.block, world.counts[TICK]
    marks = block.body_marks
    slot = int(marks[BODY_ATTACK, row]) - 1
    attack = conditions.fighter_of(world, row).attacks[slot]
    anchor, repeat = int(marks[BODY_ANCHOR, row]), int(marks[BODY_REPEAT, row])
    over = int(marks[BODY_OVER, row]) - 1 if marks[BODY_OVER, row] else NEVER
    if over <= tick:
        _end(world, row)
        return
    for number in range(int(marks[BODY_STAGE, row]), len(attack.stages)):
        stage = attack.stages[number]
        due = attack.due(stage, anchor, repeat)
        if due > tick:
            due = min(due, over)
            marks[BODY_STAGE, row] = number
            block.timers[DUE_STAGE][row] = due
            world.wake(due)
            return
        if stage.action in _OF_STRIKES:
            strikes.open_or_close(world, row, attack, stage)
        elif over == NEVER:
            _do(world, row, slot, stage)
    _end(world, row)


_OF_STRIKES = frozenset({"open", "close"})


def _do(world: World, row: int, slot: int, stage: Stage) -> None:
    """Do one thing that an attack does, but for its hitboxes and its end."""
    block = world.block
    attack = conditions.fighter_of(world, row).attacks[slot]
    if stage.action == "release":
        world.releasing.append((row, slot, int(block.body_marks[BODY_BEGAN, row]), stage.index))
    elif stage.action == "lunge":
        velocity = turned(attack.lunge, block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist())
        lasting = any(each.action == "coast" for each in attack.stages)
        bodies.lunge(world, row, velocity, lasting=lasting)
    elif stage.action == "coast":
        bodies.coast(world, row)
    elif stage.action in ("shield", "bare"):
        bodies.cover(world, row, protected=stage.action == "shield")
    elif stage.action == "hide":
        bodies.cover(world, row, hide=1 << attack.hides[stage.index])
    elif stage.action == "show":
        bodies.cover(world, row, show=1 << attack.hides[stage.index])


def _end(world: World, row: int) -> None:
    block = world.block
    attack = conditions.attack_of(world, row)
    if attack is not None and attack.strike:
        strikes.end(world, row, attack)
    for mark in (BODY_ATTACK, BODY_CHARGING, BODY_OVER):
        block.body_marks[mark, row] = 0
    block.timers[DUE_STAGE][row] = NEVER
    if block.body_marks[FRAME_LIVE, row] != LIVE:
        return
    become_free(world, row)
    _uncover(world, row)
    if attack is not None and bodies.GUARDING not in attack.states:
        bodies.raise_guard(world, row)
    if attack is not None and attack.pose_last:
        bodies.rest(world, row)
    bodies.follow_orders(world, row)


def _uncover(world: World, row: int) -> None:
    """Take back what an attack did to its owner."""
    marks = world.block.body_marks
    bodies.coast(world, row)
    if marks[FRAME_HIDDEN, row] or marks[FRAME_PROTECTED, row]:
        bodies.cover(world, row, show=-1, protected=False)


def _leave(world: World, row: int) -> str | None:
    """End the attack at hand for one that follows it; its name."""
    attack = conditions.attack_of(world, row)
    if attack is None or world.block.body_marks[BODY_CHARGING, row]:
        return None
    _tell_interrupted(world, row, attack, Reason.FOLLOWED, None, None)
    _end(world, row)
    return attack.name


def abandon(world: World, row: int, reason: Reason) -> None:
    """Cut off what a body is about to do at once, its strike too."""
    attack = conditions.attack_of(world, row)
    if attack is not None:
        if not world.block.body_marks[BODY_OVER, row]:
            _tell_interrupted(world, row, attack, reason, None, None)
        _end(world, row)


def break_off(world: World, row: int, reason: Reason, time: float, wound: int) -> None:
    """Cut off what a body was about to do at an exact time, by a wound; a strike still counts for the trade window."""
    block, rate = world.block, world.plan.tick_rate
    attack = conditions.attack_of(world, row)
    if attack is None or block.body_marks[BODY_OVER, row]:
        return
    _tell_interrupted(world, row, attack, reason, time, wound)
    if attack.strike is None or block.body_marks[BODY_CHARGING, row]:
        _end(world, row)
        return
    until = time * rate + world.plan.trade_ticks
    strikes.limit(world, row, until)
    block.body_marks[BODY_OVER, row] = ceil(until) + 1
    _uncover(world, row)
    due = max(min(int(block.timers[DUE_STAGE][row]), ceil(until)), world.counts[TICK] + 1)
    block.timers[DUE_STAGE][row] = due
    world.wake(due)


def _tell_interrupted(
    world: World, row: int, attack: AttackPlan, reason: Reason, time: float | None, wound: int | None
) -> None:
    marks = world.block.body_marks
    world.emit(
        Interrupted,
        time=time,
        seat=world.names[marks[FRAME_OWNER, row] - 1],
        cause=int(marks[BODY_BEGAN, row]) if wound is None else wound,
        attack=attack.name,
        reason=reason,
    )


def may_break_off(world: World, body: int, kind: str, time: float, wound: int) -> None:
    """Note that a wound of this kind breaks off what a body is doing, if it does; the first one of a tick counts."""
    attack = conditions.attack_of(world, body)
    if attack is not None and kind in attack.interrupted_by:
        world.broken.setdefault(body, (time, wound))
