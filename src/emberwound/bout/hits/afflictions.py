"""Lingering wounds: they begin with a hit, work on their exact beat, and end by time, cure or death."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement
from emberwound.bout.state.layout import AfflictionMark, Count, Limit, Timer, index_of_mark, mark_of
from emberwound.bout.state.pending import AfflictionTick
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import AfflictionBegan, AfflictionEnded
from emberwound.vocabulary.events.base import TICK_START
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World, WorldState
    from emberwound.plan.attack_plans import AfflictionPlan


def afflict(world: World, hit: Hit, where: HitLocation, cause: int) -> None:
    """Begin what a hit leaves behind, by each affliction's own rule for more than one of it."""
    for index in hit.plan.afflicts:
        _begin(world, where.body, index, hit, where.time, cause)


def _begin(world: World, body: int, index: int, hit: Hit, time: float, cause: int) -> None:
    plan = world.plan.afflictions[index]
    strength = 1.0 if hit.charge is None else hit.charge
    same = [column for column in _columns(world, body) if _index(world, column) == index]
    marks, strengths = world.block.afflicted_marks, world.block.afflicted
    if plan.table.stacking == "strongest" and same and strengths[0, same[0]] > strength:
        return
    if same and (plan.table.stacking != "add" or len(same) >= plan.table.max_stacks):
        column = min(same, key=lambda each: int(marks[AfflictionMark.RENEWED, each]))
        strengths[0, column] = (
            strength if plan.table.stacking == "strongest" else max(strength, float(strengths[0, column]))
        )
    else:
        free = [each for each in _room(body) if not marks[AfflictionMark.INDEX, each]]
        if not free:
            return
        column = free[0]
        marks[AfflictionMark.INDEX, column] = mark_of(index)
        marks[AfflictionMark.SINCE, column] = world.counts[Count.TICK] + 1
        strengths[0, column] = strength
    marks[AfflictionMark.BY, column] = mark_of(hit.by)
    marks[AfflictionMark.RENEWED, column] = world.counts[Count.TICK] + 1
    marks[AfflictionMark.SEQ, column] = world.emit(
        AfflictionBegan(
            time=time,
            seat=_seat(world, body),
            by=world.name_of(hit.by),
            cause=cause,
            affliction=plan.name,
            count=len([each for each in _columns(world, body) if _index(world, each) == index]),
            until_tick=_end_tick(world, column, plan),
        )
    )
    _schedule(world, column, plan)
    _feel(world, body)


def held(world: WorldState, body: int) -> list[tuple[str, str | None, float, int]]:
    """The afflictions of a body: name, whose, strength, and the tick each ends on."""
    marks, strengths = world.block.afflicted_marks, world.block.afflicted
    found = []
    for column in _columns(world, body):
        plan = world.plan.afflictions[_index(world, column)]
        by = world.name_of(index_of_mark(int(marks[AfflictionMark.BY, column])))
        found.append((plan.name, by, float(strengths[0, column]), _end_tick(world, column, plan)))
    return found


def _room(body: int) -> range:
    return range(body * Limit.AFFLICTIONS, (body + 1) * Limit.AFFLICTIONS)


def _columns(world: WorldState, body: int) -> list[int]:
    if not world.plan.afflictions:
        return []
    first = body * Limit.AFFLICTIONS
    marks = world.block.afflicted_marks[AfflictionMark.INDEX, first : first + Limit.AFFLICTIONS].tolist()
    return [first + index for index, mark in enumerate(marks) if mark]


def _index(world: WorldState, column: int) -> int:
    return index_of_mark(int(world.block.afflicted_marks[AfflictionMark.INDEX, column]))


def _seat(world: World, body: int) -> str:
    return world.name_of_body(body)


def _beat_tick(world: World, column: int, plan: AfflictionPlan) -> int | None:
    """The tick of its next wound; None when there is none before it ends. Beats are exact multiples from its start."""
    if plan.every is None:
        return None
    marks = world.block.afflicted_marks
    since, until_from = int(marks[AfflictionMark.SINCE, column]), int(marks[AfflictionMark.RENEWED, column])
    late = (int(marks[AfflictionMark.BEAT, column]) + 1) * plan.every
    if late > until_from - since + plan.lasts:
        return None
    return since - int(-late // 1)


def _end_tick(world: WorldState, column: int, plan: AfflictionPlan) -> int:
    return int(world.block.afflicted_marks[AfflictionMark.RENEWED, column]) - int(-plan.lasts // 1)


def _schedule(world: World, column: int, plan: AfflictionPlan) -> None:
    beat, end = _beat_tick(world, column, plan), _end_tick(world, column, plan)
    due = end if beat is None else min(beat, end)
    world.block.timers[Timer.AFFLICTION][column] = due
    world.wake(due)


def work(world: World, column: int) -> None:
    """What is due of an affliction: a wound, judged in this tick before other hits, its end, or both in that order."""
    plan = world.plan.afflictions[_index(world, column)]
    marks = world.block.afflicted_marks
    beat = _beat_tick(world, column, plan)
    if beat is not None and beat <= world.counts[Count.TICK]:
        marks[AfflictionMark.BEAT, column] += 1
        strength = float(world.block.afflicted[0, column])
        by, cause = index_of_mark(int(marks[AfflictionMark.BY, column])), int(marks[AfflictionMark.SEQ, column])
        world.pending_affliction_ticks.append(
            AfflictionTick(column // Limit.AFFLICTIONS, _index(world, column), by, strength, cause)
        )
    if _beat_tick(world, column, plan) is None and _end_tick(world, column, plan) <= world.counts[Count.TICK]:
        _end(world, column, Reason.TIME_OVER)
    else:
        _schedule(world, column, plan)


def _end(world: World, column: int, reason: Reason, time: float = TICK_START) -> None:
    body = column // Limit.AFFLICTIONS
    marks = world.block.afflicted_marks
    world.emit(
        AfflictionEnded(
            time=time,
            seat=_seat(world, body),
            by=world.name_of(index_of_mark(int(marks[AfflictionMark.BY, column]))),
            cause=int(marks[AfflictionMark.SEQ, column]),
            affliction=world.plan.afflictions[_index(world, column)].name,
            reason=reason,
        )
    )
    marks[:, column] = 0
    world.block.afflicted[:, column] = 0.0
    world.block.timers[Timer.AFFLICTION][column] = NEVER
    _feel(world, body)


def end_all(world: World, body: int, reason: Reason, time: float = TICK_START) -> None:
    """End all afflictions of a body."""
    for column in _columns(world, body):
        _end(world, column, reason, time)


def cure(world: World, body: int, kind: str, time: float) -> None:
    """End those afflictions of a body that healing of this kind cures."""
    for column in _columns(world, body):
        if kind in world.plan.afflictions[_index(world, column)].table.cured_by:
            _end(world, column, Reason.CURED, time)


def marked(world: World, body: int) -> float:
    """The share that a body's afflictions put on what it takes."""
    share = 1.0
    for column in _columns(world, body):
        share *= world.plan.afflictions[_index(world, column)].table.damage_taken_share
    return share


def _feel(world: World, body: int) -> None:
    """Let a body walk and guard as its afflictions let it."""
    plans = [world.plan.afflictions[_index(world, column)] for column in _columns(world, body)]
    pace = 1.0
    for plan in plans:
        pace *= plan.table.speed_share
    movement.slow(world, body, pace, disables_guard=any(plan.table.disables_guard for plan in plans))
