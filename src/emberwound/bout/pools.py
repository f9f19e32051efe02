"""The pools of bodies: what they hold now, and changing it."""

from __future__ import annotations

from dataclasses import replace
from math import ceil
from typing import TYPE_CHECKING

from emberwound.bout import bars
from emberwound.bout.block import BODY_RESIZED, CORPSE, TICK
from emberwound.bout.freezes import local_tick
from emberwound.combat.pools import refilled, resized, seconds_until
from emberwound.geometry.pose import FRAME_LIVE, FRAME_MODEL
from emberwound.vocabulary.events import Emptied

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.world import World
    from emberwound.combat.terms import BodyTerms
    from emberwound.plan.fighter_plans import FighterPlan


def bears_of(world: World, row: int, fighter: FighterPlan | None = None) -> BodyTerms:
    """What a body bears, its pools as large as they are in this life; `fighter` is its, where that is known already."""
    block = world.block
    bears = (fighter or world.plan.fighters[int(block.body_marks[FRAME_MODEL, row])]).bears
    if not block.body_marks[BODY_RESIZED, row]:
        return bears
    sizes = block.pools_max[: len(bears.pools), row].tolist()
    sized = tuple(replace(pool, maximum=size) for pool, size in zip(bears.pools, sizes, strict=True))
    return replace(bears, pools=sized)


def resize(world: World, row: int, index: int, maximum: float) -> None:
    """Change the maximum of a body's pool for this life; its value keeps its share of it."""
    block = world.block
    bears, before = bears_of(world, row), values(world, row)
    after = [*before]
    after[index] = resized(before[index], bears.pools[index].maximum, maximum)
    sizes = [pool.maximum for pool in bears.pools]
    sizes[index] = maximum
    block.pools_max[: len(sizes), row] = sizes
    block.body_marks[BODY_RESIZED, row] = 1
    _write(world, row, before, after, bears_of(world, row))


def values(world: World, row: int, bears: BodyTerms | None = None) -> list[float]:
    """What each pool of a body holds at the start of this tick, refilled since it last lost points.

    `bears` is what it bears, where that is known already.
    """
    block, tick = world.block, local_tick(world, row)
    bears = bears or bears_of(world, row)
    count = len(bears.pools)
    found: list[float] = block.pools[:count, row].tolist()
    if not bears.refills:
        return found
    dead = block.body_marks[FRAME_LIVE, row] == CORPSE
    since, rate = block.pools_since[:count, row].tolist(), world.plan.tick_rate
    return [
        refilled(pool, value, (tick - last) / rate, dead=dead)
        for pool, value, last in zip(bears.pools, found, since, strict=True)
    ]


def spend(
    world: World, row: int, before: Sequence[float], after: Sequence[float], bears: BodyTerms | None = None
) -> list[str]:
    """Write what the pools of a body hold after a change from `before`; the names of those that it emptied.

    What lost points refills after its delay, counted from now; what gained goes on refilling.
    """
    if before == after:
        return []
    bears = bears or bears_of(world, row)
    if world.plan.most_bars:
        bars.note(world, row, bears, before, after)
    return _write(world, row, before, after, bears)


def _write(world: World, row: int, before: Sequence[float], after: Sequence[float], bears: BodyTerms) -> list[str]:
    block, tick = world.block, local_tick(world, row)
    emptied = []
    for index, (old, new) in enumerate(zip(before, after, strict=True)):
        if old == new:
            continue
        pool = bears.pools[index]
        block.pools[index, row] = new
        if pool.refill:
            block.pools_since[index, row] = tick if new < old else tick - ceil(pool.delay * world.plan.tick_rate)
        if new == 0.0 and index != bears.vital:
            emptied.append(pool.name)
    return emptied


def tell_emptied(world: World, seat: str, names: Sequence[str], cause: int, time: float | None = None) -> None:
    """Say which pools of a seat came to zero."""
    for name in names:
        world.emit(Emptied, time=time, seat=seat, cause=cause, pool=name)


def tick_of(world: World, row: int, index: int, wanted: float) -> int | None:
    """The tick on which a pool of a body will hold `wanted` points if nothing changes; None for never."""
    block = world.block
    pool = bears_of(world, row).pools[index]
    wait = seconds_until(pool, float(block.pools[index, row]), wanted)
    if wait is None:
        return None
    return max(int(block.pools_since[index, row]) + ceil(wait * world.plan.tick_rate - 1e-9), world.counts[TICK] + 1)
