"""Bars: how a host shows the pools of bodies, worked out when asked from what changed last."""

from __future__ import annotations

from itertools import repeat
from math import ceil
from operator import itemgetter
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from emberwound.bout.block import CORPSE, LIVE, TICK
from emberwound.bout.holdings import held_by
from emberwound.combat.easing import left_over
from emberwound.geometry.pose import FRAME_ID, FRAME_LIVE, FRAME_MODEL, FRAME_OWNER, FRAME_START

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from numpy.typing import NDArray

    from emberwound.bout.world import World
    from emberwound.combat.terms import BodyTerms
    from emberwound.plan.plan import BarPlan, FighterPlan

    Reals = NDArray[np.float64]

SPENT = 1e-6
"""A trail of which no more than this share of its loss is left has drained."""


class BarView(msgspec.Struct, frozen=True, gc=False):
    """A bar as a host draws it; shares are from 0 to 1, lengths the arena's.

    `rect` is (left, bottom, width, height) seen from the body's feet, across and up; `at` is the middle of that in the
    arena. `share` is true, `shown` glides after it, `trail` is where the last losses began and drains to it. `pips` are
    how full each pip is shown, `segments` the shares at which it is divided.
    """

    seat: str
    bar: str
    pool: str
    style: str
    value: float
    maximum: float
    share: float
    shown: float
    trail: float
    visible: bool
    rect: tuple[float, float, float, float]
    at: tuple[float, ...]
    text: str
    pips: tuple[float, ...]
    segments: tuple[float, ...]
    colour: str
    pattern: str
    outline: float
    outline_colour: str
    alive: bool


def note(world: World, row: int, bears: BodyTerms, before: Sequence[float], after: Sequence[float]) -> None:
    """Keep how far what each bar of a body shows is from what its pools hold from this tick's end on."""
    block, now, rate = world.block, world.counts[TICK] + 1, world.plan.tick_rate
    for slot, bar in enumerate(world.plan.fighters[int(block.body_marks[FRAME_MODEL, row])].bars):
        old, new = before[bar.pool], after[bar.pool]
        most = bears.pools[bar.pool].maximum
        if old == new or most <= 0.0:
            continue
        gap, since = float(block.bar_gaps[slot, row]), int(block.bar_since[slot, row])
        shown = old / most + gap * left_over((now - since) / rate, bar.down if gap > 0.0 else bar.up)
        block.bar_gaps[slot, row] = shown - new / most
        block.bar_since[slot, row] = now
        if bar.trails:
            _note_trail(world, row, slot, bar, old / most, new / most)


def _note_trail(world: World, row: int, slot: int, bar: BarPlan, old: float, new: float) -> None:
    """A loss lets the trail linger anew from where it is; a gain only covers it."""
    block, now = world.block, world.counts[TICK] + 1
    gap = float(block.trail_gaps[slot, row])
    passed = (now - int(block.trail_since[slot, row])) / world.plan.tick_rate - bar.trail_delay
    left = 1.0 if passed <= 0.0 else left_over(passed, bar.trail_half_life)
    stands = max(old + gap * left - new, 0.0)
    if new < old:
        block.trail_gaps[slot, row], block.trail_since[slot, row] = stands, now
    else:
        block.trail_gaps[slot, row] = stands / left if left > SPENT else 0.0


def views(world: World, more: float) -> list[BarView]:
    """The bars of all bodies, `more` ticks after the state at hand."""
    found: list[tuple[int, int, BarView]] = []
    marks = world.block.body_marks
    standing = (marks[FRAME_LIVE] == LIVE) | (marks[FRAME_LIVE] == CORPSE)
    for fighter in world.plan.fighters:
        rows = (standing & (marks[FRAME_MODEL] == fighter.id)).nonzero()[0] if fighter.bars else marks[0, :0]
        if rows.size:
            found += _of_fighter(world, fighter, rows, world.counts[TICK] + more)
    found.sort(key=itemgetter(0, 1))
    return [view for _, _, view in found]


def _of_fighter(
    world: World, fighter: FighterPlan, rows: NDArray[np.int64], tick: float
) -> Iterator[tuple[int, int, BarView]]:
    """The bars of all bodies of one fighter, each with its body's id and its place in the stack."""
    block = world.block
    held, sizes = held_by(
        fighter, block.body_marks[:, rows], block.pools[:, rows], block.pools_max[:, rows], block.pools_since[:, rows],
        tick, world.plan.tick_rate,
    )  # fmt: skip
    seats = [world.names[owner - 1] for owner in block.body_marks[FRAME_OWNER, rows].tolist()]
    ids, alive = block.body_marks[FRAME_ID, rows].tolist(), (block.body_marks[FRAME_LIVE, rows] == LIVE).tolist()
    places = block.bodies[FRAME_START : FRAME_START + 3, rows]
    for slot, bar in enumerate(fighter.bars):
        value, most = held[bar.pool], sizes[bar.pool]
        share = np.divide(value, most, out=np.zeros_like(value), where=most > 0.0)
        shown, trail = _shown(world, bar, slot, rows, share, tick)
        visible = _visible(world, fighter, bar, slot, rows, share, tick)
        colours, patterns = _looks(bar, share)
        made = map(
            BarView,
            seats, repeat(bar.name), repeat(bar.pool_name), repeat(bar.style), value.tolist(), most.tolist(),
            share.tolist(), shown.tolist(), trail.tolist(), visible.tolist(),
            repeat((-bar.width / 2.0, bar.bottom, bar.width, bar.height)),
            _middles(world.plan.plane.axes, places, bar.bottom + bar.height / 2.0),
            _texts(bar, value, most, share), _pips(bar, shown, most), _segments(bar, most), colours, patterns,
            repeat(bar.outline), repeat(bar.outline_colour), alive,
        )  # fmt: skip
        yield from zip(ids, repeat(slot), made, strict=False)


def _shown(
    world: World, bar: BarPlan, slot: int, rows: NDArray[np.int64], share: Reals, tick: float
) -> tuple[Reals, Reals]:
    """What bars show and where their trails end, after the time since the last change."""
    block, rate = world.block, world.plan.tick_rate
    gap = block.bar_gaps[slot, rows]
    passed = (tick - block.bar_since[slot, rows]) / rate
    shown = np.clip(share + gap * np.where(gap > 0.0, _left(passed, bar.down), _left(passed, bar.up)), 0.0, 1.0)
    if not bar.trails:
        return shown, shown
    drained = (tick - block.trail_since[slot, rows]) / rate - bar.trail_delay
    left = np.where(drained <= 0.0, 1.0, _left(np.maximum(drained, 0.0), bar.trail_half_life))
    return shown, np.clip(np.maximum(share + block.trail_gaps[slot, rows] * left, shown), 0.0, 1.0)


def _left(passed: Reals, half_life: float) -> Reals:
    return np.exp2(-passed / half_life) if half_life > 0.0 else np.zeros_like(passed)


def _visible(
    world: World, fighter: FighterPlan, bar: BarPlan, slot: int, rows: NDArray[np.int64], share: Reals, tick: float
) -> NDArray[np.bool_]:
    """Whether bars are to be drawn, by their rule."""
    if bar.show == "always":
        return np.ones(len(rows), bool)
    if bar.show == "not_full":
        return share < 1.0
    rate, pool = world.plan.tick_rate, fighter.bears.pools[bar.pool]
    last = world.block.bar_since[slot, rows] / rate
    changed = last > 0.0
    if pool.refill:
        since = world.block.pools_since[bar.pool, rows] / rate + pool.delay
        full = since + (pool.maximum - world.block.pools[bar.pool, rows]) / pool.refill
        filling = changed & (full > since) & (tick / rate >= since)
        last = np.where(filling, np.minimum(tick / rate, full), last)
    return np.asarray(changed & (tick / rate - last < bar.show_seconds))


def _middles(axes: tuple[str, ...], places: Reals, rise: float) -> list[tuple[float, ...]]:
    """The middles of bars in the arena: up from the feet, or where there are no heights, along y."""
    columns = [places["xyz".index(axis)] for axis in axes]
    columns[-1] = columns[-1] + rise
    return list(zip(*(column.tolist() for column in columns), strict=True))


def _looks(bar: BarPlan, share: Reals) -> tuple[list[str], list[str]]:
    """The colour and the pattern at each share; on a ramp the colour is between that shade and the next."""
    aboves = np.array([shade[0] for shade in bar.shades])
    numbers = np.maximum(np.searchsorted(aboves, share, side="right") - 1, 0)
    patterns = [shade[4] for shade in bar.shades]
    codes = np.array([shade[1:4] for shade in bar.shades], float)
    if not bar.ramp:
        names = [_code(code) for code in codes.tolist()]
        return [names[number] for number in numbers.tolist()], [patterns[number] for number in numbers.tolist()]
    mixed = np.stack([np.interp(share, aboves, codes[:, part]) for part in range(3)], axis=1)
    return [_code(code) for code in mixed.tolist()], [patterns[number] for number in numbers.tolist()]


def _code(colour: Sequence[float]) -> str:
    red, green, blue = colour
    return f"#{round(red):02x}{round(green):02x}{round(blue):02x}"


def _texts(bar: BarPlan, value: Reals, most: Reals, share: Reals) -> Iterable[str]:
    """What is written on each bar; of pips a row of symbols."""
    if not bar.text and bar.style != "pips":
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
    count = _steps(most, bar.step)
    full = min(_steps(value, bar.step), count)
    return bar.symbols[0] * full + bar.symbols[1] * (count - full)


def _steps(points: float, step: float) -> int:
    """How many steps points are, a part of one counted whole; what rounding adds to a whole number is none."""
    return ceil(round(points / step, 9))


def _pips(bar: BarPlan, shown: Reals, most: Reals) -> Iterable[tuple[float, ...]]:
    """How full each pip of each bar is shown; the last may stand for less than a step."""
    if bar.style != "pips":
        return repeat(())
    counts = [_steps(size, bar.step) for size in most.tolist()]
    begins = bar.step * np.arange(max(counts))
    widths = np.minimum(bar.step, most[:, None] - begins)
    fills = np.divide((shown * most)[:, None] - begins, widths, out=np.zeros_like(widths), where=widths > 0.0)
    rows = np.clip(fills, 0.0, 1.0).tolist()
    return [tuple(row[:count]) for row, count in zip(rows, counts, strict=True)]


def _segments(bar: BarPlan, most: Reals) -> Iterable[tuple[float, ...]]:
    if bar.segment is None or bar.style == "pips":
        return repeat(())
    size = bar.segment
    sizes: list[float] = most.tolist()
    known = {each: tuple(number * size / each for number in range(1, _steps(each, size))) for each in set(sizes)}
    return [known[each] for each in sizes]
