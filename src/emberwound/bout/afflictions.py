"""Lingering wounds: they begin with a blow, work on their exact beat, and end by time, cure or death."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import attacks, bodies, conditions, credit, pools
from emberwound.bout.block import (
    AFFLICTED,
    AFFLICTED_BEAT,
    AFFLICTED_BY,
    AFFLICTED_CAUSE,
    AFFLICTED_SINCE,
    AFFLICTED_UNTIL_FROM,
    DUE_AFFLICTION,
    MOST_AFFLICTIONS,
    TICK,
)
from emberwound.bout.world import Slain
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import deal
from emberwound.geometry.pose import FRAME_OWNER, FRAME_PROTECTED
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import ALL_OVER, AfflictionBegan, AfflictionEnded, Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.bout.wounds import Blow, Landed
    from emberwound.plan.attack_plans import AfflictionPlan


def afflict(world: World, blow: Blow, landed: Landed, cause: int) -> None:
    """Begin what a blow leaves behind, by each affliction's own rule for more than one of it."""
    for index in blow.afflicts:
        _begin(world, landed.body, index, blow, landed.time, cause)


def _begin(world: World, body: int, index: int, blow: Blow, time: float, cause: int) -> None:
    plan = world.plan.afflictions[index]
    strength = 1.0 if blow.charge is None else blow.charge
    same = [column for column in _columns(world, body) if _index(world, column) == index]
    marks, strengths = world.block.afflicted_marks, world.block.afflicted
    if plan.stacking == "strongest" and same and strengths[AFFLICTED, same[0]] > strength:
        return
    if same and (plan.stacking != "add" or len(same) >= plan.most):
        column = min(same, key=lambda each: int(marks[AFFLICTED_UNTIL_FROM, each]))
        strengths[AFFLICTED, column] = (
            strength if plan.stacking == "strongest" else max(strength, float(strengths[AFFLICTED, column]))
        )
    else:
        free = [each for each in _span(body) if not marks[AFFLICTED, each]]
        if not free:
            return
        column = free[0]
        marks[AFFLICTED, column] = index + 1
        marks[AFFLICTED_SINCE, column] = world.counts[TICK] + 1
        strengths[AFFLICTED, column] = strength
    marks[AFFLICTED_BY, column] = blow.by + 1
    marks[AFFLICTED_UNTIL_FROM, column] = world.counts[TICK] + 1
    marks[AFFLICTED_CAUSE, column] = world.emit(
        AfflictionBegan,
        time=time,
        seat=_seat(world, body),
        by=world.name_of(blow.by),
        cause=cause,
        affliction=plan.name,
        count=len([each for each in _columns(world, body) if _index(world, each) == index]),
        until_tick=_end_tick(world, column, plan),
    )
    _schedule(world, column, plan)
    _feel(world, body)


def _span(body: int) -> range:
    return range(body * MOST_AFFLICTIONS, (body + 1) * MOST_AFFLICTIONS)


def _columns(world: World, body: int) -> list[int]:
    if not world.plan.afflictions:
        return []
    first = body * MOST_AFFLICTIONS
    marks = world.block.afflicted_marks[AFFLICTED, first : first + MOST_AFFLICTIONS].tolist()
    return [first + number for number, mark in enumerate(marks) if mark]


def _index(world: World, column: int) -> int:
    return int(world.block.afflicted_marks[AFFLICTED, column]) - 1


def _seat(world: World, body: int) -> str:
    return world.names[int(world.block.body_marks[FRAME_OWNER, body]) - 1]


def _beat_tick(world: World, column: int, plan: AfflictionPlan) -> int | None:
    """The tick of its next wound; None when there is none before it ends. Beats are exact multiples from its start."""
    if plan.every is None:
        return None
    marks = world.block.afflicted_marks
    since, until_from = int(marks[AFFLICTED_SINCE, column]), int(marks[AFFLICTED_UNTIL_FROM, column])
    late = (int(marks[AFFLICTED_BEAT, column]) + 1) * plan.every
    if late > until_from - since + plan.lasts:
        return None
    return since - int(-late // 1)


def _end_tick(world: World, column: int, plan: AfflictionPlan) -> int:
    return int(world.block.afflicted_marks[AFFLICTED_UNTIL_FROM, column]) - int(-plan.lasts // 1)


def _schedule(world: World, column: int, plan: AfflictionPlan) -> None:
    beat, end = _beat_tick(world, column, plan), _end_tick(world, column, plan)
    due = end if beat is None else min(beat, end)
    world.block.timers[DUE_AFFLICTION][column] = due
    world.wake(due)


def work(world: World, column: int) -> None:
    """What is due of an affliction: a wound, judged in this tick before all blows, its end, or both in that order."""
    plan = world.plan.afflictions[_index(world, column)]
    marks = world.block.afflicted_marks
    beat = _beat_tick(world, column, plan)
    if beat is not None and beat <= world.counts[TICK]:
        marks[AFFLICTED_BEAT, column] += 1
        strength = float(world.block.afflicted[AFFLICTED, column])
        by, cause = int(marks[AFFLICTED_BY, column]) - 1, int(marks[AFFLICTED_CAUSE, column])
        world.smarting.append((column // MOST_AFFLICTIONS, _index(world, column), by, strength, cause))
    if _beat_tick(world, column, plan) is None and _end_tick(world, column, plan) <= world.counts[TICK]:
        _end(world, column, Reason.TIME_OVER)
    else:
        _schedule(world, column, plan)


def _end(world: World, column: int, reason: Reason, time: float | None = None) -> None:
    body = column // MOST_AFFLICTIONS
    marks = world.block.afflicted_marks
    world.emit(
        AfflictionEnded,
        time=time,
        seat=_seat(world, body),
        by=world.name_of(int(marks[AFFLICTED_BY, column]) - 1),
        cause=int(marks[AFFLICTED_CAUSE, column]),
        affliction=world.plan.afflictions[_index(world, column)].name,
        reason=reason,
    )
    marks[:, column] = 0
    world.block.afflicted[:, column] = 0.0
    world.block.timers[DUE_AFFLICTION][column] = NEVER
    _feel(world, body)


def end_all(world: World, body: int, reason: Reason, time: float | None = None) -> None:
    """End all afflictions of a body."""
    for column in _columns(world, body):
        _end(world, column, reason, time)


def cure(world: World, body: int, kind: str, time: float) -> None:
    """End those afflictions of a body that healing of this kind cures."""
    for column in _columns(world, body):
        if kind in world.plan.afflictions[_index(world, column)].cured_by:
            _end(world, column, Reason.CURED, time)


def judge(world: World) -> None:
    """Deal the wounds that afflictions brought in this tick, at its very start; the protected are spared theirs."""
    time = world.counts[TICK] / world.plan.tick_rate
    for body, index, by, strength, cause in world.smarting:
        if world.block.body_marks[FRAME_PROTECTED, body]:
            continue
        plan = world.plan.afflictions[index]
        fighter = conditions.fighter_of(world, body)
        bears, before = pools.bears_of(world, body), pools.values(world, body)
        charge = strength if strength != 1.0 else None
        hit = Circumstance(plan.name, fighter.name, charge=charge, marked=marked(world, body))
        ledger, after = deal(plan.wound, fighter.all_over, bears, before, world.plan.house, hit)
        credit.note(world, body, by, time)
        emptied = pools.spend(world, body, before, after)
        wound = world.emit(
            Wounded,
            seat=_seat(world, body),
            by=world.name_of(by),
            cause=cause,
            attack=plan.name,
            kind=plan.wound.kind,
            shot=0,
            hurtbox=ALL_OVER,
            position=world.point(conditions.place_of(world, body)),
            amount=ledger.amount,
            ledger=ledger,
            vital_left=after[bears.vital],
            vital_max=bears.pools[bears.vital].maximum,
        )
        pools.tell_emptied(world, _seat(world, body), emptied, wound)
        if ledger.amount > 0.0:
            attacks.may_break_off(world, body, plan.wound.kind, time, wound)
        if after[bears.vital] == 0.0:
            slain = Slain(body, wound, time, world.name_of(by), plan.name, ALL_OVER)
            world.slain.setdefault(body, slain).overkill += ledger.overkill
    world.smarting.clear()


def marked(world: World, body: int) -> float:
    """The share that a body's afflictions put on what it takes."""
    share = 1.0
    for column in _columns(world, body):
        share *= world.plan.afflictions[_index(world, column)].takes_share
    return share


def _feel(world: World, body: int) -> None:
    """Let a body walk and guard as its afflictions let it."""
    plans = [world.plan.afflictions[_index(world, column)] for column in _columns(world, body)]
    pace = 1.0
    for plan in plans:
        pace *= plan.speed_share
    bodies.slow(world, body, pace, guardless=any(plan.guardless for plan in plans))
