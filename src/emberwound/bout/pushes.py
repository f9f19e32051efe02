"""Pushes: gathered while a tick is judged, summed after it, and begun then, or when a trade is over."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import bodies, conditions, limps
from emberwound.bout.block import BODY_LIMP, BODY_OVER, BODY_PUSH, BODY_THROWN_BY, BODY_WAITING, DUE_PUSH, TICK
from emberwound.combat.push import push_velocity
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_FROZEN, FRAME_LANDED, FRAME_LANDING, FRAME_OWNER
from emberwound.vocabulary.events import Landed, Pushed

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.bout.wounds import Blow
    from emberwound.bout.wounds import Landed as Place
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plane import Vector

ADDED, REPLACING = 1, 2
"""What `BODY_WAITING` says."""


class Shove(NamedTuple):
    """A push of this tick: its velocity, whether it replaces, when it came, from which event, by whom, and where."""

    velocity: Vector
    replaces: bool
    time: float
    cause: int
    by: str | None
    place: Vector


def gather(
    world: World, blow: Blow, landed: Place, fighter: FighterPlan, amount: float, share: float, cause: int
) -> float:
    """Take note of what a blow gives its victim besides a wound; how fast that is.

    `share` is what guard and hurtbox leave of it.
    """
    push = blow.pushes[fighter.id]
    x, y, z = _way(world, blow, landed, push.heading)
    velocity = push_velocity(push, (x, y, z), _facing(world, blow, landed.body), amount, share, fighter.weight)
    if not world.plan.plane.has_heights:
        velocity = (velocity[0], velocity[1], 0.0)
    shove = Shove(velocity, push.replaces, landed.time, cause, world.name_of(blow.by), landed.position)
    world.shoves.setdefault(landed.body, []).append(shove)
    return hypot(*velocity)


def _way(world: World, blow: Blow, landed: Place, heading: str) -> Vector:
    """Which way a push goes, not yet raised: (0, 0, 0) where it has no direction."""
    if heading == "travel":
        return blow.travel
    if heading == "facing":
        return (0.0, 0.0, 0.0)
    source = blow.source or blow.origin
    if heading == "radial":
        return (landed.position[0] - source[0], landed.position[1] - source[1], landed.position[2] - source[2])
    x, y, z = conditions.place_at(world, landed.body, landed.time * world.plan.tick_rate - world.counts[TICK])
    return (x - source[0], y - source[1], 0.0 * z)


def _facing(world: World, blow: Blow, body: int) -> list[float]:
    """Where the attacker looks; of what nobody does, against where the victim looks."""
    block = world.block
    row = conditions.row_of(world, blow.by) if blow.by >= 0 else None
    ahead: list[float] = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body if row is None else row].tolist()
    return ahead if row is not None else [-each for each in ahead]


def settle(world: World) -> None:
    """Sum the pushes of this tick for each body, and begin them, or let them wait for the end of a trade."""
    block, soonest = world.block, world.counts[TICK] + 1
    rows = list(world.shoves)
    told = block.body_marks[[FRAME_OWNER, BODY_OVER, FRAME_FROZEN, BODY_LIMP, BODY_WAITING]][:, rows].T.tolist()
    thrown: list[int] = []
    for (row, shoves), (owner, over, frozen, limp, waiting) in zip(world.shoves.items(), told, strict=True):
        replaces = any(each.replaces for each in shoves)
        x, y, z = shoves[0].velocity if len(shoves) == 1 else _sum(shoves)
        begins = max(soonest, over - 1, frozen)
        last = shoves[-1]
        block.body_marks[BODY_THROWN_BY, row] = world.emit(
            Pushed,
            time=last.time,
            seat=world.names[owner - 1],
            by=last.by,
            cause=last.cause,
            velocity=world.point((x, y, z)),
            replaces=replaces,
            starts_tick=begins,
        )
        if limp:
            for each in shoves:
                limps.push(world, row, each.velocity, each.place)
            continue
        if waiting and not replaces:
            a, b, c = block.bodies[BODY_PUSH : BODY_PUSH + 3, row].tolist()
            x, y, z = a + x, b + y, c + z
        block.bodies[BODY_PUSH : BODY_PUSH + 3, row] = (x, y, z)
        block.body_marks[BODY_WAITING, row] = REPLACING if replaces else waiting or ADDED
        if begins > soonest:
            block.timers[DUE_PUSH][row] = begins
            world.wake(begins)
        else:
            thrown.append(row)
    if thrown:
        start(world, thrown)
    world.shoves.clear()


def _sum(shoves: list[Shove]) -> Vector:
    x, y, z = (sum(each.velocity[axis] for each in shoves) for axis in range(3))
    return (x, y, z)


def start(world: World, rows: list[int]) -> None:
    """Throw bodies with the pushes that wait for them."""
    block = world.block
    velocities = block.bodies[BODY_PUSH : BODY_PUSH + 3, rows]
    replaces = block.body_marks[BODY_WAITING, rows] == REPLACING
    block.bodies[BODY_PUSH : BODY_PUSH + 3, rows] = 0.0
    block.body_marks[BODY_WAITING, rows] = 0
    bodies.throw(world, rows, velocities, replaces)


def tell_landings(world: World) -> None:
    """Say who came down in this tick, when and where."""
    block, start = world.block, world.counts[TICK] / world.plan.tick_rate
    for row in block.body_marks[FRAME_LANDED].nonzero()[0].tolist():
        late, *place = block.bodies[FRAME_LANDING : FRAME_LANDING + 4, row].tolist()
        block.body_marks[FRAME_LANDED, row] = 0
        block.bodies[FRAME_LANDING : FRAME_LANDING + 4, row] = 0.0
        world.emit(
            Landed,
            time=start + late,
            seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
            cause=int(block.body_marks[BODY_THROWN_BY, row]),
            position=world.point(place),
        )
