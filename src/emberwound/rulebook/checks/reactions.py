"""Checks of reactions: names, and rows that could never be reached."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.terms import reaction_fit

if TYPE_CHECKING:
    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Fighter, Reaction
    from emberwound.rulebook.outline import Key

NOT_OF_PARRIES = ("guarded", "breaks", "dying", "damage", "push", "hurtboxes", "sides")


def check_reactions(found: Findings, key: Key, fighter: Fighter) -> None:
    """All that must fit within a fighter's table of reactions."""
    fits = [reaction_fit(row) for row in fighter.reactions]
    for index, row in enumerate(fighter.reactions):
        place: Key = (*key, "reactions", index)
        for which, box in enumerate(row.hurtboxes or ()):
            if box not in fighter.hurtboxes:
                found.unknown((*place, "hurtboxes", which), "hurtbox", box, fighter.hurtboxes)
        lists = (("variants", row.variants), ("from", row.sides), ("hurtboxes", row.hurtboxes), ("kinds", row.kinds))
        for name, given in lists:
            if given == ():
                found.report((*place, name), "an empty list", "name one, or leave it out")
        for name in ("guarded", "breaks"):
            if getattr(row, name) and fighter.guard is None:
                found.report((*place, name), "true without a guard", "this fighter has no guard; give it one")
        _of_parry(found, (*place, "parried"), row)
        for earlier in range(index):
            if fits[earlier].covers(fits[index]):
                said = f"row {earlier} ({fighter.reactions[earlier].name}) fits all that this one fits"
                found.report(
                    place, f"{row.name} can never be reached", f"{said}: put it later", finding="reaction-shadowed"
                )
                break


def _of_parry(found: Findings, key: Key, row: Reaction) -> None:
    """A strike that is parried is no hit on its owner: nothing of one can be asked."""
    asks = [
        name for name in ("guarded", "breaks", "dying", "damage", "push", "hurtboxes", "sides") if getattr(row, name)
    ]
    if row.parried and asks:
        asked = "from" if asks[0] == "sides" else asks[0]
        found.report(key, f"true with {asked}", f"a strike of its own that is parried has no {asked}; give one of them")
