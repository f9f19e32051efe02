"""What a bout needs to know of what stands and lies in an arena and never changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from emberwound.plan.attack_plans import HitPlan
    from emberwound.plan.space import Vector
    from emberwound.rulebook.models import Checkpoint, Hazard, Pickup
    from emberwound.vocabulary.orders import Facing


@dataclass(frozen=True, slots=True)
class HazardPlan:
    """A part of the arena that wounds: what it does, and ticks until it does so again, or that it must have been left.

    Its colour is for pictures.
    """

    name: str
    hit: HitPlan
    table: Hazard
    rehit: float
    leaves: float
    colour: str


@dataclass(frozen=True, slots=True)
class CheckpointPlan:
    """Where seats that touched it respawn: its table, and the place in space."""

    name: str
    table: Checkpoint
    respawn_at: Vector


@dataclass(frozen=True, slots=True)
class PickupPlan:
    """What the first to touch it takes, and after how many ticks, not rounded, it is there again, if ever.

    With `leaves` it stays, and gives once until it was left for so many ticks.
    """

    name: str
    table: Pickup
    counts: dict[int, float]
    return_ticks: float | None
    leaves: float


@dataclass(frozen=True, slots=True)
class PropPlan:
    """A prop that stands in the arena: its own name, that of its sort, where, and which way it looks."""

    name: str
    sort: str
    position: Vector
    facing: Facing


@dataclass(frozen=True, slots=True)
class EntryPlan:
    """A named entry: its place and the way a fighter looks there."""

    position: Vector
    facing: Facing
