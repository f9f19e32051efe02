"""A bout run again from its record: as far as wanted, under changed rules, or with orders it never had."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import msgspec

from emberwound.bout import Bout
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.bout import PassedOver, Snapshot
    from emberwound.chronicle import Chronicle
    from emberwound.rulebook.rules import Rules
    from emberwound.vocabulary.events import Event


class Saved(NamedTuple):
    """A state of a bout that is run again, to come back to."""

    bout: Snapshot
    told: int
    heard: int


class Play:
    """A bout that is run again; `events` are those so far, `touched` the touches passed over while it listened.

    Under the recorded rules all its inputs are given `as_told`, as a host would, those of a script too, so that others
    may take their place; under other rules a script is theirs, unless they change nothing that it says.
    """

    def __init__(self, chronicle: Chronicle, rules: Rules | None = None, *, as_told: bool | None = None) -> None:
        header = chronicle.header
        inputs = [each for each in chronicle.inputs if each.tick < chronicle.end.ticks]
        as_told = rules is None if as_told is None else as_told
        if header.script is None or (as_told and not _returns(chronicle)):
            under = rules or chronicle.rules
            self.bout = Bout(under, arena=header.arena, seed=header.seed, tick_rate=header.tick_rate)
            self._told = [msgspec.structs.replace(each, source="host") for each in inputs]
        else:
            under = rules or chronicle.rules
            self.bout = Bout.scripted(under, header.script, seed=header.seed, tick_rate=header.tick_rate)
            self._told = [each for each in inputs if each.source == "host"]
        self._next = 0
        self.events: list[Event] = []
        self.touched: list[PassedOver] = []
        self._unwatch: Callable[[], None] | None = None

    def take_due(self) -> None:
        """Give the inputs of the tick at hand, so that what is given next comes after them."""
        while self._next < len(self._told) and self._told[self._next].tick <= self.bout.tick:
            self.bout.give(self._told[self._next])
            self._next += 1

    def step(self) -> list[Event]:
        """Run one tick with the inputs that it was given then; its events."""
        self.take_due()
        found: list[Event] = list(self.bout.step())
        self.events += found
        return found

    def until(self, tick: int) -> None:
        """Run all ticks before one."""
        while self.bout.tick < tick and not self.bout.over:
            self.step()

    def listen(self) -> None:
        """Keep the touches that are passed over from now on."""
        self._unwatch = self.bout.watch(self)

    def passed_over(self, _bout: Bout, found: PassedOver) -> None:
        """Keep one of them."""
        self.touched.append(found)

    def save(self) -> Saved:
        """The state at hand, to come back to."""
        return Saved(self.bout.snapshot(), self._next, len(self.events))

    def restore(self, saved: Saved) -> None:
        """Come back to a state, with the events up to it, and listen no more."""
        if self._unwatch is not None:
            self._unwatch()
            self._unwatch = None
        self.touched = []
        self.bout.restore(saved.bout)
        self._next = saved.told
        del self.events[saved.heard :]


def _returns(chronicle: Chronicle) -> bool:
    """Whether a restart may bring back seats of the script that came late or left, which only a script does."""
    book, script = chronicle.rules.book, chronicle.header.script
    restarts = book.arenas[chronicle.header.arena].on_elimination == "restart"
    seats = book.bouts[script].seats.values() if script else ()
    return restarts and any(seat.until is not None or seat.time.amount > 0 for seat in seats)


def played(chronicle: Chronicle, rules: Rules, until: int) -> Play | None:
    """The record's bout under other rules, up to a tick; None where these do not take what it was told."""
    try:
        play = Play(chronicle, rules)
        play.until(until)
    except BoutError:
        return None
    return play
