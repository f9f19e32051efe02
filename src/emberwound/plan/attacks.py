"""Attacks compiled for a fighter: exact times, what they launch and strike with, and what may follow them."""

from __future__ import annotations

from fractions import Fraction
from math import cos, inf, lcm, radians, sin
from typing import TYPE_CHECKING, get_args

from emberwound.geometry.layout import Layer, MayTouch
from emberwound.plan.attack_plans import (
    Action,
    AttackPlan,
    BlastPlan,
    CancelWindowPlan,
    ChargeUpPlan,
    GrabPlan,
    HitboxPlan,
    HitPlan,
    HomingPlan,
    LaunchPlan,
    ShotPlan,
    Stage,
    StrikePlan,
    WindowPlan,
)
from emberwound.plan.solids import joint_and_offset
from emberwound.plan.space import SPACES
from emberwound.plan.tables import layers_of
from emberwound.plan.volumes import columns_for, stretches_of
from emberwound.rulebook.attack_timeline import AttackTimeline, NamedWindow
from emberwound.rulebook.models import OwnedHitOptions
from emberwound.rulebook.models.attacks import Muzzle
from emberwound.rulebook.terms import (
    blast_terms,
    footing_of,
    hitbox_terms,
    push_terms,
    with_overrides,
    wound_terms,
)
from emberwound.vocabulary.clock import STEERING_RATE, ticks_in

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.combat.push import PushTerms
    from emberwound.combat.terms import WoundTerms
    from emberwound.plan.space import Vector
    from emberwound.plan.tables import Tracks
    from emberwound.plan.times import Times
    from emberwound.plan.volumes import Hitboxes, Stretch
    from emberwound.rulebook import Rules
    from emberwound.rulebook.models import (
        Arena,
        Attack,
        Blast,
        ChargeUp,
        Fighter,
        HitOptions,
        Homing,
        Launch,
        Push,
        Shot,
    )

ORDER: tuple[Action, ...] = get_args(Action)


class AttackMaker:
    """Makes the plans of attacks; poses and hitboxes are gathered on the way."""

    def __init__(self, rules: Rules, arena: Arena, times: Times, tracks: Tracks, hitboxes: Hitboxes) -> None:
        self.book = rules.book
        self.arena = arena
        self.space = SPACES[arena.space]
        self.times = times
        self.tracks = tracks
        self.hitboxes = hitboxes
        self.layers = layers_of(self.book)

    def attack(self, name: str, fighter: Fighter) -> AttackPlan:
        """The plan of an attack as one fighter does it."""
        attack, rate = self.book.attacks[name], self.times.tick_rate
        timeline = AttackTimeline.of(attack, self.times.frame_rate)
        stretches = stretches_of(attack, timeline.hitboxes, self.times.frame_rate)
        happenings = _happenings(timeline, stretches, Fraction(1, rate))
        period = max(timeline.period * rate, Fraction(1))
        times = [at for at, _, _, _ in happenings] + [since for _, _, _, since in happenings if since is not None]
        times += [time for each in (*timeline.cancels, *timeline.follow_ups) for time in (each.begins, each.ends)]
        parts = lcm(period.denominator, *((time * rate).denominator for time in (timeline.first, *times)))

        def part(time: Fraction) -> int:
            return int(time * rate * parts)

        pools, whole_ticks = list(fighter.pools), ticks_in(timeline.whole, rate)
        pose, pose_last = self.tracks.posed(fighter, attack, whole_ticks)
        boxes = list(fighter.hurtboxes)
        return AttackPlan(
            name=name,
            table=attack,
            hit=self.hit(attack, wound_terms(attack)),
            launch=self.launch(attack.shot or attack.ray, attack, fighter),
            shot=self.shot(attack.shot),
            ray_range=attack.ray.range if attack.ray else 0.0,
            strike=self.strike(attack, fighter, stretches, parts),
            grab=self.grab(attack, fighter),
            blast=list(self.book.blasts).index(attack.blast) if attack.blast else -1,
            blast_at=joint_and_offset(fighter, attack.blast_at, self.space) if attack.blast_at is not None else None,
            denominator=parts,
            stages=tuple(
                Stage(part(at), action, index, None if since is None else part(since))
                for at, action, index, since in happenings
            ),
            first=part(timeline.first),
            period=int(period * parts),
            release_ticks=ticks_in(timeline.first, rate),
            whole_ticks=whole_ticks,
            cooldown_ticks=ticks_in(timeline.cooldown, rate),
            cost=tuple((pools.index(pool), points) for pool, points in attack.cost.items()),
            charge=self.charge(attack.charge),
            lunge=self.lunge(attack),
            pose=pose,
            pose_last=pose_last,
            cancel_windows=tuple(
                CancelWindowPlan(
                    fighter.all_attacks.index(press), fighter.all_attacks.index(slot), part(begins), part(ends), follows
                )
                for press, (slot, begins, ends), follows in _cancel_windows(attack, timeline)
            ),
            hides=tuple(boxes.index(each.name) for each in timeline.hidden),
        )

    def strike(self, attack: Attack, fighter: Fighter, stretches: tuple[Stretch, ...], parts: int) -> StrikePlan | None:
        """What an attack strikes with."""
        strike = attack.strike
        if strike is None:
            return None
        names, per_second = list(strike.hitboxes), self.times.tick_rate * parts
        columns = columns_for(stretches, Fraction(1, self.times.tick_rate))
        return StrikePlan(
            hitboxes=tuple(
                HitboxPlan(name, self.hit(with_overrides(attack, box), hitbox_terms(attack, box)))
                for name, box in strike.hitboxes.items()
            ),
            windows=tuple(
                WindowPlan(
                    hitbox=names.index(each.window.name),
                    opens=int(each.begins * per_second),
                    closes=int(each.ends * per_second),
                    entry=self.hitboxes.add(attack, each, fighter),
                    column=column,
                )
                for each, column in zip(stretches, columns, strict=True)
            ),
            rehit=self.times.rehit_ticks(strike.rehit_every),
            leaves=self.times.leave_ticks(strike.rehit_every, strike.leave_seconds),
            walls_block=strike.on_wall == "block",
            reflects=strike.reflects,
        )

    def pushes(self, push: Push | None) -> tuple[PushTerms, ...]:
        """A push on each of the book's fighters, in their order."""
        if push is None:
            return ()
        footings = [footing_of(each, self.arena) for each in self.book.bodies.values()]
        return tuple(push_terms(push, each, self.times.frame_rate, self.arena.space) for each in footings)

    def blast(self, name: str, blast: Blast) -> BlastPlan:
        """The plan of a blast."""
        return BlastPlan(
            name=name,
            table=blast,
            hit=self.hit(blast, blast_terms(blast)),
        )

    def hit(self, options: HitOptions, wound: WoundTerms) -> HitPlan:
        """What a hit of an attack, a hitbox, a blast or a hazard does, its wound in terms."""
        names, may_touch = self.layers if options.layers is None else options.layers, 0
        if isinstance(options, OwnedHitOptions):
            may_touch = (MayTouch.OWNER if options.hits_owner else 0) | (MayTouch.TEAM if options.hits_allies else 0)
        return HitPlan(
            wound=wound,
            pushes=self.pushes(options.push),
            afflicts=tuple(list(self.book.afflictions).index(each) for each in options.afflicts),
            stop_ticks=self.times.ticks(options.hit_stop),
            layers=sum(1 << self.layers.index(name) for name in names) | (Layer.CORPSE if wound.revives else 0),
            options=may_touch,
            grabs=getattr(options, "grab", None) is not None,
        )

    def grab(self, attack: Attack, fighter: Fighter) -> GrabPlan | None:
        """How an attack holds whom it hits."""
        if attack.grab is None:
            return None
        ticks = self.times.ticks(attack.grab.seconds)
        return GrabPlan(*joint_and_offset(fighter, attack.grab.at, self.space), ticks, attack.grab.break_damage)

    def charge(self, charge: ChargeUp | None) -> ChargeUpPlan | None:
        """How holding an attack makes it stronger."""
        if charge is None:
            return None
        return ChargeUpPlan(float(self.times.exact_ticks(charge.seconds)), charge.damage, charge.speed)

    def lunge(self, attack: Attack) -> Vector:
        """The velocity of an attack's lunge, as (ahead, left, up)."""
        if attack.lunge is None:
            return (0.0, 0.0, 0.0)
        lift = radians(attack.lunge.lift_deg) if self.space.has_heights else 0.0
        level = 0.0 if attack.lunge.lift_deg in (90.0, -90.0) else cos(lift)
        return (attack.lunge.speed * level, 0.0, attack.lunge.speed * sin(lift))

    def launch(self, launch: Launch | None, attack: Attack, fighter: Fighter) -> LaunchPlan | None:
        """The muzzle and the direction of what an attack launches."""
        if launch is None:
            return None
        held = launch.muzzle if isinstance(launch.muzzle, Muzzle) else None
        joint, muzzle = joint_and_offset(fighter, held.joint if held else launch.muzzle, self.space)  # type: ignore[arg-type]
        if held:
            muzzle = self.space.offset(held.offset)
        layers = self.hit(attack, wound_terms(attack)).layers
        if launch.on_wall != "pass":  # type: ignore[attr-defined]
            layers |= Layer.WALL
        return LaunchPlan(
            table=launch,
            joint=joint,
            muzzle=muzzle,
            turns=held is not None and held.turns,
            lift=radians(launch.lift_deg) if self.space.has_heights else 0.0,
            spread=radians(launch.spread_deg),
            fan=radians(launch.fan_deg),
            layers=layers,
        )

    def shot(self, shot: Shot | None) -> ShotPlan | None:
        """How the projectile of an attack flies."""
        if shot is None:
            return None
        gravity = self.arena.gravity if self.space.has_heights else 0.0
        return ShotPlan(
            table=shot,
            gravity=shot.gravity_share * gravity,
            life_ticks=self.times.ticks(shot.life),
            range=shot.range or 0.0,
            restitution=shot.bounce.restitution if shot.bounce else 0.0,
            bounces=shot.bounce.times if shot.bounce else 0,
            health=shot.health or 0.0,
            homing=homing_plan(shot.homing),
        )


def homing_plan(homing: Homing | None) -> HomingPlan | None:
    """How a shot homes."""
    if homing is None:
        return None
    return HomingPlan(radians(homing.turn_deg) / STEERING_RATE, inf if homing.range is None else homing.range)


Happening = tuple[Fraction, Action, int, Fraction | None]
"""When an attack does what, which of its kind, and since when what ends then lasted."""


def _happenings(timeline: AttackTimeline, stretches: Sequence[Stretch], tick: Fraction) -> list[Happening]:
    """What an attack does, in seconds from its start, in order.

    A hitbox is laid out a tick before the one that its time rounds up to, so that it is there when that begins within
    a tick.
    """
    found: list[Happening] = [(timeline.whole, "end", 0, None)]
    found += [(at, "release", index, None) for index, at in enumerate(timeline.releases)]
    pairs: tuple[tuple[tuple[NamedWindow, ...], Action, Action], ...] = (
        (timeline.invulnerable, "shield", "bare"),
        (timeline.hidden, "hide", "show"),
    )
    for windows, begins, ends in pairs:
        for index, each in enumerate(windows):
            found += [(each.begins, begins, index, None), (each.ends, ends, index, each.begins)]
    for index, stretch in enumerate(stretches):
        found += [(stretch.begins - tick, "open", index, None), (stretch.ends, "close", index, None)]
    if timeline.lunge:
        found.append((timeline.lunge.begins, "lunge", 0, None))
        if timeline.lunge.ends > timeline.lunge.begins:
            found.append((timeline.lunge.ends, "coast", 0, None))
    found.sort(key=lambda each: (each[0], ORDER.index(each[1])))
    return found


def _cancel_windows(attack: Attack, timeline: AttackTimeline) -> list[tuple[str, NamedWindow, bool]]:
    """Which press leads where and when: follow-ups before cancels."""
    follow_ups = [(attack.follow_ups[each.name].press or each.name, each, True) for each in timeline.follow_ups]
    return follow_ups + [(each.name, each, False) for each in timeline.cancels]
