"""What bars showed, tick by tick, and how large pools were."""

from __future__ import annotations

from itertools import islice
from typing import TYPE_CHECKING

from emberwound.bout.preview import bar_columns
from emberwound.bout.views.bars import BarColumns, worked_out
from emberwound.plan import compile_plan
from emberwound.vocabulary.orders import Enter

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout import Bout
    from emberwound.bout.views.bars import BarView
    from emberwound.chronicle.chronicle import Chronicle
    from emberwound.plan import Plan
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


BATCH = 1 << 12
"""So many bodies, over all their ticks, are worked out at once."""


class BarWatcher:
    """Watches a bout and gives a listener, state by state, the bars of all its bodies, or of one seat's.

    The listener is called late, many states at once; `finish` calls it for the last.
    """

    def __init__(self, plan: Plan, tell: Callable[[int, list[BarView]], None], seat: str | None = None) -> None:
        self._plan = plan
        self._tell = tell
        self._seat = seat
        self._states: list[int] = []
        self._copies: list[BarColumns] = []
        self._bodies = 0

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Copy what the bars are worked out from after this tick."""
        del inputs, events
        copied = bar_columns(bout, self._seat)
        self._states.append(bout.tick)
        self._copies.append(copied)
        self._bodies += len(copied.seats)
        if self._bodies >= BATCH:
            self.finish()

    def finish(self) -> None:
        """Work out all that was copied, and hand it out."""
        if not self._copies:
            return
        stacks = iter(worked_out(self._plan, BarColumns.join(self._copies)))
        for state, copied in zip(self._states, self._copies, strict=True):
            self._tell(state, [view for stack in islice(stacks, len(copied.seats)) for view in stack])
        self._states, self._copies, self._bodies = [], [], 0


class BarHistory:
    """The bars of a seat over a bout: `times` in seconds, and the views by bar, None where there is none."""

    def __init__(self, rate: int) -> None:
        self.rate = rate
        self.times: list[float] = []
        self.views: dict[str, list[BarView | None]] = {}

    def take(self, state: int, views: list[BarView]) -> None:
        """Keep what the bars show in a state, of the living body before a corpse."""
        now = {view.bar: view for view in sorted(views, key=lambda view: view.alive)}
        for name in dict.fromkeys((*self.views, *now)):
            before = self.views.setdefault(name, [None] * len(self.times))
            before.append(now.get(name))
        self.times.append(state / self.rate)


def bars_of(chronicle: Chronicle, seat: str) -> BarHistory:
    """The bars of a seat over a whole recorded bout, which is run again for them. Raises ChronicleError."""
    header = chronicle.header
    history = BarHistory(header.tick_rate)
    watcher = BarWatcher(compile_plan(chronicle.rules, header.arena, header.tick_rate), history.take, seat)
    chronicle.show(watcher)
    watcher.finish()
    return history


def vital_max(chronicle: Chronicle, seat: str, fighter: str) -> float:
    """The most points of a seat's vital pool while it is a fighter."""
    name, pool = next(each for each in chronicle.rules.book.fighters[fighter].pools.items() if each[1].vital)
    own = [given.pools for given in chronicle.inputs if isinstance(given, Enter) and given.seat == seat]
    return own[-1].get(name, pool.max) if own else pool.max
