"""Shots come and go: a column is taken for each, rewritten at a bounce, and freed when it ends."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

import numpy as np

from emberwound.bout.block import (
    DUE_LIFE,
    SEAT_TEAM,
    SHOT_FIGHTER,
    SHOT_RELEASED,
    SHOT_SLOT,
    SHOTS_FLYING,
    SHOTS_MADE,
    SHOTS_TOP,
    TICK,
)
from emberwound.geometry.legs import (
    LEG_BEGIN,
    LEG_TICK,
    LEG_VX,
    LEG_X,
    MARK_ID,
    MARK_OWNER,
    MARK_PASSED,
    leg_place,
    tick_zero,
)
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Released, ShotEnded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import AttackPlan, ShotPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plane import Vector
    from emberwound.vocabulary.reasons import Reason


class Flight(NamedTuple):
    """What leaves a muzzle: whose it is, of which attack, from where, which way, and how charged."""

    seat: int
    fighter: FighterPlan
    slot: int
    muzzle: Vector
    direction: Vector
    charge: float
    began: int


class Ray(NamedTuple):
    """A ray that has left and is not yet judged: its flight, its number, and the `seq` of its release."""

    flight: Flight
    number: int
    released: int

    @property
    def attack(self) -> AttackPlan:
        """The attack it is of."""
        return self.flight.fighter.attacks[self.flight.slot]


def is_full(world: World) -> bool:
    """Whether no further shot has room."""
    return world.counts[SHOTS_FLYING] == world.plan.max_shots


def launch_ray(world: World, flight: Flight) -> Ray:
    """Let a ray leave; it is judged in this tick."""
    world.counts[SHOTS_MADE] += 1
    number = world.counts[SHOTS_MADE]
    released = world.emit(
        Released,
        by=world.names[flight.seat],
        cause=flight.began,
        attack=flight.fighter.attacks[flight.slot].name,
        shot=number,
        position=world.point(flight.muzzle),
        direction=world.point(flight.direction),
    )
    return Ray(flight, number, released)


def launch(world: World, flight: Flight, shot: ShotPlan, moving: list[float]) -> None:
    """Let a shot fly; there must be room. It takes its share of the owner's velocity, `moving`, with it.

    Its columns are written in one piece each, in the order of the rows named in `geometry.legs` and `bout.block`.
    """
    block, counts = world.block, world.counts
    row = _free_row(world)
    counts[SHOTS_MADE] += 1
    number = counts[SHOTS_MADE]
    attack = flight.fighter.attacks[flight.slot]
    speed = shot.speed * charged(attack, flight.charge, "speed")
    velocity = [a * speed + b * shot.velocity_share for a, b in zip(flight.direction, moving, strict=True)]
    released = world.emit(
        Released,
        by=world.names[flight.seat],
        cause=flight.began,
        attack=attack.name,
        shot=number,
        position=world.point(flight.muzzle),
        velocity=world.point(velocity),
    )
    x, y, z = flight.muzzle
    start = (x, y, z, *velocity, shot.gravity, shot.radius, shot.drag, counts[TICK], 0.0)
    block.shots[:, row] = (*start, x, y, z, shot.range, flight.charge)
    team, touches = int(block.seat_marks[SEAT_TEAM, flight.seat]), attack.launch
    layers, options, pierce = (touches.layers, touches.options, touches.pierce) if touches else (0, 0, 0)
    whose = (number, flight.seat + 1, team, layers, options, 0)
    block.shot_marks[:, row] = (*whose, flight.fighter.id, flight.slot, released, shot.bounces, pierce)
    block.timers[DUE_LIFE][row] = counts[TICK] + shot.life_ticks
    world.wake(counts[TICK] + shot.life_ticks)


def _free_row(world: World) -> int:
    block, counts = world.block, world.counts
    top = counts[SHOTS_TOP]
    row = top if counts[SHOTS_FLYING] == top else int(np.argmin(block.shot_marks[MARK_ID, :top]))
    counts[SHOTS_TOP] = max(top, row + 1)
    counts[SHOTS_FLYING] += 1
    return row


def start_leg(world: World, row: int, position: Vector, velocity: list[float], begin: float) -> None:
    """Let a new stretch of a shot's flight start `begin` seconds into this tick."""
    legs = world.block.shots
    legs[LEG_X : LEG_X + 3, row] = position
    legs[LEG_VX : LEG_VX + 3, row] = velocity
    legs[LEG_TICK, row] = world.counts[TICK]
    legs[LEG_BEGIN, row] = begin


def charged(attack: AttackPlan, share: float, what: str) -> float:
    """What a charge of `share` multiplies damage or speed by: from 1 to the factor of a full one, evenly."""
    if attack.charge is None:
        return 1.0
    full: float = getattr(attack.charge, what)
    return 1.0 + (full - 1.0) * share


def attack_of(world: World, row: int) -> AttackPlan:
    """The attack that a shot came from."""
    marks = world.block.shot_marks
    return world.plan.fighters[int(marks[SHOT_FIGHTER, row])].attacks[int(marks[SHOT_SLOT, row])]


def end(world: World, row: int, reason: Reason, position: Vector, *, time: float | None = None, **figures: Any) -> None:
    """End a shot: one event, and its column is free."""
    block, counts = world.block, world.counts
    marks = block.shot_marks
    mark = marks[:, row].tolist()
    figures.setdefault("cause", mark[SHOT_RELEASED])
    world.emit(
        ShotEnded,
        time=time,
        by=world.names[mark[MARK_OWNER] - 1],
        attack=world.plan.fighters[mark[SHOT_FIGHTER]].attacks[mark[SHOT_SLOT]].name,
        shot=mark[MARK_ID],
        reason=reason,
        position=world.point(position),
        **figures,
    )
    block.shots[:, row] = 0.0
    marks[:, row] = 0
    if mark[MARK_PASSED]:
        block.touched[:, row] = 0
    block.timers[DUE_LIFE][row] = NEVER
    counts[SHOTS_FLYING] -= 1
    top = counts[SHOTS_TOP]
    while top and marks[MARK_ID, top - 1] == 0:
        top -= 1
    counts[SHOTS_TOP] = top


def place_of(world: World, row: int) -> Vector:
    """Where a shot is at the start of the tick."""
    legs = world.block.shots
    place: Vector = leg_place(legs, row, tick_zero(legs, row, world.counts[TICK], world.plan.tick_rate))
    return place
