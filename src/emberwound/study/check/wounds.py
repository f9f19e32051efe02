"""What attacks come to on fighters: wounds of nothing, guards and shields without end, who cannot die or act."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.asked_hit import takes_points
from emberwound.study.knockback import knockback_report
from emberwound.study.reaction import reaction_report
from emberwound.vocabulary.clock import Duration
from emberwound.vocabulary.errors import RulebookError

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.models import Fighter, Guard, Pool
    from emberwound.study.check.survey import Severity, Survey, Use
    from emberwound.study.wound import MatchRow

FULL_TURN = 360.0
LOCKED = {"move", "attack", "guard"}
"""A reaction that locks all of these leaves nothing to do."""

FEW_HITS = 2
"""Who falls to so many hits has no time to be held, nor to fill up."""


def check_wounds(survey: Survey) -> None:
    """All of this, use by use and fighter by fighter."""
    for use in survey.uses:
        _hurts_nobody(survey, use)
    _zero_wounds(survey)
    for name, fighter in survey.book.fighters.items():
        if fighter.guard is not None:
            _guard_total(survey, name, fighter.guard)
        _immortal(survey, name, fighter)
        for pool, table in fighter.pools.items():
            routes = [fighter.route or (), *(box.route or () for box in fighter.hurtboxes.values())]
            if not table.vital and any(pool in route for route in routes):
                _endless_shield(survey, name, pool, table)
    _reaction_locks(survey)
    _knockback(survey)


def _hurts_nobody(survey: Survey, use: Use) -> None:
    """An attack that a seat is ordered to use where nothing of it can touch anybody."""
    book = survey.book
    attack, bout = book.attacks[use.attack], book.bouts[use.bout]
    others = [name for name in bout.seats if name != use.seat] or list(survey.arena_of(use.bout).props)
    if not survey.does_hit(attack) or not others or any(survey.victims(use, way) for way in survey.ways(use.attack)):
        return
    key = f"attacks.{use.attack}.layers" if attack.layers is not None else f"bouts.{use.bout}.seats.{use.seat}.team"
    team = bout.seats[use.seat].team
    if team is not None and all(bout.seats[name].team == team for name in others if name in bout.seats):
        what = f"{use.seat} uses it in {use.bout}, where all others are of its own team, {team}"
        advice = "give them another team, or the attack hits_allies = true"
    else:
        what = f"{use.seat} uses {use.attack} in {use.bout}, where no hurtbox of a foe is on its layers"
        advice = "name a layer of theirs, or leave layers out"
    survey.add("hurts-nobody", key, what, advice)


def _zero_wounds(survey: Survey) -> None:
    """Attacks that take no points of a fighter, wherever they hit it, though they are meant to take some."""
    book = survey.book
    whole: dict[tuple[str, str], float] = {}
    for row in survey.matches:
        if {name for name, _ in survey.owners(row.attack)} == {row.victim} and len(book.fighters) > 1:
            continue  # none but its own kind could use it on it
        if row.attack not in survey.foes_attacks(row.victim):
            continue  # they never meet
        pair = (row.blast or row.attack, row.victim)
        whole[pair] = max(whole.get(pair, 0.0), row.damage)
    for (attack, victim), damage in whole.items():
        if damage > 0.0 or (book.attacks.get(attack) or book.blasts[attack]).damage == 0.0:
            continue
        options = book.attacks.get(attack) or book.blasts[attack]
        fighter = book.fighters[victim]
        immune = options.kind is not None and fighter.damage_taken.get(options.kind) == 0.0
        key = f"fighters.{victim}.damage_taken.{options.kind}" if immune else f"fighters.{victim}.flat_reduction"
        harms_others = any(taken > 0.0 for (each, _), taken in whole.items() if each == attack)
        severity: Severity | None = "hint" if immune and harms_others else None
        what = f"{attack} takes no points of {victim}, wherever it hits"
        survey.add("zero-wound", key, what, f"see emberwound wound BOOK {attack} {victim} for its ledger", severity)


def _guard_total(survey: Survey, name: str, guard: Guard) -> None:
    book = survey.book
    classes = {
        each.guard_class
        for attack, table in book.attacks.items()
        if [owner for owner, _ in survey.owners(attack) if owner != name]
        for each in (way.options for way in survey.ways(attack))
        if survey.does_hit(table)
    }
    free = guard.damage_share == 0.0 and guard.drain == 0.0
    if free and guard.arc_deg >= FULL_TURN and classes and classes <= set(guard.classes):
        what = "it stops all damage from all sides and costs nothing"
        survey.add("guard-total", f"fighters.{name}.guard", what, "give it an arc_deg, a damage_share or a drain")


def _foes(survey: Survey, name: str) -> set[str]:
    """The attacks that others than a fighter have; in a book of one fighter its own."""
    book = survey.book
    if book.bouts:
        return survey.foes_attacks(name)
    others = [each for each in book.fighters if each != name] or [name]
    return {attack for each in others for attack in book.fighters[each].all_attacks}


def _immortal(survey: Survey, name: str, fighter: Fighter) -> None:
    """A fighter that nothing of the book can kill, in a book that wounds at all."""
    rows = [row for row in survey.matches if row.victim == name and row.attack in _foes(survey, name)]
    fatal = any(hazard.fatal for arena in survey.book.arenas.values() for hazard in arena.hazards.values())
    if not rows or fatal:
        return
    key = f"fighters.{name}"
    pool, table = next((pool, table) for pool, table in fighter.pools.items() if table.vital)
    strongest = max(rows, key=lambda row: row.per_second)
    besides = _drained_by_itself(survey, fighter)
    if all(row.hits is None for row in rows) and besides == 0.0 and strongest.damage > 0.0:  # else zero-wound tells
        what = f"none of the {len({row.attack for row in rows})} attacks of others can bring its {pool} to 0"
        advice = f"see emberwound wound BOOK {strongest.attack} {name} for what takes the points"
        survey.add("immortal", key, what, advice)
    elif (
        table.refill >= max(strongest.per_second, besides) > 0.0
        and survey.seconds(table.delay) == 0.0
        and not _kill_soon(rows)
    ):
        what = (
            f"its {pool} fills by {table.refill:g} a second, and the strongest attack of others, {strongest.attack}, "
            f"takes {strongest.per_second:.3g} a second"
        )
        survey.add("immortal", f"{key}.pools.{pool}.refill", what, "give the refill a delay, or make it smaller")


def _drained_by_itself(survey: Survey, fighter: Fighter) -> float:
    """The most points a second that a hazard or an affliction takes of a fighter; one that comes once counts too."""
    book = survey.book
    times = [
        (hazard.damage, hazard.kind, hazard.rehit_every if isinstance(hazard.rehit_every, Duration) else None)
        for arena in book.arenas.values()
        for hazard in arena.hazards.values()
    ]
    times += [(each.damage, each.kind, each.every) for each in book.afflictions.values()]
    return max(
        (
            damage * fighter.damage_taken.get(kind or "", 1.0) / (survey.seconds(every) if every else 1.0)
            for damage, kind, every in times
        ),
        default=0.0,
    )


def _kill_soon(rows: Sequence[MatchRow]) -> bool:
    return any(row.hits is not None and row.hits <= FEW_HITS for row in rows)


def _endless_shield(survey: Survey, name: str, pool: str, table: Pool) -> None:
    """A pool before the vital one that is full again before the next hit of anything that goes through it."""
    fighter = survey.book.fighters[name]
    behind = {
        each
        for each, box in fighter.hurtboxes.items()
        if pool in (fighter.route or () if box.route is None else box.route)
    }
    rows = [
        row
        for row in survey.matches
        if row.victim == name and row.hurtbox in behind and row.attack in _foes(survey, name) and row.damage
    ]
    if not rows or table.refill == 0.0:
        return
    back = []
    for row in rows:
        period = float(survey.timeline(row.attack).period)
        launch = survey.book.attacks[row.attack].shot or survey.book.attacks[row.attack].ray
        taken = row.per_second * period / (launch.count if launch else 1)  # of a fan one hits
        back.append(table.refill * (period - survey.seconds(table.delay)) >= min(taken, table.max))
    if all(back):
        strongest = max(rows, key=lambda row: row.per_second)
        what = f"{pool} is full again before the next hit; {strongest.attack} takes {strongest.per_second:.3g} a second"
        advice = f"a refill of less than {strongest.per_second:.3g}, or a delay"
        survey.add("endless-shield", f"fighters.{name}.pools.{pool}.refill", what, advice)


def _reaction_locks(survey: Survey) -> None:
    """Attacks that come again before the reaction to them is over, and hold their victim where it is hit again."""
    book = survey.book
    for attack, table in book.attacks.items():
        ways = [way for way in survey.ways(attack) if takes_points(way)]
        if not ways or table.throw or table.cost or not (table.shot or table.ray or table.strike):
            continue
        period = float(survey.timeline(attack).period)
        owners = {name for name, _ in survey.owners(attack)}
        for victim, fighter in book.fighters.items():
            if not fighter.reactions or fighter.stagger_resistance or (owners == {victim} and len(book.fighters) > 1):
                continue
            if attack not in survey.foes_attacks(victim):
                continue
            if any(way.options.push for way in ways) and table.strike:
                continue  # the push takes it out of reach
            try:
                report = reaction_report(survey.rules, attack, victim, survives=True)
            except RulebookError:  # it does not touch that fighter
                continue
            row = next((row for row in fighter.reactions if row.name == report.reaction), None)
            lasts = report.seconds + report.hit_stop
            if (
                row is not None
                and set(row.locks) >= LOCKED
                and lasts >= period > 0.0
                and _lives_through(survey, attack, victim)
            ):
                what = f"{attack} can come every {period:.3g} s, and {row.name} holds {victim} for {lasts:.3g} s"
                key = f"fighters.{victim}.reactions[{fighter.reactions.index(row)}].seconds"
                survey.add(
                    "reaction-lock", key, what, f"less than {period:.3g} s, a stagger_resistance, or fewer locks"
                )


def _lives_through(survey: Survey, attack: str, victim: str) -> bool:
    hits = [row.hits for row in survey.matches if row.attack == attack and row.victim == victim]
    return any(each is None or each > FEW_HITS for each in hits)


def _knockback(survey: Survey) -> None:
    """Pushes that throw further than the arena reaches."""
    book = survey.book
    told: set[str] = set()
    for use in survey.uses:
        arena, where = survey.arena_of(use.bout), book.bouts[use.bout].arena
        if where in survey.mismatched:
            continue
        width = max(high - low for low, high in zip(arena.bounds.low[:-1], arena.bounds.high[:-1], strict=True))
        ground = arena.bounds.low[-1] if arena.floor is None else arena.floor
        for name in {seat.fighter for seat in book.bouts[use.bout].seats.values()}:
            pushes = any(way.options.push for way in survey.ways(use.attack))
            if not pushes or use.attack in told:
                continue
            try:
                path = knockback_report(survey.rules, use.attack, name, arena=where)
            except RulebookError:  # it does not touch that fighter
                continue
            if path.rest > width or (arena.space != "top" and path.apex > arena.bounds.high[-1] - ground):
                what = f"it throws {name} {path.rest:.3g} far and {path.apex:.3g} high; {where} is {width:g} wide"
                key, advice = f"attacks.{use.attack}.push", "a smaller speed, or a distance"
                survey.add("knockback-out-of-bounds", key, what, advice)
                told.add(use.attack)
