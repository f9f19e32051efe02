"""Phase 6: what the contacts mean, one after the other in their stated order."""

from __future__ import annotations

from heapq import heapify, heappop, heappush
from math import dist, expm1
from typing import TYPE_CHECKING

from emberwound.bout import afflictions, contacts, shots
from emberwound.bout.block import SHOT_BOUNCES, SHOT_CHARGE, SHOT_FIGHTER, SHOT_PIERCES, SHOT_RELEASED, SHOT_SLOT, TICK
from emberwound.bout.wounds import Blow, Struck, heal_all, strike
from emberwound.geometry.contact import FOUND_FRACTION, FOUND_LEG, FOUND_SECONDS, FOUND_SHAPE, FOUND_WHAT, FOUND_X
from emberwound.geometry.legs import (
    LEG_BEGIN,
    LEG_DRAG,
    LEG_GRAVITY,
    LEG_ORIGIN,
    LEG_RADIUS,
    LEG_TICK,
    LEG_VX,
    MARK_ID,
    MARK_OWNER,
    MARK_PASSED,
    MET_BOUNDS,
    MET_FLOOR,
    MET_RANGE,
    MET_SHAPE,
    SHAPE_BODY,
    WALL_FLOOR,
)
from emberwound.geometry.pose import skin_normal
from emberwound.vocabulary.events import Bounced, ShotEnded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.shots import Ray
    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector

Contact = tuple[float, int, int, list[float], list[int]]
"""Fraction of the tick, attacker's seat, number, and the line of `found` and `found_marks`."""

ENDS = {
    MET_FLOOR: (Reason.FLOOR, Reason.MUZZLE_IN_FLOOR),
    MET_BOUNDS: (Reason.OUT_OF_BOUNDS, Reason.MUZZLE_OUT_OF_BOUNDS),
    MET_RANGE: (Reason.RANGE_OVER, Reason.RANGE_OVER),
    MET_SHAPE: (Reason.WALL, Reason.MUZZLE_IN_WALL),
}
"""Why a shot ends that no hurtbox stops: on its way, and at its birth."""


CLEAR = 1e-12


def judgement(world: World) -> None:
    """Judge afflictions and rays, then contacts in the order of impact time, attacker's seat, and shot.

    A shot that goes on after a contact is asked for its next one in the same tick, which takes its place in the order.
    """
    if world.smarting:
        afflictions.judge(world)
    for ray in world.rays:
        _judge_ray(world, ray)
    world.rays.clear()
    if world.contacts:
        _judge_contacts(world)
    if world.healing:
        heal_all(world)
    world.guards.clear()


def _judge_contacts(world: World) -> None:
    queue = _found(world, world.contacts)
    heapify(queue)
    world.contacts = 0
    while queue:
        _, _, _, line, line_marks = heappop(queue)
        row = line_marks[FOUND_LEG]
        if _judge(world, line, line_marks):
            for contact in _found(world, contacts.of_shots(world, row, row + 1)):
                heappush(queue, contact)


def _found(world: World, count: int) -> list[Contact]:
    lines = world.found[:, :count].T.tolist()
    lines_marks = world.found_marks[:, :count].T.tolist()
    marks = world.block.shot_marks[:, [line[FOUND_LEG] for line in lines_marks]].T.tolist()
    return [
        (line[FOUND_FRACTION], mark[MARK_OWNER], mark[MARK_ID], line, line_marks)
        for line, line_marks, mark in zip(lines, lines_marks, marks, strict=True)
    ]


def _judge(world: World, line: list[float], line_marks: list[int]) -> bool:
    """Judge one contact; whether the shot goes on."""
    block = world.block
    row, what, shape = line_marks[FOUND_LEG], line_marks[FOUND_WHAT], line_marks[FOUND_SHAPE]
    leg, mark = block.shots[:, row].tolist(), block.shot_marks[:, row].tolist()
    seconds = line[FOUND_SECONDS]
    time = leg[LEG_TICK] / world.plan.tick_rate + leg[LEG_BEGIN] + seconds
    position = (line[FOUND_X], line[FOUND_X + 1], line[FOUND_X + 2])
    if what == MET_SHAPE and shape < block.first_wall:
        blow = _blow(world, leg, mark, position, seconds)
        return _hit(world, row, blow, Struck(shape, position, time))
    at_birth = seconds == 0.0 and leg[LEG_BEGIN] == 0.0
    wall = world.plan.wall_names[shape - block.first_wall] if what == MET_SHAPE else None
    if what in (MET_SHAPE, MET_FLOOR) and not at_birth and mark[SHOT_BOUNCES]:
        _bounce(world, row, shape if what == MET_SHAPE else None, position, seconds)
        return True
    shots.end(world, row, ENDS[what][at_birth], position, time=time, wall=wall)
    return False


def _blow(world: World, leg: list[float], mark: list[int], position: Vector, seconds: float) -> Blow:
    attack = world.plan.fighters[mark[SHOT_FIGHTER]].attacks[mark[SHOT_SLOT]]
    charge = shots.charged(attack, leg[SHOT_CHARGE], "damage") if attack.charge else None
    distance = dist(position, leg[LEG_ORIGIN : LEG_ORIGIN + 3])
    velocity = _velocity_at(leg, seconds)
    return Blow(mark[MARK_OWNER] - 1, attack, mark[MARK_ID], mark[SHOT_RELEASED], charge, distance, velocity)


def _hit(world: World, row: int, blow: Blow, struck: Struck) -> bool:
    shape, position, time = struck
    wound, seat, hurtbox = strike(world, blow, struck)
    marks = world.block.shot_marks
    if blow.attack.launch and blow.attack.launch.pierce and marks[SHOT_PIERCES, row]:
        marks[SHOT_PIERCES, row] -= 1
        world.block.touched[marks[MARK_PASSED, row], row] = world.block.shape_marks[SHAPE_BODY, shape]
        marks[MARK_PASSED, row] += 1
        return True
    shots.end(world, row, Reason.HIT, position, time=time, seat=seat, cause=wound, hurtbox=hurtbox)
    return False


def _bounce(world: World, row: int, shape: int | None, position: Vector, seconds: float) -> None:
    """Mirror a shot's velocity at what it met, keep the book's share of it, and start a new leg there."""
    block, rate = world.block, world.plan.tick_rate
    legs, marks = block.shots, block.shot_marks
    attack = shots.attack_of(world, row)
    velocity = _velocity_at(legs[:, row].tolist(), seconds)
    radius = float(legs[LEG_RADIUS, row])
    if shape is None:
        normal: Vector = (0.0, 0.0, 1.0)
        position = (position[0], position[1], float(world.plan.tables.bounds[WALL_FLOOR]) + radius)
    else:
        x, y, z, apart = skin_normal(block.shapes, shape, *position)
        normal = (x, y, z)
        position = _lifted_off(position, normal, radius - apart)
    into = 2.0 * sum(a * b for a, b in zip(velocity, normal, strict=True))
    keep = attack.shot.keep if attack.shot else 0.0
    back = [keep * (a - into * b) for a, b in zip(velocity, normal, strict=True)]
    start = float(legs[LEG_TICK, row]) / rate + float(legs[LEG_BEGIN, row])
    begin = max(start + seconds - world.counts[TICK] / rate, 0.0)
    shots.start_leg(world, row, position, back, begin)
    marks[SHOT_BOUNCES, row] -= 1
    world.emit(
        Bounced,
        time=start + seconds,
        by=world.names[marks[MARK_OWNER, row] - 1],
        cause=int(marks[SHOT_RELEASED, row]),
        attack=attack.name,
        shot=int(marks[MARK_ID, row]),
        wall=None if shape is None else world.plan.wall_names[shape - block.first_wall],
        position=world.point(position),
        velocity=world.point(back),
        bounces_left=int(marks[SHOT_BOUNCES, row]),
    )


def _velocity_at(leg: list[float], seconds: float) -> Vector:
    """The velocity of a leg some time after its start: v e^(-k t) - g (1 - e^(-k t)) / k, as in `geometry.flight`."""
    drag = leg[LEG_DRAG]
    counts = -expm1(-drag * seconds) / drag if drag else seconds
    slower = 1.0 - drag * counts
    rise = leg[LEG_VX + 2] * slower - leg[LEG_GRAVITY] * counts
    return (leg[LEG_VX] * slower, leg[LEG_VX + 1] * slower, rise)


def _lifted_off(position: Vector, normal: Vector, depth: float) -> Vector:
    """A place on a wall's skin moved out of it by what rounding may have left inside, and a trillionth more."""
    more = depth + CLEAR * (1.0 + max(abs(each) for each in position))
    x, y, z = (a + more * b for a, b in zip(position, normal, strict=True))
    return (x, y, z)


def _judge_ray(world: World, ray: Ray) -> None:
    """Wound what a ray touches, nearest first, until it has passed through as many as it may."""
    attack, flight = ray.attack, ray.flight
    touched, end = contacts.of_ray(world, ray)
    charge = shots.charged(attack, flight.charge, "damage") if attack.charge else None
    most = (attack.launch.pierce if attack.launch else 0) + 1
    time = world.counts[TICK] / world.plan.tick_rate
    cause, seat, hurtbox = ray.released, None, None
    for touch in touched[:most]:
        distance = touch.share * attack.ray_range
        blow = Blow(flight.seat, attack, ray.number, ray.released, charge, distance, flight.direction)
        cause, seat, hurtbox = strike(world, blow, Struck(touch.shape, touch.position, time))
    stopped = len(touched) >= most
    if stopped:
        reason, position, wall = Reason.HIT, touched[most - 1].position, None
    else:
        what = MET_SHAPE if end.shape >= 0 else end.what
        reason, position = ENDS[what][end.share == 0.0], end.position
        wall = world.plan.wall_names[end.shape - world.block.first_wall] if end.shape >= 0 else None
        cause, seat, hurtbox = ray.released, None, None
    world.emit(
        ShotEnded,
        by=world.names[flight.seat],
        seat=seat,
        cause=cause,
        attack=attack.name,
        shot=ray.number,
        reason=reason,
        position=world.point(position),
        hurtbox=hurtbox,
        wall=wall,
    )
