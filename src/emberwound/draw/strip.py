"""Film strips: several moments side by side in one pair of axes, each over its own piece of ground."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.ticker import MaxNLocator

from emberwound.draw.palette import EMBER, INK, PAPER, SOFT_INK, seat_look
from emberwound.draw.stage import draw_fighter, draw_prop
from emberwound.draw.style import WIDTH, dress
from emberwound.plan.solids import Stance
from emberwound.study.lives import fighter_at
from emberwound.vocabulary.events import Released

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan


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

    What is at x in the world belongs at x + shift of its frame; the ticks of each frame tell x. `ups` are the limits of
    all frames upwards.
    """
    step = width * (1.0 + GAP)
    shifts = [number * step - low for number, low in enumerate(lows)]
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
    chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, state: int, **look: Any
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
    for number in tracks.shot_ids[tracks.shot_states == state].tolist():
        here = (tracks.shot_ids == number) & (tracks.shot_states <= state)
        places = [began[number], *map(tuple, tracks.shot_positions[here].tolist())]
        way = projection.flat([lift(place) for place in places])
        axes.plot(*way.T, color=EMBER, linewidth=1.2, zorder=4)
        axes.plot(*way[-1], marker="o", color=EMBER, markersize=6, zorder=5)
