"""Shots: a column is taken for each, rewritten at a bounce and where it is steered, and freed when it ends."""

from __future__ import annotations

from math import acos, cos, dist, expm1, hypot, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, index_of_mark, mark_of
from emberwound.bout.state.pending import Flight, Ray
from emberwound.geometry.flight_segments import segment_place, tick_zero
from emberwound.geometry.layout import BodyColumn, ShotColumn, ShotMark
from emberwound.vocabulary.clock import NEVER, STEERING_RATE
from emberwound.vocabulary.events import Released, ShotEnded, ShotReflected
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from emberwound.bout.state.world import World, WorldState
    from emberwound.plan.attack_plans import AttackPlan, ShotPlan
    from emberwound.plan.space import Vector
    from emberwound.vocabulary.reasons import Reason


def is_full(world: World) -> bool:
    """Whether no further shot has room."""
    return world.counts[Count.SHOTS_FLYING] + len(world.launched) == world.plan.max_shots


def launch_ray(world: World, flight: Flight) -> Ray:
    """Let a ray leave; it is judged in this tick."""
    world.counts[Count.SHOTS_MADE] += 1
    shot_id = world.counts[Count.SHOTS_MADE]
    released = world.emit(
        Released(
            by=world.names[flight.seat],
            cause=flight.began,
            attack=flight.fighter.attacks[flight.slot].name,
            shot=shot_id,
            position=world.point(flight.muzzle),
            direction=world.point(flight.direction),
        )
    )
    return Ray(flight, shot_id, released)


class Volley(NamedTuple):
    """What all shots of one release share: whose they are, their plan, how fast, and what they take along of its owner.

    `by` and `position` are as events have them.
    """

    flight: Flight
    plan: ShotPlan
    speed: float
    along: list[float]
    by: str
    position: tuple[float, ...]
    team: int


def volley(world: World, flight: Flight, plan: ShotPlan) -> Volley:
    """What all shots that leave with this one share. They take their share of the owner's velocity with them."""
    moving = world.block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, flight.body].tolist()
    speed = plan.table.speed * charged(flight.attack, flight.charge, "speed")
    along = [each * plan.table.velocity_share for each in moving]
    team = int(world.block.seat_marks[SeatMark.TEAM, flight.seat])
    return Volley(flight, plan, speed, along, world.names[flight.seat], world.point(flight.muzzle), team)


def launch(world: World, of: Volley, direction: Vector) -> None:
    """Let a shot fly; there must be room. `place_launched` writes it into the block, with all others of the tick."""
    counts, flight, plan = world.counts, of.flight, of.plan
    shot_id = counts[Count.SHOTS_MADE] = counts[Count.SHOTS_MADE] + 1
    attack, tick = flight.attack, counts[Count.TICK]
    velocity = [a * of.speed + b for a, b in zip(direction, of.along, strict=True)]
    released = world.emit(
        Released(
            by=of.by,
            cause=flight.began,
            attack=attack.name,
            shot=shot_id,
            position=of.position,
            velocity=world.point(velocity),
        )
    )
    launched = attack.launch
    layers, pierce = (launched.layers, launched.table.pierce) if launched else (0, 0)
    start = (*flight.muzzle, *velocity, plan.gravity, plan.table.radius, plan.table.drag, tick, 0.0)
    whose = (shot_id, mark_of(flight.seat), of.team, layers, attack.hit.options, 0)
    world.launched.append(
        (
            (*start, *flight.muzzle, plan.range, flight.charge, plan.health),
            (*whose, flight.fighter.id, flight.slot, released, plan.bounces, pierce, 0, 0),
            tick + plan.life_ticks,
        )
    )


def place_launched(world: World) -> None:
    """Give each shot that was launched the first free column, written in the order of `geometry.layout`."""
    block, counts = world.block, world.counts
    columns = _free_columns(world, len(world.launched))
    segments, marks, ends = zip(*world.launched, strict=True)
    if len(columns) == 1:
        shot = columns[0]
        block.shots[:, shot], block.shot_marks[:, shot], block.timers[Timer.SHOT_LIFETIME][shot] = (
            segments[0],
            marks[0],
            ends[0],
        )
    else:
        block.shots[:, columns] = np.array(segments).T
        block.shot_marks[:, columns] = np.array(marks).T
        block.timers[Timer.SHOT_LIFETIME][columns] = ends
    counts[Count.SHOTS_TOP] = max(counts[Count.SHOTS_TOP], columns[-1] + 1)
    counts[Count.SHOTS_FLYING] += len(columns)
    world.wake(min(ends))
    if world.has_homing_shots:
        for shot in columns:
            steer_next(world, shot)
    world.launched.clear()


def _free_columns(world: World, count: int) -> list[int]:
    block, top = world.block, world.counts[Count.SHOTS_TOP]
    free: list[int] = []
    if world.counts[Count.SHOTS_FLYING] < top:
        free = (block.shot_marks[ShotMark.ID, :top] == 0).nonzero()[0][:count].tolist()
    return free + list(range(top, top + count - len(free)))


def steer_next(world: World, shot: int) -> None:
    """Put the next time a homing shot turns on the agenda: it does so at exact times from its release on."""
    plan, tick, rate = attack_of(world, shot).shot, world.counts[Count.TICK], world.plan.tick_rate
    if plan is None or plan.homing is None:
        return
    born = int(world.block.timers[Timer.SHOT_LIFETIME][shot]) - plan.life_ticks
    times = (tick - born) * STEERING_RATE // rate + 1
    due = born - (-times * rate // STEERING_RATE)
    world.block.timers[Timer.SHOT_STEERING][shot] = due
    world.wake(due)


def start_segment(world: World, shot: int, position: Vector, velocity: list[float], begin: float) -> None:
    """Let a new segment of a shot's flight start `begin` seconds into this tick."""
    segments = world.block.shots
    segments[ShotColumn.X : ShotColumn.X + 3, shot] = position
    segments[ShotColumn.VX : ShotColumn.VX + 3, shot] = velocity
    segments[ShotColumn.TICK, shot] = world.counts[Count.TICK]
    segments[ShotColumn.BEGIN, shot] = begin


def charged(attack: AttackPlan, share: float, what: str) -> float:
    """What a charge of `share` multiplies damage or speed by: from 1 to the factor of a full one, evenly."""
    if attack.charge is None:
        return 1.0
    full: float = getattr(attack.charge, what)
    return 1.0 + (full - 1.0) * share


def flies_on(world: World, shot: int, segment: list[float]) -> bool:
    """Whether a shot is still on a segment of its flight: it has not ended, bounced or been sent back meanwhile."""
    same = (ShotColumn.TICK, ShotColumn.BEGIN, ShotColumn.VX)
    now = world.block.shots[same, shot].tolist()
    return shot not in world.ended_shots and now == [segment[column] for column in same]


def attack_of(world: WorldState, shot: int) -> AttackPlan:
    """The attack that a shot came from."""
    marks = world.block.shot_marks
    return world.plan.fighters[int(marks[ShotMark.FIGHTER, shot])].attacks[int(marks[ShotMark.SLOT, shot])]


def end(  # noqa: PLR0913 (each is a field of the event, by name)
    world: World,
    shot: int,
    reason: Reason,
    position: Vector,
    mark: list[int] | None = None,
    *,
    time: float = TICK_START,
    seat: str | None = None,
    cause: int | None = None,
    hurtbox: str | None = None,
    wall: str | None = None,
) -> None:
    """End a shot: one event, and its column is free with the next `free_ended`.

    Its cause is its release, unless a wound is named. Give its marks where they are known.
    """
    mark = mark or world.block.shot_marks[:, shot].tolist()
    world.emit(
        ShotEnded(
            time=time,
            seat=seat,
            by=world.names[index_of_mark(mark[ShotMark.OWNER])],
            cause=mark[ShotMark.RELEASE_SEQ] if cause is None else cause,
            attack=world.plan.fighters[mark[ShotMark.FIGHTER]].attacks[mark[ShotMark.SLOT]].name,
            shot=mark[ShotMark.ID],
            reason=reason,
            position=world.point(position),
            hurtbox=hurtbox,
            wall=wall,
        )
    )
    world.ended_shots.append(shot)


def free_ended(world: World) -> None:
    """Free the columns of all shots that have ended."""
    block, counts, ended = world.block, world.counts, world.ended_shots
    if not ended:
        return
    columns: list[int] | int = ended[0] if len(ended) == 1 else ended
    block.shots[:, columns] = 0.0
    block.shot_marks[:, columns] = 0
    if world.plan.most_pierced:
        block.touched[:, columns] = 0
    block.timers[Timer.SHOT_LIFETIME][columns] = NEVER
    if world.has_homing_shots:
        block.timers[Timer.SHOT_STEERING][columns] = NEVER
    counts[Count.SHOTS_FLYING] -= len(ended)
    top = counts[Count.SHOTS_TOP]
    while top and block.shot_marks[ShotMark.ID, top - 1] == 0:
        top -= 1
    counts[Count.SHOTS_TOP] = top
    ended.clear()


def place_of(world: WorldState, shot: int, more: float = 0.0) -> Vector:
    """Where a shot is at the start of the tick, or `more` ticks after that."""
    segments, rate = world.block.shots, world.plan.tick_rate
    seconds = tick_zero(segments, shot, world.counts[Count.TICK], rate) + more / rate
    place: Vector = segment_place(segments, shot, seconds)
    return place


def velocity_of(world: WorldState, shot: int, more: float = 0.0) -> Vector:
    """How fast a shot flies at the start of the tick, or `more` ticks after that."""
    segments, rate = world.block.shots, world.plan.tick_rate
    seconds = tick_zero(segments, shot, world.counts[Count.TICK], rate) + more / rate
    return velocity_at(segments[:, shot].tolist(), seconds)


def velocity_at(segment: list[float], seconds: float) -> Vector:
    """The velocity some time after the start of a segment: v e^(-k t) - g (1 - e^(-k t)) / k, see `geometry.flight`."""
    drag = segment[ShotColumn.DRAG]
    counts = -expm1(-drag * seconds) / drag if drag else seconds
    slower = 1.0 - drag * counts
    rise = segment[ShotColumn.VX + 2] * slower - segment[ShotColumn.GRAVITY] * counts
    return (segment[ShotColumn.VX] * slower, segment[ShotColumn.VX + 1] * slower, rise)


def steer(world: World, shot: int) -> None:
    """Turn a homing shot to the nearest living foe that it sees; it keeps its speed."""
    plan = attack_of(world, shot).shot
    if plan is None or plan.homing is None:
        return
    place, velocity = place_of(world, shot), velocity_of(world, shot)
    target = queries.nearest_of_other_team(world, int(world.block.shot_marks[ShotMark.TEAM, shot]), place)
    if target is not None and dist(target, place) <= plan.homing.range:
        wanted = (target[0] - place[0], target[1] - place[1], target[2] - place[2])
        looks_around = world.plan.space.looks_around
        turned = turned_towards(velocity, wanted, plan.homing.turn * _turns(world, shot, plan.life_ticks), looks_around)
        if turned != velocity:
            start_segment(world, shot, place, list(turned), 0.0)
    steer_next(world, shot)


def _turns(world: World, shot: int, life_ticks: int) -> int:
    """How many of its times to turn came with this tick: one, but for few ticks a second."""
    since = world.counts[Count.TICK] - (int(world.block.timers[Timer.SHOT_LIFETIME][shot]) - life_ticks)
    rate = world.plan.tick_rate
    return since * STEERING_RATE // rate - (since - 1) * STEERING_RATE // rate


def turned_towards(velocity: Vector, wanted: Vector, most: float, looks_around: bool) -> Vector:  # noqa: FBT001 (one call)
    """A velocity turned by `most` radians at most towards a direction, as fast as before.

    In the plane of both: v cos(a) + w sin(a), where w is the part of the wanted direction across v. Straight away from
    it, it turns to the left where it can look around, else up.
    """
    speed, size = hypot(*velocity), hypot(*wanted)
    if speed == 0.0 or size == 0.0:
        return velocity
    ahead = [each / speed for each in velocity]
    to = [each / size for each in wanted]
    cosine = sum(a * b for a, b in zip(ahead, to, strict=True))
    angle = acos(min(max(cosine, -1.0), 1.0))
    if angle <= most:
        x, y, z = (each * speed for each in to)
        return (x, y, z)
    across = [b - cosine * a for a, b in zip(ahead, to, strict=True)]
    if hypot(*across) < STRAIGHT:
        across = (
            [-ahead[1], ahead[0], 0.0] if looks_around and hypot(*ahead[:2]) > STRAIGHT else [-ahead[2], 0.0, ahead[0]]
        )
    width = hypot(*across)
    x, y, z = (speed * (a * cos(most) + b / width * sin(most)) for a, b in zip(ahead, across, strict=True))
    return (x, y, z)


STRAIGHT = 1e-9
"""Directions that differ by less than this are one, or opposite."""


def send_back(world: World, shot: int, by: int, position: Vector, time: float, cause: int, reflected_by: str) -> None:
    """Turn a shot's velocity about at an exact time of this tick, in seconds, and make it the seat's.

    Its life and its range begin again, and it may wound again whom it wounded.
    """
    block, rate = world.block, world.plan.tick_rate
    marks, segment = block.shot_marks, block.shots[:, shot].tolist()
    attack, former = attack_of(world, shot), index_of_mark(int(marks[ShotMark.OWNER, shot]))
    began = segment[ShotColumn.TICK] / rate + segment[ShotColumn.BEGIN]
    back = [-each for each in velocity_at(segment, max(time - began, 0.0))]
    start_segment(world, shot, position, back, max(time - world.counts[Count.TICK] / rate, 0.0))
    block.shots[ShotColumn.ORIGIN : ShotColumn.ORIGIN + 3, shot] = position
    marks[ShotMark.OWNER, shot] = mark_of(by)
    marks[ShotMark.TEAM, shot] = block.seat_marks[SeatMark.TEAM, by]
    marks[ShotMark.PASSED, shot] = marks[ShotMark.STRUCK_BY, shot] = marks[ShotMark.STRUCK_BEFORE, shot] = 0
    block.touched[:, shot] = 0
    if attack.shot is not None:
        ends = world.counts[Count.TICK] + attack.shot.life_ticks
        block.timers[Timer.SHOT_LIFETIME][shot] = ends
        world.wake(ends)
        steer_next(world, shot)
    marks[ShotMark.RELEASE_SEQ, shot] = world.emit(
        ShotReflected(
            time=time,
            seat=world.names[former],
            by=world.names[by],
            cause=cause,
            attack=attack.name,
            shot=int(marks[ShotMark.ID, shot]),
            reflected_by=reflected_by,
            position=world.point(position),
            velocity=world.point(back),
        )
    )
