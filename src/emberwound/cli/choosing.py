"""Which entry of a book, and which bout, a command is about."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from emberwound.vocabulary.errors import BoutError, unknown_name

if TYPE_CHECKING:
    from collections.abc import Iterable

    from emberwound.chronicle import Chronicle


def choose(what: str, asked: str | None, known: Iterable[str], source: str) -> str:
    """The name asked for, or the only one there is. Raises BoutError."""
    names = list(known)
    if asked is not None:
        if asked not in names:
            raise BoutError(f"{source}: {unknown_name(what, asked, names)}")
        return asked
    if len(names) != 1:
        raise BoutError(f"{source} has {len(names)} {what}s; name one; known: {', '.join(names) or 'none'}")
    return names[0]


def bout_of(source: Path, bout: str | None) -> Chronicle:
    """The chronicle in a file, or that of a bout of a rulebook, run now. Raises EmberwoundError."""
    from emberwound.chronicle.files import load
    from emberwound.chronicle.runs import run
    from emberwound.cli.output import progress_bar
    from emberwound.rulebook import Rulebook

    if source.suffix == ".jsonl":
        return load(source)
    rules = Rulebook.load(source)
    name = choose("bout", bout, rules.book.bouts, rules.source)
    with progress_bar(f"running {name}") as progress:
        return run(rules, name, progress=progress)
