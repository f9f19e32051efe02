"""Judges what strikes and shots do to shots in flight, and hits that need no contact."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final, NamedTuple

from emberwound.bout.attacks import projectiles
from emberwound.bout.attacks.projectiles import send_back
from emberwound.bout.hits import grabs, shots_met
from emberwound.bout.hits.damage import apply
from emberwound.bout.hits.judges import shots, touches
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, index_of_mark, mark_of
from emberwound.bout.state.pending import Hit, HitLocation, PendingKnockback, QueuedContact, VolumeContact
from emberwound.combat.terms import WoundTerms
from emberwound.geometry.layout import BodyColumn, BodyMark, ShotColumn, ShotMark, VolumeMark
from emberwound.plan.attack_plans import HitPlan
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.orders import Heal, Hurt, Push
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.hits.shots_met import MetShot
    from emberwound.bout.state.pending import Swing
    from emberwound.bout.state.world import World


SHOTS_FIRST, PAIRS_FIRST = -(1 << 62), -(1 << 61)
"""At one time a swing meets shots before bodies; so numbers of shots and of bodies never decide between each other."""


def contacts_of(world: World) -> list[QueuedContact]:
    """What meets shots in this tick, as entries for the judge's queue."""
    flying = shots_met.flying(world)
    found: list[QueuedContact] = []
    for touch, shot in shots_met.by_strikes(world, flying):
        swing = touches.swing_of(world, touch.volume // world.plan.most_hitboxes)
        if swing is not None and _may_strike(world, touch, swing, shot):
            rank = int(world.block.volume_marks[VolumeMark.RANK, touch.volume])
            order = (touch.share, mark_of(swing.by), swing.cause, rank, SHOTS_FIRST + shot.mark[ShotMark.ID])
            found.append(QueuedContact(order, StruckShot(touch, shot, swing, rank)))
    for share, one, other in shots_met.by_shots(world, flying):
        touch = VolumeContact(share, one.place(share), -1, -1)
        order = (share, one.mark[ShotMark.OWNER], one.mark[ShotMark.ID], 0, PAIRS_FIRST + other.mark[ShotMark.ID])
        found.append(QueuedContact(order, MeetingShots(touch, one, other)))
    return found


def _may_strike(world: World, touch: VolumeContact, swing: Swing, shot: MetShot) -> bool:
    if shot.was_struck_by(swing.cause):
        return False
    if swing.strike.reflects:
        return True
    marks = (VolumeMark.LAYERS, VolumeMark.OPTIONS, VolumeMark.OWNER, VolumeMark.TEAM)
    layers, options, owner, team = (int(world.block.volume_marks[mark, touch.volume]) for mark in marks)
    return shots_met.may_hit(world, layers, options, owner, team, shot)


class StruckShot(NamedTuple):
    """A strike's touch of a shot: by which swing and which of its hitboxes."""

    touch: VolumeContact
    shot: MetShot
    swing: Swing
    rank: int

    def judge(self, world: World) -> list[QueuedContact]:
        """The shot is sent back, or loses points; its next contact in this tick, if any."""
        return _strike(world, self)


def _strike(world: World, contact: StruckShot) -> list[QueuedContact]:
    touch, shot, swing, rank = contact
    tick = world.counts[Count.TICK] + touch.share
    if not projectiles.flies_on(world, shot.column, shot.segment) or touches.is_beaten(world, swing.striker, tick):
        return []
    world.block.body_marks[BodyMark.SWING_TOUCHED, swing.striker] += 1
    time, place = tick / world.plan.tick_rate, shot.place(touch.share)
    if swing.strike.reflects:
        send_back(world, shot.column, swing.by, place, time, swing.cause, swing.attack.name)
        world.block.shot_marks[ShotMark.STRUCK_BY, shot.column] = swing.cause
        return shots.next_of(world, shot.column)
    shots_met.hurt(world, touches.hit_of(swing, rank, touch), shot, touch.position, time, swing.cause)
    return []


class MeetingShots(NamedTuple):
    """Two shots that meet, the one whose entry it is first."""

    touch: VolumeContact
    one: MetShot
    other: MetShot

    def judge(self, world: World) -> list[QueuedContact]:
        """Each loses the other's points that it can take; one without health ends, or pierces.

        Both are judged by what they were before.
        """
        _meet(world, self.touch, self.one, self.other)
        return []


def _meet(world: World, touch: VolumeContact, one: MetShot, other: MetShot) -> None:
    if not all(projectiles.flies_on(world, each.column, each.segment) for each in (one, other)):
        return
    time = (world.counts[Count.TICK] + touch.share) / world.plan.tick_rate
    pairs = [(one, other), (other, one)] if shots_met.hits(world, other, one) else [(one, other)]
    hits = [(_hit(world, shot, time, touch), shot, target) for shot, target in pairs]
    cause = None
    for hit, shot, target in hits:
        if target.column in world.ended_shots:  # by the blast of the one before
            continue
        seq = shots_met.hurt(world, hit, target, touch.position, time, shot.mark[ShotMark.RELEASE_SEQ])
        cause = seq if shot is one else cause
    if one.health or one.column in world.ended_shots:
        return
    if world.block.shot_marks[ShotMark.PIERCES, one.column]:
        world.block.shot_marks[ShotMark.PIERCES, one.column] -= 1
        return
    seat = world.names[index_of_mark(other.mark[ShotMark.OWNER])]
    projectiles.end(world, one.column, Reason.HIT, touch.position, one.mark, time=time, seat=seat, cause=cause,
                    hurtbox=SHOT_LAYER)  # fmt: skip
    shots_met.burst(world, one.mark, "hit", touch.position, time, -1)


def _hit(world: World, shot: MetShot, time: float, touch: VolumeContact) -> Hit:
    began = shot.segment[ShotColumn.TICK] / world.plan.tick_rate + shot.segment[ShotColumn.BEGIN]
    return shots.hit_of(world, shot.segment, shot.mark, touch.position, time - began)


BODY_INPUTS: Final = (Push, Hurt, Heal)
"""What a host does to a body at the start of a tick."""


def judge_hosts(world: World) -> None:
    """Deal, at the very start of the tick, what its host gave; who has no living body any more is left alone."""
    for given in world.inputs:
        if isinstance(given, BODY_INPUTS) and given.seat in world.names:
            body = queries.body_of(world, world.names.index_of(given.seat))
            if body is not None:
                time = world.counts[Count.TICK] / world.plan.tick_rate
                x, y, z = queries.place_of(world, body)
                _deal(world, given, HitLocation(body, 0, (x, y, z), time))


def _deal(world: World, given: Push | Hurt | Heal, where: HitLocation) -> None:
    if isinstance(given, Push):
        _push(world, given, where)
    elif isinstance(given, Hurt):
        apply(world, _hosted(world, given, heals=False), where)
    else:
        world.healing.append((_hosted(world, given, heals=True), where))


def _push(world: World, given: Push, where: HitLocation) -> None:
    velocity = world.plan.space.lift(given.velocity)
    push = PendingKnockback(velocity, given.mode == "set", where.time, None, None, where.position)
    world.pending_knockback.setdefault(where.body, []).append(push)


def _hosted(world: World, given: Hurt | Heal, *, heals: bool) -> Hit:
    plan = HitPlan(WoundTerms(given.points, given.kind, heals=heals))
    by = world.names.index_of(given.by) if given.by is not None and given.by in world.names else -1
    return Hit(by, given.name, plan, None, lingers=True, hosted=True)


def judge_throws(world: World) -> None:
    """Judge the throws of this tick, at its start, in their order."""
    for holder, slot, began in world.pending_throws:
        victim = index_of_mark(int(world.block.body_marks[BodyMark.HOLDS, holder]))
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
