"""Whole bouts: a scripted one from start to end, and a recorded one once more."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import Bout
from emberwound.chronicle.recorder import Recorder
from emberwound.vocabulary.errors import ChronicleError

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.bout.listeners import Observer
    from emberwound.chronicle.chronicle import Chronicle
    from emberwound.rulebook import Rulebook

PROGRESS_TICKS = 1024


def run(
    rules: Rulebook,
    bout: str,
    *,
    seed: int | None = None,
    tick_rate: int | None = None,
    progress: Callable[[int, int], None] | None = None,
    watch: Observer | None = None,
) -> Chronicle:
    """The chronicle of one of the book's bouts, run for its whole length.

    `progress` is called now and then with the ticks run and the ticks in all; an observer may watch.
    Raises BoutError for an unknown bout.
    """
    running = Bout.scripted(rules, bout, seed=seed, tick_rate=tick_rate)
    ticks = running.script_ticks or 0
    recorder = Recorder(running)
    if watch is not None:
        running.watch(watch)
    for tick in range(ticks):
        if running.over:
            break
        running.step()
        if progress and tick % PROGRESS_TICKS == 0:
            progress(tick, ticks)
    if progress:
        progress(ticks, ticks)
    return recorder.chronicle()


def rerun(chronicle: Chronicle, watch: Observer | None = None) -> Chronicle:
    """The same bout again, from the recorded rules, seed and inputs alone; an observer may watch it.

    Raises ChronicleError for a record that does not start at the bout's first tick.
    """
    header = chronicle.header
    if header.first_tick != 0:
        raise ChronicleError(
            f"this chronicle begins at tick {header.first_tick}; join it to the record of the ticks before, then run it"
        )
    rules = chronicle.rules
    if header.script is None:
        bout = Bout(rules, arena=header.arena, seed=header.seed, tick_rate=header.tick_rate)
    else:
        bout = Bout.scripted(rules, header.script, seed=header.seed, tick_rate=header.tick_rate)
    recorder = Recorder(bout)
    if watch is not None:
        bout.watch(watch)
    told = [each for each in chronicle.inputs if each.source == "host"]
    for given in told:
        while bout.tick < min(given.tick, chronicle.end.ticks):
            bout.step()
        bout.give(given)
    while bout.tick < chronicle.end.ticks:
        bout.step()
    return recorder.chronicle()
