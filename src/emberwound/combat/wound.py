"""How much a hit takes, from which pool, and why."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.vocabulary.ledger import Ledger, Loss, Step

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.terms import HurtboxTerms, PoolsTerms, WoundTerms


def deal(
    wound: WoundTerms, hurtbox: HurtboxTerms, body: PoolsTerms, values: Sequence[float], charge: float | None = None
) -> tuple[Ledger, list[float]]:
    """The ledger of one wound and the values of all pools after it.

    Steps: `base` (the attack's damage), `charge` (times that factor, if there is one), `hurtbox` (times its
    multiplier), then each pool of the route gives min(current, points left); what no pool took is `overkill` when the
    vital pool is at zero, else `lost`.
    No pool goes below zero. `values` holds one value a pool and is not changed.
    """
    amount = wound.damage
    why = f"{wound.kind} damage of the attack" if amount else "the attack takes nothing: its damage is 0"
    steps = [Step("base", amount, amount, why)]
    if charge is not None:
        steps.append(Step("charge", amount, amount * charge, f"charged × {charge:g}"))
        amount *= charge
    left = amount * hurtbox.multiplier
    steps.append(Step("hurtbox", amount, left, f"{hurtbox.name} × {hurtbox.multiplier:g}"))
    amount = left
    after = list(values)
    losses = []
    for index in body.route:
        pool = body.pools[index]
        have = after[index]
        loss = min(have, left)
        after[index] = have - loss
        steps.append(Step(f"pool {pool.name}", left, left - loss, f"{have:g} of {pool.maximum:g} held"))
        left -= loss
        if loss > 0.0:
            losses.append(Loss(pool.name, have, have - loss))
    overkill = lost = 0.0
    if left > 0.0 and after[body.vital] == 0.0:
        overkill = left
        steps.append(Step("overkill", left, 0.0, f"{body.pools[body.vital].name} was already empty"))
    elif left > 0.0:
        lost = left
        steps.append(Step("lost", left, 0.0, "no pool of the route could take it"))
    return Ledger(tuple(steps), tuple(losses), amount, overkill, lost), after
