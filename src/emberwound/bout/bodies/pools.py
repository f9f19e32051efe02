"""The pools of bodies: what they hold, of one and of many, changing it, how far bars lag behind, and stages."""

from __future__ import annotations

from dataclasses import replace
from math import ceil
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.bodies import movement
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatColumn, mark_of
from emberwound.bout.state.queries import local_tick
from emberwound.combat.pools import all_refilled, left_over, refilled, resized, seconds_until
from emberwound.geometry.layout import BodyMark, Presence
from emberwound.vocabulary.events import PoolEmptied, StageBegan, Wounded
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World, WorldState
    from emberwound.combat.terms import BodyStats, PoolTerms
    from emberwound.plan.fighter_plans import BarPlan, FighterPlan

    Reals = NDArray[np.float64]


def stats_of(world: WorldState, body: int, fighter: FighterPlan | None = None) -> BodyStats:
    """The stats of a body, its pools as large as they are in this life; give its `fighter` where it is known."""
    block = world.block
    stats = (fighter or world.plan.fighters[int(block.body_marks[BodyMark.MODEL, body])]).stats
    if not block.body_marks[BodyMark.RESIZED, body]:
        return stats
    sizes = block.pools_max[: len(stats.pools), body].tolist()
    sized = tuple(replace(pool, maximum=size) for pool, size in zip(stats.pools, sizes, strict=True))
    return replace(stats, pools=sized)


def resize(world: World, body: int, index: int, maximum: float) -> None:
    """Change the maximum of a body's pool for this life; its value keeps its share of it."""
    block = world.block
    stats, before = stats_of(world, body), values(world, body)
    after = [*before]
    after[index] = resized(before[index], stats.pools[index].maximum, maximum)
    sizes = [pool.maximum for pool in stats.pools]
    sizes[index] = maximum
    block.pools_max[: len(sizes), body] = sizes
    block.body_marks[BodyMark.RESIZED, body] = 1
    _write(world, body, before, after, stats_of(world, body))


def fill(world: World, body: int, index: int, value: float) -> None:
    """Set what a body's pool holds, at once."""
    before = values(world, body)
    after = [*before]
    after[index] = value
    spend(world, body, before, after)


def values(world: WorldState, body: int, more: float = 0.0) -> list[float]:
    """What each pool of a body holds, `more` ticks after the start of this one: refilled since it last lost points."""
    block, stats = world.block, stats_of(world, body)
    tick = max(world.counts[Count.TICK] + more, int(block.body_marks[BodyMark.FROZEN_UNTIL, body]))
    dead = block.body_marks[BodyMark.PRESENCE, body] == Presence.CORPSE
    found, since = block.pools[:, body].tolist(), block.pools_since[:, body].tolist()
    return refilled_to(stats, found, since, tick, world.plan.tick_rate, dead=dead)


def refilled_to(
    stats: BodyStats, found: list[float], since: list[int], tick: float, rate: int, *, dead: bool
) -> list[float]:
    """What the pools of a body hold at a tick of its own clock, by what the block holds of it: values and ticks."""
    if not stats.refills:
        return found[: len(stats.pools)]
    return [
        refilled(pool, value, (tick - last) / rate, dead=dead)
        for pool, value, last in zip(stats.pools, found, since, strict=False)
    ]


def held_by_many(
    fighter: FighterPlan,
    marks: NDArray[np.int64],
    pools: Reals,
    maxima: Reals,
    since: NDArray[np.int64],
    ticks: NDArray[np.int64] | Reals,
    rate: int,
) -> tuple[Reals, Reals]:
    """The same for n bodies of a fighter, and the sizes of their pools: (pools of the fighter, n) each.

    `marks`, `pools`, `maxima` and `since` are their columns, as in the block; `ticks` (n,) are those of the bout.
    """
    terms = fighter.stats.pools
    held, since = pools[: len(terms)].copy(), since[: len(terms)]
    sizes = np.array([pool.maximum for pool in terms])[:, None].repeat(held.shape[1], axis=1)
    resized = marks[BodyMark.RESIZED] != 0
    sizes[:, resized] = maxima[: len(terms), resized]
    if fighter.stats.refills:
        own, dead = np.maximum(ticks, marks[BodyMark.FROZEN_UNTIL]), marks[BodyMark.PRESENCE] == Presence.CORPSE
        for index, pool in enumerate(terms):
            if pool.refill:
                passed = (own - since[index]) / rate
                held[index] = all_refilled(pool, held[index], sizes[index], passed, dead)
    return held, sizes


def stop_refilling(world: World, body: int) -> None:
    """Let the pools of a body that dies hold from now on what they hold at this moment."""
    held = values(world, body)
    world.block.pools[: len(held), body] = held


def spend(
    world: World, body: int, before: Sequence[float], after: Sequence[float], stats: BodyStats | None = None
) -> list[str]:
    """Write what the pools of a body hold after a change from `before`; the names of those that it emptied.

    What lost points refills after its delay, counted from now; what gained goes on refilling.
    """
    if before == after:
        return []
    stats = stats or stats_of(world, body)
    if world.plan.most_bars:
        note(world, body, stats, before, after)
    return _write(world, body, before, after, stats)


def _write(world: World, body: int, before: Sequence[float], after: Sequence[float], stats: BodyStats) -> list[str]:
    block, tick = world.block, local_tick(world, body)
    emptied = []
    for index, (old, new) in enumerate(zip(before, after, strict=True)):
        if old == new:
            continue
        pool = stats.pools[index]
        block.pools[index, body] = new
        if pool.refill:
            block.pools_since[index, body] = refills_from(pool, tick, world.plan.tick_rate, lost=new < old)
        if new == 0.0 and index != stats.vital:
            emptied.append(pool.name)
    return emptied


def refills_from(pool: PoolTerms, tick: int, tick_rate: int, *, lost: bool) -> int:
    """The tick from which a pool that changes on `tick` counts its delay: what gained points has waited already."""
    return tick if lost else tick - ceil(pool.delay * tick_rate)


def emit_emptied(world: World, seat: str, names: Sequence[str], cause: int, time: float = TICK_START) -> None:
    """Say which pools of a seat came to zero."""
    for name in names:
        world.emit(PoolEmptied(time=time, seat=seat, cause=cause, pool=name))


def tick_of(world: World, body: int, index: int, wanted: float) -> int | None:
    """The tick on which a pool of a body will hold `wanted` points if nothing changes; None for never."""
    block = world.block
    pool = stats_of(world, body).pools[index]
    wait = seconds_until(pool, float(block.pools[index, body]), wanted)
    if wait is None:
        return None
    return max(
        int(block.pools_since[index, body]) + ceil(wait * world.plan.tick_rate - 1e-9), world.counts[Count.TICK] + 1
    )


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
        if bar.table.trail is not None:
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


def begin_stages(world: World) -> None:
    """Begin the stages that the pools of living bodies have come to: of several the last one."""
    marks = world.block.body_marks
    for body in (marks[BodyMark.PRESENCE] == Presence.LIVE).nonzero()[0].tolist():
        stages = queries.fighter_of(world, body).stages
        index = int(marks[BodyMark.STAGE, body])
        if index == len(stages):
            continue
        held, sizes = values(world, body), stats_of(world, body).pools
        reached = [
            later for later in range(index, len(stages))
            if held[stages[later].pool] < stages[later].table.below * sizes[stages[later].pool].maximum
        ]  # fmt: skip
        if reached:
            _begin(world, body, reached[-1])


def _begin(world: World, body: int, index: int) -> None:
    seat = world.name_of_body(body)
    world.block.body_marks[BodyMark.STAGE, body] = mark_of(index)
    movement.set_pace(world, body)
    wounds = [each for each in world.events if isinstance(each, Wounded) and each.seat == seat]
    stage = queries.fighter_of(world, body).stages[index]
    world.emit(
        StageBegan(
            time=wounds[-1].time if wounds else TICK_START,
            seat=seat,
            by=wounds[-1].by if wounds else None,
            cause=wounds[-1].seq if wounds else None,
            stage=stage.name,
        )
    )


def damage_dealt(world: World, seat: int) -> tuple[tuple[float, str], ...]:
    """The factors on the damage that a seat deals: its own, and that of the stage its body is in."""
    own = float(world.block.seats[SeatColumn.DAMAGE_DEALT, seat])
    found: tuple[tuple[float, str], ...] = () if own == 1.0 else ((own, f"{world.names[seat]} deals × {own:g}"),)
    body = queries.body_of(world, seat)
    stage = None if body is None else queries.stage_of(world, body)
    if stage is not None and stage.table.damage_dealt != 1.0:
        found += ((stage.table.damage_dealt, f"in stage {stage.name} × {stage.table.damage_dealt:g}"),)
    return found
