"""From the models of a book to the plain terms of combat."""

from __future__ import annotations

from dataclasses import replace
from math import atan2, hypot, radians
from typing import TYPE_CHECKING

from emberwound.combat.push import Footing, PushTerms, solve
from emberwound.combat.reaction import Fit, ReactionTerms, ResistanceTerms
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

    from emberwound.rulebook.models import Arena, Attack, Blast, Book, Fighter, Hazard, Hitbox, Pool, Push


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


def hitbox_terms(attack: Attack, box: Hitbox) -> WoundTerms:
    """What one hitbox of an attack deals: the attack's wound, but for what it says of its own."""
    wound = wound_terms(attack)
    return replace(
        wound,
        damage=wound.damage if box.damage is None else box.damage,
        kind=box.kind or wound.kind,
        guard_class=box.guard_class or wound.guard_class,
    )


def hazard_terms(hazard: Hazard) -> WoundTerms:
    """What a hazard deals."""
    return WoundTerms(
        damage=hazard.damage,
        kind=hazard.kind or "",
        against=tuple(hazard.against.items()),
        guard_class=hazard.guard_class,
    )


def blast_terms(blast: Blast) -> WoundTerms:
    """What a blast deals at a distance."""
    falloff = {"linear": FalloffTerms(0.0, blast.radius, 0.0), "steep": FalloffTerms(0.0, blast.radius, 0.0, 2.0)}
    return WoundTerms(
        damage=blast.damage,
        kind=blast.kind or "",
        falloff=falloff.get(blast.falloff),
        against=tuple(blast.against.items()),
        guard_class=blast.guard_class,
    )


def hurtbox_terms(fighter: Fighter) -> tuple[HurtboxTerms, ...]:
    """A fighter's hurtboxes in file order; without a route of its own one has the fighter's, or the vital pool."""
    names, usual = list(fighter.pools), route_of(fighter)
    return tuple(
        HurtboxTerms(
            name,
            box.multiplier,
            usual if box.route is None else tuple(names.index(pool) for pool in box.route),
            box.push_share,
        )
        for name, box in fighter.hurtboxes.items()
    )


def footing_of(fighter: Fighter, arena: Arena) -> Footing:
    """What a fighter is subject to in an arena when it is pushed; seen from the top nothing flies."""
    gravity = 0.0 if arena.plane == "top" else arena.gravity * fighter.gravity_share
    return Footing(gravity, fighter.drag, fighter.slowing)


def push_terms(push: Push, footing: Footing, frame_rate: int) -> PushTerms:
    """A push on a victim of this footing; one that is authored by where it lands is solved for it."""
    speed, lift = push.speed, radians(push.lift_deg)
    if push.distance is not None:
        seconds = float(push.seconds.seconds(frame_rate)) if push.seconds else None
        level, rise = solve(footing, push.distance, push.apex, seconds)
        speed, lift = hypot(level, rise), atan2(rise, level)
    if footing.gravity == 0.0:
        lift = 0.0
    return PushTerms(push.heading, speed, lift, push.per_point, replaces=push.mode == "set")


def reaction_terms(fighter: Fighter, frame_rate: int) -> tuple[ReactionTerms, ...]:
    """A fighter's table of reactions; without variants a row has one, of its own name."""
    return tuple(
        ReactionTerms(
            name=row.name,
            fit=Fit(
                guarded=row.guarded,
                breaks=row.breaks,
                sides=None if row.sides is None else frozenset(row.sides),
                hurtboxes=None if row.hurtboxes is None else frozenset(row.hurtboxes),
                kinds=None if row.kinds is None else frozenset(row.kinds),
                damage=row.damage,
                push=row.push,
                airborne=row.airborne,
                dying=row.dying,
            ),
            variants=row.variants or (row.name,),
            seconds=float(row.seconds.seconds(frame_rate)),
            severity=row.severity,
            locks=frozenset(row.locks),
            blend_in=float(row.blend_in.seconds(frame_rate)),
            blend_out=float(row.blend_out.seconds(frame_rate)),
            part=row.part,
        )
        for row in fighter.reactions
    )


def resistance_terms(fighter: Fighter, frame_rate: int) -> ResistanceTerms | None:
    """What a fighter takes without a reaction."""
    table = fighter.resistance
    if table is None:
        return None
    return ResistanceTerms(table.points, table.refill, float(table.delay.seconds(frame_rate)))


def route_of(fighter: Fighter) -> tuple[int, ...]:
    """The pools that a fighter's wounds go through: its route, or the vital pool alone; none of a prop."""
    vital = tuple(name for name, pool in fighter.pools.items() if pool.vital)
    names = list(fighter.pools)
    return tuple(names.index(pool) for pool in (vital if fighter.route is None else fighter.route))


def body_terms(fighter: Fighter, frame_rate: int) -> BodyTerms:
    """What a fighter bears; its pools in file order, none of a prop."""
    names = list(fighter.pools)
    guard = fighter.guard
    return BodyTerms(
        pools=tuple(_pool(name, pool, frame_rate) for name, pool in fighter.pools.items()),
        vital=next((index for index, pool in enumerate(fighter.pools.values()) if pool.vital), -1),
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
            push_share=guard.push_share,
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
