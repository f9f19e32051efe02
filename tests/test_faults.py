"""Sixty faults of the slate quarry: each is named by its key or its value, by the check or first by the inquest."""

from __future__ import annotations

import contextlib
import re
import tomllib
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from quarry_faults import FAULTS, QUARRY, Fault

if TYPE_CHECKING:
    from pathlib import Path


def asked(rules: ew.Rulebook, fault: Fault) -> ew.study.Answer:
    """What an inquest tells of the bout that its author asks about."""
    what, value = fault.asked
    return ew.inquest(ew.run(rules, fault.bout), **{what: value})


def test_the_quarry_is_sound(tmp_path: Path) -> None:
    (tmp_path / "quarry.toml").write_text(QUARRY)
    assert ew.Rulebook.check_file(tmp_path / "quarry.toml") == []


@pytest.mark.parametrize("number", range(len(FAULTS)))
def test_each_fault_is_named_and_what_was_tried_mends_it(number: int, tmp_path: Path) -> None:
    fault, book, answer = FAULTS[number], tmp_path / "quarry.toml", None
    book.write_text(fault.text)
    found = ew.Rulebook.check_file(book)
    with contextlib.suppress(ew.RulebookError, ew.ChronicleError):  # a book that is refused, or nothing to ask about
        rules = ew.Rulebook.load(book)
        answer = asked(rules, fault)
    assert fault.named_by_check(found) or (answer is not None and fault.named_by(answer)), (found, answer)
    if answer is None:
        return
    change = re.fullmatch(r"([\w.\[\]]+) = (\S+) instead of \S+", answer.trial.change) if answer.trial else None
    if change is not None and "." in change[1]:
        again = asked(rules.edit({change[1]: tomllib.loads(f"value = {change[2]}")["value"]}), fault)
        assert again.cause != answer.cause, (change[0], again)
