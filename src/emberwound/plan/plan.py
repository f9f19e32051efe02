"""What a bout needs to know and never changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from fractions import Fraction

    import numpy as np
    from numpy.typing import NDArray

    from emberwound.combat.push import PushTerms
    from emberwound.combat.reaction import ReactionTerms, ResistanceTerms
    from emberwound.combat.terms import BodyTerms, HouseTerms, HurtboxTerms, WoundTerms
    from emberwound.plan.plane import Plane, Vector
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Facing

Action = Literal["close", "bare", "show", "lunge", "shield", "hide", "open", "release", "coast", "end"]
"""What an attack does at a time of it, in this order at one time: hitboxes close and open, its owner is bared and
shielded, hurtboxes show and hide; the rest is movement, releases, and the end."""


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
    """Something an attack does at `at` / its denominator ticks after its start; `index` says which of its kind.

    What ends something that began at `since` comes at least a tick after that.
    """

    at: int
    action: Action
    index: int
    since: int | None = None


@dataclass(frozen=True, slots=True)
class HitboxPlan:
    """A hitbox of a strike: its name, its wound and push, and its column in the table of hitboxes."""

    name: str
    wound: WoundTerms
    pushes: tuple[PushTerms, ...]
    entry: int


@dataclass(frozen=True, slots=True)
class WindowPlan:
    """That a hitbox, by its number, is on from one exact time to another, in parts of a tick."""

    hitbox: int
    opens: int
    closes: int


@dataclass(frozen=True, slots=True)
class StrikePlan:
    """What an attack strikes with; `rehit` is ticks until it may touch the same victim again, 0 for never."""

    hitboxes: tuple[HitboxPlan, ...]
    windows: tuple[WindowPlan, ...]
    rehit: float
    layers: int
    options: int
    walls_block: bool


@dataclass(frozen=True, slots=True)
class PassagePlan:
    """That pressing one slot begins another in a stretch of an attack, in parts of a tick.

    A follow-up takes presses that came at any time of the attack, a cancel those that are kept as any.
    """

    press: int
    slot: int
    opens: int
    closes: int
    follows: bool


@dataclass(frozen=True, slots=True)
class BlastPlan:
    """What hurts all within a radius of a place; `direct` says that whom its shot hit is not left out."""

    name: str
    radius: float
    wound: WoundTerms
    pushes: tuple[PushTerms, ...]
    afflicts: tuple[int, ...]
    stop_ticks: int
    layers: int
    options: int
    direct: bool
    walls_block: bool


@dataclass(frozen=True, slots=True)
class HazardPlan:
    """A part of the arena that wounds: its wound and push, what it leaves behind, and ticks until it does so again."""

    name: str
    wound: WoundTerms
    pushes: tuple[PushTerms, ...]
    afflicts: tuple[int, ...]
    rehit: float
    fatal: bool


@dataclass(frozen=True, slots=True)
class CounterPlan:
    """A number that each seat has: where it starts, what changes it, and what a death or a restart makes of it."""

    name: str
    start: float
    per_second: float
    kill: float
    assist: float
    death: float
    resets_on_death: bool
    resets_on_restart: bool
    least: float
    more_is_better: bool


@dataclass(frozen=True, slots=True)
class CuePlan:
    """What events of some types give to be heard or seen, and of whom; times in seconds.

    It keeps a lane for everyone, or one for each seat that alone hears it, with so many places for what sounds and
    waits there.
    """

    id: int
    name: str
    on: frozenset[type[Event]]
    medium: str
    audience: Literal["everyone", "victim", "striker"]
    overlap: Literal["together", "restart", "wait"]
    lanes: int
    places: int
    first_lane: int
    first_place: int
    seconds: float
    gap: float
    least: float | None
    below: float | None
    attacks: frozenset[str]
    kinds: frozenset[str]
    pitch: float
    pitch_spread: float
    strength: float


@dataclass(frozen=True, slots=True)
class CheckpointPlan:
    """Where those stand again who touched it: how far it is, the place and heading, and the pools it fills."""

    name: str
    order: int
    stand: Vector
    facing: Facing
    refill: frozenset[str]
    whole_team: bool


@dataclass(frozen=True, slots=True)
class PickupPlan:
    """What the first to touch it takes, and after how many ticks it is there again, if ever."""

    name: str
    gives: dict[str, float]
    counts: dict[int, float]
    lives: int
    back_ticks: int | None


@dataclass(frozen=True, slots=True)
class AttackPlan:
    """An attack of one fighter.

    Times are whole numbers of 1 / `denominator` ticks from the start of the attack, so that nothing is rounded before
    it is known when it started: `stages` in their order, `first` the first release or hitbox, `period` from one held
    repeat to the next. `release_ticks`, `whole_ticks` and `cooldown_ticks` are rounded up, for a start on a tick.
    `blast` is the number of one, or -1; it goes off on these of its shots' ends or, `blast_at` a place from a joint or
    -1, at its releases. `hides` are the hurtboxes that its stages hide, by their index; `pushes` are its push by the id
    of the victim's fighter, or none.
    """

    name: str
    wound: WoundTerms
    pushes: tuple[PushTerms, ...]
    launch: LaunchPlan | None
    shot: ShotPlan | None
    ray_range: float
    strike: StrikePlan | None
    blast: int
    blast_on: frozenset[str]
    blast_at: tuple[int, Vector] | None
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
    resists: int
    stop_ticks: int
    interrupted_by: frozenset[str]
    passages: tuple[PassagePlan, ...]
    hides: tuple[int, ...]

    def tick_of(self, stage: int, anchor: int, repeat: int) -> int:
        """The tick of something `stage` / denominator ticks into the attack.

        The attack itself starts on tick `anchor`. A held repeat is counted from the tick of the first release, or from
        the exact start of a strike: its own is `repeat` exact periods later, and all else is placed around that.
        """
        return -(-(self.start_of(anchor, repeat) + stage) // self.denominator)

    def first_tick(self, anchor: int, repeat: int) -> int:
        """The tick of the first release, or the one within which the first hitbox comes on."""
        if self.strike is None:
            return self.tick_of(self.first, anchor, repeat)
        return (self.start_of(anchor, repeat) + self.first) // self.denominator

    def start_of(self, anchor: int, repeat: int) -> int:
        """When the attack exactly started, in parts of a tick."""
        start = anchor * self.denominator + repeat * self.period
        if repeat and self.strike is None:
            start += -self.first % self.denominator
        return start

    def due(self, stage: Stage, anchor: int, repeat: int) -> int:
        """The tick of a stage: that of its time, but what ends something comes a tick after it at the earliest."""
        due = self.tick_of(stage.at, anchor, repeat)
        return due if stage.since is None else max(due, self.tick_of(stage.since, anchor, repeat) + 1)


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


@dataclass(frozen=True, slots=True, eq=False)
class LimpPlan:
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
    """A bar over a fighter's head: which pool, where it stands in the stack, how it looks, and how it follows.

    `bottom` is above the feet (from the top: beyond the body), times in seconds; `up` and `down` are the half-lives
    of rising and falling. `shades` are (share, red, green, blue, pattern), the lowest first.
    """

    name: str
    pool: int
    pool_name: str
    style: str
    width: float
    height: float
    bottom: float
    outline: float
    outline_colour: str
    step: float
    symbols: tuple[str, str]
    segment: float | None
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


@dataclass(frozen=True, slots=True)
class FighterPlan:
    """A fighter or a prop: its id, what it bears, hurtboxes, attacks by slot, postures by number, times in ticks.

    `span` is how far from the upright through its feet any hurtbox comes while it just stands. `all_over` stands for
    a hurtbox where a wound knows none.
    """

    id: int
    name: str
    is_prop: bool
    bears: BodyTerms
    route: tuple[int, ...]
    hurtboxes: tuple[HurtboxTerms, ...]
    all_over: HurtboxTerms
    attacks: tuple[AttackPlan, ...]
    speed: float
    weight: float
    radius: float
    height: float
    span: float
    guards: bool
    broken_ticks: int
    postures: tuple[str, ...]
    posture_paces: tuple[float, ...]
    rest_poses: tuple[int, ...]
    corpse_ticks: int
    respawn_ticks: int
    protected_ticks: int
    reactions: tuple[ReactionTerms, ...]
    reaction_ticks: tuple[int, ...]
    death_blast: int
    slowing: float
    limp: LimpPlan | None
    resistance: ResistanceTerms | None
    bars: tuple[BarPlan, ...]

    @property
    def rest_pose(self) -> int:
        """The row of the pose tracks in which it stands at rest."""
        return self.rest_poses[0]

    def slot(self, attack: str) -> int | None:
        """The slot of an attack by name; None when this fighter does not have it."""
        return next((slot for slot, each in enumerate(self.attacks) if each.name == attack), None)


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


@dataclass(frozen=True, slots=True, eq=False)
class Tables:
    """The arrays that kernels read, as `geometry.legs`, `geometry.pose` and `geometry.walk` lay them out.

    `bounds` (7,), `offsets` (16, fighters, most hurtboxes), `offset_marks` (5, fighters, most hurtboxes), `hidden`
    (fighters, postures), `tracks` (rows, joints, 3), `models` (4, fighters), `points` (points, 3), `paths` (3, paths),
    and the walls as boxes, `wall_shapes` and `wall_marks` (rows, walls); `hitboxes` and `hitbox_marks`
    (rows, hitboxes, 1), `hazards` and `hazard_marks` (rows, hazards) as `geometry.volumes` does. `counters`
    (2, counters, 1) holds what each gains by the second, and its least.
    """

    bounds: NDArray[np.float64]
    offsets: NDArray[np.float64]
    offset_marks: NDArray[np.int64]
    hidden: NDArray[np.int64]
    tracks: NDArray[np.float64]
    models: NDArray[np.float64]
    points: NDArray[np.float64]
    paths: NDArray[np.int64]
    wall_shapes: NDArray[np.float64]
    wall_marks: NDArray[np.int64]
    hitboxes: NDArray[np.float64]
    hitbox_marks: NDArray[np.int64]
    hazards: NDArray[np.float64]
    hazard_marks: NDArray[np.int64]
    counters: NDArray[np.float64]


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
    trade_ticks: float
    credit_seconds: float
    most_frozen_ticks: int
    afflictions: tuple[AfflictionPlan, ...]
    counters: tuple[CounterPlan, ...]
    board: tuple[int, ...]
    cues: tuple[CuePlan, ...]
    cued: frozenset[type[Event]]
    fighters: tuple[FighterPlan, ...]
    entries: dict[str, EntryPlan]
    wall_names: tuple[str, ...]
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
    bodies_part: bool
    when_out: str
    out_team: str | None
    out_message: str
    tables: Tables
    most_hurtboxes: int
    most_pools: int
    most_attacks: int
    most_pierced: int
    most_hitboxes: int
    most_bars: int
    most_reactions: int
    most_points: int

    @property
    def areas(self) -> int:
        """How many parts of the arena are touched: hazards, then checkpoints, then pickups."""
        return len(self.hazards) + len(self.checkpoints) + len(self.pickups)

    def fighter(self, name: str) -> FighterPlan | None:
        """The fighter or the prop of that name, or None."""
        return next((each for each in self.fighters if each.name == name), None)
