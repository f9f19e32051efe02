"""The counters of each seat, compiled."""

from __future__ import annotations

from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.plan import CounterPlan

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.rulebook.models import Book, Counter


def counter_table(book: Book) -> NDArray[np.float64]:
    """What each counter gains by the second, and its least, (2, counters, 1)."""
    minimum = [-inf if counter.minimum is None else counter.minimum for counter in book.counters.values()]
    gains = [counter.per_second for counter in book.counters.values()]
    return np.array([gains, minimum], float)[:, :, None]


def counter_plan(name: str, counter: Counter) -> CounterPlan:
    """A number that each seat has."""
    return CounterPlan(
        name=name,
        start=counter.start,
        per_second=counter.per_second,
        kill=counter.kill,
        assist=counter.assist,
        death=counter.death,
        resets_on_death=counter.on_death == "reset",
        resets_on_restart=counter.on_restart == "reset",
        minimum=-inf if counter.minimum is None else counter.minimum,
        highest_is_best=counter.best == "highest",
    )
