"""Lanes of time: what an attack does when, and what a seat was at round an order."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.draw.palette import EMBER, GROUND, INK, PAPER, SOFT_INK, Look
from emberwound.draw.style import dress
from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.vocabulary.events import (
    AttackBegan,
    Died,
    HitStopBegan,
    Interrupted,
    OrderRefused,
    ReactionBegan,
    ReactionEnded,
    Respawned,
)
from emberwound.vocabulary.orders import Order

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from emberwound.chronicle import Chronicle
    from emberwound.study.reaction import Advantage
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
        look: Look = {"facecolor": COLOURS.get(bar.sort, CALM), "edgecolor": INK, "linewidth": 0.8}
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


BEFORE, AFTER = 1.0, 2.0
"""Seconds shown before an order and after it."""

LANE_TALL = 0.6


class Span(NamedTuple):
    """That a seat was at something, from one second to another."""

    lane: str
    name: str
    begins: float
    ends: float


def draw_lanes(chronicle: Chronicle, axes: Axes, seat: str, tick: int) -> None:
    """The lanes of a seat round an order, the order itself, and where it was refused or began."""
    rate = chronicle.header.tick_rate
    at = tick / rate
    first, last = max(at - BEFORE, 0.0), at + AFTER
    spans = [each for each in _spans(chronicle, seat) if each.ends > first and each.begins < last]
    lanes = list(dict.fromkeys(each.lane for each in spans)) or ["attack"]
    for span in spans:
        row = len(lanes) - 1 - lanes.index(span.lane)
        begins, ends = max(span.begins, first), min(span.ends, last)
        sort = {"attack": "active", "cooldown": "cooldown", "reaction": "reaction", "hit stop": "hit stop"}.get(
            span.lane
        )
        axes.barh(row, ends - begins, LANE_TALL, left=begins, color=COLOURS.get(sort or "", "#c9d3d8"), edgecolor=INK,
                  linewidth=0.8, hatch=HATCHES.get(sort or "", "xx"))  # fmt: skip
        axes.text((begins + ends) / 2.0, row, span.name, ha="center", va="center", color=INK, fontsize=9, clip_on=True)
    axes.axvline(at, color=EMBER, linewidth=1.6)
    axes.annotate(f"the order, {at:.3f} s", (at, len(lanes) - 0.45), (4, 0), textcoords="offset points", color=EMBER,
                  fontsize=9, va="bottom")  # fmt: skip
    for event in chronicle.events:
        if event.seat == seat and first <= event.time <= last and isinstance(event, OrderRefused | AttackBegan):
            refused = isinstance(event, OrderRefused)
            axes.plot(event.time, -0.7, marker="X" if refused else "^", color=INK, markersize=9, clip_on=False)
    axes.set_yticks(range(len(lanes)), lanes[::-1])
    axes.set_ylim(-1.0, len(lanes) - 0.2)
    axes.set_xlim(first, last)
    dress(axes, f"{seat} round its order; X an order refused, ▲ an attack begun", "time (s)", "")


def _spans(chronicle: Chronicle, seat: str) -> list[Span]:
    """Everything a seat was at, each with its lane."""
    book, rate = chronicle.rules.book, chronicle.header.tick_rate
    mine = [event for event in chronicle.events if event.seat == seat]
    found: list[Span] = []
    for event in mine:
        if isinstance(event, AttackBegan):
            timeline = AttackTimeline.of(book.attacks[event.attack], book.settings.frame_rate)
            ends = event.time + float(timeline.whole)
            cut = [each.time for each in mine if isinstance(each, Interrupted) and event.time <= each.time <= ends]
            found.append(Span("attack", event.attack, event.time, min([ends, *cut])))
            if timeline.cooldown:
                begins = event.release_tick / rate
                found.append(Span("cooldown", event.attack, begins, begins + float(timeline.cooldown)))
        elif isinstance(event, ReactionBegan):
            over = [each.time for each in mine if isinstance(each, ReactionEnded) and each.time >= event.time]
            found.append(Span("reaction", event.reaction, event.time, min(over, default=event.until_tick / rate)))
        elif isinstance(event, HitStopBegan):
            found.append(Span("hit stop", "", event.time, event.until_tick / rate))
        elif isinstance(event, Died):
            back = [each.time for each in mine if isinstance(each, Respawned) and each.time >= event.time]
            found.append(Span("dead", "dead", event.time, min(back, default=chronicle.seconds)))
    return found + _held(chronicle, seat)


def _held(chronicle: Chronicle, seat: str) -> list[Span]:
    """The guard and postures that a seat was ordered to hold."""
    orders = [
        each for each in chronicle.inputs if isinstance(each, Order) and each.seat == seat and each.hold is not None
    ]
    rate, found = chronicle.header.tick_rate, []
    for index, order in enumerate(orders):
        ends = orders[index + 1].tick if index + 1 < len(orders) else chronicle.end.ticks
        held = [name for name in order.hold or () if name not in chronicle.rules.book.attacks]
        if held:
            found.append(Span("held", ", ".join(held), order.tick / rate, ends / rate))
    return found
