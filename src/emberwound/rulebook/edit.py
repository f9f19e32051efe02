"""A rulebook with some of its values changed."""

from __future__ import annotations

import tomllib
from typing import TYPE_CHECKING, Any

from emberwound.vocabulary.errors import RulebookError, shortened
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Mapping


def edited(tables: dict[str, Any], changes: Mapping[str, Any], source: str) -> dict[str, Any]:
    """The tables with each dotted key set, and those made that are not there; None takes a key away.

    A row of a list goes by its `name`. `tables` is changed. Raises RulebookError for a key that leads through what is
    no table.
    """
    for key, value in changes.items():
        *path, last = key.split(".") if isinstance(key, str) else [""]
        place: Any = tables
        for step in path:
            place = place.setdefault(step, {}) if isinstance(place, dict) else _row(place, step)
        if not isinstance(place, dict) or not last:
            seen = "a key that leads through what is no table, or no row of that name" if last else "no key"
            where = key if isinstance(key, str) else shortened(key)
            raise RulebookError([Problem(source, where, seen, "give a key such as attacks.flare.damage")])
        if value is None:
            place.pop(last, None)
        else:
            place[last] = list(value) if isinstance(value, tuple) else value
    return tables


def _row(rows: Any, name: str) -> Any:
    """The first row of that name in a list of tables, such as of reactions; None when there is none."""
    if not isinstance(rows, list):
        return None
    return next((row for row in rows if isinstance(row, dict) and row.get("name") == name), None)


def read_change(text: str) -> tuple[str, Any]:
    """A change written KEY=VALUE, the value as in TOML; without one the key is taken away. Raises ValueError."""
    key, equals, written = text.partition("=")
    if not equals or not key.strip():
        raise ValueError("give KEY=VALUE, such as attacks.flare.damage=12")
    if "\n" in text.strip() or "\r" in text.strip():
        raise ValueError("a change is one line; give each change an option of its own, or a comma between them")
    if not written.strip():
        return key.strip(), None
    try:
        return key.strip(), tomllib.loads(f"value = {written}")["value"]
    except tomllib.TOMLDecodeError:
        return key.strip(), written.strip()
