"""The figure of an arena: its walls, entries and paths, and the fighters of the book with hurtboxes and muzzles."""

from __future__ import annotations

from math import cos, sin
from typing import TYPE_CHECKING

import numpy as np

from emberwound.draw.palette import EMBER, INK, PAPER, SOFT_INK, Look, seat_look
from emberwound.draw.projections import FROM_SIDE, FROM_TOP, PROJECTIONS, area_outline, areas_of, wall_outline
from emberwound.draw.stage import draw_fighter, draw_prop, draw_stage, heading_arrow, stacked
from emberwound.draw.style import HEIGHT, WIDTH, dress, figure, headline, leave_out_of_layout
from emberwound.plan import compile_plan
from emberwound.plan.stances import area_solids, at_rest, muzzle_place
from emberwound.rulebook.outline import known_name
from emberwound.vocabulary.errors import OutputError

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from numpy.typing import NDArray

    from emberwound.draw.projections import Projection
    from emberwound.face import Rulebook
    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan

ARROW = 0.04
"""Length of the arrows at entries, as a share of the arena's width."""

SMALL: Look = {"textcoords": "offset points", "fontsize": 9}
"""How names are written beside what they name."""

LAST_TICK = 10**9
FRAME, HEADING, ROW = 1.2, 0.35, 3.4
"""Inches that titles and labels of a panel take, the heading over all, and the row of fighters at most."""

LEFT, RIGHT, RIGHT_OF_MUZZLES = 1.05, 0.6, 1.4
"""Room beside the fighters of a row for the names of their parts, as shares of the largest of them."""


def draw_arena(rules: Rulebook, arena: str, *, tick: int | None = None) -> Figure:
    """An arena of a book: the place from each side that matters, and below it the fighters at one scale.

    Hazards are where they start, or with a `tick` as they are on it, those faint that are off. Raises OutputError for a
    tick below 0 or beyond LAST_TICK, and RulebookError for an arena that the book does not have.
    """
    known_name("arena", arena, rules.book.arenas)
    if tick is not None and not 0 <= tick <= LAST_TICK:
        raise OutputError(f"tick {tick}: give a tick from 0 to {LAST_TICK}")
    plan = compile_plan(rules, arena, rules.book.settings.tick_rate)
    views = PROJECTIONS[plan.space.name]
    sheet = figure()
    grid = sheet.add_gridspec(2, len(views), height_ratios=(1.3, 1.0))
    places = [
        draw_place(rules, plan, sheet.add_subplot(grid[0, column]), projection, tick, named=column == 0)
        for column, projection in enumerate(views)
    ]
    row = draw_fighters(rules, plan, sheet.add_subplot(grid[1, :]))
    below = min(_inches(row, WIDTH), ROW)
    above = min(max(_inches(axes, WIDTH / len(views)) for axes in places), HEIGHT - HEADING - below)
    grid.set_height_ratios((above, below))
    sheet.set_figheight(above + below + HEADING)
    title = rules.book.settings.title
    when = "" if tick is None else f" on tick {tick}, at {tick / plan.tick_rate:.2f} s"
    headline(sheet, f"{title}: the arena {arena}{when}" if title else f"The arena {arena}{when}")
    return sheet


def _inches(axes: Axes, wide: float) -> float:
    """How high a panel so many inches wide must be to show all at one scale, its titles and labels counted in."""
    (left, right), (low, high) = axes.get_xlim(), axes.get_ylim()
    return (wide - FRAME) * (high - low) / (right - left) + FRAME


def _name_wall(axes: Axes, name: str, outline: NDArray[np.float64], spots: NDArray[np.float64]) -> None:
    """Write a wall's name in its middle; near its lower edge where an entry's mark lies on it."""
    low, high = outline.min(axis=0), outline.max(axis=0)
    across, up = ((low + high) / 2).tolist()
    if ((low <= spots) & (spots <= high)).all(axis=-1).any():
        up = float(low[1] + 0.2 * (high[1] - low[1]))
    box = {"facecolor": PAPER, "edgecolor": "none", "pad": 1.5}
    axes.annotate(name, (across, up), (0, 0), ha="center", va="center", color=INK, bbox=box, **SMALL)


LABEL = 0.085
"""The share of the row's width that the label of a hurtbox takes."""


def draw_place(
    rules: Rulebook, plan: Plan, axes: Axes, projection: Projection, tick: int | None = None, *, named: bool = True
) -> Axes:
    """Bounds, floor, walls, entries with the way they look, and paths."""
    table, lift = rules.book.arenas[plan.arena], plan.space.lift
    entries = [plan.entries[name].position for name in plan.entries]
    marked = [lift(point) for path in table.paths.values() for point in path.points]
    draw_stage(plan, axes, projection, np.array([*entries, *marked] or np.empty((0, 3))), tick)
    low, high = axes.get_xlim()
    length = ARROW * (high - low)
    hazards = {hazard.name for hazard in plan.hazards} if named else set()
    for index, name in enumerate(plan.wall_names):
        if name in hazards:  # a solid hazard, which is named once
            continue
        _name_wall(axes, name, wall_outline(plan, index, projection), projection.flat(entries))
    if named:
        _name_areas(plan, axes, projection, tick)
    for prop in plan.props:
        draw_prop(plan, axes, projection, prop, prop.position, plan.space.heading(prop.facing))
        if named:
            said = f"{prop.name} ({prop.sort})"
            axes.annotate(said, projection.spot(prop.position), (0, -6), ha="center", va="top", color=INK, **SMALL)
    for name, entry in plan.entries.items():
        spot = projection.spot(entry.position)
        axes.plot(*spot, marker="o", color=INK, markersize=5, zorder=5)
        heading_arrow(
            axes, projection, entry.position, (*(length * np.array(plan.space.heading(entry.facing))), 0.0), INK
        )
        if named:
            axes.annotate(name, spot, (0, -6), ha="center", va="top", color=INK, **SMALL)
    for index, (name, path) in enumerate(table.paths.items()):
        colour = seat_look(index + 1)[0]
        points = projection.flat([lift(point) for point in path.points])
        way = np.vstack([points, points[:1]]) if path.closed else points
        axes.plot(*way.T, color=colour, linewidth=1.4, linestyle="-." if path.closed else ":", marker=".", zorder=4)
        how = "round and round" if path.closed else "back and forth"
        across, up = way[: len(path.points)].mean(axis=0).tolist()
        if named:
            axes.annotate(f"{name}, {how}", (across, up), (0, 8), ha="center", color=colour, **SMALL)
    units = rules.book.settings.units
    gravity = f"gravity {table.gravity:g} {units}/s²" if plan.space.has_heights else "no heights, no gravity"
    title, key = (
        f"Seen {projection.name}: {gravity}",
        "●➤ entry and its facing   ▨ wall   ┈ path" + _key(plan),
    )
    dress(axes, title, projection.label(projection.across, units), projection.label(projection.up, units), key)
    axes.set_anchor("W")
    return leave_out_of_layout(axes)


def _key(plan: Plan) -> str:
    said = (
        ("   ╌ hazard, dotted or fatal", plan.hazards),
        ("   ⚑ checkpoint", plan.checkpoints),
        ("   ✦ pickup", plan.pickups),
    )
    return "".join(text for text, there in said if there)


def _name_areas(plan: Plan, axes: Axes, projection: Projection, tick: int | None) -> None:
    """The name of each hazard, checkpoint and pickup over it, and whether it is off."""
    signs = {"fatal": "", "hazard": "", "checkpoint": "⚑ ", "pickup": "✦ "}
    for look, (solid, on) in zip(areas_of(plan), area_solids(plan, tick), strict=True):
        outline = area_outline(plan, solid, projection)
        if not len(outline):
            continue
        across, up = float(outline[:, 0].mean()), float(outline[:, 1].max())
        top = axes.get_ylim()[1]
        said = f"{signs[look.sort]}{look.name}{', fatal' if look.sort == 'fatal' else ''}"
        said += "" if on else ", off"
        box = {"facecolor": PAPER, "edgecolor": "none", "pad": 1.0}
        place = (across, min(up, top))
        axes.annotate(said, place, (0, -14 if up > top else 4), ha="center", color=look.colour, bbox=box, **SMALL)


def draw_fighters(rules: Rulebook, plan: Plan, axes: Axes) -> Axes:
    """All fighters in a row: hurtboxes with names and multipliers, muzzles with the way their shots leave."""
    projection = FROM_SIDE if plan.space.has_heights else FROM_TOP
    large = max((max(each.height, 2 * each.radius) for each in plan.fighters), default=1.0)
    across = -LEFT * large
    for index, fighter in enumerate(plan.fighters):
        place = (across + LEFT * large, 0.0, 0.0)
        shoots = any(attack.launch for attack in fighter.attacks)
        across = place[0] + (RIGHT_OF_MUZZLES if shoots else RIGHT) * large
        colour = seat_look(index)[0]
        outlines = draw_fighter(plan, axes, projection, fighter.id, at_rest(plan, fighter, place, (1.0, 0.0)), colour)
        _label_hurtboxes(axes, fighter, outlines, large, colour)
        _label_muzzles(plan, axes, projection, fighter, place, large)
        foot = min(float(outline[:, 1].min()) for outline in outlines.values())
        axes.annotate(fighter.name, (place[0], foot), (0, -8), textcoords="offset points", ha="center", va="top",
                      color=colour, fontsize=10, fontweight="bold")  # fmt: skip
    units = rules.book.settings.units
    axes.set_xlim(-max(LEFT * large, LABEL * across), max(across, RIGHT * large))
    axes.set_ylim(*((-0.32 * large, 1.1 * large) if projection is FROM_SIDE else (-0.8 * large, 0.8 * large)))
    axes.set_aspect("equal")
    key = "name × multiplier of each hurtbox   ◆➤ muzzle, and the direction of its shots unless they are aimed"
    up = "up" if projection is FROM_SIDE else "left"
    what = "fighters and props" if rules.book.props else "fighters"
    dress(axes, f"The book's {what} at one scale, at rest", f"ahead ({units})", f"{up} ({units})", key)
    axes.set_anchor("W")
    return leave_out_of_layout(axes)


def _label_muzzles(
    plan: Plan,
    axes: Axes,
    projection: Projection,
    fighter: FighterPlan,
    place: tuple[float, float, float],
    large: float,
) -> None:
    """Each muzzle at rest, an arrow the way what leaves it goes, and the attacks' names in a column beside them."""
    found: list[tuple[float, str, tuple[float, float]]] = []
    for attack in fighter.attacks:
        if attack.launch is None:
            continue
        muzzle = muzzle_place(plan, attack.launch, at_rest(plan, fighter, place, (1.0, 0.0)))
        way = 0.2 * large * np.array([cos(attack.launch.lift), 0.0, sin(attack.launch.lift)])
        axes.plot(*projection.spot(muzzle), marker="D", color=EMBER, markersize=4, zorder=6)
        heading_arrow(axes, projection, muzzle, way, EMBER)
        tip = projection.spot(muzzle + way)
        found.append((tip[1], attack.name, tip))
    found.sort()
    column = max((tip[0] for _, _, tip in found), default=0.0) + 0.12 * large
    labels = stacked([(height, name) for height, name, _ in found], 0.15 * large)
    for (height, name), (_, _, tip) in zip(labels, found, strict=True):
        _label(axes, name, tip, (column, height), EMBER, EMBER)


def _label_hurtboxes(
    axes: Axes, fighter: FighterPlan, outlines: dict[int, np.ndarray], large: float, colour: str
) -> None:
    """Names and multipliers in a column beside the fighter, each with a line to its hurtbox."""
    left = min(float(outline[:, 0].min()) for outline in outlines.values()) - 0.08 * large
    centres = [(float(outline[:, 1].mean()), outline) for outline in outlines.values()]
    boxes = [fighter.hurtboxes[part] for part in outlines]
    labels = [(height, f"{box.name} × {box.multiplier:g}") for (height, _), box in zip(centres, boxes, strict=True)]
    for (height, text), (_, outline) in zip(
        stacked(labels, 0.15 * large), sorted(centres, key=lambda each: each[0]), strict=True
    ):
        edge = float(outline[:, 0].min()), float(outline[:, 1].mean())
        _label(axes, text, edge, (left, height), colour, SOFT_INK)


def _label(
    axes: Axes, text: str, spot: tuple[float, float], place: tuple[float, float], colour: str, line: str
) -> None:
    """A text beside what it names, on the side it stands on, with a line to it."""
    aside = "right" if place[0] < spot[0] else "left"
    axes.plot(*zip(spot, place, strict=True), color=line, linewidth=0.7, zorder=4)
    axes.annotate(text, place, (-3 if aside == "right" else 3, 0), textcoords="offset points", ha=aside, va="center",
                  color=colour, fontsize=9)  # fmt: skip
