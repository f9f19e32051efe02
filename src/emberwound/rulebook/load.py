"""The one road from TOML text to validated models, with every problem, and its line, reported at once."""

from __future__ import annotations

import re
import tomllib
from collections import defaultdict
from decimal import Decimal
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from pydantic import ValidationError

from emberwound.rulebook.checks import crosscheck
from emberwound.rulebook.checks.reading import entries_of, parse_entries
from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import dotted, place_of, table_keys, value_at
from emberwound.rulebook.templates import Expanded
from emberwound.vocabulary.errors import Problem, RulebookError, nearest_name, shortened
from emberwound.vocabulary.limits import MOST_BOOK_BYTES, MOST_LEVELS

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from pydantic_core import ErrorDetails

    from emberwound.rulebook.outline import Key


_TOKEN = re.compile(
    r"""(?P<skip>[ \t\r]+|\#[^\n]*)|(?P<newline>\n)
    |(?P<text>\"{3}.*?\"{3,5}|'{3}.*?'{3,5}|"(?:\\.|[^"\\\n])*"|'[^'\n]*')
    |(?P<sign>[\[\]{}=,.])|(?P<bare>[^\s\[\]{}=,.\#"']+)""",
    re.VERBOSE | re.DOTALL,
)


class _Token(NamedTuple):
    sort: str
    text: str
    line: int


@lru_cache(maxsize=16)
def lines_of(text: str) -> dict[str, int]:
    """The line of every key of a TOML text, counted from 1; keys are dotted, with the places of lists: `a.b[0].c`.

    The text is taken as valid.
    """
    return _Reader(text).read()


def line_of(text: str, key: str) -> int | None:
    """The line of a key, or of the table that it is missing from; None where the text has neither."""
    lines = lines_of(text)
    while key and key not in lines:
        key = re.sub(r"(\.[^.\[\]]+|\[\d+\]|^[^.\[\]]+)$", "", key)
    return lines.get(key)


class _Reader:
    """Walks the tokens of a text and notes where each key stands."""

    def __init__(self, text: str) -> None:
        self._tokens = list(_tokens(text))
        self._at = 0
        self._lines: dict[str, int] = {}
        self._rows: defaultdict[str, int] = defaultdict(lambda: -1)

    def read(self) -> dict[str, int]:
        """All keys, each with its line."""
        table: Key = ()
        while self._now.sort != "end":
            if self._now.sort == "newline":
                self._at += 1
            elif self._now.text == "[":
                table = self._header()
            else:
                self._pair(table)
        return self._lines

    @property
    def _now(self) -> _Token:
        return self._tokens[min(self._at, len(self._tokens) - 1)]

    def _header(self) -> Key:
        line = self._now.line
        is_list = self._tokens[self._at + 1].text == "["
        brackets = 2 if is_list else 1
        self._at += brackets
        key = self._in_rows(self._name())
        self._at += brackets
        if is_list:
            self._rows[dotted(key)] += 1
            key = (*key, self._rows[dotted(key)])
        self._note(key, line)
        return key

    def _in_rows(self, names: list[str]) -> Key:
        """The names of a header, each list among them at its newest row."""
        key: Key = ()
        for index, name in enumerate(names):
            key = (*key, name)
            if index < len(names) - 1 and self._rows[dotted(key)] >= 0:
                key = (*key, self._rows[dotted(key)])
        return key

    def _name(self) -> list[str]:
        names: list[str] = []
        while self._now.sort in ("bare", "text") or self._now.text == ".":
            if self._now.text != ".":
                names.append(self._now.text.strip("\"'"))
            self._at += 1
        return names

    def _pair(self, table: Key) -> None:
        line = self._now.line
        key: Key = (*table, *self._name())
        self._at += 1
        self._note(key, line)
        self._value(key)

    def _value(self, key: Key) -> None:
        opened = self._now.text
        self._at += 1
        if opened == "{":
            while not self._closes("}"):
                self._pair(key)
        elif opened == "[":
            place = 0
            while not self._closes("]"):
                self._note((*key, place), self._now.line)
                self._value((*key, place))
                place += 1
        else:
            while self._now.text == ".":  # a number with a point is three tokens
                self._at += 2

    def _closes(self, sign: str) -> bool:
        """Whether a table or list ends here; what only parts its entries is passed over."""
        while self._now.sort == "newline" or self._now.text == ",":
            self._at += 1
        if self._now.text != sign and self._now.sort != "end":
            return False
        self._at += 1
        return True

    def _note(self, key: Key, line: int) -> None:
        for length in range(len(key), 0, -1):
            self._lines.setdefault(dotted(key[:length]), line)


def _tokens(text: str) -> Iterator[_Token]:
    line, at = 1, 0
    while match := _TOKEN.match(text, at):
        sort, found = match.lastgroup or "", match.group()
        if sort != "skip":
            yield _Token(sort, found, line)
        line += found.count("\n")
        at = match.end()
    yield _Token("end", "", line)


def read_file(path: str | Path) -> str:
    """The text of a rulebook file. Raises RulebookError when there is none, or it is no text."""
    path = Path(path)
    try:
        return _text_of(path)
    except FileNotFoundError:
        beside = [each.name for each in path.parent.glob("*.toml")] if path.parent.is_dir() else []
        nearest = nearest_name(path.name, sorted(beside))
        raise RulebookError(
            [Problem(printable(path), "", "there is no such file", "give a TOML file", nearest)]
        ) from None
    except UnicodeDecodeError as error:
        seen = f"byte {error.start} is no UTF-8 text"
        raise RulebookError([Problem(printable(path), "", seen, "a rulebook is a TOML file in UTF-8")]) from None
    except (OSError, ValueError) as error:
        seen = str(error.strerror if isinstance(error, OSError) else error)
        raise RulebookError([Problem(printable(path), "", seen, "give a TOML file that can be read")]) from None


def _text_of(path: Path) -> str:
    """The text of a file, or of what is read like one, up to the size of a book. Raises OSError, ValueError."""
    if path.is_char_device():
        raise ValueError("a device")
    with path.open("rb") as file:
        data = file.read(MOST_BOOK_BYTES + 1)
    if len(data) > MOST_BOOK_BYTES:
        raise ValueError(f"more than {MOST_BOOK_BYTES >> 20} MiB")
    return data.decode("utf-8-sig").replace("\r\n", "\n")


def printable(path: Path) -> str:
    """A path as text that any file can hold: what is no letter of its name is a question mark."""
    return str(path).encode(errors="replace").decode()


def read_toml(text: str, file: str) -> dict[str, object]:
    """The raw tables of TOML text; numbers with a point stay exact decimals. Raises RulebookError."""
    try:
        tables = tomllib.loads(text, parse_float=Decimal)
    except RecursionError:
        raise RulebookError([Problem(file, "", *TOO_DEEP)]) from None
    except (ValueError, ArithmeticError) as error:
        place = re.search(r"\(at (.*)\)$", str(error))
        seen = re.sub(r" \(at .*\)$", "", str(error))
        if not isinstance(error, tomllib.TOMLDecodeError) or not seen:
            seen = "a number that cannot be read"
        where = place[1] if place else ""
        raise RulebookError([Problem(file, where, f"not valid TOML: {seen}", "fix the TOML syntax")]) from None
    check_depth(tables, file)
    return tables


TOO_DEEP = ("tables or lists within each other, too deep", f"allowed: {MOST_LEVELS} levels")


def check_depth(tables: dict[str, object], file: str) -> None:
    """Refuse tables and lists nested deeper than any book needs. Raises RulebookError."""
    level: list[dict[str, object] | list[object] | tuple[object, ...]] = [tables]
    for _ in range(MOST_LEVELS):
        level = [
            each
            for table in level
            for each in (table.values() if isinstance(table, dict) else table)
            if isinstance(each, dict | list | tuple)
        ]
        if not level:
            return
    raise RulebookError([Problem(file, "", *TOO_DEEP)])


def validate(raw: dict[str, object], file: str, steps: Sequence[str] = ()) -> tuple[Book, list[str]]:
    """The models of raw tables, which may name the own `steps`, and the keys of templates that nothing is like.

    Raises RulebookError with every problem.
    """
    expanded = Expanded(raw, file)
    raw, problems = expanded.tables, list(expanded.problems)
    book = None
    try:
        book = Book.model_validate(raw)
    except ValidationError as error:
        problems = [*problems, *_model_problems(error.errors(include_url=False), raw, file)]
    told = {problem.key for problem in problems}
    parsed = parse_entries(raw) if book is None else entries_of(book)
    problems += [problem for problem in crosscheck(parsed, file, steps) if problem.key not in told]
    if problems or book is None:
        raise RulebookError(expanded.told(problems))
    return book, expanded.unused()


def _model_problems(errors: Sequence[ErrorDetails], raw: dict[str, object], file: str) -> list[Problem]:
    problems: dict[str, Problem] = {}
    for error in errors:
        if not error["loc"]:
            problem = Problem(file, "", "a key that is no text", "keys are letters, digits, '_' and '-'")
            problems.setdefault(problem.key, problem)
        else:
            problem = _model_problem(error, raw, file)
            problems.setdefault(problem.key, problem)
    told = [problem for problem in problems.values() if not _is_told_within(problem, problems)]
    return told or list(problems.values())


def _is_told_within(problem: Problem, problems: Mapping[str, Problem]) -> bool:
    """Whether a table that could have been something else is reported, and a key within it too."""
    return problem.seen == "a table" and any(key.startswith(f"{problem.key}.") for key in problems)


ALTERNATIVES = ("Muzzle",)
"""Tables that stand where something else may stand too: pydantic puts their names into the path."""


def _model_problem(error: ErrorDetails, raw: dict[str, object], file: str) -> Problem:
    path = [step for step in error["loc"] if step not in ("[key]", *ALTERNATIVES)]
    if error["type"] == "extra_forbidden":
        _, _, table = place_of(Book, path[:-1])
        keys = list(table_keys(table)) if table else []
        name = str(path[-1])
        return Problem(file, dotted(path), "unknown key", f"allowed here: {', '.join(keys)}", nearest_name(name, keys))
    if error["loc"][-1] == "[key]":
        return Problem(file, dotted(path), f'the name "{path[-1]}"', place_name_rule())
    key, allowed, _ = place_of(Book, path)
    if error["type"] == "missing" and len(key) == len(path):
        return Problem(file, dotted(key), "missing", f"required; {allowed}")
    value = value_at(raw, key)
    if error["type"] == "literal_error" and isinstance(value, str):
        known = re.findall(r"'(\w+)'", error["ctx"]["expected"])
        return Problem(file, dotted(key), seen_value(value), allowed, nearest_name(value, known))
    return Problem(file, dotted(key), seen_value(value), allowed)


def place_name_rule() -> str:
    """What is allowed as the name of an entry."""
    return place_of(Book, ("fighters", "x", "route", 0))[1]


def seen_value(value: object) -> str:
    """A raw value as a reader of the file knows it, cut to a readable length."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, dict):
        return "a table"
    if isinstance(value, list):
        text = f"[{', '.join(seen_value(each) for each in value)}]"
    else:
        text = f'"{value}"' if isinstance(value, str) else shortened(value) if isinstance(value, int) else str(value)
    return text if len(text) <= 60 else f"{text[:57]}..."
