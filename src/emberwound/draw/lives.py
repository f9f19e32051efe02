"""The figure of lives: for each seat what it was when, who was credited with what, its lives and its score."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.views.states_batch import GUARDING, PROTECTED, REACTING
from emberwound.draw.palette import CAIRN, EMBER, GROUND, INK, PAPER, PEARL, SOFT_INK, Look, seat_look
from emberwound.draw.style import dress, figure, headline
from emberwound.draw.windows import Window, title_of, window_of
from emberwound.study.lives import cast_of, lives_of
from emberwound.vocabulary.events import BoutRestarted, CheckpointReached, Died, PickedUp, SeatEntered

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from numpy.typing import NDArray

    from emberwound.chronicle import Chronicle
    from emberwound.vocabulary.events import Event

TALL = 0.44
STRIPS = ((PROTECTED, 0.15, CAIRN), (REACTING, 0.0, EMBER), (GUARDING, -0.15, INK))
"""A condition, how far from the middle of its lane its strip is, and the strip's colour."""
STRIP = 0.11
AWAY: dict[str, Look] = {
    "waiting": {"facecolor": PAPER, "edgecolor": SOFT_INK, "hatch": "..", "linewidth": 0.6},
    "dead": {"facecolor": GROUND, "edgecolor": SOFT_INK, "hatch": "xxx", "linewidth": 0.6},
}
KEY = (
    "▭ alive (strips: upper protected, middle reacting, lower guarding)   ░ waiting   ▩ out   "
    "✝ death and its credit   ● kill   ⚑ checkpoint   ✦ pickup"
)
APART = 0.05
"""How far the lines of two seats with as many lives are kept apart."""
CROWDED = 0.0085
"""How much of a figure's time a letter takes."""


def draw_lives(chronicle: Chronicle, *, between: Window | None = None) -> Figure:
    """Each seat's lane over time: alive, protected, reacting, guarding, waiting, out; below it lives and scores.

    `between` are the seconds shown. Raises OutputError for seconds outside the bout.
    """
    window = window_of(chronicle, between)
    seats = cast_of(chronicle.events)
    counter = _counter(chronicle)
    sheet = figure()
    below = 1 if counter is None else 2
    grid = sheet.add_gridspec(2, below, height_ratios=(max(0.5 * len(seats), 1.2), 1.0))
    draw_lanes(chronicle, seats, sheet.add_subplot(grid[0, :]), window)
    draw_lives_left(chronicle, seats, sheet.add_subplot(grid[1, 0]))
    if counter is not None:
        draw_scores(chronicle, seats, sheet.add_subplot(grid[1, 1]), counter, window)
    for axes in sheet.axes:
        axes.set_xlim(*window)
    headline(sheet, title_of(chronicle))
    return sheet


def _counter(chronicle: Chronicle) -> str | None:
    """The counter that the board goes by first, or the first there is."""
    book = chronicle.rules.book
    names = [*book.settings.board, *book.counters]
    return names[0] if names else None


def draw_lanes(chronicle: Chronicle, seats: Sequence[SeatEntered], axes: Axes, window: Window) -> Axes:
    """A lane for each seat, the first on top."""
    lanes = {entered.seat or "": len(seats) - 1 - index for index, entered in enumerate(seats)}
    for index, (seat, height) in enumerate(lanes.items()):
        _lane(chronicle, axes, seat, height, seat_look(index)[0])
    highest = _marks(chronicle, axes, lanes, window)
    lives = lives_of(chronicle.events, chronicle.header.tick_rate)
    deaths = sum(life.end == "died" for life in lives)
    restarts = sum(isinstance(event, BoutRestarted) for event in chronicle.events)
    said = f"{_counted(len(lives), 'life', 'lives')} of {_counted(len(seats), 'seat', 'seats')}"
    said += f", {_counted(deaths, 'death', 'deaths')}"
    said += f", {_counted(restarts, 'restart', 'restarts')}" if restarts else ""
    axes.set_yticks(list(lanes.values()), [_named(entered) for entered in seats])
    axes.set_ylim(-0.55, max(len(seats) - 0.3, highest + 0.3))
    dress(axes, said, "time (s)", "", KEY)
    return axes


def _counted(count: int, one: str, more: str) -> str:
    return f"{count} {one if count == 1 else more}"


def _named(entered: SeatEntered) -> str:
    team = f"\n{entered.team}" if entered.team else ""
    return f"{entered.seat}{team}"


def _lane(chronicle: Chronicle, axes: Axes, seat: str, height: int, colour: str) -> None:
    tracks = chronicle.tracks
    index = tracks.seats.index(seat)
    for begins, ends in _runs(tracks.times, tracks.alive[:, index]):
        axes.barh(height, ends - begins, TALL, begins, facecolor=colour, alpha=0.22, zorder=2)
        axes.barh(height, ends - begins, TALL, begins, facecolor="none", edgecolor=colour, linewidth=1.0, zorder=2)
    for bit, rise, look in STRIPS:
        for begins, ends in _runs(tracks.times, tracks.status_bits[:, index] & bit != 0):
            axes.barh(height + rise, ends - begins, STRIP, begins, facecolor=look, edgecolor="none", zorder=3)
    lives = [life for life in lives_of(chronicle.events, chronicle.header.tick_rate) if life.seat == seat]
    for life, later in zip(lives, [*lives[1:], None], strict=True):
        if life.end == "died" and life.ended is not None:
            ends = chronicle.seconds if later is None else later.began
            what = "dead" if life.respawns_at is None else "waiting"
            axes.barh(height, ends - life.ended, 0.6 * TALL, life.ended, zorder=1, **AWAY[what])


def _runs(times: NDArray[np.float64], there: NDArray[np.bool_]) -> list[tuple[float, float]]:
    """From when to when something was so, for each run of states."""
    turns = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]])))
    last = len(times) - 1
    return [(float(times[a]), float(times[min(b, last)])) for a, b in turns.reshape(-1, 2)]


def _marks(chronicle: Chronicle, axes: Axes, lanes: dict[str, int], window: Window) -> float:
    """What happened to a seat above its lane, none over another; a restart through all lanes. How high they stand."""
    taken: list[tuple[float, float, float]] = []
    for event in chronicle.events:
        if not window[0] <= event.time <= window[1]:
            continue
        if isinstance(event, BoutRestarted):
            axes.axvline(event.time, color=INK, linewidth=1.0, linestyle=(0, (4, 2)), zorder=4)
            axes.annotate("restart", (event.time, -0.5), (4, 0), textcoords="offset points", color=INK, fontsize=9)
        for seat, text, colour in _told(event):
            if seat in lanes:
                _mark(axes, event.time, lanes[seat], text, colour, taken, window)
    return max((at + TALL / 2 + (at % 1) for _, _, at in taken), default=0.0)


def _told(event: Event) -> list[tuple[str, str, str]]:
    """On whose lanes an event is marked, how, and in which colour."""
    seat = event.seat or ""
    if isinstance(event, Died):
        what = event.by or f"the {event.attack}"
        credit = f" → {event.credit}" if event.credit and event.credit != event.by else ""
        kill = [(event.credit, f"● {seat}", EMBER)] if event.credit else []
        return [(seat, f"✝ {what}{credit}", INK), *kill]
    if isinstance(event, CheckpointReached):
        return [(seat, f"⚑ {event.checkpoint}", CAIRN)]
    if isinstance(event, PickedUp):
        return [(seat, f"✦ {event.pickup}", PEARL)]
    return []


def _mark(
    axes: Axes, time: float, lane: int, text: str, colour: str, taken: list[tuple[float, float, float]], window: Window
) -> None:
    """A tick at the moment, and its text in the first free row above the lane."""
    wide = CROWDED * (len(text) + 1) * (window[1] - window[0])
    ends_late = time + wide > window[1]
    first = time - wide if ends_late else time
    row = next(
        row
        for row in range(len(taken) + 1)
        if not any(lane + row / 10 == at and first < b and a < first + wide for a, b, at in taken)
    )
    taken.append((first, first + wide, lane + row / 10))
    height = lane + TALL / 2 + 0.02
    axes.plot([time, time], [lane, height + 0.05], color=colour, linewidth=1.2, zorder=5)
    axes.annotate(text, (time, height), (-2 if ends_late else 2, 1 + 11 * row), textcoords="offset points",
                  ha="right" if ends_late else "left", color=colour, fontsize=9, zorder=6)  # fmt: skip


def draw_lives_left(chronicle: Chronicle, seats: Sequence[SeatEntered], axes: Axes) -> Axes:
    """The lives of each seat as steps; a life without end is not drawn."""
    most = 1
    for index, entered in enumerate(seats):
        times, lives = _lives_left(chronicle, entered)
        if not times:
            continue
        colour, line = seat_look(index)
        shift = APART * (index - (len(seats) - 1) / 2)
        axes.plot([*times, chronicle.seconds], np.array([*lives, lives[-1]]) + shift, color=colour, linestyle=line,
                  linewidth=2.0, drawstyle="steps-post", label=entered.seat)  # fmt: skip
        most = max(most, *lives)
    axes.set_yticks(range(most + 1))
    axes.set_ylim(-0.4, most + 0.4)
    if axes.get_lines():
        axes.legend(loc="lower left", bbox_to_anchor=(-0.02, 0.98), ncols=5, fontsize=9, frameon=False,
                    handlelength=2.6, columnspacing=1.0, labelcolor="linecolor")  # fmt: skip
    dress(axes, "Lives left, the current one included", "time (s)", "lives", " ")
    return axes


def _lives_left(chronicle: Chronicle, entered: SeatEntered) -> tuple[list[float], list[int]]:
    """When a seat had how many lives; empty for lives without end."""
    if entered.lives is None:
        return [], []
    times, lives = [entered.time], [entered.lives]
    for event in chronicle.events:
        if isinstance(event, BoutRestarted):
            times.append(event.time)
            lives.append(entered.lives)
        elif event.seat == entered.seat and isinstance(event, Died | PickedUp) and event.lives_left is not None:
            times.append(event.time)
            lives.append(event.lives_left)
    return times, lives


def draw_scores(chronicle: Chronicle, seats: Sequence[SeatEntered], axes: Axes, counter: str, window: Window) -> Axes:
    """One counter of each seat over time, its value at the end beside that."""
    tracks = chronicle.tracks
    which = list(chronicle.rules.book.counters).index(counter)
    last_state = int(np.searchsorted(tracks.times, window[1], side="right")) - 1
    ends: list[tuple[float, str, str]] = []
    for index, entered in enumerate(seats):
        values = tracks.scores[:, tracks.seats.index(entered.seat or ""), which]
        colour, line = seat_look(index)
        axes.plot(tracks.times, values, color=colour, linestyle=line, linewidth=2.0, drawstyle="steps-post")
        ends.append((float(values[last_state]), entered.seat or "", colour))
    low, high = axes.get_ylim()
    last = -np.inf
    for value, seat, colour in sorted(each for each in ends if each[0] == each[0]):
        last = max(value, last + 0.075 * (high - low))
        axes.annotate(f"{seat} {value:g}", (window[1], value), (1.01, last), color=colour, fontsize=9,
                      textcoords=axes.get_yaxis_transform(), va="center", annotation_clip=False)  # fmt: skip
    dress(axes, f"Counter: {counter}", "time (s)", counter, " ")
    return axes
