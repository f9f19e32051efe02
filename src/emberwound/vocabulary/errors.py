"""The errors a user can meet, and one thing wrong in a rulebook, said so that it can be mended.

    EmberwoundError
    ├── RulebookError    a rulebook cannot be read, or says what cannot be
    ├── BoutError        a call to a running bout cannot be carried out
    │   └── ListenerError    a listener raised; the tick itself is whole
    ├── ChronicleError   a chronicle cannot be read, or does not fit
    └── OutputError      a result cannot be written where it was asked for

Each message reads: name, value seen, rule broken, what to do.
"""

from __future__ import annotations

import difflib
from dataclasses import dataclass
from itertools import islice
from typing import TYPE_CHECKING

from emberwound.vocabulary.limits import MOST_PROBLEMS_TOLD, listed

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from emberwound.vocabulary.events import Event


@dataclass(frozen=True, slots=True)
class Problem:
    """Where a rulebook is wrong, what was seen there, what is allowed, and the nearest known name.

    `finding` is the name by which `emberwound check` knows it, of those it has a name for.
    """

    file: str
    key: str
    seen: str
    allowed: str
    nearest: str | None = None
    finding: str | None = None

    def __str__(self) -> str:
        guess = f" (did you mean '{self.nearest}'?)" if self.nearest else ""
        place = "".join(f"{each}: " for each in (self.file, self.key) if each)
        return f"{place}{self.seen}{guess}; {self.allowed}"


LONGEST_SEEN = 80
LONGEST_NAME = 200
MOST_COMPARED = 500
"""A wrong name is compared with so many known ones: each comparison takes a hundredth of a millisecond."""


class EmberwoundError(Exception):
    """Whatever this library refuses; catch it to catch all of them."""


class RulebookError(EmberwoundError):
    """A rulebook that cannot be used, or a question that it has no answer to; `problems` lists every reason found.

    `asked` says that the question is wrong, and not the book.
    """

    def __init__(self, problems: Sequence[Problem], *, asked: bool = False) -> None:
        self.problems, self.asked = tuple(problems), asked
        count = len(self.problems)
        head = "1 problem" if count == 1 else f"{count} problems"
        told = [str(problem) for problem in self.problems[:MOST_PROBLEMS_TOLD]]
        if count > len(told):
            told.append(f"and {count - len(told)} more")
        lines = [f"the rulebook has {head}:", *(f"  {problem}" for problem in told)]
        super().__init__("\n".join(told if asked else lines))

    def __reduce__(self) -> tuple[object, ...]:
        return _asked if self.asked else type(self), (self.problems,)


def _asked(problems: Sequence[Problem]) -> RulebookError:
    return RulebookError(problems, asked=True)


class BoutError(EmberwoundError):
    """A call to a bout that cannot be carried out; the bout is as it was before the call."""


class ListenerError(BoutError):
    """A listener raised. The tick it heard of is whole; `events` holds what the call had gathered so far."""

    def __init__(self, message: str, events: Sequence[Event]) -> None:
        self.events = tuple(events)
        super().__init__(message)

    def __reduce__(self) -> tuple[object, ...]:
        return type(self), (str(self), self.events)


class ChronicleError(EmberwoundError):
    """A chronicle that cannot be read, joined or run again."""


class OutputError(EmberwoundError):
    """A file or folder that cannot be written."""


def nearest_name(wrong: str, known: Iterable[str]) -> str | None:
    """The known name most like `wrong`, or None when none is alike."""
    if len(wrong) > LONGEST_NAME:
        return None
    lowered = {name.lower(): name for name in islice(known, MOST_COMPARED)}
    found = difflib.get_close_matches(wrong.lower(), lowered, n=1, cutoff=0.6)
    return lowered[found[0]] if found else None


def unknown_name(what: str, wrong: object, known: Iterable[str]) -> str:
    """A sentence for a name that does not exist: what was asked, the nearest name, and all that are allowed."""
    names = list(known)
    hint = nearest_name(wrong, names) if isinstance(wrong, str) else None
    guess = f" (did you mean '{hint}'?)" if hint else ""
    return f"there is no {what} {shortened(wrong)}{guess}; known: {listed(names)}"


def shortened(value: object) -> str:
    """A value as it was seen, cut to a readable length."""
    try:
        text = repr(value)
    except ValueError:  # a whole number of more digits than Python prints
        text = "a number of thousands of digits"
    return text if len(text) <= LONGEST_SEEN else f"{text[: LONGEST_SEEN - 3]}..."
