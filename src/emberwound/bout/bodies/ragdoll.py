"""Ragdolls: corpses of fighters with a table of points and links."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count
from emberwound.geometry.layout import BodyColumn, BodyMark, PointColumn, RagdollState
from emberwound.geometry.pose import pose_of
from emberwound.geometry.ragdoll import step_ragdolls
from emberwound.plan.space import turned

if TYPE_CHECKING:
    from emberwound.bout.state.world import World, WorldState
    from emberwound.plan.fighter_plans import RagdollPlan
    from emberwound.plan.space import Vector


REST_SECONDS = 0.5
"""How long a body must be slow until it lies still."""

FLAT = {"side": 1, "top": 2, "3d": -1}
"""The axis that a plane does not have."""


def start(world: World, body: int, ragdoll: RagdollPlan) -> None:
    """Let a body that died become a ragdoll: its points where its joints are, with the velocity it had."""
    block = world.block
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    place = block.bodies[BodyColumn.END : BodyColumn.END + 3, body]
    tracks = world.plan.tables.tracks[pose_of(block.body_marks, body, world.counts[Count.TICK] + 1)]
    for index, (joint, offset) in enumerate(ragdoll.places):
        at = np.array(offset) + (tracks[joint] if joint >= 0 else 0.0)
        column = body * world.plan.most_ragdoll_points + index
        block.ragdoll[PointColumn.PLACE : PointColumn.PLACE + 3, column] = place + turned(at.tolist(), ahead)
        block.ragdoll[PointColumn.VELOCITY : PointColumn.VELOCITY + 3, column] = block.bodies[
            BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body
        ]
    block.body_marks[BodyMark.RAGDOLL, body] = RagdollState.STILL
    wake(world, body)


def wake(world: World, body: int) -> None:
    """Let a ragdoll move again."""
    if world.block.body_marks[BodyMark.RAGDOLL, body] == RagdollState.STILL:
        world.counts[Count.MOVING_RAGDOLLS] += 1
    world.block.body_marks[BodyMark.RAGDOLL, body] = RagdollState.MOVING


def push(world: World, body: int, velocity: Vector, place: Vector) -> None:
    """Push a ragdoll at its point nearest to a place, and the others less with each link between."""
    ragdoll = queries.fighter_of(world, body).ragdoll
    if ragdoll is None:
        return
    points = points_of(world, body, ragdoll)
    nearest = int(np.argmin(((points[:3].T - place) ** 2).sum(axis=1)))
    shares = ragdoll.decay ** ragdoll.hops[nearest]
    points[PointColumn.VELOCITY : PointColumn.VELOCITY + 3] += np.outer(velocity, shares)
    wake(world, body)


def points_of(world: WorldState, body: int, ragdoll: RagdollPlan) -> np.ndarray:
    """The points (6, n) of a ragdoll, as they lie in the block."""
    first = body * world.plan.most_ragdoll_points
    return world.block.ragdoll[:, first : first + len(ragdoll.names)]


def slow_ticks(tick_rate: int) -> int:
    """After how many slow ticks a ragdoll lies still."""
    return int(REST_SECONDS * tick_rate)


def move(world: World) -> None:
    """Move every ragdoll that is not still through the tick."""
    block, tables, plan = world.block, world.plan.tables, world.plan
    world.counts[Count.MOVING_RAGDOLLS] -= step_ragdolls(
        block.ragdoll,
        block.bodies,
        block.body_marks,
        tables.models,
        tables.ragdolls,
        tables.ragdoll_marks,
        tables.ragdoll_links,
        tables.ragdoll_lengths,
        plan.most_ragdoll_points,
        FLAT[plan.space.name],
        block.shapes,
        block.first_wall,
        tables.bounds,
        block.bodies_end,
        plan.tick_rate,
        slow_ticks(plan.tick_rate),
    )
