"""What stands in a book and does nothing, and what is seen and heard of it: cues and bars."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from emberwound.plan.bars import bar_plans
from emberwound.plan.compile import compile_plan
from emberwound.rulebook.outline import dotted, names_used
from emberwound.vocabulary.clock import Duration
from emberwound.vocabulary.errors import nearest_name

if TYPE_CHECKING:
    from emberwound.rulebook.models import Cue, Fighter
    from emberwound.study.check.survey import Survey


def check_idle(survey: Survey) -> None:
    """Warnings of the load, then attacks, kinds, fighters, arenas, pools and bars without a use."""
    for warning in survey.rules.warnings:
        survey.add(warning.finding or "carries-nothing", warning.key, warning.seen, warning.allowed)
    _attacks(survey)
    _kinds(survey)
    _by_bouts(survey)
    for name, fighter in survey.book.fighters.items():
        _pools(survey, name, fighter)


def _attacks(survey: Survey) -> None:
    for attack in survey.book.attacks:
        if not survey.owners(attack):
            owners = survey.book.fighters
            advice = f"add it to the attacks of a fighter: {', '.join(owners)}" if owners else "give it a fighter"
            survey.add("attack-unused", f"attacks.{attack}", "no fighter has it", advice)


def _kinds(survey: Survey) -> None:
    book = survey.book
    dealt = {name for key, section, name in names_used(book) if section == "kinds" and key[-1] == "kind"}
    for kind in book.kinds:
        if kind not in dealt:
            named = [dotted(key) for key, section, name in names_used(book) if section == "kinds" and name == kind]
            guess = nearest_name(kind, sorted(dealt))
            what = f"nothing deals it{f', though {named[0]} names it' if named else ''}"
            survey.add(
                "kind-unused", f"kinds.{kind}", what, f"give it to an attack{f', as {guess} is' if guess else ''}"
            )


def _by_bouts(survey: Survey) -> None:
    """Fighters and arenas that no bout brings in, in a book that has bouts."""
    book = survey.book
    if not book.bouts:
        return
    seated = {seat.fighter for bout in book.bouts.values() for seat in bout.seats.values()}
    for name in book.fighters:
        if name not in seated:
            survey.add("fighter-unused", f"fighters.{name}", "no seat of a bout has it", "give it a seat of a bout")
    held = {bout.arena for bout in book.bouts.values()}
    for name in book.arenas:
        if name not in held:
            survey.add("arena-unused", f"arenas.{name}", "no bout is held there", "hold a bout there")


def _pools(survey: Survey, name: str, fighter: Fighter) -> None:
    """Pools that nothing touches, and bars of such."""
    for pool, table in fighter.pools.items():
        if table.vital or _is_touched(survey, fighter, pool):
            continue
        if table.start is not None and table.start < table.max and table.refill:
            continue
        key, advice = (
            f"fighters.{name}.pools.{pool}",
            f"put it on the route, or give it a cost: cost = {{ {pool} = 1 }}",
        )
        survey.add("untouched-pool", key, f"nothing of {name} uses {pool}", advice)
        for bar in fighter.bars:
            if survey.book.bars[bar].pool == pool:
                what = f"{bar} shows {pool}, which nothing changes"
                survey.add("bar-of-idle-pool", f"bars.{bar}", what, "show another pool, or give this one a use")


def _is_touched(survey: Survey, fighter: Fighter, pool: str) -> bool:
    book = survey.book
    routes = [fighter.route or (), *(box.route or () for box in fighter.hurtboxes.values())]
    costs = [
        table.cost for name, table in book.attacks.items() if name in fighter.all_attacks or not survey.owners(name)
    ]
    guard = fighter.guard
    given = [pickup.gives for arena in book.arenas.values() for pickup in arena.pickups.values()]
    return (
        any(pool in route for route in routes)
        or any(pool in cost for cost in costs)
        or (guard is not None and guard.pool == pool and guard.drain > 0.0)
        or any(stage.pool == pool for stage in fighter.stages)
        or any(pool in gives for gives in given)
    )


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
        what = f"{cause} wounds every {every:.3g} s, and each wound begins {name} again"
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
