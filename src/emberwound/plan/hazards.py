"""The hazards, checkpoints and pickups of an arena, and the table they are laid from."""

from __future__ import annotations

from math import inf, lcm
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import HazardColumn, HazardMark, Layer, ShapeColumn
from emberwound.plan.arena_plans import CheckpointPlan, HazardPlan, PickupPlan
from emberwound.plan.solids import write_area
from emberwound.rulebook.fields import COLOURS
from emberwound.rulebook.terms import hit_terms
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from numpy.typing import NDArray

    from emberwound.combat.terms import WoundTerms
    from emberwound.plan.attack_plans import HitPlan
    from emberwound.plan.space import Space
    from emberwound.plan.times import Times
    from emberwound.rulebook.models import Area, Arena, Book, Checkpoint, Fighter, Hazard, HitOptions, Pickup


def hazard_plan(
    name: str, hazard: Hazard, times: Times, hit: Callable[[HitOptions, WoundTerms], HitPlan]
) -> HazardPlan:
    """What a hazard does; `hit` makes the plan of what a hit does."""
    return HazardPlan(
        name=name,
        hit=hit(hazard, hit_terms(hazard)),
        rehit=times.rehit_ticks(hazard.rehit_every),
        leaves=times.leave_ticks(hazard.rehit_every, hazard.leave_seconds),
        table=hazard,
        colour=COLOURS.get(hazard.colour, hazard.colour),
    )


def checkpoint_plan(name: str, checkpoint: Checkpoint, space: Space) -> CheckpointPlan:
    """Where a checkpoint puts those who touched it."""
    return CheckpointPlan(
        name=name,
        table=checkpoint,
        respawn_at=space.lift(checkpoint.respawn_at),
    )


def pickup_plan(book: Book, name: str, pickup: Pickup, times: Times) -> PickupPlan:
    """What a pickup gives."""
    counters = list(book.counters)
    return PickupPlan(
        name=name,
        table=pickup,
        counts={counters.index(each): points for each, points in pickup.counts.items()},
        return_ticks=(
            float(times.exact_ticks(pickup.returns_after)) if isinstance(pickup.returns_after, Duration) else None
        ),
        leaves=times.leave_ticks(pickup.returns_after, pickup.leave_seconds),
    )


CLOSE = 0.01
"""What is stopped by a solid hazard touches it, with this share of the largest body to spare."""


def clearance_of(book: Book) -> float:
    """How far hurtboxes lie within the bodies of fighters at the most, ahead, behind, below and above, at rest."""
    gaps = [_clearance(fighter) for fighter in book.fighters.values()]
    return max(gaps, default=0.0) + CLOSE * max((each.body.radius for each in book.fighters.values()), default=0.0)


def _clearance(fighter: Fighter) -> float:
    body = fighter.body
    front = back = -inf
    low, high = inf, -inf
    for box in fighter.hurtboxes.values():
        places = [fighter.joints[each] if isinstance(each, str) else each for each in (box.from_, box.to) if each]
        across = box.radius if box.size is None else box.size[0] / 2
        up = box.radius if box.size is None else box.size[1] / 2
        front = max(front, *(place[0] + (across or 0.0) for place in places), -inf)
        back = max(back, *((across or 0.0) - place[0] for place in places), -inf)
        low = min(low, *(place[1] - (up or 0.0) for place in places), inf)
        high = max(high, *(place[1] + (up or 0.0) for place in places), -inf)
    return max(body.radius - min(front, back), low, body.height - high, 0.0)


def area_tables(
    arena: Arena, space: Space, times: Times, layers: Sequence[str], clearance: float
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Hazards, checkpoints and pickups of an arena, each in file order, as `geometry.volumes` lays them out.

    Solid hazards reach so much further, to touch the hurtboxes of whom they stop.
    """
    others: list[Area] = [*arena.checkpoints.values(), *arena.pickups.values()]
    count = len(arena.hazards) + len(others)
    shapes = np.zeros((HazardColumn.COLUMNS, count))
    marks = np.zeros((HazardMark.COLUMNS, count), np.int64)
    for column, area in enumerate(others, len(arena.hazards)):
        write_area(shapes[:, column], area, space)
        marks[HazardMark.LAYERS, column] = (1 << len(layers)) - 1 | Layer.PROTECTED
        marks[HazardMark.PARTS, column] = 1
    for column, hazard in enumerate(arena.hazards.values()):
        write_area(shapes[:, column], hazard, space)
        if hazard.solid:
            shapes[ShapeColumn.RADIUS, column] += clearance
        names = layers if hazard.layers is None else hazard.layers
        marks[HazardMark.LAYERS, column] = sum(1 << layers.index(name) for name in names)
        if hazard.fatal:
            marks[HazardMark.LAYERS, column] |= Layer.PROTECTED
        if hazard.path is not None:
            marks[HazardMark.PATH, column] = list(arena.paths).index(hazard.path) + 1
            shapes[HazardColumn.SPEED, column] = hazard.speed
        marks[HazardMark.PARTS, column] = 1
        if hazard.schedule is not None:
            _write_schedule(marks[:, column], hazard, times)
    return shapes, marks


def _write_schedule(marks: NDArray[np.int64], hazard: Hazard, times: Times) -> None:
    """Write when a hazard is on, in whole parts of a tick."""
    if hazard.schedule is None:
        return
    first, on = times.exact_ticks(hazard.schedule.first), times.exact_ticks(hazard.schedule.on)
    every = on + times.exact_ticks(hazard.schedule.off)
    parts = lcm(first.denominator, on.denominator, every.denominator)
    marks[HazardMark.PARTS] = parts
    marks[HazardMark.FIRST], marks[HazardMark.ON], marks[HazardMark.EVERY] = (
        int(each * parts) for each in (first, on, every)
    )
