"""The hazards, checkpoints and pickups of an arena, and the table they are laid from."""

from __future__ import annotations

from math import lcm
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.legs import (
    PROTECTED_LAYER,
    SHAPE_A,
    SHAPE_A_END,
    SHAPE_AXES,
    SHAPE_B,
    SHAPE_B_END,
    SHAPE_RADIUS,
)
from emberwound.geometry.volumes import (
    BEYOND,
    BOX,
    CAPSULE,
    HAZARD_EVERY,
    HAZARD_FIRST,
    HAZARD_LAYERS,
    HAZARD_MARKS,
    HAZARD_ON,
    HAZARD_PARTS,
    HAZARD_PATH,
    HAZARD_ROWS,
    HAZARD_SHAPE,
    HAZARD_SPEED,
)
from emberwound.plan.arena_plans import CheckpointPlan, HazardPlan, PickupPlan
from emberwound.plan.plane import unit
from emberwound.rulebook.terms import hazard_terms

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from numpy.typing import NDArray

    from emberwound.combat.push import PushTerms
    from emberwound.plan.plane import Plane
    from emberwound.plan.times import Times
    from emberwound.rulebook.models import Area, Arena, Book, Checkpoint, Hazard, Pickup, Push


def hazard_plan(
    book: Book,
    name: str,
    hazard: Hazard,
    times: Times,
    pushes: Callable[[Push | None], tuple[PushTerms, ...]],
) -> HazardPlan:
    """What a hazard deals."""
    afflictions = list(book.afflictions)
    return HazardPlan(
        name=name,
        wound=hazard_terms(hazard),
        pushes=pushes(hazard.push),
        afflicts=tuple(afflictions.index(each) for each in hazard.afflicts),
        rehit=float(times.exact_ticks(hazard.rehit_every)),
        fatal=hazard.fatal,
    )


def checkpoint_plan(name: str, checkpoint: Checkpoint, plane: Plane) -> CheckpointPlan:
    """Where a checkpoint puts those who touched it."""
    return CheckpointPlan(
        name=name,
        order=checkpoint.order,
        stand=plane.lift(checkpoint.stand),
        facing=checkpoint.facing,
        refill=frozenset(checkpoint.refill),
        whole_team=checkpoint.whole_team,
    )


def pickup_plan(book: Book, name: str, pickup: Pickup, times: Times) -> PickupPlan:
    """What a pickup gives."""
    counters = list(book.counters)
    return PickupPlan(
        name=name,
        gives=dict(pickup.gives),
        counts={counters.index(each): points for each, points in pickup.counts.items()},
        lives=pickup.lives,
        back_ticks=None if pickup.back is None else times.ticks(pickup.back),
    )


def area_tables(
    arena: Arena, plane: Plane, times: Times, layers: Sequence[str]
) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Hazards, checkpoints and pickups of an arena, each in file order, as `geometry.volumes` lays them out."""
    others: list[Area] = [*arena.checkpoints.values(), *arena.pickups.values()]
    count = len(arena.hazards) + len(others)
    shapes = np.zeros((HAZARD_ROWS, count))
    marks = np.zeros((HAZARD_MARKS, count), np.int64)
    for column, area in enumerate(others, len(arena.hazards)):
        marks[HAZARD_SHAPE, column] = _write_shape(shapes[:, column], area, plane)
        marks[HAZARD_LAYERS, column] = (1 << len(layers)) - 1 | PROTECTED_LAYER
        marks[HAZARD_PARTS, column] = 1
    for column, hazard in enumerate(arena.hazards.values()):
        marks[HAZARD_SHAPE, column] = _write_shape(shapes[:, column], hazard, plane)
        names = layers if hazard.layers is None else hazard.layers
        marks[HAZARD_LAYERS, column] = sum(1 << layers.index(name) for name in names)
        if hazard.fatal:
            marks[HAZARD_LAYERS, column] |= PROTECTED_LAYER
        if hazard.path is not None:
            marks[HAZARD_PATH, column] = list(arena.paths).index(hazard.path) + 1
            shapes[HAZARD_SPEED, column] = hazard.speed
        marks[HAZARD_PARTS, column] = 1
        if hazard.schedule is not None:
            _write_schedule(marks[:, column], hazard, times)
    return shapes, marks


def _write_shape(rows: NDArray[np.float64], hazard: Area, plane: Plane) -> int:
    """Write where an area is; which shape it has."""
    rows[SHAPE_A : SHAPE_A + 3] = rows[SHAPE_A_END : SHAPE_A_END + 3] = plane.lift(hazard.at)
    rows[SHAPE_RADIUS] = hazard.near
    if hazard.towards is not None:
        rows[SHAPE_AXES : SHAPE_AXES + 3] = unit(plane.lift(hazard.towards))
        return BEYOND
    if hazard.size is not None:
        rows[SHAPE_B : SHAPE_B + 3] = plane.half_sizes(hazard.size)
        rows[SHAPE_AXES : SHAPE_AXES + 9] = np.array(plane.axes_turned(hazard.turn_deg)).ravel()
        return BOX
    other = plane.lift(hazard.at if hazard.to is None else hazard.to)
    rows[SHAPE_B : SHAPE_B + 3] = rows[SHAPE_B_END : SHAPE_B_END + 3] = other
    rows[SHAPE_RADIUS] += hazard.radius or 0.0
    return CAPSULE


def _write_schedule(marks: NDArray[np.int64], hazard: Hazard, times: Times) -> None:
    """Write when a hazard is on, in whole parts of a tick."""
    if hazard.schedule is None:
        return
    first, on = times.exact_ticks(hazard.schedule.first), times.exact_ticks(hazard.schedule.on)
    every = on + times.exact_ticks(hazard.schedule.off)
    parts = lcm(first.denominator, on.denominator, every.denominator)
    marks[HAZARD_PARTS] = parts
    marks[HAZARD_FIRST], marks[HAZARD_ON], marks[HAZARD_EVERY] = (int(each * parts) for each in (first, on, every))
