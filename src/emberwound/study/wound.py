"""What attacks would do to fighters, without a bout: one wound with its ledger, or all of them."""

from __future__ import annotations

from math import ceil, inf
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.outline import known_name, refuse
from emberwound.study.asked_hit import asked_hit, death_hit, death_way, is_prop, pool_values, takes_points, ways_of
from emberwound.vocabulary.clock import Duration
from emberwound.vocabulary.ledger import Ledger

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from emberwound.rulebook.rules import Rules
    from emberwound.study.asked_hit import AskedHit, Way


class WoundReport(msgspec.Struct, frozen=True, kw_only=True):
    """One wound: who by what on whom and where, the ledger, every pool before and after, and whether it kills.

    By one of the attack's hitboxes, by its blast, or by neither. `drained` is what a guard cost its pool before the
    wound; `before` is before that too.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter."""
    hurtbox: str
    """Hurtbox that is hit."""
    ledger: Ledger
    """How its amount comes about."""
    before: dict[str, float]
    """Pools before it."""
    after: dict[str, float]
    """Pools after it."""
    kills: bool
    """Whether it kills."""
    hitbox: str | None = None
    """Hitbox of a strike."""
    blast: str | None = None
    """Blast, if it is by that."""
    drained: float = 0.0
    """Points that a guard's pool paid."""
    guard_breaks: bool = False
    """Whether that breaks the guard."""
    met_at: float | None = None
    """How far in front the victim stands that meets it with this hurtbox first; none where the hurtbox was named."""

    def to_dict(self) -> dict[str, Any]:
        """All of it as plain values."""
        found: dict[str, Any] = msgspec.to_builtins(self)
        return found

    def heading(self) -> str:
        """What on whom, and how many points it came to."""
        which = f" ({self.hitbox})" if self.hitbox else f" (blast {self.blast})" if self.blast else ""
        met = "" if self.met_at is None else f" (met first, {self.met_at:.3g} in front)"
        return f"{self.attack}{which} on {self.victim}'s {self.hurtbox}{met}: {self.ledger.amount:g}"

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


def report(
    rules: Rules, attack: str, victim: str, *, pools: Mapping[str, float] | None = None, **how: Any
) -> WoundReport:
    """The report behind `Rulebook.wound`; `how` is as `asked_hit` takes it.

    Raises RulebookError for names and numbers the book does not allow.
    """
    if is_prop(rules, victim):
        raise refuse("victim", victim, "a prop has no points to lose; ask for its knockback_path")
    known_name("fighter", victim, rules.book.fighters)
    hit = asked_hit(rules, attack, victim, **how)
    before, names = pool_values(hit, pools or {}), [pool.name for pool in hit.stats.pools]
    result = hit.resolve(before)
    return WoundReport(
        attack=attack,
        victim=victim,
        hurtbox=hit.hurtbox.name,
        hitbox=hit.way.hitbox,
        blast=hit.way.blast,
        ledger=result.ledger,
        before=dict(zip(names, before, strict=True)),
        after=dict(zip(names, result.values, strict=True)),
        kills=result.kills,
        drained=result.guard.drained if result.guard else 0.0,
        guard_breaks=result.guard is not None and result.guard.breaks,
        met_at=hit.met_at,
    )


MOST_HITS = 10_000
"""A fighter that stands so many hits is said never to fall."""


class MatchRow(msgspec.Struct, frozen=True, kw_only=True):
    """What one attack, or its blast, does to one hurtbox: all of it landing, unguarded, at full cadence, uncharged.

    Of a strike its first hitbox that touches the hurtbox counts, and of a blast its middle. A throw has one row for the
    whole body. What the layers of an attack never touch has no row. Costs, refills and afflictions are left out.

    `hits` and `seconds` to kill are None for what never kills; `seconds` run from the first hit to the last one needed.
    """

    attack: str
    """Which attack; of the blast of a death whose it is, such as "death of wader"."""
    is_death: bool
    """Whether it is the blast of a death, which comes once and is no attack that can be pressed."""
    victim: str
    """Which fighter."""
    hurtbox: str
    """Which hurtbox."""
    damage: float
    """Points of one hit."""
    hits: int | None
    """Hits that kill; none if it never does."""
    seconds: float | None
    """Seconds from the first hit to the last one needed."""
    per_second: float
    """Points a second at full cadence."""
    blast: str | None = None
    """Blast, if it is by that."""


def match_table(rules: Rules) -> list[MatchRow]:
    """Every attack, every blast of one and of a death, against every fighter and hurtbox that it touches.

    Left out is what is not meant to take points: what heals, and what has no kind.
    """
    book = rules.book
    rows = [
        _row(asked_hit(rules, attack, victim, hurtbox=hurtbox, blast=blast))
        for attack in book.attacks
        for blast in (False, True)
        for victim in book.fighters
        for hurtbox in _wounded(rules, attack, victim, blast=blast)
    ]
    return [
        *rows,
        *(
            _row(death_hit(rules, name, victim, hurtbox))
            for name, fighter in book.fighters.items()
            if fighter.death_blast
            for victim, other in book.fighters.items()
            for hurtbox, box in other.hurtboxes.items()
            if death_way(rules, name).touches(box.layer) and takes_points(death_way(rules, name))
        ),
    ]


def _wounded(rules: Rules, attack: str, victim: str, *, blast: bool) -> list[str | None]:
    """The hurtboxes of a fighter that an attack, or its blast, takes points of; None for the whole body of a throw."""
    ways = [way for way in ways_of(rules, attack) if bool(way.blast) is blast]
    if rules.book.attacks[attack].throw and not blast:
        return [None] if takes_points(ways[0]) or _forgotten(ways[0]) else []
    boxes = rules.book.fighters[victim].hurtboxes
    touching = {name: [way for way in ways if way.touches(box.layer)] for name, box in boxes.items()}
    return [
        name for name, found in touching.items() if found and (takes_points(found[0]) or all(map(_forgotten, found)))
    ]


def _forgotten(way: Way) -> bool:
    """Whether a way says a kind, and neither damage nor healing."""
    return way.options.kind is not None and way.wound.damage == 0.0 and not getattr(way.options, "heal", 0.0)


def wounding(rules: Rules, attack: str, victim: str) -> bool:
    """Whether one of a book's attacks takes points of a fighter."""
    boxes = rules.book.fighters[known_name("fighter", victim, rules.book.fighters)].hurtboxes.values()
    return any(takes_points(way) and way.touches(box.layer) for way in ways_of(rules, attack) for box in boxes)


def _row(hit: AskedHit) -> MatchRow:
    rules, combo = hit.rules, hit.rules.book.settings.combo
    values: Sequence[float] = pool_values(hit, {})
    gap = float(combo.seconds.seconds(rules.book.settings.frame_rate)) if combo else 0.0
    hits, last, count, damage = 0, None, 0, 0.0
    for time in _hit_times(hit):
        count = count + 1 if last is not None and time - last < gap else 0
        result = hit._replace(how=hit.how._replace(combo_count=count)).resolve(values)
        damage = damage if hits else result.amount
        settled = combo is None or count >= len(combo.shares)
        is_done = result.kills or hits == MOST_HITS or (settled and tuple(result.values) == tuple(values))
        values, hits, last = result.values, hits + 1, time
        if is_done:
            break
    dead = values[hit.stats.vital] == 0.0
    offsets, at_once, period = _cadence(hit)
    return MatchRow(
        attack=hit.attack,
        is_death=hit.attack not in rules.book.attacks,
        victim=hit.victim,
        hurtbox=hit.hurtbox.name,
        blast=hit.way.blast,
        damage=damage,
        hits=hits if dead else None,
        seconds=last if dead else None,
        per_second=damage * len(offsets) * at_once / period,
    )


def _cadence(hit: AskedHit) -> tuple[list[float], int, float]:
    """When an attack wounds, from its first wound on, how many at once, and the seconds to the next repeat.

    A strike wounds once in a swing, or again for as long as its hitbox is on.
    """
    if hit.attack not in hit.rules.book.attacks:
        return [0.0], 1, inf
    rules, table = hit.rules, hit.rules.book.attacks[hit.attack]
    timeline = AttackTimeline.of(table, rules.book.settings.frame_rate)
    period = max(float(timeline.period), 1.0 / rules.book.settings.tick_rate)
    launch, strike = table.shot or table.ray, table.strike
    if launch or hit.way.blast:
        return [float(each - timeline.first) for each in timeline.releases], launch.count if launch else 1, period
    if strike is None:
        return [0.0], 1, period
    every = strike.rehit_every
    again = every.seconds(rules.book.settings.frame_rate) if isinstance(every, Duration) else None
    on = next(each for each in timeline.hitboxes if each.name == hit.way.hitbox)
    hits = 1 if again is None else max(ceil((on.ends - on.begins) / again), 1)
    return [float(number * (again or 0)) for number in range(hits)], 1, period


def _hit_times(hit: AskedHit) -> Iterator[float]:
    offsets, count, period = _cadence(hit)
    repeat = 0
    while repeat == 0 or period < inf:
        for offset in offsets:
            for _ in range(count):
                yield repeat * period + offset
        repeat += 1
