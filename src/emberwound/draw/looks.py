"""How bodies look in a view: the outlines of their hurtboxes about their feet, each way they ever looked once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.draw.projections import outline
from emberwound.plan.solids import Stance, hurtbox_solids

if TYPE_CHECKING:
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.solids import Solid

DIGITS = 3
"""Lengths and shares are written to so many digits after the point."""

Json = Any


def rounded(values: Any) -> Json:
    """Numbers as a page holds them."""
    return np.round(np.asarray(values, float), DIGITS).tolist()


class Looks:
    """The shapes of bodies about their feet, each way they ever looked once."""

    def __init__(self, plan: Plan, projection: Projection) -> None:
        self.plan = plan
        self.projection = projection
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
        return [solid_json(each, self.projection) for each in hurtbox_solids(self.plan, fighter, stance).values()]


def solid_json(solid: Solid, projection: Projection) -> Json:
    """A capsule as [ax, ay, bx, by, radius], a box as a list of corners."""
    if solid.shape == "box":
        return rounded(outline(solid, projection))
    return rounded([*projection.spot(solid.a), *projection.spot(solid.b), solid.radius])
