"""Wounds dealt side by side: what many hits take from the one pool of bodies that ask for nothing else, in columns."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from emberwound.bout.hits import victims
from emberwound.bout.state.layout import SeatMark, mark_of, number_of
from emberwound.combat.hit import explained
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import HALF_SLACK
from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.events import Wounded
from emberwound.vocabulary.ledger import ledger_on_demand

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.pending import HitLocation
    from emberwound.bout.state.world import World
    from emberwound.combat.terms import BodyStats, HurtboxTerms, WoundRules, WoundTerms
    from emberwound.plan.attack_plans import HitPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.ledger import Ledger, Loss, Step

FEW = 12
"""Fewer hits are judged one by one."""


def pays(hits: int) -> bool:
    """Whether so many hits are judged faster in columns."""
    return hits >= FEW


def may_be_dealt(world: World, plan: HitPlan) -> bool:
    """Whether the points of a hit of this sort may be dealt in columns: it neither heals nor afflicts."""
    return plan.is_plain and world.has_plain_wounds and not world.plan.most_bars


def all_suit(world: World, bodies: Sequence[int]) -> bool:
    """Whether all bodies have one pool that every hit takes from, no guard up, and nothing that wounds break off."""
    marks, columns = world.block.body_marks, list(bodies)
    if any(marks[BodyMark.RESIZED, columns].tolist()):
        return False
    if world.has_interruptible_attacks and any(marks[BodyMark.ATTACK, columns].tolist()):
        return False
    models = set(marks[BodyMark.MODEL, columns].tolist())
    if not models <= world.one_pool_models:
        return False
    if not any(world.plan.fighters[model].stats.guard for model in models):
        return True
    return not any(world.block.seat_marks[SeatMark.GUARD, number_of(marks[BodyMark.OWNER, columns])].tolist())


def deal(
    world: World, bodies: list[int], attackers: list[int], points: Sequence[float], times: Sequence[float]
) -> tuple[list[float], list[float]]:
    """Take points from bodies, hit after hit, and take note of who hurt them; what each held before its hit, and after.

    A body that is hit several times is taken once in each round: its hits come one after the other.
    """
    if world.victims:
        victims.write(world)
    block, columns = world.block, np.array(bodies)
    is_once = len(set(bodies)) == len(bodies)
    rounds = np.zeros(columns.size, np.int64) if is_once else _rounds(columns)
    amounts, at = np.array(points), np.array(times)
    before, after = np.empty(columns.size), np.empty(columns.size)
    marks = mark_of(np.array(attackers))
    counts_for_credit = (marks > 0) & (
        block.seat_marks[SeatMark.TEAM, np.maximum(marks - 1, 0)] != block.body_marks[BodyMark.TEAM, columns]
    )
    for number in range(int(rounds.max()) + 1):
        lines = np.flatnonzero(rounds == number)
        hit = columns[lines]
        before[lines] = block.pools[0, hit]
        after[lines] = block.pools[0, hit] = before[lines] - np.minimum(before[lines], amounts[lines])
        counted = lines[counts_for_credit[lines]]
        _note(world, columns[counted], marks[counted], at[counted])
    return before.tolist(), after.tolist()


def _rounds(columns: NDArray[np.int64]) -> NDArray[np.int64]:
    """Of each hit how many came before it on the same body."""
    order = np.argsort(columns, kind="stable")
    ordered = columns[order]
    firsts = np.ones(columns.size, bool)
    firsts[1:] = ordered[1:] != ordered[:-1]
    starts = np.maximum.accumulate(np.where(firsts, np.arange(columns.size), 0))
    found = np.empty(columns.size, np.int64)
    found[order] = np.arange(columns.size) - starts
    return found


def _note(world: World, bodies: NDArray[np.int64], marks: NDArray[np.int64], times: NDArray[np.float64]) -> None:
    """Take note of who hurt bodies, one each, as `Victim.note` does."""
    seats, at = world.block.hurt_by[:, bodies], world.block.hurt_at[:, bodies]
    same, free = seats == marks, seats == 0
    places = np.where(
        same.any(axis=0), same.argmax(axis=0), np.where(free.any(axis=0), free.argmax(axis=0), at.argmin(axis=0))
    )
    world.block.hurt_by[places, bodies] = marks
    world.block.hurt_at[places, bodies] = times


class WoundSource(NamedTuple):
    """What wounds: whose it is, called what, by which terms, of which event, and by which shot or hitbox."""

    by: int
    name: str
    wound: WoundTerms
    cause: int
    shot: int
    hitbox: str | None


def tell(
    world: World,
    what: WoundSource,
    where: HitLocation,
    fighter: FighterPlan,
    seat: str,
    figures: tuple[float, float, float],
    distance: float = 0.0,
) -> tuple[int, Ledger]:
    """Tell of a wound; its event and its ledger. `figures` are its points, and what the pool held before and after."""
    points, before, after = figures
    hurtbox, stats = fighter.hurtboxes[where.part], fighter.stats
    overkill = points - before if after == 0.0 and points > before else 0.0
    names, rules = (what.name, fighter.name), world.plan.wound_rules
    why = partial(_explained, what.wound, hurtbox, stats, before, rules, names, distance)
    ledger = ledger_on_demand(points, overkill, 0.0, why)
    wounded = Wounded(
        time=where.time,
        seat=seat,
        by=world.names[what.by],
        cause=what.cause,
        attack=what.name,
        kind=what.wound.kind,
        shot=what.shot,
        hitbox=what.hitbox,
        hurtbox=hurtbox.name,
        position=world.point(where.position),
        amount=points,
        ledger=ledger,
        vital_left=after,
        vital_max=stats.pools[0].maximum,
    )
    return world.emit(wounded), ledger


def _explained(
    wound: WoundTerms,
    hurtbox: HurtboxTerms,
    stats: BodyStats,
    held: float,
    rules: WoundRules,
    names: tuple[str, str],
    distance: float,
) -> tuple[tuple[Step, ...], tuple[Loss, ...]]:
    return explained(wound, hurtbox, stats, [held], rules, Circumstance(*names, distance))


def points_of_many(
    wound: WoundTerms,
    fighter: FighterPlan,
    multipliers: NDArray[np.float64],
    shares: NDArray[np.float64],
    rules: WoundRules,
) -> NDArray[np.float64]:
    """The points that reach the pools of fighters of one sort, (n,), as `combat.wound` works them out one by one.

    `shares` are what distance leaves of the wound, `multipliers` those of the hurtboxes.
    """
    stats = fighter.stats
    amounts = wound.damage * shares * multipliers
    for label, factor in wound.against:
        if label in stats.labels:
            amounts = amounts * factor
    takes = stats.damage_taken.get(wound.kind, 1.0)
    if takes != 1.0:
        amounts = amounts * takes
    reduction = stats.flat_reduction.get(wound.kind, stats.flat_reduction.get("", 0.0))
    if reduction:
        amounts = np.maximum(amounts - reduction, np.minimum(amounts, stats.min_damage))
    if rules.whole_points:
        below = np.floor(amounts)
        amounts = np.where(amounts - below >= 0.5 - HALF_SLACK, below + 1.0, below)
    return amounts
