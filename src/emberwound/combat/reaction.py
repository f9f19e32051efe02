"""Reactions: how a body that was hit moves, which row of its table fits, and how strong that is at a time."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, degrees, hypot
from typing import TYPE_CHECKING, Literal, NamedTuple

from emberwound.combat.wound import angle_from_front

if TYPE_CHECKING:
    from collections.abc import Sequence

Side = Literal["front", "back", "left", "right", "above"]

STEEP_DEG = 60.0
"""What comes from higher than this comes from above."""


class HitSummary(NamedTuple):
    """What a reaction is chosen by: what the guard did, the side, hurtbox and kind, points, push, and the state.

    `parried` is no hit on the body, but its own strike that met a guard's perfect moment.
    """

    guarded: bool
    breaks: bool
    side: Side
    hurtbox: str
    kind: str
    damage: float
    push: float
    airborne: bool
    dying: bool
    parried: bool = False


@dataclass(frozen=True, slots=True)
class Fit:
    """What a row asks for; None asks nothing, `damage` and `push` are at least."""

    guarded: bool | None = None
    breaks: bool | None = None
    sides: frozenset[str] | None = None
    hurtboxes: frozenset[str] | None = None
    kinds: frozenset[str] | None = None
    damage: float = 0.0
    push: float = 0.0
    airborne: bool | None = None
    parried: bool = False
    dying: bool = False

    def fits(self, impact: HitSummary) -> bool:
        """Whether an impact is all that is asked for."""
        return (
            self.dying == impact.dying
            and self.parried == impact.parried
            and self.guarded in (None, impact.guarded)
            and self.breaks in (None, impact.breaks)
            and self.airborne in (None, impact.airborne)
            and (self.sides is None or impact.side in self.sides)
            and (self.hurtboxes is None or impact.hurtbox in self.hurtboxes)
            and (self.kinds is None or impact.kind in self.kinds)
            and impact.damage >= self.damage
            and impact.push >= self.push
        )

    def covers(self, other: Fit) -> bool:
        """Whether all that fits the other row fits this one."""
        sets = ((self.sides, other.sides), (self.hurtboxes, other.hurtboxes), (self.kinds, other.kinds))
        return (
            self.dying == other.dying
            and self.parried == other.parried
            and self.guarded in (None, other.guarded)
            and self.breaks in (None, other.breaks)
            and self.airborne in (None, other.airborne)
            and all(mine is None or (theirs is not None and theirs <= mine) for mine, theirs in sets)
            and self.damage <= other.damage
            and self.push <= other.push
        )


@dataclass(frozen=True, slots=True)
class ReactionTerms:
    """A row of a fighter's table: what fits it, its name, and what it does for how long.

    `variants` are cycled. A running reaction gives way to one of the same severity or more. `locks` says what its owner
    cannot do meanwhile. It blends in and out over so many seconds; `part` is for whoever draws it.
    """

    name: str
    fit: Fit
    variants: tuple[str, ...]
    seconds: float
    severity: int
    locks: frozenset[str]
    blend_in: float
    blend_out: float
    part: str


def side_of(heading: Sequence[float], towards: Sequence[float], *, looks_around: bool, has_heights: bool) -> Side:
    """The side a hit comes from: `towards` (x, y, z) leads to its source, `heading` is where its victim looks.

    By quadrants on the ground, ties to the front; seen from the side front or back. No direction is the front. What
    rises over 60 degrees comes from above, where there are heights.
    """
    level = hypot(towards[0], towards[1])
    if has_heights and degrees(atan2(towards[2], level)) > STEEP_DEG:
        return "above"
    angle = angle_from_front(heading, towards)
    if not looks_around:
        return "front" if angle <= 90.0 else "back"
    if angle <= 45.0 + 1e-9:
        return "front"
    if angle > 135.0 + 1e-9:
        return "back"
    left = heading[0] * towards[1] - heading[1] * towards[0]
    return "left" if left > 0.0 else "right"


def choose(table: Sequence[ReactionTerms], impact: HitSummary) -> int | None:
    """The first row that an impact fits; None when it fits none."""
    return next((row for row, each in enumerate(table) if each.fit.fits(impact)), None)


def blend(reaction: ReactionTerms, seconds: float) -> float:
    """How strong a reaction is so many seconds after it began: from 0 up to 1 over `blend_in`, down over `blend_out`.

    Straight ramps that meet where there is no time for both; 0 before it began and when it is over.
    """
    if not 0.0 <= seconds < reaction.seconds:
        return 0.0
    rise = seconds / reaction.blend_in if reaction.blend_in > 0.0 else 1.0
    fall = (reaction.seconds - seconds) / reaction.blend_out if reaction.blend_out > 0.0 else 1.0
    return min(rise, fall, 1.0)


@dataclass(frozen=True, slots=True)
class StaggerTerms:
    """Points of damage that a body takes without reacting; they come back by `refill` a second after a `delay`."""

    points: float
    refill: float
    delay: float


def resist(terms: StaggerTerms, held: float, damage: float) -> tuple[bool, float]:
    """Whether a body that holds so much stagger resistance takes `damage` without reacting, and what is left.

    A hit that breaks it makes the body react, and fills it again.
    """
    left = held - damage
    return (True, left) if left > 0.0 else (False, terms.points)
