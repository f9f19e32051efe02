"""Ragdolls compiled: points, links and how far they lie apart."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.fighter_plans import RagdollPlan
from emberwound.plan.tables import joint_and_offset

if TYPE_CHECKING:
    from emberwound.plan.space import Space
    from emberwound.rulebook.models import Fighter


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


def _hops(count: int, links: np.ndarray) -> np.ndarray:
    """How many links lie between any two points."""
    hops = np.full((count, count), np.inf)
    np.fill_diagonal(hops, 0.0)
    hops[links[0], links[1]] = hops[links[1], links[0]] = 1.0
    for middle in range(count):
        hops = np.minimum(hops, hops[:, middle, None] + hops[middle])
    return hops
