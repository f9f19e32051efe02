"""What one hit does to one body: the guard it meets, its ledger, the pools, and what follows from it.

Whatever hurts, heals or knocks back goes through `resolve`: strikes, shots, rays, blasts, hazards, afflictions,
healing, and the reports that need no bout.
"""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple

from emberwound.combat.reaction import resist
from emberwound.combat.wound import Account, after_guard, before_guard, covers, heal, kill, spend, stop
from emberwound.vocabulary.ledger import Ledger, ledger_on_demand

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.reaction import StaggerTerms
    from emberwound.combat.terms import BodyStats, Circumstance, HurtboxTerms, WoundRules, WoundTerms
    from emberwound.combat.wound import GuardOutcome
    from emberwound.vocabulary.ledger import Loss, Step


class GuardStance(NamedTuple):
    """A guard that is up: degrees from the body's front to where the hit comes from, and seconds since it went up."""

    angle_deg: float
    held_seconds: float


class Stagger(NamedTuple):
    """What a body holds against reacting: its terms, and the points that are left of them."""

    terms: StaggerTerms
    left: float


class HitResult(NamedTuple):
    """What a hit comes to.

    `guard` is what a guard did, None where none covered it; `held` are the pools after what the guard cost, `values`
    those after the wound. `push_share` is what hurtbox, guard and strength leave of a push. `staggers` says whether the
    body may react; `stagger_left` is what it then holds against reacting, None where that was not asked. A body that
    heals never staggers.
    """

    ledger: Ledger
    guard: GuardOutcome | None
    held: Sequence[float]
    values: Sequence[float]
    push_share: float
    staggers: bool
    stagger_left: float | None
    kills: bool

    @property
    def amount(self) -> float:
        """The points that it came to."""
        return self.ledger.amount


def resolve(  # noqa: PLR0913 (all that one hit depends on, and nothing else)
    wound: WoundTerms,
    hurtbox: HurtboxTerms,
    stats: BodyStats,
    values: Sequence[float],
    rules: WoundRules,
    how: Circumstance,
    *,
    guard: GuardStance | None = None,
    stagger: Stagger | None = None,
    strength: float,
    fatal: bool = False,
) -> HitResult:
    """What a hit does to a body whose pools hold `values`, one a pool: guard, ledger, pools, push, stagger, death.

    `strength` is the share of a push that distance leaves. What is `fatal` asks no guard and takes all. A body without
    pools, a prop, loses nothing: its ledger ends with the points that reached it, by which its push goes. Raises
    EmberwoundError for an own step that gives anything but a finite number from 0 up.
    """
    if stats.vital < 0:
        amount = before_guard(wound, hurtbox, stats, rules, how)
        push_share = hurtbox.push_share * strength
        ledger = ledger_on_demand(amount, 0.0, amount, partial(_explained_prop, wound, hurtbox, stats, rules, how))
        return HitResult(ledger, None, values, values, push_share, staggers=False, stagger_left=None, kills=False)
    if wound.heals:
        ledger, after = heal(wound, stats, hurtbox.route, values, how)
        return HitResult(ledger, None, values, after, 0.0, staggers=False, stagger_left=None, kills=False)
    outcome: GuardOutcome | None = None
    held = values
    if fatal:
        ledger, after = kill(stats, values)
    else:
        account = Account([], []) if rules.steps else None  # own steps run once
        amount = before_guard(wound, hurtbox, stats, rules, how, account)
        outcome = _guarded(wound, stats, values, guard, amount)
        if outcome is not None:
            how = how._replace(guard_share=outcome.share, guard_why=outcome.why)
            held = _drained(stats, values, outcome)
        spent = spend(after_guard(amount, wound, hurtbox, stats, rules, how, account), hurtbox, stats, held, account)
        after, sums = spent.values, (spent.amount, spent.overkill, spent.lost)
        if account is None:
            ledger = ledger_on_demand(*sums, partial(explained, wound, hurtbox, stats, held, rules, how))
        else:
            ledger = Ledger(tuple(account.steps), tuple(account.losses), *sums)
    push_share = hurtbox.push_share * (1.0 if outcome is None else outcome.push_share) * strength
    resisted, left = False, None
    if stagger is not None and outcome is None:
        resisted, left = resist(stagger.terms, stagger.left, ledger.amount)
    kills = after[stats.vital] == 0.0
    return HitResult(ledger, outcome, held, after, push_share, not resisted, left, kills)


def explained(
    wound: WoundTerms,
    hurtbox: HurtboxTerms,
    stats: BodyStats,
    held: Sequence[float],
    rules: WoundRules,
    how: Circumstance,
) -> tuple[tuple[Step, ...], tuple[Loss, ...]]:
    """The steps and losses of a wound, worked out again by the same rules; `how` knows what its guard did."""
    account = Account([], [])
    amount = before_guard(wound, hurtbox, stats, rules, how, account)
    spend(after_guard(amount, wound, hurtbox, stats, rules, how, account), hurtbox, stats, held, account)
    return tuple(account.steps), tuple(account.losses)


def _explained_prop(
    wound: WoundTerms, hurtbox: HurtboxTerms, stats: BodyStats, rules: WoundRules, how: Circumstance
) -> tuple[tuple[Step, ...], tuple[Loss, ...]]:
    account = Account([], [])
    before_guard(wound, hurtbox, stats, rules, how, account)
    return tuple(account.steps), ()


def _guarded(
    wound: WoundTerms, stats: BodyStats, values: Sequence[float], stance: GuardStance | None, amount: float
) -> GuardOutcome | None:
    guard = stats.guard
    if guard is None or stance is None or not covers(guard, wound, stance.angle_deg):
        return None
    return stop(guard, amount, stance.held_seconds, values[guard.pool] if guard.pool >= 0 else 0.0)


def _drained(stats: BodyStats, values: Sequence[float], outcome: GuardOutcome) -> Sequence[float]:
    if not outcome.drained or stats.guard is None:
        return values
    held = [*values]
    held[stats.guard.pool] -= outcome.drained
    return held
