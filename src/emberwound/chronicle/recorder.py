"""Watches a bout and keeps what happens."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.chronicle.chronicle import Chronicle, End, Header
from emberwound.chronicle.taking import TrackTaker

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout import Bout
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


class Recorder:
    """Records a bout from the tick at hand on; `chronicle()` gives the record up to now, as often as wanted."""

    def __init__(self, bout: Bout) -> None:
        self._bout = bout
        self._header = Header.of(bout)
        self._inputs: list[Input] = []
        self._events: list[Event] = []
        self._taker = TrackTaker(bout.world)
        self.stop = bout.watch(self)

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Keep what this tick took and made."""
        del bout
        self._inputs += inputs
        self._events += events
        self._taker.take()

    def chronicle(self) -> Chronicle:
        """The record from the first tick watched up to the state at hand, with the inputs no tick has taken yet."""
        end = End(ticks=self._bout.tick, digest=self._bout.digest(), board=self._bout.board())
        inputs = (*self._inputs, *self._bout.world.inputs)
        chronicle = Chronicle(self._header, inputs, tuple(self._events), end, self._taker.tracks())
        chronicle.rules = self._bout.rules
        chronicle.steps = {step.name: (step.function, step.version) for step in self._bout.rules.steps.values()}
        return chronicle
