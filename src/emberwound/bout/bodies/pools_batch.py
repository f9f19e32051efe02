"""What the pools of many bodies hold at once, as arrays."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.combat.pools import all_refilled
from emberwound.geometry.layout import BodyMark, Presence

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan.fighter_plans import FighterPlan

    Reals = NDArray[np.float64]


def held_by(
    fighter: FighterPlan,
    marks: NDArray[np.int64],
    pools: Reals,
    maxima: Reals,
    since: NDArray[np.int64],
    ticks: NDArray[np.int64] | Reals,
    rate: int,
) -> tuple[Reals, Reals]:
    """What pools hold, refilled until `ticks`, and their sizes: (pools of the fighter, n) each.

    `marks`, `pools`, `maxima` and `since` are the columns of n bodies of this fighter, as in the block.
    """
    terms = fighter.stats.pools
    held, since = pools[: len(terms)].copy(), since[: len(terms)]
    sizes = np.array([pool.maximum for pool in terms])[:, None].repeat(held.shape[1], axis=1)
    resized = marks[BodyMark.RESIZED] != 0
    sizes[:, resized] = maxima[: len(terms), resized]
    if fighter.stats.refills:
        own, dead = np.maximum(ticks, marks[BodyMark.FROZEN_UNTIL]), marks[BodyMark.PRESENCE] != Presence.LIVE
        for index, pool in enumerate(terms):
            if pool.refill:
                passed = (own - since[index]) / rate
                held[index] = all_refilled(pool, held[index], sizes[index], passed, dead)
    return held, sizes
