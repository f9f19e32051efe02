"""What a bout needs to know of attacks and never changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from fractions import Fraction

    from emberwound.combat.push import PushTerms
    from emberwound.combat.terms import WoundTerms
    from emberwound.plan.space import Vector
    from emberwound.rulebook.models import Affliction, Attack, Blast, Launch, Shot


Action = Literal["close", "bare", "show", "lunge", "shield", "hide", "open", "release", "coast", "end"]
"""What an attack does at a time of it, in this order at one time: hitboxes close and open, its owner is bared and
shielded, hurtboxes show and hide; the rest is movement, releases, and the end."""


@dataclass(frozen=True, slots=True)
class HitPlan:
    """What a hit does, whatever makes it.

    Its wound, its push by the id of the victim's fighter (or none), what it afflicts with, for how many ticks it stops
    whom it hits, the layers it touches (a bit each), `options`, bits of MayTouch, and whether it holds whom it hits.
    """

    wound: WoundTerms
    pushes: tuple[PushTerms, ...] = ()
    afflicts: tuple[int, ...] = ()
    stop_ticks: int = 0
    layers: int = 0
    options: int = 0
    grabs: bool = False


@dataclass(frozen=True, slots=True)
class LaunchPlan:
    """Where a shot or ray starts and which way: angles in radians, the muzzle as (ahead, left, up) from a joint or -1.

    A muzzle that turns does so about its joint, with where it shoots. `layers` are those of its attack, with that of
    walls if it does not pass them.
    """

    table: Launch
    joint: int
    muzzle: Vector
    turns: bool
    lift: float
    spread: float
    fan: float
    layers: int


@dataclass(frozen=True, slots=True)
class HomingPlan:
    """How a shot turns to its nearest foe: radians at each time it steers, and up to which distance."""

    turn: float
    range: float


@dataclass(frozen=True, slots=True)
class ShotPlan:
    """A shot as it leaves; a range of 0 is none, and so is a health of 0: it cannot be destroyed."""

    table: Shot
    gravity: float
    life_ticks: int
    range: float
    restitution: float
    bounces: int
    health: float
    homing: HomingPlan | None


@dataclass(frozen=True, slots=True)
class GrabPlan:
    """Where the middle of who is held is, (ahead, left, up) from a joint or -1; for how many ticks; what ends it."""

    joint: int
    offset: Vector
    ticks: int
    break_damage: float


@dataclass(frozen=True, slots=True)
class ChargeUpPlan:
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
    """A hitbox of a strike: its name, and what it does."""

    name: str
    hit: HitPlan


@dataclass(frozen=True, slots=True)
class WindowPlan:
    """That a hitbox, by its index, is on from one exact time to another, in parts of a tick.

    `entry` is its index in the table of hitboxes. Windows that one tick may see have different `column`s.
    """

    hitbox: int
    opens: int
    closes: int
    entry: int
    column: int


@dataclass(frozen=True, slots=True)
class StrikePlan:
    """What an attack strikes with; `rehit` is ticks until it may touch the same victim again, 0 for never.

    `leaves` is ticks that a contact must be over before it counts again, 0 where that does not matter.
    """

    hitboxes: tuple[HitboxPlan, ...]
    windows: tuple[WindowPlan, ...]
    rehit: float
    leaves: float
    walls_block: bool
    reflects: bool

    @property
    def columns(self) -> int:
        """How many hitboxes are laid out at most at one time."""
        return max(each.column for each in self.windows) + 1


@dataclass(frozen=True, slots=True)
class CancelWindowPlan:
    """That pressing one slot begins another in a window of an attack, in parts of a tick.

    A follow-up takes presses that came at any time of the attack, a cancel those that are kept as any.
    """

    press: int
    slot: int
    opens: int
    closes: int
    follows: bool


@dataclass(frozen=True, slots=True)
class BlastPlan:
    """What hurts all within a radius of a place."""

    name: str
    table: Blast
    hit: HitPlan


@dataclass(frozen=True, slots=True)
class AttackPlan:
    """An attack of one fighter.

    Times are whole numbers of 1 / `denominator` ticks from the start of the attack, so that nothing is rounded before
    it is known when it started: `stages` in their order, `first` the first release or hitbox, `period` from one held
    repeat to the next. `release_ticks`, `whole_ticks` and `cooldown_ticks` are rounded up, for a start on a tick.
    `table` is the attack as the book has it: what needs no conversion is read there. `blast` is the index of one, or
    -1; `blast_at` is a place from a joint or -1. `hides` are the hurtboxes that its stages hide, by their index.
    """

    name: str
    table: Attack
    hit: HitPlan
    launch: LaunchPlan | None
    shot: ShotPlan | None
    ray_range: float
    strike: StrikePlan | None
    grab: GrabPlan | None
    blast: int
    blast_at: tuple[int, Vector] | None
    denominator: int
    stages: tuple[Stage, ...]
    first: int
    period: int
    release_ticks: int
    whole_ticks: int
    cooldown_ticks: int
    cost: tuple[tuple[int, float], ...]
    charge: ChargeUpPlan | None
    lunge: Vector
    pose: int
    pose_last: int
    cancel_windows: tuple[CancelWindowPlan, ...]
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
    """An affliction: its beat and length in exact ticks, and what it does to speed, damage taken and guard."""

    name: str
    hit: HitPlan
    every: Fraction | None
    lasts: Fraction
    table: Affliction
