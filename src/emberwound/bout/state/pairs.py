"""Figures kept of pairs that have met, and of no others: what they cost follows how many there are."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray


TOLD = -1.0
"""What is kept of a victim that a wall kept a swing from, and to which nothing else has happened.

What lies below is of touches that count once until they were left; kernels go on reporting them.
"""


class Pairs:
    """Some figures of each pair of indexes (one, other), all 0 for a pair that is not kept.

    `keys` (n,) are one x `others` + other, ascending, and `figures` (k, n) what is kept of them, for kernels that look
    pairs up by halving. Both are whole after `settle`: what was put since is held apart, since one by one it would cost
    a copy each.
    """

    def __init__(self, others: int, count: int) -> None:
        self.others = others
        self.keys: NDArray[np.int64] = np.zeros(0, np.int64)
        self.figures = np.zeros((count, 0))
        self._fresh: dict[int, tuple[float, ...]] = {}

    def get(self, one: int, other: int) -> tuple[float, ...]:
        """What is kept of a pair."""
        key = one * self.others + other
        fresh = self._fresh.get(key)
        if fresh is not None:
            return fresh
        at = int(self.keys.searchsorted(key))
        if at < self.keys.size and self.keys[at] == key:
            return tuple(self.figures[:, at].tolist())
        return (0.0,) * self.figures.shape[0]

    def put(self, one: int, other: int, *figures: float) -> None:
        """Keep figures of a pair."""
        self._fresh[one * self.others + other] = figures

    def settle(self) -> None:
        """Put what was kept since the last time in its place."""
        if not self._fresh:
            return
        keys = np.array(sorted(self._fresh), np.int64)
        figures = np.array([self._fresh[key] for key in keys.tolist()], float).T
        at = self.keys.searchsorted(keys)
        known = np.zeros(keys.size, bool)
        if self.keys.size:
            known = self.keys[np.minimum(at, self.keys.size - 1)] == keys
            self.figures[:, at[known]] = figures[:, known]
        self._fresh.clear()
        if known.all():
            return
        every = np.concatenate((self.keys, keys[~known]))
        order = every.argsort(kind="stable")
        self.keys = every[order]
        self.figures = np.concatenate((self.figures, figures[:, ~known]), axis=1).take(order, axis=1)

    def of(self, one: int) -> NDArray[np.float64]:
        """The figures of all pairs of `one`, (k, n), to be changed in place."""
        self.settle()
        first, last = self.keys.searchsorted((one * self.others, (one + 1) * self.others)).tolist()
        return self.figures[:, first:last]

    def forget(self, one: int) -> None:
        """Keep nothing of the pairs of `one` any more."""
        self.settle()
        first, last = self.keys.searchsorted((one * self.others, (one + 1) * self.others)).tolist()
        if first < last:
            self._keep(np.r_[0:first, last : self.keys.size])

    def forget_other(self, other: int) -> None:
        """Keep nothing of the pairs with `other` any more."""
        self.settle()
        if self.keys.size:
            self._keep(np.flatnonzero(self.keys % self.others != other))

    def clear(self) -> None:
        """Keep nothing of any pair."""
        self._fresh.clear()
        self._keep(np.zeros(0, np.int64))

    def replace(self, keys: NDArray[np.int64], figures: NDArray[np.float64]) -> None:
        """Keep other pairs instead."""
        self._fresh.clear()
        self.keys, self.figures = keys.copy(), figures.copy()

    def _keep(self, places: NDArray[np.int64]) -> None:
        self.keys, self.figures = self.keys[places], np.ascontiguousarray(self.figures[:, places])
