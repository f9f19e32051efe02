"""Hits that need no contact: what a host does to bodies, throws, and the wounds of afflictions."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import grabs
from emberwound.bout.hits.damage import apply
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, number_of
from emberwound.bout.state.pending import Hit, HitLocation, PendingKnockback
from emberwound.combat.terms import WoundTerms
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.plan.attack_plans import HitPlan
from emberwound.vocabulary.orders import Heal, Hurt, Push
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def judge_hosts(world: World) -> None:
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


def judge_throws(world: World) -> None:
    """Judge the throws of this tick, at its start, in their order."""
    for holder, slot, began in world.pending_throws:
        victim = number_of(int(world.block.body_marks[BodyMark.HOLDS, holder]))
        if victim >= 0:
            _throw(world, holder, victim, slot, began)
    world.pending_throws.clear()


def _throw(world: World, holder: int, victim: int, slot: int, began: int) -> None:
    attack = queries.fighter_of(world, holder).attacks[slot]
    time = world.counts[Count.TICK] / world.plan.tick_rate
    grabs.end(world, victim, Reason.THROWN, time, began)
    share = float(world.block.bodies[BodyColumn.CHARGE, holder])
    x, y, z = queries.place_of(world, holder)
    hit = Hit(
        world.seat_of(holder),
        attack.name,
        attack.hit,
        began,
        charge=projectiles.charged(attack, share, "damage") if attack.charge else None,
        source=(x, y, z),
        striker=holder,
        throws=True,
    )
    px, py, pz = queries.place_of(world, victim)
    apply(world, hit, HitLocation(victim, 0, (px, py, pz), time))


def judge_afflictions(world: World) -> None:
    """Deal the wounds that afflictions brought in this tick, at its very start; the protected are spared theirs."""
    time = world.counts[Count.TICK] / world.plan.tick_rate
    for body, index, by, strength, cause in world.pending_affliction_ticks:
        if world.block.body_marks[BodyMark.PROTECTED, body]:
            continue
        plan = world.plan.afflictions[index]
        charge = strength if strength != 1.0 else None
        x, y, z = queries.place_of(world, body)
        hit = Hit(by, plan.name, plan.hit, cause, charge=charge, lingers=True)
        apply(world, hit, HitLocation(body, 0, (x, y, z), time))
    world.pending_affliction_ticks.clear()
