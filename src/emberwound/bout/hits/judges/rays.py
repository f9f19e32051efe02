"""Judges rays: whom they touch on their way, and where they end."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import contacts, shots_met
from emberwound.bout.hits.damage import land
from emberwound.bout.hits.judges.shots import ENDS
from emberwound.bout.hits.shots_met import MetShot
from emberwound.bout.hits.struck_shots import hurt
from emberwound.bout.state.layout import Count, SeatMark, mark_of, number_of
from emberwound.bout.state.pending import Contact, Hit, PendingBlast
from emberwound.geometry.layout import Met, ShotMark
from emberwound.vocabulary.events import ShotEnded
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.hits.contacts import RayContact
    from emberwound.bout.state.pending import Ray
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


def judge_ray(world: World, ray: Ray) -> None:
    """Wound what a ray touches, nearest first, until it has passed through as many as it may."""
    attack, flight = ray.attack, ray.flight
    touched, end = contacts.of_ray(world, ray)
    charge = projectiles.charged(attack, flight.charge, "damage") if attack.charge else None
    most = (attack.launch.pierce if attack.launch else 0) + 1
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
            ray.number,
            charge=charge,
            distance=distance,
            travel=flight.direction,
            origin=flight.muzzle,
        )
        if isinstance(met, MetShot):
            cause = hurt(world, hit, met, _along(ray, share), time, ray.released)
            seat, hurtbox = world.names[number_of(met.mark[ShotMark.OWNER])], SHOT_LAYER
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
            shot=ray.number,
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
    if attack.blast >= 0 and on in attack.blast_on:
        charge = PendingBlast(
            attack.blast, ray.flight.seat, 0.0, position, ray.released, spared=spared, number=ray.number
        )
        world.pending_blasts.append(charge)
