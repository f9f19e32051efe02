"""Looking at an arena along one axis: outlines of bodies, walls and capsules as points of a picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.geometry.legs import SHAPE_A, SHAPE_AXES, SHAPE_B
from emberwound.geometry.pose import (
    OFFSET_A,
    OFFSET_AXES,
    OFFSET_B,
    OFFSET_IS_BOX,
    OFFSET_JOINT_A,
    OFFSET_JOINT_B,
    OFFSET_RADIUS,
    STANDING,
)

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan


if TYPE_CHECKING:
    Points = Sequence[float] | Sequence[Sequence[float]] | NDArray[np.float64]


@dataclass(frozen=True)
class View:
    """Which axes of space go across and up in a picture, and how they are called."""

    name: str
    across: int
    up: int

    def flat(self, points: Points) -> NDArray[np.float64]:
        """Points of space (..., 3) as points of the picture (..., 2)."""
        flat: NDArray[np.float64] = np.asarray(points, float)[..., [self.across, self.up]]
        return flat

    def spot(self, point: Points) -> tuple[float, float]:
        """One point of space as a spot of the picture."""
        across, up = self.flat(point).tolist()
        return (across, up)

    def label(self, axis: int, units: str) -> str:
        """The label of an axis."""
        return f"{'height z' if axis == 2 else 'xyz'[axis]} ({units})"


FROM_SIDE, FROM_TOP = View("from the side", 0, 2), View("from the top", 0, 1)
VIEWS = {"side": (FROM_SIDE,), "top": (FROM_TOP,), "full": (FROM_TOP, FROM_SIDE)}


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
    return Stance(position, heading, fighter.rest_pose, int(plan.tables.hidden[fighter.id, STANDING]))


def hurtbox_outlines(plan: Plan, fighter: int, stance: Stance, view: View) -> dict[int, NDArray[np.float64]]:
    """The outline (k, 2) of each hurtbox of a fighter that is on, by its index."""
    tables = plan.tables
    parts = [part for part in range(len(plan.fighters[fighter].hurtboxes)) if not stance.hidden >> part & 1]
    return {
        part: part_outline(tables.offsets[:, fighter, part], tables.offset_marks[:, fighter, part], plan, stance, view)
        for part in parts
    }


def part_outline(
    offsets: NDArray[np.float64], marks: NDArray[np.int64], plan: Plan, stance: Stance, view: View
) -> NDArray[np.float64]:
    """The outline (k, 2) of a shape on a fighter, from its column of a table of hurtboxes or hitboxes."""
    a = part_place(offsets, marks, (OFFSET_A, OFFSET_JOINT_A), plan, stance)
    if marks[OFFSET_IS_BOX]:
        rows = offsets[OFFSET_AXES : OFFSET_AXES + 9].reshape(3, 3)
        axes = [to_space(axis, (0, 0, 0), stance.heading) for axis in rows]
        return box_outline(a, offsets[OFFSET_B : OFFSET_B + 3], np.array(axes), view)
    b = part_place(offsets, marks, (OFFSET_B, OFFSET_JOINT_B), plan, stance)
    return rim(view.flat(a), view.flat(b), float(offsets[OFFSET_RADIUS]))


def part_place(
    offsets: NDArray[np.float64], marks: NDArray[np.int64], rows: tuple[int, int], plan: Plan, stance: Stance
) -> NDArray[np.float64]:
    """One end of a shape on a fighter, in space."""
    row, joint_row = rows
    offset = offsets[row : row + 3].copy()
    joint = int(marks[joint_row])
    if joint >= 0:
        below, over = int(stance.pose), min(int(stance.pose) + 1, len(plan.tables.tracks) - 1)
        share = stance.pose - below
        offset += plan.tables.tracks[below, joint] * (1.0 - share) + plan.tables.tracks[over, joint] * share
    return to_space(offset, stance.position, stance.heading)


def to_space(offset: Points, position: Points, heading: Sequence[float]) -> NDArray[np.float64]:
    """An offset (ahead, left, up) on a fighter, in space."""
    ahead, left, up = np.asarray(offset, float).tolist()
    x, y = ahead * heading[0] - left * heading[1], ahead * heading[1] + left * heading[0]
    placed: NDArray[np.float64] = np.asarray(position, float) + np.array([x, y, up])
    return placed


def rim(a: NDArray[np.float64], b: NDArray[np.float64], radius: float) -> NDArray[np.float64]:
    """The closed outline (50, 2) of a capsule in a picture."""
    along = b - a
    angle = np.arctan2(along[1], along[0])
    turn = angle + np.linspace(-np.pi / 2, np.pi / 2, 25)
    way = radius * np.column_stack([np.cos(turn), np.sin(turn)])
    return np.vstack([b + way, a - way])


def wall_outline(plan: Plan, wall: int, view: View) -> NDArray[np.float64]:
    """The outline of one of the arena's walls."""
    shape = plan.tables.wall_shapes[:, wall]
    axes = shape[SHAPE_AXES : SHAPE_AXES + 9].reshape(3, 3)
    return box_outline(shape[SHAPE_A : SHAPE_A + 3], shape[SHAPE_B : SHAPE_B + 3], axes, view)


def box_outline(
    centre: NDArray[np.float64], half: NDArray[np.float64], axes: NDArray[np.float64], view: View
) -> NDArray[np.float64]:
    """The outline of a box in a picture: the corners that no other two lie outside of, in turn."""
    signs = np.array(np.meshgrid([-1, 1], [-1, 1], [-1, 1])).T.reshape(-1, 3)
    corners = view.flat(centre + (signs * half) @ axes)
    return _hull(corners)


def _hull(points: NDArray[np.float64]) -> NDArray[np.float64]:
    ordered = sorted({(round(float(x), 9), round(float(y), 9)) for x, y in points})

    def chain(line: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
        kept: list[tuple[float, float]] = []
        for x, y in line:
            while len(kept) > 1:
                (ax, ay), (bx, by) = kept[-2:]
                if (bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0:
                    break
                kept.pop()
            kept.append((x, y))
        return kept[:-1]

    return np.array(chain(ordered) + chain(ordered[::-1]))
