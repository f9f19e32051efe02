"""The figure of a run: who stood where, where each shot flew and ended, and health over time."""

from __future__ import annotations

from textwrap import fill
from typing import TYPE_CHECKING

import numpy as np

from emberwound.draw.bars import draw_health
from emberwound.draw.palette import INK, PAPER, seat_look
from emberwound.draw.paths import Flights, draw_flights
from emberwound.draw.projections import FROM_SIDE, FROM_TOP, PROJECTIONS
from emberwound.draw.stage import draw_bodies, draw_fighter, draw_flying, draw_prop, draw_stage
from emberwound.draw.style import dress, figure, headline, leave_out_of_layout
from emberwound.draw.windows import Window, plan_of, states_of, title_of, window_of
from emberwound.plan.stances import at_rest
from emberwound.study.lives import cast_of
from emberwound.vocabulary.events import Died, Respawned, SeatEntered

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.plan import PropPlan

MOST_FATES = 4
SQUARE = 1.4
"""Below so many times its length an arena seen from the top is drawn beside the rest, not above it."""

WHOLE, HALF = 120, 62
"""Letters in a line of a title over a whole figure, and over half of one."""

LETTER = 0.0075
"""How much of an arena's width a letter of a label takes."""


def draw_story(chronicle: Chronicle, *, between: Window | None = None, ticks: Sequence[int] | None = None) -> Figure:
    """The bout in one picture: the arena from the side or from the top, and the vital pools over time.

    They stand one above the other, or side by side where the arena is about as long as it is wide.
    `between` are the seconds shown; after each of `ticks` everybody is shown as posed then, with the shots in flight.
    Raises OutputError for seconds and ticks outside the bout.
    """
    window, states = window_of(chronicle, between), states_of(chronicle, ticks)
    sheet, plan = figure(), plan_of(chronicle)
    projection = PROJECTIONS[plan.space.name][0]
    across, up = (projection.flat(plan.high) - projection.flat(plan.low)).tolist()
    if projection is FROM_TOP and across < SQUARE * up:
        arena, health = sheet.subplots(1, 2, width_ratios=(1.1, 1.0))
        draw_paths(chronicle, arena, projection, letters=HALF, between=window, states=states)
    else:
        arena, health = sheet.subplots(2, 1, height_ratios=(1.15, 1.0))
        draw_paths(chronicle, arena, projection, between=window, states=states)
    draw_health(chronicle, health, window)
    for tick in ticks or ():
        _mark_tick(chronicle, health, tick)
    headline(sheet, title_of(chronicle))
    return sheet


def draw_paths(
    chronicle: Chronicle,
    axes: Axes,
    projection: Projection,
    *,
    numbers: bool = True,
    letters: int = WHOLE,
    between: Window | None = None,
    states: Sequence[int] = (),
    named: str = "",
) -> Axes:
    """The arena: fighters where they stood, where they walked, and each shot's path with its id and its end.

    The title begins with what it is `named`. Without `states` they are drawn where they entered, else as they were in
    each of these.
    """
    units, plan = chronicle.rules.book.settings.units, plan_of(chronicle)
    flights = Flights(chronicle, plan, between)
    seats = cast_of(chronicle.events)
    paths = [flights.path(released) for released in flights.released]
    heads = [_head(plan, chronicle, entered) for entered in seats]
    labels = _Labels(float(projection.flat(plan.low)[0]), float(projection.flat(plan.high)[0]))
    draw_stage(plan, axes, projection, np.vstack([*paths, *heads]) if paths or heads else np.empty((0, 3)))
    for index, entered in enumerate(seats):
        _fighter(chronicle, plan, axes, projection, entered, seat_look(index)[0], labels, faint=bool(states))
    _draw_states(chronicle, plan, axes, projection, states)
    for prop in plan.props:
        _prop(chronicle, plan, axes, projection, prop)
    draw_flights(flights, axes, projection, numbers=numbers)
    shots = len(flights.released)
    by_id = ": paths by id" if numbers and shots else ""
    said = [_shots_told(shots, flights.hits())] if shots or not flights.others() else []
    wounds = "wound" if flights.others() == 1 else "wounds"
    said += [f"{flights.others()} {wounds} by strikes, hazards and afflictions"] if flights.others() else []
    title = fill(f"{named}{', '.join(said)}, seen {projection.name}{by_id}", letters)
    dress(
        axes, title, projection.label(projection.across, units), projection.label(projection.up, units), flights.key()
    )
    return leave_out_of_layout(axes)


def _draw_states(chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, states: Sequence[int]) -> None:
    """Everybody as posed in each state, the ticks over their heads, and the shots in flight."""
    near = LETTER * float(projection.flat(plan.high)[0] - projection.flat(plan.low)[0])
    heads: dict[tuple[str, int, int], tuple[tuple[float, float], list[int]]] = {}
    for state in states:
        for seat, top in draw_bodies(chronicle, plan, axes, projection, state, alpha=0.4).items():
            spot = (seat, round(top[0] / near), round(top[1] / near))
            heads.setdefault(spot, (top, []))[1].append(int(chronicle.tracks.ticks[state]))
        draw_flying(chronicle, plan, axes, projection, state)
    for top, ticks in heads.values():
        axes.annotate(", ".join(map(str, ticks)), top, (0, 3), textcoords="offset points", ha="center", color=INK,
                      fontsize=9, fontweight="bold", zorder=7)  # fmt: skip


def _mark_tick(chronicle: Chronicle, axes: Axes, tick: int) -> None:
    time = tick / chronicle.header.tick_rate
    axes.axvline(time, color=INK, linewidth=0.9, linestyle=(0, (2, 3)), zorder=1)
    axes.annotate(f"tick {tick}", (time, 1.0), (3, -3), xycoords=axes.get_xaxis_transform(), va="top", color=INK,
                  textcoords="offset points", fontsize=9, fontweight="bold", annotation_clip=True)  # fmt: skip


def _head(plan: Plan, chronicle: Chronicle, entered: SeatEntered) -> np.ndarray:
    """The highest place that a fighter came to."""
    tracks = chronicle.tracks
    walked = tracks.positions[:, tracks.seats.index(entered.seat or "")]
    walked = walked[~np.isnan(walked).any(axis=1)]
    places = np.array([plan.space.lift(place) for place in walked.tolist()] or [plan.space.lift(entered.position)])
    fighter = plan.fighter(entered.fighter)
    return places[[places[:, 2].argmax()]] + (0, 0, fighter.height if fighter else 0.0)


class _Labels:
    """Where the labels under fighters go: none over another, and none out of the picture."""

    def __init__(self, low: float, high: float) -> None:
        self.low = low
        self.high = high
        self.taken: list[tuple[float, float, int]] = []

    def place(self, across: float, letters: int) -> tuple[str, int]:
        """How a label at a place is aligned, and in which row below the fighter it stands."""
        wide = LETTER * letters * (self.high - self.low)
        aligned = "left" if across - wide / 2 < self.low else "right" if across + wide / 2 > self.high else "center"
        first = across - {"left": 0.0, "center": wide / 2, "right": wide}[aligned]
        row = 0
        while any(row == at and first < b and a < first + wide for a, b, at in self.taken):
            row += 1
        self.taken.append((first, first + wide, row))
        return aligned, row


def _fighter(
    chronicle: Chronicle,
    plan: Plan,
    axes: Axes,
    projection: Projection,
    entered: SeatEntered,
    colour: str,
    labels: _Labels,
    *,
    faint: bool,
) -> None:
    fighter = plan.fighter(entered.fighter)
    if fighter is None:
        return
    lift = plan.space.lift
    heading = lift(entered.facing)[:2]
    position = lift(entered.position)
    look = {"alpha": 0.05, "linewidth": 0.6} if faint else {}
    outlines = draw_fighter(
        plan, axes, projection, fighter.id, at_rest(plan, fighter, position, heading), colour, **look
    )
    for walked in _ways(chronicle, entered.seat or ""):
        way = projection.flat([lift(place) for place in walked.tolist()])
        axes.plot(*way.T, color=colour, linewidth=1.2, linestyle=":", zorder=2)
    across, _ = projection.flat(position)
    foot = (
        projection.flat(position)[1]
        if projection is FROM_SIDE
        else min(float(outline[:, 1].min()) for outline in outlines.values())
    )
    named, fate = f"{entered.seat} ({entered.fighter})", _fate(chronicle, entered)
    aligned, row = labels.place(float(across), max(len(named), len(fate)))
    axes.annotate(
        f"{named}\n{fate}",
        (float(across), float(foot)),
        (0, -7 - 27 * row),
        textcoords="offset points",
        ha=aligned,
        va="top",
        color=colour,
        fontsize=9,
        zorder=6,
        bbox={"facecolor": PAPER, "alpha": 0.7, "edgecolor": "none", "pad": 1},
    )


def _ways(chronicle: Chronicle, seat: str) -> list[np.ndarray]:
    """The ways that a seat's bodies went, one for each life in which it moved."""
    tracks = chronicle.tracks
    index = tracks.seats.index(seat)
    alive = tracks.alive[:, index]
    stood = [event.tick + 1 for event in chronicle.events if isinstance(event, Respawned) and event.seat == seat]
    begins = np.searchsorted(tracks.ticks, stood)
    lives = zip(*(np.split(each, begins) for each in (tracks.positions[:, index], alive)), strict=True)
    walked = [places[there] for places, there in lives]
    return [places for places in walked if len(places) and np.ptp(places, axis=0).max() > 0.0]


def _prop(chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, prop: PropPlan) -> None:
    """A prop where it stood and where it came to, and its way between."""
    tracks, lift = chronicle.tracks, plan.space.lift
    index = tracks.seats.index(prop.name)
    places = [lift(place) for place in tracks.positions[:, index].tolist()]
    for place in dict.fromkeys((places[0], places[-1])):
        draw_prop(plan, axes, projection, prop, place, plan.space.heading(prop.facing))
    way = projection.flat(places)
    if np.ptp(way, axis=0).max() > 0.0:
        axes.plot(*way.T, color=INK, linewidth=1.0, linestyle=":", zorder=2)
    axes.annotate(f"{prop.name} ({prop.sort})", way[-1].tolist(), (0, -18), textcoords="offset points", ha="center",
                  va="top", color=INK, fontsize=9, zorder=6)  # fmt: skip


def _shots_told(shots: int, hits: int) -> str:
    if shots == 1:
        return "1 shot, which hit" if hits else "1 shot, which hit nobody"
    return f"{shots} shots, {hits} of them hit somebody"


def _fate(chronicle: Chronicle, entered: SeatEntered) -> str:
    signs = {Died: "✝", Respawned: "▲"}
    told = [event for event in chronicle.events if event.seat == entered.seat and type(event) in signs]
    return ", ".join(f"{signs[type(event)]} {event.time:.2f} s" for event in told[:MOST_FATES]) or "alive to the end"
