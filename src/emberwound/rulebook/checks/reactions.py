"""Checks of reactions: names, and rows that could never be reached."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.combat.reaction import Fit
from emberwound.rulebook.checks.reading import Findings, items, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key


def check_reactions(found: Findings, key: Key, fighter: dict[str, Any]) -> None:
    """All that must fit within a fighter's table of reactions."""
    rows = [each for each in items(fighter.get("reactions")) if isinstance(each, dict)]
    fits = [_fit(row) for row in rows]
    boxes = table(fighter, "hurtboxes")
    for index, row in enumerate(rows):
        place: Key = (*key, "reactions", index)
        for which, box in enumerate(items(row.get("hurtboxes"))):
            if isinstance(box, str) and box not in boxes:
                found.unknown((*place, "hurtboxes", which), "hurtbox", box, boxes)
        for name in ("variants", "from", "hurtboxes", "kinds"):
            if row.get(name) == []:
                found.report((*place, name), "an empty list", "name one, or leave it out")
        for name in ("guarded", "breaks"):
            if row.get(name) is True and "guard" not in fighter:
                found.report((*place, name), "true without a guard", "this fighter has no guard; give it one")
        for earlier in range(index):
            if fits[earlier].covers(fits[index]):
                said = f"row {earlier} ({rows[earlier].get('name')}) fits all that this one fits"
                found.report(place, f"{row.get('name')} can never be reached", f"{said}: put it later")
                break


def _fit(row: dict[str, Any]) -> Fit:
    """What a raw row asks for, as far as it can be read."""

    def names(key: str) -> frozenset[str] | None:
        return frozenset(map(str, items(row[key]))) if key in row else None

    def truth(key: str) -> bool | None:
        return row[key] if isinstance(row.get(key), bool) else None

    return Fit(
        guarded=truth("guarded"),
        breaks=truth("breaks"),
        sides=names("from"),
        hurtboxes=names("hurtboxes"),
        kinds=names("kinds"),
        damage=number(row.get("damage")) or 0.0,
        push=number(row.get("push")) or 0.0,
        airborne=truth("airborne"),
        dying=row.get("dying") is True,
    )
