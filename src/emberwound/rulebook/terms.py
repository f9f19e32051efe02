"""From the models of a book to the plain terms of combat."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.combat.terms import HurtboxTerms, PoolsTerms, PoolTerms, WoundTerms

if TYPE_CHECKING:
    from emberwound.rulebook.models import Attack, Fighter


def wound_terms(attack: Attack) -> WoundTerms:
    """What an attack deals."""
    return WoundTerms(attack.damage, attack.kind or "")


def hurtbox_terms(fighter: Fighter) -> tuple[HurtboxTerms, ...]:
    """A fighter's hurtboxes in file order."""
    return tuple(HurtboxTerms(name, hurtbox.multiplier) for name, hurtbox in fighter.hurtboxes.items())


def pools_terms(fighter: Fighter) -> PoolsTerms:
    """A fighter's pools in file order; without a route of its own a wound goes to the vital pool alone."""
    names = list(fighter.pools)
    vital = next(index for index, pool in enumerate(fighter.pools.values()) if pool.vital)
    route = (vital,) if fighter.route is None else tuple(names.index(name) for name in fighter.route)
    pools = tuple(
        PoolTerms(name, pool.max, pool.max if pool.start is None else pool.start)
        for name, pool in fighter.pools.items()
    )
    return PoolsTerms(pools, route, vital)
