"""Compiles a rulebook for an arena and a tick rate."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np

from emberwound.combat.terms import HurtboxTerms, WoundTerms
from emberwound.geometry.layout import RagdollColumn, RagdollMark
from emberwound.plan.attack_plans import AfflictionPlan, HitPlan
from emberwound.plan.attacks import AttackMaker
from emberwound.plan.bars import bar_plans, counter_plan, counter_table, cue_plans
from emberwound.plan.fighter_plans import FighterPlan, RagdollPlan, StagePlan
from emberwound.plan.plan import EntryPlan, Plan, PropPlan, Tables
from emberwound.plan.solids import joint_and_offset
from emberwound.plan.space import SPACES, Space
from emberwound.plan.tables import (
    Tracks,
    bounds_table,
    hidden_table,
    layers_of,
    model_table,
    multiplier_table,
    offset_tables,
    path_tables,
    postures_of,
    reach_of,
    wall_tables,
)
from emberwound.plan.times import Times
from emberwound.plan.volumes import Hitboxes, area_tables, checkpoint_plan, clearance_of, hazard_plan, pickup_plan
from emberwound.rulebook.terms import (
    hurtbox_terms,
    reaction_terms,
    route_of,
    stagger_terms,
    stats_of,
    wound_rules_of,
)
from emberwound.vocabulary.events import WHOLE_BODY
from emberwound.vocabulary.limits import SHOT_LAYER

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.rulebook import Rules
    from emberwound.rulebook.models import Affliction, Arena, Attack, Fighter


@lru_cache(maxsize=32)
def compile_plan(rules: Rules, arena: str, tick_rate: int) -> Plan:
    """The plan of `rules` for one of its arenas; the same arguments give the same object.

    The arena and the tick rate are taken as already checked.
    """
    return _Compiler(rules, arena, tick_rate).plan()


class _Compiler:
    def __init__(self, rules: Rules, arena: str, tick_rate: int) -> None:
        self.rules = rules
        self.book = rules.book
        self.name = arena
        self.arena: Arena = self.book.arenas[arena]
        self.space: Space = SPACES[self.arena.space]
        self.tick_rate = tick_rate
        self.times = Times(self.book.settings.frame_rate, tick_rate)
        self.tracks = Tracks(self.book, self.space, tick_rate)
        self.hitboxes = Hitboxes(self.space, self.tracks, tick_rate)
        self.attacks = AttackMaker(rules, self.arena, self.times, self.tracks, self.hitboxes)

    def plan(self) -> Plan:
        settings, arena, space = self.book.settings, self.arena, self.space
        fighters = tuple(self.fighter(*each) for each in enumerate(self.book.bodies.items()))
        most = max((len(each.hurtboxes) for each in fighters), default=1)
        ragdolls, ragdoll_marks, links, lengths = ragdoll_tables(fighters)
        tables = Tables(
            bounds_table(arena, space),
            *offset_tables(self.book, most, space),
            hidden_table(self.book),
            multiplier_table(fighters, most),
            self.tracks.table(),
            model_table(self.book, arena, space),
            *path_tables(arena, space),
            ragdolls,
            ragdoll_marks,
            links,
            lengths,
            *wall_tables(arena, space),
            *self.hitboxes.tables(),
            *area_tables(arena, space, self.times, layers_of(self.book), clearance_of(self.book)),
            counter_table(self.book),
        )
        for name in Tables.__slots__:
            getattr(tables, name).setflags(write=False)
        low, high = space.lift(arena.bounds.low), space.lift(arena.bounds.high)
        floor = arena.floor if space.has_heights else None
        cues = cue_plans(self.book, settings.max_seats + len(arena.props))
        attacks = [attack for fighter in fighters for attack in fighter.attacks]
        launches = [attack.launch for attack in attacks if attack.launch]
        return Plan(
            arena=self.name,
            space=space,
            tick_rate=self.tick_rate,
            buffer_ticks=self.times.ticks(settings.buffer),
            max_seats=settings.max_seats + len(arena.props),
            max_shots=settings.max_shots,
            wound_rules=wound_rules_of(self.book, self.rules.steps),
            combo_ticks=float(self.times.exact_ticks(settings.combo.seconds)) if settings.combo else 0.0,
            trade_ticks=float(self.times.exact_ticks(settings.trade_window)),
            credit_seconds=float(settings.credit_seconds.seconds(settings.frame_rate)),
            longest_hit_stop_ticks=self.times.ticks(settings.longest_hit_stop),
            revives=any(each.revive for each in self.book.attacks.values()),
            kinds=tuple(self.book.kinds),
            has_postures=any(each.postures for each in self.book.fighters.values()),
            afflictions=tuple(self.affliction(*each) for each in self.book.afflictions.items()),
            counters=tuple(counter_plan(*each) for each in self.book.counters.items()),
            board=tuple(list(self.book.counters).index(each) for each in settings.board),
            cues=cues,
            spread_attacks=tuple(name for name, each in self.book.attacks.items() if _spreads(each)),
            cued=frozenset(event for cue in cues for event in cue.on),
            fighters=fighters,
            entries={name: EntryPlan(space.lift(each.at), each.facing) for name, each in arena.entries.items()},
            wall_names=tuple(arena.all_walls),
            shot_layer=1 << layers.index(SHOT_LAYER) if SHOT_LAYER in (layers := layers_of(self.book)) else 0,
            props=tuple(
                PropPlan(name, each.prop, space.lift(each.at), each.facing) for name, each in arena.props.items()
            ),
            hazards=tuple(hazard_plan(*each, self.times, self.attacks.hit) for each in arena.hazards.items()),
            checkpoints=tuple(checkpoint_plan(*each, space) for each in arena.checkpoints.items()),
            pickups=tuple(pickup_plan(self.book, *each, self.times) for each in arena.pickups.items()),
            latest_checkpoint=arena.checkpoint_rule == "latest",
            respawn_entry=arena.respawn_entry,
            path_names=tuple(arena.paths),
            blasts=tuple(self.attacks.blast(*each) for each in self.book.blasts.items()),
            low=low if floor is None else (low[0], low[1], max(low[2], floor)),
            high=high,
            floor=low[2] if floor is None else max(low[2], floor),
            bodies_separate=arena.body_contact == "separate",
            on_elimination=arena.on_elimination,
            elimination_team=arena.elimination_team,
            elimination_ticks=self.times.ticks(arena.elimination_seconds),
            awaits_late_seats=(
                arena.on_elimination == "last_team" if arena.awaits_late_seats is None else arena.awaits_late_seats
            ),
            elimination_message=arena.elimination_message,
            tables=tables,
            most_hurtboxes=most,
            most_pools=max((1, *(len(each.stats.pools) for each in fighters))),
            most_attacks=max((len(each.attacks) for each in fighters), default=0),
            most_pierced=max((each.table.pierce for each in launches), default=0),
            most_ragdoll_points=max((len(each.ragdoll.names) for each in fighters if each.ragdoll), default=0),
            most_bars=max((len(each.bars) for each in fighters), default=0),
            most_reactions=max((len(each.reactions) for each in fighters), default=0),
            most_hitboxes=max((each.strike.columns for each in attacks if each.strike), default=0),
        )

    def fighter(self, index: int, named: tuple[str, Fighter]) -> FighterPlan:
        name, fighter = named
        reach, lowest, highest = reach_of(fighter, self.space)
        return FighterPlan(
            id=index,
            name=name,
            table=fighter,
            is_prop=name in self.book.props,
            route=route_of(fighter),
            stats=stats_of(fighter, self.book.settings.frame_rate),
            hurtboxes=hurtbox_terms(fighter),
            whole_body=HurtboxTerms(WHOLE_BODY, 1.0, route_of(fighter)),
            area_hurtboxes=tuple(
                HurtboxTerms(WHOLE_BODY, 1.0, route_of(fighter), each.push_share) for each in fighter.hurtboxes.values()
            ),
            attacks=tuple(self.attacks.attack(each, fighter) for each in fighter.all_attacks),
            first_attacks=(1 << len(fighter.attacks)) - 1,
            stages=stage_plans(fighter),
            radius=fighter.body.radius,
            height=fighter.body.height,
            reach=reach,
            lowest=lowest,
            highest=highest,
            guards=fighter.guard is not None,
            broken_ticks=self.times.ticks(fighter.guard.broken) if fighter.guard else 0,
            joints=tuple(fighter.joints),
            postures=postures_of(fighter),
            posture_paces=(1.0, 1.0, *(each.speed_share for each in fighter.postures.values())),
            rest_poses=self.tracks.rests(fighter),
            corpse_ticks=self.times.ticks(fighter.corpse_seconds),
            respawn_ticks=self.times.ticks(fighter.respawn_seconds),
            protected_ticks=self.times.ticks(fighter.respawn_protection),
            reactions=reaction_terms(fighter, self.times.frame_rate),
            reaction_ticks=tuple(self.times.ticks(each.seconds) for each in fighter.reactions),
            ragdoll=ragdoll_plan(fighter, self.space),
            death_blast=list(self.book.blasts).index(fighter.death_blast) if fighter.death_blast else -1,
            stagger_resistance=stagger_terms(fighter, self.times.frame_rate),
            bars=bar_plans(self.book, fighter, self.space),
        )

    def affliction(self, name: str, table: Affliction) -> AfflictionPlan:
        return AfflictionPlan(
            name=name,
            hit=HitPlan(WoundTerms(table.damage, table.kind or "")),
            every=self.times.exact_ticks(table.every) if table.every else None,
            lasts=self.times.exact_ticks(table.seconds),
            table=table,
        )


def _spreads(attack: Attack) -> bool:
    launch = attack.shot or attack.ray
    return launch is not None and launch.spread_deg > 0.0


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
        found.append(StagePlan(stage.name, stage, pool, allowed))
    return tuple(found)


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
