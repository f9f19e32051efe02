"""Commands that ask why nothing happens: `check` before a bout, `inquest` after it."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from emberwound.cli.options import Against, OfSource, OrderAsked, Partial, ShotAsked, Source, SwingAsked

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
    push: Annotated[
        tuple[str, str] | None,
        typer.Option(help="Why the hits of one seat did not knock another back.", metavar="SEAT SEAT"),
    ] = None,
    against: Against = None,
    *,
    json: Annotated[bool, typer.Option("--json", help="Print the answer as JSON.")] = False,
    partial: Partial = False,
) -> None:
    """Ask why something did not happen in a bout: it is run again, and what would have been enough is tried."""
    from emberwound.cli.choosing import asked_of
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
            push=push,
        )
    print_answer(answer, as_json=json)
