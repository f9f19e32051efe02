"""The one road from TOML text to validated models, with every problem reported at once."""

from __future__ import annotations

import re
import tomllib
from decimal import Decimal
from pathlib import Path
from typing import TYPE_CHECKING, Any

from pydantic import ValidationError

from emberwound.rulebook.checks import crosscheck
from emberwound.rulebook.checks.reading import entries_of, parse_entries
from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import dotted, place_of, table_keys, value_at
from emberwound.rulebook.templates import Expanded
from emberwound.vocabulary.errors import RulebookError, nearest_name, shortened
from emberwound.vocabulary.limits import MOST_BOOK_BYTES, MOST_LEVELS
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from pydantic_core import ErrorDetails


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


def read_toml(text: str, file: str) -> dict[str, Any]:
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


def check_depth(tables: dict[str, Any], file: str) -> None:
    """Refuse tables and lists nested deeper than any book needs. Raises RulebookError."""
    level: list[Any] = [tables]
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


def validate(raw: dict[str, Any], file: str, steps: Sequence[str] = ()) -> tuple[Book, list[str]]:
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


def _model_problems(errors: Sequence[ErrorDetails], raw: dict[str, Any], file: str) -> list[Problem]:
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
    """Whether a table that could have been something else is told of, and a key within it too."""
    return problem.seen == "a table" and any(key.startswith(f"{problem.key}.") for key in problems)


ALTERNATIVES = ("Muzzle",)
"""Tables that stand where something else may stand too: pydantic puts their names into the path."""


def _model_problem(error: ErrorDetails, raw: dict[str, Any], file: str) -> Problem:
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


def seen_value(value: Any) -> str:
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
