"""What an attack would do to a fighter, without a bout: one wound with its ledger, or the whole table of a book."""

from __future__ import annotations

from functools import lru_cache
from math import ceil
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.guard import stop
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import before_guard, deal, mend
from emberwound.rulebook.course import Course
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import body_terms, hitbox_terms, house_terms, hurtbox_terms, wound_terms
from emberwound.vocabulary.errors import RulebookError
from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from emberwound.combat.terms import BodyTerms, HouseTerms, HurtboxTerms, WoundTerms
    from emberwound.rulebook.book import Rulebook
    from emberwound.rulebook.models import Attack

Terms = tuple[dict[str, "WoundTerms"], dict[str, "HurtboxTerms"], "BodyTerms", "HouseTerms"]
"""The wounds of an attack by its hitboxes (or by none), a fighter's hurtboxes, what it bears, and the house."""

MOST_HITS = 10_000
"""A fighter that stands so many hits is said never to fall."""


class WoundReport(msgspec.Struct, frozen=True, kw_only=True):
    """One wound: who by what on whom and where, the ledger, every pool before and after, and whether it kills.

    `drained` is what a guard cost its pool before the wound; `before` is before that too.
    """

    attack: str
    victim: str
    hurtbox: str
    ledger: Ledger
    before: dict[str, float]
    after: dict[str, float]
    kills: bool
    hitbox: str | None = None
    drained: float = 0.0
    guard_breaks: bool = False

    def to_dict(self) -> dict[str, Any]:
        """All of it as plain values."""
        found: dict[str, Any] = msgspec.to_builtins(self)
        return found

    def heading(self) -> str:
        """What on whom, and how many points it came to."""
        which = f" ({self.hitbox})" if self.hitbox else ""
        return f"{self.attack}{which} on {self.victim}'s {self.hurtbox}: {self.ledger.amount:g}"

    def outcome(self) -> str:
        """What came of it besides the pools, as words to follow them."""
        cost = f", {self.drained:g} drained by the guard" if self.drained else ""
        return cost + (", the guard breaks" if self.guard_breaks else "") + (", dead" if self.kills else "")

    def __str__(self) -> str:
        wide = max(len(step.rule) for step in self.ledger.steps)
        lines = [self.heading()]
        lines += [
            f"  {step.rule:{wide}}  {step.before:>8g} -> {step.after:<8g} {step.why}" for step in self.ledger.steps
        ]
        left = ", ".join(f"{name} {value:g}" for name, value in self.after.items())
        return "\n".join([*lines, f"  left: {left}{self.outcome()}"])


@lru_cache(maxsize=4096)
def _terms(rules: Rulebook, attack: str, victim: str) -> Terms:
    book = rules.book
    fighter = book.bodies[known_name(rules, "fighter", victim, book.bodies)]
    table = book.attacks[known_name(rules, "attack", attack, book.attacks)]
    striking = table.strike.hitboxes if table.strike else {}
    wounds = {name: hitbox_terms(table, box) for name, box in striking.items()} or {"": wound_terms(table)}
    boxes = {box.name: box for box in hurtbox_terms(fighter)}
    return wounds, boxes, body_terms(fighter, book.settings.frame_rate), house_terms(book, rules.steps)


def _refuse(rules: Rulebook, what: str, seen: object, allowed: str) -> RulebookError:
    return RulebookError([Problem(rules.source, "", f"{what}: {seen!r}", allowed)])


def report(rules: Rulebook, attack: str, victim: str, **how: Any) -> WoundReport:
    """The report behind `Rulebook.wound`. Raises RulebookError for names and numbers the book does not allow."""
    unknown = how.keys() - _HOW.keys()
    if unknown:
        known_name(rules, "circumstance", min(unknown), _HOW)
    if victim in rules.book.props:
        raise _refuse(rules, "victim", victim, "a prop has no points to lose; ask for its push_path")
    hurtbox, hitbox, guarded, distance, charge, in_a_row, pools = (_HOW | how).values()
    wounds, boxes, body, house = _terms(rules, attack, victim)
    striking = _hitbox(rules, attack, hitbox, wounds)
    wound = wounds[striking]
    box = boxes[next(iter(boxes)) if hurtbox is None else known_name(rules, f"hurtbox of {victim}", hurtbox, boxes)]
    names = [pool.name for pool in body.pools]
    before = _values(rules, victim, body, names, pools or {})
    if not _number(distance) or distance < 0.0:
        raise _refuse(rules, "distance", distance, "allowed: a finite number from 0 up")
    if isinstance(in_a_row, bool) or not isinstance(in_a_row, int) or in_a_row < 0:
        raise _refuse(rules, "in_a_row", in_a_row, "allowed: a whole number from 0 up")
    hit = Circumstance(attack, victim, float(distance), _charge_factor(rules, attack, charge), in_a_row)
    breaks, drained, held = False, 0.0, [*before]
    if guarded:
        hit, breaks, drained = _guarded(rules, victim, wound, box, body, house, hit, before)
        if drained and body.guard:
            held[body.guard.pool] -= drained
    if wound.heals:
        ledger, after = mend(wound, body, box.route, held, hit)
    else:
        ledger, after = deal(wound, box, body, held, house, hit)
    return WoundReport(
        attack=attack,
        victim=victim,
        hurtbox=box.name,
        hitbox=striking or None,
        ledger=ledger,
        before=dict(zip(names, before, strict=True)),
        after=dict(zip(names, after, strict=True)),
        kills=after[body.vital] == 0.0,
        drained=drained,
        guard_breaks=breaks,
    )


def points_on_prop(
    rules: Rulebook, attack: str, prop: str, *, hurtbox: str, hitbox: str | None
) -> tuple[str | None, float]:
    """By which hitbox an attack hits a prop, and the points that its push goes by."""
    wounds, boxes, body, house = _terms(rules, attack, prop)
    striking = _hitbox(rules, attack, hitbox, wounds)
    box = boxes[known_name(rules, f"hurtbox of {prop}", hurtbox, boxes)]
    _, amount = before_guard(wounds[striking], box, body, house, Circumstance(attack, prop))
    return striking or None, amount


_HOW: dict[str, Any] = {
    "hurtbox": None,
    "hitbox": None,
    "guarded": False,
    "distance": 0.0,
    "charge": None,
    "in_a_row": 0,
    "pools": None,
}


def _hitbox(rules: Rulebook, attack: str, asked: object, wounds: Mapping[str, WoundTerms]) -> str:
    """The hitbox that is meant: the one asked for, or the first of a strike; "" of an attack that has none."""
    if asked is None:
        return next(iter(wounds))
    return known_name(rules, f"hitbox of {attack}", asked, [name for name in wounds if name])


def _values(rules: Rulebook, victim: str, body: BodyTerms, names: list[str], asked: Mapping[str, float]) -> list[float]:
    values = [pool.start for pool in body.pools]
    for name, value in asked.items():
        index = names.index(known_name(rules, f"pool of {victim}", name, names))
        if not _number(value) or not 0.0 <= value <= body.pools[index].maximum:
            raise _refuse(rules, f"pool {name}", value, f"allowed: 0 to {body.pools[index].maximum:g}")
        values[index] = float(value)
    return values


def _number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < float("inf")


def _charge_factor(rules: Rulebook, attack: str, charge: float | None) -> float | None:
    table = rules.book.attacks[attack].charge
    if charge is None:
        return None if table is None else 1.0
    if table is None:
        raise _refuse(rules, "charge", charge, f"{attack} cannot be charged; leave it out")
    if not _number(charge) or not 0.0 <= charge <= 1.0:
        raise _refuse(rules, "charge", charge, "allowed: a share of a full charge, from 0 to 1")
    return 1.0 + (table.damage - 1.0) * charge


def _guarded(
    rules: Rulebook,
    victim: str,
    wound: WoundTerms,
    box: HurtboxTerms,
    body: BodyTerms,
    house: HouseTerms,
    hit: Circumstance,
    before: list[float],
) -> tuple[Circumstance, bool, float]:
    """The circumstance of a blow that a guard held for long meets in front; whether it breaks; what it costs."""
    guard = body.guard
    if guard is None:
        raise _refuse(rules, "guarded", True, f"{victim} has no guard; give it one")
    if wound.guard_class not in guard.classes:
        return hit, False, 0.0
    _, amount = before_guard(wound, box, body, house, hit)
    held = before[guard.pool] if guard.pool >= 0 else 0.0
    stopped = stop(guard, amount, float("inf"), held)
    told = hit._replace(guard_share=stopped.share, guard_why=stopped.why)
    return told, stopped.breaks, stopped.drained


class MatchRow(msgspec.Struct, frozen=True, kw_only=True):
    """What one attack does to one hurtbox, every shot landing unguarded, held at its full cadence, uncharged.

    Of a strike its first hitbox counts.

    Costs, refills and afflictions are left out.

    `hits` and `seconds` to kill are None for what never kills; `seconds` run from the first hit to the last one needed.
    """

    attack: str
    victim: str
    hurtbox: str
    damage: float
    hits: int | None
    seconds: float | None
    per_second: float


def match_table(rules: Rulebook) -> list[MatchRow]:
    """Every wounding attack against every fighter and hurtbox of a book."""
    book = rules.book
    return [
        _row(rules, attack, victim, hurtbox)
        for attack, table in book.attacks.items()
        if wounds_at_all(table)
        for victim, fighter in book.fighters.items()
        for hurtbox in fighter.hurtboxes
    ]


def wounding(rules: Rulebook, attack: str) -> bool:
    """Whether one of a book's attacks takes points."""
    return wounds_at_all(rules.book.attacks[attack])


def wounds_at_all(attack: Attack) -> bool:
    """Whether an attack takes points, by itself or by a hitbox."""
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    return any((attack.damage if box.damage is None else box.damage) > 0.0 for box in boxes) or (
        attack.damage > 0.0 and not boxes
    )


def _row(rules: Rulebook, attack: str, victim: str, hurtbox: str) -> MatchRow:
    first = report(rules, attack, victim, hurtbox=hurtbox)
    wounds, boxes, body, house = _terms(rules, attack, victim)
    wound = next(iter(wounds.values()))
    values = [pool.start for pool in body.pools]
    combo = rules.book.settings.combo
    gap = float(combo.seconds.seconds(rules.book.settings.frame_rate)) if combo else 0.0
    factor = _charge_factor(rules, attack, None)
    hits, last, row = 0, None, 0
    for time in _hit_times(rules, attack):
        row = row + 1 if last is not None and time - last < gap else 0
        hit = Circumstance(attack, victim, 0.0, factor, row)
        _, values = deal(wound, boxes[hurtbox], body, values, house, hit)
        hits, last = hits + 1, time
        if values[body.vital] == 0.0 or hits == MOST_HITS:
            break
    dead = values[body.vital] == 0.0
    return MatchRow(
        attack=attack,
        victim=victim,
        hurtbox=hurtbox,
        damage=first.ledger.amount,
        hits=hits if dead else None,
        seconds=last if dead else None,
        per_second=first.ledger.amount * _hits_per_second(rules, attack),
    )


def _cadence(rules: Rulebook, attack: str) -> tuple[list[float], int, float]:
    """When an attack wounds, from its first wound on, how many at once, and the seconds to the next repeat.

    A strike wounds once in a swing, or again for as long as its first hitbox is on.
    """
    table = rules.book.attacks[attack]
    course = Course.of(table, rules.book.settings.frame_rate)
    period = max(float(course.period), 1.0 / rules.book.settings.tick_rate)
    launch, strike = table.shot or table.ray, table.strike
    if launch:
        return [float(each - course.first) for each in course.releases], launch.count, period
    if strike is None:
        return [], 0, period
    again = strike.rehit_every.seconds(rules.book.settings.frame_rate) if strike.rehit_every else None
    on = course.hitboxes[0]
    hits = 1 if again is None else max(ceil((on.ends - on.begins) / again), 1)
    return [float(number * (again or 0)) for number in range(hits)], 1, period


def _hit_times(rules: Rulebook, attack: str) -> Iterator[float]:
    offsets, count, period = _cadence(rules, attack)
    repeat = 0
    while count:
        for offset in offsets:
            for _ in range(count):
                yield repeat * period + offset
        repeat += 1


def _hits_per_second(rules: Rulebook, attack: str) -> float:
    offsets, count, period = _cadence(rules, attack)
    return len(offsets) * count / period
