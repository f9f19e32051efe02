"""How much a hit takes, from which pool, and why; and whether a held guard stops it first."""

from __future__ import annotations

from math import acos, degrees, floor, hypot
from typing import TYPE_CHECKING, NamedTuple

from emberwound.combat.terms import WoundContext
from emberwound.vocabulary.errors import EmberwoundError, shortened
from emberwound.vocabulary.ledger import Ledger, Loss, Step

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.terms import (
        BodyStats,
        Circumstance,
        FalloffTerms,
        GuardTerms,
        HurtboxTerms,
        OwnStep,
        WoundRules,
        WoundTerms,
    )


SLACK = 1e-12
"""Seconds by which rounding may miss the end of the perfect moment."""


class GuardOutcome(NamedTuple):
    """What a guard does with a hit: the shares that pass, the points it costs its pool, and whether it breaks."""

    share: float
    drained: float
    breaks: bool
    perfect: bool
    why: str
    push_share: float = 1.0


def angle_from_front(heading: Sequence[float], towards: Sequence[float]) -> float:
    """Degrees on the ground from where a body looks to where a hit comes from; 0 for one without a direction."""
    size = hypot(heading[0], heading[1]) * hypot(towards[0], towards[1])
    if size == 0.0:
        return 0.0
    cosine = (heading[0] * towards[0] + heading[1] * towards[1]) / size
    return degrees(acos(min(max(cosine, -1.0), 1.0)))


def covers(guard: GuardTerms, wound: WoundTerms, angle_deg: float) -> bool:
    """Whether a guard can stop this attack from there: its class, and the arc, whose edges count."""
    return wound.guard_class in guard.classes and angle_deg <= guard.arc_deg / 2.0 + 1e-9


def stop(guard: GuardTerms, amount: float, held_seconds: float, pool_value: float) -> GuardOutcome:
    """What a guard that covers a hit does with `amount` points, held for so long, its pool holding so much.

    Raised less than `perfect` seconds ago: nothing passes, nothing is drained. Else `damage_share` passes and the pool
    loses `drain` a point; a guard that this brings to zero breaks, and still counts for this hit.
    """
    if held_seconds < guard.perfect - SLACK:
        why = "guarded in the perfect moment: nothing passes"
        return GuardOutcome(0.0, 0.0, breaks=False, perfect=True, why=why, push_share=0.0)
    drained = min(amount * guard.drain, pool_value) if guard.drain else 0.0
    breaks = guard.drain > 0.0 and amount > 0.0 and drained >= pool_value
    why = f"guarded × {guard.damage_share:g}" + (", and the guard breaks" if breaks else "")
    return GuardOutcome(guard.damage_share, drained, breaks, perfect=False, why=why, push_share=guard.push_share)


MOST_POINTS = 1e300
"""No own step gives more points."""

HALF_SLACK = 1e-9
"""Products of decimals such as 6 x 1.9 x 2.5 miss an exact half by less than this."""


class Account(NamedTuple):
    """What explains a wound while it is worked out: its steps, and what each pool lost."""

    steps: list[Step]
    losses: list[Loss]


def _note(account: Account | None, rule: str, before: float, after: float, why: str) -> None:
    if account is not None:
        account.steps.append(Step(rule, before, after, why))


def falloff_share(falloff: FalloffTerms, distance: float) -> float:
    """The share of a wound that is left at a distance: 1 up to `near`, down to `share` at `far`, evenly or steeply."""
    if distance <= falloff.near:
        return 1.0
    if distance >= falloff.far:
        return falloff.share
    gone = (distance - falloff.near) / (falloff.far - falloff.near)
    if falloff.power == 1.0:
        return 1.0 - (1.0 - falloff.share) * gone
    return falloff.share + (1.0 - falloff.share) * float((1.0 - gone) ** falloff.power)


def before_guard(
    wound: WoundTerms,
    hurtbox: HurtboxTerms,
    body: BodyStats,
    wound_rules: WoundRules,
    hit: Circumstance,
    account: Account | None = None,
) -> float:
    """The points that reach the guard; what leads to them goes on the `account`, where one is wanted.

    In this order, each only where it applies, but for the first and the hurtbox: `base` (times the falloff), `charge`,
    `damage_dealt` (of the attacker), `scaling` (wounds in a row), `hurtbox`, `labels`.
    """
    amount = wound.damage
    share = 1.0 if wound.falloff is None else falloff_share(wound.falloff, hit.distance)
    if account is not None:
        why = f"{wound.kind} damage of the attack" if amount else "the attack takes nothing: its damage is 0"
        far = "" if wound.falloff is None else f", × {share:g} at {hit.distance:g}"
        account.steps.append(Step("base", amount, amount * share, why + far))
    amount *= share
    if hit.charge is not None:
        _note(account, "charge", amount, amount * hit.charge, f"charged × {hit.charge:g}")
        amount *= hit.charge
    for factor, why in hit.dealt:
        _note(account, "damage_dealt", amount, amount * factor, why)
        amount *= factor
    if hit.combo_count is not None and wound_rules.combo_shares:
        share = wound_rules.combo_shares[min(hit.combo_count, len(wound_rules.combo_shares) - 1)]
        if hit.combo_count or share != 1.0:
            _note(account, "scaling", amount, amount * share, f"wound {hit.combo_count + 1} in a row × {share:g}")
        amount *= share
    after = amount * hurtbox.multiplier
    if account is not None:
        account.steps.append(Step("hurtbox", amount, after, f"{hurtbox.name} × {hurtbox.multiplier:g}"))
    amount = after
    for label, factor in wound.against:
        if label in body.labels:
            _note(account, "labels", amount, amount * factor, f"against {label} × {factor:g}")
            amount *= factor
    return amount


class Spent(NamedTuple):
    """What a wound took: the pools after it, one value each, its points, and those that no pool gave up."""

    values: list[float]
    amount: float
    overkill: float
    lost: float


def after_guard(
    amount: float,
    wound: WoundTerms,
    hurtbox: HurtboxTerms,
    body: BodyStats,
    wound_rules: WoundRules,
    hit: Circumstance,
    account: Account | None = None,
) -> float:
    """The points that reach the pools of those that `before_guard` gave; what leads to them goes on the `account`.

    In this order, each only where it applies: `guard` (times its share), `damage_taken` (times the victim's share for
    the kind), `marked` (times the share of its afflictions), `flat_reduction`
    (max(before - reduction, min(before, min_damage))), own steps, `rounding` (half away from zero). Raises
    EmberwoundError for an own step that gives anything but a finite number from 0 up.
    """
    if hit.guard_share is not None:
        _note(account, "guard", amount, amount * hit.guard_share, hit.guard_why)
        amount *= hit.guard_share
    takes = body.damage_taken.get(wound.kind, 1.0)
    if takes != 1.0:
        _note(account, "damage_taken", amount, amount * takes, _taken(wound.kind, takes))
        amount *= takes
    if hit.marked != 1.0:
        _note(account, "marked", amount, amount * hit.marked, f"the victim is marked × {hit.marked:g}")
        amount *= hit.marked
    reduction = body.flat_reduction.get(wound.kind, body.flat_reduction.get("", 0.0))
    if reduction:
        least = min(amount, body.min_damage)
        after = max(amount - reduction, least)
        _note(account, "flat_reduction", amount, after, f"{reduction:g} off, at least {least:g} left")
        amount = after
    for own in wound_rules.steps:
        context = WoundContext(
            hit.attack, wound.kind, hit.victim, hurtbox.name, hit.distance, hit.charge, hit.guard_share is not None
        )
        after = _own(own, amount, context)
        _note(account, own.name, amount, after, f"own step, version {own.version}")
        amount = after
    if wound_rules.whole_points:
        after = rounded(amount)
        _note(account, "rounding", amount, after, "to whole points, half away from zero")
        amount = after
    return amount


def _taken(kind: str, takes: float) -> str:
    return f"immune to {kind}" if takes == 0.0 else f"takes {kind} × {takes:g}"


def kill(body: BodyStats, values: Sequence[float]) -> tuple[Ledger, list[float]]:
    """The ledger of what is fatal: all that the vital pool holds is lost, and nothing is asked."""
    after, pool, have = list(values), body.pools[body.vital], values[body.vital]
    after[body.vital] = 0.0
    steps = (
        Step("fatal", have, have, f"takes all that is left of {pool.name}"),
        Step(f"pool {pool.name}", have, 0.0, f"{have:g} of {pool.maximum:g} held"),
    )
    losses = (Loss(pool.name, have, 0.0),) if have else ()
    return Ledger(steps, losses, have, 0.0, 0.0), after


def _own(own: OwnStep, amount: float, context: WoundContext) -> float:
    try:
        after = own.function(amount, context)
        fits = isinstance(after, int | float) and not isinstance(after, bool) and 0.0 <= after <= MOST_POINTS
    except Exception as error:
        name = type(error).__name__
        raise EmberwoundError(f"own step {own.name!r} (version {own.version}) raised {name}: {error}") from error
    if not fits:
        raise EmberwoundError(
            f"own step {own.name!r} (version {own.version}) gave {shortened(after)} for {amount:g} points; "
            "it must give a finite number from 0 to 1e300"
        )
    return float(after)


def rounded(amount: float) -> float:
    """A number of points as whole ones, half away from zero; what binary fractions miss of a half counts as one."""
    below = floor(amount)
    return float(below + 1 if amount - below >= 0.5 - HALF_SLACK else below)


def spend(
    amount: float,
    hurtbox: HurtboxTerms,
    body: BodyStats,
    values: Sequence[float],
    account: Account | None = None,
) -> Spent:
    """What points take from the pools of a hurtbox's route; what leads to it goes on the `account`.

    `values` holds one a pool and is not changed. With share s a pool loses min(current, left s), and that takes
    loss / s off what is left; s = 0 passes it over. What is left after the last is `overkill` if the vital pool is at
    zero, else `lost`.
    """
    left, lost, after = amount, 0.0, [*values]
    for index in hurtbox.route:
        pool, have = body.pools[index], after[index]
        if pool.share == 0.0:
            _note(account, f"pool {pool.name}", left, left, "passed over: its share is 0")
            continue
        loss = min(have, left * pool.share)
        rest = 0.0 if loss == left * pool.share else left - loss / pool.share
        after[index] = have - loss
        if account is not None:
            shared = "" if pool.share == 1.0 else f", {pool.share:g} lost a point"
            account.steps.append(Step(f"pool {pool.name}", left, rest, f"{have:g} of {pool.maximum:g} held{shared}"))
            if loss > 0.0:
                account.losses.append(Loss(pool.name, have, have - loss))
        left = rest
        if left > 0.0 and not pool.overflow:
            _note(account, "lost", left, 0.0, f"{pool.name} lets nothing through")
            lost, left = left, 0.0
            break
    overkill = 0.0
    if left > 0.0 and after[body.vital] == 0.0:
        overkill = left
        _note(account, "overkill", left, 0.0, f"{body.pools[body.vital].name} was already empty")
    elif left > 0.0:
        lost = left
        _note(account, "lost", left, 0.0, "no pool of the route could take it")
    return Spent(after, amount, overkill, lost)


def heal(
    wound: WoundTerms, body: BodyStats, route: Sequence[int], values: Sequence[float], hit: Circumstance
) -> tuple[Ledger, list[float]]:
    """The ledger of one healing and the values of all pools after it: the vital pool first, then the route backwards.

    Steps: `base` (times the falloff), `charge`, `damage_taken` (the body's share for the kind), then the pools, none
    past its maximum; points that none could take are `lost`. The dead are not raised unless it revives: then all of it
    is lost.
    """
    amount, why = wound.damage, f"{wound.kind} healing of the attack"
    share = falloff_share(wound.falloff, hit.distance) if wound.falloff else 1.0
    steps = [Step("base", amount, amount * share, why if share == 1.0 else f"{why}, × {share:g} at {hit.distance:g}")]
    amount *= share
    if hit.charge is not None:
        steps.append(Step("charge", amount, amount * hit.charge, f"charged × {hit.charge:g}"))
        amount *= hit.charge
    takes = body.damage_taken.get(wound.kind, 1.0)
    if takes != 1.0:
        steps.append(Step("damage_taken", amount, amount * takes, f"takes {wound.kind} × {takes:g}"))
        amount *= takes
    after, left, gains = list(values), amount, []
    if values[body.vital] == 0.0 and not wound.revives:
        steps.append(Step("lost", left, 0.0, "healing does not raise the dead"))
        return Ledger(tuple(steps), (), amount, 0.0, left), after
    for index in dict.fromkeys((body.vital, *reversed(route))):
        pool, have = body.pools[index], after[index]
        gain = min(pool.maximum - have, left)
        steps.append(Step(f"pool {pool.name}", left, left - gain, f"{have:g} of {pool.maximum:g} held"))
        after[index] = have + gain
        left -= gain
        if gain > 0.0:
            gains.append(Loss(pool.name, have, have + gain))
    if left > 0.0:
        steps.append(Step("lost", left, 0.0, "all pools are full"))
    return Ledger(tuple(steps), tuple(gains), amount, 0.0, left), after
