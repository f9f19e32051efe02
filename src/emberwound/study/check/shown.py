"""What is seen and heard: cues without a pause, and bars over each other."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from emberwound.plan.bars import bar_plans
from emberwound.plan.compile import compile_plan
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    from emberwound.rulebook.models import Cue
    from emberwound.study.check.survey import Survey

CLOSE = 1e-9
WITHOUT_PAUSE = 0.1
"""A cue that may come faster than this many seconds after the last is one long noise."""


def check_shown(survey: Survey) -> None:
    """Every cue and every fighter's bars."""
    causes = _causes(survey)
    for name, cue in survey.book.cues.items():
        _cue(survey, name, cue, causes)
    _bars(survey)


def _causes(survey: Survey) -> dict[str, tuple[float, float, str | None]]:
    """What wounds again and again by itself: every how many seconds, how many points, of which kind."""
    book = survey.book
    found: dict[str, tuple[float, float, str | None]] = {}
    for arena in book.arenas.values():
        for name, hazard in arena.hazards.items():
            if isinstance(hazard.rehit_every, Duration) and not hazard.fatal:
                found[name] = (survey.seconds(hazard.rehit_every), hazard.damage, hazard.kind)
    for name, affliction in book.afflictions.items():
        if affliction.every is not None:
            found[name] = (survey.seconds(affliction.every), affliction.damage, affliction.kind)
    for name, attack in book.attacks.items():
        every = attack.strike.rehit_every if attack.strike else None
        if isinstance(every, Duration):
            found[name] = (survey.seconds(every), attack.damage, attack.kind)
    return found


def _cue(survey: Survey, name: str, cue: Cue, causes: dict[str, tuple[float, float, str | None]]) -> None:
    if "wounded" not in cue.on or cue.below is not None or cue.overlap == "wait":
        return
    gap = survey.seconds(cue.gap)
    for cause, (every, points, kind) in causes.items():
        if max(every, gap) >= WITHOUT_PAUSE or (cue.attacks and cause not in cue.attacks):
            continue
        if (cue.kinds and kind not in cue.kinds) or points < (cue.min_points or 0.0):
            continue
        what = f"{cause} wounds every {every:.3g} s, and each wound begins {name} anew"
        survey.add("cue-every-tick", f"cues.{name}.gap", what, f"a gap of {WITHOUT_PAUSE:g} s and more, or min_points")
        return


def _bars(survey: Survey) -> None:
    """Bars of one fighter that cover each other: the next is drawn before the last one is over."""
    book = survey.book
    arena = next(iter(book.arenas), None)
    if arena is None:
        return
    space = compile_plan(survey.rules, arena, book.settings.tick_rate).space
    for name, fighter in book.fighters.items():
        plans = bar_plans(book, fighter, space)
        for below, above in pairwise(plans):
            between, needed = above.bottom - below.bottom - below.height, max(below.outline, above.outline)
            if between < needed - CLOSE:
                what = (
                    f"{above.name} lies {between:.3g} above {below.name} on {name}: an outline of {needed:g} covers it"
                )
                survey.add("bars-overlap", f"bars.{above.name}.gap", what, f"a gap of {needed:g} and more")
