"""Checkpoints and pickups: what comes of touching one."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.bodies import pools
from emberwound.bout.hits import contacts
from emberwound.bout.lives import counters
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, Limit, SeatMark, index_of_mark, mark_of
from emberwound.bout.state.pending import Reached
from emberwound.vocabulary.clock import CLOSE, on_grid
from emberwound.vocabulary.events import CheckpointReached, PickedUp

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.plan import CheckpointPlan, PickupPlan


def settle(world: World) -> None:
    """Let those who touched a checkpoint or a pickup in this tick have it, in the order of their touches.

    The dead get nothing. Of a pickup only the first gets anything; of one that comes back all who touch it at that
    instant do.
    """
    checkpoints = world.plan.checkpoints
    taken: dict[int, float] = {}
    reached = world.reached
    while reached:
        place, seat, body, tick = reached.pop(0)
        if queries.body_of(world, seat) != body:
            continue
        if place < len(checkpoints):
            _reach(world, seat, body, place, tick / world.plan.tick_rate)
            continue
        index = place - len(checkpoints)
        if _take(world, seat, body, index, tick, shared=taken.get(index) == tick):
            if world.plan.pickups[index].return_ticks is not None:
                taken[index] = tick
            reached += _once_more(world, index, reached)
            reached.sort(key=lambda each: each[3])


def _once_more(world: World, index: int, reached: list[Reached]) -> list[Reached]:
    """Who touches a pickup that comes back within this tick, from then on."""
    block, now = world.block, world.counts[Count.TICK]
    share = float(block.taken[index]) - now
    if share >= 1.0:
        return []
    area = block.first_pickup + index
    place = area - block.first_checkpoint
    again = {seat for other, seat, _, tick in reached if other == place and tick >= now + share - CLOSE}
    most = world.plan.most_hurtboxes
    found = []
    for touch in contacts.of_hazards(world, block.first_hazard + area, None, share)[0]:
        body = touch.shape // most
        seat = world.seat_of(body)
        if seat not in again and seat >= len(world.plan.props):
            found.append(Reached(place, seat, body, on_grid(now + touch.share)))
    return found


def _reach(world: World, seat: int, body: int, index: int, time: float) -> None:
    block, plan = world.block, world.plan
    checkpoint = plan.checkpoints[index]
    area = block.first_checkpoint + index
    seats = _sharing(world, seat) if checkpoint.table.whole_team else [seat]
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
            block.seat_marks[SeatMark.CHECKPOINT, each] = mark_of(index)
    _fill(world, body, dict.fromkeys(checkpoint.table.refill, inf))
    world.emit(
        CheckpointReached(
            time=time,
            seat=world.names[seat],
            checkpoint=checkpoint.name,
            order=checkpoint.table.order,
            whole_team=checkpoint.table.whole_team,
        )
    )


def _is_further(world: World, seat: int, checkpoint: CheckpointPlan) -> bool:
    """Whether a seat does not yet respawn at this checkpoint or a better one."""
    now = index_of_mark(int(world.block.seat_marks[SeatMark.CHECKPOINT, seat]))
    if now < 0:
        return True
    held = world.plan.checkpoints[now]
    return held is not checkpoint and (world.plan.latest_checkpoint or checkpoint.table.order > held.table.order)


def _sharing(world: World, seat: int) -> list[int]:
    marks = world.block.seat_marks[:, : world.counts[Count.SEATS]]
    shared = (marks[SeatMark.TEAM] == marks[SeatMark.TEAM, seat]) & (marks[SeatMark.ELIMINATED] == 0)
    found: list[int] = shared.nonzero()[0].tolist()
    return found


def _take(world: World, seat: int, body: int, index: int, tick: float, *, shared: bool) -> bool:
    """Let a seat take a pickup that is there, or that it shares with others of this instant; whether it is gone."""
    block, pickup = world.block, world.plan.pickups[index]
    if (block.taken[index] > tick + CLOSE and not shared) or not _is_of_use(world, seat, body, pickup):
        return False
    if not pickup.leaves:
        block.taken[index] = inf if pickup.return_ticks is None else on_grid(tick + pickup.return_ticks)
        block.again[block.first_pickup + index] = block.taken[index]
    _give_lives(world, seat, pickup)
    taken = world.emit(
        PickedUp(
            time=tick / world.plan.tick_rate,
            seat=world.names[seat],
            pickup=pickup.name,
            gained=_fill(world, body, pickup.table.gives),
            counted={world.plan.counters[each].name: points for each, points in pickup.counts.items()},
            lives=pickup.table.lives,
            lives_left=queries.lives_of(world, seat),
            returns_tick=None if pickup.return_ticks is None else int(block.taken[index]),
        )
    )
    counters.add(world, seat, pickup.counts, "pickup", taken)
    return not pickup.leaves


def _is_of_use(world: World, seat: int, body: int, pickup: PickupPlan) -> bool:
    """Whether a pickup gives a body anything: pools that are full and lives without end gain nothing."""
    if pickup.counts or (pickup.table.lives and queries.lives_of(world, seat) is not None):
        return True
    pairs = zip(pools.stats_of(world, body).pools, pools.values(world, body), strict=True)
    return any(pool.name in pickup.table.gives and value < pool.maximum for pool, value in pairs)


def _give_lives(world: World, seat: int, pickup: PickupPlan) -> None:
    if pickup.table.lives and queries.lives_of(world, seat) is not None:
        lives = int(world.block.seat_marks[SeatMark.LIVES, seat]) + pickup.table.lives
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
