"""Judges what strikes and shots do to shots in flight: they may destroy them, and strikes may send them back."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.attacks import projectiles
from emberwound.bout.attacks.steering import send_back
from emberwound.bout.hits import shots_met, struck_shots
from emberwound.bout.hits.judges import shots, touches
from emberwound.bout.state.layout import Count, mark_of, number_of
from emberwound.bout.state.pending import QueuedContact, VolumeContact
from emberwound.geometry.layout import BodyMark, ShotColumn, ShotMark, VolumeMark
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.hits.shots_met import MetShot
    from emberwound.bout.state.pending import Hit, Swing
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
    struck_shots.hurt(world, touches.hit_of(swing, rank, touch), shot, touch.position, time, swing.cause)
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
        seq = struck_shots.hurt(world, hit, target, touch.position, time, shot.mark[ShotMark.RELEASE_SEQ])
        cause = seq if shot is one else cause
    if one.health or one.column in world.ended_shots:
        return
    if world.block.shot_marks[ShotMark.PIERCES, one.column]:
        world.block.shot_marks[ShotMark.PIERCES, one.column] -= 1
        return
    seat = world.names[number_of(other.mark[ShotMark.OWNER])]
    projectiles.end(world, one.column, Reason.HIT, touch.position, one.mark, time=time, seat=seat, cause=cause,
                    hurtbox=SHOT_LAYER)  # fmt: skip
    struck_shots.burst(world, one.mark, "hit", touch.position, time, -1)


def _hit(world: World, shot: MetShot, time: float, touch: VolumeContact) -> Hit:
    began = shot.segment[ShotColumn.TICK] / world.plan.tick_rate + shot.segment[ShotColumn.BEGIN]
    return shots.hit_of(world, shot.segment, shot.mark, touch.position, time - began)
