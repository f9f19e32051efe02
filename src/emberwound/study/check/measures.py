"""Figures that do not fit: times off the grid of ticks, lengths in another unit, heights seen from the top."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, Any

from pydantic import BaseModel

from emberwound.rulebook.models.attacks import Lunge, Swing
from emberwound.rulebook.models.tables import Push
from emberwound.rulebook.outline import dotted, table_keys
from emberwound.vocabulary.clock import Duration, ticks_in

if TYPE_CHECKING:
    from collections.abc import Iterator

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
    """How long a body falls from its own height tells whether lengths and gravity are of one unit."""
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
