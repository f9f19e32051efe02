"""How a blast pushes what lies within its radius: a point of a ragdoll, or the middle of a corpse."""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING

from emberwound.bout.bodies import ragdoll
from emberwound.bout.hits import contacts
from emberwound.combat.push import push_velocity
from emberwound.combat.wound import falloff_share

if TYPE_CHECKING:
    from emberwound.bout.state.pending import PendingBlast
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import BlastPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


def share_at(plan: BlastPlan, gap: float) -> float:
    """The share of a blast that is left so far from its middle."""
    return falloff_share(plan.hit.wound.falloff, gap) if plan.hit.wound.falloff else 1.0


def velocity_at(world: World, blast: PendingBlast, fighter: FighterPlan, place: Vector) -> Vector | None:
    """The velocity a blast gives at a place, by its distance; None where it does not reach."""
    plan = world.plan.blasts[blast.blast]
    gap = dist(place, blast.place)
    if gap > plan.radius or (plan.walls_block and contacts.wall_between(world, blast.place, place)):
        return None
    push = plan.hit.pushes[fighter.id]
    x, y, z = (a - b for a, b in zip(place, blast.place, strict=True))
    way = (-x, -y, 0.0) if push.heading == "towards" else (x, y, z if push.heading == "radial" else 0.0)
    velocity = push_velocity(push, way, (1.0, 0.0), 0.0, share_at(plan, gap), fighter.weight)
    return velocity if world.plan.space.has_heights else (velocity[0], velocity[1], 0.0)


def push_points(world: World, body: int, fighter: FighterPlan, blast: PendingBlast) -> None:
    """Push each point of a ragdoll by its own distance from a blast."""
    if fighter.ragdoll is None:
        return
    points = ragdoll.points_of(world, body, fighter.ragdoll)
    for number, (x, y, z) in enumerate(points[:3].T.tolist()):
        velocity = velocity_at(world, blast, fighter, (x, y, z))
        if velocity is not None:
            points[3:, number] += velocity
            ragdoll.wake(world, body)
