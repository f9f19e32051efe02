"""The parts of a book that parsed, entry by entry, so that each is checked while others are broken."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel, ValidationError

from emberwound.rulebook.models import Book, Settings
from emberwound.rulebook.outline import table_keys, unwrap

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.models import (
        Affliction,
        Arena,
        Attack,
        Bar,
        Blast,
        BoutTable,
        Counter,
        Cue,
        Fighter,
        Kind,
        Prop,
    )


@dataclass(frozen=True)
class Parsed:
    """Each section holds the entries that parsed; `names` holds all names of a section, broken entries included."""

    settings: Settings
    kinds: dict[str, Kind]
    fighters: dict[str, Fighter]
    props: dict[str, Prop]
    counters: dict[str, Counter]
    cues: dict[str, Cue]
    bars: dict[str, Bar]
    afflictions: dict[str, Affliction]
    blasts: dict[str, Blast]
    attacks: dict[str, Attack]
    arenas: dict[str, Arena]
    bouts: dict[str, BoutTable]
    names: dict[str, list[str]]

    def entries(self, section: str) -> dict[str, BaseModel]:
        """The entries of a section that parsed."""
        found: dict[str, BaseModel] = getattr(self, section)
        return found


def entries_of(book: Book) -> Parsed:
    """The entries of a book that parsed as a whole."""
    sections = {section: getattr(book, section) for section in table_keys(Book)}
    return Parsed(**sections, names={name: list(each) for name, each in sections.items() if name != "settings"})


def parse_entries(raw: Mapping[str, Any]) -> Parsed:
    """Read every entry of every section by itself.

    An entry that cannot be read is left out; settings that cannot be read are the defaults.
    """
    sections: dict[str, Any] = {}
    names: dict[str, list[str]] = {}
    for section, annotation in table_keys(Book).items():
        table = raw.get(section)
        bare, _ = unwrap(annotation)
        if section == "settings":
            sections[section] = _read(Settings, table or {}) or Settings()
            continue
        model = bare.__args__[1]
        entries = table if isinstance(table, dict) else {}
        read = {name: _read(model, entry) for name, entry in entries.items()}
        sections[section] = {name: entry for name, entry in read.items() if entry is not None}
        names[section] = list(entries)
    return Parsed(**sections, names=names)


def _read(model: type[BaseModel], raw: object) -> BaseModel | None:
    try:
        return model.model_validate(raw)
    except ValidationError:
        return None
