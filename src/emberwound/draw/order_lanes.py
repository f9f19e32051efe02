"""What a seat was at round an order: lanes of its attack, its cooldown, its reactions, its hit stop and its death."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.draw.palette import EMBER, INK
from emberwound.draw.style import dress
from emberwound.draw.timeline import COLOURS, HATCHES
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
    from matplotlib.axes import Axes

    from emberwound.chronicle import Chronicle

BEFORE, AFTER = 1.0, 2.0
"""Seconds shown before an order and after it."""

TALL = 0.6


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
        axes.barh(row, ends - begins, TALL, left=begins, color=COLOURS.get(sort or "", "#c9d3d8"), edgecolor=INK,
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
    """The guard and postures that a seat was told to hold."""
    orders = [
        each for each in chronicle.inputs if isinstance(each, Order) and each.seat == seat and each.hold is not None
    ]
    rate, found = chronicle.header.tick_rate, []
    for number, order in enumerate(orders):
        ends = orders[number + 1].tick if number + 1 < len(orders) else chronicle.end.ticks
        held = [name for name in order.hold or () if name not in chronicle.rules.book.attacks]
        if held:
            found.append(Span("held", ", ".join(held), order.tick / rate, ends / rate))
    return found
