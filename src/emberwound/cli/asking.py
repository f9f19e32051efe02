"""Commands that ask why nothing happens: `check` before a bout."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

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
