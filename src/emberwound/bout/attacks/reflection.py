"""Shots that a guard or a strike sends back: they fly the way they came, as their new owner's."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of, number_of
from emberwound.geometry.layout import ShotColumn, ShotMark
from emberwound.vocabulary.events import ShotReflected

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


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
