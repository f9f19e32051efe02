"""The arena and who stands in it, as the ground of all pictures of bouts, and as film strips."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PolyCollection
from matplotlib.ticker import MaxNLocator

from emberwound.draw.palette import EMBER, GROUND, INK, PAPER, SOFT_INK, Dash, seat_look
from emberwound.draw.projections import FROM_SIDE, area_outline, areas_of, hurtbox_outlines, wall_outline
from emberwound.draw.style import WIDTH, dress
from emberwound.plan.stances import Stance, area_solids, at_rest
from emberwound.study.lives import fighter_at
from emberwound.vocabulary.events import Released

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from matplotlib.axes import Axes
    from numpy.typing import NDArray

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.plan import PropPlan
    from emberwound.plan.stances import Points


MARGIN = 0.03
"""Room left round what is shown, as a share of its width."""
DEPTH = 0.35
"""How deep the ground is shown at the most, as a share of the height above it."""


AREA_LINES: dict[str, tuple[Dash, str]] = {
    "hazard": ((0, (4, 2)), ".."),
    "fatal": ((0, (4, 2)), "xx"),
    "checkpoint": ((0, (6, 1, 1, 1)), "||"),
    "pickup": ("-", ""),
}
"""The line and hatch of what is touched in an arena."""

FAINT = 0.2
"""How strongly a hazard is drawn that is off."""


def draw_stage(
    plan: Plan, axes: Axes, projection: Projection, points: NDArray[np.float64], tick: int | None = None
) -> None:
    """Bounds, floor, walls and areas, these as they are on a tick if one is given.

    The picture takes in all of the bounds across, and upwards what `points` (k, 3) need.
    """
    low, high = projection.flat(plan.low), projection.flat(plan.high)
    wide = float(high[0] - low[0])
    room = MARGIN * wide
    top, below = float(high[1]), room
    outlines = [wall_outline(plan, wall, projection) for wall in range(len(plan.wall_names))]
    if projection is FROM_SIDE:
        reached = [point[projection.up] for point in points] + [float(outline[:, 1].max()) for outline in outlines]
        top = min(top, max(reached, default=top) + 2 * room)
        below = min(3 * room, DEPTH * (top - float(low[1])))
        axes.axhspan(low[1] - below, low[1], color=GROUND, zorder=0)
        axes.axhline(low[1], color=SOFT_INK, linewidth=1.2, zorder=1)
    axes.set_xlim(low[0] - room, high[0] + room)
    axes.set_ylim(low[1] - below, top + room)
    for edge in (low[0], high[0]):
        axes.axvline(edge, color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 4)))
    if projection is not FROM_SIDE:
        for edge in (low[1], high[1]):
            axes.axhline(edge, color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 4)))
    if outlines:
        axes.add_collection(
            PolyCollection(outlines, facecolor=GROUND, edgecolor=SOFT_INK, linewidth=1.0, hatch="////", zorder=1.5)
        )
    draw_areas(plan, axes, projection, tick)
    axes.set_aspect("equal")


def draw_fighter(
    plan: Plan,
    axes: Axes,
    projection: Projection,
    fighter: int,
    stance: Stance,
    colour: str,
    **look: object,
) -> dict[int, NDArray[np.float64]]:
    """The hurtboxes of a fighter that are on; their outlines by index."""
    outlines = hurtbox_outlines(plan, fighter, stance, projection)
    shapes, alpha = list(outlines.values()), look.get("alpha", 0.22)
    axes.add_collection(PolyCollection(shapes, facecolor=colour, alpha=alpha, edgecolor="none", zorder=2))
    axes.add_collection(
        PolyCollection(shapes, facecolor="none", edgecolor=colour, linewidth=look.get("linewidth", 1.3), zorder=3)
    )
    return outlines


def draw_prop(
    plan: Plan, axes: Axes, projection: Projection, prop: PropPlan, position: Sequence[float], heading: Sequence[float]
) -> None:
    """A prop where it stands."""
    body = plan.fighter(prop.sort)
    if body is not None:
        draw_fighter(plan, axes, projection, body.id, at_rest(plan, body, position, heading), INK, alpha=0.1)


def heading_arrow(axes: Axes, projection: Projection, start: Points, way: Points, colour: str) -> None:
    """An arrow in the picture from one place of space along a way."""
    tail, tip = projection.spot(start), projection.spot(np.asarray(start, float) + np.asarray(way, float))
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


GAP = 0.05
"""What lies between two frames, as a share of a frame's width."""
ROOM = 0.9
"""Inches about a strip, for titles, ticks and labels."""
TALLEST = 3.4
"""A strip of few frames is no higher than so many inches."""


def strip_height(low: Sequence[float], high: Sequence[float], count: int) -> float:
    """How many inches a strip of frames from one corner to the other is high, its titles and ticks with it."""
    across = (WIDTH - ROOM) / (count * (1.0 + GAP))
    return min(across * (high[1] - low[1]) / (high[0] - low[0]), TALLEST) + ROOM


def lay_strip(
    axes: Axes, lows: Sequence[float], width: float, ups: tuple[float, float], titles: Sequence[str]
) -> list[float]:
    """Make one frame for each of `lows`, as wide as `width`; how far along the axes each of them is moved.

    What is at x in the world belongs at x + shift of its frame; the ticks of each frame say x. `ups` are the limits of
    all frames upwards.
    """
    step = width * (1.0 + GAP)
    shifts = [index * step - low for index, low in enumerate(lows)]
    places, labels, locator = [], [], MaxNLocator(4, steps=[1, 2, 5, 10])
    for low, shift, title in zip(lows, shifts, titles, strict=True):
        ticks = [each for each in locator.tick_values(low, low + width) if low <= each <= low + width]
        places += [tick + shift for tick in ticks]
        labels += [f"{tick:g}" for tick in ticks]
        axes.annotate(title, (low + shift, ups[1]), (0, 5), textcoords="offset points", color=INK, fontsize=10,
                      fontweight="bold", annotation_clip=False)  # fmt: skip
        axes.axvspan(low + shift - width * GAP, low + shift, color=PAPER, linewidth=0, zorder=8)
    axes.set_xticks(places, labels)
    axes.set_xlim(0.0, shifts[-1] + lows[-1] + width)
    axes.set_ylim(*ups)
    axes.set_aspect("equal")
    axes.grid(color=SOFT_INK, alpha=0.25, linewidth=0.5)
    dress(axes, "", "", "")
    axes.spines["bottom"].set_visible(False)
    axes.spines["left"].set_zorder(9)
    return shifts


def draw_bodies(
    chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, state: int, **look: object
) -> dict[str, tuple[float, float]]:
    """The props and all living bodies as they were in a state; where in the picture the top of each seat's body is."""
    tracks, lift = chronicle.tracks, plan.space.lift
    for number, prop in enumerate(plan.props):
        place = lift(tracks.positions[state, number].tolist())
        draw_prop(plan, axes, projection, prop, place, plan.space.heading(prop.facing))
    tops: dict[str, tuple[float, float]] = {}
    for index in range(len(plan.props), len(tracks.seats)):
        name = fighter_at(chronicle.events, tracks.seats[index], int(tracks.ticks[state]))
        fighter = plan.fighter(name or "")
        if fighter is None or not tracks.alive[state, index]:
            continue
        heading = tracks.ahead[state, index].tolist()
        place, pose = lift(tracks.positions[state, index].tolist()), int(tracks.poses[state, index])
        stance = Stance(place, heading, pose, int(tracks.hidden[state, index]))
        outlines = draw_fighter(
            plan, axes, projection, fighter.id, stance, seat_look(index - len(plan.props))[0], **look
        )
        spots = np.vstack([*outlines.values(), projection.flat(place)[None]])
        tops[tracks.seats[index]] = (projection.spot(place)[0], float(spots[:, 1].max()))
    return tops


def draw_flying(chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, state: int) -> None:
    """All shots in flight in a state, each with its way so far."""
    tracks, lift = chronicle.tracks, plan.space.lift
    began = {event.shot: event.position for event in chronicle.events if isinstance(event, Released)}
    for shot_id in tracks.shot_ids[tracks.shot_states == state].tolist():
        here = (tracks.shot_ids == shot_id) & (tracks.shot_states <= state)
        places = [began[shot_id], *map(tuple, tracks.shot_positions[here].tolist())]
        way = projection.flat([lift(place) for place in places])
        axes.plot(*way.T, color=EMBER, linewidth=1.2, zorder=4)
        axes.plot(*way[-1], marker="o", color=EMBER, markersize=6, zorder=5)
