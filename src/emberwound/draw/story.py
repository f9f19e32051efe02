"""The figure of a run: who stood where, where each shot flew and ended, and health over time."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.collections import PatchCollection
from matplotlib.patches import Polygon

from emberwound.draw.style import EMBER, GROUND, INK, MISS, SOFT_INK, dress, figure, seat_look
from emberwound.vocabulary.events import Died, Entered, Released, Respawned, ShotEnded, Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure
    from matplotlib.patches import Patch

    from emberwound.chronicle import Chronicle
    from emberwound.rulebook.models import Fighter

MARGIN = 0.6
MOST_FATES = 4


def draw_story(chronicle: Chronicle) -> Figure:
    """The bout in one picture: the arena from the side above, the vital pools over time below."""
    sheet = figure()
    above, below = sheet.subplots(2, 1, height_ratios=(1.15, 1.0))
    draw_paths(chronicle, above)
    draw_health(chronicle, below)
    book = chronicle.rules.book
    table = book.bouts.get(chronicle.header.script or "")
    name = (table.title if table else "") or chronicle.header.script or f"A bout in {chronicle.header.arena}"
    title = f"{book.settings.title}: {name}" if book.settings.title else name
    sheet.suptitle(title, x=0.01, ha="left", fontsize=15, color=INK, fontweight="bold")
    return sheet


def draw_paths(chronicle: Chronicle, axes: Axes) -> Axes:
    """The arena from the side: fighters where they stood, and each shot's path with its number and its end."""
    units = chronicle.rules.book.settings.units
    _ground(chronicle, axes)
    seats = [event for event in chronicle.events if isinstance(event, Entered)]
    for index, entered in enumerate(seats):
        _fighter(chronicle, axes, entered, seat_look(index)[0])
    ended = {event.shot: event for event in chronicle.events if isinstance(event, ShotEnded)}
    released = [event for event in chronicle.events if isinstance(event, Released)]
    ends: dict[tuple[float, float], list[int]] = {}
    for event in released:
        spot = _path(chronicle, axes, event, ended.get(event.shot))
        near = next((each for each in ends if np.hypot(each[0] - spot[0], each[1] - spot[1]) < MARGIN), spot)
        ends.setdefault(near, []).append(event.shot)
    for spot, numbers in ends.items():
        text = ", ".join(str(number) for number in numbers)
        axes.annotate(text, spot, (-6, 7), textcoords="offset points", ha="center", color=INK, fontsize=9, zorder=6)
    hits = sum(end.reason is Reason.HIT for end in ended.values())
    title = f"{len(released)} shots, {hits} hits: paths by number, ● hit, ✕ ended without a hit, ▶ still flying"
    dress(axes, title, f"x ({units})", f"height z ({units})")
    axes.set_aspect("equal")
    return axes


def _ground(chronicle: Chronicle, axes: Axes) -> None:
    arena = chronicle.rules.book.arenas[chronicle.header.arena]
    (left, bottom), (right, top) = arena.bounds.low, arena.bounds.high
    shots = chronicle.tracks.shot_positions
    standing = [_height(chronicle, event) for event in chronicle.events if isinstance(event, Entered)]
    reach = max([*standing, *shots[:, 1].tolist()], default=top) + MARGIN
    low = bottom if arena.floor is None else arena.floor
    axes.set_xlim(left - MARGIN, right + MARGIN)
    axes.set_ylim(low - 3 * MARGIN, min(top, reach) + MARGIN)
    if arena.floor is not None:
        axes.axhspan(low - 3 * MARGIN, arena.floor, color=GROUND, zorder=0)
        axes.axhline(arena.floor, color=SOFT_INK, linewidth=1.2, zorder=1)
    for edge in (left, right):
        axes.axvline(edge, color=SOFT_INK, linewidth=0.8, linestyle=(0, (2, 4)))


def _height(chronicle: Chronicle, entered: Entered) -> float:
    return entered.position[1] + chronicle.rules.book.fighters[entered.fighter].body.height


def _fighter(chronicle: Chronicle, axes: Axes, entered: Entered, colour: str) -> None:
    fighter = chronicle.rules.book.fighters[entered.fighter]
    seat = chronicle.tracks.seats.index(entered.seat or "")
    alive = chronicle.tracks.alive[:, seat]
    walked = chronicle.tracks.positions[alive, seat]
    ahead = entered.facing[0]
    patches = [patch for box in fighter.hurtboxes.values() for patch in _capsule(box, entered.position, ahead)]
    axes.add_collection(PatchCollection(patches, facecolor=colour, alpha=0.22, edgecolor="none", zorder=2))
    for patch in _outlines(fighter, entered.position, ahead):
        axes.plot(*patch, color=colour, linewidth=1.3, zorder=3)
    if len(walked) and np.ptp(walked, axis=0).max() > 0.0:
        axes.plot(walked[:, 0], walked[:, 1], color=colour, linewidth=1.0, linestyle=":", zorder=2)
    x, z = entered.position
    name = f"{entered.seat} ({entered.fighter})"
    axes.annotate(
        f"{name}\n{_fate(chronicle, entered)}", (x, z), (0, -7), textcoords="offset points", ha="center", va="top",
        color=colour, fontsize=9, zorder=6,
    )  # fmt: skip


def _fate(chronicle: Chronicle, entered: Entered) -> str:
    signs = {Died: "✝", Respawned: "▲"}
    told = [event for event in chronicle.events if event.seat == entered.seat and type(event) in signs]
    return ", ".join(f"{signs[type(event)]} {event.time:.2f} s" for event in told[:MOST_FATES]) or "alive to the end"


def _ends(box: Any, position: tuple[float, ...], ahead: float) -> tuple[np.ndarray, np.ndarray]:
    start, end = box.from_, box.to or box.from_
    x, z = position
    return np.array([x + ahead * start[0], z + start[1]]), np.array([x + ahead * end[0], z + end[1]])


def _capsule(box: Any, position: tuple[float, ...], ahead: float) -> list[Patch]:
    return [Polygon(np.column_stack(_rim(*_ends(box, position, ahead), box.radius)))]


def _outlines(fighter: Fighter, position: tuple[float, ...], ahead: float) -> list[tuple[np.ndarray, np.ndarray]]:
    return [_rim(*_ends(box, position, ahead), box.radius) for box in fighter.hurtboxes.values()]


def _rim(a: np.ndarray, b: np.ndarray, radius: float) -> tuple[np.ndarray, np.ndarray]:
    along = b - a
    angle = np.arctan2(along[1], along[0])
    turn = np.linspace(-np.pi / 2, np.pi / 2, 24)
    x = np.concatenate([b[0] + radius * np.cos(angle + turn), a[0] - radius * np.cos(angle + turn)])
    z = np.concatenate([b[1] + radius * np.sin(angle + turn), a[1] - radius * np.sin(angle + turn)])
    return np.append(x, x[0]), np.append(z, z[0])


def _path(chronicle: Chronicle, axes: Axes, released: Released, end: ShotEnded | None) -> tuple[float, float]:
    hit = end is not None and end.reason is Reason.HIT
    colour = EMBER if hit else MISS
    points = [released.position, *chronicle.tracks.shot(released.shot).tolist()]
    if end is not None:
        points.append(end.position)
    x, z = np.array(points).T
    axes.plot(x, z, color=colour, linewidth=1.4, linestyle="-" if hit else "--", zorder=4)
    marker = ">" if end is None else "o" if hit else "x"
    axes.plot(x[-1:], z[-1:], marker=marker, color=colour, markersize=6, zorder=5)
    return (float(x[-1]), float(z[-1]))


def draw_health(chronicle: Chronicle, axes: Axes) -> Axes:
    """Each seat's vital pool over time, wounds marked with the shot's number, deaths and respawns with signs."""
    tracks = chronicle.tracks
    seats = [event for event in chronicle.events if isinstance(event, Entered)]
    most = 1.0
    for index, entered in enumerate(seats):
        seat = tracks.seats.index(entered.seat or "")
        pools = chronicle.rules.book.fighters[entered.fighter].pools
        vital, pool = next((i, pool) for i, pool in enumerate(pools.values()) if pool.vital)
        most = max(most, pool.max)
        colour, line = seat_look(index)
        times, values = _health_steps(chronicle, entered, tracks.pools[:, seat, vital])
        axes.plot(times, values, color=colour, linestyle=line, linewidth=2.0, drawstyle="steps-post")
        axes.annotate(entered.seat or "", (times[0], values[0]), (6, 4), textcoords="offset points", color=colour)
        _marks(chronicle, axes, entered.seat or "", colour, pool.max if pool.start is None else pool.start)
    unit = "points of the vital pool"
    dress(axes, "Health over time: numbers are the shots that wounded, ✝ death, ▲ respawn", "time (s)", unit)
    axes.set_xlim(0, chronicle.seconds)
    axes.set_ylim(-0.13 * most, 1.12 * most)
    return axes


def _health_steps(chronicle: Chronicle, entered: Entered, track: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Times and values with a step at each exact wound."""
    times, values = chronicle.tracks.times.tolist(), track.tolist()
    for event in chronicle.events:
        if event.seat == entered.seat and isinstance(event, Wounded):
            times.append(event.time)
            values.append(event.vital_left)
    order = np.argsort(times, kind="stable")
    return np.array(times)[order], np.array(values)[order]


def _marks(chronicle: Chronicle, axes: Axes, seat: str, colour: str, start: float) -> None:
    for event in chronicle.events:
        if event.seat != seat:
            continue
        if isinstance(event, Wounded):
            axes.plot([event.time], [event.vital_left], marker="o", markersize=5, color=colour)
            spot = (event.time, event.vital_left)
            axes.annotate(str(event.shot), spot, (5, 5), textcoords="offset points", color=INK, fontsize=9)
        elif isinstance(event, Died):
            spot = (event.time, 0.0)
            axes.annotate("✝", spot, (0, -3), textcoords="offset points", ha="center", va="top", color=colour, size=15)
        elif isinstance(event, Respawned):
            rise = [0.0, start]
            axes.plot([event.time] * 2, rise, marker="^", markersize=8, markevery=[0], color=colour, linewidth=0.8)
