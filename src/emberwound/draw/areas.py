"""What is touched in an arena: hazards, checkpoints and pickups, where they start or as they are on a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.collections import PolyCollection

from emberwound.draw.style import CAIRN, EMBER, PEARL
from emberwound.draw.views import box_outline, rim
from emberwound.geometry.legs import SHAPE_A, SHAPE_AXES, SHAPE_B, SHAPE_RADIUS
from emberwound.geometry.volumes import (
    BEYOND,
    BOX,
    HAZARD_SHAPE,
    VOLUME_MARKS,
    VOLUME_ROWS,
    VOLUME_SHAPE,
    lay_hazards,
)

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

    from emberwound.draw.views import View
    from emberwound.plan import Plan

AREA_LOOKS: dict[str, tuple[str, Any, str]] = {
    "hazard": (EMBER, (0, (4, 2)), ".."),
    "fatal": (EMBER, (0, (4, 2)), "xx"),
    "checkpoint": (CAIRN, (0, (6, 1, 1, 1)), "||"),
    "pickup": (PEARL, "-", ""),
}
"""The colour, line and hatch of what is touched in an arena."""

FAINT = 0.2
"""How strongly a hazard is drawn that is off."""


def areas_of(plan: Plan) -> list[tuple[str, str]]:
    """The look and the name of each hazard, checkpoint and pickup, in the order of their outlines."""
    hazards = [("fatal" if hazard.fatal else "hazard", hazard.name) for hazard in plan.hazards]
    checkpoints = [("checkpoint", f"{each.order} {each.name}") for each in plan.checkpoints]
    return [*hazards, *checkpoints, *(("pickup", each.name) for each in plan.pickups)]


def areas_at(plan: Plan, tick: int) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """The shapes (rows, n) of all areas at the start of a tick, and which are on in it (n,).

    One that is off is given where it starts.
    """
    tables = plan.tables
    count = tables.hazards.shape[1]
    shapes, marks = np.zeros((VOLUME_ROWS, count)), np.zeros((VOLUME_MARKS, count), np.int64)
    lay_hazards(
        tables.hazards, tables.hazard_marks, tables.points, tables.paths, shapes, marks, 0, 0, tick, plan.tick_rate
    )
    on = marks[VOLUME_SHAPE] != 0
    return np.where(on, shapes[: len(tables.hazards)], tables.hazards), on


def draw_areas(plan: Plan, axes: Axes, view: View, tick: int | None = None) -> None:
    """Each hazard, checkpoint and pickup where it starts; or as it is on a tick, faint if it is off."""
    shapes, on = (plan.tables.hazards, None) if tick is None else areas_at(plan, tick)
    for number, (look, _) in enumerate(areas_of(plan)):
        outline = area_outline(plan, number, view, shapes)
        if len(outline):
            colour, line, hatch = AREA_LOOKS[look]
            there = on is None or bool(on[number])
            patch = PolyCollection([outline], facecolor="none", edgecolor=colour, linewidth=1.0, linestyle=line,
                                   alpha=0.6 if there else FAINT, hatch=hatch if there else None,
                                   zorder=1.4)  # fmt: skip
            axes.add_collection(patch)


def area_outline(plan: Plan, area: int, view: View, shapes: NDArray[np.float64] | None = None) -> NDArray[np.float64]:
    """The outline of a hazard, checkpoint or pickup, counted in this order; beyond a plane it is cut at the bounds.

    It is where it starts, or as one of the columns of `shapes`.
    """
    shape = (plan.tables.hazards if shapes is None else shapes)[:, area]
    kind = int(plan.tables.hazard_marks[HAZARD_SHAPE, area])
    a, near = shape[SHAPE_A : SHAPE_A + 3], float(shape[SHAPE_RADIUS])
    if kind == BOX:
        return box_outline(
            a, shape[SHAPE_B : SHAPE_B + 3] + near, shape[SHAPE_AXES : SHAPE_AXES + 9].reshape(3, 3), view
        )
    if kind == BEYOND:
        return _cut(
            view.flat(a), view.flat(shape[SHAPE_AXES : SHAPE_AXES + 3]), near, view.flat(plan.low), view.flat(plan.high)
        )
    return rim(view.flat(a), view.flat(shape[SHAPE_B : SHAPE_B + 3]), near)


def _cut(
    at: NDArray[np.float64],
    towards: NDArray[np.float64],
    near: float,
    low: NDArray[np.float64],
    high: NDArray[np.float64],
) -> NDArray[np.float64]:
    """The part of the rectangle low..high that lies beyond a line, a hand's breadth before it counted in."""
    corners = np.array([low, (high[0], low[1]), high, (low[0], high[1])])
    depths = (corners - at) @ towards + near
    kept: list[NDArray[np.float64]] = []
    for number in range(4):
        here, there = corners[number], corners[(number + 1) % 4]
        depth, other = float(depths[number]), float(depths[(number + 1) % 4])
        if depth >= 0.0:
            kept.append(here)
        if depth * other < 0.0:
            kept.append(here + (there - here) * depth / (depth - other))
    return np.array(kept) if kept else np.empty((0, 2))
