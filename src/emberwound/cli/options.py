"""Arguments and options that several commands share."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle
    from emberwound.draw.files import Drawing

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
    from emberwound.draw.files import write_figure

    typer.echo(f"written: {write_figure(figure, out or FOLDER / f'{name}.png')}")
