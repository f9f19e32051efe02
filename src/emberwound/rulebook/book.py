"""The rulebook a user holds in hand."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.rulebook.load import read_file, read_toml, validate

if TYPE_CHECKING:
    from emberwound.rulebook.models import Book


class Rulebook:
    """Validated rules, frozen. `book` holds the tables, `source` the file's name, `hash` a digest of the content.

    Two rulebooks with the same content are equal, wherever they came from.
    """

    def __init__(self, book: Book, source: str) -> None:
        self.book = book
        self.source = source
        self.hash = hashlib.sha256(msgspec.json.encode(self.canonical())).hexdigest()

    @classmethod
    def load(cls, path: str | Path) -> Rulebook:
        """Read a TOML file. Raises RulebookError with every problem of the file."""
        return cls.parse(read_file(path), Path(path).name)

    @classmethod
    def parse(cls, text: str, source: str = "rulebook") -> Rulebook:
        """Read TOML text; `source` names it in messages. Raises RulebookError with every problem."""
        return cls(validate(read_toml(text, source), source), source)

    @classmethod
    def from_canonical(cls, tables: dict[str, Any], source: str = "rulebook") -> Rulebook:
        """Read back what `canonical` gave. Raises RulebookError with every problem."""
        return cls(validate(tables, source), source)

    def canonical(self) -> dict[str, Any]:
        """The whole content as plain tables, defaults included, in the book's own order; JSON can hold it."""
        return self.book.model_dump(mode="json", by_alias=True, exclude_none=True)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Rulebook) and self.hash == other.hash

    def __hash__(self) -> int:
        return hash(self.hash)

    def __repr__(self) -> str:
        book = self.book
        return f"<Rulebook {self.source}: {len(book.fighters)} fighters, {len(book.attacks)} attacks, {self.hash[:12]}>"
