"""Validated rules, as all floors below the questions know them."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import TYPE_CHECKING, Any, Self

import msgspec

from emberwound.combat.terms import OwnStep
from emberwound.rulebook.edit import edited
from emberwound.rulebook.load import check_depth, printable, read_file, read_toml, validate
from emberwound.rulebook.models.tables import FrozenTable
from emberwound.rulebook.warnings import warnings_of
from emberwound.vocabulary.errors import RulebookError, shortened
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from emberwound.combat.terms import WoundContext
    from emberwound.rulebook.models import Book

    Steps = Mapping[str, tuple[Callable[[float, WoundContext], float], str]]


class Rules:
    """Validated rules, frozen; `emberwound.Rulebook` is these with questions.

    `book` holds the tables, `source` the file's name, `text` what it was read from, if it was, and `hash` a digest of
    the content. `warnings` tell what does nothing: each has its `key`, what was `seen`, and what is `allowed` instead.

    Two rulebooks with the same content and own steps are equal, wherever they came from.
    """

    book: Book
    source: str
    text: str
    steps: Mapping[str, OwnStep]
    warnings: tuple[Problem, ...]
    hash: str

    def __init__(
        self,
        book: Book,
        source: str,
        steps: Mapping[str, OwnStep] | None = None,
        warnings: Sequence[Problem] | None = None,
        text: str = "",
    ) -> None:
        self.__dict__.update(
            book=book,
            source=source,
            text=text,
            steps=FrozenTable(steps or {}),
            warnings=tuple(warnings_of(book, source) if warnings is None else warnings),
        )
        self.__dict__["hash"] = digest_of(self.canonical())

    def __setattr__(self, name: str, value: object) -> None:
        raise AttributeError(f"{name}: rules are frozen; rules.edit({{key: value}}) gives changed ones")

    @classmethod
    def load(cls, path: str | Path, steps: Steps | None = None) -> Self:
        """Read a TOML file. Raises RulebookError with every problem of the file.

        `steps` registers own steps of the ledger, name to (function, version), for a book that names them in
        `settings.steps`; the file itself never runs code. A function takes the points so far and a `WoundContext` and
        gives points, depending on nothing else.
        """
        return cls.parse(read_file(path), printable(Path(Path(path).name)), steps)

    @classmethod
    def parse(cls, text: str, source: str = "rulebook", steps: Steps | None = None) -> Self:
        """Read TOML text; `source` names it in messages, `steps` is as for `load`. Raises RulebookError."""
        return cls._validated(read_toml(text, source), source, steps, text)

    @classmethod
    def from_canonical(cls, tables: dict[str, Any], source: str = "rulebook", steps: Steps | None = None) -> Self:
        """Read back what `canonical` gave; `steps` is as for `load`. Raises RulebookError with every problem."""
        return cls._validated(tables, source, steps)

    @classmethod
    def _validated(cls, tables: dict[str, Any], source: str, steps: Steps | None, text: str = "") -> Self:
        check_depth(tables, source)
        _check_steps(steps or {})
        known = {name: OwnStep(name, function, version) for name, (function, version) in (steps or {}).items()}
        book, unused = validate(tables, source, list(known))
        seen, allowed = "a template that nothing is like", "give an entry of an arena `like` it, or leave it out"
        warnings = [
            *warnings_of(book, source),
            *(Problem(source, key, seen, allowed, finding="template-unused") for key in unused),
        ]
        return cls(book, source, {name: known[name] for name in book.settings.steps}, warnings, text)

    @property
    def step_versions(self) -> dict[str, str]:
        """The own steps that the book names, with their versions."""
        return {name: step.version for name, step in self.steps.items()}

    def edit(self, changes: Mapping[str, Any]) -> Self:
        """The same rules with some values changed, by dotted keys: `{"attacks.flare.damage": 12}`.

        A row of reactions goes by its name: `fighters.wader.reactions.reel.seconds`. None takes a key away.
        Raises RulebookError with every problem of the changed book.
        """
        steps = {step.name: (step.function, step.version) for step in self.steps.values()}
        return self.from_canonical(edited(self.canonical(), changes, self.source), self.source, steps)

    def canonical(self) -> dict[str, Any]:
        """The whole content as plain tables, defaults included, in the book's own order; JSON can hold it."""
        return self.book.model_dump(mode="json", by_alias=True, exclude_none=True)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Rules) and self._identity == other._identity

    def __hash__(self) -> int:
        return hash(self.hash)

    @property
    def _identity(self) -> tuple[str, dict[str, OwnStep]]:
        return (self.hash, dict(self.steps))

    def __repr__(self) -> str:
        book = self.book
        content = f"{len(book.fighters)} fighters, {len(book.attacks)} attacks"
        return f"<{type(self).__name__} {self.source}: {content}, {self.hash[:12]}>"


def digest_of(tables: dict[str, Any]) -> str:
    """The hash of a rulebook's tables, as `canonical` gives them."""
    return hashlib.sha256(msgspec.json.encode(tables)).hexdigest()


def _check_steps(steps: Mapping[str, Any]) -> None:
    """Own steps are a name each, with a function and the text of its version. Raises RulebookError."""
    for name, step in steps.items():
        pair = step if isinstance(step, tuple | list) and len(step) == 2 else (None, None)
        if not isinstance(name, str) or not callable(pair[0]) or not isinstance(pair[1], str):
            allowed = "give a function and the text of its version, such as (storm, '1.0')"
            raise RulebookError([Problem("", f"steps[{shortened(name)}]", shortened(step), allowed)], asked=True)
