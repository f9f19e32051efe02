"""What asks for heights in a book whose arenas are all seen from the top, where there are none."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.models.attacks import Lunge, Swing
from emberwound.rulebook.models.tables import Push
from emberwound.rulebook.outline import dotted

if TYPE_CHECKING:
    from collections.abc import Iterator
    from typing import Any

    from emberwound.rulebook.outline import Key
    from emberwound.study.check.survey import Survey

LEVEL = 90.0
"""Degrees of tilt at which a swing is level."""


def check_heights(survey: Survey) -> None:
    """Lifts, upright swings, hits from above and postures in the air."""
    book = survey.book
    if not book.arenas or any(arena.space != "top" for arena in book.arenas.values()):
        return
    for key, what, advice in (*_of_attacks(survey), *_of_fighters(survey)):
        survey.add("no-heights", dotted(key), what, advice)


def _of_attacks(survey: Survey) -> Iterator[tuple[Key, str, str]]:
    """Every lift and apex below the attacks and blasts, and every swing that is not level."""
    tables: list[tuple[Key, Any]] = [(("attacks", name), each) for name, each in survey.book.attacks.items()]
    tables += [(("blasts", name), each) for name, each in survey.book.blasts.items()]
    for place, table in tables:
        pushes: list[tuple[Key, Any]] = [(("push",), table.push), (("lunge",), getattr(table, "lunge", None))]
        strike = getattr(table, "strike", None)
        boxes = strike.hitboxes if strike else {}
        pushes += [(("strike", "hitboxes", name, "push"), box.push) for name, box in boxes.items()]
        for key, moved in pushes:
            if isinstance(moved, Push | Lunge) and moved.lift_deg:
                yield (*place, *key, "lift_deg"), f"{moved.lift_deg:g} degrees up, and there is no up", "leave it out"
            if isinstance(moved, Push) and moved.apex is not None:
                yield (*place, *key, "apex"), f"a rise of {moved.apex:g}, and there is no up", "seconds, or neither"
        for name, box in boxes.items():
            if isinstance(box.swing, Swing) and box.swing.tilt_deg != LEVEL:
                key = (*place, "strike", "hitboxes", name, "swing", "tilt_deg")
                what = f"the swing is {LEVEL - box.swing.tilt_deg:g} degrees from level, and there is no up"
                yield key, what, "tilt_deg = 90: level, from right to left"


def _of_fighters(survey: Survey) -> Iterator[tuple[Key, str, str]]:
    """Rows for hits from above or in the air, and hurtboxes that are on in the air alone."""
    for name, fighter in survey.book.fighters.items():
        for index, row in enumerate(fighter.reactions):
            place: Key = ("fighters", name, "reactions", index)
            if row.sides == ("above",):
                yield (*place, "from"), "it asks for hits from above, and none comes from there", "another side"
            if row.airborne:
                yield (*place, "airborne"), "it asks for a victim in the air, and nobody is", "leave it out"
        for box, table in fighter.hurtboxes.items():
            if table.postures == ("airborne",):
                key = ("fighters", name, "hurtboxes", box, "postures")
                yield key, "it is on in the air alone, and nobody is in the air", 'add "standing", or leave it out'
