"""The hazards, checkpoints and pickups of an arena at a moment."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec

from emberwound.bout.state.layout import Count
from emberwound.bout.views.solids import SolidView, solid_view
from emberwound.geometry.layout import VolumeMark
from emberwound.plan.solids import area_solids, solid_of

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


class AreaView(msgspec.Struct, frozen=True, kw_only=True):
    """A part of the arena that is touched: what it is, whether it is on (or there, of a pickup), and its shape."""

    name: str
    """Which one."""
    sort: Literal["hazard", "checkpoint", "pickup"]
    """What it is."""
    fatal: bool
    """Whether it kills at once."""
    on: bool
    """Whether it is on, or there, of a pickup."""
    solid: SolidView
    """Its shape."""


def areas_of(world: World) -> tuple[AreaView, ...]:
    """All areas, hazards first, as they were at the end of the last tick; one that is off stands where it starts."""
    plan, block, tick = world.plan, world.block, world.counts[Count.TICK]
    sorts: list[tuple[str, Literal["hazard", "checkpoint", "pickup"], bool]] = [
        *((each.name, "hazard", each.fatal) for each in plan.hazards),
        *((each.name, "checkpoint", False) for each in plan.checkpoints),
        *((each.name, "pickup", False) for each in plan.pickups),
    ]
    first_pickup = len(plan.hazards) + len(plan.checkpoints)
    found = []
    for number, ((name, sort, fatal), (start, _)) in enumerate(zip(sorts, area_solids(plan), strict=True)):
        volume = block.first_hazard + number
        shape = int(block.volume_marks[VolumeMark.SHAPE, volume])
        solid = solid_of(block.volumes[:, volume], shape, 1.0) if shape else start
        on = block.taken[number - first_pickup] <= tick if sort == "pickup" else bool(shape)
        found.append(AreaView(name=name, sort=sort, fatal=fatal, on=bool(on), solid=solid_view(world, solid)))
    return tuple(found)
