"""Blasts that reach many bodies: what they take is worked out in columns, where they do no more than that and push."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.hits.damage import follow_plainly
from emberwound.bout.hits.side_by_side import all_suit, deal, explained_plainly, may_be_dealt, pays, points_of_many
from emberwound.bout.state.layout import number_of
from emberwound.bout.state.pending import Hit, HitLocation
from emberwound.combat.wound import falloff_share
from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.events import Wounded
from emberwound.vocabulary.ledger import ledger_on_demand

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.pending import PendingBlast
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import BlastPlan
    from emberwound.plan.fighter_plans import FighterPlan


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
    for body, part, owner, model, (gap, *place), share, amount, before, after in zip(
        bodies, parts, owners, models, reached, shares, points, *dealt, strict=True
    ):
        x, y, z = place
        hit = Hit(blast.by, plan.name, plan.hit, cause, blast.number, None, None, gap, blast.place, strength=share)
        where = HitLocation(body, part, (x, y, z), time)
        _wound(world, hit, where, world.plan.fighters[model], world.names[number_of(owner)], (amount, before, after))
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


def _wound(
    world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, seat: str, figures: tuple[float, float, float]
) -> None:
    """Tell of a wound, and let follow what does."""
    points, before, after = figures
    hurtbox, stats, wound = fighter.hurtboxes[where.part], fighter.stats, hit.plan.wound
    overkill = points - before if after == 0.0 and points > before else 0.0
    names, far = (hit.name, fighter.name), hit.distance if wound.falloff else 0.0
    why = partial(explained_plainly, wound, hurtbox, stats, before, world.plan.wound_rules, names, far)
    ledger = ledger_on_demand(points, overkill, 0.0, why)
    cause = world.emit(
        Wounded(
            time=where.time,
            seat=seat,
            by=world.names[hit.by],
            cause=hit.cause,
            attack=hit.name,
            kind=wound.kind,
            shot=hit.number,
            hurtbox=hurtbox.name,
            position=world.point(where.position),
            amount=points,
            ledger=ledger,
            vital_left=after,
            vital_max=stats.pools[0].maximum,
        )
    )
    follow_plainly(world, hit, where, fighter, (ledger, before, after), cause)
