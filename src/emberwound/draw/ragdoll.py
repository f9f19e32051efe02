"""The figure of ragdolls: a film strip for each hurtbox, from the hit until the body lies still."""

from __future__ import annotations

from math import cos, dist, radians, sin
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PatchCollection
from matplotlib.patches import Circle

from emberwound.draw.palette import EMBER, GROUND, INK, seat_look
from emberwound.draw.stage import lay_strip
from emberwound.draw.style import figure, headline
from emberwound.rulebook.outline import known_name

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.face import Rulebook
    from emberwound.study.knockback import RagdollPreview

MOMENTS = (0.0, 0.1, 0.2, 0.35, 0.6, 1.0)
"""Seconds after the first tick at which a body is shown, as far as it still moves then; and its last move."""

FRAMES = len(MOMENTS) + 1
ROOM = 1.3
"""How wide a frame is, in heights of the body."""


SHOWN = 3
"""So many hurtboxes are shown where none is named."""


def draw_ragdoll(
    rules: Rulebook, attack: str, victim: str, *, hurtboxes: Sequence[str] = (), arena: str | None = None
) -> Figure:
    """How a fighter falls whom an attack kills, a strip for each hurtbox it may hit: the first three if none is named.

    Each shows the body at seven moments from the hit to its rest, all to one scale. Raises RulebookError for names that
    the book does not have, and for a fighter without a ragdoll.
    """
    fighter = rules.book.fighters[known_name("fighter", victim, rules.book.fighters)]
    places = hurtboxes or list(fighter.hurtboxes)[:SHOWN]
    falls = [rules.ragdoll(attack, victim, hurtbox=place, arena=arena) for place in places]
    first = falls[0]
    units = rules.book.settings.units
    sheet = figure(height=1.1 + 1.95 * len(falls))
    grid = np.atleast_1d(sheet.subplots(len(falls), 1))
    for axes, told in zip(grid, falls, strict=True):
        draw_fall(rules, told, axes)
    sheet.supxlabel(
        f"along the ground from where it stood, and height ({units})   × hit here, → knockback, ⋯ path of that point",
        color=INK,
    )
    pushed = f"{first.attack} at {first.speed:.3g} {units}/s, {first.lift_deg:.3g}°"
    headline(sheet, f"{first.victim} in {first.arena}, killed by {pushed}: how its ragdoll falls")
    return sheet


def _moments(told: RagdollPreview) -> list[int]:
    """The indexes of the moments shown: at the set times while it moves, spread over its moves if these are few."""
    rest = _rest(told)
    wanted = [round(seconds * told.tick_rate) for seconds in MOMENTS]
    if wanted[-1] >= rest:
        wanted = [round(rest * index / len(MOMENTS)) for index in range(len(MOMENTS))]
    return [*wanted, rest]


def _rest(told: RagdollPreview) -> int:
    """The index of the moment from which it lies still, or of its last."""
    return next((index for index, each in enumerate(told.moments) if each.still), len(told.moments) - 1)


def draw_fall(rules: Rulebook, told: RagdollPreview, axes: Axes) -> Axes:
    """One strip: in each frame points and links as they lie, as thick as they are, and the way of the point hit."""
    fighter, moments = rules.book.fighters[told.victim], _moments(told)
    radius, room = fighter.ragdoll.radius if fighter.ragdoll else 0.0, ROOM * fighter.body.height
    shown = [{name: _spot(told, place) for name, place in told.moments[each].points.items()} for each in moments]
    lows = [float(np.mean([spot[0] for spot in flat.values()])) - room / 2 for flat in shown]
    rises = [spot[1] for flat in shown for spot in flat.values()]
    if told.has_heights:
        floor = _floor(rules, told)
        ups = (floor - 0.05 * room, max(floor + 0.9 * room, max(rises) + 2.0 * radius))
        axes.axhspan(floor - room, floor, color=GROUND, zorder=0)
    else:
        middle = (min(rises) + max(rises)) / 2
        half = max(0.5 * room, max(rises) - middle + 2.0 * radius)
        ups = (middle - half, middle + half)
    hit = min(told.moments[0].points, key=lambda name: dist(told.moments[0].points[name], told.place))
    way = np.array([_spot(told, each.points[hit]) for each in told.moments])
    shifts = lay_strip(axes, lows, room, ups, [_said(told, moment) for moment in moments])
    for low, shift, moment, flat in zip(lows, shifts, moments, shown, strict=True):
        _draw_body(axes, flat, told.moments[moment].links, radius, shift)
        seen = way[: moment + 1][way[: moment + 1, 0] >= low]
        axes.plot(seen[:, 0] + shift, seen[:, 1], color=EMBER, linestyle=":", linewidth=1.4, zorder=5)
    _draw_hit(told, axes, fighter.body.height, shifts[0])
    axes.set_ylabel(f"hit at {told.hurtbox}", color=INK)
    return axes


def _said(told: RagdollPreview, moment: int) -> str:
    """What is written over a frame: when, and whether it lies still from then on."""
    end = "" if moment < _rest(told) else ", still" if told.moments[moment].still else ", then gone"
    return f"{(moment + 1) / told.tick_rate:.2f} s{end}"


def _draw_body(
    axes: Axes, flat: Mapping[str, tuple[float, float]], links: Sequence[tuple[str, str]], radius: float, shift: float
) -> None:
    colour = seat_look(1)[0]
    spots = {name: (spot[0] + shift, spot[1]) for name, spot in flat.items()}
    for a, b in links:
        axes.plot(*zip(spots[a], spots[b], strict=True), color=colour, linewidth=3.0, solid_capstyle="round", zorder=3)
    rounds = [Circle(spot, radius) for spot in spots.values()]
    axes.add_collection(
        PatchCollection(rounds, facecolor=colour, edgecolor=INK, linewidth=0.8, alpha=0.75, zorder=4), autolim=False
    )


def _spot(told: RagdollPreview, place: Sequence[float]) -> tuple[float, float]:
    """A place of the arena as a spot of a frame: counted from where it stood, and the last of its figures upwards."""
    return (place[0] - told.stood[0], place[-1] - (0.0 if told.has_heights else told.stood[-1]))


def _draw_hit(told: RagdollPreview, axes: Axes, height: float, shift: float) -> None:
    (across, up), lift = _spot(told, told.place), radians(told.lift_deg)
    spot = (across + shift, up)
    tail = (spot[0] - 0.45 * height * cos(lift), spot[1] - 0.45 * height * sin(lift))
    axes.annotate("", spot, tail, arrowprops={"arrowstyle": "-|>", "color": EMBER, "linewidth": 2.0}, zorder=6)
    axes.plot(*spot, marker="x", color=EMBER, markersize=8, markeredgewidth=2, zorder=6)


def _floor(rules: Rulebook, told: RagdollPreview) -> float:
    arena = rules.book.arenas[told.arena]
    return arena.bounds.low[-1] if arena.floor is None else arena.floor
