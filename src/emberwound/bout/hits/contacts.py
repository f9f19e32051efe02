"""Asks the kernels what shots, rays, strikes and hazards meet."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.state.layout import Count, SeatMark, mark_of
from emberwound.bout.state.pending import VolumeContact
from emberwound.geometry.contact import first_contacts
from emberwound.geometry.crowd import crowd_contacts
from emberwound.geometry.layout import Layer, Refusal, ShapeMark
from emberwound.geometry.neighbours import refusal
from emberwound.geometry.rays_and_blasts import ray_limit, ray_touches
from emberwound.geometry.volume_contacts import touch_contacts

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.pending import Ray
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector

FEW_SHOTS = 16
"""So few shots are tested one by one; more of them in blocks."""


def of_shots(world: World, first: int, last: int) -> int:
    """How many of the shots in the columns first..last meet something in what is left of the tick; see `found`."""
    block, plan = world.block, world.plan
    arrays = (
        block.shots,
        block.shot_marks,
        block.shapes,
        block.shape_marks,
        block.touched,
        plan.tables.bounds,
        world.found,
        world.found_marks,
        (first, last),
        (block.bodies_end * plan.most_hurtboxes, block.first_wall),
        world.counts[Count.TICK],
        plan.tick_rate,
    )
    return (first_contacts if last - first <= FEW_SHOTS else crowd_contacts)(*arrays)


def of_strikes(
    world: World, column: int | None = None, body: int | None = None, since: float = 0.0
) -> list[VolumeContact]:
    """The first touch of each swing, or of one body's, with each body, or with one, after a fraction of the tick."""
    most, block = world.plan.most_hitboxes, world.block
    columns = (0, block.bodies_end * most) if column is None else (column * most, (column + 1) * most)
    return _touches(world, (*columns, most), body, since)[0]


def of_hazards(
    world: World, column: int | None = None, body: int | None = None, since: float = 0.0
) -> tuple[list[VolumeContact], int]:
    """The first touch of each hazard, or of one, with each body, or with one, after a fraction of the tick.

    And how many bodies are near a hazard: without one there, nothing is touched until something moves.
    """
    block = world.block
    columns = (block.first_hazard, block.volumes.shape[1]) if column is None else (column, column + 1)
    return _touches(world, (*columns, 1), body, since)


def _touches(
    world: World, columns: tuple[int, int, int], body: int | None, since: float
) -> tuple[list[VolumeContact], int]:
    block, most = world.block, world.plan.most_hurtboxes
    block.swing_touches.settle()
    kept = (block.again, block.swing_touches.keys, block.swing_touches.figures)
    bodies = (0, block.bodies_end, most) if body is None else (body, body + 1, most)
    found: list[VolumeContact] = []
    group, nearby = columns[0], 0
    while group < columns[1]:
        count, group, near = touch_contacts(
            block.volumes,
            block.volume_marks,
            block.shapes,
            block.shape_marks,
            kept,
            world.touched,
            world.touched_marks,
            (group, *columns[1:]),
            bodies,
            block.first_hazard_group,
            world.counts[Count.TICK],
            since,
        )
        nearby += near
        if not count:
            continue
        lines, marks = world.touched[:, :count].T.tolist(), world.touched_marks[:, :count].T.tolist()
        found += [VolumeContact(share, (x, y, z), *mark) for (share, x, y, z), mark in zip(lines, marks, strict=True)]
    return found, nearby


def wall_between(world: World, start: Vector, end: Vector) -> str | None:
    """The name of a wall that the straight line between two points passes through, but for one it starts in."""
    block = world.block
    move = np.array(end) - np.array(start)
    shares = np.empty(block.shapes.shape[1])
    ray_touches(np.array(start), move, block.shapes, block.shape_marks, Layer.WALL, shares)
    walls = shares[block.first_wall :]
    crossed = np.flatnonzero((walls > 0.0) & (walls < 1.0))
    return world.plan.wall_names[int(crossed[0])] if crossed.size else None


class RayContact(NamedTuple):
    """What a ray meets: at which share of its range, where, and the shape or -1; `what` as for segments."""

    share: float
    position: Vector
    shape: int
    what: int


def of_ray(world: World, ray: Ray) -> tuple[list[RayContact], RayContact]:
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
    owners, ranks = block.shape_marks[ShapeMark.OWNER, columns], block.shape_marks[ShapeMark.RANK, columns]
    order = np.lexsort((ranks, owners == 0, shares[columns]))
    found: dict[int, RayContact] = {}
    end = RayContact(float(limit), _at(start, move, limit), -1, int(what))
    for column in columns[order].tolist():
        share = float(shares[column])
        touch = RayContact(share, _at(start, move, share), column, 0)
        if block.shape_marks[ShapeMark.OWNER, column] == 0:
            end = touch
            break
        if ray_refusal(world, ray, block.shape_marks, column) == Refusal.NONE:
            found.setdefault(int(block.shape_marks[ShapeMark.BODY, column]), touch)
    return list(found.values()), end


def _at(start: np.ndarray, move: np.ndarray, share: float) -> Vector:
    x, y, z = (start + move * share).tolist()
    return (x, y, z)


def ray_refusal(world: World, ray: Ray, shape_marks: NDArray[np.int64], shape: int) -> int:
    """Why a ray leaves a shape alone, a Refusal."""
    seat, launch, options = ray.flight.seat, ray.attack.launch, ray.attack.hit.options
    team, layers = int(world.block.seat_marks[SeatMark.TEAM, seat]), launch.layers if launch else 0
    code: int = refusal(layers, options, mark_of(seat), team, shape_marks, shape)
    return code
