"""Whether a held guard stops a hit, and what it costs."""

from __future__ import annotations

from math import acos, degrees, hypot
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.terms import GuardTerms, WoundTerms


SLACK = 1e-12
"""Seconds by which rounding may miss the end of the perfect moment."""


class GuardOutcome(NamedTuple):
    """What a guard does with a hit: the shares that pass, the points it costs its pool, and whether it breaks."""

    share: float
    drained: float
    breaks: bool
    perfect: bool
    why: str
    push_share: float = 1.0


def angle_from_front(heading: Sequence[float], towards: Sequence[float]) -> float:
    """Degrees on the ground from where a body looks to where a hit comes from; 0 for one without a direction."""
    size = hypot(heading[0], heading[1]) * hypot(towards[0], towards[1])
    if size == 0.0:
        return 0.0
    cosine = (heading[0] * towards[0] + heading[1] * towards[1]) / size
    return degrees(acos(min(max(cosine, -1.0), 1.0)))


def covers(guard: GuardTerms, wound: WoundTerms, angle_deg: float) -> bool:
    """Whether a guard can stop this attack from there: its class, and the arc, whose edges count."""
    return wound.guard_class in guard.classes and angle_deg <= guard.arc_deg / 2.0 + 1e-9


def stop(guard: GuardTerms, amount: float, held_seconds: float, pool_value: float) -> GuardOutcome:
    """What a guard that covers a hit does with `amount` points, held for so long, its pool holding so much.

    Raised less than `perfect` seconds ago: nothing passes, nothing is drained. Else `damage_share` passes and the pool
    loses `drain` a point; a guard that this brings to zero breaks, and still counts for this hit.
    """
    if held_seconds < guard.perfect - SLACK:
        why = "guarded in the perfect moment: nothing passes"
        return GuardOutcome(0.0, 0.0, breaks=False, perfect=True, why=why, push_share=0.0)
    drained = min(amount * guard.drain, pool_value) if guard.drain else 0.0
    breaks = guard.drain > 0.0 and amount > 0.0 and drained >= pool_value
    why = f"guarded × {guard.damage_share:g}" + (", and the guard breaks" if breaks else "")
    return GuardOutcome(guard.damage_share, drained, breaks, perfect=False, why=why, push_share=guard.push_share)
