"""Whether a body may begin an attack, beginning it, running its stages, and interrupting it."""

from __future__ import annotations

from math import floor
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.attacks import hitboxes
from emberwound.bout.bodies import movement, pools
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Timer, index_of_mark, mark_of
from emberwound.bout.state.queries import become, become_free
from emberwound.geometry.layout import BodyColumn, BodyMark, Presence
from emberwound.plan.space import turned
from emberwound.vocabulary.action_state import ActionState
from emberwound.vocabulary.clock import CLOSE, NEVER, exact_ticks, on_grid
from emberwound.vocabulary.events import AttackBegan, ChargeBegan, Interrupted
from emberwound.vocabulary.events.base import TICK_START
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World, WorldState
    from emberwound.plan.attack_plans import AttackPlan, Stage

STATE_REASONS = {
    movement.MOVING: Reason.MOVING,
    movement.AIRBORNE: Reason.AIRBORNE,
    movement.GUARDING: Reason.GUARDING,
}


class Blocked(NamedTuple):
    """Why an attack cannot begin now, and the tick from which it can, where that is known."""

    reason: Reason
    ready: int | None
    pool: str | None = None
    needs: float | None = None
    has: float | None = None


class Outlook(NamedTuple):
    """What a press would come to: the slot it begins, what hinders that, and the tick a follow-up waits for."""

    slot: int
    blocked: Blocked | None
    awaits: int | None = None


def outlook(world: World, body: int, press: int) -> Outlook:
    """What pressing a slot comes to now: its attack, or another that may follow the one at hand."""
    busy, tick = queries.attack_of(world, body), world.counts[Count.TICK]
    marks = world.block.body_marks
    if (
        busy is None
        or marks[BodyMark.CHARGING_SINCE, body]
        or marks[BodyMark.STRIKE_OVER, body]
        or marks[BodyMark.FROZEN_UNTIL, body] > tick
    ):
        return Outlook(press, blocked_by(world, body, press))
    anchor, repeat = int(marks[BodyMark.ATTACK_TICK, body]), int(marks[BodyMark.REPEAT, body])
    for window in busy.cancel_windows:
        if window.press != press:
            continue
        opens = busy.tick_of(window.opens, anchor, repeat)
        if opens <= tick < max(busy.tick_of(window.closes, anchor, repeat), opens + 1):
            return Outlook(window.slot, blocked_by(world, body, window.slot, through=True))
        if tick < opens:
            return Outlook(press, Blocked(Reason.ATTACKING, opens), opens if window.follows else None)
    return Outlook(press, blocked_by(world, body, press))


def _locked(world: World, body: int) -> Blocked | None:
    """That hit stop or a reaction keeps a body from attacking, and until when."""
    frozen = int(world.block.body_marks[BodyMark.FROZEN_UNTIL, body])
    if frozen > world.counts[Count.TICK]:
        return Blocked(Reason.FROZEN, frozen)
    if "attack" not in queries.locks_of(world, body):
        return None
    if world.block.body_marks[BodyMark.HELD_BY, body]:
        return Blocked(Reason.HELD, int(world.block.timers[Timer.GRAB_END][body]))
    return Blocked(Reason.REACTING, int(world.block.timers[Timer.REACTION_END][body]))


def blocked_by(world: World, body: int, slot: int, *, repeat: bool = False, through: bool = False) -> Blocked | None:
    """Why a body cannot begin the attack in `slot` now; None when it can.

    A held repeat keeps its own time; `through` an opening in it, the attack at hand does not block it.
    """
    block, tick = world.block, world.counts[Count.TICK]
    attack = queries.fighter_of(world, body).attacks[slot]
    found = _locked(world, body)
    held = pools.values(world, body) if attack.cost else []
    for index, points in attack.cost:
        if held[index] < points:
            pool = queries.fighter_of(world, body).stats.pools[index].name
            ready = pools.tick_of(world, body, index, points)
            return Blocked(Reason.COST, ready, pool, points, held[index])
    busy = None if through else queries.attack_of(world, body)
    if busy is not None and found is None:
        found = Blocked(Reason.ATTACKING, _end_tick(world, body))
    ready = int(block.ready[slot, body])
    if ready > tick and not repeat and (found is None or found.ready is None or ready > found.ready):
        found = Blocked(Reason.COOLDOWN, ready)
    if attack.table.throw and not world.block.body_marks[BodyMark.HOLDS, body]:
        return Blocked(Reason.HOLDS_NOBODY, None)
    if world.has_stages and not queries.usable_attacks(world, body) >> slot & 1:
        return Blocked(Reason.OTHER_STAGE, None)
    if found is None:
        for state in queries.states_of(world, body):
            if state not in attack.table.allowed_while:
                return Blocked(STATE_REASONS[state], None)
    return found


def _end_tick(world: WorldState, body: int) -> int | None:
    marks = world.block.body_marks
    attack = queries.attack_of(world, body)
    if attack is None or marks[BodyMark.CHARGING_SINCE, body]:
        return None
    if marks[BodyMark.STRIKE_OVER, body]:
        return int(marks[BodyMark.STRIKE_OVER, body]) - 1
    return attack.tick_of(
        attack.stages[-1].at, int(marks[BodyMark.ATTACK_TICK, body]), int(marks[BodyMark.REPEAT, body])
    )


def begin(world: World, body: int, slot: int, *, anchor: int | None = None, repeat: int = 0) -> None:
    """Begin an attack: pay for it, and do what it does on this tick; the rest goes on the agenda.

    A held repeat is the `repeat`-th after the attack that began on tick `anchor`. One still at hand is left for it.
    """
    block = world.block
    left = _leave(world, body)
    fighter = queries.fighter_of(world, body)
    attack = fighter.attacks[slot]
    marks = block.body_marks
    charging = int(marks[BodyMark.CHARGING_SINCE, body])
    share = None
    if attack.charge:
        share = min((world.counts[Count.TICK] - charging + 1) / attack.charge.ticks, 1.0) if charging else 0.0
    marks[BodyMark.CHARGING_SINCE, body] = 0
    block.bodies[BodyColumn.CHARGE, body] = share or 0.0
    marks[BodyMark.ATTACK_TICK, body] = world.counts[Count.TICK] if anchor is None else anchor
    marks[BodyMark.REPEAT, body] = repeat
    marks[BodyMark.NEXT_STAGE, body] = 0
    marks[BodyMark.ATTACK, body] = mark_of(slot)
    began = marks[BodyMark.ATTACK_SEQ, body] = world.emit(
        AttackBegan(
            seat=world.name_of_body(body),
            attack=attack.name,
            release_tick=attack.first_tick(int(marks[BodyMark.ATTACK_TICK, body]), repeat),
            charge=share,
            follows=left,
        )
    )
    become(world, body, ActionState.ATTACKING)
    if attack.strike:
        hitboxes.begin(world, body)
    if attack.cost:
        held = pools.values(world, body)
        paid = [*held]
        for index, points in attack.cost:
            paid[index] = max(paid[index] - points, 0.0)
        seat = world.name_of_body(body)
        pools.emit_emptied(world, seat, pools.spend(world, body, held, paid), began)
    if attack.pose_last:
        movement.pose(world, body, attack.pose, attack.pose_last)
    if attack.launch is None:
        block.ready[slot, body] = world.counts[Count.TICK] + attack.cooldown_ticks
    movement.follow_orders(world, body)
    run_stages(world, body)


def begin_charge(world: World, body: int, slot: int) -> None:
    """Hold an attack back to charge it."""
    block = world.block
    block.body_marks[BodyMark.ATTACK, body] = mark_of(slot)
    block.body_marks[BodyMark.CHARGING_SINCE, body] = world.counts[Count.TICK] + 1
    become(world, body, ActionState.CHARGING)
    seat = world.name_of_body(body)
    block.body_marks[BodyMark.ATTACK_SEQ, body] = world.emit(
        ChargeBegan(seat=seat, attack=queries.fighter_of(world, body).attacks[slot].name)
    )
    movement.follow_orders(world, body)


def run_stages(world: World, body: int) -> None:
    """Do all that a body's attack does up to this tick, and put the rest on the agenda."""
    block, tick = world.block, world.counts[Count.TICK]
    marks = block.body_marks
    slot = index_of_mark(int(marks[BodyMark.ATTACK, body]))
    attack = queries.fighter_of(world, body).attacks[slot]
    anchor, repeat = int(marks[BodyMark.ATTACK_TICK, body]), int(marks[BodyMark.REPEAT, body])
    over = int(marks[BodyMark.STRIKE_OVER, body]) - 1 if marks[BodyMark.STRIKE_OVER, body] else NEVER
    if over <= tick:
        _end(world, body)
        return
    for index in range(int(marks[BodyMark.NEXT_STAGE, body]), len(attack.stages)):
        stage = attack.stages[index]
        due = attack.due(stage, anchor, repeat)
        if due > tick:
            due = min(due, over)
            marks[BodyMark.NEXT_STAGE, body] = index
            block.timers[Timer.ATTACK_STAGE][body] = due
            world.wake(due)
            return
        if stage.action in _OF_STRIKES:
            hitboxes.open_or_close(world, body, attack, stage)
        elif over == NEVER:
            _do(world, body, slot, stage)
    _end(world, body)


_OF_STRIKES = frozenset({"open", "close"})


def _do(world: World, body: int, slot: int, stage: Stage) -> None:
    """Do one thing that an attack does, but for its hitboxes and its end."""
    block = world.block
    attack = queries.fighter_of(world, body).attacks[slot]
    if stage.action == "release":
        world.releasing.append((body, slot, int(block.body_marks[BodyMark.ATTACK_SEQ, body])))
        if stage.index == 0 and attack.launch is not None:
            block.ready[slot, body] = world.counts[Count.TICK] + attack.cooldown_ticks - attack.release_ticks
    elif stage.action == "lunge":
        velocity = turned(attack.lunge, block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist())
        lasting = any(each.action == "coast" for each in attack.stages)
        movement.lunge(world, body, velocity, lasting=lasting)
    elif stage.action == "coast":
        movement.coast(world, body)
    elif stage.action in ("shield", "bare"):
        movement.cover(world, body, protected=stage.action == "shield")
    elif stage.action == "hide":
        movement.cover(world, body, hide=1 << attack.hides[stage.index])
    elif stage.action == "show":
        movement.cover(world, body, show=1 << attack.hides[stage.index])


def _end(world: World, body: int, time: float = TICK_START) -> None:
    block = world.block
    attack = queries.attack_of(world, body)
    if attack is not None and attack.strike:
        hitboxes.end(world, body, attack, time)
    for mark in (BodyMark.ATTACK, BodyMark.CHARGING_SINCE, BodyMark.STRIKE_OVER):
        block.body_marks[mark, body] = 0
    block.timers[Timer.ATTACK_STAGE][body] = NEVER
    if block.body_marks[BodyMark.PRESENCE, body] != Presence.LIVE:
        return
    become_free(world, body)
    _uncover(world, body)
    if attack is not None and movement.GUARDING not in attack.table.allowed_while:
        movement.raise_guard(world, body)
    if attack is not None and attack.pose_last:
        movement.rest(world, body)
    movement.follow_orders(world, body)


def _uncover(world: World, body: int) -> None:
    """Take back what an attack did to its owner."""
    marks = world.block.body_marks
    movement.coast(world, body)
    if marks[BodyMark.HIDDEN, body] or marks[BodyMark.PROTECTED, body]:
        movement.cover(world, body, show=-1, protected=False)


def _leave(world: World, body: int) -> str | None:
    """End the attack at hand for one that follows it; its name."""
    attack = queries.attack_of(world, body)
    if attack is None or world.block.body_marks[BodyMark.CHARGING_SINCE, body]:
        return None
    _emit_interrupted(world, body, attack, Reason.FOLLOWED, TICK_START, None)
    _end(world, body)
    return attack.name


def abandon(world: World, body: int, reason: Reason, time: float = TICK_START) -> None:
    """Cut off what a body is about to do at once, its strike too."""
    attack = queries.attack_of(world, body)
    if attack is not None:
        if not world.block.body_marks[BodyMark.STRIKE_OVER, body]:
            _emit_interrupted(world, body, attack, reason, time, None)
        _end(world, body, time)


def interrupt(world: World, body: int, reason: Reason, time: float, wound: int) -> None:
    """Cut off what a body was about to do at an exact time, by a wound; a strike still counts for the trade window."""
    block, rate = world.block, world.plan.tick_rate
    attack = queries.attack_of(world, body)
    if attack is None or block.body_marks[BodyMark.STRIKE_OVER, body]:
        return
    _emit_interrupted(world, body, attack, reason, time, wound)
    if attack.strike is None or block.body_marks[BodyMark.CHARGING_SINCE, body]:
        _end(world, body)
        return
    until = on_grid(exact_ticks(time, rate) + world.plan.trade_ticks)
    over = floor(until) + 1
    hitboxes.limit(world, body, until + CLOSE)
    block.body_marks[BodyMark.STRIKE_OVER, body] = over + 1
    _uncover(world, body)
    due = max(min(int(block.timers[Timer.ATTACK_STAGE][body]), over), world.counts[Count.TICK] + 1)
    block.timers[Timer.ATTACK_STAGE][body] = due
    world.wake(due)


def _emit_interrupted(
    world: World, body: int, attack: AttackPlan, reason: Reason, time: float, wound: int | None
) -> None:
    marks = world.block.body_marks
    world.emit(
        Interrupted(
            time=time,
            seat=world.name_of_body(body),
            cause=int(marks[BodyMark.ATTACK_SEQ, body]) if wound is None else wound,
            attack=attack.name,
            reason=reason,
        )
    )
