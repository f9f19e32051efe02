"""A hit that is asked about: by which way of an attack, on which hurtbox of whom, in which circumstance.

It is worked out by `combat.hit.resolve` from the same terms as in a bout.
"""

from __future__ import annotations

import sys
from collections.abc import Mapping
from functools import lru_cache
from math import hypot, inf
from typing import TYPE_CHECKING, Any, NamedTuple

from emberwound.combat.hit import GuardStance, Stagger, resolve
from emberwound.combat.push import push_velocity
from emberwound.combat.terms import Circumstance, HurtboxTerms
from emberwound.combat.wound import falloff_share
from emberwound.rulebook.outline import known_name, refuse
from emberwound.rulebook.terms import (
    blast_terms,
    footing_of,
    hitbox_terms,
    hurtbox_terms,
    push_terms,
    route_of,
    stagger_terms,
    stats_of,
    with_overrides,
    wound_rules_of,
    wound_terms,
)
from emberwound.vocabulary.events import WHOLE_BODY

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.hit import HitResult
    from emberwound.combat.reaction import StaggerTerms
    from emberwound.combat.terms import BodyStats, WoundRules, WoundTerms
    from emberwound.rulebook.models import Attack, Blast, Fighter
    from emberwound.rulebook.rules import Rules
    from emberwound.vocabulary.errors import RulebookError

HELD_FOR_LONG = GuardStance(0.0, inf)
"""A guard that meets what comes from the front, and that was up long before."""


class Way(NamedTuple):
    """A way in which an attack hits: by one of its hitboxes, by its blast, or by neither; its options and its wound."""

    hitbox: str | None
    blast: str | None
    options: Attack | Blast
    wound: WoundTerms

    def touches(self, layer: str) -> bool:
        """Whether it touches hurtboxes of a layer."""
        return self.options.layers is None or layer in self.options.layers


@lru_cache(maxsize=1024)
def ways_of(rules: Rules, attack: str) -> tuple[Way, ...]:
    """The ways in which an attack hits: what it does by itself first, if that is anything, then its blast."""
    table = rules.book.attacks[attack]
    blast = rules.book.blasts[table.blast] if table.blast else None
    last = [Way(None, table.blast, blast, blast_terms(blast))] if blast else []
    boxes = table.strike.hitboxes.items() if table.strike else ()
    ways = [Way(name, None, with_overrides(table, box), hitbox_terms(table, box)) for name, box in boxes]
    if not ways and (table.shot or table.ray or table.throw or not last):
        ways = [Way(None, None, table, wound_terms(table))]
    return (*ways, *last) if any(_does(way) for way in ways) else (*last, *ways)


def _does(way: Way) -> bool:
    """Whether a way does anything to whom it touches."""
    return way.wound.damage > 0.0 or way.options.push is not None or bool(way.options.afflicts)


def takes_points(way: Way) -> bool:
    """Whether a way takes points of whom it touches."""
    return way.wound.damage > 0.0 and not way.wound.heals


class AskedHit(NamedTuple):
    """One hit without a bout: the way, the victim and its hurtbox, and the circumstance."""

    rules: Rules
    attack: str
    victim: str
    way: Way
    hurtbox: HurtboxTerms
    stats: BodyStats
    how: Circumstance
    guarded: bool
    strength: float
    met_at: float | None = None
    """How far in front of the attacker the victim stands that meets it with this hurtbox first; None: it was named."""

    @property
    def fighter(self) -> Fighter:
        """The table of the victim, a fighter's or a prop's."""
        return self.rules.book.bodies[self.victim]

    def resolve(self, values: Sequence[float]) -> HitResult:
        """What it does to a body whose pools hold `values`, and whose stagger resistance is whole."""
        wound_rules, terms = _terms_of(self.rules, self.victim)
        return resolve(
            self.way.wound,
            self.hurtbox,
            self.stats,
            values,
            wound_rules,
            self.how,
            guard=HELD_FOR_LONG if self.guarded else None,
            stagger=None if terms is None else Stagger(terms, terms.points),
            strength=self.strength,
        )

    def push(self, result: HitResult, arena: str) -> tuple[float, float]:
        """How fast it knocks its victim back along the ground and upwards in an arena; 0 and 0 without a push."""
        push, book = self.way.options.push, self.rules.book
        if push is None:
            return 0.0, 0.0
        footing = footing_of(self.fighter, book.arenas[arena])
        terms = push_terms(push, footing, book.settings.frame_rate, book.arenas[arena].space)
        ahead = (1.0, 0.0, 0.0)
        velocity = push_velocity(terms, ahead, ahead, result.amount, result.push_share, self.fighter.weight)
        return hypot(velocity[0], velocity[1]), velocity[2]


@lru_cache(maxsize=1024)
def _victim_of(rules: Rules, victim: str) -> tuple[dict[str, HurtboxTerms], BodyStats]:
    fighter = rules.book.bodies[victim]
    boxes = {box.name: box for box in hurtbox_terms(fighter)}
    return boxes, stats_of(fighter, rules.book.settings.frame_rate)


@lru_cache(maxsize=1024)
def _terms_of(rules: Rules, victim: str) -> tuple[WoundRules, StaggerTerms | None]:
    book = rules.book
    fighter = book.fighters.get(victim)
    terms = None if fighter is None else stagger_terms(fighter, book.settings.frame_rate)
    return wound_rules_of(book, rules.steps), terms


def death_way(rules: Rules, fighter: str) -> Way:
    """The way in which the blast of a fighter's death hits."""
    name = rules.book.fighters[fighter].death_blast or ""
    blast = rules.book.blasts[name]
    return Way(None, name, blast, blast_terms(blast))


def death_hit(rules: Rules, fighter: str, victim: str, hurtbox: str) -> AskedHit:
    """The hit of the blast of a fighter's death, at its middle."""
    way = death_way(rules, fighter)
    terms, stats = _victim_of(rules, victim)
    how = Circumstance(f"death of {fighter}", victim, 0.0)
    return AskedHit(rules, how.attack, victim, way, terms[hurtbox], stats, how, guarded=False, strength=1.0)


def asked_hit(  # noqa: PLR0913 (each is a circumstance of its own, by name)
    rules: Rules,
    attack: str,
    victim: str,
    *,
    hurtbox: str | None = None,
    hitbox: str | None = None,
    blast: bool | None = None,
    guarded: bool = False,
    distance: float = 0.0,
    charge: float | None = None,
    combo_count: int = 0,
    pushing: bool = False,
) -> AskedHit:
    """The hit of an attack on a fighter or a prop; by the first way that fits what is named.

    Where no hurtbox is named, hurtbox and hitbox are those of the first touch of a victim who stands in front, halfway
    into the attack's reach; of one that is hit nowhere there, and of a blast, the first that fit. `blast` asks for the
    attack's blast, or for anything else; `pushing` prefers a way that pushes. Raises RulebookError for names that the
    book does not have, numbers out of range, and for what can never happen: no way of the attack touches the hurtbox's
    layer.
    """
    fighter = rules.book.bodies[known_name("fighter or prop", victim, rules.book.bodies)]
    way, name, met = _chosen(
        rules, attack, victim, named_ways(rules, attack, hitbox, blast=blast), hurtbox, pushing=pushing
    )
    throws = bool(rules.book.attacks[attack].throw and not way.blast)
    _check_circumstance(rules, victim, way, distance, combo_count, guarded=guarded)
    if throws and hurtbox is not None:
        raise refuse("hurtbox", hurtbox, f"{attack} is a throw, which hits the whole body; leave it out")
    if throws and guarded:
        raise refuse("guarded", guarded, f"{attack} is a throw, which no guard stops; leave it out")
    if way.blast and charge is not None:
        raise refuse("charge", charge, f"no charge makes the blast of {attack} stronger; leave it out")
    terms, stats = _victim_of(rules, victim)
    return AskedHit(
        rules,
        attack,
        victim,
        way,
        HurtboxTerms(WHOLE_BODY, 1.0, route_of(fighter)) if throws else terms[name],
        stats,
        Circumstance(
            way.blast or attack,
            victim,
            float(distance),
            None if way.blast else charge_factor(rules, attack, charge),
            combo_count,
        ),
        guarded,
        falloff_share(way.wound.falloff, float(distance)) if way.blast and way.wound.falloff else 1.0,
        None if throws else met,
    )


def _chosen(
    rules: Rules, attack: str, victim: str, ways: list[Way], hurtbox: str | None, *, pushing: bool
) -> tuple[Way, str, float | None]:
    """The way and the hurtbox that are meant, and how far in front the victim stands where these are those met first.

    Raises RulebookError where no way touches the layer of any hurtbox that is meant.
    """
    from emberwound.study.reach import stands_before  # brings the running world, which no other question needs

    boxes = rules.book.bodies[victim].hurtboxes
    is_asked = hurtbox is None and len(boxes) > 1 and not all(way.blast for way in ways)
    met = stands_before(rules, attack, victim) if is_asked else None
    ways.sort(key=lambda way: (pushing and way.options.push is None, met is not None and way.hitbox != met.hitbox))
    if hurtbox is not None:
        names = [known_name(f"hurtbox of {victim}", hurtbox, boxes)]
    else:
        names = sorted(boxes, key=lambda name: met is None or name != met.hurtbox)
    found = next(((way, name) for way in ways for name in names if way.touches(boxes[name].layer)), None)
    if found is None:
        raise _untouched(attack, victim, ways, {name: boxes[name].layer for name in names})
    way, name = found
    return way, name, met.distance if met is not None and met.hurtbox == name else None


def _check_circumstance(
    rules: Rules, victim: str, way: Way, distance: float, combo_count: int, *, guarded: bool
) -> None:
    """Refuse numbers out of range, and a guard that the victim does not have. Raises RulebookError."""
    radius = rules.book.blasts[way.blast].radius if way.blast else inf
    if not is_number(distance) or not 0.0 <= distance <= radius:
        allowed = f"allowed: 0 to {radius:g}, its radius" if way.blast else "allowed: a finite number from 0 up"
        raise refuse("distance", distance, allowed)
    if isinstance(combo_count, bool) or not isinstance(combo_count, int) or combo_count < 0:
        raise refuse("combo_count", combo_count, "allowed: a whole number from 0 up")
    if guarded and (victim in rules.book.props or rules.book.fighters[victim].guard is None):
        raise refuse("guarded", guarded, f"{victim} has no guard; give it one")


def named_ways(rules: Rules, attack: str, hitbox: object, *, blast: bool | None) -> list[Way]:
    """The ways of an attack that are asked for, the first that does anything first; at least one.

    Raises RulebookError.
    """
    ways = ways_of(rules, known_name("attack", attack, rules.book.attacks))
    if hitbox is not None:
        if blast:
            raise refuse("hitbox", hitbox, "a blast has no hitboxes; ask for one of them")
        named = known_name(f"hitbox of {attack}", hitbox, [way.hitbox for way in ways if way.hitbox])
        return [way for way in ways if way.hitbox == named]
    found = [way for way in ways if blast is None or bool(way.blast) is blast]
    if not found:
        raise refuse("blast", blast, f"{attack} has no blast" if blast else f"{attack} hits by its blast alone")
    return found


def _untouched(attack: str, victim: str, ways: Sequence[Way], layers: Mapping[str, str]) -> RulebookError:
    touched = dict.fromkeys(layer for way in ways for layer in way.options.layers or ())
    theirs = ", ".join(f"{name} is on {layer}" for name, layer in layers.items())
    return refuse("layers", ", ".join(touched), f"{attack} touches only these, and of {victim} {theirs}")


def is_prop(rules: Rules, victim: object) -> bool:
    """Whether a book has a prop of this name."""
    return isinstance(victim, str) and victim in rules.book.props


def pool_values(hit: AskedHit, asked: Mapping[str, float]) -> list[float]:
    """What each pool of the victim holds: what is asked, else its start. Raises RulebookError."""
    pools = hit.stats.pools
    if not isinstance(asked, Mapping):
        raise refuse("pools", asked, "allowed: a table of pools and their values, such as {'health': 30}")
    values, names = [pool.start for pool in pools], [pool.name for pool in pools]
    for name, value in asked.items():
        index = names.index(known_name(f"pool of {hit.victim}", name, names))
        if not is_number(value) or not 0.0 <= value <= pools[index].maximum:
            raise refuse(f"pool {name}", value, f"allowed: 0 to {pools[index].maximum:g}")
        values[index] = float(value)
    return values


def is_number(value: Any) -> bool:
    """Whether something is a finite number, and no truth."""
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) <= sys.float_info.max


def charge_factor(rules: Rules, attack: str, charge: float | None) -> float | None:
    """What a share of a full charge-up multiplies an attack's damage by; None for an attack without one."""
    table = rules.book.attacks[attack].charge
    if charge is None:
        return None if table is None else 1.0
    if table is None:
        raise refuse("charge", charge, f"{attack} cannot be charged; leave it out")
    if not is_number(charge) or not 0.0 <= charge <= 1.0:
        raise refuse("charge", charge, "allowed: a share of a full charge, from 0 to 1")
    return 1.0 + (table.damage - 1.0) * charge
