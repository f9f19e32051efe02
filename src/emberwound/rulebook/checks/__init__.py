"""What the models cannot see: names that must exist elsewhere, and values that must fit each other.

The checks read the raw data, so that they can speak of one part of a book while another part is broken.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.arenas import check_arena
from emberwound.rulebook.checks.attacks import check_affliction, check_attack, layers_named
from emberwound.rulebook.checks.bouts import check_bout
from emberwound.rulebook.checks.fighters import check_fighter
from emberwound.rulebook.checks.reading import Findings, items, table
from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import names_used

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.vocabulary.problems import Problem


MOST_LAYERS = 60
"""Layers are bits of one whole number, and the walls have one too."""


def crosscheck(raw: dict[str, Any], file: str, steps: Sequence[str] = ()) -> list[Problem]:
    """All problems of names and of values that do not fit each other; `steps` are the own steps there are."""
    found = Findings(raw, file)
    _settings(found, steps)
    for key, section, name in names_used(Book, raw):
        known = table(raw, section)
        if name not in known:
            found.unknown(key, section.removesuffix("s"), name, known)
    sections = (
        ("fighters", check_fighter),
        ("attacks", check_attack),
        ("afflictions", check_affliction),
        ("arenas", check_arena),
        ("bouts", check_bout),
    )
    for section, check in sections:
        for name in table(raw, section):
            check(found, name)
    return found.problems


def _settings(found: Findings, steps: Sequence[str]) -> None:
    settings = table(found.raw, "settings")
    layers = layers_named(found)
    if len(layers) > MOST_LAYERS:
        found.report(("fighters",), f"{len(layers)} layers on hurtboxes", f"allowed: at most {MOST_LAYERS} in a book")
    named = items(settings.get("steps"))
    found.doubles(("settings", "steps"), named)
    for index, name in enumerate(named):
        if isinstance(name, str) and name not in steps:
            found.unknown(("settings", "steps", index), "own step registered with Rulebook.load", name, steps)
    if "combo" in settings and not items(table(settings, "combo").get("shares")):
        found.report(("settings", "combo", "shares"), "an empty list", "give a share for each wound in a row")
