"""What tests of your own rulebooks need: how many hits kill, and whether a bout still goes as a recorded one did.

With pytest the fixtures `rulebook`, `bout` and `chronicle` come along, see docs/testing.md.
"""

from __future__ import annotations

from math import isclose
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.chronicle import Chronicle, load_chronicle
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import Cue, CueSkipped, Event

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
    Raises AssertionError with the first difference, ChronicleError for a golden one of another bout or that cannot be
    read, and TypeError for what is neither a chronicle nor a file.
    """
    __tracebackhide__ = True
    if isinstance(golden, str | Path):
        name, expected = Path(golden).name, load_chronicle(golden)
    elif isinstance(golden, Chronicle):
        name, expected = "the golden chronicle", golden
    else:
        raise TypeError(f"golden: give a chronicle, or the file of one; got {golden!r}")
    _check_subject(chronicle, expected, name)
    if chronicle.header.source != expected.header.source:
        name += f" (of {expected.header.source})"
    _compare("input", chronicle.inputs, expected.inputs, name)
    same_cues = chronicle.header.rules.get("cues") == expected.header.rules.get("cues")
    _compare("event", _counting(chronicle.events, cues=same_cues), _counting(expected.events, cues=same_cues), name)
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


def _compare(
    what: str, found: Sequence[Event] | Sequence[Input], golden: Sequence[Event] | Sequence[Input], name: str
) -> None:
    """Raise AssertionError at the first of two lists that is not alike."""
    __tracebackhide__ = True
    for index in range(max(len(found), len(golden))):
        mine = found[index] if index < len(found) else None
        theirs = golden[index] if index < len(golden) else None
        if mine is None or theirs is None or type(mine) is not type(theirs):
            raise AssertionError(
                _parting(what, mine or theirs, name, f"{_called(theirs)} there", f"{_called(mine)} here")
            )
        differing = _first_difference(msgspec.to_builtins(theirs), msgspec.to_builtins(mine), "")
        if differing is not None:
            key, before, now = differing
            where = f"{_called(mine)}, {key}"
            raise AssertionError(_parting(what, theirs, name, f"{where}: {before!r} there", f"{now!r} here"))


def _parting(what: str, at: Any, name: str, theirs: str, mine: str) -> str:
    when = f"at {at.time:.3f} s (tick {at.tick})" if isinstance(at, Event) else f"in tick {at.tick}"
    return f"this bout and {name} part {when}, at the first {what} that differs:\n  {theirs}, {mine}"


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
