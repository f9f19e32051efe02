"""Where everything was, state by state, as arrays, and what records it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.preview import state_copier
from emberwound.bout.views.states_batch import GUARDING, PROTECTED, REACTING

if TYPE_CHECKING:
    import pandas as pd
    from numpy.typing import NDArray

    from emberwound.bout import Bout
    from emberwound.bout.views.states_batch import StateRun


@dataclass(frozen=True, eq=False, repr=False)
class Tracks:
    """The states of a bout: n of them, of s seats; the first is the one before the first tick recorded.

    `ticks` (n,) numbers them, `times` (n,) are their seconds. `alive` (n, s); `positions` (n, s, axes), `ahead`
    (n, s, 2) the heading on the ground, `poses` (n, s) the row of the plan's joint tracks, and `pools` (n, s, names)
    are NaN where there is no living body, or no pool of that one of `pool_names`. `hidden` (n, s) has a bit for each
    hurtbox that is off.
    `status_bits` (n, s) has a bit each for PROTECTED, REACTING and GUARDING; `scores` (n, s, counters) are NaN where
    there is no such seat.
    `live_shots` (n,) counts shots in flight; `shot_states`, `shot_ids` (m,) and `shot_positions` (m, axes) list them:
    the index of the state, the shot's id, and where it was.
    """

    seats: tuple[str, ...]
    """Names of the seats, s of them."""
    pool_names: tuple[str, ...]
    """Names of the pools."""
    counter_names: tuple[str, ...]
    """Names of the counters."""
    axes: tuple[str, ...]
    """Names of the axes of the arena."""
    ticks: NDArray[np.int64]
    """(n,) number of each state; state k is the one after k ticks."""
    times: NDArray[np.float64]
    """(n,) seconds of the bout."""
    alive: NDArray[np.bool_]
    """(n, s) whether there is a living body."""
    positions: NDArray[np.float64]
    """(n, s, axes) places; NaN without a living body."""
    ahead: NDArray[np.float64]
    """(n, s, 2) heading on the ground."""
    poses: NDArray[np.float64]
    """(n, s) row of the plan's joint tracks."""
    hidden: NDArray[np.int64]
    """(n, s) a bit for each hurtbox that is off."""
    pools: NDArray[np.float64]
    """(n, s, pools) points; NaN without a living body with that pool."""
    status_bits: NDArray[np.int64]
    """(n, s) a bit each for protected (1), reacting (2) and guarding (4)."""
    scores: NDArray[np.float64]
    """(n, s, counters) what each seat counts."""
    live_shots: NDArray[np.int64]
    """(n,) shots in flight."""
    shot_states: NDArray[np.int64]
    """(m,) index of the state."""
    shot_ids: NDArray[np.int64]
    """(m,) id of the shot."""
    shot_positions: NDArray[np.float64]
    """(m, axes) place of the shot."""

    def __repr__(self) -> str:
        shots = len(np.unique(self.shot_ids))
        times = f"{self.times[0]:g} to {self.times[-1]:g} s" if len(self.times) else "no time"
        return f"<Tracks of {', '.join(self.seats)}: {len(self.ticks)} states from {times}, {shots} shots>"

    def shot(self, shot_id: int) -> NDArray[np.float64]:
        """The places of one shot at the states in which it flew, (k, axes)."""
        found: NDArray[np.float64] = self.shot_positions[self.shot_ids == shot_id]
        return found

    def pool(self, seat: str, name: str) -> NDArray[np.float64]:
        """What a pool of a seat held, state by state, (n,); NaN where it had no living body with such a pool."""
        found: NDArray[np.float64] = self.pools[:, self.seats.index(seat), self.pool_names.index(name)]
        return found

    def last(self) -> Tracks:
        """The last state alone."""
        last = len(self.ticks) - 1
        by_state = (
            "ticks",
            "times",
            "alive",
            "positions",
            "ahead",
            "poses",
            "hidden",
            "pools",
            "status_bits",
            "scores",
        )
        shots = self.shot_states == last
        return replace(
            self,
            **{name: getattr(self, name)[-1:] for name in (*by_state, "live_shots")},
            shot_states=self.shot_states[shots] - last,
            shot_ids=self.shot_ids[shots],
            shot_positions=self.shot_positions[shots],
        )

    def table(self) -> pd.DataFrame:
        """One row a state and seat, with typed columns: places by axis, pools and counters by name.

        A pool is NaN where there is no living body that has it.
        """
        import pandas as pd

        states, seats = self.alive.shape
        bits = self.status_bits.ravel()
        columns: dict[str, Any] = {
            "tick": np.repeat(self.ticks, seats),
            "time": np.repeat(self.times, seats),
            "seat": pd.array(np.tile(np.array(self.seats, object), states), dtype="string"),
            "alive": self.alive.ravel(),
            "protected": bits & PROTECTED != 0,
            "reacting": bits & REACTING != 0,
            "guarding": bits & GUARDING != 0,
        }
        for index, axis in enumerate(self.axes):
            columns[axis] = self.positions[:, :, index].ravel()
        for index, name in enumerate(self.pool_names):
            columns[f"pool_{name}"] = self.pools[:, :, index].ravel()
        for index, name in enumerate(self.counter_names):
            columns[f"counter_{name}"] = self.scores[:, :, index].ravel()
        return pd.DataFrame(columns)

    def join(self, later: Tracks) -> Tracks:
        """These states and those that go on from the last of them."""
        seats = tuple(dict.fromkeys((*self.seats, *later.seats)))
        names = tuple(dict.fromkeys((*self.pool_names, *later.pool_names)))

        def spread(tracks: Tracks, array: NDArray[Any], fill: float) -> NDArray[Any]:
            found = np.full((array.shape[0], len(seats), *array.shape[2:]), fill, array.dtype)
            found[:, [seats.index(name) for name in tracks.seats]] = array
            return found

        def with_pools(tracks: Tracks) -> Tracks:
            found = np.full((*tracks.pools.shape[:2], len(names)), np.nan)
            found[:, :, [names.index(name) for name in tracks.pool_names]] = tracks.pools
            return replace(tracks, pools=found)

        mine, later = with_pools(self), with_pools(later)

        def both(name: str, fill: float = np.nan) -> NDArray[Any]:
            first, second = spread(mine, getattr(mine, name), fill), spread(later, getattr(later, name), fill)
            return np.concatenate([first, second[1:]])

        kept = later.shot_states > 0
        return Tracks(
            seats=seats,
            pool_names=names,
            counter_names=self.counter_names,
            axes=self.axes,
            ticks=np.concatenate([self.ticks, later.ticks[1:]]),
            times=np.concatenate([self.times, later.times[1:]]),
            alive=both("alive", fill=0),
            positions=both("positions"),
            ahead=both("ahead"),
            poses=both("poses"),
            hidden=both("hidden", fill=0),
            pools=both("pools"),
            status_bits=both("status_bits", fill=0),
            scores=both("scores"),
            live_shots=np.concatenate([self.live_shots, later.live_shots[1:]]),
            shot_states=np.concatenate([self.shot_states, later.shot_states[kept] + len(self.ticks) - 1]),
            shot_ids=np.concatenate([self.shot_ids, later.shot_ids[kept]]),
            shot_positions=np.concatenate([self.shot_positions, later.shot_positions[kept]]),
        )


class TrackRecorder:
    """Takes the state of a bout after each tick, and makes tracks of all of them at the end."""

    def __init__(self, bout: Bout) -> None:
        self._copier = state_copier(bout)

    def take(self) -> None:
        """Copy the state as it is now."""
        self._copier.take()

    def tracks(self) -> Tracks:
        """All states taken so far."""
        runs, plan, count = self._copier.runs(), self._copier.plan, len(self._copier.ticks)
        names, pool_names = self._seats(runs), tuple(dict.fromkeys(self._pools(runs)))
        shape = (count, len(names))
        positions, ahead = np.full((*shape, 3), np.nan), np.full((*shape, 2), np.nan)
        pools, scores = (np.full((*shape, most), np.nan) for most in (len(pool_names), len(plan.counters)))
        poses = np.full(shape, np.nan)
        hidden, status_bits = np.zeros((2, *shape), np.int64)
        first = 0
        for run in runs:
            states = slice(first, first + len(run.poses))
            taken = [seat for seat, name in enumerate(run.cast[0]) if name]
            to = [names.index(run.cast[0][seat]) for seat in taken]
            for whole, part in (
                (positions, run.positions), (ahead, run.ahead), (poses, run.poses),
                (scores, run.scores), (hidden, run.hidden), (status_bits, run.status_bits),
            ):  # fmt: skip
                whole[states, to] = part[:, taken]
            for seat, place in zip(taken, to, strict=True):
                for index, pool in enumerate(plan.fighters[run.cast[1][seat]].stats.pools):
                    pools[states, place, pool_names.index(pool.name)] = run.pools[:, seat, index]
            first = states.stop
        columns = ["xyz".index(axis) for axis in plan.space.axes]
        ticks = np.array(self._copier.ticks)
        return Tracks(
            seats=names,
            pool_names=pool_names,
            counter_names=tuple(counter.name for counter in plan.counters),
            axes=plan.space.axes,
            ticks=ticks,
            times=ticks / plan.tick_rate,
            alive=~np.isnan(ahead[:, :, 0]),
            positions=positions[:, :, columns],
            ahead=ahead,
            poses=poses,
            hidden=hidden,
            pools=pools,
            status_bits=status_bits,
            scores=scores,
            live_shots=np.array([len(ids) for ids, _ in self._copier.shots]),
            shot_states=np.repeat(np.arange(count), [len(ids) for ids, _ in self._copier.shots]),
            shot_ids=np.concatenate([ids for ids, _ in self._copier.shots]),
            shot_positions=np.concatenate([places for _, places in self._copier.shots])[:, columns],
        )

    def _casts(self, runs: list[StateRun]) -> list[tuple[str, int]]:
        """Every seat with every fighter that it was, by its index in the plan, in the order in which they came."""
        casts = dict.fromkeys((*(run.cast for run in runs), self._copier.cast()))
        return [pair for names, fighters in casts for pair in zip(names, fighters, strict=True) if pair[0]]

    def _seats(self, runs: list[StateRun]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(name for name, _ in self._casts(runs)))

    def _pools(self, runs: list[StateRun]) -> list[str]:
        fighters = self._copier.plan.fighters
        return [pool.name for _, index in self._casts(runs) for pool in fighters[index].stats.pools]
