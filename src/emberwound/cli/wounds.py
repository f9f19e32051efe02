"""The command `wound`: what an attack does to a fighter, or all of them to all."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from emberwound.cli.options import Change


def wound(
    book: Annotated[Path, typer.Argument(help="A rulebook, a TOML file.", metavar="BOOK")],
    attack: Annotated[str | None, typer.Argument(help="One of its attacks.")] = None,
    victim: Annotated[str | None, typer.Argument(help="One of its fighters.")] = None,
    hurtbox: Annotated[str | None, typer.Option(help="Where it hits; the first hurtbox if left out.")] = None,
    hitbox: Annotated[str | None, typer.Option(help="With which hitbox of a strike; the first if left out.")] = None,
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
    from emberwound.study.matches import match_table, wounding
    from emberwound.study.timing import timing_table

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
