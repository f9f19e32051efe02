"""The plain frozen terms that the rules work on."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class WoundTerms:
    """What an attack deals: points, and the kind of wound."""

    damage: float
    kind: str


@dataclass(frozen=True, slots=True)
class HurtboxTerms:
    """What the place that was touched does to a wound."""

    name: str
    multiplier: float


@dataclass(frozen=True, slots=True)
class PoolTerms:
    """One pool of points."""

    name: str
    maximum: float
    start: float


@dataclass(frozen=True, slots=True)
class PoolsTerms:
    """A fighter's pools, the indices of those a wound goes through in order, and the index of the vital one."""

    pools: tuple[PoolTerms, ...]
    route: tuple[int, ...]
    vital: int
