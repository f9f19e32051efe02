"""What a bout was told and what came of it, as one value."""

from __future__ import annotations

import platform
from functools import cached_property
from typing import TYPE_CHECKING, Any

import msgspec
import numba
import numpy as np

from emberwound._version import __version__
from emberwound.bout.scores import BoardRow
from emberwound.rulebook import Rulebook
from emberwound.vocabulary.errors import ChronicleError

if TYPE_CHECKING:
    from emberwound.bout import Bout
    from emberwound.bout.listeners import Observer
    from emberwound.chronicle.tracks import Tracks
    from emberwound.rulebook.book import Steps
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input

FORMAT = "emberwound chronicle"
FORMAT_VERSION = 1


class Header(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="header"):
    """All that is needed to run the bout again, and what it ran with."""

    format: str = FORMAT
    version: int = FORMAT_VERSION
    arena: str
    script: str | None
    seed: int
    tick_rate: int
    first_tick: int
    source: str
    rules_hash: str
    steps: dict[str, str]
    libraries: dict[str, str]
    rules: dict[str, Any]

    @classmethod
    def of(cls, bout: Bout) -> Header:
        """The header for what a bout does from now on."""
        return cls(
            arena=bout.arena,
            script=bout.script,
            seed=bout.seed,
            tick_rate=bout.tick_rate,
            first_tick=bout.tick,
            source=bout.rules.source,
            rules_hash=bout.rules.hash,
            steps=bout.rules.step_versions,
            libraries={
                "emberwound": __version__,
                "python": platform.python_version(),
                "numpy": np.__version__,
                "numba": numba.__version__,
                "processor": platform.machine(),
            },
            rules=bout.rules.canonical(),
        )


class End(msgspec.Struct, frozen=True, kw_only=True, tag_field="type", tag="end"):
    """The last line: ticks run since the bout began, the digest of the state after them, and the board then."""

    ticks: int
    digest: str
    board: tuple[BoardRow, ...] = ()


class Chronicle:
    """A recorded bout: `header`, `inputs` and `events` in order, `end`. Two with the same four are equal."""

    def __init__(
        self, header: Header, inputs: tuple[Input, ...], events: tuple[Event, ...], end: End, tracks: Tracks | None
    ) -> None:
        self.header = header
        self.inputs = inputs
        self.events = events
        self.end = end
        self.steps: Steps = {}
        if tracks is not None:
            self.tracks = tracks

    @cached_property
    def rules(self) -> Rulebook:
        """The rulebook that the bout ran by. Raises ChronicleError when it names own steps that were not given."""
        given = {name: version for name, (_, version) in self.steps.items()}
        if any(given.get(name) != version for name, version in self.header.steps.items()):
            needed = ", ".join(f"{name} {version}" for name, version in self.header.steps.items())
            had = ", ".join(f"{name} {version}" for name, version in given.items()) or "none"
            raise ChronicleError(f"the chronicle ran with the own steps {needed}; load it with them (given: {had})")
        return Rulebook.from_canonical(self.header.rules, self.header.source, self.steps)

    @cached_property
    def tracks(self) -> Tracks:
        """Where everything was after each tick. One read from a file is run again for them.

        Raises ChronicleError when running it again does not give the recorded events.
        """
        return self.completed().tracks

    def completed(self, watch: Observer | None = None) -> Chronicle:
        """The same record, run again: with its tracks, and its end where that was lost. An observer may watch.

        Raises ChronicleError when running it again does not give the recorded events.
        """
        from emberwound.chronicle.runs import rerun  # noqa: PLC0415 (running needs chronicles)

        again = rerun(self, watch)
        if again.events != self.events:
            made = self.header.libraries
            raise ChronicleError(
                "running the chronicle again gives other events than it records; it was made with "
                + ", ".join(f"{name} {version}" for name, version in made.items())
            )
        return again

    def show(self, observer: Observer) -> None:
        """Run it again for an observer; the tracks of that run are kept.

        Raises ChronicleError when running it again does not give the recorded events.
        """
        again = self.completed(observer)
        self.__dict__.setdefault("tracks", again.tracks)

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
        return Chronicle(mine, inputs, events, later.end, self.tracks.join(later.tracks))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Chronicle) and self._content() == other._content()

    __hash__ = None  # type: ignore[assignment]

    def _content(self) -> tuple[object, ...]:
        return (self.header, self.inputs, self.events, self.end)

    def __repr__(self) -> str:
        name = self.header.script or self.header.arena
        return f"<Chronicle of {name}: {self.seconds:g} s, {len(self.inputs)} inputs, {len(self.events)} events>"
