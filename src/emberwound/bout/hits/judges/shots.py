"""Judges what shots meet: hurtboxes, walls, the floor, the bounds, the end of their range."""

from __future__ import annotations

from math import dist
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.attacks import projectiles
from emberwound.bout.attacks.steering import send_back
from emberwound.bout.hits import contacts
from emberwound.bout.hits.damage import land
from emberwound.bout.hits.struck_shots import burst
from emberwound.bout.state.layout import Count, number_of
from emberwound.bout.state.pending import Contact, Hit, QueuedContact
from emberwound.geometry.layout import ArenaBound, FoundColumn, FoundMark, Met, ShapeMark, ShotColumn, ShotMark
from emberwound.geometry.pose import skin_normal
from emberwound.vocabulary.events import Bounced
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
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
        number_of(mark[ShotMark.OWNER]),
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
            by=world.names[number_of(int(marks[ShotMark.OWNER, shot]))],
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
