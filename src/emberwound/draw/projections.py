"""Looking at an arena along one axis: outlines of bodies, walls and areas as points of a picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.draw.palette import CAIRN, PEARL
from emberwound.plan.stances import hurtbox_solids, wall_solid

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan import Plan
    from emberwound.plan.solids import Solid
    from emberwound.plan.stances import Points, Stance


@dataclass(frozen=True)
class Projection:
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


FROM_SIDE, FROM_TOP = Projection("from the side", 0, 2), Projection("from the top", 0, 1)
PROJECTIONS = {"side": (FROM_SIDE,), "top": (FROM_TOP,), "3d": (FROM_TOP, FROM_SIDE)}


def outline(solid: Solid, projection: Projection) -> NDArray[np.float64]:
    """The outline (k, 2) of a capsule or a box in a picture."""
    if solid.name == "box":
        return box_outline(solid.a, solid.half_sizes + solid.radius, solid.axes, projection)
    return rim(projection.flat(solid.a), projection.flat(solid.b), solid.radius)


def hurtbox_outlines(
    plan: Plan, fighter: int, stance: Stance, projection: Projection
) -> dict[int, NDArray[np.float64]]:
    """The outline (k, 2) of each hurtbox of a fighter that is on, by its index."""
    return {part: outline(solid, projection) for part, solid in hurtbox_solids(plan, fighter, stance).items()}


def rim(a: NDArray[np.float64], b: NDArray[np.float64], radius: float) -> NDArray[np.float64]:
    """The closed outline (50, 2) of a capsule in a picture."""
    along = b - a
    angle = np.arctan2(along[1], along[0])
    turn = angle + np.linspace(-np.pi / 2, np.pi / 2, 25)
    way = radius * np.column_stack([np.cos(turn), np.sin(turn)])
    return np.vstack([b + way, a - way])


def wall_outline(plan: Plan, wall: int, projection: Projection) -> NDArray[np.float64]:
    """The outline of one of the arena's walls."""
    return outline(wall_solid(plan, wall), projection)


def box_outline(
    centre: NDArray[np.float64], half: NDArray[np.float64], axes: NDArray[np.float64], projection: Projection
) -> NDArray[np.float64]:
    """The outline of a box in a picture: the corners that no other two lie outside of, in turn."""
    signs = np.array(np.meshgrid([-1, 1], [-1, 1], [-1, 1])).T.reshape(-1, 3)
    corners = projection.flat(centre + (signs * half) @ axes)
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


class AreaLook(NamedTuple):
    """How a hazard, checkpoint or pickup looks: its sort, its name and its colour."""

    sort: str
    name: str
    colour: str


def areas_of(plan: Plan) -> list[AreaLook]:
    """The look of each hazard, checkpoint and pickup, in the order of their outlines."""
    hazards = [
        AreaLook("fatal" if hazard.table.fatal else "hazard", hazard.name, hazard.colour) for hazard in plan.hazards
    ]
    checkpoints = [AreaLook("checkpoint", f"{each.table.order} {each.name}", CAIRN) for each in plan.checkpoints]
    return [*hazards, *checkpoints, *(AreaLook("pickup", each.name, PEARL) for each in plan.pickups)]


def area_outline(plan: Plan, solid: Solid, projection: Projection) -> NDArray[np.float64]:
    """The outline of a hazard, checkpoint or pickup; a half-space is cut at the bounds."""
    if solid.name == "half_space":
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
    for index in range(4):
        here, there = corners[index], corners[(index + 1) % 4]
        depth, other = float(depths[index]), float(depths[(index + 1) % 4])
        if depth >= 0.0:
            kept.append(here)
        if depth * other < 0.0:
            kept.append(here + (there - here) * depth / (depth - other))
    return np.array(kept) if kept else np.empty((0, 2))
