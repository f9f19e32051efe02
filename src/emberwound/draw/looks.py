"""How bodies look in a view: the outlines of their hurtboxes about their feet, each way they ever looked once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.draw.views import Stance, box_outline, part_place, to_space
from emberwound.geometry.pose import (
    OFFSET_A,
    OFFSET_AXES,
    OFFSET_B,
    OFFSET_IS_BOX,
    OFFSET_JOINT_A,
    OFFSET_JOINT_B,
    OFFSET_RADIUS,
)

if TYPE_CHECKING:
    from emberwound.draw.views import View
    from emberwound.plan import Plan

DIGITS = 3
"""Lengths and shares are written to so many digits after the point."""

Json = Any


def rounded(values: Any) -> Json:
    """Numbers as a page holds them."""
    return np.round(np.asarray(values, float), DIGITS).tolist()


class Looks:
    """The shapes of bodies about their feet, each way they ever looked once."""

    def __init__(self, plan: Plan, view: View) -> None:
        self.plan = plan
        self.view = view
        self.shapes: list[Json] = []
        self._known: dict[tuple[int, float, int, bool], int] = {}

    def of(self, fighter: int, pose: float, hidden: int, *, left: bool) -> int:
        """The number of the look of a fighter in a pose, with some hurtboxes off, looking left or not."""
        key = (fighter, pose, hidden, left)
        if key not in self._known:
            self._known[key] = len(self.shapes)
            heading = (-1.0 if left else 1.0, 0.0)
            self.shapes.append(self._shapes(fighter, Stance((0.0, 0.0, 0.0), heading, pose, hidden)))
        return self._known[key]

    def _shapes(self, fighter: int, stance: Stance) -> list[Json]:
        """Capsules as [ax, ay, bx, by, radius], boxes as lists of corners."""
        tables, found = self.plan.tables, []
        for part in range(len(self.plan.fighters[fighter].hurtboxes)):
            if stance.hidden >> part & 1:
                continue
            offsets, marks = tables.offsets[:, fighter, part], tables.offset_marks[:, fighter, part]
            a = part_place(offsets, marks, (OFFSET_A, OFFSET_JOINT_A), self.plan, stance)
            if marks[OFFSET_IS_BOX]:
                rows = offsets[OFFSET_AXES : OFFSET_AXES + 9].reshape(3, 3)
                axes = np.array([to_space(row, (0.0, 0.0, 0.0), stance.heading) for row in rows])
                found.append(rounded(box_outline(a, offsets[OFFSET_B : OFFSET_B + 3], axes, self.view)))
                continue
            b = part_place(offsets, marks, (OFFSET_B, OFFSET_JOINT_B), self.plan, stance)
            ends = [*self.view.spot(a), *self.view.spot(b), float(offsets[OFFSET_RADIUS])]
            found.append(rounded(ends))
        return found
