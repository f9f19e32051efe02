"""Shots that change their way: homing ones turn to the nearest foe, reflected ones are sent back."""

from __future__ import annotations

from math import acos, cos, dist, hypot, sin
from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of, number_of
from emberwound.geometry.layout import ShotColumn, ShotMark
from emberwound.vocabulary.clock import STEERING_RATE
from emberwound.vocabulary.events import ShotReflected

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


def steer(world: World, shot: int) -> None:
    """Turn a homing shot to the nearest living foe that it sees; it keeps its speed."""
    plan = projectiles.attack_of(world, shot).shot
    if plan is None or plan.homing is None:
        return
    place, velocity = projectiles.place_of(world, shot), projectiles.velocity_of(world, shot)
    target = queries.nearest_of_other_team(world, int(world.block.shot_marks[ShotMark.TEAM, shot]), place)
    if target is not None and dist(target, place) <= plan.homing.range:
        wanted = (target[0] - place[0], target[1] - place[1], target[2] - place[2])
        looks_around = world.plan.space.looks_around
        turned = turned_towards(velocity, wanted, plan.homing.turn * _turns(world, shot, plan.life_ticks), looks_around)
        if turned != velocity:
            projectiles.start_segment(world, shot, place, list(turned), 0.0)
    projectiles.steer_next(world, shot)


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

    Its life and its range begin anew, and it may wound again whom it wounded.
    """
    block, rate = world.block, world.plan.tick_rate
    marks, segment = block.shot_marks, block.shots[:, shot].tolist()
    attack, former = projectiles.attack_of(world, shot), number_of(int(marks[ShotMark.OWNER, shot]))
    began = segment[ShotColumn.TICK] / rate + segment[ShotColumn.BEGIN]
    back = [-each for each in projectiles.velocity_at(segment, max(time - began, 0.0))]
    projectiles.start_segment(world, shot, position, back, max(time - world.counts[Count.TICK] / rate, 0.0))
    block.shots[ShotColumn.ORIGIN : ShotColumn.ORIGIN + 3, shot] = position
    marks[ShotMark.OWNER, shot] = mark_of(by)
    marks[ShotMark.TEAM, shot] = block.seat_marks[SeatMark.TEAM, by]
    marks[ShotMark.PASSED, shot] = marks[ShotMark.STRUCK_BY, shot] = marks[ShotMark.STRUCK_BEFORE, shot] = 0
    block.touched[:, shot] = 0
    if attack.shot is not None:
        ends = world.counts[Count.TICK] + attack.shot.life_ticks
        block.timers[Timer.SHOT_LIFETIME][shot] = ends
        world.wake(ends)
        projectiles.steer_next(world, shot)
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
