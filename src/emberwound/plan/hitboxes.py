"""The table of all hitboxes of an arena's fighters, each as it is in one stretch of an attack's time."""

from __future__ import annotations

from itertools import pairwise
from math import cos, radians, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.geometry.layout import HitboxColumn, PartColumn, PartMark, ShapeKind
from emberwound.plan.solids import write_part
from emberwound.plan.space import as_offset

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from fractions import Fraction

    from numpy.typing import NDArray

    from emberwound.plan.space import Space
    from emberwound.plan.tables import Tracks
    from emberwound.rulebook.attack_timeline import NamedWindow
    from emberwound.rulebook.models import Attack, Fighter, Hitbox, PartShape, Swing

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
