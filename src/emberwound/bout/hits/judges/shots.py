"""Judges what shots and rays meet: hurtboxes, walls, the floor, the bounds, the end of their range."""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.attacks import projectiles
from emberwound.bout.attacks.projectiles import send_back
from emberwound.bout.hits import contacts, shots_met
from emberwound.bout.hits.damage import land
from emberwound.bout.hits.shots_met import MetShot, burst, hurt
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark, mark_of
from emberwound.bout.state.pending import Contact, Hit, PendingBlast, QueuedContact
from emberwound.geometry.layout import ArenaBound, FoundColumn, FoundMark, Met, ShapeMark, ShotColumn, ShotMark
from emberwound.geometry.shape import skin_normal
from emberwound.vocabulary.events import Bounced, ShotEnded
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.hits.contacts import RayContact
    from emberwound.bout.state.pending import Ray
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


ENDS = {
    Met.FLOOR: (Reason.FLOOR, Reason.MUZZLE_IN_FLOOR),
    Met.BOUNDS: (Reason.OUT_OF_BOUNDS, Reason.MUZZLE_OUT_OF_BOUNDS),
    Met.RANGE: (Reason.RANGE_OVER, Reason.RANGE_OVER),
    Met.SHAPE: (Reason.WALL, Reason.MUZZLE_IN_WALL),
}
"""Why a shot ends that no hurtbox stops: on its way, and at its birth."""

CLEAR = 1e-12


def contacts_of(world: World, count: int) -> list[QueuedContact]:
    """The contacts that the kernel found, as entries for the judge's queue."""
    if not count:
        return []
    block = world.block
    lines, found_marks = world.found[:, :count].T.tolist(), world.found_marks[:, :count]
    shots = found_marks[FoundMark.SHOT]
    segments, marks = block.shots[:, shots].T.tolist(), block.shot_marks[:, shots].T.tolist()
    return [
        QueuedContact(
            (line[FoundColumn.FRACTION], mark[ShotMark.OWNER], mark[ShotMark.ID], 0, 0),
            ShotContact(line, what, segment, mark),
            what[FoundMark.SHAPE] if what[FoundMark.WHAT] == Met.SHAPE else -1,
        )
        for line, what, segment, mark in zip(lines, found_marks.T.tolist(), segments, marks, strict=True)
    ]


class ShotContact(NamedTuple):
    """What a shot meets, as the kernel found it: where and when, and what; the shot's segment, and its marks."""

    line: list[float]
    found: list[int]
    segment: list[float]
    mark: list[int]

    def judge(self, world: World) -> list[QueuedContact]:
        """Let the shot do what it does there; its next contact in this tick, if it goes on and has one."""
        shot = self.found[FoundMark.SHOT]
        if world.shots_can_be_struck and not projectiles.flies_on(world, shot, self.segment):
            return []
        return next_of(world, shot) if _goes_on(world, *self) else []


def next_of(world: World, shot: int) -> list[QueuedContact]:
    """What a shot meets next in what is left of the tick, as an entry for the judge's queue."""
    return contacts_of(world, contacts.of_shots(world, shot, shot + 1))


def _goes_on(world: World, line: list[float], line_marks: list[int], segment: list[float], mark: list[int]) -> bool:
    shot, what, shape = line_marks[FoundMark.SHOT], line_marks[FoundMark.WHAT], line_marks[FoundMark.SHAPE]
    seconds = line[FoundColumn.SECONDS]
    time = segment[ShotColumn.TICK] / world.plan.tick_rate + segment[ShotColumn.BEGIN] + seconds
    position = (line[FoundColumn.X], line[FoundColumn.X + 1], line[FoundColumn.X + 2])
    if what == Met.SHAPE and shape < world.block.first_wall:
        hit = hit_of(world, segment, mark, position, seconds)
        return _touch(world, shot, mark, hit, Contact(shape, position, time))
    at_birth = seconds == 0.0 and segment[ShotColumn.BEGIN] == 0.0
    wall = world.plan.wall_names[shape - world.block.first_wall] if what == Met.SHAPE else None
    if what in (Met.SHAPE, Met.FLOOR) and not at_birth and mark[ShotMark.BOUNCES]:
        _bounce(world, shot, shape if what == Met.SHAPE else None, position, seconds)
        return True
    projectiles.end(world, shot, ENDS[what][at_birth], position, mark, time=time, wall=wall)
    if what != Met.BOUNDS:
        burst(world, mark, "end", position, time, -1)
    return False


def hit_of(world: World, segment: list[float], mark: list[int], position: Vector, seconds: float) -> Hit:
    """What a shot does where it is so many seconds after its segment began."""
    attack = world.plan.fighters[mark[ShotMark.FIGHTER]].attacks[mark[ShotMark.SLOT]]
    charge = projectiles.charged(attack, segment[ShotColumn.CHARGE], "damage") if attack.charge else None
    distance = dist(position, segment[ShotColumn.ORIGIN : ShotColumn.ORIGIN + 3])
    velocity = projectiles.velocity_at(segment, seconds)
    return Hit(
        index_of_mark(mark[ShotMark.OWNER]),
        attack.name,
        attack.hit,
        mark[ShotMark.RELEASE_SEQ],
        mark[ShotMark.ID],
        charge=charge,
        distance=distance,
        travel=velocity,
        origin=(segment[ShotColumn.X], segment[ShotColumn.X + 1], segment[ShotColumn.X + 2]),
    )


def _touch(world: World, shot: int, mark: list[int], hit: Hit, contact: Contact) -> bool:
    shape, position, time = contact
    wound, seat, hurtbox = land(world, hit, contact)
    if mark[ShotMark.ID] in world.sent_back:
        by = world.seat_of(shape // world.plan.most_hurtboxes)
        send_back(world, shot, by, position, time, world.sent_back.pop(mark[ShotMark.ID]), "guard")
        return True
    if mark[ShotMark.PIERCES]:
        marks = world.block.shot_marks
        marks[ShotMark.PIERCES, shot] -= 1
        world.block.touched[mark[ShotMark.PASSED], shot] = world.block.shape_marks[ShapeMark.BODY, shape]
        marks[ShotMark.PASSED, shot] += 1
        return True
    projectiles.end(world, shot, Reason.HIT, position, mark, time=time, seat=seat, cause=wound, hurtbox=hurtbox)
    burst(world, mark, "hit", position, time, shape // world.plan.most_hurtboxes)
    return False


def _bounce(world: World, shot: int, shape: int | None, position: Vector, seconds: float) -> None:
    """Mirror a shot's velocity at what it met, keep the book's share of it, and start a new segment there."""
    block, rate = world.block, world.plan.tick_rate
    segments, marks = block.shots, block.shot_marks
    attack = projectiles.attack_of(world, shot)
    velocity = projectiles.velocity_at(segments[:, shot].tolist(), seconds)
    radius = float(segments[ShotColumn.RADIUS, shot])
    if shape is None:
        normal: Vector = (0.0, 0.0, 1.0)
        position = (position[0], position[1], float(world.plan.tables.bounds[ArenaBound.FLOOR]) + radius)
    else:
        x, y, z, apart = skin_normal(block.shapes, shape, *position)
        normal = (x, y, z)
        position = _lifted_off(position, normal, radius - apart)
    into = 2.0 * sum(a * b for a, b in zip(velocity, normal, strict=True))
    keep = attack.shot.restitution if attack.shot else 0.0
    back = [keep * (a - into * b) for a, b in zip(velocity, normal, strict=True)]
    start = float(segments[ShotColumn.TICK, shot]) / rate + float(segments[ShotColumn.BEGIN, shot])
    begin = max(start + seconds - world.counts[Count.TICK] / rate, 0.0)
    projectiles.start_segment(world, shot, position, back, begin)
    marks[ShotMark.BOUNCES, shot] -= 1
    world.emit(
        Bounced(
            time=start + seconds,
            by=world.names[index_of_mark(int(marks[ShotMark.OWNER, shot]))],
            cause=int(marks[ShotMark.RELEASE_SEQ, shot]),
            attack=attack.name,
            shot=int(marks[ShotMark.ID, shot]),
            wall=None if shape is None else world.plan.wall_names[shape - block.first_wall],
            position=world.point(position),
            velocity=world.point(back),
            bounces_left=int(marks[ShotMark.BOUNCES, shot]),
        )
    )


def _lifted_off(position: Vector, normal: Vector, depth: float) -> Vector:
    """A place on a wall's skin moved out of it by what rounding may have left inside, and a trillionth more."""
    more = depth + CLEAR * (1.0 + max(abs(each) for each in position))
    x, y, z = (a + more * b for a, b in zip(position, normal, strict=True))
    return (x, y, z)


def judge_ray(world: World, ray: Ray) -> None:
    """Wound what a ray touches, nearest first, until it has passed through as many as it may."""
    attack, flight = ray.attack, ray.flight
    touched, end = contacts.of_ray(world, ray)
    charge = projectiles.charged(attack, flight.charge, "damage") if attack.charge else None
    most = (attack.launch.table.pierce if attack.launch else 0) + 1
    time = world.counts[Count.TICK] / world.plan.tick_rate
    cause: int | None = ray.released
    seat = hurtbox = None
    reached: list[tuple[float, RayContact | MetShot]] = [(touch.share, touch) for touch in touched]
    reached += _shots_touched(world, ray, end.share)
    reached.sort(key=lambda each: each[0])
    for share, met in reached[:most]:
        if isinstance(met, MetShot) and met.column in world.ended_shots:  # by the blast of one before
            continue
        distance = share * attack.ray_range
        hit = Hit(
            flight.seat,
            attack.name,
            attack.hit,
            ray.released,
            ray.shot,
            charge=charge,
            distance=distance,
            travel=flight.direction,
            origin=flight.muzzle,
        )
        if isinstance(met, MetShot):
            cause = hurt(world, hit, met, _along(ray, share), time, ray.released)
            seat, hurtbox = world.names[index_of_mark(met.mark[ShotMark.OWNER])], SHOT_LAYER
        else:
            cause, seat, hurtbox = land(world, hit, Contact(met.shape, met.position, time))
    stopped = len(reached) >= most
    shape = -1
    if stopped:
        share, met = reached[most - 1]
        reason, position, wall = Reason.HIT, _along(ray, share), None
        if not isinstance(met, MetShot):
            shape, position = met.shape, met.position
    else:
        what = Met.SHAPE if end.shape >= 0 else end.what
        reason, position = ENDS[what][end.share == 0.0], end.position
        wall = world.plan.wall_names[end.shape - world.block.first_wall] if end.shape >= 0 else None
        cause, seat, hurtbox = ray.released, None, None
    _burst(world, ray, "hit" if stopped else "end", position, shape)
    world.emit(
        ShotEnded(
            by=world.names[flight.seat],
            seat=seat,
            cause=cause,
            attack=attack.name,
            shot=ray.shot,
            reason=reason,
            position=world.point(position),
            hurtbox=hurtbox,
            wall=wall,
        )
    )


def _shots_touched(world: World, ray: Ray, until: float) -> list[tuple[float, RayContact | MetShot]]:
    """The shots that a ray may hit before a share of its way."""
    if not world.shots_can_be_struck or not world.counts[Count.SHOTS_FLYING]:
        return []
    launch, options, seat = ray.attack.launch, ray.attack.hit.options, ray.flight.seat
    team, layers = int(world.block.seat_marks[SeatMark.TEAM, seat]), launch.layers if launch else 0
    flying = [
        shot for shot in shots_met.flying(world) if shots_met.may_hit(world, layers, options, mark_of(seat), team, shot)
    ]
    x, y, z = (each * ray.attack.ray_range for each in ray.flight.direction)
    return [(share, shot) for share, shot in shots_met.along_ray(ray.flight.muzzle, (x, y, z), until, flying)]


def _along(ray: Ray, share: float) -> Vector:
    x, y, z = (
        a + b * ray.attack.ray_range * share for a, b in zip(ray.flight.muzzle, ray.flight.direction, strict=True)
    )
    return (x, y, z)


def _burst(world: World, ray: Ray, on: str, position: Vector, shape: int) -> None:
    """Let what a ray sets off at its end go off after all rays."""
    attack, spared = ray.attack, shape // world.plan.most_hurtboxes if shape >= 0 else -1
    if attack.blast >= 0 and on in attack.table.blast_on:
        charge = PendingBlast(attack.blast, ray.flight.seat, 0.0, position, ray.released, spared=spared, shot=ray.shot)
        world.pending_blasts.append(charge)
