"""The command `tables`: a bout as CSV files."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from emberwound.cli.options import FOLDER, OfSource, Partial, Source, name_of


def tables(
    source: Source,
    bout: OfSource = None,
    out: Annotated[Path, typer.Option("--out", help="Folder for the tables.", metavar="DIR")] = FOLDER,
    *,
    partial: Partial = False,
) -> None:
    """Write a bout as three CSV tables: its events, the state of every seat after each tick, and its attacks."""
    import msgspec
    import pandas as pd

    from emberwound.chronicle.files import ready_folder, write_whole
    from emberwound.cli.choosing import bout_of
    from emberwound.study.attacks import AttackTotals
    from emberwound.study.summary import summarise

    chronicle = bout_of(source, bout, partial=partial)
    attacks = [msgspec.structs.asdict(each) for each in summarise(chronicle).attacks]
    folder = ready_folder(out)
    found = {
        "events": chronicle.table(),
        "tracks": chronicle.tracks.table(),
        "attacks": pd.DataFrame(attacks, columns=list(AttackTotals.__struct_fields__)),
    }
    for name, table in found.items():
        file = folder / f"{name_of(chronicle)}-{name}.csv"
        typer.echo(f"written: {write_whole(file, table.to_csv(index=False).encode())}, {len(table)} rows")
