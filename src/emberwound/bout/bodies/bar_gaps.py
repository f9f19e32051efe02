"""How far what bars show is from what pools hold, kept at each change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.state.layout import Count
from emberwound.combat.easing import left_over
from emberwound.geometry.layout import BodyMark

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.state.world import World
    from emberwound.combat.terms import BodyStats
    from emberwound.plan.fighter_plans import BarPlan

SPENT = 1e-6
"""A trail has drained when no more than this share of its loss is left."""


def note(world: World, body: int, stats: BodyStats, before: Sequence[float], after: Sequence[float]) -> None:
    """Keep how far what each bar of a body shows is from what its pools hold from this tick's end on."""
    block, now, rate = world.block, world.counts[Count.TICK] + 1, world.plan.tick_rate
    for slot, bar in enumerate(world.plan.fighters[int(block.body_marks[BodyMark.MODEL, body])].bars):
        if bar.pool < 0:
            continue
        old, new = before[bar.pool], after[bar.pool]
        most = stats.pools[bar.pool].maximum
        if old == new or most <= 0.0:
            continue
        gap, since = float(block.bar_gaps[slot, body]), int(block.bar_since[slot, body])
        shown = old / most + gap * left_over((now - since) / rate, bar.down if gap > 0.0 else bar.up)
        block.bar_gaps[slot, body] = shown - new / most
        block.bar_since[slot, body] = now
        if bar.trails:
            _note_trail(world, body, slot, bar, old / most, new / most)


def _note_trail(world: World, body: int, slot: int, bar: BarPlan, old: float, new: float) -> None:
    """A loss starts the lingering of the trail again from where it is; a gain only covers it."""
    block, now = world.block, world.counts[Count.TICK] + 1
    gap = float(block.trail_gaps[slot, body])
    passed = (now - int(block.trail_since[slot, body])) / world.plan.tick_rate - bar.trail_delay
    left = 1.0 if passed <= 0.0 else left_over(passed, bar.trail_half_life)
    stands = max(old + gap * left - new, 0.0)
    if new < old:
        block.trail_gaps[slot, body], block.trail_since[slot, body] = stands, now
    else:
        block.trail_gaps[slot, body] = stands / left if left > SPENT else 0.0
