"""What one model cannot see by itself: names that must exist elsewhere, and values that must fit each other."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.arenas import check_arena
from emberwound.rulebook.checks.attacks import check_affliction, check_attack, check_blast
from emberwound.rulebook.checks.bars import check_bar, check_cue
from emberwound.rulebook.checks.bouts import check_bout
from emberwound.rulebook.checks.fighters import check_fighter, check_prop
from emberwound.rulebook.checks.reading import Findings, layers_named
from emberwound.rulebook.checks.timelines import too_fast
from emberwound.rulebook.outline import names_used

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.rulebook.checks.reading import Parsed
    from emberwound.vocabulary.errors import Problem

MOST_LAYERS = 60
"""Layers are bits of one whole number, and the walls have one too."""

SECTIONS: tuple[tuple[str, Callable[[Findings, str], None]], ...] = (
    ("fighters", check_fighter),
    ("props", check_prop),
    ("blasts", check_blast),
    ("attacks", check_attack),
    ("afflictions", check_affliction),
    ("arenas", check_arena),
    ("cues", check_cue),
    ("bars", check_bar),
    ("bouts", check_bout),
)


def crosscheck(book: Parsed, file: str, steps: Sequence[str] = ()) -> list[Problem]:
    """All problems of names and of values that do not fit each other; `steps` are the own steps there are."""
    found = Findings(book, file)
    _settings(found, steps)
    for key, section, name in _names(book):
        known = book.names[section]
        if name not in known:
            found.unknown(key, section.removesuffix("s"), name, known)
    settings = book.settings
    for key, seen, allowed in too_fast(
        book.attacks, book.afflictions, book.arenas, settings.frame_rate, settings.tick_rate
    ):
        found.report(key, seen, allowed)
    for section, check in SECTIONS:
        for name in book.entries(section):
            check(found, name)
    return found.problems


def _names(book: Parsed) -> list[tuple[tuple[str | int, ...], str, str]]:
    """Every name of an entry that some other entry uses: where, of which section, and the name."""
    found = list(names_used(book.settings, ("settings",)))
    for section in book.names:
        for name, entry in book.entries(section).items():
            found += names_used(entry, (section, name))
    return found


def _settings(found: Findings, steps: Sequence[str]) -> None:
    settings = found.book.settings
    layers = layers_named(found)
    if len(layers) > MOST_LAYERS:
        found.report(("fighters",), f"{len(layers)} layers on hurtboxes", f"allowed: at most {MOST_LAYERS} in a book")
    found.doubles(("settings", "board"), settings.board)
    found.doubles(("settings", "steps"), settings.steps)
    for index, name in enumerate(settings.steps):
        if name not in steps:
            found.unknown(("settings", "steps", index), "own step registered with Rulebook.load", name, steps)
    if settings.combo is not None and not settings.combo.shares:
        found.report(("settings", "combo", "shares"), "an empty list", "give a share for each wound of a combo")
