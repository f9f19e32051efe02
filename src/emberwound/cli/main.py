"""The program `emberwound`, and what all its commands share."""

from __future__ import annotations

import sys

import typer

from emberwound.cli import bouts, drawing, wounds
from emberwound.vocabulary.errors import EmberwoundError

app = typer.Typer(
    help="Combat rules as data: run them headless, see what happened, learn why.",
    rich_markup_mode=None,
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
app.command()(bouts.demo)
app.command()(bouts.run)
app.command()(bouts.replay)
app.command()(wounds.wound)
app.add_typer(drawing.draw, name="draw")

UNUSABLE_INPUT = 2


@app.callback()
def _root() -> None:
    """Combat rules as data: run them headless, see what happened, learn why."""


def main() -> None:
    """Run the program; a user's mistake is one message on standard error and exit code 2."""
    try:
        app()
    except EmberwoundError as error:
        sys.stderr.write(f"emberwound: {error}\n")
        sys.exit(UNUSABLE_INPUT)
