"""The plain frozen terms that the rules work on."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import NamedTuple


@dataclass(frozen=True, slots=True)
class FalloffTerms:
    """The whole wound up to `near`, less from there, and `share` of it from `far` on.

    Evenly less with a `power` of 1; with 2 soon less, by the square of what is left of the way.
    """

    near: float
    far: float
    share: float
    power: float = 1.0


@dataclass(frozen=True, slots=True)
class WoundTerms:
    """What an attack deals: points, the kind, falloff by distance, and factors against labels.

    `heals` makes the points heal instead; `revives` lets them raise a vital pool from zero. `guard_class` is what a
    guard must stop.
    """

    damage: float
    kind: str
    falloff: FalloffTerms | None = None
    against: tuple[tuple[str, float], ...] = ()
    guard_class: str = "ordinary"
    heals: bool = False
    revives: bool = False


@dataclass(frozen=True, slots=True)
class HurtboxTerms:
    """What the place that was touched does to a hit: multiplier, the pools it goes through, its share of a push."""

    name: str
    multiplier: float
    route: tuple[int, ...]
    push_share: float = 1.0


@dataclass(frozen=True, slots=True)
class PoolTerms:
    """One pool of points.

    `share` points are lost per point that reaches it; 0 passes it over. Without `overflow` the points an emptied
    pool could not take are lost. It refills by `refill` a second, `delay` seconds after its last loss.
    """

    name: str
    maximum: float
    start: float
    share: float = 1.0
    overflow: bool = True
    refill: float = 0.0
    delay: float = 0.0


@dataclass(frozen=True, slots=True)
class GuardTerms:
    """A guard: the arc it covers, the share it lets through, and what holding it costs.

    It covers `arc_deg` degrees in all, evenly about the front. `drain` points of the pool at index `pool` go for each
    point before the guard; at zero it breaks. Raised less than `perfect` seconds ago it lets nothing through and costs
    nothing. It stops attacks of `classes`, and lets `push_share` of their pushes through.
    """

    arc_deg: float
    damage_share: float
    classes: frozenset[str]
    drain: float = 0.0
    pool: int = -1
    perfect: float = 0.0
    push_share: float = 1.0


@dataclass(frozen=True, slots=True)
class BodyStats:
    """The stats of a fighter: its pools, which of them is vital, if any refills, its labels and its resistances.

    `damage_taken` is a share by kind (1 where it is not named, 0 immune). `flat_reduction` is points off by kind
    (`""` for all others). `min_damage` is the points a flat reduction leaves at the least,
    where there were as many.
    """

    pools: tuple[PoolTerms, ...]
    vital: int
    labels: frozenset[str] = frozenset()
    damage_taken: dict[str, float] = field(default_factory=dict)
    flat_reduction: dict[str, float] = field(default_factory=dict)
    min_damage: float = 0.0
    guard: GuardTerms | None = None
    refills: bool = False


@dataclass(frozen=True, slots=True)
class WoundContext:
    """What an own step may know: the attack and its kind, the victim and its hurtbox, and how it was hit."""

    attack: str
    """Which attack."""
    kind: str
    """Kind of the wound."""
    victim: str
    """Fighter of the victim."""
    hurtbox: str
    """Hurtbox that was hit."""
    distance: float
    """Distance that `falloff` goes by."""
    charge: float | None
    """Factor of the charge; none of what was not charged."""
    guarded: bool
    """Whether a guard took it."""


@dataclass(frozen=True, slots=True)
class OwnStep:
    """A step of the ledger that a host registered: a pure function of the points so far, and its version."""

    name: str
    function: Callable[[float, WoundContext], float]
    version: str


OwnSteps = Mapping[str, tuple[Callable[[float, WoundContext], float], str]]
"""Own steps as a host registers them: name to (function, version)."""


@dataclass(frozen=True, slots=True)
class WoundRules:
    """What holds for all wounds of a book: shares of wounds in a row, own steps, and rounding to whole points."""

    combo_shares: tuple[float, ...] = ()
    steps: tuple[OwnStep, ...] = ()
    whole_points: bool = False


class Circumstance(NamedTuple):
    """How a wound came about: names, distance, the charge's factor, the number in a row, marks, and the guard.

    `dealt` are factors on what its attacker deals, each with the reason.
    """

    attack: str
    victim: str
    distance: float = 0.0
    charge: float | None = None
    combo_count: int | None = 0
    marked: float = 1.0
    guard_share: float | None = None
    guard_why: str = ""
    dealt: tuple[tuple[float, str], ...] = ()
