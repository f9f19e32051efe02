"""What is touched in an arena: hazards, checkpoints and pickups, where they start or as they are on a tick."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from matplotlib.collections import PolyCollection

from emberwound.draw.area_outlines import area_outline, areas_of
from emberwound.plan.solids import area_solids

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan

AREA_LINES: dict[str, tuple[Any, str]] = {
    "hazard": ((0, (4, 2)), ".."),
    "fatal": ((0, (4, 2)), "xx"),
    "checkpoint": ((0, (6, 1, 1, 1)), "||"),
    "pickup": ("-", ""),
}
"""The line and hatch of what is touched in an arena."""

FAINT = 0.2
"""How strongly a hazard is drawn that is off."""


def draw_areas(plan: Plan, axes: Axes, projection: Projection, tick: int | None = None) -> None:
    """Each hazard, checkpoint and pickup where it starts; or as it is on a tick, faint if it is off."""
    for look, (solid, on) in zip(areas_of(plan), area_solids(plan, tick), strict=True):
        edge = area_outline(plan, solid, projection)
        if len(edge):
            line, hatch = AREA_LINES[look.sort]
            patch = PolyCollection([edge], facecolor="none", edgecolor=look.colour, linewidth=1.0, linestyle=line,
                                   alpha=0.6 if on else FAINT, hatch=hatch if on else None,
                                   zorder=1.4)  # fmt: skip
            axes.add_collection(patch)
