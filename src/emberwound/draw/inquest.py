"""The figure of an answer: the way against the hurtboxes at the nearest approach, or what kept an order waiting."""

from __future__ import annotations

from textwrap import fill
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PolyCollection

from emberwound.draw.palette import EMBER, INK, SOFT_INK, seat_look
from emberwound.draw.projections import FROM_SIDE, FROM_TOP, outline
from emberwound.draw.stage import draw_stage
from emberwound.draw.style import dress, figure, headline
from emberwound.draw.timeline import draw_lanes
from emberwound.draw.windows import plan_of
from emberwound.study.inquest import inquest
from emberwound.study.inquest.attempts import scene_of_shot, scene_of_swing
from emberwound.vocabulary.errors import ChronicleError

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.study.inquest.answer import Answer
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.attempts import Scene

WRAP = 110
CLOSE_UP = 1.1
"""Half the width of the close-up, in gaps, but no less than a body."""


def draw_inquest(
    chronicle: Chronicle,
    *,
    shot: int | None = None,
    swing: tuple[str, int] | None = None,
    order: tuple[str, int] | None = None,
) -> Figure:
    """What became of a shot, a swing or an order, as `inquest` asks it; give one of them.

    For a shot and a swing its way through the arena, and a close-up of the nearest approach with the gap as a dimension
    line; for an order the lanes of what kept its seat from it. Raises ChronicleError as `inquest` does.
    """
    if sum(each is not None for each in (shot, swing, order)) != 1:
        raise ChronicleError("draw_inquest: ask one question: shot, swing, order")
    if order is not None:
        answer = inquest(chronicle, order=order)
        sheet = figure(height=5.0)
        draw_lanes(chronicle, sheet.subplots(), *order)
        _headed(sheet, answer)
        return sheet
    scene = scene_of_shot(chronicle, shot) if shot is not None else scene_of_swing(chronicle, *(swing or ("", 0)))
    sheet = figure(height=6.4)
    whole, close = sheet.subplots(1, 2, width_ratios=(1.5, 1.0))
    plan = plan_of(chronicle)
    projection = FROM_TOP if plan.space.name == "top" else _facing(scene)
    seats = list(dict.fromkeys(seat for seat, _ in scene.at.bodies))
    _whole(chronicle, plan, whole, projection, scene, seats)
    _close_up(chronicle, plan, close, projection, scene, seats)
    _headed(sheet, scene.answer)
    return sheet


def _facing(scene: Scene) -> Projection:
    """From the side, unless the gap lies across: in 3d it may be seen from the top alone."""
    near = scene.near
    if near is None or abs(near.aside[1]) <= np.hypot(near.aside[0], near.aside[2]):
        return FROM_SIDE
    return FROM_TOP


def _headed(sheet: Figure, answer: Answer) -> None:
    told = f"{answer.cause.name}: {answer.cause.text}"
    if answer.trial is not None:
        told += f"\ntried: {answer.trial.change}: {answer.trial.then}"
    headline(sheet, "\n".join(fill(line, WRAP) for line in told.splitlines()))


def _whole(
    chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, scene: Scene, seats: list[str]
) -> None:
    """The arena with the way through it, and where all stood at the nearest approach."""
    way = _way(scene.moments)
    draw_stage(plan, axes, projection, way)
    _bodies(axes, projection, scene.at, seats, named=True)
    _shapes(axes, [outline(solid, projection) for solid in scene.at.own], SOFT_INK)
    axes.plot(*projection.flat(way).T, color=EMBER, linewidth=1.4, zorder=4)
    axes.plot(*projection.spot(way[0]), marker="o", color=EMBER, markersize=5, zorder=5)
    if scene.near is not None:
        axes.plot(*projection.spot(scene.near.place), marker="x", color=INK, markersize=9, zorder=6)
    units = chronicle.rules.book.settings.units
    time = scene.near.time if scene.near else scene.at.time
    title = f"its way; o where it begins, x nearest, at {time:.3f} s"
    dress(axes, title, projection.label(projection.across, units), projection.label(projection.up, units))


def _way(moments: list[Moment]) -> np.ndarray:
    """The places of what flies or of the far end of what strikes, one after the other."""
    return np.array([moment.touching[-1].b for moment in moments])


def _bodies(axes: Axes, projection: Projection, moment: Moment, seats: list[str], *, named: bool) -> None:
    for index, seat in enumerate(seats):
        colour, _ = seat_look(index)
        shapes = [outline(solid, projection) for (each, _), solid in moment.bodies.items() if each == seat]
        _shapes(axes, shapes, colour)
        if named:
            corner = np.vstack(shapes)
            at = (float(corner[:, 0].mean()), float(corner[:, 1].min()))
            axes.annotate(
                seat, at, (0, -6), textcoords="offset points", ha="center", va="top", color=colour, fontsize=9
            )


def _shapes(axes: Axes, shapes: list[np.ndarray], colour: str) -> None:
    axes.add_collection(PolyCollection(shapes, facecolor=colour, alpha=0.2, edgecolor="none", zorder=2))
    axes.add_collection(PolyCollection(shapes, facecolor="none", edgecolor=colour, linewidth=1.2, zorder=3))


def _close_up(
    chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, scene: Scene, seats: list[str]
) -> None:
    """The nearest approach with its gap as a dimension line."""
    near, moment = scene.near, scene.at
    way = _way(scene.moments)
    draw_stage(plan, axes, projection, way)
    _bodies(axes, projection, moment, seats, named=False)
    _shapes(axes, [outline(solid, projection) for solid in moment.own], SOFT_INK)
    axes.plot(*projection.flat(way).T, color=EMBER, linewidth=1.0, linestyle=":", zorder=4)
    touching = [outline(solid, projection) for solid in moment.touching]
    axes.add_collection(PolyCollection(touching, facecolor=EMBER, alpha=0.35, edgecolor=EMBER, linewidth=1.2, zorder=5))
    units = chronicle.rules.book.settings.units
    middle, half = projection.spot(way[-1]), 1.0
    if near is not None:
        middle = projection.spot(near.place - 0.5 * near.aside)
        half = max(CLOSE_UP * max(near.gap, 0.0), _size(moment, near))
        if near.gap > 0.0:
            _dimension(axes, projection, near, moment, units)
    axes.set_xlim(middle[0] - half, middle[0] + half)
    axes.set_ylim(middle[1] - half, middle[1] + half)
    what = f"nearest to {near.seat}'s {near.hurtbox}" if near else "its end"
    dress(axes, what, projection.label(projection.across, units), projection.label(projection.up, units))


def _size(moment: Moment, near: Near) -> float:
    """Half the width that shows a hurtbox whole."""
    solid = moment.bodies.get((near.seat, near.hurtbox))
    if solid is None:
        return 1.0
    return float(np.abs(solid.b - solid.a).max()) + 2.0 * solid.radius + 0.3


def _dimension(axes: Axes, projection: Projection, near: Near, moment: Moment, units: str) -> None:
    """A line with two arrow heads from the hurtbox to what passed it, with its length."""
    far = float(np.linalg.norm(near.aside))
    if far == 0.0:
        return
    way = near.aside / far
    radius = moment.touching[0].radius
    tip = near.place - radius * way
    foot = tip - near.gap * way
    start, end = projection.spot(foot), projection.spot(tip)
    axes.annotate("", end, start, arrowprops={"arrowstyle": "<|-|>", "color": INK, "linewidth": 1.4}, zorder=7)
    middle = ((start[0] + end[0]) / 2.0, (start[1] + end[1]) / 2.0)
    axes.annotate(
        f"{near.gap:.3g} {units}",
        middle,
        (8, 0),
        textcoords="offset points",
        va="center",
        color=INK,
        fontsize=10,
        zorder=8,
        bbox={"facecolor": "white", "alpha": 0.8, "edgecolor": SOFT_INK, "linewidth": 0.6, "pad": 2},
    )
