"""Every attack of a book against every fighter and hurtbox: damage, hits and seconds to kill."""

from __future__ import annotations

from math import ceil
from typing import TYPE_CHECKING

import msgspec

from emberwound.combat.hit import resolve
from emberwound.combat.terms import Circumstance
from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.study.wound import charge_factor, report, terms_of

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from emberwound.rulebook.models import Attack
    from emberwound.rulebook.rules import Rules

MOST_HITS = 10_000
"""A fighter that stands so many hits is said never to fall."""


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


def match_table(rules: Rules) -> list[MatchRow]:
    """Every wounding attack against every fighter and hurtbox of a book."""
    book = rules.book
    return [
        _row(rules, attack, victim, hurtbox)
        for attack, table in book.attacks.items()
        if wounds_at_all(table)
        for victim, fighter in book.fighters.items()
        for hurtbox in fighter.hurtboxes
    ]


def wounding(rules: Rules, attack: str) -> bool:
    """Whether one of a book's attacks takes points."""
    return wounds_at_all(rules.book.attacks[attack])


def wounds_at_all(attack: Attack) -> bool:
    """Whether an attack takes points, by itself or by a hitbox."""
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    return any((attack.damage if box.damage is None else box.damage) > 0.0 for box in boxes) or (
        attack.damage > 0.0 and not boxes
    )


def _row(rules: Rules, attack: str, victim: str, hurtbox: str) -> MatchRow:
    first = report(rules, attack, victim, hurtbox=hurtbox)
    wounds, boxes, body, wound_rules = terms_of(rules, attack, victim)
    wound = next(iter(wounds.values()))
    values: Sequence[float] = [pool.start for pool in body.pools]
    combo = rules.book.settings.combo
    gap = float(combo.seconds.seconds(rules.book.settings.frame_rate)) if combo else 0.0
    factor = charge_factor(rules, attack, None)
    hits, last, row = 0, None, 0
    for time in _hit_times(rules, attack):
        row = row + 1 if last is not None and time - last < gap else 0
        hit = Circumstance(attack, victim, 0.0, factor, row)
        values = resolve(wound, boxes[hurtbox], body, values, wound_rules, hit).values
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


def _cadence(rules: Rules, attack: str) -> tuple[list[float], int, float]:
    """When an attack wounds, from its first wound on, how many at once, and the seconds to the next repeat.

    A strike wounds once in a swing, or again for as long as its first hitbox is on.
    """
    table = rules.book.attacks[attack]
    timeline = AttackTimeline.of(table, rules.book.settings.frame_rate)
    period = max(float(timeline.period), 1.0 / rules.book.settings.tick_rate)
    launch, strike = table.shot or table.ray, table.strike
    if launch:
        return [float(each - timeline.first) for each in timeline.releases], launch.count, period
    if strike is None:
        return [], 0, period
    again = strike.rehit_every.seconds(rules.book.settings.frame_rate) if strike.rehit_every else None
    on = timeline.hitboxes[0]
    hits = 1 if again is None else max(ceil((on.ends - on.begins) / again), 1)
    return [float(number * (again or 0)) for number in range(hits)], 1, period


def _hit_times(rules: Rules, attack: str) -> Iterator[float]:
    offsets, count, period = _cadence(rules, attack)
    repeat = 0
    while count:
        for offset in offsets:
            for _ in range(count):
                yield repeat * period + offset
        repeat += 1


def _hits_per_second(rules: Rules, attack: str) -> float:
    offsets, count, period = _cadence(rules, attack)
    return len(offsets) * count / period
