"""Pushes: gathered while a tick is judged, summed after it, and begun then, or when a trade is over."""

from __future__ import annotations

from math import exp, hypot
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

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
    from collections.abc import Iterator

    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


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
    velocity = push_velocity(push, way, facing, amount, share, fighter.weight)
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


class _Thrown(NamedTuple):
    """What the columns of a body that is pushed hold, as its push needs them."""

    owner: int
    model: int
    strike_over: int
    frozen_until: int
    ragdoll: int
    waits: int
    knockback: int
    falls: bool
    start: list[float]
    end: list[float]
    velocity: list[float]
    waiting: list[float]


THROWN_MARKS = [
    BodyMark.OWNER,
    BodyMark.MODEL,
    BodyMark.STRIKE_OVER,
    BodyMark.FROZEN_UNTIL,
    BodyMark.RAGDOLL,
    BodyMark.PUSH_WAITING,
    BodyMark.KNOCKBACK,
    BodyMark.GROUNDED,
    BodyMark.LUNGES,
    BodyMark.MOVEMENT,
]


def settle(world: World) -> None:
    """Sum the pushes of this tick for each body, and begin them, or let them wait for the end of a trade."""
    block, soonest = world.block, world.counts[Count.TICK] + 1
    every, told = list(world.pending_knockback), []
    written: list[tuple[int, int, tuple[float, ...], tuple[float, ...]]] = []
    starting: list[int] = []
    for (body, hits), thrown in zip(world.pending_knockback.items(), _thrown(world, every), strict=True):
        replaces = any(each.replaces for each in hits)
        velocity = hits[0].velocity if len(hits) == 1 else _sum(hits)
        begins = max(soonest, thrown.strike_over - 1, thrown.frozen_until)
        last = hits[-1]
        told.append(
            world.emit(
                KnockedBack(
                    time=last.time,
                    seat=world.names[number_of(thrown.owner)],
                    by=last.by,
                    cause=last.cause,
                    velocity=world.point(velocity),
                    replaces=replaces,
                    starts_tick=begins,
                )
            )
        )
        if thrown.ragdoll:
            for each in hits:
                ragdoll.push(world, body, each.velocity, each.place)
            continue
        waits = PushWaiting.REPLACING if replaces else thrown.waits or PushWaiting.ADDED
        written.append((body, waits, *_waiting(world, thrown, velocity, last.time, replaces=replaces)))
        if begins > soonest:
            block.timers[Timer.KNOCKBACK][body] = begins
            world.wake(begins)
        else:
            starting.append(body)
    block.body_marks[BodyMark.KNOCKBACK_SEQ, every] = told
    if written:
        bodies, waits_of, velocities, head_starts = zip(*written, strict=True)
        columns = [*bodies]
        block.body_marks[BodyMark.PUSH_WAITING, columns] = waits_of
        block.bodies[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3, columns] = np.array(velocities).T
        block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4, columns] = np.array(head_starts).T
    if starting:
        start(world, starting)
    world.pending_knockback.clear()


def _thrown(world: World, bodies: list[int]) -> Iterator[_Thrown]:
    """What the columns of bodies hold, read at once."""
    marks = world.block.body_marks[np.ix_(THROWN_MARKS, bodies)].T.tolist()
    reals = world.block.bodies[:, bodies].T.tolist()
    for (*first, grounded, lunges, movement_of), figures in zip(marks, reals, strict=True):
        owner, model, strike_over, frozen_until, ragdoll_state, waits, knocked = first
        start, end = figures[BodyColumn.START : BodyColumn.START + 3], figures[BodyColumn.END : BodyColumn.END + 3]
        yield _Thrown(
            owner,
            model,
            strike_over,
            frozen_until,
            ragdoll_state,
            waits,
            knocked,
            falls=not (grounded or lunges or movement_of != Movement.MOVING) and start != end,
            start=start,
            end=end,
            velocity=figures[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3],
            waiting=figures[BodyColumn.WAITING_PUSH : BodyColumn.WAITING_PUSH + 3],
        )


def _waiting(
    world: World, thrown: _Thrown, velocity: Vector, time: float, *, replaces: bool
) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The velocity that waits for a body, and its head start: the seconds of the tick left, and where it then was.

    A push begins at its exact time: what is left of the tick is flown with the next one. One that adds to the velocity
    of a body in the air adds to the one it had at that time. It falls unless it is on the ground, in a lunge, in hit
    stop, or moved by its host.
    """
    rate, tick = world.plan.tick_rate, world.counts[Count.TICK]
    now = exact_ticks(time, rate)
    left, share = (tick + 1 - now) / rate, now - tick
    place = [a + (x - a) * share for a, x in zip(thrown.start, thrown.end, strict=True)]
    x, y, z = velocity
    if thrown.waits and not replaces:
        a, b, c = thrown.waiting
        x, y, z = a + x, b + y, c + z
    if not replaces and thrown.falls:
        drag = float(world.plan.tables.models[ModelColumn.DRAG, thrown.model]) if thrown.knockback else 0.0
        gravity = float(world.plan.tables.models[ModelColumn.GRAVITY, thrown.model])
        later, slower = thrown.velocity, exp(-drag * left)
        then = (later[0], later[1], later[2] + gravity * reach_of(drag, left))
        x, y, z = (a + (b / slower - c) for a, b, c in zip((x, y, z), then, later, strict=True))
    return (x, y, z), (left, *place)


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
