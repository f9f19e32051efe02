"""Holding another body: it is bound to a place of its holder, goes where that goes, and is thrown or let go."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement
from emberwound.bout.hits import victims
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Timer, index_of_mark, mark_of
from emberwound.bout.state.pending import PendingGrab
from emberwound.geometry.layout import BodyColumn, BodyMark, Knockback, Layer, Movement, Presence
from emberwound.geometry.rays_and_blasts import ray_touches
from emberwound.plan.space import turned
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Grabbed, GrabEnded, GrabFailed, KnockedBack, Wounded
from emberwound.vocabulary.events.base import TICK_START
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World, WorldState
    from emberwound.combat.hit import HitResult
    from emberwound.plan.attack_plans import AttackPlan, GrabPlan
    from emberwound.plan.space import Vector


def note(world: World, hit: Hit, where: HitLocation, result: HitResult, cause: int) -> None:
    """Take note of a strike that holds whom it hit, unless a guard met it."""
    holder = hit.striker
    if result.guard is not None or holder < 0 or holder == where.body:
        return
    slot = index_of_mark(int(world.block.body_marks[BodyMark.ATTACK, holder]))
    world.pending_grabs.append(PendingGrab(holder, where.body, slot, where.time, cause))


def settle(world: World) -> None:
    """Hold whom this tick's strikes grabbed, then let go of those whose holders were wounded."""
    for grab in world.pending_grabs:
        _bind(world, grab)
    if world.counts[Count.GRABS]:
        _break_by_wounds(world, {grab.holder: grab.time for grab in world.pending_grabs})
    world.pending_grabs.clear()


def _bind(world: World, grab: PendingGrab) -> None:
    marks, bound = world.block.body_marks, (grab.holder, grab.victim)
    if any(marks[BodyMark.PRESENCE, body] != Presence.LIVE for body in bound) or grab.slot < 0:
        return
    seat, by = (world.name_of_body(body) for body in (grab.victim, grab.holder))
    attack = queries.fighter_of(world, grab.holder).attacks[grab.slot]
    if attack.grab is None:
        return
    why = _hindrance(world, bound)
    if why is not None:
        world.emit(GrabFailed(time=grab.time, seat=seat, by=by, cause=grab.cause, attack=attack.name, reason=why))
        return
    until = world.counts[Count.TICK] + 1 + attack.grab.ticks
    grabbed = world.emit(
        Grabbed(time=grab.time, seat=seat, by=by, cause=grab.cause, attack=attack.name, until_tick=until)
    )
    timeline.interrupt(world, grab.victim, Reason.GRABBED, grab.time, grabbed)
    marks[BodyMark.HOLDS, grab.holder], marks[BodyMark.GRAB, grab.holder] = mark_of(grab.victim), mark_of(grab.slot)
    marks[BodyMark.HELD_BY, grab.victim] = mark_of(grab.holder)
    world.counts[Count.GRABS] += 1
    world.block.timers[Timer.GRAB_END][grab.victim] = until
    world.wake(until)
    _hang(world, grab.victim)


def _hindrance(world: World, bound: tuple[int, int]) -> Reason | None:
    """Why one of two bodies cannot hold the other: who is bound already, or knocked back in this tick."""
    marks = world.block.body_marks
    if any(marks[mark, body] for mark in (BodyMark.HOLDS, BodyMark.HELD_BY) for body in bound):
        return Reason.ALREADY_BOUND
    names = [world.name_of_body(body) for body in bound]
    if any(isinstance(event, KnockedBack) and event.seat in names for event in world.events):
        return Reason.KNOCKED_BACK
    return None


def _hang(world: World, victim: int) -> None:
    """Let nothing move a body by itself."""
    block, marks = world.block, world.block.body_marks
    block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, victim] = 0.0
    block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4, victim] = 0.0
    marks[BodyMark.MOVEMENT, victim] = Movement.PLACED
    marks[BodyMark.KNOCKBACK, victim] = Knockback.NONE
    marks[BodyMark.GROUNDED, victim] = marks[BodyMark.LUNGES, victim] = 0
    movement.follow_orders(world, victim)
    marks[BodyMark.MOVEMENT, victim] = Movement.PLACED


def _break_by_wounds(world: World, since: dict[int, float]) -> None:
    """Let go where a holder was wounded as much as ends it; in the tick of the grab by a later wound alone."""
    marks = world.block.body_marks
    wounds = [event for event in world.events if isinstance(event, Wounded) and event.amount > 0.0]
    for victim in _held(world):
        holder, plan = _held_by(world, victim)
        seat = world.name_of_body(holder)
        for wound in wounds:
            told = wound.seat == seat and wound.time > since.get(holder, -1.0)
            if told and wound.amount >= plan.break_damage and marks[BodyMark.HELD_BY, victim]:
                end(world, victim, Reason.WOUNDED, wound.time, wound.seq)


def _held(world: World) -> list[int]:
    held: list[int] = world.block.body_marks[BodyMark.HELD_BY].nonzero()[0].tolist()
    return held


def _held_by(world: World, victim: int) -> tuple[int, GrabPlan]:
    holder = index_of_mark(int(world.block.body_marks[BodyMark.HELD_BY, victim]))
    plan = attack_of(world, holder).grab
    if plan is None:
        raise RuntimeError("a body is held by an attack that holds nobody")
    return holder, plan


def attack_of(world: WorldState, holder: int) -> AttackPlan:
    """The attack by which a body holds another."""
    slot = index_of_mark(int(world.block.body_marks[BodyMark.GRAB, holder]))
    return queries.fighter_of(world, holder).attacks[slot]


def carry(world: World) -> None:
    """Take the bodies that are held to where their holders end this tick."""
    block = world.block
    for victim in _held(world):
        holder, plan = _held_by(world, victim)
        place = _place(world, holder, victim, plan)
        before = block.bodies[BodyColumn.END : BodyColumn.END + 3, victim].tolist()
        if list(place) == before:
            continue
        block.bodies[BodyColumn.END : BodyColumn.END + 3, victim] = place
        start = block.bodies[BodyColumn.START : BodyColumn.START + 3, victim].tolist()
        way = hypot(*(a - b for a, b in zip(place, start, strict=True)))
        if way > queries.fighter_of(world, victim).radius + _moved(world, holder):
            block.bodies[BodyColumn.START : BodyColumn.START + 3, victim] = place  # pulled or turned: no sweep
        world.counts[Count.DIRTY_POSE_TICKS] = 2


def _moved(world: World, body: int) -> float:
    (ax, ay, az), (bx, by, bz) = queries.place_at(world, body, 0.0), queries.place_at(world, body, 1.0)
    return hypot(bx - ax, by - ay, bz - az)


def _place(world: World, holder: int, victim: int, plan: GrabPlan) -> Vector:
    """Where the feet of who is held are at the end of the tick: inside the arena, and before any wall in the way."""
    block, fighter, theirs = world.block, queries.fighter_of(world, victim), queries.fighter_of(world, holder)
    offset = plan.offset
    if plan.joint >= 0:
        at = queries.joint_of(world, holder, plan.joint)
        offset = (at[0] + offset[0], at[1] + offset[1], at[2] + offset[2])
    mx, my, mz = turned(offset, block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, holder].tolist())
    x, y, z = queries.place_at(world, holder, 1.0)
    half, up = (0.5 * fighter.height, 0.5 * theirs.height) if world.plan.space.has_heights else (0.0, 0.0)
    middle = (x, y, z + up)
    wanted = (x + mx, y + my, max(z + mz, world.plan.floor + half) if half else z)
    reached = _before_walls(world, middle, wanted, fighter.radius)
    low, high = world.plan.low, world.plan.high
    feet = (reached[0], reached[1], reached[2] - half)
    fx, fy, fz = (min(max(each, a), b) for each, a, b in zip(feet, low, high, strict=True))
    return (fx, fy, fz)


def _before_walls(world: World, start: Vector, end: Vector, radius: float) -> Vector:
    """The end of a way, or the place a radius before the first wall on it."""
    block = world.block
    move = np.array(end) - np.array(start)
    way = float(np.hypot(np.hypot(move[0], move[1]), move[2]))
    if not world.plan.wall_names or way == 0.0:
        return end
    shares = np.empty(block.shapes.shape[1])
    ray_touches(np.array(start), move * ((way + radius) / way), block.shapes, block.shape_marks, Layer.WALL, shares)
    walls = shares[block.first_wall :]
    first = float(walls[walls > 0.0].min(initial=2.0))
    if first > 1.0:
        return end
    share = max(first * (way + radius) - radius, 0.0) / way
    x, y, z = (a + b * share for a, b in zip(start, move.tolist(), strict=True))
    return (x, y, z)


def end(world: World, victim: int, reason: Reason, time: float = TICK_START, cause: int | None = None) -> None:
    """Let go of a body: it falls or stands where it is, and its orders count again."""
    block, marks = world.block, world.block.body_marks
    holder = index_of_mark(int(marks[BodyMark.HELD_BY, victim]))
    if holder < 0:
        return
    attack = attack_of(world, holder)
    now = world.counts[Count.TICK] / world.plan.tick_rate if time == TICK_START else time
    victims.note_holder(world, victim, now)
    marks[BodyMark.HELD_BY, victim] = marks[BodyMark.HOLDS, holder] = marks[BodyMark.GRAB, holder] = 0
    world.counts[Count.GRABS] -= 1
    block.timers[Timer.GRAB_END][victim] = NEVER
    place = block.bodies[BodyColumn.END : BodyColumn.END + 3, victim].tolist()
    world.emit(
        GrabEnded(
            time=time,
            seat=world.name_of_body(victim),
            by=world.name_of_body(holder),
            cause=cause,
            attack=attack.name,
            reason=reason,
            position=world.point(place),
        )
    )
    if marks[BodyMark.PRESENCE, victim] != Presence.LIVE:
        return
    marks[BodyMark.GROUNDED, victim] = queries.stands_at(world, queries.fighter_of(world, victim), place)
    movement.set_moving(world, victim)
    movement.raise_guard(world, victim)
    movement.follow_orders(world, victim)


def end_of(world: World, body: int, held: Reason, holding: Reason, time: float = TICK_START) -> None:
    """End what binds a body: as who is held for one reason, as who holds for another."""
    if not world.counts[Count.GRABS]:
        return
    end(world, body, held, time)
    victim = index_of_mark(int(world.block.body_marks[BodyMark.HOLDS, body]))
    if victim >= 0:
        end(world, victim, holding, time)
