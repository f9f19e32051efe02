"""What touches bodies: hitboxes in windows of a tick, and the areas of an arena, as volumes."""

from __future__ import annotations

from itertools import pairwise
from math import cos, inf, lcm, radians, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.geometry.layout import (
    HazardColumn,
    HazardMark,
    HitboxColumn,
    Layer,
    PartColumn,
    PartMark,
    ShapeColumn,
    ShapeKind,
)
from emberwound.plan.plan import CheckpointPlan, HazardPlan, PickupPlan
from emberwound.plan.solids import write_area, write_part
from emberwound.plan.space import as_offset
from emberwound.rulebook.fields import COLOURS
from emberwound.rulebook.terms import hit_terms
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence
    from fractions import Fraction

    from numpy.typing import NDArray

    from emberwound.combat.terms import WoundTerms
    from emberwound.plan.attack_plans import HitPlan
    from emberwound.plan.space import Space
    from emberwound.plan.tables import Tracks
    from emberwound.plan.times import Times
    from emberwound.rulebook.attack_timeline import NamedWindow
    from emberwound.rulebook.models import (
        Area,
        Arena,
        Attack,
        Book,
        Checkpoint,
        Fighter,
        Hazard,
        Hitbox,
        HitOptions,
        PartShape,
        Pickup,
        Swing,
    )

    Column = NDArray[np.float64]


class Stretch(NamedTuple):
    """Part of a window of a hitbox in which the joints that it hangs on go straight and evenly."""

    window: NamedWindow
    begins: Fraction
    ends: Fraction

    def share(self, time: Fraction) -> float:
        """The share of the whole window that is over at a time."""
        return float((time - self.window.begins) / (self.window.ends - self.window.begins))


def stretches_of(attack: Attack, windows: Iterable[NamedWindow], frame_rate: int) -> tuple[Stretch, ...]:
    """The windows of an attack's hitboxes, cut where a joint that one hangs on reaches a key of its pose."""
    found = []
    for window in windows:
        box = attack.strike.hitboxes[window.name]  # type: ignore[union-attr]
        keys = [key for joint in _joints(box) for key in attack.poses.get(joint, ())]
        inner = {time for time in (key.at.seconds(frame_rate) for key in keys) if window.begins < time < window.ends}
        found += [Stretch(window, *each) for each in pairwise([window.begins, *sorted(inner), window.ends])]
    return tuple(found)


def columns_for(stretches: Sequence[Stretch], tick: Fraction) -> list[int]:
    """A column for each stretch, so that no tick sees two of one column.

    A stretch is laid out from a tick before it begins until the tick after it ends.
    """
    columns: list[int] = []
    free_from: list[Fraction] = []
    for each in stretches:
        column = next((column for column, free in enumerate(free_from) if free <= each.begins - tick), len(free_from))
        free_from[column : column + 1] = [each.ends]
        columns.append(column)
    return columns


class Hitboxes:
    """Gathers hitboxes as attacks are compiled."""

    def __init__(self, space: Space, tracks: Tracks, tick_rate: int) -> None:
        self._plane = space
        self._tracks = tracks
        self._tick_rate = tick_rate
        self._columns: list[tuple[Column, NDArray[np.int64]]] = []

    def add(self, attack: Attack, stretch: Stretch, fighter: Fighter) -> int:
        """The column of a hitbox of an attack on a fighter."""
        box: Hitbox = attack.strike.hitboxes[stretch.window.name]  # type: ignore[union-attr]
        offsets, marks = np.zeros(HitboxColumn.COLUMNS), np.zeros(PartMark.COLUMNS, np.int64)
        write_part(offsets, marks, box, fighter, self._plane)
        if attack.poses:
            for row, way, mark, joint in _ends_on_joints(box):
                begins, ends = (
                    self._tracks.place(fighter, attack, joint, float(time * self._tick_rate))
                    for time in (stretch.begins, stretch.ends)
                )
                offsets[row : row + 3], offsets[way : way + 3], marks[mark] = begins, ends - begins, -1
        if box.swing is not None:
            offsets[PartColumn.KIND] = ShapeKind.TURNING
            self._write_swing(offsets, box.swing, stretch)
        self._columns.append((offsets, marks))
        return len(self._columns) - 1

    def _write_swing(self, offsets: Column, swing: Swing, stretch: Stretch) -> None:
        tilt = radians(swing.tilt_deg)
        level = swing.tilt_deg in (90.0, -90.0)
        upright = (0.0, sin(tilt), 0.0 if level else cos(tilt))
        _, left, up = as_offset(self._plane.lift(self._plane.flatten(upright)), (1.0, 0.0))
        turn = swing.to_deg - swing.from_deg
        offsets[HitboxColumn.FROM] = radians(swing.from_deg + turn * stretch.share(stretch.begins))
        offsets[HitboxColumn.TO] = radians(swing.from_deg + turn * stretch.share(stretch.ends))
        offsets[HitboxColumn.INNER], offsets[HitboxColumn.REACH] = swing.inner, swing.reach
        offsets[HitboxColumn.LEFT], offsets[HitboxColumn.UP] = left, up

    def tables(self) -> tuple[Column, NDArray[np.int64]]:
        """All of them, (rows, hitboxes, 1)."""
        if not self._columns:
            return np.zeros((HitboxColumn.COLUMNS, 1, 1)), np.zeros((PartMark.COLUMNS, 1, 1), np.int64)
        offsets = np.column_stack([column for column, _ in self._columns])
        marks = np.column_stack([column for _, column in self._columns])
        return np.ascontiguousarray(offsets[:, :, None]), np.ascontiguousarray(marks[:, :, None])


def _joints(box: PartShape) -> list[str]:
    return [place for place in (box.from_, box.to) if isinstance(place, str)]


def _ends_on_joints(box: PartShape) -> list[tuple[int, int, int, str]]:
    """The ends of a hitbox that hang on joints: the rows of its place and of its way, that of its mark, the joint."""
    ends = [(PartColumn.A, HitboxColumn.A_WAY, PartMark.JOINT_A, box.from_)]
    if box.size is None:
        ends.append((PartColumn.B, HitboxColumn.B_WAY, PartMark.JOINT_B, box.from_ if box.to is None else box.to))
    return [(row, way, mark, place) for row, way, mark, place in ends if isinstance(place, str)]


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
