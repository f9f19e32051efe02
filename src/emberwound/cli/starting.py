"""Commands for the first hour: `new`, `example` and `schema`."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from typing import Annotated

import typer

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
