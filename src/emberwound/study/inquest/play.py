"""A bout run again from its record: as far as wanted, under changed rules, or with orders it never had."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

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
    """A bout that is run again; `events` are those so far, `touched` the touches passed over while it listened."""

    def __init__(self, chronicle: Chronicle, rules: Rules | None = None) -> None:
        header = chronicle.header
        rules = rules or chronicle.rules
        if header.script is None:
            self.bout = Bout(rules, arena=header.arena, seed=header.seed, tick_rate=header.tick_rate)
        else:
            self.bout = Bout.scripted(rules, header.script, seed=header.seed, tick_rate=header.tick_rate)
        self._told = [each for each in chronicle.inputs if each.source == "host"]
        self._next = 0
        self.events: list[Event] = []
        self.touched: list[PassedOver] = []
        self._unwatch: Callable[[], None] | None = None

    def step(self) -> list[Event]:
        """Run one tick with the inputs that it was given then; its events."""
        while self._next < len(self._told) and self._told[self._next].tick <= self.bout.tick:
            self.bout.give(self._told[self._next])
            self._next += 1
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


def played(chronicle: Chronicle, rules: Rules, until: int) -> Play | None:
    """The record's bout under other rules, up to a tick; None where these do not take what it was told."""
    try:
        play = Play(chronicle, rules)
        play.until(until)
    except BoutError:
        return None
    return play
