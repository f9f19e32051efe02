"""In the terminal: figures of pushes in words, what a check found, and what an inquest answers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.padding import Padding
from rich.table import Table
from rich.text import Text

if TYPE_CHECKING:
    from collections.abc import Sequence

    from rich.console import Console

    from emberwound.study.check.survey import Finding, Severity
    from emberwound.study.inquest.answer import Answer
    from emberwound.study.knockback import KnockbackReport


COLUMNS = ("variant", "speed", "lift", "apex", "at", "lands at", "after", "rests at", "after")
"""What is said of each way of a push."""


def push_rows(variants: Sequence[tuple[str, KnockbackReport]], units: str) -> list[tuple[str, ...]]:
    """The figures of each way, as they are printed and drawn."""
    return [
        (
            label or report.attack,
            f"{report.speed:.4g} {units}/s",
            f"{report.lift_deg:.3g}°",
            f"{report.apex:.4g} {units}",
            f"{report.apex_seconds:.3g} s",
            f"{report.landing:.4g} {units}" if report.landing_seconds else "-",
            f"{report.landing_seconds:.3g} s" if report.landing_seconds else "-",
            f"{report.rest:.4g} {units}",
            f"{report.rest_seconds:.3g} s",
        )
        for label, report in variants
    ]


STYLES: dict[Severity, str] = {"error": "bold red", "warning": "bold yellow", "hint": "bold"}
INDENT = 4


def show_finding(console: Console, finding: Finding) -> None:
    """One finding: where, how bad and which on one line, then what was found, why it matters, and what to try."""
    place = finding.file if finding.line is None else f"{finding.file}:{finding.line}"
    head = Text.assemble(
        (finding.severity, STYLES[finding.severity]),
        " ",
        (finding.name, "bold"),
        "  ",
        (f"{place}  {finding.key}", "dim"),
    )
    console.print(head, soft_wrap=True)
    told = Text(finding.what) if finding.what.endswith(".") else Text(f"{finding.what}.")
    console.print(Padding(told, (0, 0, 0, INDENT)))
    console.print(Padding(Text(f"Why it matters: {finding.why}.", style="dim"), (0, 0, 0, INDENT)))
    console.print(Padding(Text(f"Try: {finding.advice}."), (0, 0, 1, INDENT)))


def show_answer(console: Console, answer: Answer) -> None:
    """An answer: the question, its first cause, what was enough when it was tried, and what else there is."""
    console.print(Text(answer.question, style="dim"))
    console.print()
    console.print(Text.assemble((answer.cause.name, "bold"), "  ", answer.cause.text))
    if answer.cause.set_by:
        console.print(Padding(Text(f"set by {', '.join(answer.cause.set_by)}", style="dim"), (0, 0, 0, INDENT)))
    if answer.trial is not None:
        runs = f"(run again {answer.trial.runs} times)" if answer.trial.runs > 1 else "(run again once)"
        told = Text.assemble(("tried: ", "bold"), f"{answer.trial.change}: {answer.trial.then} ", (runs, "dim"))
        console.print(Padding(told, (1, 0, 0, 0)))
    if len(answer.causes) > 1:
        console.print(Padding(Text("and besides:", style="dim"), (1, 0, 0, 0)))
        for cause in answer.causes[1:]:
            console.print(Padding(Text.assemble((cause.name, "bold"), "  ", cause.text), (0, 0, 0, INDENT)))
    if answer.attempts:
        console.print()
        console.print(_attempts(answer))
    for line in answer.lines:
        console.print(Padding(Text(line), (0, 0, 0, INDENT)))


def _attempts(answer: Answer) -> Table:
    table = Table(box=None, header_style="dim", pad_edge=False)
    table.add_column("time", justify="right")
    table.add_column("attack", no_wrap=True)
    table.add_column("shot", justify="right")
    table.add_column("cause", no_wrap=True)
    table.add_column("what became of it")
    for each in answer.attempts:
        shot = str(each.shot) if each.shot else ""
        table.add_row(f"{each.time:.3f} s", each.attack, shot, Text(each.cause.name), Text(each.cause.text))
    return table
