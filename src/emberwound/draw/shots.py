"""The figure of a run's shots, and the film strip of a moment of one of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.draw.palette import EMBER, INK, SOFT_INK
from emberwound.draw.paths import Flights
from emberwound.draw.projections import FROM_SIDE, FROM_TOP, PROJECTIONS
from emberwound.draw.stage import draw_bodies, draw_flying, draw_stage
from emberwound.draw.story import draw_paths
from emberwound.draw.style import dress, figure, headline
from emberwound.draw.windows import Window, plan_of, title_of, window_of
from emberwound.vocabulary.errors import ChronicleError, unknown_name
from emberwound.vocabulary.events import SeatEntered

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan

FRAMES = 8
RATIOS = (1.0, 1.5)


def draw_shots(
    chronicle: Chronicle, *, between: Window | None = None, variants: Sequence[tuple[str, Chronicle]] = ()
) -> Figure:
    """The paths of all shots of a run, with releases, bounces and ends by reason, seen from each side that matters.

    `between` are seconds: then those that flew meanwhile. `variants` are bouts in the same arena, with names, one below
    the other. Raises OutputError for seconds outside the bout.
    """
    half_width = None if between is None else window_of(chronicle, between)
    plan = plan_of(chronicle)
    views = PROJECTIONS[plan.space.name]
    bouts = [("as in the book", chronicle), *variants]
    sheet = figure(height=7.0 if not variants else 1.0 + 4.0 * len(bouts))
    rows = sheet.subplots(len(bouts), len(views), width_ratios=RATIOS[: len(views)], squeeze=False)
    for (name, bout), places in zip(bouts, rows, strict=True):
        for axes, projection in zip(places, views, strict=True):
            named = f"{name}: " if variants else ""
            draw_paths(bout, axes, projection, numbers=projection is views[-1], between=half_width, named=named)
    headline(sheet, f"{title_of(chronicle)}, its shots")
    return sheet


def draw_shot_strip(chronicle: Chronicle, shot: int, moment: str = "release", *, step: int = 2) -> Figure:
    """The moments round the release or the end of a shot, `step` ticks apart: hurtboxes, the shot, and its path so far.

    `moment` is "release" or "end". Raises ChronicleError for a shot that was never released, or that has not ended.
    """
    plan, tracks = plan_of(chronicle), chronicle.tracks
    flights = Flights(chronicle, plan)
    released = next((event for event in flights.released if event.shot == shot), None)
    if released is None:
        known = ", ".join(str(event.shot) for event in flights.released) or "none"
        raise ChronicleError(f"there is no shot {shot} in this bout; known: {known}")
    if moment not in ("release", "end"):
        raise ChronicleError(unknown_name("moment", moment, ("release", "end")))
    event = released if moment == "release" else flights.ended.get(shot)
    if event is None:
        raise ChronicleError(f"shot {shot} was still flying when the bout was over; ask for its release")
    projection = FROM_SIDE if plan.space.has_heights else FROM_TOP
    middle = event.tick if moment == "release" else event.tick + 1
    states = [middle + step * (index - FRAMES // 2) for index in range(FRAMES)]
    sheet = figure(height=7.0)
    rows = sheet.subplots(2, FRAMES // 2, sharex=True, sharey=True)
    spot = projection.flat(plan.space.lift(event.position))
    for axes, state in zip(rows.ravel(), states, strict=True):
        if not 0 <= state < len(tracks.ticks):
            axes.set_axis_off()
            continue
        _moment(chronicle, plan, flights, axes, projection, state)
        axes.plot(*spot, marker="+", color=SOFT_INK, markersize=12, zorder=3)
        half_width = _reach(plan, released.by, chronicle)
        axes.set_xlim(spot[0] - half_width, spot[0] + half_width)
        axes.set_ylim(spot[1] - half_width, spot[1] + half_width)
        late = state - middle
        title = f"tick {tracks.ticks[state]}, {late:+d}" if late else f"tick {tracks.ticks[state]}: the {moment}"
        dress(axes, title, "", "")
    units = chronicle.rules.book.settings.units
    sheet.supxlabel(projection.label(projection.across, units), color=INK)
    sheet.supylabel(projection.label(projection.up, units), color=INK)
    what = f"{released.by}'s {released.attack} {shot}"
    headline(sheet, f"{what}: {step} ticks of 1/{plan.tick_rate} s from one picture to the next, + marks its {moment}")
    return sheet


def _reach(plan: Plan, seat: str | None, chronicle: Chronicle) -> float:
    """Half the width of a frame: enough for the shooter and some way to fly."""
    entered = next((each for each in chronicle.events if isinstance(each, SeatEntered) and each.seat == seat), None)
    fighter = plan.fighter(entered.fighter) if entered else None
    return 1.25 * fighter.height if fighter else 2.0


def _moment(chronicle: Chronicle, plan: Plan, flights: Flights, axes: Axes, projection: Projection, state: int) -> None:
    """One frame: everybody as posed, and all shots then in flight with their ways so far."""
    draw_stage(plan, axes, projection, np.empty((0, 3)))
    draw_bodies(chronicle, plan, axes, projection, state)
    draw_flying(chronicle, plan, axes, projection, state)
    _ends(flights, axes, projection, plan, int(chronicle.tracks.ticks[state]))


def _ends(flights: Flights, axes: Axes, projection: Projection, plan: Plan, tick: int) -> None:
    for end in flights.ended.values():
        if end.tick + 1 == tick:
            axes.plot(*projection.flat(plan.space.lift(end.position)), marker="X", color=EMBER, markersize=8, zorder=5)
