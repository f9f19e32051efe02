"""What a bout needs to know and never changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from emberwound.combat.terms import HurtboxTerms, PoolsTerms, WoundTerms
    from emberwound.plan.plane import Plane, Vector
    from emberwound.vocabulary.orders import Facing


@dataclass(frozen=True, slots=True)
class ShotPlan:
    """A shot as it leaves: radius, speed, downward pull, life in ticks, and the muzzle as (ahead, left, up)."""

    radius: float
    speed: float
    gravity: float
    life_ticks: int
    muzzle: Vector


@dataclass(frozen=True, slots=True)
class AttackPlan:
    """An attack in ticks, all counted from its start; the cooldown runs from release to release."""

    name: str
    wound: WoundTerms
    release_ticks: int
    whole_ticks: int
    cooldown_ticks: int
    shot: ShotPlan


@dataclass(frozen=True, slots=True)
class FighterPlan:
    """A fighter: its id, pools, hurtboxes, attacks by slot, and times in ticks."""

    id: int
    name: str
    pools: PoolsTerms
    hurtboxes: tuple[HurtboxTerms, ...]
    attacks: tuple[AttackPlan, ...]
    corpse_ticks: int
    respawn_ticks: int

    def slot(self, attack: str) -> int | None:
        """The slot of an attack by name; None when this fighter does not have it."""
        return next((slot for slot, each in enumerate(self.attacks) if each.name == attack), None)


@dataclass(frozen=True, slots=True)
class EntryPlan:
    """A named entry: its place and the way a fighter looks there."""

    position: Vector
    facing: Facing


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """A rulebook for one arena and tick rate.

    `walls` is laid out as `geometry.contact` reads it; `offsets` (7, fighters, most hurtboxes) and `offset_counts`
    (fighters,) as `geometry.pose` reads them.
    """

    rules_hash: str
    arena: str
    plane: Plane
    tick_rate: int
    buffer_ticks: int
    max_seats: int
    max_shots: int
    fighters: tuple[FighterPlan, ...]
    entries: dict[str, EntryPlan]
    low: Vector
    high: Vector
    walls: NDArray[np.float64]
    offsets: NDArray[np.float64]
    offset_counts: NDArray[np.int64]
    most_hurtboxes: int
    most_pools: int
    most_attacks: int

    def fighter(self, name: str) -> FighterPlan | None:
        """The fighter of that name, or None."""
        return next((each for each in self.fighters if each.name == name), None)
