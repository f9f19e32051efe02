"""The figures of health and of bars: what is true, and what is shown of it, over time."""

from __future__ import annotations

from math import cos, pi, sin
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.patches import Polygon

from emberwound.chronicle.bars import bars_of, vital_max
from emberwound.draw.palette import EMBER, INK, PAPER, SOFT_INK, seat_look
from emberwound.draw.style import dress, figure, headline, leave_out_of_layout
from emberwound.draw.windows import Window, states_of, title_of, window_of
from emberwound.study.lives import cast_of
from emberwound.vocabulary.errors import OutputError, unknown_name
from emberwound.vocabulary.events import Died, Healed, Respawned, SeatEntered, StageBegan, Wounded

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.bout.views.bars import BarShape, BarView
    from emberwound.chronicle import Chronicle
    from emberwound.chronicle.bars import BarHistory


CROWDED = 0.011
"""How much of a figure's time a letter takes: what stands closer is written below, or once."""


def draw_health(chronicle: Chronicle, axes: Axes, window: Window) -> Axes:
    """Each seat's vital pool over time, wounds marked with the shot's id or by what, deaths and respawns too."""
    seats = cast_of(chronicle.events)
    fighters = chronicle.rules.book.fighters
    most = max((vital_max(chronicle, seat, fighter) for seat, fighter in _bodies_of(chronicle)), default=1.0)
    starts: list[float] = []
    names = _Names(most)
    for index, entered in enumerate(seats):
        pool = next(pool for pool in fighters[entered.fighter].pools.values() if pool.vital)
        colour, line = seat_look(index)
        times, values = _health_steps(chronicle, entered, _vital_track(chronicle, entered.seat or ""))
        axes.plot(times, values, color=colour, linestyle=line, linewidth=2.0, drawstyle="steps-post")
        first = max(int(np.searchsorted(times, window[0], side="right")) - 1, 0)
        first += int(np.argmax(~np.isnan(values[first:])))
        beside = 6 + 55 * starts.count(values[first])
        starts.append(values[first])
        spot = (max(times[first], window[0]), values[first])
        axes.annotate(entered.seat or "", spot, (beside, 4), textcoords="offset points", color=colour)
        size = vital_max(chronicle, entered.seat or "", entered.fighter)
        start = size if pool.start is None else pool.start * size / pool.max
        _marks(chronicle, axes, entered.seat or "", colour, start, names)
    unit = "points of the vital pool"
    dress(
        axes,
        "Health over time",
        "time (s)",
        unit,
        "● wound, with the id of its shot or by what   ✝ death   ▲ respawn"
        + ("   ◆ stage" if any(isinstance(event, StageBegan) for event in chronicle.events) else ""),
    )
    axes.set_xlim(*window)
    axes.set_ylim(-0.13 * most, 1.12 * most)
    return leave_out_of_layout(axes)


def _bodies_of(chronicle: Chronicle) -> list[tuple[str, str]]:
    """The seat and the fighter of each body there was."""
    stood = [event for event in chronicle.events if isinstance(event, SeatEntered | Respawned)]
    return [(event.seat or "", event.fighter) for event in stood]


def _vital_track(chronicle: Chronicle, seat: str) -> np.ndarray:
    """What the vital pool of a seat held, state by state, whichever fighter it was."""
    tracks, fighters = chronicle.tracks, chronicle.rules.book.fighters
    found = np.full(len(tracks.ticks), np.nan)
    for event in chronicle.events:
        if isinstance(event, SeatEntered | Respawned) and event.seat == seat:
            vital = next(name for name, pool in fighters[event.fighter].pools.items() if pool.vital)
            from_here = tracks.ticks >= event.tick
            found[from_here] = tracks.pool(seat, vital)[from_here]
    return found


class _Names:
    """Where the names of wounds are written: none over another, of any seat."""

    def __init__(self, most: float) -> None:
        self.tall = 0.05 * most
        self.written: list[tuple[float, float]] = []

    def place(self, at: tuple[float, float], wide: float) -> int:
        """How far above its mark, in points, a name so many seconds wide goes."""
        rows = ((5, 0.0), (-13, -3.2 * self.tall), (17, 2.4 * self.tall), (-25, -5.6 * self.tall))
        offset, rise = next((row for row in rows if self._is_free(at, row[1], wide)), rows[0])
        self.written.append((at[0], at[1] + rise))
        return offset

    def _is_free(self, at: tuple[float, float], rise: float, wide: float) -> bool:
        return not any(
            abs(at[0] - time) < wide and abs(at[1] + rise - height) < 1.8 * self.tall for time, height in self.written
        )


def _health_steps(chronicle: Chronicle, entered: SeatEntered, track: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Times and values with a step at each exact wound."""
    times, values = chronicle.tracks.times.tolist(), track.tolist()
    for event in chronicle.events:
        if event.seat == entered.seat and isinstance(event, Wounded):
            times.append(event.time)
            values.append(event.vital_left)
    order = np.argsort(times, kind="stable")
    return np.array(times)[order], np.array(values)[order]


def _marks(chronicle: Chronicle, axes: Axes, seat: str, colour: str, start: float, names: _Names) -> None:
    """A seat's wounds, stages, deaths and respawns."""
    left = start
    last = (-chronicle.seconds, "")
    for event in chronicle.events:
        if event.seat != seat:
            continue
        if isinstance(event, Wounded):
            left = event.vital_left
            axes.plot([event.time], [event.vital_left], marker="o", markersize=5, color=colour)
            spot, text = (event.time, event.vital_left), str(event.shot or event.attack)
            wide = CROWDED * len(text) * chronicle.seconds
            if event.time - last[0] >= wide or text != last[1]:
                offset = names.place((event.time, event.vital_left), wide)
                axes.annotate(text, spot, (5, offset), textcoords="offset points", color=INK, fontsize=9)
                last = (event.time, text)
        elif isinstance(event, StageBegan):
            spot = (event.time, left)
            axes.plot(*spot, marker="D", markersize=7, color=colour, zorder=4)
            axes.annotate(event.stage, spot, (6, -12), textcoords="offset points", color=colour, fontsize=9)
        elif isinstance(event, Died):
            spot = (event.time, 0.0)
            axes.annotate("✝", spot, (0, -3), textcoords="offset points", ha="center", va="top", color=colour, size=15)
        elif isinstance(event, Respawned):
            rise = [0.0, start]
            axes.plot([event.time] * 2, rise, marker="^", markersize=8, markevery=[0], color=colour, linewidth=0.8)


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
    for index, bar in enumerate(watched.views):
        draw_bar_history(watched, bar, sheet.add_subplot(grid[index]), moments, (start, end))
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
    for index, moment in enumerate(moments):
        axes.axvline(times[moment], color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 3)))
        axes.annotate(chr(ord("a") + index), (times[moment], 1.06), (2, 0), textcoords="offset points", color=INK,
                      fontsize=9, annotation_clip=True)  # fmt: skip
    axes.set_ylim(-0.12, 1.2)
    axes.set_xlim(*between)
    key = "╌ true   ━ shown   ▒ trail   ▂ hidden   a b c the moments below"
    dress(axes, f"{bar}: {known.pool} (style {known.style})", "time (s)", "share", key)
    return leave_out_of_layout(axes)


def draw_strip(watched: BarHistory, axes: Axes, moments: Sequence[int]) -> Axes:
    """The bars as a host would draw them, side by side at the moments, to the scale of the arena."""
    there = [[views[moment] for views in watched.views.values()] for moment in moments]
    wide = max((view.rect[2] for views in watched.views.values() for view in views if view), default=1.0)
    low = min((view.rect[1] for views in watched.views.values() for view in views if view), default=0.0)
    high = max((view.rect[1] + view.rect[3] for views in watched.views.values() for view in views if view), default=1.0)
    step = 1.45 * wide
    for index, (moment, views) in enumerate(zip(moments, there, strict=True)):
        across = index * step
        for view in views:
            if view is not None and view.visible:
                draw_bar(axes, view, across)
        said = f"{chr(ord('a') + index)}   {watched.times[moment]:.2f} s"
        axes.annotate(said, (across, low), (0, -8), textcoords="offset points", ha="center", va="top", color=INK)
    axes.set_xlim(-0.75 * wide, max(len(moments) - 1, MOMENTS // 2) * step + 0.75 * wide)
    axes.set_ylim(low - 0.25 * wide, high + 0.1 * wide)
    axes.set_aspect("equal")
    dress(axes, "The bars at these moments, as they hang over the head", "", "")
    axes.set_axis_off()
    return leave_out_of_layout(axes)


def draw_bar(axes: Axes, view: BarView, across: float) -> None:
    """One bar as it is shown, its shapes one over the other."""
    for shape in view.shapes:
        left, bottom, width, height = shape.rect
        left += across
        if shape.sort == "text":
            middle = (left + width / 2, bottom + height / 2)
            axes.annotate(shape.text, middle, ha="center", va="center", color=shape.colour, fontsize=11)
            continue
        whole, filled = (_outline_of(shape, left, bottom, share) for share in (1.0, shape.share))
        if shape.share > 0.0:
            axes.add_patch(Polygon(filled, facecolor=shape.colour, alpha=shape.opacity, hatch=HATCHES[shape.pattern],
                                   edgecolor=PAPER, linewidth=0))  # fmt: skip
        if shape.outline:
            axes.add_patch(Polygon(whole, fill=False, edgecolor=shape.outline, linewidth=1.0))


def _outline_of(shape: BarShape, left: float, bottom: float, share: float) -> np.ndarray:
    """The corners (k, 2) of a rectangle, or the rim of a ring, filled up to a share."""
    _, _, width, height = shape.rect
    if shape.sort == "rect":
        right, top = left + width * share, bottom + height
        return np.array([(left, bottom), (right, bottom), (right, top), (left, top)])
    outer, inner = min(width, height) / 2.0, min(width, height) / 3.4
    angles = pi / 2 - 2.0 * pi * share * np.linspace(0.0, 1.0, TURN)
    way = [(cos(angle), sin(angle)) for angle in angles]
    rim = [(outer * x, outer * y) for x, y in way] + [(inner * x, inner * y) for x, y in reversed(way)]
    return np.asarray(np.array(rim) + np.array([left + width / 2, bottom + height / 2]))
