"""The figure of limp bodies: a film strip for each hurtbox, from the blow until the body lies still."""

from __future__ import annotations

from math import cos, dist, radians, sin
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.patches import Circle

from emberwound.draw.style import EMBER, GROUND, INK, SOFT_INK, dress, figure, headline, seat_look

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.bout.tumbles import Tumble
    from emberwound.rulebook import Rulebook

MOMENTS = (0.0, 0.1, 0.2, 0.35, 0.6, 1.0)
"""Seconds after the first tick at which a body is shown, as far as it still moves then; and its last move."""

FRAMES = len(MOMENTS) + 1
ROOM = 1.3
"""How wide a frame is, in heights of the body."""


def draw_limp(rules: Rulebook, tumbles: Sequence[Tumble]) -> Figure:
    """A strip for each tumble: the body at seven moments from the blow to its rest, all to one scale."""
    first = tumbles[0]
    units = rules.book.settings.units
    sheet = figure(height=1.1 + 1.95 * len(tumbles))
    grid = sheet.subplots(len(tumbles), FRAMES, squeeze=False)
    for row, told in zip(grid, tumbles, strict=True):
        for number, (axes, moment) in enumerate(zip(row, _moments(told), strict=True)):
            draw_moment(rules, told, moment, axes)
            end = "" if moment < _rest(told) else ", still" if told.moments[moment].still else ", then gone"
            seconds = f"{(moment + 1) / told.tick_rate:.2f} s{end}"
            dress(axes, seconds, "", "" if number else f"hit at {told.hurtbox}")
            axes.title.set_fontsize(10)
    sheet.supxlabel(
        f"along the ground from where it stood, and height ({units})   × hit here, → pushed so, ⋯ way of that point",
        color=INK,
    )
    pushed = f"{first.attack} at {first.speed:.3g} {units}/s, {first.lift_deg:.3g}°"
    headline(sheet, f"{first.victim} in {first.arena}, killed by {pushed}: how its body falls")
    return sheet


def _moments(told: Tumble) -> list[int]:
    """The numbers of the moments shown: at the set times while it moves, spread over its moves if these are few."""
    rest = _rest(told)
    wanted = [round(seconds * told.tick_rate) for seconds in MOMENTS]
    if wanted[-1] >= rest:
        wanted = [round(rest * number / len(MOMENTS)) for number in range(len(MOMENTS))]
    return [*wanted, rest]


def _rest(told: Tumble) -> int:
    """The number of the moment from which it lies still, or of its last."""
    return next((number for number, each in enumerate(told.moments) if each.still), len(told.moments) - 1)


def draw_moment(rules: Rulebook, told: Tumble, moment: int, axes: Axes) -> Axes:
    """One frame: points and links as they lie, each as thick as it is, the way so far of the point that was hit."""
    fighter, view = rules.book.fighters[told.victim], told.moments[moment]
    radius = fighter.limp.radius if fighter.limp else 0.0
    colour = seat_look(1)[0]
    flat = {name: _spot(told, place) for name, place in view.points.items()}
    for a, b in view.links:
        axes.plot(*zip(flat[a], flat[b], strict=True), color=colour, linewidth=3.0, solid_capstyle="round", zorder=3)
    for spot in flat.values():
        axes.add_patch(Circle(spot, radius, facecolor=colour, edgecolor=INK, linewidth=0.8, alpha=0.75, zorder=4))
    struck = min(told.moments[0].points, key=lambda name: dist(told.moments[0].points[name], told.place))
    way = np.array([_spot(told, each.points[struck]) for each in told.moments[: moment + 1]])
    axes.plot(*way.T, color=EMBER, linestyle=":", linewidth=1.4, zorder=5)
    if moment == 0:
        _draw_blow(told, axes, fighter.body.height)
    middle = np.mean(list(flat.values()), axis=0)
    room = ROOM * fighter.body.height
    axes.set_xlim(middle[0] - room / 2, middle[0] + room / 2)
    if rules.book.arenas[told.arena].plane == "top":
        axes.set_ylim(middle[1] - room / 2, middle[1] + room / 2)
    else:
        high = max(0.95 * room, middle[1] + 0.6 * room)
        axes.set_ylim(high - room, high)
        axes.axhspan(high - room, _floor(rules, told), color=GROUND, zorder=0)
    axes.set_aspect("equal")
    axes.grid(color=SOFT_INK, alpha=0.25, linewidth=0.5)
    return axes


def _spot(told: Tumble, place: Sequence[float]) -> tuple[float, float]:
    """A place of the arena as a spot of a frame: counted from where it stood, and the last of its figures upwards."""
    return (place[0] - told.stood[0], place[-1] - (0.0 if told.has_heights else told.stood[-1]))


def _draw_blow(told: Tumble, axes: Axes, height: float) -> None:
    spot, lift = _spot(told, told.place), radians(told.lift_deg)
    tail = (spot[0] - 0.45 * height * cos(lift), spot[1] - 0.45 * height * sin(lift))
    axes.annotate("", spot, tail, arrowprops={"arrowstyle": "-|>", "color": EMBER, "linewidth": 2.0}, zorder=6)
    axes.plot(*spot, marker="x", color=EMBER, markersize=8, markeredgewidth=2, zorder=6)


def _floor(rules: Rulebook, told: Tumble) -> float:
    arena = rules.book.arenas[told.arena]
    return arena.bounds.low[-1] if arena.floor is None else arena.floor
