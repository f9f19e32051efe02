"""How attacks leave, how far and how high they come, and what they pass."""

from __future__ import annotations

from math import dist, exp, inf, sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import distance, extent, whole_extent
from emberwound.plan.stances import Stance, at_rest, hitbox_solid, hurtbox_solids, muzzle_place, wall_solid

if TYPE_CHECKING:
    from emberwound.plan import Plan
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.rulebook.models import Arena, Shot
    from emberwound.study.check.survey import Survey, Use


LONG_FLIGHT = 20.0
"""A shot that can fly for so many seconds is reported."""

LONG_WAIT = 1.0
"""So is an attack of which nothing is seen for so many seconds."""


def check_launches(survey: Survey) -> None:
    """Every attack by itself, then as the seats of the book's bouts use it."""
    for attack in survey.book.attacks:
        _late(survey, attack)
        _endless(survey, attack)
    told: set[tuple[str, str]] = set()
    for use in survey.uses:
        plan = compile_plan(survey.rules, survey.book.bouts[use.bout].arena, survey.book.settings.tick_rate)
        seat = survey.book.bouts[use.bout].seats[use.seat]
        body = plan.fighter(seat.fighter)
        planned = planned_attack(body, use.attack)
        if body is None or planned is None:
            continue
        _in_wall(survey, use, plan, body, planned)
        if (seat.fighter, use.attack) not in told:
            told.add((seat.fighter, use.attack))
            _muzzle(survey, plan, body, planned)


def planned_attack(body: FighterPlan | None, name: str) -> AttackPlan | None:
    """An attack of a fighter by its name."""
    return next((each for each in body.attacks if each.name == name), None) if body else None


def _late(survey: Survey, attack: str) -> None:
    timeline = survey.timeline(attack)
    table = survey.book.attacks[attack]
    first = float(timeline.first)
    if first > LONG_WAIT and survey.does_hit(table):
        what = f"what it does first comes {first:.3g} s after the press"
        survey.add("late-release", f"attacks.{attack}.windup", what, "a shorter windup")
        return
    releases = [float(each) for each in timeline.releases]
    cooldown = float(timeline.cooldown)
    if len(releases) > 1 and releases[-1] - releases[0] > max(LONG_WAIT, cooldown):
        what = f"its last release comes {releases[-1]:.3g} s after the press"
        survey.add("late-release", f"attacks.{attack}.releases", what, "earlier releases")


def _endless(survey: Survey, attack: str) -> None:
    shot = survey.book.attacks[attack].shot
    if shot is None:
        return
    life = survey.seconds(shot.life)
    if life <= LONG_FLIGHT or (shot.range is not None and shot.drag == 0.0 and shot.range / shot.speed <= LONG_FLIGHT):
        return
    flies = max((_crossing(shot, arena) for arena in survey.book.arenas.values()), default=inf)
    if min(life, flies) > LONG_FLIGHT:
        what = f"nothing ends it for {min(life, flies):.3g} s"
        survey.add("endless-shot", f"attacks.{attack}.shot.life", what, "a life of a few seconds, or a range")


def _crossing(shot: Shot, arena: Arena) -> float:
    """Seconds in which a shot leaves an arena at the latest; inf for one that may stay in it."""
    falls = arena.space != "top" and arena.gravity * shot.gravity_share > 0.0
    if falls and shot.on_wall != "bounce":
        height = arena.bounds.high[-1] - arena.bounds.low[-1]
        pull = arena.gravity * shot.gravity_share
        return (shot.speed + sqrt(shot.speed**2 + 2.0 * pull * height)) / pull
    if shot.drag > 0.0 or shot.on_wall == "bounce" or shot.homing is not None:
        return inf
    return dist(arena.bounds.low, arena.bounds.high) / shot.speed


def _in_wall(survey: Survey, use: Use, plan: Plan, body: FighterPlan, attack: AttackPlan) -> None:
    """The muzzle of a seat that stays where it entered lies in a wall, below the floor or outside the arena."""
    bout = survey.book.bouts[use.bout]
    seat = bout.seats[use.seat]
    if attack.launch is None or attack.launch.turns or not survey.stays(use.bout, use.seat):
        return
    place = plan.space.lift(survey.place_of(use.bout, seat))
    facings = [order.facing for order in bout.orders if order.seat == use.seat and order.facing is not None]
    aims = [order.aim for order in bout.orders if order.seat == use.seat and order.aim is not None]
    if facings or (aims and plan.space.looks_around) or len({aim[0] < 0 for aim in aims}) > 1:
        return
    entry = survey.arena_of(use.bout).entries.get(seat.at) if isinstance(seat.at, str) else None
    facing = seat.facing if seat.facing is not None else entry.facing if entry else "right"
    facing = ("left" if aims[0][0] < 0 else "right") if aims else facing
    muzzle = muzzle_place(plan, attack.launch, at_release(plan, body, attack, place, plan.space.heading(facing)))
    for index, wall in enumerate(plan.wall_names):
        if distance(muzzle, wall_solid(plan, index)) < 0.0:
            what = f"the muzzle of {use.seat} in {use.bout} lies in the wall {wall}"
            survey.add(
                "muzzle-in-wall",
                _muzzle_key(survey, use.attack),
                what,
                "a muzzle nearer to the body, or stand further away",
            )
            return
    if plan.space.has_heights and muzzle[2] < plan.floor:
        what = f"the muzzle of {use.seat} in {use.bout} lies {plan.floor - muzzle[2]:.3g} below the floor"
        survey.add("muzzle-in-wall", _muzzle_key(survey, use.attack), what, "a higher muzzle")


def _muzzle_key(survey: Survey, attack: str) -> str:
    return f"attacks.{attack}.{'shot' if survey.book.attacks[attack].shot else 'ray'}.muzzle"


def at_release(
    plan: Plan, body: FighterPlan, attack: AttackPlan, place: tuple[float, ...], heading: tuple[float, float]
) -> Stance:
    """How a fighter that stands somewhere holds itself as an attack of it releases."""
    rest = at_rest(plan, body, place, heading)
    if not attack.pose_last:
        return rest
    return rest._replace(pose=attack.pose + min(attack.release_ticks, attack.pose_last))


def _muzzle(survey: Survey, plan: Plan, body: FighterPlan, attack: AttackPlan) -> None:
    """A muzzle behind its owner, or within a hurtbox of its owner that it hits."""
    if attack.launch is None:
        return
    stance = at_release(plan, body, attack, (0.0, 0.0, 0.0), (1.0, 0.0))
    muzzle = muzzle_place(plan, attack.launch, stance)
    if muzzle[0] < 0.0:
        what = f"as it leaves, its muzzle lies {-muzzle[0]:.3g} behind the middle of {body.name}"
        survey.add("muzzle-behind", _muzzle_key(survey, attack.name), what, "an offset ahead: its first number above 0")
    if not survey.book.attacks[attack.name].hits_owner:
        return
    radius = attack.shot.table.radius if attack.shot else 0.0
    for part, solid in hurtbox_solids(plan, body.id, stance).items():
        if distance(muzzle, solid) < radius:
            what = f"its muzzle lies in the hurtbox {body.hurtboxes[part].name} of {body.name}, and hits_owner is true"
            survey.add(
                "hits-own-body", _muzzle_key(survey, attack.name), what, "a muzzle outside, or hits_owner = false"
            )
            return


LEVEL = 0.1
"""Seats whose heights differ by less stand on the same ground."""


def check_reach(survey: Survey) -> None:
    """Every attack as the seats of the book's bouts use it."""
    for use in survey.uses:
        bout = survey.book.bouts[use.bout]
        plan = compile_plan(survey.rules, bout.arena, survey.book.settings.tick_rate)
        body = plan.fighter(bout.seats[use.seat].fighter)
        attack = planned_attack(body, use.attack)
        _short(survey, use)
        if body is not None and attack is not None:
            _too_high(survey, use, plan, body, attack)


def _reach(survey: Survey, shot: Shot, arena: Arena) -> float:
    """How far a shot can come at the most, from its muzzle, over level ground."""
    life = survey.seconds(shot.life)
    far = (1.0 - exp(-shot.drag * life)) / shot.drag * shot.speed if shot.drag else shot.speed * life
    pull = arena.gravity * shot.gravity_share
    if arena.space != "top" and pull > 0.0 and shot.on_wall != "bounce":
        drop = max(arena.bounds.high[-1] - arena.bounds.low[-1], 0.0)
        far = min(far, shot.speed / pull * sqrt(shot.speed**2 + 2.0 * pull * drop))
    return min(far, inf if shot.range is None else shot.range)


def _short(survey: Survey, use: Use) -> None:
    """A shot or a ray that a seat which stays cannot send as far as to anybody who stays."""
    book, bout = survey.book, survey.book.bouts[use.bout]
    table, seat = book.attacks[use.attack], bout.seats[use.seat]
    launch, arena = table.shot or table.ray, survey.arena_of(use.bout)
    victims = {name for way in survey.ways(use.attack) for name in survey.victims(use, way) if name != use.seat}
    there = [name for name in bout.seats if name in victims and survey.stays(use.bout, name)]
    if launch is None or not there or len(there) < len(victims) or not survey.stays(use.bout, use.seat):
        return
    reach = _reach(survey, table.shot, arena) if table.shot else table.ray.range if table.ray else 0.0
    reach *= max(table.charge.speed, 1.0) if table.charge else 1.0
    reach += book.blasts[table.blast].radius if table.blast else 0.0
    axes = slice(None) if arena.space == "top" else slice(-1)
    here, own = survey.place_of(use.bout, seat)[axes], book.fighters[seat.fighter].body.height
    gaps = {}
    for name in there:
        other = bout.seats[name]
        far = dist(here, survey.place_of(use.bout, other)[axes])
        gaps[name] = far - book.fighters[other.fighter].body.radius - own
    nearest = min(gaps, key=lambda name: gaps[name])
    if gaps[nearest] > reach:
        part = "range" if launch.range is not None and reach >= launch.range else "life"
        what = f"in {use.bout} it comes {reach:.3g} far, and {nearest}, the nearest, stands {gaps[nearest]:.3g} away"
        key = f"attacks.{use.attack}.{'shot' if table.shot else 'ray'}.{part}"
        survey.add("short-shot", key, what, f"a {part} or a speed for {gaps[nearest]:.3g} and more")


def _too_high(survey: Survey, use: Use, plan: Plan, body: FighterPlan, attack: AttackPlan) -> None:
    """A strike, or what flies level, that passes over or under all who stand on the same ground."""
    bout = survey.book.bouts[use.bout]
    if not plan.space.has_heights or attack.table.throw or attack.lunge != (0.0, 0.0, 0.0):
        return
    victims = {name for way in survey.ways(use.attack) for name in survey.victims(use, way) if name != use.seat}
    fighters = {bout.seats[name].fighter for name in victims if name in bout.seats}
    if not fighters or len(victims) != len([name for name in victims if name in bout.seats]):
        return
    span = _span(plan, body, attack)
    if span is None:
        return
    heights = {}
    for name in fighters:
        other = plan.fighter(name)
        if other is not None:
            boxes = hurtbox_solids(plan, other.id, at_rest(plan, other, (0.0, 0.0, 0.0), (1.0, 0.0)))
            if not boxes:
                continue
            whole = whole_extent(boxes.values())
            heights[name] = (float(whole.low[2]), float(whole.high[2]))
    if (
        heights
        and all(span[0] > high or span[1] < low for low, high in heights.values())
        and _same_ground(survey, use, victims)
    ):
        name, (low, high) = next(iter(heights.items()))
        what = f"it lies from {span[0]:.3g} to {span[1]:.3g} above the ground, and {name} from {low:.3g} to {high:.3g}"
        survey.add("unreachable-height", f"attacks.{use.attack}", what, "move it to their height")


def _same_ground(survey: Survey, use: Use, victims: set[str]) -> bool:
    bout = survey.book.bouts[use.bout]
    own = survey.place_of(use.bout, bout.seats[use.seat])[-1]
    return all(abs(survey.place_of(use.bout, bout.seats[name])[-1] - own) < LEVEL for name in victims)


def _span(plan: Plan, body: FighterPlan, attack: AttackPlan) -> tuple[float, float] | None:
    """The heights between which an attack touches, where that does not depend on an aim."""
    rest = at_rest(plan, body, (0.0, 0.0, 0.0), (1.0, 0.0))
    if attack.strike is not None and attack.blast < 0:
        low, high = inf, -inf
        for window in attack.strike.windows:
            for share in np.linspace(0.0, 1.0, 17):
                each = extent(hitbox_solid(plan, window.entry, rest, float(share)))
                low, high = min(low, float(each.low[2])), max(high, float(each.high[2]))
        return low, high
    launch, shot = attack.launch, attack.shot
    if launch is None or launch.table.direction != "facing" or launch.lift or launch.spread or attack.blast >= 0:
        return None
    if shot is not None and (shot.gravity or shot.homing or shot.bounces):
        return None
    muzzle = muzzle_place(plan, launch, at_release(plan, body, attack, (0.0, 0.0, 0.0), (1.0, 0.0)))
    radius = shot.table.radius if shot else 0.0
    return float(muzzle[2]) - radius, float(muzzle[2]) + radius
