"""What tests of your own rulebooks need: how many hits kill, and whether a bout still goes as a recorded one did.

With pytest the fixtures `emberwound_rulebook`, `emberwound_bout` and `emberwound_chronicle` come along, as
docs/testing.md says.
"""

from __future__ import annotations

from math import isclose
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from emberwound.chronicle import Chronicle
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import Cue, CueSkipped, Event, Wounded

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from emberwound.face import Rulebook
    from emberwound.study.wound import WoundReport
    from emberwound.vocabulary.orders import Input

__all__ = ["assert_kills", "assert_same_bout"]

MOST_HITS = 1000
"""So many hits are tried before an attack is said never to kill."""

CLOSE = 1e-6
"""Numbers nearer than this, or than this share of them, are the same: libraries round in their own ways."""

UNTOLD = {"seq", "cause", "steps"}
"""What counts events and explains ledgers, which unrelated changes of a book alter."""


def assert_kills(rules: Rulebook, attack: str, victim: str, *, hits: int, **how: Any) -> None:
    """Fail unless exactly so many hits of an attack kill a fresh fighter, one after another without a refill.

    `how` is as for `Rulebook.wound`: `hurtbox`, `hitbox`, `blast`, `guarded`, `distance`, `charge`, `combo_count`, and
    the `pools` before the first hit. Raises AssertionError with every hit's ledger, RulebookError for names that the
    book does not have, and ValueError for `hits` that are no whole number from 1 up.
    """
    __tracebackhide__ = True
    if not isinstance(hits, int) or isinstance(hits, bool) or hits < 1:
        raise ValueError(f"hits: give a whole number from 1 up; got {hits!r}")
    reports: list[WoundReport] = []
    while len(reports) < MOST_HITS:
        report = rules.wound(attack, victim, **how)
        reports.append(report)
        if report.kills or report.before == report.after:
            break
        how["pools"] = report.after
    last = reports[-1]
    needed = f"kills in {_times(len(reports))}" if last.kills else f"does not kill in {_times(len(reports))}"
    if not last.kills and last.before == last.after:
        needed = f"never kills: {_times(len(reports) - 1)} later it takes nothing more"
    if not last.kills or len(reports) != hits:
        told = "\n".join(str(report) for report in reports[: max(hits, 3)])
        raise AssertionError(f"{attack} was to kill {victim} in {_times(hits)}; it {needed}\n{told}")


def assert_same_bout(chronicle: Chronicle, golden: Chronicle | str | Path) -> None:
    """Fail unless a bout went as a golden one did: the same inputs, and the same events at the same times.

    `golden` is a chronicle or the file of one. Numbers may differ by a millionth. What explains a ledger, and the
    numbers of events, do not count; cues do if both books have the same. So it holds with other versions of the
    libraries, and when the book changes in what the bout does not use.
    Raises AssertionError with the earliest difference, be it of an input or an event, ChronicleError for a golden one
    of another bout or that cannot be read, and TypeError for what is neither a chronicle nor a file.
    """
    __tracebackhide__ = True
    if isinstance(golden, str | Path):
        name, expected = Path(golden).name, Chronicle.load(golden)
    elif isinstance(golden, Chronicle):
        name, expected = "the golden chronicle", golden
    else:
        raise TypeError(f"golden: give a chronicle, or the file of one; got {golden!r}")
    _check_subject(chronicle, expected, name)
    if chronicle.header.source != expected.header.source:
        name += f" (of {expected.header.source})"
    same_cues = chronicle.header.rules.get("cues") == expected.header.rules.get("cues")
    mine, theirs = (_counting(each.events, cues=same_cues) for each in (chronicle, expected))
    found = [_parting_of("input", chronicle.inputs, expected.inputs), _parting_of("event", mine, theirs)]
    first = min((each for each in found if each is not None), key=lambda each: each.tick, default=None)
    if first is not None:
        raise AssertionError(first.told(name))
    if chronicle.end.ticks != expected.end.ticks:
        raise AssertionError(f"{name} ran {expected.end.ticks} ticks, this bout {chronicle.end.ticks}")


def _times(count: int) -> str:
    return f"{count} hit{'' if count == 1 else 's'}"


def _check_subject(chronicle: Chronicle, golden: Chronicle, name: str) -> None:
    """Refuse to compare records of different bouts. Raises ChronicleError."""
    for what in ("script", "arena", "tick_rate", "seed"):
        mine, theirs = getattr(chronicle.header, what), getattr(golden.header, what)
        if mine != theirs:
            raise ChronicleError(
                f"{name} is of another bout: its {'bout' if what == 'script' else what} is {theirs!r} of "
                f"{golden.header.source}, and this one's is {mine!r} of {chronicle.header.source}"
            )


def _counting(events: Iterable[Event], *, cues: bool) -> list[Event]:
    return [event for event in events if cues or not isinstance(event, Cue | CueSkipped)]


class _Parting(NamedTuple):
    """Where two records part: what differs, and how the two have it."""

    what: str
    at: Any
    theirs: str
    mine: str
    lines: tuple[str, ...] = ()

    @property
    def tick(self) -> int:
        """The tick of it."""
        return int(self.at.tick)

    def told(self, name: str) -> str:
        """As a sentence, with the ledgers of both where wounds differ."""
        at = self.at
        when = f"at {at.time:.3f} s (tick {at.tick})" if isinstance(at, Event) else f"in tick {at.tick}"
        first = f"this bout and {name} part {when}, at the first {self.what} that differs:"
        return "\n  ".join([first, f"{self.theirs}, {self.mine}", *self.lines])


def _parting_of(
    what: str, found: Sequence[Event] | Sequence[Input], golden: Sequence[Event] | Sequence[Input]
) -> _Parting | None:
    """Where the first of two lists is not alike; None if all are. What comes earlier counts, where one has it alone."""
    for index in range(max(len(found), len(golden))):
        mine = found[index] if index < len(found) else None
        theirs = golden[index] if index < len(golden) else None
        if mine is None or theirs is None or type(mine) is not type(theirs):
            at = min((each for each in (mine, theirs) if each is not None), key=lambda each: each.tick)
            return _Parting(what, at, f"{_called(theirs)} there", f"{_called(mine)} here")
        differing = _first_difference(msgspec.to_builtins(theirs), msgspec.to_builtins(mine), "")
        if differing is not None:
            key, before, now = differing
            ledgers = () if not isinstance(mine, Wounded) or not isinstance(theirs, Wounded) else _both(theirs, mine)
            at = min((mine, theirs), key=lambda each: each.tick)
            return _Parting(what, at, f"{_called(mine)}, {key}: {before!r} there", f"{now!r} here", ledgers)
    return None


def _both(theirs: Wounded, mine: Wounded) -> tuple[str, str]:
    """The ledgers of two wounds, a line each."""

    def line(wound: Wounded) -> str:
        steps = [f"{step.rule} {step.after:g}" for step in wound.ledger.steps]
        return f"{' -> '.join(steps)}; {wound.vital_left:g} of {wound.vital_max:g} left"

    return (f"there: {line(theirs)}", f"here:  {line(mine)}")


def _called(each: Event | Input | None) -> str:
    """An event or an input in a few words."""
    if each is None:
        return "nothing"
    words = [str(each.__struct_config__.tag), *([f"of {each.seat}"] if each.seat else [])]
    by = getattr(each, "by", None)
    return " ".join([*words, *([f"by {by}"] if by else [])])


def _first_difference(golden: Any, found: Any, key: str) -> tuple[str, Any, Any] | None:
    """The first key at which two plain values differ, with both."""
    if isinstance(golden, dict) and isinstance(found, dict):
        for name in dict.fromkeys((*golden, *found)):
            if name not in UNTOLD:
                inner = _first_difference(golden.get(name), found.get(name), f"{key}.{name}" if key else name)
                if inner is not None:
                    return inner
        return None
    if isinstance(golden, list | tuple) and isinstance(found, list | tuple) and len(golden) == len(found):
        pairs = enumerate(zip(golden, found, strict=True))
        inside = (_first_difference(one, other, f"{key}[{index}]") for index, (one, other) in pairs)
        return next((each for each in inside if each is not None), None)
    numbers = isinstance(golden, float | int) and isinstance(found, float | int)
    same = isclose(golden, found, rel_tol=CLOSE, abs_tol=CLOSE) if numbers else golden == found
    return None if same else (key, golden, found)
