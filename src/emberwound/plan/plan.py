"""What a bout needs to know and never changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from fractions import Fraction

    import numpy as np
    from numpy.typing import NDArray

    from emberwound.combat.terms import BodyTerms, HouseTerms, HurtboxTerms, WoundTerms
    from emberwound.plan.plane import Plane, Vector
    from emberwound.vocabulary.orders import Facing

Action = Literal["lunge", "release", "coast", "end"]


@dataclass(frozen=True, slots=True)
class LaunchPlan:
    """Where a shot or ray starts and which way: angles in radians, the muzzle as (ahead, left, up) from a joint or -1.

    `layers` is a bit for each layer it touches, `options` as `geometry.legs` reads them.
    """

    joint: int
    muzzle: Vector
    by_facing: bool
    lift: float
    spread: float
    count: int
    fan: float
    pierce: int
    layers: int
    options: int


@dataclass(frozen=True, slots=True)
class ShotPlan:
    """A shot as it leaves; a range of 0 is none."""

    radius: float
    speed: float
    velocity_share: float
    gravity: float
    drag: float
    life_ticks: int
    range: float
    keep: float
    bounces: int


@dataclass(frozen=True, slots=True)
class ChargePlan:
    """Ticks to a full charge, and what damage and speed are multiplied by then."""

    ticks: float
    damage: float
    speed: float


@dataclass(frozen=True, slots=True)
class Stage:
    """Something an attack does at `at` / its denominator ticks after its start; `index` counts releases."""

    at: int
    action: Action
    index: int


@dataclass(frozen=True, slots=True)
class AttackPlan:
    """An attack of one fighter.

    Times are whole numbers of 1 / `denominator` ticks from the start of the attack, so that nothing is rounded before
    it is known when it started: `stages` in their order, `first` the first release, `period` from one held repeat to
    the next. `release_ticks`, `whole_ticks` and `cooldown_ticks` are rounded up, for a start on a tick.
    """

    name: str
    wound: WoundTerms
    launch: LaunchPlan | None
    shot: ShotPlan | None
    ray_range: float
    denominator: int
    stages: tuple[Stage, ...]
    first: int
    period: int
    release_ticks: int
    whole_ticks: int
    cooldown_ticks: int
    states: frozenset[str]
    cost: tuple[tuple[int, float], ...]
    afflicts: tuple[int, ...]
    charge: ChargePlan | None
    lunge: Vector
    pose: int
    pose_last: int

    def tick_of(self, stage: int, anchor: int, repeat: int) -> int:
        """The tick of something `stage` / denominator ticks into the attack.

        The attack itself starts on tick `anchor`. A held repeat is counted from the tick of the first release:
        its own is `repeat` exact periods later, and all else is placed around that before it is rounded.
        """
        start = anchor * self.denominator
        if repeat:
            released = -(-self.first // self.denominator) * self.denominator
            start += released - self.first + repeat * self.period
        return -(-(start + stage) // self.denominator)


@dataclass(frozen=True, slots=True)
class AfflictionPlan:
    """A lingering wound: its beat and length in exact ticks, and its shares on walking, guarding and taking."""

    name: str
    wound: WoundTerms
    every: Fraction | None
    lasts: Fraction
    stacking: str
    most: int
    cured_by: frozenset[str]
    speed_share: float
    takes_share: float
    guardless: bool


@dataclass(frozen=True, slots=True)
class FighterPlan:
    """A fighter: its id, what it bears, its hurtboxes, attacks by slot, and times in ticks."""

    id: int
    name: str
    bears: BodyTerms
    route: tuple[int, ...]
    hurtboxes: tuple[HurtboxTerms, ...]
    attacks: tuple[AttackPlan, ...]
    speed: float
    radius: float
    height: float
    guards: bool
    broken_ticks: int
    rest_pose: int
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
class Tables:
    """The arrays that kernels read, as `geometry.legs`, `geometry.pose` and `geometry.walk` lay them out.

    `bounds` (7,), `offsets` (16, fighters, most hurtboxes), `offset_marks` (5, fighters, most hurtboxes), `tracks`
    (rows, joints, 3), `models` (4, fighters), `points` (points, 3), `paths` (3, paths), and the walls as boxes,
    `wall_shapes` and `wall_marks` (rows, walls).
    """

    bounds: NDArray[np.float64]
    offsets: NDArray[np.float64]
    offset_marks: NDArray[np.int64]
    tracks: NDArray[np.float64]
    models: NDArray[np.float64]
    points: NDArray[np.float64]
    paths: NDArray[np.int64]
    wall_shapes: NDArray[np.float64]
    wall_marks: NDArray[np.int64]


@dataclass(frozen=True, slots=True, eq=False)
class Plan:
    """A rulebook for one arena and tick rate."""

    arena: str
    plane: Plane
    tick_rate: int
    buffer_ticks: int
    max_seats: int
    max_shots: int
    house: HouseTerms
    combo_ticks: Fraction
    afflictions: tuple[AfflictionPlan, ...]
    fighters: tuple[FighterPlan, ...]
    entries: dict[str, EntryPlan]
    wall_names: tuple[str, ...]
    path_names: tuple[str, ...]
    low: Vector
    high: Vector
    floor: float
    tables: Tables
    most_hurtboxes: int
    most_pools: int
    most_attacks: int
    most_pierced: int

    def fighter(self, name: str) -> FighterPlan | None:
        """The fighter of that name, or None."""
        return next((each for each in self.fighters if each.name == name), None)
