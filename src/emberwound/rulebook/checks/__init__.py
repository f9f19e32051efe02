"""What the models cannot see: names that must exist elsewhere, and values that must fit each other.

The checks read the raw data, so that they can speak of one part of a book while another part is broken.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.arenas import check_arena
from emberwound.rulebook.checks.attacks import check_affliction, check_attack
from emberwound.rulebook.checks.bars import check_bar
from emberwound.rulebook.checks.blasts import check_blast
from emberwound.rulebook.checks.bouts import check_bout
from emberwound.rulebook.checks.cues import check_cue
from emberwound.rulebook.checks.fighters import check_fighter
from emberwound.rulebook.checks.layers import layers_named
from emberwound.rulebook.checks.props import check_prop
from emberwound.rulebook.checks.reading import Findings, items, table
from emberwound.rulebook.models import Book
from emberwound.rulebook.outline import names_used

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.vocabulary.problems import Problem


MOST_LAYERS = 60
"""Layers are bits of one whole number, and the walls have one too."""


MOST_STRIKING_SEATS = 2000
"""Each body that strikes keeps an account of every seat that it has touched."""


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
        ("props", check_prop),
        ("blasts", check_blast),
        ("attacks", check_attack),
        ("afflictions", check_affliction),
        ("arenas", check_arena),
        ("cues", check_cue),
        ("bars", check_bar),
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
    seats = settings.get("max_seats", 16)
    strikes = [name for name, attack in table(found.raw, "attacks").items() if "strike" in table(attack)]
    if strikes and isinstance(seats, int) and seats > MOST_STRIKING_SEATS:
        allowed = f"allowed: up to {MOST_STRIKING_SEATS} in a book with strikes, such as {strikes[0]}"
        found.report(("settings", "max_seats"), str(seats), allowed)
    found.doubles(("settings", "board"), items(settings.get("board")))
    named = items(settings.get("steps"))
    found.doubles(("settings", "steps"), named)
    for index, name in enumerate(named):
        if isinstance(name, str) and name not in steps:
            found.unknown(("settings", "steps", index), "own step registered with Rulebook.load", name, steps)
    if "combo" in settings and not items(table(settings, "combo").get("shares")):
        found.report(("settings", "combo", "shares"), "an empty list", "give a share for each wound in a row")
