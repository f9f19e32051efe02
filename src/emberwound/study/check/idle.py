"""What stands in a book and does nothing: what nobody uses, and what nothing changes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.outline import dotted, names_used
from emberwound.vocabulary.errors import nearest_name

if TYPE_CHECKING:
    from emberwound.rulebook.models import Fighter
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
