"""Makes tracks of the states of a running bout."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.batched import state_copier
from emberwound.chronicle.tracks import Tracks

if TYPE_CHECKING:
    from emberwound.bout import Bout
    from emberwound.bout.views.states_batch import StateRun
    from emberwound.plan.fighter_plans import FighterPlan


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
        fighters = self._fighters_by_name(runs)
        names = tuple(fighters)
        shape = (count, len(names))
        positions, ahead = np.full((*shape, 3), np.nan), np.full((*shape, 2), np.nan)
        pools, scores = (np.full((*shape, most), np.nan) for most in (plan.most_pools, len(plan.counters)))
        poses = np.full(shape, np.nan)
        hidden, status_bits = np.zeros((2, *shape), np.int64)
        first = 0
        for run in runs:
            states = slice(first, first + len(run.poses))
            taken = [seat for seat, name in enumerate(run.cast[0]) if name]
            to = [names.index(run.cast[0][seat]) for seat in taken]
            for whole, part in (
                (positions, run.positions), (ahead, run.ahead), (poses, run.poses), (pools, run.pools),
                (scores, run.scores), (hidden, run.hidden), (status_bits, run.status_bits),
            ):  # fmt: skip
                whole[states, to] = part[:, taken]
            first = states.stop
        for seat, fighter in enumerate(fighters.values()):
            pools[:, seat, len(fighter.stats.pools) :] = np.nan
        columns = ["xyz".index(axis) for axis in plan.space.axes]
        ticks = np.array(self._copier.ticks)
        return Tracks(
            seats=names,
            pool_names=tuple(tuple(pool.name for pool in fighter.stats.pools) for fighter in fighters.values()),
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

    def _fighters_by_name(self, runs: list[StateRun]) -> dict[str, FighterPlan]:
        """Every seat that was there, in the order in which they came, with the last fighter it was."""
        casts = dict.fromkeys((*(run.cast for run in runs), self._copier.cast()))
        pairs = [pair for names, fighters in casts for pair in zip(names, fighters, strict=True)]
        return {name: self._copier.plan.fighters[number] for name, number in pairs if name}
