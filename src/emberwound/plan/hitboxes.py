"""The table of all hitboxes of an arena's fighters."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import HitboxColumn, HitboxMark
from emberwound.plan.space import as_offset
from emberwound.plan.tables import write_part

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan.space import Space
    from emberwound.rulebook.models import Fighter, Hitbox


class Hitboxes:
    """Gathers hitboxes as attacks are compiled."""

    def __init__(self, space: Space) -> None:
        self._plane = space
        self._columns: list[tuple[NDArray[np.float64], NDArray[np.int64]]] = []

    def add(self, box: Hitbox, fighter: Fighter) -> int:
        """The column of a hitbox on a fighter."""
        offsets, marks = np.zeros(HitboxColumn.COLUMNS), np.zeros(HitboxMark.COLUMNS, np.int64)
        write_part(offsets, marks, box, fighter, self._plane)
        if box.swing is not None:
            tilt = radians(box.swing.tilt_deg)
            level = box.swing.tilt_deg in (90.0, -90.0)
            upright = (0.0, sin(tilt), 0.0 if level else cos(tilt))
            _, left, up = as_offset(self._plane.lift(self._plane.flatten(upright)), (1.0, 0.0))
            marks[HitboxMark.TURNS] = 1
            offsets[HitboxColumn.FROM], offsets[HitboxColumn.TO] = (
                radians(box.swing.from_deg),
                radians(box.swing.to_deg),
            )
            offsets[HitboxColumn.INNER], offsets[HitboxColumn.REACH] = box.swing.inner, box.swing.reach
            offsets[HitboxColumn.LEFT], offsets[HitboxColumn.UP] = left, up
        self._columns.append((offsets, marks))
        return len(self._columns) - 1

    def tables(self) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
        """All of them, (rows, hitboxes, 1)."""
        if not self._columns:
            return np.zeros((HitboxColumn.COLUMNS, 1, 1)), np.zeros((HitboxMark.COLUMNS, 1, 1), np.int64)
        offsets = np.column_stack([column for column, _ in self._columns])
        marks = np.column_stack([column for _, column in self._columns])
        return np.ascontiguousarray(offsets[:, :, None]), np.ascontiguousarray(marks[:, :, None])
