"""What a pool holds some time after it last lost points."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.combat.terms import PoolTerms

    Reals = NDArray[np.float64]


def refilled(pool: PoolTerms, value: float, seconds: float, *, dead: bool = False) -> float:
    """The value `seconds` after the last loss: min(max, value + refill (seconds - delay)), in closed form.

    Nothing refills before the delay is over, nor in the dead.
    """
    if pool.refill == 0.0 or dead or seconds <= pool.delay or value >= pool.maximum:
        return value
    return min(pool.maximum, value + pool.refill * (seconds - pool.delay))


def all_refilled(pool: PoolTerms, values: Reals, sizes: Reals, seconds: Reals, dead: NDArray[np.bool_]) -> Reals:
    """`refilled` for n bodies at once, their maxima being `sizes`; all arrays are (n,)."""
    gained = pool.refill * np.maximum(seconds - pool.delay, 0.0)
    return np.where(dead | (values >= sizes), values, np.minimum(sizes, values + gained))


def seconds_until(pool: PoolTerms, value: float, wanted: float) -> float | None:
    """How long after its last loss a pool holds `wanted` points; None for never."""
    if value >= wanted:
        return 0.0
    if pool.refill == 0.0 or wanted > pool.maximum:
        return None
    return pool.delay + (wanted - value) / pool.refill


def resized(value: float, old: float, new: float) -> float:
    """The value of a pool whose maximum changes: it keeps its share of it, so a full pool stays full."""
    return new if value >= old else value / old * new
