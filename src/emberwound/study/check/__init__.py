"""The check of a book before any bout: what in it does nothing, or something that is seldom meant."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import TYPE_CHECKING

from emberwound.rulebook.load import line_of, read_file
from emberwound.rulebook.rules import Rules
from emberwound.study.check.arenas import check_arenas, check_bouts
from emberwound.study.check.idle import check_idle, check_shown
from emberwound.study.check.launches import check_launches, check_reach
from emberwound.study.check.measures import check_heights, check_hurtboxes, check_measures
from emberwound.study.check.never import check_never
from emberwound.study.check.survey import FINDINGS, SEVERITIES, Finding, Survey
from emberwound.study.check.wounds import check_wounds
from emberwound.vocabulary.errors import RulebookError

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.combat.terms import WoundContext
    from emberwound.vocabulary.errors import Problem

CHECKS = (
    check_idle,
    check_wounds,
    check_launches,
    check_reach,
    check_hurtboxes,
    check_arenas,
    check_bouts,
    check_shown,
    check_measures,
    check_never,
    check_heights,
)


def check(rules: Rules | str | Path) -> list[Finding]:
    """What in a book does not do what it seems to say, the worst first, then by line.

    Give rules, or the path of a file: one that cannot be loaded is then reported too, as findings with the severity
    "error". No bout is run. Raises RulebookError for a path where there is no TOML file.
    """
    if not isinstance(rules, Rules):
        text = read_file(rules)
        steps = _own_steps(text)
        try:
            rules = Rules.parse(text, Path(rules).name, steps)
        except RulebookError as error:
            return in_order([_refused(problem, text) for problem in error.problems])
    survey = Survey(rules)
    for index, step in enumerate(rules.book.settings.steps):
        what = f"{step} is a step of a host's own"
        survey.add("own-step", f"settings.steps[{index}]", what, "look at its wounds in a bout of the host")
    for each in CHECKS:
        each(survey)
    return in_order(list(dict.fromkeys(survey.found)))


def _own_steps(text: str) -> dict[str, tuple[Callable[[float, WoundContext], float], str]]:
    """The own steps that a book names, each as one that changes nothing: only a host knows what they do."""
    try:
        named = tomllib.loads(text).get("settings", {}).get("steps", [])
    except (tomllib.TOMLDecodeError, AttributeError, RecursionError, ValueError):
        return {}
    return {name: (_unchanged, "not known here") for name in named if isinstance(name, str)} if named else {}


def _unchanged(points: float, _context: WoundContext) -> float:
    return points


def in_order(findings: list[Finding]) -> list[Finding]:
    """The worst first, then as they stand in the file."""
    return sorted(findings, key=lambda each: (SEVERITIES.index(each.severity), each.line or 0, each.key))


def _refused(problem: Problem, text: str) -> Finding:
    name = problem.finding or "refused"
    _, why = FINDINGS[name]
    return Finding(
        name=name,
        severity="error",
        file=problem.file,
        key=problem.key,
        line=_line(problem.key, text),
        what=problem.seen,
        why=why,
        advice=problem.allowed if problem.nearest is None else f"did you mean '{problem.nearest}'? {problem.allowed}",
    )


def _line(key: str, text: str) -> int | None:
    try:
        return line_of(text, key)
    except (IndexError, ValueError):  # the text is no TOML
        return None
