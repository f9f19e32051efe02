"""Blasts that reach many bodies: what they take is worked out in columns, where they do no more than that and push."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.hits.damage import follow_plainly
from emberwound.bout.hits.side_by_side import WoundSource, all_suit, deal, may_be_dealt, pays, points_of_many, tell
from emberwound.bout.state.layout import number_of
from emberwound.bout.state.pending import Hit, HitLocation
from emberwound.combat.wound import falloff_share
from emberwound.geometry.layout import BodyMark

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.pending import PendingBlast
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import BlastPlan


def wound_many(
    world: World,
    plan: BlastPlan,
    blast: PendingBlast,
    cause: int,
    time: float,
    shapes: list[int],
    reached: list[list[float]],
) -> bool:
    """Let a blast wound the bodies of these hurtboxes; False where one of them asks for more than its one pool.

    `reached` holds for each how far from the blast it is, and the place (4 each).
    """
    bodies = [shape // world.plan.most_hurtboxes for shape in shapes]
    if not pays(len(shapes)) or blast.by < 0 or blast.credit >= 0 or plan.walls_block:
        return False
    if not may_be_dealt(world, plan.hit) or not all_suit(world, bodies):
        return False
    owners, models = (world.block.body_marks[mark, bodies].tolist() for mark in (BodyMark.OWNER, BodyMark.MODEL))
    falloff = plan.hit.wound.falloff
    shares = [falloff_share(falloff, gap) if falloff else 1.0 for gap, *_ in reached]
    parts = [shape % world.plan.most_hurtboxes for shape in shapes]
    points = _points(world, plan, np.array(models), np.array(parts), np.array(shares)).tolist()
    dealt = deal(world, bodies, [blast.by] * len(bodies), points, [time] * len(bodies))
    what = WoundSource(blast.by, plan.name, plan.hit.wound, cause, blast.number, None)
    for body, part, owner, model, (gap, *place), share, amount, before, after in zip(
        bodies, parts, owners, models, reached, shares, points, *dealt, strict=True
    ):
        x, y, z = place
        hit = Hit(
            blast.by,
            plan.name,
            plan.hit,
            cause,
            blast.number,
            None,
            None,
            gap,
            blast.place,
            strength=share,
            blast=blast,
        )
        where, fighter = HitLocation(body, part, (x, y, z), time), world.plan.fighters[model]
        seat, far = world.names[number_of(owner)], gap if falloff else 0.0
        wound, ledger = tell(world, what, where, fighter, seat, (amount, before, after), far)
        follow_plainly(world, hit, where, fighter, (ledger, before, after), wound)
    return True


def _points(
    world: World, plan: BlastPlan, models: NDArray[np.int64], parts: NDArray[np.int64], shares: NDArray[np.float64]
) -> NDArray[np.float64]:
    found = np.empty(models.size)
    for model in set(models.tolist()):
        of = models == model
        multipliers = world.plan.tables.multipliers[model, parts[of]]
        fighter = world.plan.fighters[model]
        found[of] = points_of_many(plan.hit.wound, fighter, multipliers, shares[of], world.plan.wound_rules)
    return found
