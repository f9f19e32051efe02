"""Asks the kernels what shots and rays meet."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.block import SEAT_TEAM, TICK
from emberwound.combat.targeting import Reach, Target, refusal
from emberwound.geometry.contact import first_contacts
from emberwound.geometry.crowd import crowd_contacts
from emberwound.geometry.jit import announce
from emberwound.geometry.legs import (
    MAY_TOUCH_OWNER,
    MAY_TOUCH_TEAM,
    SHAPE_BODY,
    SHAPE_LAYER,
    SHAPE_OWNER,
    SHAPE_RANK,
    SHAPE_TEAM,
)
from emberwound.geometry.ray import ray_limit, ray_touches

if TYPE_CHECKING:
    from emberwound.bout.shots import Ray
    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector

FEW_SHOTS, FEW_PAIRS = 16, 4000
"""Up to so many shots, or pairs of a shot and a shape, testing every pair is no slower than a grid, or hardly."""


def of_shots(world: World, first: int, last: int) -> int:
    """How many of the shots in the columns first..last meet something in what is left of the tick; see `found`."""
    block, plan = world.block, world.plan
    few = last - first <= FEW_SHOTS or (last - first) * block.shapes.shape[1] <= FEW_PAIRS
    if not few:
        announce(crowd_contacts, "the kernels for crowds")
    count: int = (first_contacts if few else crowd_contacts)(
        block.shots,
        block.shot_marks,
        block.shapes,
        block.shape_marks,
        block.touched,
        plan.tables.bounds,
        world.found,
        world.found_marks,
        (first, last),
        world.counts[TICK],
        plan.tick_rate,
    )
    return count


class RayTouch(NamedTuple):
    """What a ray meets: how far along it, as a share of its range, where, and the shape or -1; `what` as for legs."""

    share: float
    position: Vector
    shape: int
    what: int


def of_ray(world: World, ray: Ray) -> tuple[list[RayTouch], RayTouch]:
    """The hurtboxes a ray touches, the best of each body, nearest first; and where it ends if they do not stop it.

    Of hurtboxes touched at one place the one of higher priority counts, then the lower id. A wall or the floor in the
    way hides what is behind it.
    """
    block, flight, attack = world.block, ray.flight, ray.attack
    start = np.array(flight.muzzle)
    move = np.array(flight.direction) * attack.ray_range
    layers = attack.launch.layers if attack.launch else 0
    shares = np.empty(block.shapes.shape[1])
    ray_touches(start, move, block.shapes, block.shape_marks, layers, shares)
    limit, what = ray_limit(start, move, world.plan.tables.bounds, layers)
    columns = np.flatnonzero(shares <= limit)
    owners, ranks = block.shape_marks[SHAPE_OWNER, columns], block.shape_marks[SHAPE_RANK, columns]
    order = np.lexsort((ranks, owners == 0, shares[columns]))
    found: dict[int, RayTouch] = {}
    end = RayTouch(limit, _at(start, move, limit), -1, what)
    for column in columns[order].tolist():
        share = float(shares[column])
        touch = RayTouch(share, _at(start, move, share), column, 0)
        if block.shape_marks[SHAPE_OWNER, column] == 0:
            end = touch
            break
        if not _barred(world, ray, column):
            found.setdefault(int(block.shape_marks[SHAPE_BODY, column]), touch)
    return list(found.values()), end


def _at(start: np.ndarray, move: np.ndarray, share: float) -> Vector:
    x, y, z = (start + move * share).tolist()
    return (x, y, z)


def _barred(world: World, ray: Ray, column: int) -> bool:
    marks, launch = world.block.shape_marks, ray.attack.launch
    layers, options = (launch.layers, launch.options) if launch else (0, 0)
    reach = Reach(
        owner=ray.flight.seat + 1,
        team=int(world.block.seat_marks[SEAT_TEAM, ray.flight.seat]),
        layers=layers,
        may_touch_owner=bool(options & MAY_TOUCH_OWNER),
        may_touch_team=bool(options & MAY_TOUCH_TEAM),
    )
    owner, team, layer = marks[[SHAPE_OWNER, SHAPE_TEAM, SHAPE_LAYER], column].tolist()
    return refusal(reach, Target(owner, team, layer)) is not None
