"""Judges the wounds that afflictions deal on their beat."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.hits.damage import apply
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count
from emberwound.bout.state.pending import Hit, HitLocation
from emberwound.geometry.layout import BodyMark

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def judge(world: World) -> None:
    """Deal the wounds that afflictions brought in this tick, at its very start; the protected are spared theirs."""
    time = world.counts[Count.TICK] / world.plan.tick_rate
    for body, index, by, strength, cause in world.pending_affliction_ticks:
        if world.block.body_marks[BodyMark.PROTECTED, body]:
            continue
        plan = world.plan.afflictions[index]
        charge = strength if strength != 1.0 else None
        x, y, z = queries.place_of(world, body)
        hit = Hit(by, plan.name, plan.hit, cause, charge=charge, lingers=True)
        apply(world, hit, HitLocation(body, 0, (x, y, z), time))
    world.pending_affliction_ticks.clear()
