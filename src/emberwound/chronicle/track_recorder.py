"""Makes tracks of the states of a running bout."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.batched import state_copier
from emberwound.chronicle.tracks import Tracks

if TYPE_CHECKING:
    from emberwound.bout import Bout
    from emberwound.bout.views.states_batch import StateRun


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
                for number, pool in enumerate(plan.fighters[run.cast[1][seat]].stats.pools):
                    pools[states, place, pool_names.index(pool.name)] = run.pools[:, seat, number]
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
        """Every seat with every fighter that it was, by its number, in the order in which they came."""
        casts = dict.fromkeys((*(run.cast for run in runs), self._copier.cast()))
        return [pair for names, fighters in casts for pair in zip(names, fighters, strict=True) if pair[0]]

    def _seats(self, runs: list[StateRun]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(name for name, _ in self._casts(runs)))

    def _pools(self, runs: list[StateRun]) -> list[str]:
        fighters = self._copier.plan.fighters
        return [pool.name for _, number in self._casts(runs) for pool in fighters[number].stats.pools]
