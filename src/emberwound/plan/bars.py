"""What is shown of a bout, compiled: bars, cues, counters."""

from __future__ import annotations

from itertools import accumulate
from math import inf
from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.fighter_plans import BarPlan
from emberwound.plan.plan import CounterPlan, CuePlan
from emberwound.rulebook.checks.bars import MOST_PARTS
from emberwound.rulebook.fields import COLOURS
from emberwound.vocabulary.events import TYPES

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan.space import Space
    from emberwound.rulebook.models import Bar, Book, Counter, Cue, Fighter
    from emberwound.vocabulary.clock import Duration


USUAL_HEIGHT = 1.8
LENGTHS = {"width": 1.0, "height": 0.12, "rise": 0.15, "gap": 0.06, "outline": 0.02}
"""Lengths of a bar that does not give its own, of a fighter of the usual height; they go with the height."""

TEXTS = {"number": "{value:g} / {max:g}"}


def bar_plans(book: Book, fighter: Fighter, space: Space) -> tuple[BarPlan, ...]:
    """A fighter's bars, the first lowest: over its head, or from the top beyond its edge."""
    plans: list[BarPlan] = []
    top = fighter.body.height if space.has_heights else fighter.body.radius
    for index, name in enumerate(fighter.bars):
        bar = book.bars[name]
        gap = bar.gap if index else bar.rise
        top += (LENGTHS["gap" if index else "rise"] * _scale(fighter)) if gap is None else gap
        plan = _bar_plan(name, bar, fighter, top, book.settings.frame_rate)
        plans.append(plan)
        top += plan.height
    return tuple(plans)


def _scale(fighter: Fighter) -> float:
    return fighter.body.height / USUAL_HEIGHT


def _bar_plan(name: str, bar: Bar, fighter: Fighter, bottom: float, frame_rate: int) -> BarPlan:
    def seconds(time: Duration) -> float:
        return float(time.seconds(frame_rate))

    down, scale = seconds(bar.half_life), _scale(fighter)
    width, height = bar.size or (LENGTHS["width"] * scale, LENGTHS["height"] * scale)
    return BarPlan(
        name=name,
        table=bar,
        pool=list(fighter.pools).index(bar.pool) if bar.pool is not None else -1,
        pool_name=bar.pool or "",
        slot=fighter.all_attacks.index(bar.attack) if bar.attack is not None else -1,
        width=width,
        height=height,
        bottom=bottom,
        outline=LENGTHS["outline"] * scale if bar.outline is None else bar.outline,
        outline_colour=COLOURS.get(bar.outline_colour, bar.outline_colour),
        most_parts=MOST_PARTS,
        show_seconds=seconds(bar.show_seconds),
        up=down if bar.half_life_up is None else seconds(bar.half_life_up),
        down=down,
        trail_delay=seconds(bar.trail.delay) if bar.trail else 0.0,
        trail_half_life=seconds(bar.trail.half_life) if bar.trail else 0.0,
        shades=tuple((shade.above, *_rgb(shade.colour), shade.pattern) for shade in bar.shades),
        text=bar.text or TEXTS.get(bar.style, ""),
    )


def _rgb(colour: str) -> tuple[int, int, int]:
    code = COLOURS.get(colour, colour)
    return int(code[1:3], 16), int(code[3:5], 16), int(code[5:7], 16)


MOST_TOGETHER = 4


def cue_plans(book: Book, seats: int) -> tuple[CuePlan, ...]:
    """All cues of a book, for an arena with room for so many seats; each keeps a lane for everyone who hears it."""
    rate = book.settings.frame_rate
    lanes = [1 if cue.audience == "everyone" else seats for cue in book.cues.values()]
    places = [_places(cue) for cue in book.cues.values()]
    first_lanes = accumulate(lanes, initial=0)
    first_places = accumulate((lane * place for lane, place in zip(lanes, places, strict=True)), initial=0)
    return tuple(
        CuePlan(
            id=index,
            name=name,
            on=frozenset(TYPES[event] for event in cue.on),
            table=cue,
            lanes=lane,
            places=place,
            first_lane=first_lane,
            first_place=first_place,
            seconds=float(cue.seconds.seconds(rate)),
            gap=float(cue.gap.seconds(rate)),
        )
        for index, ((name, cue), lane, place, first_lane, first_place) in enumerate(
            zip(book.cues.items(), lanes, places, first_lanes, first_places, strict=False)
        )
    )


def _places(cue: Cue) -> int:
    return 1 if cue.overlap == "restart" else cue.max_at_once or MOST_TOGETHER


def counter_table(book: Book) -> NDArray[np.float64]:
    """What each counter gains by the second, and its least, (2, counters, 1)."""
    minimum = [-inf if counter.minimum is None else counter.minimum for counter in book.counters.values()]
    gains = [counter.per_second for counter in book.counters.values()]
    return np.array([gains, minimum], float)[:, :, None]


def counter_plan(name: str, counter: Counter) -> CounterPlan:
    """A number that each seat has."""
    return CounterPlan(
        name=name,
        table=counter,
        minimum=-inf if counter.minimum is None else counter.minimum,
    )
