"""Ragdolls compiled: points, links and how far they lie apart."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.layout import RagdollColumn, RagdollMark
from emberwound.plan.fighter_plans import RagdollPlan
from emberwound.plan.tables import joint_and_offset

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.plan.fighter_plans import FighterPlan
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
