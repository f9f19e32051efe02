"""What the bars of a seat showed, tick by tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.chronicle.runs import rerun

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout import Bout
    from emberwound.bout.bars import BarView
    from emberwound.chronicle.chronicle import Chronicle
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


class BarWatcher:
    """Watches a bout and keeps the bars of one seat: `times` in seconds, and the views by bar, None where none is."""

    def __init__(self, seat: str) -> None:
        self.seat = seat
        self.times: list[float] = []
        self.views: dict[str, list[BarView | None]] = {}

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Keep what the bars show after this tick, of the living body before a corpse."""
        del inputs, events
        mine = [view for view in bout.bars() if view.seat == self.seat]
        now = {view.bar: view for view in sorted(mine, key=lambda view: view.alive)}
        for name in dict.fromkeys((*self.views, *now)):
            before = self.views.setdefault(name, [None] * len(self.times))
            before.append(now.get(name))
        self.times.append(bout.time)


def bars_of(chronicle: Chronicle, seat: str) -> BarWatcher:
    """The bars of a seat over a whole recorded bout, which is run again for them."""
    watcher = BarWatcher(seat)
    rerun(chronicle, watcher)
    return watcher
