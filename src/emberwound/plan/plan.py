"""A rulebook compiled for one arena and one tick rate: what the arena holds, and the whole of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from emberwound.geometry.layout import PathMark

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from emberwound.combat.terms import WoundRules
    from emberwound.plan.attack_plans import AfflictionPlan, BlastPlan, HitPlan, ShotPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Space, Vector
    from emberwound.rulebook.models import Checkpoint, Counter, Cue, Hazard, Pickup
    from emberwound.vocabulary.events import Event
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


@dataclass(frozen=True, slots=True)
class CounterPlan:
    """A number that each seat has: its table, and its least, -inf for none."""

    name: str
    table: Counter
    minimum: float


@dataclass(frozen=True, slots=True)
class CuePlan:
    """What events of some types give to be heard or seen, and of whom; times in seconds.

    It keeps a lane for everyone, or one for each seat that alone hears it, with so many places for what sounds and
    waits there.
    """

    id: int
    name: str
    on: frozenset[type[Event]]
    table: Cue
    lanes: int
    places: int
    first_lane: int
    first_place: int
    seconds: float
    gap: float


@dataclass(frozen=True, slots=True, eq=False)
class Tables:
    """The arrays that kernels read, as `geometry.layout` lays them out.

    `bounds` (7,), `offsets` (16, fighters, most hurtboxes), `offset_marks` (5, fighters, most hurtboxes), `hidden`
    (fighters, postures), `multipliers` (fighters, most hurtboxes), `tracks` (rows, joints, 3), `models` (4, fighters),
    `points` (points, 3), `paths` (3, paths), `ragdolls` and `ragdoll_marks` (rows, fighters) with all their
    `ragdoll_links` (2, links) and `ragdoll_lengths` (links,), and the walls as boxes, `wall_shapes` and `wall_marks`
    (rows, walls); `hitboxes` and `hitbox_marks` (rows, hitboxes, 1), `hazards` and `hazard_marks` (rows, hazards) as
    `geometry.volumes` does. `counters` (2, counters, 1) holds what each gains by the second, and its least.
    """

    bounds: NDArray[np.float64]
    offsets: NDArray[np.float64]
    offset_marks: NDArray[np.int64]
    hidden: NDArray[np.int64]
    multipliers: NDArray[np.float64]
    tracks: NDArray[np.float64]
    models: NDArray[np.float64]
    points: NDArray[np.float64]
    paths: NDArray[np.int64]
    ragdolls: NDArray[np.float64]
    ragdoll_marks: NDArray[np.int64]
    ragdoll_links: NDArray[np.int64]
    ragdoll_lengths: NDArray[np.float64]
    wall_shapes: NDArray[np.float64]
    wall_marks: NDArray[np.int64]
    hitboxes: NDArray[np.float64]
    hitbox_marks: NDArray[np.int64]
    hazards: NDArray[np.float64]
    hazard_marks: NDArray[np.int64]
    counters: NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False, repr=False)
class Plan:
    """A rulebook for one arena and tick rate."""

    arena: str
    space: Space
    tick_rate: int
    buffer_ticks: int
    max_seats: int
    max_shots: int
    wound_rules: WoundRules
    combo_ticks: float
    trade_ticks: float
    credit_seconds: float
    longest_hit_stop_ticks: int
    revives: bool
    kinds: tuple[str, ...]
    has_postures: bool
    afflictions: tuple[AfflictionPlan, ...]
    counters: tuple[CounterPlan, ...]
    board: tuple[int, ...]
    cues: tuple[CuePlan, ...]
    cued: frozenset[type[Event]]
    spread_attacks: tuple[str, ...]
    fighters: tuple[FighterPlan, ...]
    entries: dict[str, EntryPlan]
    wall_names: tuple[str, ...]
    shot_layer: int
    props: tuple[PropPlan, ...]
    hazards: tuple[HazardPlan, ...]
    checkpoints: tuple[CheckpointPlan, ...]
    pickups: tuple[PickupPlan, ...]
    latest_checkpoint: bool
    respawn_entry: str | None
    blasts: tuple[BlastPlan, ...]
    path_names: tuple[str, ...]
    low: Vector
    high: Vector
    floor: float
    bodies_separate: bool
    on_elimination: str
    elimination_team: str | None
    elimination_ticks: int
    awaits_late_seats: bool
    elimination_message: str
    tables: Tables
    most_hurtboxes: int
    most_pools: int
    most_attacks: int
    most_pierced: int
    most_hitboxes: int
    most_bars: int
    most_reactions: int
    most_ragdoll_points: int

    def __repr__(self) -> str:
        return f"<Plan of arena {self.arena} at {self.tick_rate} ticks a second>"

    @property
    def stages_deal_otherwise(self) -> bool:
        """Whether any fighter has a stage that deals another share of damage."""
        return any(stage.table.damage_dealt != 1.0 for fighter in self.fighters for stage in fighter.stages)

    @property
    def has_stages(self) -> bool:
        """Whether any fighter has stages."""
        return any(fighter.stages for fighter in self.fighters)

    @property
    def has_grabs(self) -> bool:
        """Whether any attack holds whom it hits."""
        return any(attack.grab for fighter in self.fighters for attack in fighter.attacks)

    @property
    def has_homing_shots(self) -> bool:
        """Whether any shot homes."""
        return any(shot.homing for shot in self._shots)

    @property
    def shots_can_be_struck(self) -> bool:
        """Whether anything but walls and bodies may meet a shot: it can be destroyed, or a strike sends it back."""
        attacks = [attack for fighter in self.fighters for attack in fighter.attacks]
        return any(each.health for each in self._shots) or any(each.strike and each.strike.reflects for each in attacks)

    @property
    def _shots(self) -> list[ShotPlan]:
        return [attack.shot for fighter in self.fighters for attack in fighter.attacks if attack.shot]

    @property
    def areas(self) -> int:
        """How many parts of the arena are touched: hazards, then checkpoints, then pickups."""
        return len(self.hazards) + len(self.checkpoints) + len(self.pickups)

    def path_points(self, path: int) -> list[Vector]:
        """The points of a path, by its index."""
        first, count = self.tables.paths[[PathMark.FIRST, PathMark.COUNT], path].tolist()
        return [(x, y, z) for x, y, z in self.tables.points[first : first + count].tolist()]

    def fighter(self, name: str) -> FighterPlan | None:
        """The fighter or the prop of that name, or None."""
        return next((each for each in self.fighters if each.name == name), None)
