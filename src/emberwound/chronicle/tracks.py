"""Where everything was, state by state, as arrays."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.block import BODY_REACTION, SEAT_BODY, SEAT_FIGHTER, SEATS, SHOTS_FLYING, SHOTS_TOP, TICK
from emberwound.bout.bodies import hidden_of, is_guarding
from emberwound.bout.pools import values
from emberwound.bout.scores import all_counted
from emberwound.bout.shots import place_of
from emberwound.geometry.legs import MARK_ID
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_PROTECTED, pose_row

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.world import World
    from emberwound.plan.plan import FighterPlan

PROTECTED, REACTING, GUARDING = 1, 2, 4
"""The bits of `Tracks.conditions`."""


@dataclass(frozen=True, eq=False)
class Tracks:
    """The states of a bout: n of them, of s seats; the first is the one before the first tick recorded.

    `ticks` (n,) numbers them, `times` (n,) are their seconds. `alive` (n, s); `positions` (n, s, axes), `ahead`
    (n, s, 2) the heading on the ground, `poses` (n, s) the row of the plan's joint tracks, and `pools`
    (n, s, most pools) are NaN where there is no living body, or no such pool. `hidden` (n, s) has a bit for each
    hurtbox that is off.
    `conditions` (n, s) has a bit each for PROTECTED, REACTING and GUARDING; `scores` (n, s, counters) are NaN where
    there is no such seat.
    `live_shots` (n,) counts shots in flight; `shot_states`, `shot_ids` (m,) and `shot_positions` (m, axes) list them:
    the index of the state, the shot's number, and where it was.
    """

    seats: tuple[str, ...]
    pool_names: tuple[tuple[str, ...], ...]
    ticks: NDArray[np.int64]
    times: NDArray[np.float64]
    alive: NDArray[np.bool_]
    positions: NDArray[np.float64]
    ahead: NDArray[np.float64]
    poses: NDArray[np.float64]
    hidden: NDArray[np.int64]
    pools: NDArray[np.float64]
    conditions: NDArray[np.int64]
    scores: NDArray[np.float64]
    live_shots: NDArray[np.int64]
    shot_states: NDArray[np.int64]
    shot_ids: NDArray[np.int64]
    shot_positions: NDArray[np.float64]

    def shot(self, number: int) -> NDArray[np.float64]:
        """The places of one shot at the states in which it flew, (k, axes)."""
        found: NDArray[np.float64] = self.shot_positions[self.shot_ids == number]
        return found

    def join(self, later: Tracks) -> Tracks:
        """These states and those that go on from the last of them."""
        seats = tuple(dict.fromkeys((*self.seats, *later.seats)))
        pools = dict(zip((*self.seats, *later.seats), (*self.pool_names, *later.pool_names), strict=True))

        def spread(tracks: Tracks, array: NDArray[Any], fill: float) -> NDArray[Any]:
            found = np.full((array.shape[0], len(seats), *array.shape[2:]), fill, array.dtype)
            found[:, [seats.index(name) for name in tracks.seats]] = array
            return found

        def both(name: str, fill: float = np.nan) -> NDArray[Any]:
            first, second = spread(self, getattr(self, name), fill), spread(later, getattr(later, name), fill)
            return np.concatenate([first, second[1:]])

        kept = later.shot_states > 0
        return Tracks(
            seats=seats,
            pool_names=tuple(pools[name] for name in seats),
            ticks=np.concatenate([self.ticks, later.ticks[1:]]),
            times=np.concatenate([self.times, later.times[1:]]),
            alive=both("alive", fill=0),
            positions=both("positions"),
            ahead=both("ahead"),
            poses=both("poses"),
            hidden=both("hidden", fill=0),
            pools=both("pools"),
            conditions=both("conditions", fill=0),
            scores=both("scores"),
            live_shots=np.concatenate([self.live_shots, later.live_shots[1:]]),
            shot_states=np.concatenate([self.shot_states, later.shot_states[kept] + len(self.ticks) - 1]),
            shot_ids=np.concatenate([self.shot_ids, later.shot_ids[kept]]),
            shot_positions=np.concatenate([self.shot_positions, later.shot_positions[kept]]),
        )


def _conditions(world: World, row: int) -> int:
    marks = world.block.body_marks
    protected = PROTECTED if marks[FRAME_PROTECTED, row] else 0
    reacting = REACTING if marks[BODY_REACTION, row] else 0
    return protected | reacting | (GUARDING if is_guarding(world, row) else 0)


class TrackTaker:
    """Copies the moving parts of a block, state by state, and makes tracks of them at the end."""

    def __init__(self, world: World) -> None:
        self._world = world
        self._states: list[tuple[NDArray[np.float64], ...]] = []
        self._shots: list[tuple[NDArray[np.int64], NDArray[np.float64]]] = []
        self._marks: list[tuple[NDArray[np.int64], NDArray[np.int64]]] = []
        self._ticks: list[int] = []
        self._casts: list[tuple[tuple[str, ...], tuple[int, ...]]] = []
        self.take()

    def take(self) -> None:
        """Copy the state as it is now."""
        counts, block = self._world.counts, self._world.block
        seats, tick = counts[SEATS], counts[TICK]
        rows = block.seat_marks[SEAT_BODY, :seats] - 1
        gone = rows < 0
        ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, rows]
        places, pools = block.bodies[:3, rows], block.pools[:, rows]
        if any(fighter.bears.refills for fighter in self._world.plan.fighters):
            for seat, row in enumerate(rows.tolist()):
                held = values(self._world, row) if row >= 0 else []
                pools[: len(held), seat] = held
        poses = np.array([pose_row(block.body_marks, row, tick) for row in rows.tolist()], float)
        hidden = np.array([hidden_of(self._world, row) if row >= 0 else 0 for row in rows.tolist()], np.int64)
        ahead[:, gone] = places[:, gone] = pools[:, gone] = poses[gone] = np.nan
        self._ticks.append(tick)
        cast = (tuple(self._world.names), tuple(block.seat_marks[SEAT_FIGHTER, :seats].tolist()))
        self._casts.append(self._casts[-1] if self._casts and self._casts[-1] == cast else cast)
        conditions = np.array([_conditions(self._world, row) if row >= 0 else 0 for row in rows.tolist()], np.int64)
        scores = all_counted(self._world)[:, :seats]
        self._states.append((places, pools, ahead, poses, scores))
        self._marks.append((hidden, conditions))
        self._shots.append(self._shots_now() if counts[SHOTS_FLYING] else _NO_SHOTS)

    def _shots_now(self) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
        block, top = self._world.block, self._world.counts[SHOTS_TOP]
        columns = np.flatnonzero(block.shot_marks[MARK_ID, :top])
        places = [place_of(self._world, column) for column in columns.tolist()]
        return block.shot_marks[MARK_ID, columns], np.array(places)

    def tracks(self) -> Tracks:
        """All states taken so far."""
        world, count = self._world, len(self._ticks)
        fighters = self._fighters_by_name()
        names = tuple(fighters)
        positions = np.full((count, len(names), 3), np.nan)
        pools = np.full((count, len(names), world.plan.most_pools), np.nan)
        ahead = np.full((count, len(names), 2), np.nan)
        poses = np.full((count, len(names)), np.nan)
        scores = np.full((count, len(names), len(world.plan.counters)), np.nan)
        hidden, conditions = np.zeros((2, count, len(names)), np.int64)
        for state, (place, pool, look, pose, score) in enumerate(self._states):
            cast, _ = self._casts[state]
            taken = [seat for seat, name in enumerate(cast) if name]
            to = [names.index(cast[seat]) for seat in taken]
            positions[state, to] = place.T[taken]
            pools[state, to] = pool.T[taken]
            ahead[state, to] = look.T[taken]
            poses[state, to] = pose[taken]
            scores[state, to] = score.T[taken]
            hidden[state, to], conditions[state, to] = (mark[taken] for mark in self._marks[state])
        for seat, fighter in enumerate(fighters.values()):
            pools[:, seat, len(fighter.bears.pools) :] = np.nan
        columns = ["xyz".index(axis) for axis in world.plan.plane.axes]
        ticks = np.array(self._ticks)
        return Tracks(
            seats=names,
            pool_names=tuple(tuple(pool.name for pool in fighter.bears.pools) for fighter in fighters.values()),
            ticks=ticks,
            times=ticks / world.plan.tick_rate,
            alive=~np.isnan(ahead[:, :, 0]),
            positions=positions[:, :, columns],
            ahead=ahead,
            poses=poses,
            hidden=hidden,
            pools=pools,
            conditions=conditions,
            scores=scores,
            live_shots=np.array([len(ids) for ids, _ in self._shots]),
            shot_states=np.repeat(np.arange(count), [len(ids) for ids, _ in self._shots]),
            shot_ids=np.concatenate([ids for ids, _ in self._shots]),
            shot_positions=np.concatenate([places for _, places in self._shots])[:, columns],
        )

    def _fighters_by_name(self) -> dict[str, FighterPlan]:
        """Every seat that was there, in the order in which they came, with the last fighter it was."""
        world = self._world
        now = world.block.seat_marks[SEAT_FIGHTER, : len(world.names)].tolist()
        casts = dict.fromkeys((*self._casts, (tuple(world.names), tuple(now))))
        pairs = [pair for names, fighters in casts for pair in zip(names, fighters, strict=True)]
        return {name: world.plan.fighters[number] for name, number in pairs if name}


_NO_SHOTS = (np.empty(0, np.int64), np.empty((0, 3)))
