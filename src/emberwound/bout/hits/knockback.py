"""Pushes: gathered while a tick is judged, summed after it, and begun then, or when a trade is over."""

from __future__ import annotations

from math import exp, hypot
from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement, ragdoll
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Timer, number_of
from emberwound.bout.state.pending import PendingKnockback
from emberwound.combat.push import push_velocity, without_noise
from emberwound.geometry.flight import reach_of
from emberwound.geometry.layout import BodyColumn, BodyMark, ModelColumn, Movement, PushWaiting
from emberwound.vocabulary.clock import exact_ticks
from emberwound.vocabulary.events import KnockedBack, Landed

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


def gather(
    world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, amount: float, share: float, cause: int
) -> float:
    """Take note of what a hit gives its victim besides a wound; how fast that is.

    `share` is what guard and hurtbox leave of it.
    """
    push = hit.plan.pushes[fighter.id]
    way = without_noise(_way(world, hit, where, push.heading), fighter.height)
    velocity = push_velocity(push, way, _facing(world, hit, where.body), amount, share, fighter.weight)
    if not world.plan.space.has_heights:
        velocity = (velocity[0], velocity[1], 0.0)
    pending = PendingKnockback(velocity, push.replaces, where.time, cause, world.name_of(hit.by), where.position)
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
    return (x - source[0], y - source[1], 0.0 * z)


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
    bodies = list(world.pending_knockback)
    told = block.body_marks[
        [BodyMark.OWNER, BodyMark.STRIKE_OVER, BodyMark.FROZEN_UNTIL, BodyMark.RAGDOLL, BodyMark.PUSH_WAITING]
    ][:, bodies].T.tolist()
    starting: list[int] = []
    for (body, hits), (owner, over, frozen, is_ragdoll, waiting) in zip(
        world.pending_knockback.items(), told, strict=True
    ):
        replaces = any(each.replaces for each in hits)
        x, y, z = hits[0].velocity if len(hits) == 1 else _sum(hits)
        begins = max(soonest, over - 1, frozen)
        last = hits[-1]
        block.body_marks[BodyMark.KNOCKBACK_SEQ, body] = world.emit(
            KnockedBack(
                time=last.time,
                seat=world.names[number_of(owner)],
                by=last.by,
                cause=last.cause,
                velocity=world.point((x, y, z)),
                replaces=replaces,
                starts_tick=begins,
            )
        )
        if is_ragdoll:
            for each in hits:
                ragdoll.push(world, body, each.velocity, each.place)
            continue
        if waiting and not replaces:
            a, b, c = block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, body].tolist()
            x, y, z = a + x, b + y, c + z
        block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, body] = (x, y, z)
        block.body_marks[BodyMark.PUSH_WAITING, body] = (
            PushWaiting.REPLACING if replaces else waiting or PushWaiting.ADDED
        )
        _give_head_start(world, body, last.time, replaces=replaces)
        if begins > soonest:
            block.timers[Timer.KNOCKBACK][body] = begins
            world.wake(begins)
        else:
            starting.append(body)
    if starting:
        start(world, starting)
    world.pending_knockback.clear()


def _give_head_start(world: World, body: int, time: float, *, replaces: bool) -> None:
    """Let a push begin at its exact time, where the body was then: what is left of the tick is flown with the next one.

    A push that adds to the velocity of a body in the air adds to the one it had at that time.
    """
    block, rate = world.block, world.plan.tick_rate
    left = (world.counts[Count.TICK] + 1 - exact_ticks(time, rate)) / rate
    block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4, body] = (
        left,
        *queries.place_then(world, body, time),
    )
    if not replaces and _is_falling(world, body):
        later = block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body]
        model = world.plan.tables.models[:, int(block.body_marks[BodyMark.MODEL, body])]
        drag = float(model[ModelColumn.DRAG]) if block.body_marks[BodyMark.KNOCKBACK, body] else 0.0
        then = later.copy()
        then[2] += float(model[ModelColumn.GRAVITY]) * reach_of(drag, left)
        block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, body] += then / exp(-drag * left) - later


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
    velocities = block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, bodies]
    replaces = block.body_marks[BodyMark.PUSH_WAITING, bodies] == PushWaiting.REPLACING
    block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, bodies] = 0.0
    block.body_marks[BodyMark.PUSH_WAITING, bodies] = PushWaiting.NONE
    movement.knock(world, bodies, velocities, replaces)


def tell_landings(world: World) -> None:
    """Say who came down in this tick, when and where."""
    block, start = world.block, world.counts[Count.TICK] / world.plan.tick_rate
    for body in block.body_marks[BodyMark.LANDED].nonzero()[0].tolist():
        late, *place = block.bodies[BodyColumn.LANDING : BodyColumn.LANDING + 4, body].tolist()
        block.body_marks[BodyMark.LANDED, body] = 0
        block.bodies[BodyColumn.LANDING : BodyColumn.LANDING + 4, body] = 0.0
        world.emit(
            Landed(
                time=start + late,
                seat=world.name_of_body(body),
                cause=int(block.body_marks[BodyMark.KNOCKBACK_SEQ, body]),
                position=world.point(place),
            )
        )
