"""What an attack would do to a fighter, without a bout: one wound with its ledger."""

from __future__ import annotations

from functools import lru_cache
from math import inf
from typing import TYPE_CHECKING, Any, NamedTuple

import msgspec

from emberwound.combat.hit import GuardStance, resolve
from emberwound.combat.terms import Circumstance
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import hitbox_terms, hurtbox_terms, stats_of, wound_rules_of, wound_terms
from emberwound.vocabulary.errors import RulebookError
from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.combat.terms import BodyStats, HurtboxTerms, WoundRules, WoundTerms
    from emberwound.rulebook.rules import Rules

HELD_FOR_LONG = GuardStance(0.0, inf)
"""A guard that meets what comes from the front, and that was up long before."""


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


class HitTerms(NamedTuple):
    """What a hit of an attack on a fighter is worked out from: the wounds by hitbox (or by none), and the victim's."""

    wounds: dict[str, WoundTerms]
    hurtboxes: dict[str, HurtboxTerms]
    stats: BodyStats
    wound_rules: WoundRules


@lru_cache(maxsize=4096)
def terms_of(rules: Rules, attack: str, victim: str) -> HitTerms:
    """The terms of an attack on a fighter or a prop. Raises RulebookError for names the book does not have."""
    book = rules.book
    fighter = book.bodies[known_name("fighter", victim, book.bodies)]
    table = book.attacks[known_name("attack", attack, book.attacks)]
    striking = table.strike.hitboxes if table.strike else {}
    wounds = {name: hitbox_terms(table, box) for name, box in striking.items()} or {"": wound_terms(table)}
    boxes = {box.name: box for box in hurtbox_terms(fighter)}
    return HitTerms(wounds, boxes, stats_of(fighter, book.settings.frame_rate), wound_rules_of(book, rules.steps))


def _refuse(what: str, seen: object, allowed: str) -> RulebookError:
    return RulebookError([Problem("", "", f"{what}: {seen!r}", allowed)], asked=True)


def report(  # noqa: PLR0913 (as `Rulebook.wound` has them)
    rules: Rules,
    attack: str,
    victim: str,
    *,
    hurtbox: str | None = None,
    hitbox: str | None = None,
    guarded: bool = False,
    distance: float = 0.0,
    charge: float | None = None,
    combo_count: int = 0,
    pools: Mapping[str, float] | None = None,
) -> WoundReport:
    """The report behind `Rulebook.wound`. Raises RulebookError for names and numbers the book does not allow."""
    if victim in rules.book.props:
        raise _refuse("victim", victim, "a prop has no points to lose; ask for its knockback_path")
    terms = terms_of(rules, attack, victim)
    striking = _hitbox(attack, hitbox, terms.wounds)
    boxes = terms.hurtboxes
    box = boxes[next(iter(boxes)) if hurtbox is None else known_name(f"hurtbox of {victim}", hurtbox, boxes)]
    names = [pool.name for pool in terms.stats.pools]
    before = _values(victim, terms.stats, names, pools or {})
    if not _number(distance) or distance < 0.0:
        raise _refuse("distance", distance, "allowed: a finite number from 0 up")
    if isinstance(combo_count, bool) or not isinstance(combo_count, int) or combo_count < 0:
        raise _refuse("combo_count", combo_count, "allowed: a whole number from 0 up")
    if guarded and terms.stats.guard is None:
        raise _refuse("guarded", guarded, f"{victim} has no guard; give it one")
    result = resolve(
        terms.wounds[striking],
        box,
        terms.stats,
        before,
        terms.wound_rules,
        Circumstance(attack, victim, float(distance), charge_factor(rules, attack, charge), combo_count),
        guard=HELD_FOR_LONG if guarded else None,
    )
    return WoundReport(
        attack=attack,
        victim=victim,
        hurtbox=box.name,
        hitbox=striking or None,
        ledger=result.ledger,
        before=dict(zip(names, before, strict=True)),
        after=dict(zip(names, result.values, strict=True)),
        kills=result.kills,
        drained=result.guard.drained if result.guard else 0.0,
        guard_breaks=result.guard is not None and result.guard.breaks,
    )


def points_on_prop(
    rules: Rules, attack: str, prop: str, *, hurtbox: str, hitbox: str | None
) -> tuple[str | None, float]:
    """By which hitbox an attack hits a prop, and the points that its push goes by."""
    terms = terms_of(rules, attack, prop)
    striking = _hitbox(attack, hitbox, terms.wounds)
    box = terms.hurtboxes[known_name(f"hurtbox of {prop}", hurtbox, terms.hurtboxes)]
    how = Circumstance(attack, prop)
    result = resolve(terms.wounds[striking], box, terms.stats, [], terms.wound_rules, how)
    return striking or None, result.amount


def _hitbox(attack: str, asked: object, wounds: Mapping[str, WoundTerms]) -> str:
    """The hitbox that is meant: the one asked for, or the first of a strike; "" of an attack that has none."""
    if asked is None:
        return next(iter(wounds))
    return known_name(f"hitbox of {attack}", asked, [name for name in wounds if name])


def _values(victim: str, body: BodyStats, names: list[str], asked: Mapping[str, float]) -> list[float]:
    values = [pool.start for pool in body.pools]
    for name, value in asked.items():
        index = names.index(known_name(f"pool of {victim}", name, names))
        if not _number(value) or not 0.0 <= value <= body.pools[index].maximum:
            raise _refuse(f"pool {name}", value, f"allowed: 0 to {body.pools[index].maximum:g}")
        values[index] = float(value)
    return values


def _number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < float("inf")


def charge_factor(rules: Rules, attack: str, charge: float | None) -> float | None:
    """What a share of a full charge-up multiplies an attack's damage by; None for an attack without one."""
    table = rules.book.attacks[attack].charge
    if charge is None:
        return None if table is None else 1.0
    if table is None:
        raise _refuse("charge", charge, f"{attack} cannot be charged; leave it out")
    if not _number(charge) or not 0.0 <= charge <= 1.0:
        raise _refuse("charge", charge, "allowed: a share of a full charge, from 0 to 1")
    return 1.0 + (table.damage - 1.0) * charge
