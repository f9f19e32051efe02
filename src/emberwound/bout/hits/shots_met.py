"""Shots in flight that strikes, other shots, rays and blasts meet, and what hits do to them.

Only shots that can be destroyed, and those that a strike sends back, are looked for; they are few, so this is done shot
by shot. Shots are taken along the chord of the tick, as shapes are.
"""

from __future__ import annotations

from math import dist, hypot, sqrt
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.attacks import projectiles
from emberwound.bout.bodies import pools
from emberwound.bout.hits import contacts
from emberwound.bout.hits.blasts import explode
from emberwound.bout.hits.knockback import share_at
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark, mark_of
from emberwound.bout.state.pending import Hit, PendingBlast, VolumeContact
from emberwound.combat.terms import BodyStats, Circumstance, HurtboxTerms
from emberwound.combat.wound import after_guard, before_guard
from emberwound.geometry.layout import (
    MayTouch,
    ShapeColumn,
    ShapeMark,
    ShotColumn,
    ShotMark,
    TouchColumn,
    TouchMark,
)
from emberwound.geometry.rays_and_blasts import ray_touches
from emberwound.geometry.volume_contacts import touch_contacts
from emberwound.vocabulary.events import ShotStruck
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Iterator

    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


ANY_LAYER = (1 << 59) - 1
FEWEST = 64


class MetShot(NamedTuple):
    """A shot as it flies through the tick at hand: its column, segment and marks, and where it starts and ends."""

    column: int
    segment: list[float]
    mark: list[int]
    start: Vector
    end: Vector

    @property
    def health(self) -> float:
        """The points it can still take; 0 of one that cannot be destroyed."""
        return self.segment[ShotColumn.HEALTH]

    @property
    def radius(self) -> float:
        """Its radius."""
        return self.segment[ShotColumn.RADIUS]

    def place(self, share: float) -> Vector:
        """Where it is at a fraction of the tick."""
        x, y, z = (a + (b - a) * share for a, b in zip(self.start, self.end, strict=True))
        return (x, y, z)

    def was_struck_by(self, seq: int) -> bool:
        """Whether a swing or a shot, by the event that began it, struck it already."""
        return seq in (self.mark[ShotMark.STRUCK_BY], self.mark[ShotMark.STRUCK_BEFORE])


def may_be(world: World) -> bool:
    """Whether anything may strike a shot in this tick: one that flies has health, or a strike that reflects is on."""
    if not world.shots_can_be_struck or not world.counts[Count.SHOTS_FLYING]:
        return False
    block, most = world.block, world.plan.most_hitboxes
    if block.shots[ShotColumn.HEALTH, : world.counts[Count.SHOTS_TOP]].any():
        return True
    if not world.counts[Count.HITBOXES_ON]:
        return False
    on = block.volumes[ShapeColumn.KIND, : block.bodies_end * most].nonzero()[0]
    return any(_reflects(world, body) for body in dict.fromkeys((on // most).tolist()))


def _reflects(world: World, body: int) -> bool:
    """Whether the strike that a body is in sends shots back; True for a dead one's, which still trades."""
    attack = queries.attack_of(world, body)
    return attack is None or (attack.strike is not None and attack.strike.reflects)


def flying(world: World) -> list[MetShot]:
    """All shots in flight, in the order of their ids."""
    block = world.block
    columns = block.shot_marks[ShotMark.ID, : world.counts[Count.SHOTS_TOP]].nonzero()[0].tolist()
    shots = [
        MetShot(
            column,
            block.shots[:, column].tolist(),
            block.shot_marks[:, column].tolist(),
            projectiles.place_of(world, column),
            projectiles.place_of(world, column, 1.0),
        )
        for column in columns
        if column not in world.ended_shots
    ]
    return sorted(shots, key=lambda shot: shot.mark[ShotMark.ID])


def may_hit(world: World, layers: int, options: int, owner: int, team: int, shot: MetShot) -> bool:
    """Whether what touches these layers, with these options, of an owner (a mark) and a team, may hit a shot."""
    if not layers & world.plan.shot_layer or not shot.health:
        return False
    if shot.mark[ShotMark.OWNER] == owner:
        return bool(options & MayTouch.OWNER)
    return shot.mark[ShotMark.TEAM] != team or bool(options & MayTouch.TEAM)


def by_strikes(world: World, shots: list[MetShot]) -> Iterator[tuple[VolumeContact, MetShot]]:
    """Each swing's first touch of each shot of its foes."""
    if not shots or not world.counts[Count.HITBOXES_ON]:
        return
    block, most, count = world.block, world.plan.most_hitboxes, len(shots)
    shapes, marks = _shapes_of(shots)
    room = max(count, FEWEST)
    found, found_marks = np.empty((TouchColumn.COLUMNS, room)), np.empty((TouchMark.COLUMNS, room), np.int64)
    nothing = (block.again, np.empty(0, np.int64), np.empty((1, 0)))
    group, last = 0, block.bodies_end * most
    while group < last:
        count, group, _ = touch_contacts(
            block.volumes,
            block.volume_marks,
            shapes,
            marks,
            nothing,
            found,
            found_marks,
            (group, last, most),
            (0, count, 1),
            block.first_hazard_group,
            world.counts[Count.TICK],
            0.0,
        )
        for (share, x, y, z), (volume, shape) in zip(
            found[:, :count].T.tolist(), found_marks[:, :count].T.tolist(), strict=True
        ):
            yield VolumeContact(share, (x, y, z), volume, -1), shots[shape]


def _shapes_of(shots: list[MetShot]) -> tuple[np.ndarray, np.ndarray]:
    shapes = np.zeros((ShapeColumn.COLUMNS, len(shots)))
    marks = np.zeros((ShapeMark.COLUMNS, len(shots)), np.int64)
    starts, ends = np.array([shot.start for shot in shots]).T, np.array([shot.end for shot in shots]).T
    radii = np.array([shot.radius for shot in shots])
    for column, places in ((ShapeColumn.A, starts), (ShapeColumn.B, starts), (ShapeColumn.A_END, ends),
                           (ShapeColumn.B_END, ends)):  # fmt: skip
        shapes[column : column + 3] = places
    shapes[ShapeColumn.RADIUS] = radii
    shapes[ShapeColumn.LOW : ShapeColumn.LOW + 3] = np.minimum(starts, ends) - radii
    shapes[ShapeColumn.HIGH : ShapeColumn.HIGH + 3] = np.maximum(starts, ends) + radii
    marks[ShapeMark.OWNER] = [shot.mark[ShotMark.OWNER] for shot in shots]
    marks[ShapeMark.TEAM] = [shot.mark[ShotMark.TEAM] for shot in shots]
    marks[ShapeMark.LAYER] = ANY_LAYER
    marks[ShapeMark.BODY] = [shot.mark[ShotMark.ID] for shot in shots]
    return shapes, marks


def by_shots(world: World, shots: list[MetShot]) -> Iterator[tuple[float, MetShot, MetShot]]:
    """Each pair of shots that meet, of which the second can be destroyed by the first, and when in the tick."""
    for shot in shots:
        if not shot.health:
            continue
        for other in shots:
            if other is shot or shot.was_struck_by(other.mark[ShotMark.RELEASE_SEQ]) or not hits(world, other, shot):
                continue
            if hits(world, shot, other) and other.mark[ShotMark.ID] > shot.mark[ShotMark.ID]:
                continue  # both can be destroyed by each other: the pair is one
            share = meeting(other, shot)
            if share is not None:
                yield share, other, shot


def hits(world: World, shot: MetShot, other: MetShot) -> bool:
    """Whether a shot may hit another."""
    options, owner, team = (shot.mark[each] for each in (ShotMark.OPTIONS, ShotMark.OWNER, ShotMark.TEAM))
    return may_hit(world, shot.mark[ShotMark.LAYERS], options, owner, team, other)


def meeting(one: MetShot, other: MetShot) -> float | None:
    """The first fraction of the tick at which two shots touch, or None: |d + v u| = r for the least u of 0..1.

    Those that only come apart do not touch, unless they are in each other.
    """
    apart = [a - b for a, b in zip(one.start, other.start, strict=True)]
    moves = [(b - a) - (d - c) for a, b, c, d in zip(one.start, one.end, other.start, other.end, strict=True)]
    reach = one.radius + other.radius
    gap = hypot(*apart)
    closing = sum(a * b for a, b in zip(apart, moves, strict=True))
    if gap <= reach:
        return 0.0 if closing < 0.0 or gap < reach else None
    square = sum(each * each for each in moves)
    if closing >= 0.0 or square == 0.0:
        return None
    inside = closing * closing - square * (gap * gap - reach * reach)
    if inside < 0.0:
        return None
    share = (-closing - sqrt(inside)) / square
    return share if share <= 1.0 else None


def along_ray(start: Vector, move: Vector, until: float, shots: list[MetShot]) -> list[tuple[float, MetShot]]:
    """The shots that a ray touches before a share of its way, where they are at the start of the tick."""
    if not shots:
        return []
    shapes, marks = _shapes_of(shots)
    shares = np.empty(len(shots))
    ray_touches(np.array(start), np.array(move), shapes, marks, ANY_LAYER, shares)
    return [(share, shot) for share, shot in zip(shares.tolist(), shots, strict=True) if share <= until]


def within(place: Vector, share: float, radius: float, shots: list[MetShot]) -> list[tuple[float, MetShot]]:
    """The shots within a radius of a place at a fraction of the tick, and how far away their skins are."""
    gaps = [(max(dist(shot.place(share), place) - shot.radius, 0.0), shot) for shot in shots]
    return [(gap, shot) for gap, shot in gaps if gap <= radius]


SKIN, NO_STATS = HurtboxTerms(SHOT_LAYER, 1.0, ()), BodyStats((), 0)


def points(world: World, hit: Hit, attack: str) -> float:
    """The points that a hit takes off a shot of an attack: as of a body that nothing protects."""
    dealt = pools.damage_dealt(world, hit.by) if hit.by >= 0 else ()
    how = Circumstance(hit.name, attack, hit.distance, hit.charge, None, dealt=dealt)
    wound, rules = hit.plan.wound, world.plan.wound_rules
    return after_guard(before_guard(wound, SKIN, NO_STATS, rules, how), wound, SKIN, NO_STATS, rules, how)


def hurt(world: World, hit: Hit, shot: MetShot, position: Vector, time: float, remembered: int) -> int:
    """Take a hit's points off what a shot can still take; at 0 it ends, with its blast. The event.

    `remembered` is the event that began what hit it: that hits it once.
    """
    block, column, mark = world.block, shot.column, shot.mark
    attack = projectiles.attack_of(world, column)
    amount = points(world, hit, attack.name)
    left = max(float(block.shots[ShotColumn.HEALTH, column]) - amount, 0.0)
    block.shots[ShotColumn.HEALTH, column] = left
    block.shot_marks[ShotMark.STRUCK_BEFORE, column] = block.shot_marks[ShotMark.STRUCK_BY, column]
    block.shot_marks[ShotMark.STRUCK_BY, column] = remembered
    cause = world.emit(
        ShotStruck(
            time=time,
            seat=world.names[index_of_mark(mark[ShotMark.OWNER])],
            by=world.name_of(hit.by),
            cause=hit.cause,
            attack=hit.name,
            shot=hit.shot,
            hitbox=hit.hitbox,
            struck=mark[ShotMark.ID],
            struck_attack=attack.name,
            position=world.point(position),
            amount=amount,
            left=left,
        )
    )
    if left == 0.0:
        projectiles.end(world, column, Reason.DESTROYED, position, mark, time=time, cause=cause)
        burst(world, mark, "end", position, time, -1)
    return cause


def burst(world: World, mark: list[int], on: str, position: Vector, time: float, spared: int) -> None:
    """Let what a shot carries go off at once, if it does so at this sort of end."""
    attack = world.plan.fighters[mark[ShotMark.FIGHTER]].attacks[mark[ShotMark.SLOT]]
    if attack.blast < 0 or on not in attack.table.blast_on:
        return
    share = min(max(time * world.plan.tick_rate - world.counts[Count.TICK], 0.0), 1.0)
    seat, shot_id = index_of_mark(mark[ShotMark.OWNER]), mark[ShotMark.ID]
    set_off(
        world,
        PendingBlast(attack.blast, seat, share, position, mark[ShotMark.RELEASE_SEQ], spared=spared, shot=shot_id),
    )


def set_off(world: World, blast: PendingBlast) -> None:
    """Let a blast go off: all bodies that it reaches, then the shots that it may destroy, by their ids."""
    cause = explode(world, blast)
    if not world.shots_can_be_struck or not world.counts[Count.SHOTS_FLYING]:
        return
    plan, time = world.plan.blasts[blast.blast], (world.counts[Count.TICK] + blast.share) / world.plan.tick_rate
    team = int(world.block.seat_marks[SeatMark.TEAM, blast.by]) if blast.by >= 0 else -1
    whose = plan.hit.layers, plan.hit.options, mark_of(blast.by), team
    targets = [shot for shot in flying(world) if may_hit(world, *whose, shot)]
    for gap, shot in within(blast.place, blast.share, plan.table.radius, targets):
        position = shot.place(blast.share)
        walled = plan.table.on_wall == "block" and contacts.wall_between(world, blast.place, position)
        if walled or shot.column in world.ended_shots:
            continue
        hit = Hit(blast.by, plan.name, plan.hit, cause, shot=blast.shot, distance=gap, blast=blast,
                  strength=share_at(plan, gap))  # fmt: skip
        hurt(world, hit, shot, position, time, cause)
