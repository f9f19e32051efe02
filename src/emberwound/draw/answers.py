"""In the terminal: what a check found."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rich.padding import Padding
from rich.text import Text

if TYPE_CHECKING:
    from rich.console import Console

    from emberwound.study.check.finding import Finding, Severity

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
