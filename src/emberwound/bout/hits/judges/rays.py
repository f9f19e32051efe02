"""Judges rays: whom they touch on their way, and where they end."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import contacts
from emberwound.bout.hits.damage import land
from emberwound.bout.hits.judges.shots import ENDS
from emberwound.bout.state.layout import Count
from emberwound.bout.state.pending import Contact, Hit, PendingBlast
from emberwound.geometry.layout import Met
from emberwound.vocabulary.events import ShotEnded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Ray
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


def judge(world: World, ray: Ray) -> None:
    """Wound what a ray touches, nearest first, until it has passed through as many as it may."""
    attack, flight = ray.attack, ray.flight
    touched, end = contacts.of_ray(world, ray)
    charge = projectiles.charged(attack, flight.charge, "damage") if attack.charge else None
    most = (attack.launch.pierce if attack.launch else 0) + 1
    time = world.counts[Count.TICK] / world.plan.tick_rate
    cause: int | None = ray.released
    seat = hurtbox = None
    for touch in touched[:most]:
        distance = touch.share * attack.ray_range
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
        cause, seat, hurtbox = land(world, hit, Contact(touch.shape, touch.position, time))
    stopped = len(touched) >= most
    if stopped:
        reason, position, wall = Reason.HIT, touched[most - 1].position, None
    else:
        what = Met.SHAPE if end.shape >= 0 else end.what
        reason, position = ENDS[what][end.share == 0.0], end.position
        wall = world.plan.wall_names[end.shape - world.block.first_wall] if end.shape >= 0 else None
        cause, seat, hurtbox = ray.released, None, None
    _burst(world, ray, "hit" if stopped else "end", position, touched[most - 1].shape if stopped else -1)
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


def _burst(world: World, ray: Ray, on: str, position: Vector, shape: int) -> None:
    """Let what a ray sets off at its end go off after all rays."""
    attack, spared = ray.attack, shape // world.plan.most_hurtboxes if shape >= 0 else -1
    if attack.blast >= 0 and on in attack.blast_on:
        charge = PendingBlast(
            attack.blast, ray.flight.seat, 0.0, position, ray.released, spared=spared, number=ray.number
        )
        world.pending_blasts.append(charge)
