"""Figures that do not fit: off the grid of ticks, in another unit; and where fighters can be hit."""

from __future__ import annotations

from fractions import Fraction
from itertools import permutations
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel

from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import extent, lies_within
from emberwound.plan.stances import at_rest, hurtbox_solids
from emberwound.rulebook.models.attacks import Lunge, Swing
from emberwound.rulebook.models.tables import Push
from emberwound.rulebook.outline import dotted, table_keys
from emberwound.vocabulary.clock import Duration, ticks_in

if TYPE_CHECKING:
    from collections.abc import Iterator

    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.solids import Solid
    from emberwound.rulebook.models import Fighter
    from emberwound.rulebook.outline import Key
    from emberwound.study.check.survey import Survey


RULED = ("fighters", "attacks", "afflictions", "arenas")
"""The tables whose times count in ticks; a script's orders are given to the tick that comes."""

UNSEEN = ("respawn_seconds", "respawn_protection", "corpse_seconds", "elimination_seconds", "life", "delay", "seconds")
"""Times in which nobody sees a tick more or less."""

USUAL_FALL = 0.6
"""Seconds in which somebody 1.8 m high falls from that height on the ground."""


def check_measures(survey: Survey) -> None:
    """Every time of the rules, and every arena's gravity."""
    rate = survey.book.settings.tick_rate
    off = []
    for key, time in _times(survey.book, ()):
        exact = time.seconds(survey.book.settings.frame_rate) * rate
        if key[0] in RULED and key[-1] not in UNSEEN and exact.denominator != 1:
            off.append((key, time, exact))
    if off:
        key, time, exact = off[0]
        ticks = ticks_in(Fraction(exact) / rate, rate)
        what = f"{time.written()} is {float(exact):.4g} ticks at {rate} a second; it becomes {ticks}"
        others = [dotted(each) for each, _, _ in off[1:]]
        what += f"; {len(others)} more times are off the grid, the next {others[0]}" if others else ""
        survey.add("off-grid-time", dotted(key), what, f'{ticks}/{rate} of a second, written "{ticks}/{rate}"')
    _scale(survey)


def _times(value: Any, key: Key) -> Iterator[tuple[Key, Duration]]:
    """Every time below a table that it says itself, with its key."""
    if isinstance(value, Duration):
        yield key, value
    elif isinstance(value, BaseModel):
        for name, written in zip(type(value).model_fields, table_keys(type(value)), strict=True):
            if name in value.model_fields_set:
                yield from _times(getattr(value, name), (*key, written))
    elif isinstance(value, dict):
        for name, entry in value.items():
            yield from _times(entry, (*key, name))
    elif isinstance(value, tuple):
        for index, entry in enumerate(value):
            yield from _times(entry, (*key, index))


def _scale(survey: Survey) -> None:
    """How long a body falls from its own height shows whether lengths and gravity are of one unit."""
    for name, (fighter, seconds) in survey.mismatched.items():
        height, gravity = survey.book.fighters[fighter].body.height, survey.book.arenas[name].gravity
        what = f"{fighter}, {height:g} high, falls that far in {seconds:.2g} s at {gravity:g}"
        likely = gravity * (seconds / USUAL_FALL) ** 2
        advice = f"a gravity of about {likely:.3g}, or lengths in another unit"
        survey.add("scale-mismatch", f"arenas.{name}.gravity", what, advice)


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
                continue  # two alike: the one later in the file is reported
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
