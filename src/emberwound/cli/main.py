"""The command line: its commands, those of the first hour (`new`, `example`, `schema`), and what a mistake prints."""

from __future__ import annotations

import os
import sys
from contextlib import suppress
from importlib.resources import files
from io import TextIOWrapper
from pathlib import Path
from typing import Annotated, Any

import typer

from emberwound._version import __version__
from emberwound.cli import asking, bouts, drawing
from emberwound.vocabulary.errors import EmberwoundError, nearest_name

FIRST_BOOK = "first.toml"


def new(
    name: Annotated[str, typer.Argument(help="What the book is called, such as marsh.", metavar="NAME")],
) -> None:
    """Write a first rulebook, NAME.toml: short, with comments, and it runs."""
    from emberwound.chronicle.files import write_whole
    from emberwound.rulebook.outline import is_name
    from emberwound.vocabulary.errors import OutputError

    called = name.removesuffix(".toml")
    if not is_name(called):
        raise OutputError(f"new {name}: allowed: a letter, then letters, digits, '_' and '-', at most 60 in all")
    book = Path(f"{called}.toml")
    if book.exists():
        raise OutputError(f"{book} is there already, and is left as it is; take another name, or move it away")
    text = files("emberwound.demo").joinpath(FIRST_BOOK).read_text(encoding="utf-8")
    typer.echo(f"written: {write_whole(book, text.replace('NAME', called).encode())}")
    typer.echo(f"run it:  emberwound run {book}")


def example(
    name: Annotated[str | None, typer.Argument(help="Which one; without it all are listed.", metavar="NAME")] = None,
    out: Annotated[
        Path | None, typer.Option("--out", help="Folder to copy it to; without it one of its name.", metavar="DIR")
    ] = None,
    *,
    json: Annotated[bool, typer.Option("--json", help="Print the list as JSON.")] = False,
) -> None:
    """List the examples, or copy one out, ready to run."""
    from emberwound.chronicle.files import ready_folder, write_whole
    from emberwound.cli.output import print_examples
    from emberwound.cli.shelf import example_of, examples
    from emberwound.vocabulary.errors import OutputError

    if name is None:
        if out is not None:
            raise OutputError("--out: name the example to copy; `emberwound example` lists them")
        print_examples(examples(), as_json=json)
        return
    found, folder = example_of(name), out or Path(name)
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise OutputError(f"{folder} is not empty, and is left as it is; give another folder with --out")
    ready_folder(folder)
    for file, content in found.files.items():
        write_whole(folder / file, content)
    typer.echo(f"{found.shows}\nwritten: {', '.join(str(folder / file) for file in found.files)}")
    typer.echo(f"run it:  cd {folder} && {found.command}")


def schema(
    out: Annotated[
        Path | None, typer.Option("--out", help="The file to write; without it it is printed.", metavar="FILE")
    ] = None,
) -> None:
    """Give the JSON Schema of rulebooks, for editors and for programs that write rulebooks."""
    import msgspec

    from emberwound.chronicle.files import ready_folder, write_whole
    from emberwound.face import Rulebook

    text = msgspec.json.format(msgspec.json.encode(Rulebook.json_schema()), indent=2) + b"\n"
    if out is None:
        typer.echo(text.decode(), nl=False)
        return
    ready_folder(out.parent)
    typer.echo(f"written: {write_whole(out, text)}")


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
app.command()(new)
app.command()(example)
app.command()(schema)
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
