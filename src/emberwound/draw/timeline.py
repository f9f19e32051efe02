"""An attack as a time line: its parts, hitboxes, releases and windows, in ticks and in seconds."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from emberwound.draw.palette import EMBER, GROUND, INK, PAPER, SOFT_INK
from emberwound.draw.style import dress

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from emberwound.study.advantage import Advantage
    from emberwound.study.timing import AttackTiming

HATCHES = {
    "windup": "",
    "active": "",
    "recovery": "////",
    "hitbox": "",
    "invulnerable": "....",
    "hurtbox off": "xxxx",
    "cancel": "\\\\\\\\",
    "follow-up": "----",
    "lunge": "||||",
    "cooldown": "",
    "hit stop": "xx",
    "reaction": "",
}
COLOURS = {"windup": GROUND, "active": "#e6a07c", "hitbox": EMBER, "cooldown": "#e9e5da", "reaction": "#bcd7e0"}
CALM = "#c9d3d8"
TALL = 0.62
ROOM = 0.012
"""Half the gap between two bars that meet, as a share of the width."""


class Bar(NamedTuple):
    """A bar of the time line: in which lane, of what sort, from which tick up to which, and what is written on it."""

    lane: str
    sort: str
    begins: float
    ends: float
    text: str


def bars_of(timing: AttackTiming) -> list[Bar]:
    """All bars of an attack, lane after lane."""
    ready = timing.windup_ticks + timing.active_ticks
    whole = timing.whole_ticks
    parts = (("windup", 0, timing.windup_ticks), ("active", timing.windup_ticks, ready), ("recovery", ready, whole))
    bars = [Bar("phases", name, first, last, name) for name, first, last in parts if last > first]
    for window in timing.windows:
        lane = (
            window.what
            if window.name in ("invulnerable", "lunge") or window.what == "release"
            else f"{window.what} {window.name}"
        )
        said = (
            f"{window.first_tick}"
            if window.first_tick == window.last_tick
            else f"{window.first_tick}-{window.last_tick}"
        )
        bars.append(Bar(lane, window.what, window.first_tick, window.last_tick + 1, said))
    if timing.cooldown_ticks:
        released = timing.of("release")
        start = released[0].first_tick if released else 0
        bars.append(
            Bar(
                "cooldown",
                "cooldown",
                start,
                start + timing.cooldown_ticks,
                f"ready on {start + timing.cooldown_ticks}",
            )
        )
    return bars


def bars_against(told: Advantage, *, strikes: bool) -> list[Bar]:
    """What a victim does once the attack lands body against body: a lane for a hit, and one for a guarded hit.

    On the clock of who attacks: a strike's hit stop holds both alike and takes no time on it.
    """
    bars: list[Bar] = []
    cases = (("hit", told.on_hit, told.after_hit), ("guarded", told.on_guard, told.after_guard))
    for case, report, exchange in cases:
        if report is None or exchange is None:
            continue
        lane, begins = f"{told.victim}, {case}", exchange.hit_ticks[0] + 1
        if report.hit_stop_ticks and not strikes:
            bars.append(Bar(lane, "hit stop", begins, begins + report.hit_stop_ticks, "stop"))
            begins += report.hit_stop_ticks
        said = f"{report.reaction or 'no reaction'}, {exchange.advantage:+d}"
        bars.append(Bar(lane, "reaction", begins, begins + report.ticks, said))
    return bars


def draw_timeline(timing: AttackTiming, axes: Axes, against: Sequence[Bar] = ()) -> Axes:
    """The time line: ticks below, seconds above, a lane for each thing that happens, and those of a victim."""
    bars = [*bars_of(timing), *against]
    lanes = list(dict.fromkeys(bar.lane for bar in bars))
    last = max(bar.ends for bar in bars)
    for bar in bars:
        height = len(lanes) - 1 - lanes.index(bar.lane)
        look: dict[str, Any] = {"facecolor": COLOURS.get(bar.sort, CALM), "edgecolor": INK, "linewidth": 0.8}
        if bar.sort == "release":
            axes.plot(bar.begins, height, marker="D", color=EMBER, markersize=9, zorder=4)
            axes.annotate(bar.text, (bar.begins, height), (9, 0), textcoords="offset points", va="center", color=INK)
            continue
        axes.barh(height, bar.ends - bar.begins, TALL, bar.begins, hatch=HATCHES[bar.sort], zorder=3, **look)
        _write(axes, bar, height, last)
    axes.set_yticks(range(len(lanes)), lanes[::-1])
    axes.set_ylim(-0.6, len(lanes) - 0.4)
    axes.set_xlim(0, last * 1.02)
    axes.grid(axis="x", color=SOFT_INK, alpha=0.35, linewidth=0.6)
    rate = timing.tick_rate
    above = axes.secondary_xaxis("top", functions=(partial(np.multiply, 1 / rate), partial(np.multiply, rate)))
    above.set_xlabel(f"seconds; a tick is 1/{timing.tick_rate} s", color=INK)
    above.tick_params(colors=SOFT_INK, labelcolor=INK)
    above.spines["top"].set_color(SOFT_INK)
    who = "; +n on a victim's lane: the attacker can attack n ticks before it" if against else ""
    dress(axes, "", f"ticks since the attack began{who}", "")
    return axes


def _write(axes: Axes, bar: Bar, height: int, last: float) -> None:
    """What is written on a bar, or beside it where it is too short."""
    fits = (bar.ends - bar.begins) / last > 0.009 * len(bar.text) + ROOM
    if not fits and bar.lane == "phases":
        return
    colour = PAPER if bar.sort == "hitbox" and fits else INK
    box = None if bar.sort in ("hitbox", "windup", "active", "cooldown") or not fits else {
        "facecolor": PAPER, "edgecolor": "none", "pad": 1.0,
    }  # fmt: skip
    if fits:
        spot, align = ((bar.begins + bar.ends) / 2, height), "center"
    else:
        spot, align = (bar.ends + ROOM * last / 2, height), "left"
    axes.annotate(bar.text, spot, ha=align, va="center", color=colour, fontsize=10, bbox=box, zorder=5)
