"""Where fighters can be hit: gaps, what lies hidden within another, what lies far outside, and what nothing touches."""

from __future__ import annotations

from itertools import permutations
from typing import TYPE_CHECKING

from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import at_rest, hurtbox_solids
from emberwound.study.shapes import extent, lies_within

if TYPE_CHECKING:
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.solids import Solid
    from emberwound.rulebook.models import Fighter
    from emberwound.study.check.survey import Survey

WIDEST, TALLEST = 0.75, 0.5
"""A hurtbox may reach so many heights beyond the body to a side, and above or below it."""

SMALL_GAP = 0.1
"""A gap of less than this share of a fighter's height is not told of."""


def check_hurtboxes(survey: Survey) -> None:
    """Every fighter as it stands, in the first arena with heights."""
    book = survey.book
    arena = next((name for name, each in book.arenas.items() if each.space != "top"), None)
    for name, fighter in book.fighters.items():
        _unreachable(survey, name, fighter)
    if arena is None:
        return
    plan = compile_plan(survey.rules, arena, book.settings.tick_rate)
    for body in plan.fighters:
        if body.name in book.fighters:
            solids = hurtbox_solids(plan, body.id, at_rest(plan, body, (0.0, 0.0, 0.0), (1.0, 0.0)))
            boxes = {body.hurtboxes[part].name: solid for part, solid in solids.items()}
            if not boxes:
                postures = sorted(
                    {each for box in book.fighters[body.name].hurtboxes.values() for each in box.postures or ()}
                )
                what = f"none of its hurtboxes is on while it stands: they are on while {' or '.join(postures)}"
                key = f"fighters.{body.name}.hurtboxes.{next(iter(book.fighters[body.name].hurtboxes))}.postures"
                survey.add("never-hittable", key, what, 'add "standing" to the postures of one')
                continue
            oversized = _oversized(survey, body, boxes)
            _nested(survey, body, {name: solid for name, solid in boxes.items() if name not in oversized})
            _gaps(survey, body, boxes)


def _unreachable(survey: Survey, name: str, fighter: Fighter) -> None:
    """Hurtboxes on a layer that nothing of the book touches."""
    book = survey.book
    options = [way.options for attack in book.attacks if survey.owners(attack) for way in survey.ways(attack)]
    hazards = [each for arena in book.arenas.values() for each in arena.hazards.values()]
    layers = [each.layers for each in (*options, *book.blasts.values(), *hazards)]
    if not layers or any(each is None for each in layers):
        return
    touched = {layer for each in layers for layer in each or ()}
    for box, table in fighter.hurtboxes.items():
        if table.layer not in touched:
            what = f"it is on the layer {table.layer}; attacks and hazards touch {', '.join(sorted(touched))}"
            key = f"fighters.{name}.hurtboxes.{box}.layer"
            survey.add("unreachable-hurtbox", key, what, f"add {table.layer} to the layers of an attack")


def _oversized(survey: Survey, body: FighterPlan, boxes: dict[str, Solid]) -> list[str]:
    """Hurtboxes that reach far beyond the body; their names."""
    found = []
    for name, solid in boxes.items():
        low, high = extent(solid)
        wide = max(-low[0], high[0]) - body.radius
        tall = max(float(high[2]) - body.height, float(-low[2]))
        if wide > WIDEST * body.height or tall > TALLEST * body.height:
            far = max(wide, tall)
            what = f"it reaches {far:.3g} beyond the body, which is {body.height:g} high and {2 * body.radius:g} wide"
            survey.add("oversized-hurtbox", f"fighters.{body.name}.hurtboxes.{name}", what, "a smaller radius or size")
            found.append(name)
    return found


def _nested(survey: Survey, body: FighterPlan, boxes: dict[str, Solid]) -> None:
    tables = survey.book.fighters[body.name].hurtboxes
    for inner, outer in permutations(boxes, 2):
        one, other = tables[inner], tables[outer]
        alike = one.layer == other.layer and one.priority <= other.priority
        if alike and one.postures == other.postures and lies_within(boxes[inner], boxes[outer]):
            if lies_within(boxes[outer], boxes[inner]) and list(boxes).index(inner) < list(boxes).index(outer):
                continue  # two alike: the one later in the file is told of
            key, advice = f"fighters.{body.name}.hurtboxes.{inner}", f"move it out of {outer}, or make it larger"
            survey.add("nested-hurtbox", key, f"it lies wholly within {outer}", advice)


def _gaps(survey: Survey, body: FighterPlan, boxes: dict[str, Solid]) -> None:
    """Heights between hurtboxes where nothing of the fighter can be hit."""
    shots = [attack.shot.radius for attack in survey.book.attacks.values() if attack.shot]
    smallest = 2.0 * min(shots, default=0.0)
    spans = sorted((float(extent(each).low[2]), float(extent(each).high[2]), name) for name, each in boxes.items())
    top, below = spans[0][1], spans[0][2]
    for low, high, name in spans[1:]:
        if low - top > max(SMALL_GAP * body.height, smallest):
            what = f"between {top:.3g} and {low:.3g} above the ground, from {below} to {name}, nothing can be hit"
            survey.add(
                "gap-in-hurtboxes", f"fighters.{body.name}.hurtboxes.{name}", what, "make one of them reach further"
            )
        if high > top:
            top, below = high, name
