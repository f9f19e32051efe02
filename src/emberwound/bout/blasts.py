"""Blasts: set off by releases, by the ends of shots and by deaths, and what they do to whom they reach."""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout import contacts, limps
from emberwound.bout.block import BODY_DIED, BODY_LIMP, CORPSE, SEAT_TEAM, TICK
from emberwound.bout.pushes import Shove
from emberwound.bout.wounds import Blow, Struck, strike
from emberwound.combat.push import push_velocity
from emberwound.combat.wound import falloff_share
from emberwound.geometry.burst import REACHED_GAP, REACHED_ROWS, reach_shapes
from emberwound.geometry.pose import FRAME_END, FRAME_LIVE, FRAME_MODEL, FRAME_OWNER
from emberwound.vocabulary.events import Burst

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import BlastPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plane import Vector

ABOUT_THE_MIDDLE = 0.5
"""How high in a body a blast at its death goes off, as a share of its height."""


class Charge(NamedTuple):
    """A blast about to go off: which, whose, at which fraction of the tick and where, from which event.

    `spared` is the column of a body it leaves out, or -1; `number` that of the shot it comes from, or 0.
    """

    blast: int
    by: int
    share: float
    place: Vector
    cause: int | None
    spared: int = -1
    number: int = 0


def go_off(world: World, charge: Charge) -> None:
    """Let a blast do what it does to all it reaches: one blow a body, by the hurtbox it hurts most."""
    plan = world.plan.blasts[charge.blast]
    block, time = world.block, (world.counts[TICK] + charge.share) / world.plan.tick_rate
    cause = world.emit(
        Burst,
        time=time,
        by=world.name_of(charge.by),
        cause=charge.cause,
        blast=plan.name,
        shot=charge.number,
        position=world.point(charge.place),
        radius=plan.radius,
    )
    team = int(block.seat_marks[SEAT_TEAM, charge.by]) if charge.by >= 0 else -1
    reached = np.empty((REACHED_ROWS, block.first_wall))
    whose = (charge.by + 1, team, plan.layers, plan.options)
    reach_shapes(
        charge.place, charge.share, plan.radius, block.shapes, block.shape_marks, whose, block.first_wall, reached
    )
    for shape in _hurt_most(world, plan, reached, charge.spared):
        gap, x, y, z = reached[:, shape].tolist()
        if plan.walls_block and contacts.wall_between(world, charge.place, (x, y, z)):
            continue
        blow = Blow(
            charge.by,
            plan.name,
            plan.wound,
            plan.afflicts,
            cause,
            number=charge.number,
            distance=gap,
            source=charge.place,
            pushes=plan.pushes,
            strength=_share(plan, gap),
            stop_ticks=plan.stop_ticks,
        )
        strike(world, blow, Struck(shape, (x, y, z), time))
    throw_the_dead(world, plan, charge, cause)


def throw_the_dead(world: World, plan: BlastPlan, charge: Charge, cause: int) -> None:
    """Push the corpses a blast reaches: a limp one point by point, any other about its middle."""
    if not plan.pushes:
        return
    block, marks = world.block, world.block.body_marks
    for row in (marks[FRAME_LIVE] == CORPSE).nonzero()[0].tolist():
        fighter = world.plan.fighters[int(marks[FRAME_MODEL, row])]
        x, y, z = block.bodies[FRAME_END : FRAME_END + 3, row].tolist()
        up = ABOUT_THE_MIDDLE * fighter.height if world.plan.plane.has_heights else 0.0
        places = [(x, y, z + up)]
        if marks[BODY_LIMP, row] and fighter.limp:
            places = [(a, b, c) for a, b, c in limps.points_of(world, row, fighter.limp)[:3].T.tolist()]
        for number, place in enumerate(places):
            _throw_dead(world, plan, charge, (row, number), fighter, place, cause)


def _throw_dead(
    world: World,
    plan: BlastPlan,
    charge: Charge,
    which: tuple[int, int],
    fighter: FighterPlan,
    place: Vector,
    cause: int,
) -> None:
    gap = dist(place, charge.place)
    if gap > plan.radius or (plan.walls_block and contacts.wall_between(world, charge.place, place)):
        return
    push = plan.pushes[fighter.id]
    x, y, z = (a - b for a, b in zip(place, charge.place, strict=True))
    way = (x, y, z if push.heading == "radial" else 0.0)
    velocity = push_velocity(push, way, (1.0, 0.0), 0.0, _share(plan, gap), fighter.weight)
    if not world.plan.plane.has_heights:
        velocity = (velocity[0], velocity[1], 0.0)
    row, number = which
    if world.block.body_marks[BODY_LIMP, row] and fighter.limp:
        limps.points_of(world, row, fighter.limp)[3:, number] += velocity
        limps.wake(world, row)
    else:
        time = (world.counts[TICK] + charge.share) / world.plan.tick_rate
        shove = Shove(velocity, push.replaces, time, cause, world.name_of(charge.by), place)
        world.shoves.setdefault(row, []).append(shove)


def _share(plan: BlastPlan, gap: float) -> float:
    return falloff_share(plan.wound.falloff, gap) if plan.wound.falloff else 1.0


def _hurt_most(world: World, plan: BlastPlan, reached: np.ndarray, spared: int) -> list[int]:
    """Of each body the hurtbox with the greatest share times multiplier, the first of equals; bodies in order."""
    most = world.plan.most_hurtboxes
    best: dict[int, tuple[float, int]] = {}
    for shape in np.flatnonzero(np.isfinite(reached[REACHED_GAP])).tolist():
        body, part = divmod(shape, most)
        if body == spared and not plan.direct:
            continue
        fighter = world.plan.fighters[int(world.block.body_marks[FRAME_MODEL, body])]
        score = _share(plan, float(reached[REACHED_GAP, shape])) * fighter.hurtboxes[part].multiplier
        if body not in best or score > best[body][0]:
            best[body] = (score, shape)
    return [shape for _, shape in best.values()]


def set_off_at_death(world: World, row: int) -> None:
    """Let the blast of a body that died in the tick before go off where it lies, a little up."""
    block, marks = world.block, world.block.body_marks
    fighter = world.plan.fighters[int(marks[FRAME_MODEL, row])]
    x, y, z = block.bodies[FRAME_END : FRAME_END + 3, row].tolist()
    up = ABOUT_THE_MIDDLE * fighter.height if world.plan.plane.has_heights else 0.0
    seat = int(marks[FRAME_OWNER, row]) - 1
    world.charges.append(Charge(fighter.death_blast, seat, 0.0, (x, y, z + up), int(marks[BODY_DIED, row])))
