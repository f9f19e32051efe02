"""The index of every public name: the page and the line that document it."""

from __future__ import annotations

import importlib
import inspect
import re
from pathlib import Path
from typing import TYPE_CHECKING, Any

import reference_of_code
import reference_of_commands
from emberwound import events
from emberwound.rulebook import models
from emberwound.rulebook.outline import table_keys
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Iterator

DOCS = Path(__file__).parent.parent / "docs"
ROOMS = ("", ".study", ".views", ".records", ".draw", ".testing")
SHARED = {"HitOverrides": "OwnedHitOptions", "HitOptions": "OwnedHitOptions"}
"""Tables whose keys are told once, where they have the same meaning."""

Place = tuple[str, int, str]
"""A page, a line of it, and the anchor above it."""


def table() -> str:
    """A row a name: the page and the line that document it."""
    known = documented()
    rows = [_row(name, known[name]) for name in sorted(public_names(), key=str.lower) if name in known]
    return "\n".join(["| name | documented in |", "|---|---|", *rows])


def _row(name: str, place: Place) -> str:
    page, line, anchor = place
    return f"| `{name}` | [{page}, line {line}]({page}#{anchor}) |"


def public_names() -> list[str]:
    """Every name that a user may write: of the library, events, reasons, keys of a rulebook, and commands."""
    found = (_names_of_rooms, _names_of_events, _names_of_reasons, _names_of_keys, _names_of_commands)
    return list(dict.fromkeys(name for names in found for name in names()))


def _names_of_rooms() -> Iterator[str]:
    for room in ROOMS:
        home = importlib.import_module(f"emberwound{room}")
        for name in home.__all__:
            value = getattr(home, name)
            if name.startswith("__") or inspect.ismodule(value) or _is_table(value):
                continue
            if room and name in importlib.import_module("emberwound").__all__:
                continue
            yield f"ew{room}.{name}"
            if inspect.isclass(value) and not issubclass(value, Exception | Reason):
                yield from (f"ew{room}.{name}.{member}" for member in reference_of_code.member_names(value))


def _is_table(value: object) -> bool:
    """Whether it is a table of a rulebook: what it holds are keys."""
    return inspect.isclass(value) and issubclass(value, models.Table)


def _names_of_events() -> Iterator[str]:
    kinds: list[Any] = [events.Event, *events.Event.__subclasses__()]
    for kind in kinds:
        yield f"ew.events.{kind.__name__}"
        own = set(kind.__struct_fields__) - (set(events.Event.__struct_fields__) if kind is not events.Event else set())
        yield from (f"ew.events.{kind.__name__}.{field}" for field in sorted(own))


def _names_of_reasons() -> Iterator[str]:
    yield from (f"reason {reason.value}" for reason in Reason)


def _names_of_keys() -> Iterator[str]:
    for table_ in _tables(models.Table):
        for key in table_keys(table_):
            yield f"key {_told_in(table_, key)}.{key}"


def _names_of_commands() -> Iterator[str]:
    for name, call in reference_of_commands.every_command():
        yield name
        yield from (f"{name} {each.called}" for each in reference_of_commands.parameters(call))


def _tables(base: Any) -> list[Any]:
    found = [each for child in base.__subclasses__() for each in (child, *_tables(child))]
    return list(dict.fromkeys(each for each in found if each is not models.Book))


def _told_in(table_: Any, key: str) -> str:
    """The table whose part of the reference has a key: its own, or that of what it shares the key with."""
    told = documented_keys()
    names = [SHARED.get(each.__name__, each.__name__) for each in (table_, *table_.__mro__)]
    below = [child.__name__ for child in _tables(table_)]
    return str(next((name for name in (*names, *below) if (name, key) in told), names[0]))


def documented() -> dict[str, Place]:
    """Where each name is documented."""
    keys = {f"key {table_}.{key}": place for (table_, key), place in documented_keys().items()}
    return {
        **_below_headings("api.md"),
        **_below_headings("events.md", "ew.events."),
        **_commands(),
        **_reasons(),
        **keys,
    }


def _below_headings(page: str, prefix: str = "") -> dict[str, Place]:
    found: dict[str, Place] = {}
    heading = ""
    for number, line, anchor in _lines(page):
        if match := re.match(r"### `(.+)`", line):
            heading = prefix + match[1]
            found.setdefault(heading, (page, number, anchor))
        elif match := re.match(r"#### `\w+\.(\w+)`", line) or re.match(r"\| `(\w+)` \|", line):
            found.setdefault(f"{heading}.{match[1]}", (page, number, anchor))
    return found


def _commands() -> dict[str, Place]:
    found: dict[str, Place] = {}
    command = ""
    for number, line, anchor in _lines("commands.md"):
        if match := re.match(r"## `(.+)`", line):
            command = match[1]
            found[command] = ("commands.md", number, anchor)
        elif match := re.match(r"\| `([\w-]+)", line):
            found[f"{command} {match[1]}"] = ("commands.md", number, anchor)
    return found


def _reasons() -> dict[str, Place]:
    found: dict[str, Place] = {}
    for number, line, anchor in _lines("bouts.md"):
        if anchor in ("reasons", "a-hit-that-takes-no-health"):
            for word in re.findall(r"`(\w+)`", line):
                found.setdefault(f"reason {word}", ("bouts.md", number, anchor))
    return found


def documented_keys() -> dict[tuple[str, str], Place]:
    """Where each key of a table of the rulebook is documented."""
    found: dict[tuple[str, str], Place] = {}
    told: list[str] = []
    for number, line, anchor in _lines("rulebook.md"):
        if match := re.match(r"<!-- made: keys (.+) -->", line):
            told = [name.partition("-")[0] for name in match[1].split()]
        elif match := re.match(r"\| `(\w+)` \|", line):
            for name in told:
                found.setdefault((name, match[1]), ("rulebook.md", number, anchor))
    return found


def _lines(page: str) -> Iterator[tuple[int, str, str]]:
    """Every line of a page outside of code, with its number and the anchor of the heading above it."""
    anchor, in_code = "", False
    for number, line in enumerate((DOCS / page).read_text(encoding="utf-8").splitlines(), 1):
        in_code ^= line.startswith("```")
        if not in_code and (match := re.match(r"#+ (.+)", line)):
            anchor = re.sub(r"[\s]+", "-", re.sub(r"[^\w\s-]", "", match[1].lower()).strip())
        if not in_code:
            yield number, line, anchor
