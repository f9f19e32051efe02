"""Judges throws: who is held is let go, and hit as a whole."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import grabs
from emberwound.bout.hits.damage import apply
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, number_of
from emberwound.bout.state.pending import Hit, HitLocation
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def judge(world: World) -> None:
    """Judge the throws of this tick, at its start, in their order."""
    for holder, slot, began in world.pending_throws:
        victim = number_of(int(world.block.body_marks[BodyMark.HOLDS, holder]))
        if victim >= 0:
            _throw(world, holder, victim, slot, began)
    world.pending_throws.clear()


def _throw(world: World, holder: int, victim: int, slot: int, began: int) -> None:
    attack = queries.fighter_of(world, holder).attacks[slot]
    time = world.counts[Count.TICK] / world.plan.tick_rate
    grabs.end(world, victim, Reason.THROWN, time, began)
    share = float(world.block.bodies[BodyColumn.CHARGE, holder])
    x, y, z = queries.place_of(world, holder)
    hit = Hit(
        world.seat_of(holder),
        attack.name,
        attack.hit,
        began,
        charge=projectiles.charged(attack, share, "damage") if attack.charge else None,
        source=(x, y, z),
        striker=holder,
        throws=True,
    )
    px, py, pz = queries.place_of(world, victim)
    apply(world, hit, HitLocation(victim, 0, (px, py, pz), time))
