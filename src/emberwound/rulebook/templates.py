"""Entries that are like another: templates of what arenas repeat, and fighters like other fighters."""

from __future__ import annotations

import re
from dataclasses import replace
from typing import TYPE_CHECKING

from emberwound.rulebook.models import Checkpoint, Fighter, Hazard, Pickup, Wall
from emberwound.rulebook.outline import dotted, table_keys
from emberwound.vocabulary.errors import Problem, nearest_name, shortened
from emberwound.vocabulary.limits import MOST_LEVELS, listed

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

LIKE, TEMPLATES = "like", "templates"
PLACED = {"hazards": Hazard, "walls": Wall, "checkpoints": Checkpoint, "pickups": Pickup}
"""The tables of arenas that a template may stand for."""


class Expanded:
    """The tables of a book with everything that is like another written out, and the problems met on the way."""

    def __init__(self, tables: dict[str, object], file: str) -> None:
        self.file = file
        self.problems: list[Problem] = []
        self._from: dict[str, tuple[str, dict[str, object]]] = {}
        self._lost: set[str] = set()
        self._fighters: dict[str, tuple[object, int]] = {}
        self._templates = self._read_templates(tables.get(TEMPLATES, {}))
        self.used: set[tuple[str, str]] = set()
        self.tables = {key: table for key, table in tables.items() if key != TEMPLATES}
        arenas, fighters = tables.get("arenas"), tables.get("fighters")
        if isinstance(arenas, dict):
            self.tables["arenas"] = {name: self._arena(name, arena) for name, arena in arenas.items()}
        if isinstance(fighters, dict):
            self.tables["fighters"] = {name: self._fighter(name, fighters) for name in fighters}

    def told(self, problems: Iterable[Problem]) -> list[Problem]:
        """Problems, each where it was written: in the template or the fighter that gave it.

        What follows from a `like` that leads nowhere is left out.
        """
        own = set(self.problems)
        found = [
            problem if problem in own else self._at_source(problem)
            for problem in problems
            if problem in own or self._lost.isdisjoint(_places(problem.key))
        ]
        return list(dict.fromkeys(found))

    def _at_source(self, problem: Problem) -> Problem:
        for placed, (source, own) in self._from.items():
            rest = problem.key.removeprefix(f"{placed}.")
            if rest != problem.key and re.split(r"[.\[]", rest)[0] not in own:
                return self._at_source(replace(problem, key=f"{source}.{rest}"))
        return problem

    def unused(self) -> list[str]:
        """The templates that nothing is like."""
        every = [(section, name) for section, entries in self._templates.items() for name in entries]
        return [f"{TEMPLATES}.{section}.{name}" for section, name in every if (section, name) not in self.used]

    def _read_templates(self, raw: object) -> dict[str, dict[str, dict[str, object]]]:
        if not isinstance(raw, dict):
            self._report((TEMPLATES,), "no table", "allowed: tables of hazards, walls, checkpoints and pickups")
            return {}
        found: dict[str, dict[str, dict[str, object]]] = {}
        for section, entries in raw.items():
            if section not in PLACED or not isinstance(entries, dict):
                allowed = f"allowed: tables of {', '.join(PLACED)}"
                self._report((TEMPLATES, section), "no such templates", allowed, nearest_name(section, PLACED))
                continue
            found[section] = {name: self._template(section, name, entry) for name, entry in entries.items()}
        return found

    def _template(self, section: str, name: str, entry: object) -> dict[str, object]:
        if not isinstance(entry, dict):
            self._report((TEMPLATES, section, name), shortened(entry), "allowed: a table")
            return {}
        keys = table_keys(PLACED[section])
        for key in entry:
            if key not in keys:
                allowed = f"allowed here: {', '.join(keys)}"
                self._report((TEMPLATES, section, name, key), "unknown key", allowed, nearest_name(key, keys))
        return {key: value for key, value in entry.items() if key in keys}

    def _arena(self, name: str, arena: object) -> object:
        if not isinstance(arena, dict):
            return arena
        return {
            key: {each: self._placed(key, ("arenas", name, key, each), entry) for each, entry in value.items()}
            if key in PLACED and isinstance(value, dict)
            else value
            for key, value in arena.items()
        }

    def _placed(self, section: str, key: tuple[str, ...], entry: object) -> object:
        if not isinstance(entry, dict) or LIKE not in entry:
            return entry
        own = {inner: value for inner, value in entry.items() if inner != LIKE}
        known = self._templates.get(section, {})
        template = self._known(key, entry[LIKE], known, f"a template of {section}")
        if template is None:
            return own
        self.used.add((section, template))
        self._from[dotted(key)] = (f"{TEMPLATES}.{section}.{template}", own)
        return merged(known[template], own)

    def _fighter(self, name: str, fighters: dict[str, object]) -> object:
        """The table of a fighter written out: from the one that is like none down, each one once."""
        chain: list[str] = []
        while name not in self._fighters:
            entry = fighters[name]
            other = entry.get(LIKE) if isinstance(entry, dict) else None
            chain.append(name)
            if other is None:
                break
            other = self._known(("fighters", name), other, fighters, "a fighter")
            if other is None or other in chain:
                break
            name = other
        for each in reversed(chain):
            self._fighters[each] = self._written_out(each, fighters[each])
        return self._fighters[chain[0] if chain else name][0]

    def _written_out(self, name: str, entry: object) -> tuple[object, int]:
        """One fighter's table, and how many it is like, one through the other; the one it is like is written out."""
        if not isinstance(entry, dict) or LIKE not in entry:
            return entry, 0
        own = {inner: value for inner, value in entry.items() if inner != LIKE}
        other = entry[LIKE] if isinstance(entry[LIKE], str) else ""
        whole, depth = self._fighters.get(other, (None, MOST_LEVELS))
        if f"fighters.{name}" in self._lost:
            return own, 0
        if f"fighters.{other}" in self._lost:
            self._lost.add(f"fighters.{name}")
            return own, 0
        if depth >= MOST_LEVELS:
            allowed = f"allowed: a fighter that is not like this one itself; at most {MOST_LEVELS} like each other"
            self._report(("fighters", name, LIKE), f'"{other}"', allowed)
            self._lost.add(f"fighters.{name}")
            return own, 0
        self._from[f"fighters.{name}"] = (f"fighters.{other}", own)
        return (merged(whole, own) if isinstance(whole, dict) else own), depth + 1

    def _known(self, key: tuple[str, ...], name: object, known: Mapping[str, object], what: str) -> str | None:
        if isinstance(name, str) and name in known:
            return name
        nearest = nearest_name(name, known) if isinstance(name, str) else None
        self._lost.add(dotted(key))
        self._report((*key, LIKE), f'"{name}"' if isinstance(name, str) else shortened(name),
                     f"allowed: the name of {what}; known: {listed(list(known))}", nearest)  # fmt: skip
        return None

    def _report(self, key: tuple[str, ...], seen: str, allowed: str, nearest: str | None = None) -> None:
        problem = Problem(self.file, dotted(key), seen, allowed, nearest)
        if problem not in self.problems:
            self.problems.append(problem)


def _places(key: str) -> list[str]:
    """A dotted key, and those of all tables and lists that it lies in."""
    return [*(key[: each.start()] for each in re.finditer(r"[.\[]", key)), key]


def merged(base: dict[str, object], own: dict[str, object]) -> dict[str, object]:
    """A table with the keys of another over it; tables within are merged likewise, everything else is replaced."""
    found = dict(base)
    for key, value in own.items():
        below = found.get(key)
        found[key] = merged(below, value) if isinstance(below, dict) and isinstance(value, dict) else value
    return found


LIKE_MODELS = (*PLACED.values(), Fighter)
"""The tables that may be like another."""
