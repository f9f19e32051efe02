"""Printing: to people, to programs, and progress on the way."""

from __future__ import annotations

import sys
from contextlib import contextmanager
from typing import TYPE_CHECKING

import msgspec
from rich.console import Console
from rich.progress import Progress
from rich.table import Table

from emberwound.draw.answers import show_answer, show_finding
from emberwound.draw.terminal import advantage_rows, match_rows, push_table, show_bout, show_wound, timing_rows
from emberwound.draw.watch import Watch
from emberwound.study.check.survey import SEVERITIES

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence
    from pathlib import Path

    from emberwound.chronicle import Chronicle
    from emberwound.chronicle.narration import Line
    from emberwound.cli.shelf import Example
    from emberwound.face import Rulebook
    from emberwound.study.check.survey import Finding
    from emberwound.study.inquest.answer import Answer
    from emberwound.study.knockback import KnockbackReport
    from emberwound.study.reaction import Advantage
    from emberwound.study.summary import Summary
    from emberwound.study.timing import AttackTiming
    from emberwound.study.wound import MatchRow, WoundReport


@contextmanager
def progress_bar(what: str) -> Iterator[Callable[[int, int], None]]:
    """A bar on standard error for work that takes long; nothing when that is no terminal."""
    with Progress(console=Console(stderr=True), transient=True, disable=not sys.stderr.isatty()) as bar:
        task = bar.add_task(what, total=None)
        yield lambda done, total: bar.update(task, completed=done, total=total)


def watching(rules: Rulebook, bout: str, speed: float) -> Watch:
    """What shows a bout on standard output while it runs."""
    book = rules.book
    name = book.bouts[bout].title or bout
    title = f"{book.settings.title}: {name}" if book.settings.title else name
    return Watch(Console(highlight=False), title, speed=speed)


def print_bout(
    chronicle: Chronicle,
    lines: Sequence[Line],
    summary: Summary,
    written: Sequence[Path],
    changes: Sequence[str] = (),
    *,
    as_json: bool,
) -> None:
    """The story and the totals on standard output, as tables or as one JSON object, and the changes of the book."""
    names = [str(path) for path in written]
    if as_json:
        header = chronicle.header
        whole = {
            "bout": header.script,
            "arena": header.arena,
            "changes": list(changes),
            "seed": header.seed,
            "tick_rate": header.tick_rate,
            "seconds": chronicle.seconds,
            "story": lines,
            "totals": summary,
            "files": names,
        }
        _print_json(whole)
        return
    console = Console(highlight=False, soft_wrap=False)
    for change in changes:
        console.print(f"with {change}", soft_wrap=True, markup=False)
    show_bout(console, chronicle, lines, summary)
    console.print(f"written: {', '.join(names)}", soft_wrap=True, markup=False)


def print_examples(examples: Sequence[Example], *, as_json: bool) -> None:
    """The examples on standard output, a line each, or as a JSON list."""
    if as_json:
        _print_json([{"name": each.name, "shows": each.shows, "files": list(each.files)} for each in examples])
        return
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("example", no_wrap=True)
    table.add_column("what it shows")
    for each in examples:
        table.add_row(each.name, each.shows)
    console = Console(highlight=False)
    console.print(table)
    console.print("\ncopy one out:  emberwound example NAME", markup=False)


def print_findings(findings: Sequence[Finding], book: str, *, as_json: bool) -> None:
    """What a check found on standard output, the worst first, or as a JSON list."""
    if as_json:
        _print_json(findings)
        return
    console = Console(highlight=False)
    for each in findings:
        show_finding(console, each)
    counts = [(severity, sum(each.severity == severity for each in findings)) for severity in SEVERITIES]
    told = ", ".join(f"{number} {name}{'' if number == 1 else 's'}" for name, number in counts if number)
    console.print(f"{book}: {told or 'nothing found'}", markup=False)


def print_answer(answer: Answer, *, as_json: bool) -> None:
    """The answer of an inquest on standard output, or as a JSON object."""
    if as_json:
        _print_json(answer)
        return
    show_answer(Console(highlight=False), answer)


def print_wound(report: WoundReport, *, as_json: bool) -> None:
    """One wound on standard output, as a table or as a JSON object."""
    if as_json:
        _print_json(report)
        return
    console = Console(highlight=False)
    show_wound(console, report)


def print_match_table(rows: Sequence[MatchRow], *, as_json: bool) -> None:
    """The wounds of a book on standard output, as a table or as a JSON list."""
    if as_json:
        _print_json(rows)
        return
    Console(highlight=False).print(match_rows(rows))


def print_pushes(ways: Sequence[tuple[str, KnockbackReport]], units: str, file: Path, *, as_json: bool) -> None:
    """The figures of pushes on standard output, as a table or as a JSON list, and the file they are drawn in."""
    if as_json:
        _print_json({"file": str(file), "variants": [{"variant": label, "push": report} for label, report in ways]})
        return
    console = Console(highlight=False)
    console.print(push_table(ways, units, console.width))
    console.print(f"written: {file}", soft_wrap=True, markup=False)


def print_timing(timings: Sequence[AttackTiming], *, as_json: bool, against: Sequence[Advantage] | None = None) -> None:
    """The timing of attacks on standard output, as a table or as a JSON list; with who acts first after each."""
    if as_json:
        _print_json(timings if against is None else {"timing": timings, "against": against})
        return
    console = Console(highlight=False)
    console.print(timing_rows(timings, console.width))
    if against:
        console.print()
        _print_advantages(console, [("", against)])
    rate = timings[0].tick_rate if timings else 0
    console.print(f"counted from the tick an attack begins on, at {rate} ticks a second; tick ranges are inclusive")


def print_reactions(told: Sequence[tuple[str, Advantage]], file: Path, *, as_json: bool) -> None:
    """Who can attack first under each of some rules, as a table or as a JSON object, and the file it is drawn in."""
    if as_json:
        _print_json({"file": str(file), "variants": [{"variant": name, "advantage": each} for name, each in told]})
        return
    console = Console(highlight=False)
    _print_advantages(console, [(name, [each]) for name, each in told])
    console.print(f"written: {file}", soft_wrap=True, markup=False)


def _print_advantages(console: Console, told: Sequence[tuple[str, Sequence[Advantage]]]) -> None:
    """A table of who can attack first for each of some rules, below their name, and what its figures mean."""
    for name, rows in told:
        if name:
            console.print(name, style="bold", markup=False)
        console.print(advantage_rows(rows))
    console.print(
        "ticks since the last touch, tried in a bout, body against body: until the victim and the owner can attack; by "
        "how many the owner is ahead; what lands first then. Cooldowns, windows to follow, hit stop, the way of a push "
        "and reach count; reach is between the middles of the two"
    )


def _print_json(value: object) -> None:
    sys.stdout.write(msgspec.json.format(msgspec.json.encode(value), indent=2).decode() + "\n")
