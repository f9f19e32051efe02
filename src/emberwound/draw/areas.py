"""What is touched in an arena: hazards, checkpoints and pickups, where they start or as they are on a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.draw.palette import CAIRN, PEARL
from emberwound.draw.projections import outline

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.solids import Solid


class AreaLook(NamedTuple):
    """How a hazard, checkpoint or pickup looks: its sort, its name and its colour."""

    sort: str
    name: str
    colour: str


def areas_of(plan: Plan) -> list[AreaLook]:
    """The look of each hazard, checkpoint and pickup, in the order of their outlines."""
    hazards = [AreaLook("fatal" if hazard.fatal else "hazard", hazard.name, hazard.colour) for hazard in plan.hazards]
    checkpoints = [AreaLook("checkpoint", f"{each.order} {each.name}", CAIRN) for each in plan.checkpoints]
    return [*hazards, *checkpoints, *(AreaLook("pickup", each.name, PEARL) for each in plan.pickups)]


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
