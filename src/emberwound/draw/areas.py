"""What is touched in an arena: hazards, checkpoints and pickups, where they start or as they are on a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.collections import PolyCollection

from emberwound.draw.projections import outline
from emberwound.draw.style import CAIRN, EMBER, PEARL
from emberwound.plan.solids import area_solids

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.solids import Solid

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


def draw_areas(plan: Plan, axes: Axes, projection: Projection, tick: int | None = None) -> None:
    """Each hazard, checkpoint and pickup where it starts; or as it is on a tick, faint if it is off."""
    for (look, _), (solid, on) in zip(areas_of(plan), area_solids(plan, tick), strict=True):
        edge = area_outline(plan, solid, projection)
        if len(edge):
            colour, line, hatch = AREA_LOOKS[look]
            patch = PolyCollection([edge], facecolor="none", edgecolor=colour, linewidth=1.0, linestyle=line,
                                   alpha=0.6 if on else FAINT, hatch=hatch if on else None,
                                   zorder=1.4)  # fmt: skip
            axes.add_collection(patch)


def area_outline(plan: Plan, solid: Solid, projection: Projection) -> NDArray[np.float64]:
    """The outline of a hazard, checkpoint or pickup; a half-space is cut at the bounds."""
    if solid.shape == "half_space" and solid.axes is not None:
        at, way = projection.flat(solid.a), projection.flat(solid.axes[0])
        return _cut(at, way, solid.radius, projection.flat(plan.low), projection.flat(plan.high))
    return outline(solid, projection)


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
