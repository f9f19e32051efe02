"""Blasts: set off by releases, by the ends of shots and by deaths, and what they do to whom they reach."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.hits import contacts, victims
from emberwound.bout.hits.damage import land
from emberwound.bout.hits.knockback import push_points, share_at, velocity_at
from emberwound.bout.state.layout import Count, SeatMark, mark_of
from emberwound.bout.state.pending import Contact, Hit, PendingBlast, PendingKnockback
from emberwound.geometry.layout import BodyColumn, BodyMark, Presence, ReachedColumn
from emberwound.geometry.rays_and_blasts import reach_shapes
from emberwound.vocabulary.events import Exploded

if TYPE_CHECKING:
    from collections.abc import Iterable

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import BlastPlan

ABOUT_THE_MIDDLE = 0.5
"""How high in a body a blast at its death goes off, as a share of its height."""


def explode(world: World, blast: PendingBlast) -> int:
    """Let a blast do what it does to all bodies it reaches: one hit each, by the hurtbox it hurts most; its event."""
    plan = world.plan.blasts[blast.blast]
    block, time = world.block, (world.counts[Count.TICK] + blast.share) / world.plan.tick_rate
    cause = world.emit(
        Exploded(
            time=time,
            by=world.name_of(blast.by),
            cause=blast.cause,
            blast=plan.name,
            shot=blast.shot,
            position=world.point(blast.place),
            radius=plan.table.radius,
        )
    )
    if world.hear_blast is not None:
        world.hear_blast(world, blast)
    team = int(block.seat_marks[SeatMark.TEAM, blast.by]) if blast.by >= 0 else -1
    reached = np.empty((ReachedColumn.COLUMNS, block.first_wall))
    whose = (mark_of(blast.by), team, plan.hit.layers, plan.hit.options)
    reach_shapes(
        blast.place, blast.share, plan.table.radius, block.shapes, block.shape_marks, whose, block.first_wall, reached
    )
    shapes = _hurt_most(world, plan, reached, blast.spared)
    figures = reached[:, shapes].T.tolist()
    _wound_each(world, plan, blast, cause, time, zip(shapes, figures, strict=True))
    knock_back_corpses(world, plan, blast, cause)
    return cause


def _wound_each(
    world: World,
    plan: BlastPlan,
    blast: PendingBlast,
    cause: int,
    time: float,
    reached: Iterable[tuple[int, list[float]]],
) -> None:
    touched = list(reached)
    victims.read(world, [shape // world.plan.most_hurtboxes for shape, _ in touched])
    for shape, (gap, x, y, z) in touched:
        if plan.table.on_wall == "block" and contacts.wall_between(world, blast.place, (x, y, z)):
            continue
        hit = Hit(
            blast.by,
            plan.name,
            plan.hit,
            cause,
            shot=blast.shot,
            distance=gap,
            source=blast.place,
            strength=share_at(plan, gap),
            credit=blast.credit,
            blast=blast,
        )
        land(world, hit, Contact(shape, (x, y, z), time))


def knock_back_corpses(world: World, plan: BlastPlan, blast: PendingBlast, cause: int) -> None:
    """Push the corpses a blast reaches: a ragdoll point by point, any other about its middle."""
    if not plan.hit.pushes:
        return
    block, marks = world.block, world.block.body_marks
    for body in (marks[BodyMark.PRESENCE] == Presence.CORPSE).nonzero()[0].tolist():
        fighter = world.plan.fighters[int(marks[BodyMark.MODEL, body])]
        if marks[BodyMark.RAGDOLL, body] and fighter.ragdoll:
            push_points(world, body, fighter, blast)
            continue
        x, y, z = block.bodies[BodyColumn.END : BodyColumn.END + 3, body].tolist()
        up = ABOUT_THE_MIDDLE * fighter.height if world.plan.space.has_heights else 0.0
        place = (x, y, z + up)
        velocity = velocity_at(world, blast, fighter, place)
        if velocity is not None:
            time = (world.counts[Count.TICK] + blast.share) / world.plan.tick_rate
            replaces = plan.hit.pushes[fighter.id].replaces
            knockback = PendingKnockback(velocity, replaces, time, cause, world.name_of(blast.by), place)
            world.pending_knockback.setdefault(body, []).append(knockback)


def _hurt_most(world: World, plan: BlastPlan, reached: NDArray[np.float64], spared: int) -> list[int]:
    """Of each body the hurtbox with the greatest share times multiplier, the first of equals; bodies in order."""
    most = world.plan.most_hurtboxes
    shapes = np.flatnonzero(np.isfinite(reached[ReachedColumn.GAP]))
    if spared >= 0 and not plan.table.hits_direct_victim:
        shapes = shapes[shapes // most != spared]
    if not shapes.size:
        return []
    bodies, parts = np.divmod(shapes, most)
    multipliers = world.plan.tables.multipliers[world.block.body_marks[BodyMark.MODEL, bodies], parts]
    shares = [share_at(plan, gap) for gap in reached[ReachedColumn.GAP, shapes].tolist()]
    order = np.lexsort((shapes, -np.array(shares) * multipliers, bodies))
    firsts = np.unique(bodies[order], return_index=True)[1]
    best: list[int] = shapes[order][firsts].tolist()
    return best


def set_off_at_death(world: World, body: int) -> None:
    """Let the blast of a body that died in the tick before go off where it lies, a little up."""
    block, marks = world.block, world.block.body_marks
    fighter = world.plan.fighters[int(marks[BodyMark.MODEL, body])]
    x, y, z = block.bodies[BodyColumn.END : BodyColumn.END + 3, body].tolist()
    up = ABOUT_THE_MIDDLE * fighter.height if world.plan.space.has_heights else 0.0
    credited = victims.hit_lately(world, body, (world.counts[Count.TICK] - 1) / world.plan.tick_rate)
    world.pending_blasts.append(
        PendingBlast(
            fighter.death_blast,
            world.seat_of(body),
            0.0,
            (x, y, z + up),
            int(marks[BodyMark.DEATH_SEQ, body]),
            credit=world.names.index_of(credited[0]) if credited else -1,
        )
    )
