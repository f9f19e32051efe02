"""The figure of bars: what is true against what is shown over time, and the bars themselves at chosen moments."""

from __future__ import annotations

from math import cos, pi, sin
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.patches import Polygon, Rectangle

from emberwound.chronicle.bars import bars_of
from emberwound.draw.palette import EMBER, INK, PAPER, SOFT_INK
from emberwound.draw.style import dress, figure, headline, leave_out_of_layout
from emberwound.draw.windows import Window, states_of, title_of, window_of
from emberwound.study.lives import cast_of
from emberwound.vocabulary.errors import OutputError, unknown_name
from emberwound.vocabulary.events import Died, Healed, Respawned, Wounded

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.bout.views.bars import BarView
    from emberwound.chronicle import Chronicle
    from emberwound.chronicle.bars import BarHistory

STYLES = {"bar": "a bar", "pips": "pips", "number": "a number", "ring": "a ring"}
HATCHES = {"solid": "", "striped": "////", "dotted": "....", "crossed": "xxxx"}
MOMENTS = 8
SOON = 0.12
"""Seconds after a change at which bars are shown, so that what glides can be seen."""
TURN = 48


def draw_bars(
    chronicle: Chronicle, seat: str | None = None, *, between: Window | None = None,
    ticks: Sequence[int] | None = None,
) -> Figure:  # fmt: skip
    """The bars of a seat, of the most wounded one if none is named, over time and at moments.

    `between` are seconds, `ticks` the moments; else those shortly after a change. Raises OutputError for a seat
    without bars and for times outside the bout.
    """
    name = seat or _most_wounded(chronicle)
    seats = [event.seat or "" for event in cast_of(chronicle.events)]
    if name not in seats:
        raise OutputError(unknown_name("seat", name, seats))
    watched = bars_of(chronicle, name)
    if not watched.views:
        raise OutputError(f"seat {name!r} has no bars; give its fighter some, such as bars = ['life']")
    start, end = window_of(chronicle, between)
    moments = _moments(chronicle, watched, name, start, end)
    if ticks is not None:
        moments = [state - 1 for state in states_of(chronicle, ticks, minimum=1)]
    sheet = figure()
    grid = sheet.add_gridspec(len(watched.views) + 1, 1, height_ratios=(*[1.0] * len(watched.views), 0.8))
    for number, bar in enumerate(watched.views):
        draw_bar_history(watched, bar, sheet.add_subplot(grid[number]), moments, (start, end))
    draw_strip(watched, sheet.add_subplot(grid[-1]), moments)
    headline(sheet, f"{title_of(chronicle)}, the bars of {name}")
    return sheet


def _most_wounded(chronicle: Chronicle) -> str:
    seats = [event.seat or "" for event in cast_of(chronicle.events)]
    wounds = [event.seat for event in chronicle.events if isinstance(event, Wounded)]
    if not seats:
        raise OutputError("nobody entered this bout; there are no bars to draw")
    return max(seats, key=lambda seat: (wounds.count(seat), -seats.index(seat)))


def _moments(chronicle: Chronicle, watched: BarHistory, seat: str, start: float, end: float) -> list[int]:
    """The start, then moments shortly after what changed a pool most, in order of time."""
    kinds = Wounded | Healed | Died | Respawned
    changes = [event.time for event in chronicle.events if event.seat == seat and isinstance(event, kinds)]
    times = [start, *(time + SOON for time in changes if start <= time + SOON < end)]
    kept: list[float] = []
    for time in times:
        if not kept or time - kept[-1] >= SOON:
            kept.append(time)
    if len(kept) > MOMENTS:
        kept = [kept[round(each)] for each in np.linspace(0, len(kept) - 1, MOMENTS)]
    last = len(watched.times) - 1
    return list(dict.fromkeys(min(int(np.searchsorted(watched.times, time)), last) for time in kept))


def draw_bar_history(watched: BarHistory, bar: str, axes: Axes, moments: Sequence[int], between: Window) -> Axes:
    """What is true, what is shown and where the trail ends, as shares over time."""
    views = watched.views[bar]
    known = next(view for view in views if view is not None)
    times = np.array(watched.times)

    def series(field: str) -> np.ndarray:
        return np.array([np.nan if view is None else getattr(view, field) for view in views])

    trail, shown = series("trail"), series("shown")
    axes.fill_between(times, shown, trail, color=SOFT_INK, alpha=0.3, linewidth=0, step=None)
    axes.plot(times, series("share"), color=INK, linewidth=1.2, linestyle="--", drawstyle="steps-post")
    axes.plot(times, shown, color=EMBER, linewidth=2.0)
    hidden = np.array([view is not None and not view.visible for view in views])
    axes.fill_between(times, -0.1, -0.04, where=hidden, color=SOFT_INK, linewidth=0, step="post")
    for number, moment in enumerate(moments):
        axes.axvline(times[moment], color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 3)))
        axes.annotate(chr(ord("a") + number), (times[moment], 1.06), (2, 0), textcoords="offset points", color=INK,
                      fontsize=9, annotation_clip=True)  # fmt: skip
    axes.set_ylim(-0.12, 1.2)
    axes.set_xlim(*between)
    key = "╌ true   ━ shown   ▒ trail   ▂ hidden   a b c the moments below"
    dress(axes, f"{bar}: {known.pool} as {STYLES[known.style]}", "time (s)", "share", key)
    return leave_out_of_layout(axes)


def draw_strip(watched: BarHistory, axes: Axes, moments: Sequence[int]) -> Axes:
    """The bars as a host would draw them, side by side at the moments, to the scale of the arena."""
    there = [[views[moment] for views in watched.views.values()] for moment in moments]
    wide = max((view.rect[2] for views in watched.views.values() for view in views if view), default=1.0)
    low = min((view.rect[1] for views in watched.views.values() for view in views if view), default=0.0)
    high = max((view.rect[1] + view.rect[3] for views in watched.views.values() for view in views if view), default=1.0)
    step = 1.45 * wide
    for number, (moment, views) in enumerate(zip(moments, there, strict=True)):
        across = number * step
        for view in views:
            if view is not None and view.visible:
                draw_bar(axes, view, across)
        said = f"{chr(ord('a') + number)}   {watched.times[moment]:.2f} s"
        axes.annotate(said, (across, low), (0, -8), textcoords="offset points", ha="center", va="top", color=INK)
    axes.set_xlim(-0.75 * wide, max(len(moments) - 1, MOMENTS // 2) * step + 0.75 * wide)
    axes.set_ylim(low - 0.25 * wide, high + 0.1 * wide)
    axes.set_aspect("equal")
    dress(axes, "The bars at these moments, as they hang over the head", "", "")
    axes.set_axis_off()
    return leave_out_of_layout(axes)


def draw_bar(axes: Axes, view: BarView, across: float) -> None:
    """One bar as it is shown."""
    left, bottom, width, height = view.rect
    left += across
    if view.style == "number":
        axes.annotate(
            view.text, (across, bottom + height / 2), ha="center", va="center", color=view.colour, fontsize=11
        )
        return
    if view.style == "ring":
        _draw_ring(axes, view, across)
        return
    if view.style == "pips":
        size = width / max(len(view.pips), 1)
        for number, fill in enumerate(view.pips):
            _frame(axes, view, left + number * size, bottom, size * 0.86, height, fill)
        return
    axes.add_patch(Rectangle((left, bottom), width * view.trail, height, facecolor=SOFT_INK, alpha=0.45, linewidth=0))
    _frame(axes, view, left, bottom, width, height, view.shown)
    for share in view.segments:
        axes.plot([left + share * width] * 2, [bottom, bottom + height], color=PAPER, linewidth=1.2)


def _frame(axes: Axes, view: BarView, left: float, bottom: float, width: float, height: float, fill: float) -> None:
    axes.add_patch(
        Rectangle((left, bottom), width * fill, height, facecolor=view.colour, hatch=HATCHES[view.pattern],
                  edgecolor=PAPER, linewidth=0)
    )  # fmt: skip
    axes.add_patch(Rectangle((left, bottom), width, height, fill=False, edgecolor=view.outline_colour, linewidth=1.0))


def _draw_ring(axes: Axes, view: BarView, across: float) -> None:
    """A ring that is full all round, and empties against the clock from the top."""
    _, bottom, width, height = view.rect
    outer, inner = min(width, height) / 2.0, min(width, height) / 3.4

    def arc(share: float) -> np.ndarray:
        angles = pi / 2 - 2.0 * pi * share * np.linspace(0.0, 1.0, TURN)
        way = [(cos(angle), sin(angle)) for angle in angles]
        rim = [(outer * x, outer * y) for x, y in way] + [(inner * x, inner * y) for x, y in reversed(way)]
        middle = np.array([across, bottom + height / 2])
        return np.asarray(np.array(rim) + middle)

    axes.add_patch(Polygon(arc(view.shown), facecolor=view.colour, hatch=HATCHES[view.pattern], edgecolor=PAPER,
                           linewidth=0))  # fmt: skip
    axes.add_patch(Polygon(arc(1.0), fill=False, edgecolor=view.outline_colour, linewidth=1.0))
