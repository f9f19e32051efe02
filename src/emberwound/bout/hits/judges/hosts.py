"""Judges what a host does to bodies by its own rules: pushes, wounds and healing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.hits.damage import apply
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count
from emberwound.bout.state.pending import Hit, HitLocation, PendingKnockback
from emberwound.combat.terms import WoundTerms
from emberwound.plan.attack_plans import HitPlan
from emberwound.vocabulary.orders import Heal, Hurt, Push

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def judge(world: World) -> None:
    """Deal, at the very start of the tick, what its host told; who has no living body any more is left alone."""
    for given in world.inputs:
        if isinstance(given, Push | Hurt | Heal) and given.seat in world.names:
            body = queries.body_of(world, world.names.number_of(given.seat))
            if body is not None:
                _do(world, given, body)


def _do(world: World, given: Push | Hurt | Heal, body: int) -> None:
    time = world.counts[Count.TICK] / world.plan.tick_rate
    x, y, z = queries.place_of(world, body)
    if isinstance(given, Push):
        velocity = world.plan.space.lift(given.velocity)
        push = PendingKnockback(velocity, given.mode == "set", time, None, None, (x, y, z))
        world.pending_knockback.setdefault(body, []).append(push)
        return
    plan = HitPlan(WoundTerms(given.points, given.kind, heals=isinstance(given, Heal)))
    by = world.names.number_of(given.by) if given.by is not None and given.by in world.names else -1
    hit = Hit(by, given.name, plan, None, lingers=True, hosted=True)
    where = HitLocation(body, 0, (x, y, z), time)
    if isinstance(given, Heal):
        world.healing.append((hit, where))
    else:
        apply(world, hit, where)
