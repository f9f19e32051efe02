"""The stages of fighters, with the slots of their attacks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.plan.fighter_plans import StagePlan

if TYPE_CHECKING:
    from emberwound.rulebook.models import Fighter


def stage_plans(fighter: Fighter) -> tuple[StagePlan, ...]:
    """The stages of a fighter in their order; one that names no attacks leaves those of the one before."""
    found: list[StagePlan] = []
    pools, names = list(fighter.pools), fighter.all_attacks
    allowed = (1 << len(fighter.attacks)) - 1
    for stage in fighter.stages:
        if stage.attacks is not None:
            allowed = sum(1 << names.index(each) for each in stage.attacks)
        pool = (
            pools.index(stage.pool)
            if stage.pool
            else next(i for i, each in enumerate(pools) if fighter.pools[each].vital)
        )
        found.append(StagePlan(stage.name, pool, stage.below, allowed, stage.damage_dealt, stage.speed_share))
    return tuple(found)
