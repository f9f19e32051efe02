"""Judges what shots meet: hurtboxes, walls, the floor, the bounds, the end of their range."""

from __future__ import annotations

from math import dist, expm1
from typing import TYPE_CHECKING

from emberwound.bout import contacts, shots
from emberwound.bout.blasts import Charge, go_off
from emberwound.bout.block import SHOT_BOUNCES, SHOT_CHARGE, SHOT_FIGHTER, SHOT_PIERCES, SHOT_RELEASED, SHOT_SLOT, TICK
from emberwound.bout.wounds import Blow, Struck, strike
from emberwound.geometry.contact import FOUND_FRACTION, FOUND_LEG, FOUND_SECONDS, FOUND_SHAPE, FOUND_WHAT, FOUND_X
from emberwound.geometry.legs import (
    LEG_BEGIN,
    LEG_DRAG,
    LEG_GRAVITY,
    LEG_ORIGIN,
    LEG_RADIUS,
    LEG_TICK,
    LEG_VX,
    LEG_X,
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
from emberwound.vocabulary.events import Bounced
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.judges import Contact
    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector

ENDS = {
    MET_FLOOR: (Reason.FLOOR, Reason.MUZZLE_IN_FLOOR),
    MET_BOUNDS: (Reason.OUT_OF_BOUNDS, Reason.MUZZLE_OUT_OF_BOUNDS),
    MET_RANGE: (Reason.RANGE_OVER, Reason.RANGE_OVER),
    MET_SHAPE: (Reason.WALL, Reason.MUZZLE_IN_WALL),
}
"""Why a shot ends that no hurtbox stops: on its way, and at its birth."""

CLEAR = 1e-12


def contacts_of(world: World, count: int) -> list[Contact]:
    """The contacts that the kernel found, as entries for the judge's queue."""
    lines = world.found[:, :count].T.tolist()
    lines_marks = world.found_marks[:, :count].T.tolist()
    marks = world.block.shot_marks[:, [line[FOUND_LEG] for line in lines_marks]].T.tolist()
    return [
        (line[FOUND_FRACTION], mark[MARK_OWNER], mark[MARK_ID], 0, 0, judge, (line, line_marks))
        for line, line_marks, mark in zip(lines, lines_marks, marks, strict=True)
    ]


def judge(world: World, contact: Contact) -> list[Contact]:
    """Judge one contact of a shot; its next in this tick, if it goes on and has one."""
    line, line_marks = contact[-1]
    row = line_marks[FOUND_LEG]
    if not _goes_on(world, line, line_marks):
        return []
    return contacts_of(world, contacts.of_shots(world, row, row + 1))


def _goes_on(world: World, line: list[float], line_marks: list[int]) -> bool:
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
    if what != MET_BOUNDS:
        _burst(world, mark, "end", position, time, -1)
    return False


def _burst(world: World, mark: list[int], on: str, position: Vector, time: float, spared: int) -> None:
    """Let what a shot carries go off at once, if it does so at this sort of end."""
    attack = world.plan.fighters[mark[SHOT_FIGHTER]].attacks[mark[SHOT_SLOT]]
    if attack.blast < 0 or on not in attack.blast_on:
        return
    share = min(max(time * world.plan.tick_rate - world.counts[TICK], 0.0), 1.0)
    seat, number = mark[MARK_OWNER] - 1, mark[MARK_ID]
    charge = Charge(attack.blast, seat, share, position, mark[SHOT_RELEASED], spared=spared, number=number)
    go_off(world, charge)


def _blow(world: World, leg: list[float], mark: list[int], position: Vector, seconds: float) -> Blow:
    attack = world.plan.fighters[mark[SHOT_FIGHTER]].attacks[mark[SHOT_SLOT]]
    charge = shots.charged(attack, leg[SHOT_CHARGE], "damage") if attack.charge else None
    distance = dist(position, leg[LEG_ORIGIN : LEG_ORIGIN + 3])
    velocity = _velocity_at(leg, seconds)
    return Blow(
        mark[MARK_OWNER] - 1,
        attack.name,
        attack.wound,
        attack.afflicts,
        mark[SHOT_RELEASED],
        mark[MARK_ID],
        charge=charge,
        distance=distance,
        travel=velocity,
        origin=(leg[LEG_X], leg[LEG_X + 1], leg[LEG_X + 2]),
        pushes=attack.pushes,
        stop_ticks=attack.stop_ticks,
    )


def _hit(world: World, row: int, blow: Blow, struck: Struck) -> bool:
    shape, position, time = struck
    wound, seat, hurtbox = strike(world, blow, struck)
    marks = world.block.shot_marks
    if marks[SHOT_PIERCES, row]:
        marks[SHOT_PIERCES, row] -= 1
        world.block.touched[marks[MARK_PASSED, row], row] = world.block.shape_marks[SHAPE_BODY, shape]
        marks[MARK_PASSED, row] += 1
        return True
    mark = marks[:, row].tolist()
    shots.end(world, row, Reason.HIT, position, time=time, seat=seat, cause=wound, hurtbox=hurtbox)
    _burst(world, mark, "hit", position, time, shape // world.plan.most_hurtboxes)
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
