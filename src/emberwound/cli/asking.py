"""Commands that ask why nothing happens: `check` before a bout, `inquest` after it."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from emberwound.cli.options import OfSource, OrderAsked, Partial, ShotAsked, Source, SwingAsked

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle

FOUND = 1


def check(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    *,
    strict: Annotated[bool, typer.Option("--strict", help="Also exit with 1 for warnings.")] = False,
    json: Annotated[bool, typer.Option("--json", help="Print the findings as JSON.")] = False,
) -> None:
    """Look for what does nothing in a rulebook, or something seldom meant; exit with 1 if there is an error."""
    from emberwound.cli.output import print_findings
    from emberwound.study.check import check as check_book

    found = check_book(book)
    print_findings(found, book.name, as_json=json)
    bad = ("error", "warning") if strict else ("error",)
    if any(each.severity in bad for each in found):
        raise typer.Exit(FOUND)


def inquest(
    source: Source,
    bout: OfSource = None,
    shot: ShotAsked = None,
    swing: SwingAsked = None,
    order: OrderAsked = None,
    by: Annotated[
        str | None, typer.Option("--from", help="With --to: every attempt of one seat on another.", metavar="SEAT")
    ] = None,
    to: Annotated[str | None, typer.Option("--to", help="With --from: whom it tried to hit.", metavar="SEAT")] = None,
    between: Annotated[
        tuple[float, float] | None,
        typer.Option(help="With --from and --to: only from one time to another, in seconds.", metavar="A B"),
    ] = None,
    death: Annotated[str | None, typer.Option(help="How a seat died.", metavar="SEAT")] = None,
    alive: Annotated[str | None, typer.Option(help="Why a seat is not dead.", metavar="SEAT")] = None,
    missing: Annotated[
        tuple[str, str] | None,
        typer.Option(help="Why there is none: respawn, cue, checkpoint or pickup.", metavar="WHAT SEAT"),
    ] = None,
    against: Annotated[
        Path | None, typer.Option(help="For a record: the rulebook as it now is, to be asked instead.", metavar="BOOK")
    ] = None,
    *,
    json: Annotated[bool, typer.Option("--json", help="Print the answer as JSON.")] = False,
    partial: Partial = False,
) -> None:
    """Ask why something did not happen in a bout: it is run again, and what would have been enough is tried."""
    from emberwound.cli.output import print_answer, progress_bar
    from emberwound.study.inquest import inquest as ask
    from emberwound.vocabulary.errors import ChronicleError

    if (by is None) != (to is None):
        raise ChronicleError("--from and --to: give both, whose attempts on whom")
    chronicle = asked_of(source, bout, against, partial=partial)
    with progress_bar("running it again"):
        answer = ask(
            chronicle,
            shot=shot,
            swing=swing,
            order=order,
            attempts=(by, to) if by is not None and to is not None else None,
            between=between,
            death=death,
            alive=alive,
            missing=missing,
        )
    print_answer(answer, as_json=json)


def asked_of(source: Path, bout: str | None, against: Path | None, *, partial: bool = False) -> Chronicle:
    """The record that is asked: as it was made, or its inputs under the rulebook as it now is.

    Raises ChronicleError for a record beside whose file the rulebook has changed since.
    """
    from emberwound.chronicle import rerun
    from emberwound.cli.choosing import bout_of, load_book
    from emberwound.vocabulary.errors import ChronicleError

    chronicle = bout_of(source, bout, partial=partial)
    if source.suffix != ".jsonl":
        if against is not None:
            raise ChronicleError(f"--against {against}: {source} is a rulebook itself; leave it out")
        return chronicle
    if against is not None:
        return rerun(chronicle, rules=load_book(against))
    beside = source.parent / chronicle.rules.source
    if beside.is_file():
        now = load_book(beside)
        if now.hash != chronicle.rules.hash:
            raise ChronicleError(
                f"{source} was made with {beside.name} as it was, and that has changed since; "
                f"give --against {beside} to ask the book as it now is, or a copy of the record elsewhere"
            )
    return chronicle
