"""Limp bodies: corpses of fighters with a table of points and links."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout import conditions
from emberwound.bout.block import BODY_LIMP, LIMP, TICK
from emberwound.geometry.limp import POINT_PLACE, POINT_VELOCITY, step_limp
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_END, FRAME_FROZEN, FRAME_VELOCITY, pose_row
from emberwound.geometry.thrown import MODEL_GRAVITY
from emberwound.plan.plane import turned

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.fighter_plans import LimpPlan
    from emberwound.plan.plane import Vector

STILL, MOVING = 1, 2
"""What `BODY_LIMP` says of a limp body; one more than `MOVING` for each tick that it was slow in a row."""

REST_SECONDS = 0.5
"""How long a body must be slow until it lies still."""

FLAT = {"side": 1, "top": 2, "full": -1}
"""The axis that a plane does not have."""


def start(world: World, row: int, limp: LimpPlan) -> None:
    """Let a body that died go limp: its points where its joints are, with the velocity it had."""
    block = world.block
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
    place = block.bodies[FRAME_END : FRAME_END + 3, row]
    tracks = world.plan.tables.tracks[pose_row(block.body_marks, row, world.counts[TICK] + 1)]
    for number, (joint, offset) in enumerate(limp.places):
        at = np.array(offset) + (tracks[joint] if joint >= 0 else 0.0)
        column = row * world.plan.most_points + number
        block.limp[POINT_PLACE : POINT_PLACE + 3, column] = place + turned(at.tolist(), ahead)
        block.limp[POINT_VELOCITY : POINT_VELOCITY + 3, column] = block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, row]
    block.body_marks[BODY_LIMP, row] = STILL
    wake(world, row)


def wake(world: World, row: int) -> None:
    """Let a limp body move again."""
    if world.block.body_marks[BODY_LIMP, row] == STILL:
        world.counts[LIMP] += 1
    world.block.body_marks[BODY_LIMP, row] = MOVING


def push(world: World, row: int, velocity: Vector, place: Vector) -> None:
    """Push a limp body at its point nearest to a place, and the others less with each link between."""
    limp = conditions.fighter_of(world, row).limp
    if limp is None:
        return
    points = points_of(world, row, limp)
    struck = int(np.argmin(((points[:3].T - place) ** 2).sum(axis=1)))
    shares = limp.decay ** limp.hops[struck]
    points[POINT_VELOCITY : POINT_VELOCITY + 3] += np.outer(velocity, shares)
    wake(world, row)


def points_of(world: World, row: int, limp: LimpPlan) -> np.ndarray:
    """The points (6, n) of a limp body, as they lie in the block."""
    first = row * world.plan.most_points
    return world.block.limp[:, first : first + len(limp.names)]


def move(world: World) -> None:
    """Move every limp body that is not still through the tick."""
    block, tables, plan = world.block, world.plan.tables, world.plan
    long = int(REST_SECONDS * plan.tick_rate) + MOVING
    for row in (block.body_marks[BODY_LIMP] >= MOVING).nonzero()[0].tolist():
        fighter = conditions.fighter_of(world, row)
        if fighter.limp is None or block.body_marks[FRAME_FROZEN, row]:
            continue
        ahead, left = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
        fast = step_limp(
            block.limp,
            row * plan.most_points,
            len(fighter.limp.names),
            fighter.limp.links,
            fighter.limp.lengths,
            fighter.limp.radius,
            fighter.limp.stretch,
            fighter.slowing,
            float(tables.models[MODEL_GRAVITY, fighter.id]),
            (ahead, left),
            FLAT[plan.plane.name],
            block.shapes,
            block.first_wall,
            tables.bounds,
            1.0 / plan.tick_rate,
        )
        block.body_marks[BODY_LIMP, row] = MOVING if fast else block.body_marks[BODY_LIMP, row] + 1
        if block.body_marks[BODY_LIMP, row] >= long:
            _lay_still(world, row)


def _lay_still(world: World, row: int) -> None:
    first = row * world.plan.most_points
    world.block.limp[POINT_VELOCITY:, first : first + world.plan.most_points] = 0.0
    world.block.body_marks[BODY_LIMP, row] = STILL
    world.counts[LIMP] -= 1
