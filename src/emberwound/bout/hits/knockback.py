"""Hit stop and knockback: a tick's pushes, summed after it, begin when the body's own clock runs again."""

from __future__ import annotations

from math import dist, exp, hypot, isfinite
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.bodies import movement, ragdoll
from emberwound.bout.hits import contacts, grabs
from emberwound.bout.state import queries
from emberwound.bout.state.layout import AfflictionMark, Count, Limit, SeatMark, Timer, index_of_mark, mark_of
from emberwound.bout.state.pairs import TOLD
from emberwound.bout.state.pending import PendingKnockback
from emberwound.combat.push import push_velocity, without_noise
from emberwound.combat.wound import falloff_share
from emberwound.geometry.flight import reach_of
from emberwound.geometry.knockback_flight import fly_knocked_back
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    ModelColumn,
    Movement,
    PushWaiting,
    ShapeColumn,
    VolumeColumn,
)
from emberwound.vocabulary.clock import NEVER, exact_ticks
from emberwound.vocabulary.events import HitStopBegan, KnockedBack, Landed
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.pending import Hit, HitLocation, PendingBlast
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import BlastPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


def freeze(world: World) -> None:
    """Freeze whom this tick's hits stop: what is left of a freeze is the longer of the old and the new, capped."""
    block, after = world.block, world.counts[Count.TICK] + 1
    for body, (ticks, cause) in world.hit_stops.items():
        left = max(int(block.body_marks[BodyMark.FROZEN_UNTIL, body]) - after, 0)
        longer = min(max(left, ticks), max(world.plan.longest_hit_stop_ticks, left)) - left
        if longer <= 0:
            continue
        end = after + left + longer
        block.body_marks[BodyMark.FROZEN_UNTIL, body] = end
        block.timers[Timer.HIT_STOP_END][body] = end
        world.wake(end)
        _put_off(world, body, longer, end)
        world.emit(HitStopBegan(seat=world.name_of_body(body), cause=cause, until_tick=end))
    world.hit_stops.clear()


def thaw(world: World, body: int) -> None:
    """Let a body's clock go on."""
    world.block.body_marks[BodyMark.FROZEN_UNTIL, body] = 0


def _put_off(world: World, body: int, ticks: int, end: int) -> None:
    """Move all that a body's clock times by some ticks."""
    block, tick = world.block, world.counts[Count.TICK]
    marks = block.body_marks[:, body]
    for mark in (BodyMark.POSE_TICK, BodyMark.GUARD_SINCE, BodyMark.STAGGER_SINCE):
        marks[mark] += ticks
    for mark, needs in (
        (BodyMark.ATTACK_TICK, BodyMark.ATTACK),
        (BodyMark.CHARGING_SINCE, BodyMark.CHARGING_SINCE),
        (BodyMark.STRIKE_OVER, BodyMark.STRIKE_OVER),
        (BodyMark.SWING_OPENED, BodyMark.SWING_OPENED),
        (BodyMark.REACTION_SINCE, BodyMark.REACTION),
    ):
        if marks[needs]:
            marks[mark] += ticks
    if marks[BodyMark.GUARD_BACK_TICK] > tick:
        marks[BodyMark.GUARD_BACK_TICK] += ticks
    if isfinite(block.bodies[BodyColumn.TRADES_UNTIL, body]):
        block.bodies[BodyColumn.TRADES_UNTIL, body] += ticks
    block.ready[:, body] += ticks * (block.ready[:, body] > tick)
    block.pools_since[:, body] += ticks
    world.counts[Count.DIRTY_POSE_TICKS] += ticks
    for timer in (Timer.ATTACK_STAGE, Timer.REACTION_END, Timer.KNOCKBACK, Timer.PROTECTION_END):
        if block.timers[timer][body] != NEVER:
            block.timers[timer][body] += ticks
    if marks[BodyMark.STRIKE_OVER] and block.timers[Timer.CORPSE_GONE][body] != NEVER:
        block.timers[Timer.CORPSE_GONE][body] = max(
            int(block.timers[Timer.CORPSE_GONE][body]), int(marks[BodyMark.STRIKE_OVER])
        )
    _put_off_afflictions(world, body, ticks)
    _put_off_hitboxes(world, body, ticks, end)
    seat = world.seat_of(body)
    if block.seat_marks[SeatMark.BODY, seat] == mark_of(body):
        _put_off_presses(world, seat, ticks)


def _put_off_afflictions(world: World, body: int, ticks: int) -> None:
    if not world.plan.afflictions:
        return
    block, columns = world.block, slice(body * Limit.AFFLICTIONS, (body + 1) * Limit.AFFLICTIONS)
    running = block.timers[Timer.AFFLICTION][columns] != NEVER
    block.timers[Timer.AFFLICTION][columns] += ticks * running
    for mark in (AfflictionMark.SINCE, AfflictionMark.RENEWED):
        block.afflicted_marks[mark, columns] += ticks * running


def _put_off_hitboxes(world: World, body: int, ticks: int, end: int) -> None:
    """What a frozen body strikes with stands still, and hits nobody new until hit stop ends."""
    block, most = world.block, world.plan.most_hitboxes
    for column in range(body * most, (body + 1) * most):
        if block.volumes[ShapeColumn.KIND, column]:
            for at in (VolumeColumn.FROM, VolumeColumn.TO, VolumeColumn.UNTIL):
                block.volumes[at, column] += ticks
            block.volumes[VolumeColumn.SINCE, column] = end
    if most:
        touched_until = block.swing_touches.of(body)
        touched_until += ticks * (touched_until > world.counts[Count.TICK])
        touched_until -= ticks * (touched_until < TOLD)


def _put_off_presses(world: World, seat: int, ticks: int) -> None:
    block = world.block
    if block.seat_marks[SeatMark.BUFFERED_PRESS, seat]:
        block.seat_marks[SeatMark.BUFFERED_UNTIL, seat] += ticks
    for timer in (Timer.BUFFERED_PRESS, Timer.HELD):
        if block.timers[timer][seat] != NEVER:
            block.timers[timer][seat] += ticks


NOWHERE = [0.0, 0.0]
"""Where a push goes that has a direction of its own does not depend on where anybody looks."""


def gather(
    world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, amount: float, share: float, cause: int
) -> float:
    """Take note of what a hit gives its victim besides a wound; how fast that is.

    `share` is what guard and hurtbox leave of it.
    """
    push = hit.plan.pushes[fighter.id]
    way = without_noise(_way(world, hit, where, push.heading), fighter.height)
    facing = NOWHERE if way[0] or way[1] else _facing(world, hit, where.body)
    velocity = push_velocity(push, way, facing, amount, share, fighter.table.weight)
    if not world.plan.space.has_heights:
        velocity = (velocity[0], velocity[1], 0.0)
    by = world.name_of(hit.by)
    pending = PendingKnockback(velocity, push.replaces, where.time, cause, by, where.position, hit.blast)
    world.pending_knockback.setdefault(where.body, []).append(pending)
    return hypot(*velocity)


def _way(world: World, hit: Hit, where: HitLocation, heading: str) -> Vector:
    """Which way a push goes, not yet raised: (0, 0, 0) where it has no direction."""
    if heading == "travel":
        return hit.travel
    if heading == "facing":
        return (0.0, 0.0, 0.0)
    source = hit.source or hit.origin
    if heading == "radial":
        return (where.position[0] - source[0], where.position[1] - source[1], where.position[2] - source[2])
    x, y, z = queries.place_then(world, where.body, where.time)
    away = -1.0 if heading == "towards" else 1.0
    return (away * (x - source[0]), away * (y - source[1]), 0.0 * z)


def _facing(world: World, hit: Hit, body: int) -> list[float]:
    """Where the attacker looks; of what nobody does, against where the victim looks."""
    block = world.block
    attacker = queries.body_of(world, hit.by) if hit.by >= 0 else None
    ahead: list[float] = block.bodies[
        BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body if attacker is None else attacker
    ].tolist()
    return ahead if attacker is not None else [-each for each in ahead]


def settle(world: World) -> None:
    """Sum the pushes of this tick for each body, and begin them, or let them wait for the end of a trade."""
    block, soonest = world.block, world.counts[Count.TICK] + 1
    every = list(world.pending_knockback)
    marks = (BodyMark.OWNER, BodyMark.STRIKE_OVER, BodyMark.FROZEN_UNTIL, BodyMark.RAGDOLL)
    rows = zip(*(block.body_marks[mark, every].tolist() for mark in marks), strict=True)
    told, begun, starting = [], [], []
    for (body, hits), (owner, strike_over, frozen_until, is_ragdoll) in zip(
        world.pending_knockback.items(), rows, strict=True
    ):
        replaces = any(each.replaces for each in hits)
        velocity = hits[0].velocity if len(hits) == 1 else _sum(hits)
        begins = max(soonest, strike_over - 1, frozen_until)
        last = hits[-1]
        told.append(
            world.emit(
                KnockedBack(
                    time=last.time,
                    seat=world.names[index_of_mark(owner)],
                    by=last.by,
                    cause=last.cause,
                    velocity=tuple(each + 0.0 for each in world.point(velocity)),
                    replaces=replaces,
                    starts_tick=begins,
                )
            )
        )
        if is_ragdoll:
            for each in hits:
                if each.blast is None:
                    ragdoll.push(world, body, each.velocity, each.place)
                else:
                    push_points(world, body, queries.fighter_of(world, body), each.blast)
            continue
        begun.append((body, velocity, replaces, last.time))
        if begins > soonest:
            block.timers[Timer.KNOCKBACK][body] = begins
            world.wake(begins)
        else:
            starting.append(body)
    block.body_marks[BodyMark.KNOCKBACK_SEQ, every] = told
    if begun:
        bodies, velocities, replacing, times = zip(*begun, strict=True)
        _let_wait(world, list(bodies), np.array(velocities).T, np.array(replacing), times)
    if starting:
        start(world, starting)
        _emit_hops(world, starting)
    world.pending_knockback.clear()


def _let_wait(
    world: World,
    bodies: list[int],
    velocities: NDArray[np.float64],
    replaces: NDArray[np.bool_],
    times: tuple[float, ...],
) -> None:
    """Let pushes (3, n) wait for bodies, each with its head start: the seconds of the tick left, and where it then was.

    A push begins at its exact time: what is left of the tick is flown with the next one. One that adds to the velocity
    of a body in the air adds to the one it had at that time.
    """
    block, rate, tick = world.block, world.plan.tick_rate, world.counts[Count.TICK]
    now = np.array([exact_ticks(time, rate) for time in times])
    left = (tick + 1 - now) / rate
    held = block.bodies[:, bodies]
    first, last = held[BodyColumn.START : BodyColumn.START + 3], held[BodyColumn.END : BodyColumn.END + 3]
    waits = block.body_marks[BodyMark.PUSH_WAITING, bodies]
    waiting = held[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3]
    given = np.where((waits != 0) & ~replaces, waiting + velocities, velocities)
    for line in np.flatnonzero(~replaces).tolist():
        if _is_falling(world, bodies[line]):
            given[:, line] += _gained(world, bodies[line], float(left[line]))
    block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, bodies] = given
    added = np.where(waits != 0, waits, PushWaiting.ADDED)
    block.body_marks[BodyMark.PUSH_WAITING, bodies] = np.where(replaces, PushWaiting.REPLACING, added)
    head_start = block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4]
    head_start[0, bodies] = left
    head_start[1:, bodies] = first + (last - first) * (now - tick)


def _gained(world: World, body: int, left: float) -> NDArray[np.float64]:
    """How much faster a body in the air was `left` seconds before the end of the tick than it is then."""
    later = world.block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body]
    model = world.plan.tables.models[:, int(world.block.body_marks[BodyMark.MODEL, body])]
    drag = float(model[ModelColumn.DRAG]) if world.block.body_marks[BodyMark.KNOCKBACK, body] else 0.0
    then = later.copy()
    then[2] += float(model[ModelColumn.GRAVITY]) * reach_of(drag, left)
    gained: NDArray[np.float64] = then / exp(-drag * left) - later
    return gained


def _is_falling(world: World, body: int) -> bool:
    """Whether gravity moved a body in this tick: not one on the ground, in a lunge, in hit stop, or its host's."""
    bodies, marks = world.block.bodies[:, body], world.block.body_marks[:, body]
    if marks[BodyMark.GROUNDED] or marks[BodyMark.LUNGES] or marks[BodyMark.MOVEMENT] != Movement.MOVING:
        return False
    return bool((bodies[BodyColumn.START : BodyColumn.START + 3] != bodies[BodyColumn.END : BodyColumn.END + 3]).any())


def _sum(hits: list[PendingKnockback]) -> Vector:
    x, y, z = (sum(each.velocity[axis] for each in hits) for axis in range(3))
    return (x, y, z)


def start(world: World, bodies: list[int]) -> None:
    """Begin the knockback that waits for bodies."""
    block = world.block
    if world.counts[Count.GRABS]:
        for body in bodies:
            grabs.end_of(world, body, Reason.KNOCKED_BACK, Reason.KNOCKED_BACK)
    velocities = block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, bodies]
    replaces = block.body_marks[BodyMark.PUSH_WAITING, bodies] == PushWaiting.REPLACING
    block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, bodies] = 0.0
    block.body_marks[BodyMark.PUSH_WAITING, bodies] = PushWaiting.NONE
    movement.knock(world, bodies, velocities, replaces)


def _emit_hops(world: World, bodies: list[int]) -> None:
    """Say who comes down within this tick again: what is left of it is flown with the next one, on a copy ahead."""
    block, tables, tick = world.block, world.plan.tables, world.counts[Count.TICK]
    for body in bodies:
        gravity = float(tables.models[ModelColumn.GRAVITY, int(block.body_marks[BodyMark.MODEL, body])])
        left, rise = block.bodies[[BodyColumn.HEAD_START, BodyColumn.VELOCITY + 2], body].tolist()
        if block.body_marks[BodyMark.GROUNDED, body] or not gravity or rise > gravity * left:
            continue
        one, marks = block.bodies[:, [body]], block.body_marks[:, [body]]
        walls = (block.shapes, tables.bounds, block.first_wall)
        fly_knocked_back(one, marks, 0, tables.models, *walls, 0.0)
        if marks[BodyMark.LANDED, 0]:
            late, *place = one[BodyColumn.LANDING : BodyColumn.LANDING + 4, 0].tolist()
            _emit_landing(world, body, (tick + 1) / world.plan.tick_rate + late, place)


def emit_landings(world: World) -> None:
    """Say who came down in this tick, when and where; what came down in the rest of the last one came before."""
    block, start = world.block, world.counts[Count.TICK] / world.plan.tick_rate
    for body in block.body_marks[BodyMark.LANDED].nonzero()[0].tolist():
        late, *place = block.bodies[BodyColumn.LANDING : BodyColumn.LANDING + 4, body].tolist()
        block.body_marks[BodyMark.LANDED, body] = 0
        block.bodies[BodyColumn.LANDING : BodyColumn.LANDING + 4, body] = 0.0
        if late > 0.0:
            _emit_landing(world, body, start + late, place)


def _emit_landing(world: World, body: int, time: float, place: list[float]) -> None:
    world.emit(
        Landed(
            time=time,
            seat=world.name_of_body(body),
            cause=int(world.block.body_marks[BodyMark.KNOCKBACK_SEQ, body]),
            position=world.point(place),
        )
    )


def share_at(plan: BlastPlan, gap: float) -> float:
    """The share of a blast that is left so far from its middle."""
    return falloff_share(plan.hit.wound.falloff, gap) if plan.hit.wound.falloff else 1.0


def velocity_at(world: World, blast: PendingBlast, fighter: FighterPlan, place: Vector) -> Vector | None:
    """The velocity a blast gives at a place, by its distance; None where it does not reach."""
    plan = world.plan.blasts[blast.blast]
    gap = dist(place, blast.place)
    if gap > plan.table.radius or (plan.table.on_wall == "block" and contacts.wall_between(world, blast.place, place)):
        return None
    push = plan.hit.pushes[fighter.id]
    x, y, z = (a - b for a, b in zip(place, blast.place, strict=True))
    way = (-x, -y, 0.0) if push.heading == "towards" else (x, y, z if push.heading == "radial" else 0.0)
    velocity = push_velocity(push, way, (1.0, 0.0), 0.0, share_at(plan, gap), fighter.table.weight)
    return velocity if world.plan.space.has_heights else (velocity[0], velocity[1], 0.0)


def push_points(world: World, body: int, fighter: FighterPlan, blast: PendingBlast) -> None:
    """Push each point of a ragdoll by its own distance from a blast."""
    if fighter.ragdoll is None:
        return
    points = ragdoll.points_of(world, body, fighter.ragdoll)
    for index, (x, y, z) in enumerate(points[:3].T.tolist()):
        velocity = velocity_at(world, blast, fighter, (x, y, z))
        if velocity is not None:
            points[3:, index] += velocity
            ragdoll.wake(world, body)
