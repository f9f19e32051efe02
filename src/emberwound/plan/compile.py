"""Compiles a rulebook for an arena and a tick rate."""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from math import cos, lcm, radians, sin
from typing import TYPE_CHECKING

from emberwound.combat.terms import WoundTerms
from emberwound.geometry.legs import MAY_TOUCH_OWNER, MAY_TOUCH_TEAM, WALL_LAYER
from emberwound.plan.plan import (
    Action,
    AfflictionPlan,
    AttackPlan,
    ChargePlan,
    EntryPlan,
    FighterPlan,
    LaunchPlan,
    Plan,
    ShotPlan,
    Stage,
    Tables,
)
from emberwound.plan.plane import PLANES, Plane
from emberwound.plan.tables import (
    Tracks,
    bounds_table,
    joint_and_offset,
    layers_of,
    model_table,
    offset_tables,
    path_tables,
    wall_tables,
)
from emberwound.rulebook.terms import body_terms, house_terms, hurtbox_terms, route_of, wound_terms
from emberwound.vocabulary.clock import exact, ticks_in

if TYPE_CHECKING:
    from emberwound.plan.plane import Vector
    from emberwound.rulebook import Rulebook
    from emberwound.rulebook.models import Affliction, Arena, Attack, Charge, Fighter, Launch, Shot
    from emberwound.vocabulary.clock import Duration

ORDER: tuple[Action, ...] = ("lunge", "release", "coast", "end")
"""Of what an attack does at one time, what it does first."""


@lru_cache(maxsize=32)
def compile_plan(rules: Rulebook, arena: str, tick_rate: int) -> Plan:
    """The plan of `rules` for one of its arenas; the same arguments give the same object.

    The arena and the tick rate are taken as already checked.
    """
    return _Compiler(rules, arena, tick_rate).plan()


class _Compiler:
    def __init__(self, rules: Rulebook, arena: str, tick_rate: int) -> None:
        self.rules = rules
        self.book = rules.book
        self.name = arena
        self.arena: Arena = self.book.arenas[arena]
        self.plane: Plane = PLANES[self.arena.plane]
        self.tick_rate = tick_rate
        self.layers = layers_of(self.book)
        self.tracks = Tracks(self.book, self.plane, tick_rate)

    def plan(self) -> Plan:
        settings, arena, plane = self.book.settings, self.arena, self.plane
        fighters = tuple(self.fighter(*each) for each in enumerate(self.book.fighters.items()))
        most = max((len(each.hurtboxes) for each in fighters), default=1)
        tables = Tables(
            bounds_table(arena, plane),
            *offset_tables(self.book, most, plane),
            self.tracks.table(),
            model_table(self.book, arena, plane),
            *path_tables(arena, plane),
            *wall_tables(arena, plane),
        )
        for name in Tables.__slots__:
            getattr(tables, name).setflags(write=False)
        low, high = plane.lift(arena.bounds.low), plane.lift(arena.bounds.high)
        floor = arena.floor if plane.has_heights else None
        launches = [attack.launch for fighter in fighters for attack in fighter.attacks if attack.launch]
        return Plan(
            arena=self.name,
            plane=plane,
            tick_rate=self.tick_rate,
            buffer_ticks=self.ticks(settings.buffer),
            max_seats=settings.max_seats,
            max_shots=settings.max_shots,
            house=house_terms(self.book, self.rules.steps),
            combo_ticks=self.seconds(settings.combo.seconds) * self.tick_rate if settings.combo else Fraction(0),
            afflictions=tuple(self.affliction(*each) for each in self.book.afflictions.items()),
            fighters=fighters,
            entries={name: EntryPlan(plane.lift(each.at), each.facing) for name, each in arena.entries.items()},
            wall_names=tuple(arena.walls),
            path_names=tuple(arena.paths),
            low=low if floor is None else (low[0], low[1], max(low[2], floor)),
            high=high,
            floor=low[2] if floor is None else max(low[2], floor),
            tables=tables,
            most_hurtboxes=most,
            most_pools=max((len(each.bears.pools) for each in fighters), default=1),
            most_attacks=max((len(each.attacks) for each in fighters), default=0),
            most_pierced=max((each.pierce for each in launches), default=0),
        )

    def ticks(self, *parts: Duration) -> int:
        """The ticks of the sum of the parts, rounded up once."""
        return ticks_in(self.seconds(*parts), self.tick_rate)

    def seconds(self, *parts: Duration) -> Fraction:
        return sum((part.seconds(self.book.settings.frame_rate) for part in parts), Fraction(0))

    def fighter(self, index: int, named: tuple[str, Fighter]) -> FighterPlan:
        name, fighter = named
        return FighterPlan(
            id=index,
            name=name,
            route=route_of(fighter),
            bears=body_terms(fighter, self.book.settings.frame_rate),
            hurtboxes=hurtbox_terms(fighter),
            attacks=tuple(self.attack(each, fighter) for each in fighter.attacks),
            speed=fighter.speed,
            radius=fighter.body.radius,
            height=fighter.body.height,
            guards=fighter.guard is not None,
            broken_ticks=self.ticks(fighter.guard.broken) if fighter.guard else 0,
            rest_pose=self.tracks.rest(fighter),
            corpse_ticks=self.ticks(fighter.corpse_seconds),
            respawn_ticks=self.ticks(fighter.respawn_seconds),
        )

    def attack(self, name: str, fighter: Fighter) -> AttackPlan:
        attack = self.book.attacks[name]
        last = attack.releases[-1]
        whole = self.seconds(attack.windup, last, attack.recovery)
        cooldown = self.seconds(attack.cooldown) if attack.cooldown else Fraction(0)
        if attack.rate is not None:
            cooldown = 1 / exact(attack.rate)
        happenings = self.happenings(attack, whole)
        period = max(cooldown * self.tick_rate, whole * self.tick_rate, Fraction(1))
        first = self.seconds(attack.windup, attack.releases[0]) * self.tick_rate
        denominator = lcm(period.denominator, first.denominator, *(at.denominator for at, _, _ in happenings))
        pools = list(fighter.pools)
        whole_ticks = ticks_in(whole, self.tick_rate)
        pose, pose_last = self.tracks.posed(fighter, attack, whole_ticks)
        return AttackPlan(
            name=name,
            wound=wound_terms(attack),
            launch=self.launch(attack.shot or attack.ray, attack, fighter),
            shot=self.shot(attack.shot),
            ray_range=attack.ray.range if attack.ray else 0.0,
            denominator=denominator,
            stages=tuple(Stage(int(at * denominator), action, index) for at, action, index in happenings),
            first=int(first * denominator),
            period=int(period * denominator),
            release_ticks=self.ticks(attack.windup, attack.releases[0]),
            whole_ticks=whole_ticks,
            cooldown_ticks=ticks_in(cooldown, self.tick_rate),
            states=frozenset(attack.while_),
            afflicts=tuple(list(self.book.afflictions).index(each) for each in attack.afflicts),
            cost=tuple((pools.index(pool), points) for pool, points in attack.cost.items()),
            charge=self.charge(attack.charge),
            lunge=self.lunge(attack),
            pose=pose,
            pose_last=pose_last,
        )

    def happenings(self, attack: Attack, whole: Fraction) -> list[tuple[Fraction, Action, int]]:
        """What the attack does, at how many ticks from its start, in order."""
        found: list[tuple[Fraction, Action, int]] = [(whole, "end", 0)]
        if attack.shot or attack.ray:
            releases = [self.seconds(attack.windup, each) for each in attack.releases]
            found += [(at, "release", index) for index, at in enumerate(releases)]
        if attack.lunge:
            at = self.seconds(attack.lunge.at)
            found.append((at, "lunge", 0))
            if attack.lunge.seconds.amount:
                found.append((at + self.seconds(attack.lunge.seconds), "coast", 0))
        found.sort(key=lambda each: (each[0], ORDER.index(each[1])))
        return [(at * self.tick_rate, action, index) for at, action, index in found]

    def affliction(self, name: str, table: Affliction) -> AfflictionPlan:
        return AfflictionPlan(
            name=name,
            wound=WoundTerms(table.damage, table.kind or ""),
            every=self.seconds(table.every) * self.tick_rate if table.every else None,
            lasts=self.seconds(table.seconds) * self.tick_rate,
            stacking=table.stacking,
            most=table.most,
            cured_by=frozenset(table.cured_by),
            speed_share=table.speed_share,
            takes_share=table.takes_share,
            guardless=table.guardless,
        )

    def charge(self, charge: Charge | None) -> ChargePlan | None:
        if charge is None:
            return None
        return ChargePlan(float(self.seconds(charge.seconds) * self.tick_rate), charge.damage, charge.speed)

    def lunge(self, attack: Attack) -> Vector:
        """The velocity of an attack's lunge, as (ahead, left, up)."""
        if attack.lunge is None:
            return (0.0, 0.0, 0.0)
        lift = radians(attack.lunge.lift_deg) if self.plane.has_heights else 0.0
        level = 0.0 if attack.lunge.lift_deg in (90.0, -90.0) else cos(lift)
        return (attack.lunge.speed * level, 0.0, attack.lunge.speed * sin(lift))

    def launch(self, launch: Launch | None, attack: Attack, fighter: Fighter) -> LaunchPlan | None:
        if launch is None:
            return None
        joint, muzzle = joint_and_offset(fighter, launch.muzzle, self.plane)
        names = self.layers if attack.layers is None else attack.layers
        layers = sum(1 << self.layers.index(name) for name in names)
        if launch.on_wall != "pass":  # type: ignore[attr-defined]
            layers |= WALL_LAYER
        options = (MAY_TOUCH_OWNER if attack.owner else 0) | (MAY_TOUCH_TEAM if attack.own_team else 0)
        return LaunchPlan(
            joint=joint,
            muzzle=muzzle,
            by_facing=launch.direction == "facing",
            lift=radians(launch.lift_deg) if self.plane.has_heights else 0.0,
            spread=radians(launch.spread_deg),
            count=launch.count,
            fan=radians(launch.fan_deg),
            pierce=launch.pierce,
            layers=layers,
            options=options,
        )

    def shot(self, shot: Shot | None) -> ShotPlan | None:
        if shot is None:
            return None
        gravity = self.arena.gravity if self.plane.has_heights else 0.0
        return ShotPlan(
            radius=shot.radius,
            speed=shot.speed,
            velocity_share=shot.velocity_share,
            gravity=shot.gravity_share * gravity,
            drag=shot.drag,
            life_ticks=self.ticks(shot.life),
            range=shot.range or 0.0,
            keep=shot.bounce.keep if shot.bounce else 0.0,
            bounces=shot.bounce.times if shot.bounce else 0,
        )
