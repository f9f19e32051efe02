"""Commands that draw: `draw arena` and `draw shots`."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

FOLDER = Path("emberwound-out")

draw = typer.Typer(help="Draw rules and bouts.", no_args_is_help=True, rich_markup_mode=None)

Out = Annotated[Path | None, typer.Option("--out", help="The file to draw into, a .png or .svg.", metavar="FILE")]


class Moment(StrEnum):
    """What a film strip is taken round."""

    RELEASE = "release"
    END = "end"


@draw.command()
def arena(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    arena: Annotated[str | None, typer.Argument(help="One of its arenas; may be left out if it has one.")] = None,
    out: Out = None,
) -> None:
    """Draw an arena: walls, entries and paths, and the fighters with their hurtboxes and muzzles."""
    from emberwound.cli.choosing import choose
    from emberwound.draw.arena import draw_arena
    from emberwound.draw.files import write_figure
    from emberwound.rulebook import Rulebook

    rules = Rulebook.load(book)
    name = choose("arena", arena, rules.book.arenas, rules.source)
    file = write_figure(draw_arena(rules, name), out or FOLDER / f"arena-{name}.png")
    typer.echo(f"written: {file}")


@draw.command()
def shots(
    source: Annotated[Path, typer.Argument(help="A rulebook (.toml) or a chronicle (.jsonl).", metavar="SOURCE")],
    bout: Annotated[str | None, typer.Argument(help="A bout of the rulebook; may be left out if it has one.")] = None,
    strip: Annotated[Moment | None, typer.Option(help="A film strip round this moment of one shot.")] = None,
    shot: Annotated[int, typer.Option(help="The number of the strip's shot.", min=1)] = 1,
    step: Annotated[int, typer.Option(help="Ticks from one picture of the strip to the next.", min=1, max=1000)] = 2,
    out: Out = None,
) -> None:
    """Draw the shots of a run: their paths, bounces and ends; or a film strip of one release or end."""
    from emberwound.cli.choosing import bout_of
    from emberwound.draw.files import write_figure
    from emberwound.draw.shots import draw_shots, draw_strip

    chronicle = bout_of(source, bout)
    name = chronicle.header.script or chronicle.header.arena
    if strip is None:
        file = write_figure(draw_shots(chronicle), out or FOLDER / f"shots-{name}.png")
    else:
        figure = draw_strip(chronicle, shot, strip.value, step=step)
        file = write_figure(figure, out or FOLDER / f"strip-{name}-{shot}-{strip}.png")
    typer.echo(f"written: {file}")
