"""What a bout needs to know of fighters and never changes: hurtboxes, pools, stages, ragdolls."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import RagdollColumn, RagdollMark
from emberwound.plan.tables import joint_and_offset

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.combat.reaction import ReactionTerms, StaggerTerms
    from emberwound.combat.terms import BodyStats, HurtboxTerms
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.space import Space, Vector
    from emberwound.rulebook.models import Fighter


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
    shows: str
    pool: int
    pool_name: str
    slot: int
    style: str
    width: float
    height: float
    bottom: float
    outline: float
    outline_colour: str
    step: float
    symbols: tuple[str, str]
    segment: float | None
    most_parts: int
    show: str
    show_seconds: float
    up: float
    down: float
    trails: bool
    trail_delay: float
    trail_half_life: float
    shades: tuple[tuple[float, int, int, int, str], ...]
    ramp: bool
    text: str

    @property
    def part(self) -> float | None:
        """The points of each pip or segment."""
        return self.step if self.style == "pips" else self.segment


@dataclass(frozen=True, slots=True)
class StagePlan:
    """What changes for a fighter once its pool at index `pool` holds less than `below` of its maximum.

    `attacks` are the slots that may be used from then on, a bit each.
    """

    name: str
    pool: int
    below: float
    attacks: int
    damage_dealt: float
    speed_share: float


@dataclass(frozen=True, slots=True)
class FighterPlan:
    """A fighter or a prop: its id, stats, hurtboxes, attacks by slot, joints and postures by number, times in ticks.

    `reach` is how far from the upright through its feet any hurtbox comes while it just stands, `lowest` and `highest`
    from and to which height. `whole_body` stands for
    a hurtbox where a wound knows none, `area_hurtboxes` for each where an area touches it. `first_attacks` are the
    slots that may be used before the first stage, a bit each.
    """

    id: int
    name: str
    is_prop: bool
    stats: BodyStats
    route: tuple[int, ...]
    hurtboxes: tuple[HurtboxTerms, ...]
    whole_body: HurtboxTerms
    area_hurtboxes: tuple[HurtboxTerms, ...]
    attacks: tuple[AttackPlan, ...]
    first_attacks: int
    stages: tuple[StagePlan, ...]
    speed: float
    weight: float
    radius: float
    height: float
    reach: float
    lowest: float
    highest: float
    guards: bool
    reflects: str
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


def stage_plans(fighter: Fighter) -> tuple[StagePlan, ...]:
    """The stages of a fighter in their order; one that names no attacks leaves those of the one before."""
    found: list[StagePlan] = []
    pools, names = list(fighter.pools), fighter.all_attacks
    allowed = (1 << len(fighter.attacks)) - 1
    for stage in fighter.stages:
        if stage.attacks is not None:
            allowed = sum(1 << names.index(each) for each in stage.attacks)
        pool = (
            pools.index(stage.pool)
            if stage.pool
            else next(i for i, each in enumerate(pools) if fighter.pools[each].vital)
        )
        found.append(StagePlan(stage.name, pool, stage.below, allowed, stage.damage_dealt, stage.speed_share))
    return tuple(found)


def ragdoll_plan(fighter: Fighter, space: Space) -> RagdollPlan | None:
    """What a fighter's corpse falls as, or None."""
    ragdoll = fighter.ragdoll
    if ragdoll is None:
        return None
    names = list(ragdoll.points)
    places = [joint_and_offset(fighter, place, space) for place in ragdoll.points.values()]
    joints = [space.offset(offset) for offset in fighter.joints.values()]
    at = np.array([np.add(offset, joints[joint]) if joint >= 0 else offset for joint, offset in places], float)
    links = np.array([[names.index(a) for a, _ in ragdoll.links], [names.index(b) for _, b in ragdoll.links]], np.int64)
    return RagdollPlan(
        names=tuple(names),
        places=tuple(places),
        links=links,
        lengths=np.linalg.norm(at[links[1]] - at[links[0]], axis=1),
        hops=_hops(len(names), links),
        radius=ragdoll.radius,
        stretch=ragdoll.stretch,
        decay=ragdoll.decay,
    )


def ragdoll_tables(
    fighters: Sequence[FighterPlan],
) -> tuple[NDArray[np.float64], NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]]:
    """What corpses fall as, for kernels: `ragdolls`, `ragdoll_marks`, and the links of all with their lengths."""
    reals = np.zeros((RagdollColumn.COLUMNS, max(len(fighters), 1)))
    marks = np.zeros((RagdollMark.COLUMNS, reals.shape[1]), np.int64)
    links: list[NDArray[np.int64]] = [np.zeros((2, 0), np.int64)]
    lengths: list[NDArray[np.float64]] = [np.zeros(0)]
    for fighter in fighters:
        plan = fighter.ragdoll
        if plan is None:
            continue
        reals[:, fighter.id] = (plan.radius, plan.stretch)
        marks[:, fighter.id] = (len(plan.names), sum(each.size for each in lengths), plan.lengths.size)
        links.append(plan.links)
        lengths.append(plan.lengths)
    return reals, marks, np.concatenate(links, axis=1), np.concatenate(lengths)


def _hops(count: int, links: np.ndarray) -> np.ndarray:
    """How many links lie between any two points."""
    hops = np.full((count, count), np.inf)
    np.fill_diagonal(hops, 0.0)
    hops[links[0], links[1]] = hops[links[1], links[0]] = 1.0
    for middle in range(count):
        hops = np.minimum(hops, hops[:, middle, None] + hops[middle])
    return hops
