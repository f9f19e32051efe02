"""Bars: how a host shows the pools of bodies, worked out when asked from what changed last."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.block import TICK
from emberwound.combat.easing import left_over
from emberwound.geometry.pose import FRAME_MODEL

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.world import World
    from emberwound.combat.terms import BodyTerms
    from emberwound.plan.fighter_plans import BarPlan

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
