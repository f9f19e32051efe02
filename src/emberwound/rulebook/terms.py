"""From the models of a book to the plain terms of combat."""

from __future__ import annotations

from dataclasses import replace
from math import atan2, hypot, radians
from typing import TYPE_CHECKING

from emberwound.combat.push import Footing, PushTerms, solve
from emberwound.combat.reaction import Fit, ReactionTerms, StaggerTerms
from emberwound.combat.terms import (
    BodyStats,
    FalloffTerms,
    GuardTerms,
    HurtboxTerms,
    OwnStep,
    PoolTerms,
    WoundRules,
    WoundTerms,
)
from emberwound.rulebook.models.tables import HitOverrides

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.models import Arena, Attack, Blast, Book, Fighter, Hitbox, HitOptions, Pool, Push, Reaction


def with_overrides(attack: Attack, box: Hitbox) -> Attack:
    """The attack as one of its hitboxes does it: with what the hitbox says of its own."""
    own = {name: getattr(box, name) for name in HitOverrides.model_fields}
    return attack.model_copy(update={name: value for name, value in own.items() if value is not None})


def hit_terms(options: HitOptions, falloff: FalloffTerms | None = None) -> WoundTerms:
    """What a hit deals."""
    return WoundTerms(
        damage=options.damage,
        kind=options.kind or "",
        falloff=falloff,
        against=tuple(options.against.items()),
        guard_class=options.guard_class,
    )


def wound_terms(attack: Attack) -> WoundTerms:
    """The damage an attack deals, or the points it heals."""
    table = attack.falloff
    falloff = FalloffTerms(table.near, table.far, table.share) if table else None
    points = attack.heal or attack.damage
    return replace(hit_terms(attack, falloff), damage=points, heals=attack.heal > 0.0, revives=attack.revive)


def hitbox_terms(attack: Attack, box: Hitbox) -> WoundTerms:
    """What one hitbox of an attack deals: the attack's wound, but for what it says of its own."""
    wound = wound_terms(with_overrides(attack, box))
    return wound if box.damage is None else replace(wound, damage=box.damage)


def blast_terms(blast: Blast) -> WoundTerms:
    """What a blast deals at a distance."""
    falloff = {"linear": FalloffTerms(0.0, blast.radius, 0.0), "steep": FalloffTerms(0.0, blast.radius, 0.0, 2.0)}
    return hit_terms(blast, falloff.get(blast.falloff))


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
    gravity = 0.0 if arena.space == "top" else arena.gravity * fighter.gravity_share
    return Footing(gravity, fighter.drag, fighter.slows_by)


def push_terms(push: Push, footing: Footing, frame_rate: int, space: str) -> PushTerms:
    """A push on a victim of this footing in a space; one that is authored by where it lands is solved for it."""
    speed, lift = push.speed, radians(push.lift_deg)
    if push.distance is not None:
        seconds = float(push.seconds.seconds(frame_rate)) if push.seconds else None
        level, rise = solve(footing, push.distance, push.apex, seconds)
        speed, lift = hypot(level, rise), atan2(rise, level)
    if footing.gravity == 0.0:
        lift = 0.0
    along = (0.0, 0.0)
    if push.direction is not None:
        x, *between, last = push.direction
        y, z = (last, 0.0) if space == "top" else (between[0] if between else 0.0, last)
        level = hypot(x, y)
        along, lift = (x / level, y / level) if level else (0.0, 0.0), atan2(z, level)
    return PushTerms(push.heading, speed, lift, push.per_point, replaces=push.mode == "set", along=along)


def reaction_fit(row: Reaction) -> Fit:
    """What a row of a table of reactions asks of a hit."""
    return Fit(
        guarded=row.guarded,
        breaks=row.breaks,
        sides=None if row.sides is None else frozenset(row.sides),
        hurtboxes=None if row.hurtboxes is None else frozenset(row.hurtboxes),
        kinds=None if row.kinds is None else frozenset(row.kinds),
        damage=row.damage,
        push=row.push,
        airborne=row.airborne,
        parried=row.parried,
        dying=row.dying,
    )


def reaction_terms(fighter: Fighter, frame_rate: int) -> tuple[ReactionTerms, ...]:
    """A fighter's table of reactions; without variants a row has one, of its own name."""
    return tuple(
        ReactionTerms(
            name=row.name,
            fit=reaction_fit(row),
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


def stagger_terms(fighter: Fighter, frame_rate: int) -> StaggerTerms | None:
    """What a fighter takes without a reaction."""
    table = fighter.stagger_resistance
    if table is None:
        return None
    return StaggerTerms(table.points, table.refill, float(table.delay.seconds(frame_rate)))


def route_of(fighter: Fighter) -> tuple[int, ...]:
    """The pools that a fighter's wounds go through: its route, or the vital pool alone; none of a prop."""
    vital = tuple(name for name, pool in fighter.pools.items() if pool.vital)
    names = list(fighter.pools)
    return tuple(names.index(pool) for pool in (vital if fighter.route is None else fighter.route))


def stats_of(fighter: Fighter, frame_rate: int) -> BodyStats:
    """The stats of a fighter; its pools in file order, none of a prop."""
    names = list(fighter.pools)
    guard = fighter.guard
    return BodyStats(
        pools=tuple(_pool(name, pool, frame_rate) for name, pool in fighter.pools.items()),
        vital=next((index for index, pool in enumerate(fighter.pools.values()) if pool.vital), -1),
        labels=frozenset(fighter.labels),
        damage_taken=dict(fighter.damage_taken),
        flat_reduction=fighter.flat_reduction
        if isinstance(fighter.flat_reduction, dict)
        else {"": fighter.flat_reduction},
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
    return PoolTerms(
        name, pool.max, start, pool.share, pool.overflow, pool.refill, float(pool.delay.seconds(frame_rate))
    )


def wound_rules_of(book: Book, steps: Mapping[str, OwnStep]) -> WoundRules:
    """What holds for all wounds of a book."""
    combo = book.settings.combo
    return WoundRules(
        combo_shares=combo.shares if combo else (),
        steps=tuple(steps[name] for name in book.settings.steps),
        whole_points=book.settings.rounding == "whole",
    )
