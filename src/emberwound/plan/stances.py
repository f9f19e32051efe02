"""The shapes of a plan in space: hurtboxes and hitboxes of fighters that stand somewhere, walls, and areas.

Whoever draws or measures reads these; nobody above this floor needs to know how the tables are laid out.
"""

from __future__ import annotations

from math import cos, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.geometry.layout import (
    HazardMark,
    HitboxColumn,
    PartColumn,
    PartMark,
    Posture,
    ShapeColumn,
    ShapeKind,
    VolumeColumn,
    VolumeMark,
)
from emberwound.geometry.volumes import lay_hazards
from emberwound.plan.solids import Solid

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan.attack_plans import LaunchPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plan import Plan

    Array = NDArray[np.float64]
    Points = Sequence[float] | Sequence[Sequence[float]] | Array


class Stance(NamedTuple):
    """How a fighter stands: where in space, looking which way, the row of its pose, and the hurtboxes that are off.

    A pose between two rows lies between them.
    """

    position: Sequence[float]
    heading: Sequence[float]
    pose: float
    hidden: int


def at_rest(plan: Plan, fighter: FighterPlan, position: Sequence[float], heading: Sequence[float]) -> Stance:
    """A fighter that just stands."""
    return Stance(position, heading, fighter.rest_pose, hidden_standing(plan, fighter))


def hidden_standing(plan: Plan, fighter: FighterPlan) -> int:
    """A bit for each hurtbox of a fighter that is off while it stands."""
    return int(plan.tables.hidden[fighter.id, Posture.STANDING])


def joint_place(plan: Plan, joint: int, pose: float) -> Array:
    """A joint's offset (ahead, left, up) in a pose."""
    below, over = int(pose), min(int(pose) + 1, len(plan.tables.tracks) - 1)
    share = pose - below
    place: Array = plan.tables.tracks[below, joint] * (1.0 - share) + plan.tables.tracks[over, joint] * share
    return place


def muzzle_place(plan: Plan, launch: LaunchPlan, stance: Stance) -> Array:
    """Where what leaves a muzzle starts, in space."""
    offset = np.array(launch.muzzle)
    if launch.joint >= 0:
        offset = offset + joint_place(plan, launch.joint, stance.pose)
    return to_space(offset, stance.position, stance.heading)


def hurtbox_solids(plan: Plan, fighter: int, stance: Stance) -> dict[int, Solid]:
    """The hurtboxes of a fighter that are on, by their index."""
    tables = plan.tables
    parts = [part for part in range(len(plan.fighters[fighter].hurtboxes)) if not stance.hidden >> part & 1]
    return {
        part: _part_solid(tables.offsets[:, fighter, part], tables.offset_marks[:, fighter, part], plan, stance)
        for part in parts
    }


def hitbox_solid(plan: Plan, entry: int, stance: Stance, share: float) -> Solid:
    """A hitbox by its index in the plan, when a share of the time that it is on has passed."""
    columns, marks = plan.tables.hitboxes[:, entry, 0].copy(), plan.tables.hitbox_marks[:, entry, 0]
    columns[PartColumn.A : PartColumn.A + 3] += share * columns[HitboxColumn.A_WAY : HitboxColumn.A_WAY + 3]
    columns[PartColumn.B : PartColumn.B + 3] += share * columns[HitboxColumn.B_WAY : HitboxColumn.B_WAY + 3]
    if columns[PartColumn.KIND] != ShapeKind.TURNING:
        return _part_solid(columns, marks, plan, stance)
    turn = columns[HitboxColumn.FROM] + (columns[HitboxColumn.TO] - columns[HitboxColumn.FROM]) * share
    way = np.array([cos(turn), sin(turn) * columns[HitboxColumn.LEFT], sin(turn) * columns[HitboxColumn.UP]])
    pivot = _end_of(columns, marks, (PartColumn.A, PartMark.JOINT_A), plan, stance)
    inner = pivot + to_space(way * columns[HitboxColumn.INNER], (0, 0, 0), stance.heading)
    reach = pivot + to_space(way * columns[HitboxColumn.REACH], (0, 0, 0), stance.heading)
    return Solid.capsule(inner, reach, float(columns[PartColumn.RADIUS]))


def hitbox_tilt(plan: Plan, entry: int) -> float:
    """How far the swing of a hitbox leans to the left, -1 to 1; 0 for one that does not swing."""
    columns = plan.tables.hitboxes[:, entry, 0]
    return float(columns[HitboxColumn.LEFT]) if columns[PartColumn.KIND] == ShapeKind.TURNING else 0.0


def wall_solid(plan: Plan, wall: int) -> Solid:
    """One of the arena's walls, by its index."""
    return Solid(plan.tables.wall_shapes[:, wall])


def area_solids(plan: Plan, tick: int | None = None) -> list[tuple[Solid, bool]]:
    """All hazards, then checkpoints, then pickups, and whether each is on: where it starts, or at the start of a tick.

    One that is off is given where it starts.
    """
    tables = plan.tables
    count = tables.hazards.shape[1]
    if tick is None:
        return [(Solid(tables.hazards[:, area]), True) for area in range(count)]
    shapes, marks = np.zeros((VolumeColumn.COLUMNS, count)), np.zeros((VolumeMark.COLUMNS, count), np.int64)
    lay_hazards(
        tables.hazards, tables.hazard_marks, tables.points, tables.paths, shapes, marks, 0, 0, tick, plan.tick_rate
    )
    on = (shapes[ShapeColumn.KIND] != 0.0).tolist()
    return [(Solid(shapes[:, area] if there else tables.hazards[:, area]), there) for area, there in enumerate(on)]


def moving_hazards(plan: Plan) -> list[int]:
    """The indexes of the hazards that follow a path."""
    found: list[int] = plan.tables.hazard_marks[HazardMark.PATH, : len(plan.hazards)].nonzero()[0].tolist()
    return found


def to_space(offset: Points, position: Points, heading: Sequence[float]) -> Array:
    """An offset (ahead, left, up) on a fighter, in space."""
    ahead, left, up = np.asarray(offset, float).tolist()
    x, y = ahead * heading[0] - left * heading[1], ahead * heading[1] + left * heading[0]
    placed: Array = np.asarray(position, float) + np.array([x, y, up])
    return placed


def _part_solid(columns: Array, marks: NDArray[np.int64], plan: Plan, stance: Stance) -> Solid:
    """A shape on a fighter, from its columns in a table of hurtboxes or hitboxes."""
    a = _end_of(columns, marks, (PartColumn.A, PartMark.JOINT_A), plan, stance)
    if columns[PartColumn.KIND] == ShapeKind.BOX:
        rows = columns[PartColumn.AXES : PartColumn.AXES + 9].reshape(3, 3)
        axes = np.array([to_space(axis, (0, 0, 0), stance.heading) for axis in rows])
        return Solid.box(a, columns[PartColumn.B : PartColumn.B + 3], axes)
    b = _end_of(columns, marks, (PartColumn.B, PartMark.JOINT_B), plan, stance)
    return Solid.capsule(a, b, float(columns[PartColumn.RADIUS]))


def _end_of(columns: Array, marks: NDArray[np.int64], end: tuple[int, int], plan: Plan, stance: Stance) -> Array:
    """One end of a shape on a fighter, in space."""
    column, joint_column = end
    offset, joint = columns[column : column + 3].copy(), int(marks[joint_column])
    if joint >= 0:
        offset += joint_place(plan, joint, stance.pose)
    return to_space(offset, stance.position, stance.heading)
