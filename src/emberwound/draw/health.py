"""Health over time: the vital pool of each seat, its wounds, stages, deaths and respawns."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.chronicle.bars import vital_max
from emberwound.draw.palette import INK, seat_look
from emberwound.draw.style import dress, leave_out_of_layout
from emberwound.study.lives import cast_of
from emberwound.vocabulary.events import Died, Respawned, SeatEntered, StageBegan, Wounded

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from emberwound.chronicle import Chronicle
    from emberwound.draw.windows import Window

CROWDED = 0.011
"""How much of a figure's time a letter takes: what stands closer is written below, or once."""


def draw_health(chronicle: Chronicle, axes: Axes, window: Window) -> Axes:
    """Each seat's vital pool over time, wounds marked with the shot's number or by what, deaths and respawns too."""
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
        "● wound, with the number of its shot or by what   ✝ death   ▲ respawn"
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
