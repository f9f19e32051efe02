"""Checkpoints and pickups: what comes of touching one."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.bodies import pools
from emberwound.bout.lives import counters
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Limit, SeatMark, mark_of, number_of
from emberwound.vocabulary.events import CheckpointReached, PickedUp

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.arena_plans import CheckpointPlan, PickupPlan


def settle(world: World) -> None:
    """Let those who touched a checkpoint or a pickup in this tick have it, in the order of their touches.

    The dead get nothing, and of a pickup only the first gets anything.
    """
    checkpoints = world.plan.checkpoints
    for place, seat, body, time in world.reached:
        if queries.body_of(world, seat) != body:
            continue
        if place < len(checkpoints):
            _reach(world, seat, body, place, time)
        else:
            _take(world, seat, body, place - len(checkpoints), time)
    world.reached.clear()


def _reach(world: World, seat: int, body: int, number: int, time: float) -> None:
    block, plan = world.block, world.plan
    checkpoint = plan.checkpoints[number]
    area = block.first_checkpoint + number
    seats = _sharing(world, seat) if checkpoint.whole_team else [seat]
    for each in seats:
        block.again[area, each] = inf
        if plan.latest_checkpoint:
            others = slice(block.first_checkpoint, block.first_pickup)
            ready = world.counts[Count.TICK] + 1.0 + plan.tick_rate
            block.again[others, each] = np.minimum(block.again[others, each], ready)
            block.again[area, each] = inf
    if not _is_further(world, seat, checkpoint):
        return
    for each in seats:
        if each == seat or _is_further(world, each, checkpoint):
            block.seat_marks[SeatMark.CHECKPOINT, each] = mark_of(number)
    _fill(world, body, dict.fromkeys(checkpoint.refill, inf))
    world.emit(
        CheckpointReached(
            time=time,
            seat=world.names[seat],
            checkpoint=checkpoint.name,
            order=checkpoint.order,
            whole_team=checkpoint.whole_team,
        )
    )


def _is_further(world: World, seat: int, checkpoint: CheckpointPlan) -> bool:
    """Whether a seat does not yet respawn at this checkpoint or a better one."""
    now = number_of(int(world.block.seat_marks[SeatMark.CHECKPOINT, seat]))
    if now < 0:
        return True
    held = world.plan.checkpoints[now]
    return held is not checkpoint and (world.plan.latest_checkpoint or checkpoint.order > held.order)


def _sharing(world: World, seat: int) -> list[int]:
    marks = world.block.seat_marks[:, : world.counts[Count.SEATS]]
    shared = (marks[SeatMark.TEAM] == marks[SeatMark.TEAM, seat]) & (marks[SeatMark.ELIMINATED] == 0)
    found: list[int] = shared.nonzero()[0].tolist()
    return found


def _take(world: World, seat: int, body: int, number: int, time: float) -> None:
    block, pickup = world.block, world.plan.pickups[number]
    now = world.counts[Count.TICK]
    if block.taken[number] > now or not _is_of_use(world, seat, body, pickup):
        return
    if not pickup.leaves:
        block.taken[number] = inf if pickup.return_ticks is None else now + 1.0 + pickup.return_ticks
        block.again[block.first_pickup + number] = block.taken[number]
    _give_lives(world, seat, pickup)
    taken = world.emit(
        PickedUp(
            time=time,
            seat=world.names[seat],
            pickup=pickup.name,
            gained=_fill(world, body, pickup.gives),
            counted={world.plan.counters[each].name: points for each, points in pickup.counts.items()},
            lives=pickup.lives,
            lives_left=queries.lives_of(world, seat),
            returns_tick=None if pickup.return_ticks is None else int(block.taken[number]),
        )
    )
    counters.add(world, seat, pickup.counts, "pickup", taken)


def _is_of_use(world: World, seat: int, body: int, pickup: PickupPlan) -> bool:
    """Whether a pickup gives a body anything: pools that are full and lives without end gain nothing."""
    if pickup.counts or (pickup.lives and queries.lives_of(world, seat) is not None):
        return True
    pairs = zip(pools.stats_of(world, body).pools, pools.values(world, body), strict=True)
    return any(pool.name in pickup.gives and value < pool.maximum for pool, value in pairs)


def _give_lives(world: World, seat: int, pickup: PickupPlan) -> None:
    if pickup.lives and queries.lives_of(world, seat) is not None:
        lives = int(world.block.seat_marks[SeatMark.LIVES, seat]) + pickup.lives
        world.block.seat_marks[SeatMark.LIVES, seat] = min(lives, Limit.ENDLESS_LIVES - 1)


def _fill(world: World, body: int, points: dict[str, float]) -> dict[str, float]:
    """Fill pools of a body by so many points, none past its maximum; what each gained."""
    if not points:
        return {}
    stats, before = pools.stats_of(world, body), pools.values(world, body)
    after = [
        min(value + points.get(pool.name, 0.0), pool.maximum) if pool.name in points else value
        for pool, value in zip(stats.pools, before, strict=True)
    ]
    pools.spend(world, body, before, after)
    return {
        pool.name: new - old for pool, old, new in zip(stats.pools, before, after, strict=True) if pool.name in points
    }
