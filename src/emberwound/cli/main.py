"""The program `emberwound`, and what all its commands share."""

from __future__ import annotations

import os
import sys
from contextlib import suppress
from io import TextIOWrapper
from typing import Annotated, Any

import typer

from emberwound._version import __version__
from emberwound.cli import asking, bouts, drawing, starting
from emberwound.vocabulary.errors import EmberwoundError, nearest_name

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
app.command()(asking.tables)
app.command()(asking.check)
app.command()(asking.inquest)
app.command()(asking.wound)
app.command()(starting.new)
app.command()(starting.example)
app.command()(starting.schema)
app.command()(bouts.prepare)
app.add_typer(drawing.draw, name="draw")

UNUSABLE_INPUT = 2
INTERRUPTED = 130


def _tell_version(asked: bool) -> None:  # noqa: FBT001 (as Typer calls it)
    if asked:
        typer.echo(f"emberwound {__version__}")
        raise typer.Exit


@app.callback()
def _root(
    *,
    version: Annotated[
        bool, typer.Option("--version", help="Tell the version and end.", callback=_tell_version, is_eager=True)
    ] = False,
) -> None:
    """Combat rules as data: run them headless, see what happened, learn why."""


def main() -> None:
    """Run the program; a user's mistake is one message on standard error and exit code 2."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):  # what a terminal cannot show is a question mark
            stream.reconfigure(errors="replace")
    try:
        code = app(standalone_mode=False)
        sys.exit(code if isinstance(code, int) else 0)
    except EmberwoundError as error:
        _fail(str(error))
    except BrokenPipeError:
        _let_go()
        sys.exit(1)
    except OSError as error:
        _fail(f"standard output cannot be written: {error.strerror}")
    except Exception as error:  # noqa: BLE001 (what the parser raises has no class that all its versions share)
        _tell_misuse(error)
    finally:
        try:
            sys.stdout.flush()
            _hint()
        except (OSError, ValueError):
            _let_go()


def _tell_misuse(error: Exception) -> None:
    """Tell of what the parser could not take, with the nearest name; anything else is raised again."""
    show: Any = getattr(error, "show", None)
    if type(error).__name__ == "Abort":
        sys.exit(INTERRUPTED)
    if show is None:
        raise error
    context: Any = getattr(error, "ctx", None)
    if type(error).__name__ == "NoSuchOption" and context is not None:
        known = [name for each in context.command.params for name in each.opts if name.startswith("--")]
        nearest = nearest_name(str(getattr(error, "option_name", "")), known)
        error.possibilities = [nearest] if nearest else known  # type: ignore[attr-defined]
    show()
    sys.exit(getattr(error, "exit_code", UNUSABLE_INPUT))


def _hint() -> None:
    """Tell who waits at a terminal what would have been faster."""
    jit = sys.modules.get("emberwound.geometry.jit")
    if jit is not None and sys.stderr.isatty() and jit.TIERS.would_gain:
        sys.stderr.write(
            f"kernels ran interpreted for {jit.TIERS.seconds:.0f} s; `emberwound prepare` compiles them, in about a "
            "minute, once on this machine\n"
        )


def _fail(message: str) -> None:
    sys.stderr.write(f"emberwound: {message}\n")
    sys.exit(UNUSABLE_INPUT)


def _let_go() -> None:
    """Let what is still to be printed go nowhere, so that leaving does not fail as well."""
    with suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
