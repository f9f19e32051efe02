"""What a bout was given and what came of it, as one value: recorded while it runs, and run again from its inputs."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import msgspec

from emberwound.bout import Bout
from emberwound.chronicle.files import bytes_of, write_whole
from emberwound.chronicle.lines import End, Header, events_table, from_lines, to_lines
from emberwound.chronicle.tracks import TrackRecorder
from emberwound.rulebook import Rules
from emberwound.rulebook.rules import digest_of
from emberwound.vocabulary.errors import ChronicleError

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    import pandas as pd

    from emberwound.bout.bout import Observer
    from emberwound.chronicle.tracks import Tracks
    from emberwound.combat.terms import OwnSteps
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


class Chronicle:
    """A recorded bout: `header`, `inputs` and `events` in order, `end`. Two with the same four are equal."""

    def __init__(
        self, header: Header, inputs: tuple[Input, ...], events: tuple[Event, ...], end: End, tracks: Tracks | None
    ) -> None:
        self.header = header
        self.inputs = inputs
        self.events = events
        self.end = end
        self.steps: OwnSteps = {}
        if tracks is not None:
            self.tracks = tracks

    @classmethod
    def load(cls, path: str | Path, steps: OwnSteps | None = None, *, partial: bool = False) -> Chronicle:
        """Read a chronicle from a file; `steps` are the own steps its rules name, as for `Rulebook.load`.

        With `partial` one that was cut off is read up to its last whole tick, and run again to see that it is so.
        Raises ChronicleError.
        """
        path = Path(path)
        try:
            data = bytes_of(path)
        except (OSError, ValueError) as error:
            seen = error.strerror if isinstance(error, OSError) else error
            raise ChronicleError(f"{path}: {seen}; give a chronicle file") from None
        chronicle = cls.from_bytes(data, path.name, partial=partial)
        chronicle.steps = steps or {}
        return chronicle if chronicle.end.digest else chronicle.completed()

    @classmethod
    def from_bytes(cls, data: bytes, name: str = "chronicle", *, partial: bool = False) -> Chronicle:
        """A chronicle from its JSON Lines; `name` is what errors call them. Raises ChronicleError.

        With `partial` one that was cut off is read up to its last whole tick; its end has no digest.
        """
        return cls(*from_lines(data, name, partial=partial), None)

    def save(self, path: str | Path) -> Path:
        """Write it to a file, whole or not at all; the file. Raises OutputError."""
        return write_whole(Path(path), self.to_bytes())

    def to_bytes(self) -> bytes:
        """All of it as JSON Lines: the header, then of each tick its inputs and its events, then the end."""
        return to_lines((self.header, self.inputs, self.events, self.end))

    @cached_property
    def rules(self) -> Rules:
        """The rulebook that the bout ran by. Raises ChronicleError when it names own steps that were not given."""
        given = {name: version for name, (_, version) in self.steps.items()}
        if any(given.get(name) != version for name, version in self.header.steps.items()):
            needed = ", ".join(f"{name} {version}" for name, version in self.header.steps.items())
            had = ", ".join(f"{name} {version}" for name, version in given.items()) or "none"
            raise ChronicleError(f"the chronicle ran with the own steps {needed}; load it with them (given: {had})")
        if digest_of(self.header.rules) != self.header.rules_hash:
            raise ChronicleError("the rules in the chronicle are not those it was made with: rules_hash differs")
        return Rules.from_canonical(self.header.rules, self.header.source, self.steps)

    @cached_property
    def tracks(self) -> Tracks:
        """Where everything was after each tick; the record is run again for them when they are first asked for.

        One that begins later than its bout has kept them while it was recorded; read from a file it has none.

        Raises ChronicleError when running it again does not give the recorded events.
        """
        return self.completed().tracks

    def completed(self, watch: Observer | None = None) -> Chronicle:
        """The same record, run again: with its tracks, and its end where that was lost. An observer may watch.

        Raises ChronicleError when running it again does not give the recorded events, digest and board.
        """
        again = _rerun(self, watch, None, _TrackingRecorder)
        ends = (("digest", again.end.digest, self.end.digest), ("board", again.end.board, self.end.board))
        differ = [what for what, made, told in ends if self.end.digest and made != told]
        if again.events != self.events or differ:
            made = ", ".join(f"{name} {version}" for name, version in self.header.libraries.items())
            what = "other events" if again.events != self.events else f"another {differ[0]}"
            raise ChronicleError(f"running the chronicle again gives {what} than it records; it was made with {made}")
        if again.header.arena != self.header.arena:
            raise ChronicleError(
                f"the chronicle names arena {self.header.arena!r}; its bout is in {again.header.arena!r}"
            )
        return again

    def show(self, observer: Observer) -> None:
        """Run it again for an observer; the tracks of that run are kept.

        Raises ChronicleError when running it again does not give the recorded events.
        """
        again = self.completed(observer)
        self.__dict__.setdefault("tracks", again.tracks)

    @cached_property
    def final(self) -> Tracks:
        """The last state of `tracks` alone; a record just made has it without being run again."""
        return self.tracks.last()

    @property
    def seconds(self) -> float:
        """The time at its end, counted from the start of the bout."""
        return self.end.ticks / self.header.tick_rate

    def join(self, later: Chronicle) -> Chronicle:
        """This record and the one that goes on from its end, as one. Raises ChronicleError if they do not meet."""
        mine, theirs = self.header, later.header
        if msgspec.structs.replace(theirs, first_tick=mine.first_tick) != mine:
            raise ChronicleError("the two chronicles are of different bouts: their headers differ")
        if theirs.first_tick != self.end.ticks:
            raise ChronicleError(
                f"the chronicles do not meet: the first ends at tick {self.end.ticks}, "
                f"the second begins at {theirs.first_tick}"
            )
        taken = tuple(each for each in self.inputs if each.tick < self.end.ticks)
        inputs, events = taken + later.inputs, self.events + later.events
        tracks = self.tracks.join(later.tracks) if mine.first_tick else None
        return Chronicle(mine, inputs, events, later.end, tracks)

    def table(self) -> pd.DataFrame:
        """One row an event, in order, with a typed column for each field that events of any type have.

        What an event does not have is missing in its row. Points stand in a column for each axis of the arena, such as
        `position_x`. Counters and what pools gained stand as JSON, and `order`, a number of checkpoints and a text of
        orders, as text. Ledgers are left out; they are in `events`.
        """
        return events_table(self.events, self.rules.book.arenas[self.header.arena].space)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Chronicle) and self._content() == other._content()

    __hash__ = None  # type: ignore[assignment]

    def _content(self) -> tuple[object, ...]:
        return (self.header, self.inputs, self.events, self.end)

    def __repr__(self) -> str:
        name = self.header.script or self.header.arena
        return f"<Chronicle of {name}: {self.seconds:g} s, {len(self.inputs)} inputs, {len(self.events)} events>"


class Recorder:
    """Records a bout from the tick at hand on; `chronicle()` gives the record up to now, as often as wanted.

    When the bout is restored to a tick that the record holds, it goes on from there: what came after that tick in the
    branch left behind is forgotten.
    """

    def __init__(self, bout: Bout) -> None:
        self._bout = bout
        self._header = Header.of(bout)
        self._inputs: list[Input] = []
        self._events: list[Event] = []
        self._track_recorder = TrackRecorder(bout) if bout.tick else None  # from its start on, it can be run again
        self._next = bout.tick
        self._lost = ""
        self._ended: _Ending | None = None
        self._unwatch = bout.watch(self)

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Keep what this tick took and made."""
        self._go_on_from(bout.tick - 1)
        if events and self._events and events[0].seq != self._events[-1].seq + 1:
            self._lost = f"the bout was restored before tick {bout.tick - 1} to a state of another history"
        self._inputs += inputs
        self._events += events
        self._next = bout.tick
        if self._track_recorder is not None:
            self._track_recorder.take()

    def stop(self) -> None:
        """Record no more; the record ends with the state at hand."""
        if self._ended is None:
            self._go_on_from(self._bout.tick)
            self._ended = self._end()
            self._unwatch()

    def chronicle(self) -> Chronicle:
        """The record from the first tick watched up to the state at hand, with the inputs no tick has taken yet.

        Raises ChronicleError when the bout was restored to a state that the record does not lead to.
        """
        if self._ended is None:
            self._go_on_from(self._bout.tick)
        if self._lost:
            raise ChronicleError(f"the record cannot go on: {self._lost}; record the restored bout with a new Recorder")
        ending = self._ended or self._end()
        tracks = None if self._track_recorder is None else self._track_recorder.tracks()
        chronicle = Chronicle(self._header, (*self._inputs, *ending.pending), tuple(self._events), ending.told, tracks)
        chronicle.rules, chronicle.final = self._bout.rules, ending.final
        chronicle.steps = {step.name: (step.function, step.version) for step in self._bout.rules.steps.values()}
        return chronicle

    def _end(self) -> _Ending:
        bout = self._bout
        told = End(ticks=bout.tick, digest=bout.digest(), board=bout.board())
        return _Ending(told, bout.pending_inputs, TrackRecorder(bout).tracks())

    def _go_on_from(self, tick: int) -> None:
        """Forget what was recorded from a tick on, if the bout was restored to it; tracks then come of a rerun."""
        if tick == self._next:
            return
        first = self._header.first_tick
        if not first <= tick < self._next:
            self._lost = f"the bout was restored to tick {tick}, and it holds ticks {first} to {self._next}"
            return
        self._inputs = [each for each in self._inputs if each.tick < tick]
        self._events = [each for each in self._events if each.tick < tick]
        self._next, self._track_recorder = tick, None


class _Ending(NamedTuple):
    """How a record ends: what it says of its end, the inputs that no tick has taken, and the state at hand."""

    told: End
    pending: tuple[Input, ...]
    final: Tracks


class _TrackingRecorder(Recorder):
    """Records where everything is, too, which takes as long again as the ticks themselves."""

    def __init__(self, bout: Bout) -> None:
        super().__init__(bout)
        self._track_recorder = TrackRecorder(bout)


PROGRESS_TICKS = 1024


def run(
    rules: Rules,
    bout: str,
    *,
    seed: int | None = None,
    tick_rate: int | None = None,
    progress: Callable[[int, int], None] | None = None,
    watch: Observer | None = None,
) -> Chronicle:
    """The chronicle of one of the book's bouts, run for its whole length.

    `seed` and `tick_rate` take the place of the book's own. `progress` is called now and then with the ticks run and
    the ticks in all; an observer may watch.
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


def check_whole(chronicle: Chronicle) -> None:
    """A record that is run again must start at its bout's first tick. Raises ChronicleError."""
    first = chronicle.header.first_tick
    if first != 0:
        raise ChronicleError(
            f"this chronicle begins at tick {first}; join it to the record of the ticks before, then run it"
        )


def rerun(chronicle: Chronicle, watch: Observer | None = None, *, rules: Rules | None = None) -> Chronicle:
    """The same bout again, from the recorded rules, seed and inputs alone; an observer may watch it.

    With other `rules` it is what these make of the same seed and inputs; a script is then theirs, by its name.
    Raises BoutError where other rules do not take its inputs, and ChronicleError for a record that does not start at
    the bout's first tick.
    """
    return _rerun(chronicle, watch, rules, Recorder)


def _rerun(
    chronicle: Chronicle, watch: Observer | None, rules: Rules | None, recorder_type: type[Recorder]
) -> Chronicle:
    check_whole(chronicle)
    header = chronicle.header
    under = chronicle.rules if rules is None else rules
    if header.script is None:
        bout = Bout(under, arena=header.arena, seed=header.seed, tick_rate=header.tick_rate)
    else:
        bout = Bout.scripted(under, header.script, seed=header.seed, tick_rate=header.tick_rate)
    recorder = recorder_type(bout)
    if watch is not None:
        bout.watch(watch)
    told = [each for each in chronicle.inputs if each.source == "host"]
    for given in told:
        while bout.tick < min(given.tick, chronicle.end.ticks):
            bout.step()
        bout.give(given)
    while bout.tick < chronicle.end.ticks and (rules is None or not bout.over):
        bout.step()
    return recorder.chronicle()
