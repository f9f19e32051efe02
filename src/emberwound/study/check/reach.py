"""How far and how high attacks come: shots that end too soon, and what passes over or under everybody."""

from __future__ import annotations

from math import dist, exp, inf, sqrt
from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import at_rest, hitbox_solid, hurtbox_solids, muzzle_place
from emberwound.study.check.launches import at_release, planned_attack
from emberwound.study.shapes import extent, whole_extent

if TYPE_CHECKING:
    from emberwound.plan import Plan
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.rulebook.models import Arena, Shot
    from emberwound.study.check.survey import Survey, Use

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
    if not plan.space.has_heights or attack.throws or attack.lunge != (0.0, 0.0, 0.0):
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
    if launch is None or not launch.by_facing or launch.lift or launch.spread or attack.blast >= 0:
        return None
    if shot is not None and (shot.gravity or shot.homing or shot.bounces):
        return None
    muzzle = muzzle_place(plan, launch, at_release(plan, body, attack, (0.0, 0.0, 0.0), (1.0, 0.0)))
    radius = shot.radius if shot else 0.0
    return float(muzzle[2]) - radius, float(muzzle[2]) + radius
