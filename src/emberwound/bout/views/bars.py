"""Bars: how a host shows the pools of bodies, of one and of many, worked out from what changed last."""

from __future__ import annotations

from dataclasses import dataclass, fields
from itertools import chain, repeat
from math import ceil
from typing import TYPE_CHECKING, Literal

import msgspec
import numpy as np

from emberwound.bout.bodies.pools import held_by_many
from emberwound.bout.state.layout import Count, Limit, SeatMark, index_of_mark, mark_of
from emberwound.combat.pools import all_seconds_until_full
from emberwound.geometry.layout import BodyColumn, BodyMark, Presence

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.world import WorldState
    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import BarPlan, FighterPlan

    Reals = NDArray[np.float64]
    Wholes = NDArray[np.int64]


LOST, PAPER = "#6d7780", "#fbfaf6"
"""The colours of what was lost of late, and of the lines between segments."""

FULL = 0.86
"""The share of its room that a pip fills."""


class BarShape(msgspec.Struct, frozen=True, kw_only=True, gc=False):
    """A part of a bar as it is to be painted, in its order: whoever paints needs to know of no style.

    A "rect" is filled from its left, an "arc" is a ring in the middle of its rectangle, filled from the top with the
    clock, both up to `share`; a "text" is written in the middle.
    """

    sort: Literal["rect", "arc", "text"]
    """What it is."""
    rect: tuple[float, float, float, float]
    """(left, bottom, width, height) seen from the body's feet, across and up."""
    colour: str
    """Colour of what is filled or written, as "#rrggbb"."""
    share: float = 1.0
    """How far it is filled, from 0 to 1."""
    pattern: str = "solid"
    """Pattern of what is filled."""
    opacity: float = 1.0
    """How strong its colour is, from 0 to 1."""
    outline: str = ""
    """Colour of the line round all of it; "" is none."""
    text: str = ""
    """What is written."""


class BarView(msgspec.Struct, frozen=True, gc=False):
    """A bar as a host draws it; shares are from 0 to 1, lengths the arena's.

    `rect` is (left, bottom, width, height) seen from the body's feet, across and up; `at` is the middle of that in the
    arena. `share` is true, `shown` glides after it, `trail` is where the last losses began and drains to it. `pips` are
    how full each pip is shown, `segments` the shares at which it is divided.
    """

    seat: str
    """Whose bar."""
    bar: str
    """Which bar of the book."""
    pool: str
    """Pool that it shows; "" of one that shows lives, a cooldown or a charge."""
    style: str
    """"bar", "pips", "number" or "ring"."""
    value: float
    """Points in the pool, lives left, or the share of a cooldown or a charge."""
    maximum: float
    """The most of that."""
    share: float
    """True share, from 0 to 1."""
    shown: float
    """Share to be shown, which eases towards the true one."""
    trail: float
    """Share from which the last losses drain."""
    visible: bool
    """Whether it is to be shown."""
    rect: tuple[float, float, float, float]
    """(left, bottom, width, height) seen from the body's feet, across and up."""
    at: tuple[float, ...]
    """Middle of the rectangle in the arena."""
    text: str
    """What it says."""
    pips: tuple[float, ...]
    """How full each pip is shown, from 0 to 1."""
    segments: tuple[float, ...]
    """Shares at which it is divided."""
    colour: str
    """Colour as "#rrggbb"."""
    pattern: str
    """Pattern of its shade."""
    outline: float
    """Width of its outline."""
    outline_colour: str
    """Colour of its outline, as "#rrggbb"."""
    alive: bool
    """Whether its body lives."""

    @property
    def shapes(self) -> tuple[BarShape, ...]:
        """What is painted of it, in order: rectangles, arcs and text; nothing while it is not to be shown."""
        return STYLES[self.style](self) if self.visible else ()


def _strip(bar: BarView) -> tuple[BarShape, ...]:
    left, bottom, width, height = bar.rect
    line = 0.15 * height
    lines = [(left + share * width - line / 2.0, bottom, line, height) for share in bar.segments]
    return (
        BarShape(sort="rect", rect=bar.rect, colour=LOST, share=bar.trail, opacity=0.45),
        BarShape(sort="rect", rect=bar.rect, colour=bar.colour, share=bar.shown, pattern=bar.pattern),
        *(BarShape(sort="rect", rect=each, colour=PAPER) for each in lines),
        BarShape(sort="rect", rect=bar.rect, colour=bar.colour, share=0.0, outline=bar.outline_colour),
    )


def _row_of_pips(bar: BarView) -> tuple[BarShape, ...]:
    left, bottom, width, height = bar.rect
    room = width / max(len(bar.pips), 1)
    return tuple(
        BarShape(
            sort="rect", rect=(left + index * room, bottom, FULL * room, height), colour=bar.colour, share=share,
            pattern=bar.pattern, outline=bar.outline_colour,
        )
        for index, share in enumerate(bar.pips)
    )  # fmt: skip


def _figure(bar: BarView) -> tuple[BarShape, ...]:
    return (BarShape(sort="text", rect=bar.rect, colour=bar.colour, text=bar.text),)


def _ring(bar: BarView) -> tuple[BarShape, ...]:
    return (
        BarShape(
            sort="arc", rect=bar.rect, colour=bar.colour, share=bar.shown, pattern=bar.pattern,
            outline=bar.outline_colour,
        ),
    )  # fmt: skip


STYLES = {"bar": _strip, "pips": _row_of_pips, "number": _figure, "ring": _ring}
"""What is painted of a bar of each style."""


ROUNDING = 1e-9
"""What a number of steps may be off a whole one, as a share of it."""


@dataclass(frozen=True, slots=True, eq=False)
class BarColumns:
    """All that bars are worked out from, copied: n bodies, each as it was at a tick; arrays are (n,) or (rows, n)."""

    seats: NDArray[np.object_]
    ticks: Reals
    marks: Wholes
    places: Reals
    pools: Reals
    maxima: Reals
    since: Wholes
    gaps: Reals
    changed: Wholes
    trail_gaps: Reals
    trail_since: Wholes
    ready: Wholes
    lives: Wholes

    def of(self, which: NDArray[np.bool_]) -> BarColumns:
        """Some of the bodies."""
        return BarColumns(*(getattr(self, field.name)[..., which] for field in fields(self)))

    @staticmethod
    def join(parts: Sequence[BarColumns]) -> BarColumns:
        """The bodies of all parts in a row."""
        return BarColumns(
            *(np.concatenate([getattr(part, field.name) for part in parts], axis=-1) for field in fields(BarColumns))
        )


def bar_views(world: WorldState, more: float) -> list[BarView]:
    """The bars of all bodies, `more` ticks after the state at hand."""
    return list(chain.from_iterable(worked_out(world.plan, columns(world, more))))


def columns(world: WorldState, more: float = 0.0, seat: str | None = None) -> BarColumns:
    """Copies of all bodies that have bars, or of one seat's, in the order in which they came."""
    block, marks = world.block, world.block.body_marks
    shows = (marks[BodyMark.PRESENCE] == Presence.LIVE) | (marks[BodyMark.PRESENCE] == Presence.CORPSE)
    if seat is not None:
        shows &= marks[BodyMark.OWNER] == world.names.index_of(seat) + 1 if seat in world.names else False
    bodies = shows.nonzero()[0]
    bodies = bodies[np.argsort(marks[BodyMark.ID, bodies])]
    owners = index_of_mark(marks[BodyMark.OWNER, bodies])
    return BarColumns(
        seats=np.array(world.names, object)[owners],
        ticks=np.full(len(bodies), world.counts[Count.TICK] + more),
        marks=marks[:, bodies],
        places=block.bodies[BodyColumn.START : BodyColumn.START + 3, bodies],
        pools=block.pools[:, bodies],
        maxima=block.pools_max[:, bodies],
        since=block.pools_since[:, bodies],
        gaps=block.bar_gaps[:, bodies],
        changed=block.bar_since[:, bodies],
        trail_gaps=block.trail_gaps[:, bodies],
        trail_since=block.trail_since[:, bodies],
        ready=block.ready[:, bodies],
        lives=block.seat_marks[[SeatMark.LIVES, SeatMark.LIVES_AT_ENTRY]][:, owners],
    )


def worked_out(plan: Plan, bodies: BarColumns) -> list[tuple[BarView, ...]]:
    """The bars of each body, the lowest first."""
    found: list[tuple[BarView, ...]] = [()] * len(bodies.seats)
    for fighter in plan.fighters:
        of = bodies.marks[BodyMark.MODEL] == fighter.id
        if fighter.bars and of.any():
            stacks = zip(*_of_fighter(plan, fighter, bodies if of.all() else bodies.of(of)), strict=True)
            for column, stack in zip(of.nonzero()[0].tolist(), stacks, strict=True):
                found[column] = stack
    return found


def _of_fighter(plan: Plan, fighter: FighterPlan, bodies: BarColumns) -> Iterator[Iterator[BarView]]:
    """For each bar of a fighter that of all its bodies."""
    held, sizes = held_by_many(
        fighter, bodies.marks, bodies.pools, bodies.maxima, bodies.since, bodies.ticks, plan.tick_rate
    )
    seats, alive = bodies.seats.tolist(), (bodies.marks[BodyMark.PRESENCE] == Presence.LIVE).tolist()
    for slot, bar in enumerate(fighter.bars):
        value, most = (held[bar.pool], sizes[bar.pool]) if bar.pool >= 0 else _of_attack_or_lives(fighter, bar, bodies)
        share = np.divide(value, most, out=np.zeros_like(value), where=most > 0.0)
        shown, trail = _shown(plan.tick_rate, bar, slot, bodies, share) if bar.pool >= 0 else (share, share)
        visible = _visible(plan.tick_rate, fighter, bar, slot, bodies, share)
        colours, patterns = _looks(bar, share)
        yield map(
            BarView,
            seats, repeat(bar.name), repeat(bar.pool_name), repeat(bar.table.style), value.tolist(), most.tolist(),
            share.tolist(), shown.tolist(), trail.tolist(), visible.tolist(),
            repeat((-bar.width / 2.0, bar.bottom, bar.width, bar.height)),
            _middles(plan.space.axes, bodies.places, bar.bottom + bar.height / 2.0),
            _texts(bar, value, most, share), _pips(bar, shown, most), _segments(bar, most), colours, patterns,
            repeat(bar.outline), repeat(bar.outline_colour), alive,
        )  # fmt: skip


def _of_attack_or_lives(fighter: FighterPlan, bar: BarPlan, bodies: BarColumns) -> tuple[Reals, Reals]:
    """What a bar shows that shows no pool, and the most of it: lives, or shares of a cooldown or a charge."""
    if bar.table.shows == "lives":
        left, most = np.where(bodies.lives >= Limit.ENDLESS_LIVES, 1, bodies.lives).astype(float)
        most = np.maximum(most, left)
        room = bar.most_parts * bar.table.step if bar.table.style == "pips" else np.inf
        return np.minimum(left, room), np.minimum(most, room)
    attack, one = fighter.attacks[bar.slot], np.ones(len(bodies.ticks))
    if bar.table.shows == "cooldown":
        waits = np.maximum(bodies.ready[bar.slot] - bodies.ticks, 0.0)
        whole = max(attack.cooldown_ticks, 1)
        return np.clip(1.0 - waits / whole, 0.0, 1.0), one
    since = bodies.marks[BodyMark.CHARGING_SINCE]
    is_it = (since > 0) & (bodies.marks[BodyMark.ATTACK] == mark_of(bar.slot))
    ticks = attack.charge.ticks if attack.charge else 1.0
    return np.where(is_it, np.clip((bodies.ticks - since + 1.0) / ticks, 0.0, 1.0), 0.0), one


def _shown(rate: int, bar: BarPlan, slot: int, bodies: BarColumns, share: Reals) -> tuple[Reals, Reals]:
    """What bars show and where their trails end, after the time since the last change."""
    gap = bodies.gaps[slot]
    passed = (bodies.ticks - bodies.changed[slot]) / rate
    shown = np.clip(share + gap * np.where(gap > 0.0, _left(passed, bar.down), _left(passed, bar.up)), 0.0, 1.0)
    if bar.table.trail is None:
        return shown, shown
    drained = (bodies.ticks - bodies.trail_since[slot]) / rate - bar.trail_delay
    left = np.where(drained <= 0.0, 1.0, _left(np.maximum(drained, 0.0), bar.trail_half_life))
    return shown, np.clip(np.maximum(share + bodies.trail_gaps[slot] * left, shown), 0.0, 1.0)


def _left(passed: Reals, half_life: float) -> Reals:
    return np.exp2(-passed / half_life) if half_life > 0.0 else np.zeros_like(passed)


def _visible(
    rate: int, fighter: FighterPlan, bar: BarPlan, slot: int, bodies: BarColumns, share: Reals
) -> NDArray[np.bool_]:
    """Whether bars are to be drawn, by their rule."""
    if bar.table.show == "always":
        return np.ones(len(share), bool)
    if bar.table.show == "not_full":
        return share < 1.0
    pool, now = fighter.stats.pools[bar.pool], bodies.ticks / rate
    last = bodies.changed[slot] / rate
    changed = last > 0.0
    if pool.refill:
        lost = bodies.since[bar.pool] / rate
        since, full = lost + pool.delay, lost + all_seconds_until_full(pool, bodies.pools[bar.pool])
        filling = changed & (full > since) & (now >= since)
        last = np.where(filling, np.minimum(now, full), last)
    return np.asarray(changed & (now - last < bar.show_seconds))


def _middles(axes: tuple[str, ...], places: Reals, rise: float) -> list[tuple[float, ...]]:
    """The middles of bars in the arena: up from the feet, or where there are no heights, along y."""
    columns = [places["xyz".index(axis)] for axis in axes]
    columns[-1] = columns[-1] + rise
    return list(zip(*(column.tolist() for column in columns), strict=True))


def _looks(bar: BarPlan, share: Reals) -> tuple[list[str], list[str]]:
    """The colour and the pattern at each share; on a ramp the colour is between that shade and the next."""
    aboves = np.array([shade[0] for shade in bar.shades])
    steps = np.maximum(np.searchsorted(aboves, share, side="right") - 1, 0)
    patterns = [shade[4] for shade in bar.shades]
    codes = np.array([shade[1:4] for shade in bar.shades], float)
    if not bar.table.ramp:
        names = [_code(code) for code in codes.tolist()]
        return [names[index] for index in steps.tolist()], [patterns[index] for index in steps.tolist()]
    mixed = np.stack([np.interp(share, aboves, codes[:, part]) for part in range(3)], axis=1)
    return [_code(code) for code in mixed.tolist()], [patterns[index] for index in steps.tolist()]


def _code(colour: Sequence[float]) -> str:
    red, green, blue = colour
    return f"#{round(red):02x}{round(green):02x}{round(blue):02x}"


def _texts(bar: BarPlan, value: Reals, most: Reals, share: Reals) -> Iterable[str]:
    """What is written on each bar; of pips a row of symbols."""
    if not bar.text and bar.table.style != "pips":
        return repeat("")
    known: dict[tuple[float, float], str] = {}
    texts = []
    for points, size, part in zip(value.tolist(), most.tolist(), share.tolist(), strict=True):
        if (points, size) not in known:
            known[points, size] = _text(bar, points, size, part)
        texts.append(known[points, size])
    return texts


def _text(bar: BarPlan, value: float, most: float, share: float) -> str:
    if bar.text:
        return bar.text.format(value=value, max=most, share=share)
    count = _steps(most, bar.table.step)
    full = min(_steps(value, bar.table.step), count)
    return bar.table.symbols[0] * full + bar.table.symbols[1] * (count - full)


def _steps(points: float, step: float) -> int:
    """How many steps points are, a part of one counted whole; what rounding adds to a whole number is none."""
    whole = round(points / step)
    return whole if whole and abs(points / step - whole) <= ROUNDING * whole else ceil(points / step)


def _pips(bar: BarPlan, shown: Reals, most: Reals) -> Iterable[tuple[float, ...]]:
    """How full each pip of each bar is shown; the last may stand for less than a step."""
    if bar.table.style != "pips":
        return repeat(())
    sizes: list[float] = most.tolist()
    counts = {size: _steps(size, bar.table.step) for size in set(sizes)}
    begins = bar.table.step * np.arange(max(counts.values()))
    widths = np.minimum(bar.table.step, most[:, None] - begins)
    fills = np.divide((shown * most)[:, None] - begins, widths, out=np.zeros_like(widths), where=widths > 0.0)
    rows = np.clip(fills, 0.0, 1.0).tolist()
    if len(counts) == 1:
        return map(tuple, rows)
    return [tuple(row[: counts[size]]) for row, size in zip(rows, sizes, strict=True)]


def _segments(bar: BarPlan, most: Reals) -> Iterable[tuple[float, ...]]:
    if bar.table.segment is None or bar.table.style == "pips":
        return repeat(())
    size = bar.table.segment
    sizes: list[float] = most.tolist()
    known = {each: tuple(index * size / each for index in range(1, _steps(each, size))) for each in set(sizes)}
    return [known[each] for each in sizes]
