"""What a bout needs to know of fighters and never changes: hurtboxes, pools, stages, bars, ragdolls."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from emberwound.combat.reaction import ReactionTerms, StaggerTerms
    from emberwound.combat.terms import BodyStats, HurtboxTerms
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.space import Vector
    from emberwound.rulebook.models import Bar, Fighter, FighterStage


@dataclass(frozen=True, slots=True, eq=False)
class RagdollPlan:
    """What a corpse falls as: n points by name, each a place from a joint or -1, and m links between them.

    `links` (2, m) are pairs of points, `lengths` (m,) what they are at rest, `hops` (n, n) how many links lie between
    two points. A push at one reaches another with `decay` for each link.
    """

    names: tuple[str, ...]
    places: tuple[tuple[int, Vector], ...]
    links: NDArray[np.int64]
    lengths: NDArray[np.float64]
    hops: NDArray[np.float64]
    radius: float
    stretch: float
    decay: float


@dataclass(frozen=True, slots=True)
class BarPlan:
    """A bar over a fighter's head: which pool or the slot of which attack it shows, and how it looks and follows.

    `bottom` is above the feet (from the top: beyond the body), times in seconds; `up` and `down` are the half-lives
    of rising and falling. `shades` are (share, red, green, blue, pattern), the lowest first.
    """

    name: str
    table: Bar
    pool: int
    pool_name: str
    slot: int
    width: float
    height: float
    bottom: float
    outline: float
    outline_colour: str
    most_parts: int
    show_seconds: float
    up: float
    down: float
    trail_delay: float
    trail_half_life: float
    shades: tuple[tuple[float, int, int, int, str], ...]
    text: str

    @property
    def part(self) -> float | None:
        """The points of each pip or segment."""
        return self.table.step if self.table.style == "pips" else self.table.segment


@dataclass(frozen=True, slots=True)
class StagePlan:
    """What changes for a fighter once its pool at index `pool` runs low.

    `attacks` are the slots that may be used from then on, a bit each.
    """

    name: str
    table: FighterStage
    pool: int
    attacks: int


@dataclass(frozen=True, slots=True)
class FighterPlan:
    """A fighter or a prop: its id, stats, hurtboxes, attacks by slot, joints and postures by index, times in ticks.

    `reach` is how far from the upright through its feet any hurtbox comes while it just stands, `lowest` and `highest`
    from and to which height. `whole_body` stands for
    a hurtbox where a wound knows none, `area_hurtboxes` for each where an area touches it. `first_attacks` are the
    slots that may be used before the first stage, a bit each.
    """

    id: int
    name: str
    table: Fighter
    is_prop: bool
    stats: BodyStats
    route: tuple[int, ...]
    hurtboxes: tuple[HurtboxTerms, ...]
    whole_body: HurtboxTerms
    area_hurtboxes: tuple[HurtboxTerms, ...]
    attacks: tuple[AttackPlan, ...]
    first_attacks: int
    stages: tuple[StagePlan, ...]
    radius: float
    height: float
    reach: float
    lowest: float
    highest: float
    guards: bool
    broken_ticks: int
    joints: tuple[str, ...]
    postures: tuple[str, ...]
    posture_paces: tuple[float, ...]
    rest_poses: tuple[int, ...]
    corpse_ticks: int
    respawn_ticks: int
    protected_ticks: int
    reactions: tuple[ReactionTerms, ...]
    reaction_ticks: tuple[int, ...]
    death_blast: int
    ragdoll: RagdollPlan | None
    stagger_resistance: StaggerTerms | None
    bars: tuple[BarPlan, ...]

    @property
    def rest_pose(self) -> int:
        """The row of the pose tracks in which it stands at rest."""
        return self.rest_poses[0]

    def slot(self, attack: str) -> int | None:
        """The slot of an attack by name; None when this fighter does not have it."""
        return next((slot for slot, each in enumerate(self.attacks) if each.name == attack), None)
