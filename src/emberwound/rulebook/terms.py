"""From the models of a book to the plain terms of combat."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.combat.terms import (
    BodyTerms,
    FalloffTerms,
    GuardTerms,
    HouseTerms,
    HurtboxTerms,
    OwnStep,
    PoolTerms,
    WoundTerms,
)

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.models import Attack, Book, Fighter, Pool


def wound_terms(attack: Attack) -> WoundTerms:
    """What an attack deals, or mends."""
    table = attack.falloff
    falloff = FalloffTerms(table.near, table.far, table.share) if table else None
    return WoundTerms(
        damage=attack.heal or attack.damage,
        kind=attack.kind or "",
        falloff=falloff,
        against=tuple(attack.against.items()),
        guard_class=attack.guard_class,
        heals=attack.heal > 0.0,
        revives=attack.revive,
    )


def hurtbox_terms(fighter: Fighter) -> tuple[HurtboxTerms, ...]:
    """A fighter's hurtboxes in file order; without a route of its own one has the fighter's, or the vital pool."""
    names, usual = list(fighter.pools), route_of(fighter)
    return tuple(
        HurtboxTerms(
            name, box.multiplier, usual if box.route is None else tuple(names.index(pool) for pool in box.route)
        )
        for name, box in fighter.hurtboxes.items()
    )


def route_of(fighter: Fighter) -> tuple[int, ...]:
    """The pools that a fighter's wounds go through: its route, or the vital pool alone."""
    vital = next(name for name, pool in fighter.pools.items() if pool.vital)
    names = list(fighter.pools)
    return tuple(names.index(pool) for pool in ((vital,) if fighter.route is None else fighter.route))


def body_terms(fighter: Fighter, frame_rate: int) -> BodyTerms:
    """What a fighter bears; its pools in file order."""
    names = list(fighter.pools)
    guard = fighter.guard
    return BodyTerms(
        pools=tuple(_pool(name, pool, frame_rate) for name, pool in fighter.pools.items()),
        vital=next(index for index, pool in enumerate(fighter.pools.values()) if pool.vital),
        labels=frozenset(fighter.labels),
        takes=dict(fighter.takes),
        soak=fighter.soak if isinstance(fighter.soak, dict) else {"": fighter.soak},
        min_damage=fighter.min_damage,
        refills=any(pool.refill for pool in fighter.pools.values()),
        guard=None
        if guard is None
        else GuardTerms(
            arc_deg=guard.arc_deg,
            damage_share=guard.damage_share,
            classes=frozenset(guard.classes),
            drain=guard.drain,
            pool=-1 if guard.pool is None else names.index(guard.pool),
            perfect=float(guard.perfect.seconds(frame_rate)),
        ),
    )


def _pool(name: str, pool: Pool, frame_rate: int) -> PoolTerms:
    start = pool.max if pool.start is None else pool.start
    return PoolTerms(name, pool.max, start, pool.share, pool.spill, pool.refill, float(pool.delay.seconds(frame_rate)))


def house_terms(book: Book, steps: Mapping[str, OwnStep]) -> HouseTerms:
    """What holds for all wounds of a book."""
    combo = book.settings.combo
    return HouseTerms(
        combo_shares=combo.shares if combo else (),
        steps=tuple(steps[name] for name in book.settings.steps),
        whole_points=book.settings.rounding == "whole",
    )
