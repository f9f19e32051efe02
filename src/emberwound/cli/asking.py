"""Commands that ask: `check` before a bout, `inquest` and `tables` after it, `wound` without one."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from emberwound.cli.choosing import (
    FOLDER,
    Against,
    Change,
    OfSource,
    OrderAsked,
    Partial,
    ShotAsked,
    Source,
    SwingAsked,
    name_of,
)

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
    from emberwound.study.summary import AttackTotals, summarise

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


def wound(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str | None, typer.Argument(help="One of its attacks.")] = None,
    victim: Annotated[str | None, typer.Argument(help="One of its fighters.")] = None,
    hurtbox: Annotated[
        str | None, typer.Option(help="Where it hits; the one met first from the front if left out.")
    ] = None,
    hitbox: Annotated[
        str | None, typer.Option(help="With which hitbox of a strike; the first that fits if left out.")
    ] = None,
    distance: Annotated[float, typer.Option(help="How far it flew; of a blast, how far from its middle.")] = 0.0,
    charge: Annotated[float | None, typer.Option(help="The share of a full charge, 0 to 1.")] = None,
    combo_count: Annotated[int, typer.Option(help="How many wounds came shortly before.", metavar="N")] = 0,
    pool: Annotated[list[str] | None, typer.Option(help="A pool before it, name=value; repeat it.")] = None,
    change: Change = None,
    *,
    blast: Annotated[
        bool | None, typer.Option("--blast/--no-blast", help="By its blast, or by anything else; if left out, as fits.")
    ] = None,
    guarded: Annotated[bool, typer.Option("--guarded", help="Meet the victim's guard from the front.")] = False,
    table: Annotated[bool, typer.Option("--table", help="Every attack against every fighter and hurtbox.")] = False,
    timing: Annotated[
        bool, typer.Option("--timing", help="When every attack, or the one named, does what, in ticks and seconds.")
    ] = False,
    against: Annotated[
        str | None,
        typer.Option(help="With --timing: a fighter that it hits, and who can then act first.", metavar="FIGHTER"),
    ] = None,
    json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
) -> None:
    """Work out one wound and its ledger, the table of all wounds of a book, or the timing of its attacks."""
    from emberwound.cli.choosing import changed, load_book
    from emberwound.cli.output import print_match_table, print_timing, print_wound
    from emberwound.study.timing import timing_table
    from emberwound.study.wound import match_table, wounding

    rules = changed(load_book(book), change or [])
    if table:
        print_match_table(match_table(rules), as_json=json)
        return
    if timing:
        timings = [rules.timing(attack)] if attack else timing_table(rules)
        ahead = (
            [rules.advantage(each.attack, against) for each in timings if wounding(rules, each.attack, against)]
            if against
            else None
        )
        print_timing(timings, as_json=json, against=ahead)
        return
    if attack is None or victim is None:
        raise typer.BadParameter("name an ATTACK and a VICTIM, or ask for --table or --timing")
    report = rules.wound(
        attack,
        victim,
        hurtbox=hurtbox,
        hitbox=hitbox,
        blast=blast,
        guarded=guarded,
        distance=distance,
        charge=charge,
        combo_count=combo_count,
        pools=dict(_pool(each) for each in pool or []),
    )
    print_wound(report, as_json=json)


def _pool(text: str) -> tuple[str, float]:
    name, _, value = text.partition("=")
    try:
        return name, float(value)
    except ValueError:
        raise typer.BadParameter(f"--pool {text}: give name=value, such as health=30") from None
