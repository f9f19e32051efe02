"""The arena and who stands in it, as the ground of all pictures of bouts."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.collections import PolyCollection

from emberwound.draw.style import CAIRN, EMBER, GROUND, INK, PEARL, SOFT_INK
from emberwound.draw.views import FROM_SIDE, area_outline, at_rest, hurtbox_outlines, wall_outline

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from matplotlib.axes import Axes
    from numpy.typing import NDArray

    from emberwound.draw.views import Points, Stance, View
    from emberwound.plan import Plan
    from emberwound.plan.plan import PropPlan

AREA_LOOKS: dict[str, tuple[str, Any, str]] = {
    "hazard": (EMBER, (0, (4, 2)), ".."),
    "fatal": (EMBER, (0, (4, 2)), "xx"),
    "checkpoint": (CAIRN, (0, (6, 1, 1, 1)), "||"),
    "pickup": (PEARL, "-", ""),
}
"""The colour, line and hatch of what is touched in an arena."""

MARGIN = 0.03
"""Room left round what is shown, as a share of its width."""
DEPTH = 0.25
"""How deep the ground is shown at the most, as a share of the height above it."""


def draw_stage(plan: Plan, axes: Axes, view: View, points: NDArray[np.float64]) -> None:
    """Bounds, floor and walls; the picture takes in all of the bounds across, and upwards what `points` (k, 3) need."""
    low, high = view.flat(plan.low), view.flat(plan.high)
    wide = float(high[0] - low[0])
    room = MARGIN * wide
    top, below = float(high[1]), room
    outlines = [wall_outline(plan, wall, view) for wall in range(len(plan.wall_names))]
    if view is FROM_SIDE:
        reached = [point[view.up] for point in points] + [float(outline[:, 1].max()) for outline in outlines]
        top = min(top, max(reached, default=top) + 2 * room)
        below = min(3 * room, DEPTH * (top - float(low[1])))
        axes.axhspan(low[1] - below, low[1], color=GROUND, zorder=0)
        axes.axhline(low[1], color=SOFT_INK, linewidth=1.2, zorder=1)
    axes.set_xlim(low[0] - room, high[0] + room)
    axes.set_ylim(low[1] - below, top + room)
    for edge in (low[0], high[0]):
        axes.axvline(edge, color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 4)))
    if view is not FROM_SIDE:
        for edge in (low[1], high[1]):
            axes.axhline(edge, color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 4)))
    if outlines:
        axes.add_collection(
            PolyCollection(outlines, facecolor=GROUND, edgecolor=SOFT_INK, linewidth=1.0, hatch="////", zorder=1.5)
        )
    draw_areas(plan, axes, view)
    axes.set_aspect("equal")


def areas_of(plan: Plan) -> list[tuple[str, str]]:
    """The look and the name of each hazard, checkpoint and pickup, in the order of their outlines."""
    hazards = [("fatal" if hazard.fatal else "hazard", hazard.name) for hazard in plan.hazards]
    checkpoints = [("checkpoint", f"{each.order} {each.name}") for each in plan.checkpoints]
    return [*hazards, *checkpoints, *(("pickup", each.name) for each in plan.pickups)]


def draw_areas(plan: Plan, axes: Axes, view: View) -> None:
    """Each hazard, checkpoint and pickup where it starts."""
    for number, (look, _) in enumerate(areas_of(plan)):
        outline = area_outline(plan, number, view)
        if len(outline):
            colour, line, hatch = AREA_LOOKS[look]
            patch = PolyCollection([outline], facecolor="none", edgecolor=colour, linewidth=1.0, linestyle=line,
                                   alpha=0.6, hatch=hatch, zorder=1.4)  # fmt: skip
            axes.add_collection(patch)


def draw_fighter(
    plan: Plan,
    axes: Axes,
    view: View,
    fighter: int,
    stance: Stance,
    colour: str,
    **look: Any,
) -> dict[int, NDArray[np.float64]]:
    """The hurtboxes of a fighter that are on; their outlines by index."""
    outlines = hurtbox_outlines(plan, fighter, stance, view)
    shapes, alpha = list(outlines.values()), look.get("alpha", 0.22)
    axes.add_collection(PolyCollection(shapes, facecolor=colour, alpha=alpha, edgecolor="none", zorder=2))
    axes.add_collection(
        PolyCollection(shapes, facecolor="none", edgecolor=colour, linewidth=look.get("linewidth", 1.3), zorder=3)
    )
    return outlines


def draw_prop(
    plan: Plan, axes: Axes, view: View, prop: PropPlan, position: Sequence[float], heading: Sequence[float]
) -> None:
    """A prop where it stands."""
    body = plan.fighter(prop.sort)
    if body is not None:
        draw_fighter(plan, axes, view, body.id, at_rest(plan, body, position, heading), INK, alpha=0.1)


def heading_arrow(axes: Axes, view: View, start: Points, way: Points, colour: str) -> None:
    """An arrow in the picture from one place of space along a way."""
    tail, tip = view.spot(start), view.spot(np.asarray(start, float) + np.asarray(way, float))
    if tail == tip:
        return
    axes.annotate("", tip, tail, arrowprops={"arrowstyle": "-|>", "color": colour, "linewidth": 1.2}, zorder=5)


def stacked(labels: Iterable[tuple[float, str]], gap: float) -> list[tuple[float, str]]:
    """Heights for labels in a column with at least `gap` between any two, each as near as may be to its own."""
    placed: list[tuple[float, str]] = []
    for height, text in sorted(labels):
        low = placed[-1][0] + gap if placed else height
        placed.append((max(height, low), text))
    return placed
