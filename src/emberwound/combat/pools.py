"""What pools hold some time after a loss, and what is shown on the way, in closed form."""

from __future__ import annotations

from math import inf, log
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.combat.terms import PoolTerms

    Reals = NDArray[np.float64]


def left_over(seconds: float, half_life: float) -> float:
    """The share of a gap that is left some time after it came about: 2^(-t/h), and nothing for a half-life of 0."""
    return float(2.0 ** (-max(seconds, 0.0) / half_life)) if half_life > 0.0 else 0.0


def eased(shown: float, true: float, seconds: float, half_life: float) -> float:
    """What is shown `seconds` after it was `shown`, on its way to what is `true`.

    shown = true + (shown0 - true) 2^(-t/h): two steps of any lengths lead to where one of their sum does.
    Raises ValueError for a time or a half-life below 0.
    """
    if seconds < 0.0 or half_life < 0.0:
        raise ValueError(f"give a time and a half-life from 0 up; got {seconds!r} and {half_life!r}")
    return true + (shown - true) * left_over(seconds, half_life)


def half_life_from_share(share: float, *, rate: float = 60.0) -> float:
    """The half-life, in seconds, of "this share of the gap each frame" at `rate` frames a second.

    (1 - share) = 2^(-1/(rate h)), so h = -ln 2 / (rate ln(1 - share)). Raises ValueError unless the share lies in
    0 < share <= 1 and the rate is above 0.
    """
    if not 0.0 < share <= 1.0 or not 0.0 < rate < inf:
        raise ValueError(f"give a share above 0, up to 1, and a rate above 0; got {share!r} and {rate!r}")
    return 0.0 if share == 1.0 else -log(2.0) / (rate * log(1.0 - share))


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


def all_seconds_until_full(pool: PoolTerms, values: Reals) -> Reals:
    """How long after their last losses n pools that refill are full; they held `values` then. All arrays are (n,)."""
    return pool.delay + (pool.maximum - values) / pool.refill


def resized(value: float, old: float, new: float) -> float:
    """The value of a pool whose maximum changes: it keeps its share of it, so a full pool stays full."""
    return new if value >= old else value / old * new
