"""Arguments that several commands share: which entry of a book, and which bout, a command is about."""

from __future__ import annotations

import re
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from emberwound.vocabulary.errors import BoutError, ChronicleError, OutputError, RulebookError, unknown_name

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

    from emberwound.chronicle import Chronicle
    from emberwound.draw.style import Drawing
    from emberwound.face import Rulebook


FOLDER = Path("emberwound-out")

Source = Annotated[Path, typer.Argument(help="A rulebook (.toml) or a chronicle (.jsonl).", metavar="SOURCE")]
OfSource = Annotated[str | None, typer.Argument(help="A bout of the rulebook; may be left out if it has one.")]
Partial = Annotated[bool, typer.Option("--partial", help="Read a chronicle that was cut off, as far as it goes.")]

Changes = Annotated[
    list[str] | None,
    typer.Option("--set", help="A variant beside the book's: KEY=VALUE,... Repeat it.", metavar="SET"),
]

Change = Annotated[
    list[str] | None, typer.Option("--set", help="Change the book first: KEY=VALUE,... Give it once.", metavar="SET")
]

Against = Annotated[
    Path | None, typer.Option(help="For a record: the rulebook as it now is, to be asked instead.", metavar="BOOK")
]
ShotAsked = Annotated[int | None, typer.Option(help="What became of a shot or ray.", metavar="NUMBER")]
SwingAsked = Annotated[
    tuple[str, int] | None, typer.Option(help="What became of the attack a seat was at.", metavar="SEAT TICK")
]
OrderAsked = Annotated[tuple[str, int] | None, typer.Option(help="What became of a seat's order.", metavar="SEAT TICK")]


def name_of(chronicle: Chronicle) -> str:
    """What files about a bout are called after: its script, or its arena."""
    return chronicle.header.script or chronicle.header.arena


def write_and_tell(figure: Drawing, out: Path | None, name: str) -> None:
    """Write a figure, where it was asked for or under its own name, and say where it is."""
    from emberwound.draw.style import write_figure

    typer.echo(f"written: {write_figure(figure, out or FOLDER / f'{name}.png')}")


LONGEST = 80
"""Characters of a change that the name of a file has."""

GROUPS = frozenset({"shot", "ray", "strike", "hitboxes", "hurtboxes", "reactions", "pools"})
"""Parts of keys that say nothing when the names beside them are shown."""


def load_book(book: Path) -> Rulebook:
    """A rulebook from a file; what it says that does nothing is written on standard error. Raises RulebookError."""
    from emberwound.face import Rulebook

    rules = Rulebook.load(book)
    for warning in rules.warnings:
        sys.stderr.write(f"warning: {warning}\n")
    return rules


def choose(what: str, asked: str | None, known: Iterable[str], source: str) -> str:
    """The name asked for, or the only one there is. Raises BoutError."""
    names = list(known)
    if asked is not None:
        if asked not in names:
            raise BoutError(f"{source}: {unknown_name(what, asked, names)}")
        return asked
    if not names:
        raise BoutError(f"{source} has no {what} yet; add a table [{what}s.NAME] to it")
    if len(names) != 1:
        raise BoutError(f"{source} has {len(names)} {what}s; name one; known: {', '.join(names)}")
    return names[0]


def variants_of_bout(
    source: Path, bout: str | None, changes: Iterable[str], *, partial: bool = False
) -> list[tuple[str, Chronicle]]:
    """The chronicle as `bout_of` gives it, and one of each variant of the rules, with names. Raises EmberwoundError."""
    from emberwound.chronicle import run
    from emberwound.face import Rulebook

    found = bout_of(source, bout, partial=partial)
    texts = list(changes)
    if texts and source.suffix == ".jsonl":
        raise BoutError(f"--set {texts[0]}: {source} is a record, whose rules are as they were; give the rulebook")
    rules = Rulebook.of(found.rules)
    return [
        (AS_IT_IS, found),
        *((said, run(each, found.header.script or "")) for said, each in variants_of(rules, texts)[1:]),
    ]


def bout_of(source: Path, bout: str | None, *, partial: bool = False) -> Chronicle:
    """The chronicle in a file, or that of a bout of a rulebook, run now. Raises EmberwoundError."""
    from emberwound.chronicle import Chronicle, run
    from emberwound.cli.output import progress_bar

    if source.suffix == ".jsonl":
        chronicle = Chronicle.load(source, partial=partial)
        if bout is not None and bout != chronicle.header.script:
            of = chronicle.header.script or f"a bout in {chronicle.header.arena} without a script"
            raise BoutError(f"{source} is the record of {of}, not of {bout!r}; leave the bout out")
        return chronicle
    rules = load_book(source)
    name = choose("bout", bout, rules.book.bouts, rules.source)
    with progress_bar(f"running {name}") as progress:
        return run(rules, name, progress=progress)


def asked_of(source: Path, bout: str | None, against: Path | None, *, partial: bool = False) -> Chronicle:
    """The record that is asked: as it was made, or its inputs under the rulebook as it now is.

    Raises ChronicleError for a record beside whose file the rulebook has changed since.
    """
    from emberwound.chronicle import rerun

    chronicle = bout_of(source, bout, partial=partial)
    if source.suffix != ".jsonl":
        if against is not None:
            raise ChronicleError(f"--against {against}: {source} is a rulebook itself; leave it out")
        return chronicle
    if against is not None:
        return rerun(chronicle, rules=load_book(against))
    beside = source.parent / chronicle.rules.source
    if beside.is_file() and not _is_as_recorded(beside, chronicle):
        raise ChronicleError(
            f"{source} was made with other rules than {beside.name} now says: it has changed since, or the bout ran "
            f"with --set; give --against {beside} to ask the book as it now is, or ask a copy of the record elsewhere"
        )
    return chronicle


def _is_as_recorded(book: Path, chronicle: Chronicle) -> bool:
    """Whether a rulebook says what a record's rules say; one that cannot be loaded any more does not."""
    try:
        return load_book(book).hash == chronicle.rules.hash
    except RulebookError:
        return False


def changed(rules: Rulebook, changes: Sequence[str]) -> Rulebook:
    """The rules with the changes of one text KEY=VALUE,... made, if there is one. Raises EmberwoundError."""
    if len(changes) > 1:
        raise OutputError(
            f"--set: {len(changes)} of them are {len(changes)} variants, and this shows one; "
            f"changes that go together are joined by commas: --set {','.join(changes)}"
        )
    return _variant(rules, changes[0], lambda key: key, _short)[1] if changes else rules


def file_name(name: str, changes: Sequence[str]) -> str:
    """What the files of a bout are called: one of its own for each change."""
    return "-".join([name, *(re.sub(r"[^\w.-]+", "-", each)[:LONGEST].strip("-.") for each in changes)])


def variants_of(rules: Rulebook, changes: Iterable[str]) -> list[tuple[str, Rulebook]]:
    """The rules as they are, and a variant for each text KEY=VALUE,..., with a name. Raises EmberwoundError."""
    return [(AS_IT_IS, rules), *(_variant(rules, text, lambda key: key, _short) for text in changes)]


def variants_of_hit(
    rules: Rulebook,
    changes: Sequence[str],
    attack: str,
    victim: str,
    *,
    hitbox: str | None = None,
    blast: bool | None = None,
) -> list[tuple[str, Rulebook]]:
    """The same for one hit: a key without dots is meant of the attack, its push or the victim at hand.

    Only one of them may have it. Raises EmberwoundError.
    """

    def whole(key: str) -> str:
        return _whole_key(rules, key, attack, victim, hitbox, blast=blast)

    def said(key: str) -> str:
        last = key.rpartition(".")[2]
        alike = {each for each in re.findall(r"([\w.-]+)=", ",".join(changes)) if each.rpartition(".")[2] == last}
        return last if len(alike) == 1 else _short(key)

    return [(AS_IT_IS, rules), *(_variant(rules, text, whole, said) for text in changes)]


AS_IT_IS = "as in the book"


def _variant(
    rules: Rulebook, text: str, whole: Callable[[str], str], said: Callable[[str], str]
) -> tuple[str, Rulebook]:
    """The rules with the changes KEY=VALUE,... made, and what they are called."""
    from emberwound.rulebook.rules import read_change

    try:
        edits = dict(read_change(each) for each in re.split(r",(?=[\w.-]+=)", text))
    except ValueError as error:
        raise BoutError(f"--set {text}: {error}") from None
    name = ", ".join(f"{said(key)} {'left out' if value is None else value}" for key, value in edits.items())
    try:
        return name, rules.edit({whole(key): value for key, value in edits.items()})
    except RulebookError as error:
        raise RulebookError([replace(each, file=f"--set {text}") for each in error.problems], asked=True) from None


def _short(key: str) -> str:
    """A key as a figure has room for it: `attacks.flare.shot.speed` is "flare speed"."""
    return " ".join(each for each in key.split(".")[1:] if each not in GROUPS) if "." in key else key


def _whole_key(rules: Rulebook, key: str, attack: str, victim: str, hitbox: str | None, *, blast: bool | None) -> str:
    """The key of a rulebook that a short one stands for. Raises BoutError where none or several could be meant."""
    from emberwound.rulebook.models import Attack, Blast, Fighter, Push
    from emberwound.rulebook.outline import table_keys
    from emberwound.study.asked_hit import named_ways

    if "." in key:
        return key
    way = min(named_ways(rules, attack, hitbox, blast=blast), key=lambda each: each.options.push is None)
    whose = f"blasts.{way.blast}" if way.blast else f"attacks.{attack}"
    strike = rules.book.attacks[attack].strike
    own = way.hitbox and strike and strike.hitboxes[way.hitbox].push is not None
    push = f"{whose}.strike.hitboxes.{way.hitbox}.push" if own else f"{whose}.push"
    tables = ((push, Push), (whose, Blast if way.blast else Attack), (f"fighters.{victim}", Fighter))
    known = [f"{table}.{key}" for table, model in tables if key in table_keys(model)]
    if len(known) == 1:
        return known[0]
    if known:
        raise BoutError(f"--set {key}: give the whole key: {' or '.join(known)}")
    raise BoutError(f"--set {unknown_name('key', key, table_keys(Push))}; or give a whole key, such as {push}.apex")
