"""What stands wrong in an arena, and what a bout there is held by."""

from __future__ import annotations

from math import dist, radians, sin
from typing import TYPE_CHECKING

import numpy as np

from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import Solid, extent, gap, whole_extent
from emberwound.plan.stances import area_solids, at_rest, hurtbox_solids, moving_hazards, wall_solid
from emberwound.rulebook.checks.arenas import has_ground
from emberwound.study.check.survey import seat_key
from emberwound.vocabulary.clock import Duration

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.rulebook.models import Arena, BoutTable
    from emberwound.study.check.survey import Survey
    from emberwound.vocabulary.orders import Facing


NOWHERE, AHEAD = (0.0, 0.0, 0.0), (1.0, 0.0)

QUICK = 0.05
"""Wounds that come faster than this many seconds after each other look like a drain."""

UNBOUNDED = 1e9
"""Stands for a side from which nobody comes."""

CLOSE = 1e-6
"""Of its radius: a body that reaches less deep into a wall stands at it."""

DROP = 0.25
"""Who respawns so far above the ground is said to fall."""


def check_arenas(survey: Survey) -> None:
    """Every arena of the book."""
    _quick_strikes(survey)
    for name, arena in survey.book.arenas.items():
        plan = compile_plan(survey.rules, name, survey.book.settings.tick_rate)
        bodies = [body for each, _ in survey.fighters_in(name) if (body := plan.fighter(each)) is not None]
        bodies = [body for body in bodies if hurtbox_solids(plan, body.id, at_rest(plan, body, NOWHERE, AHEAD))]
        if not bodies:
            continue
        _hazards(survey, name, arena, plan, bodies)
        _places(survey, name, arena, plan, bodies)
        _checkpoints(survey, name, arena, plan, bodies)


def _quick_strikes(survey: Survey) -> None:
    for name, attack in survey.book.attacks.items():
        every = attack.strike.rehit_every if attack.strike else None
        if isinstance(every, Duration) and survey.seconds(every) < QUICK:
            what = f"it touches the same victim again after {survey.seconds(every):.3g} s"
            key = f"attacks.{name}.strike.rehit_every"
            survey.add("hazard-every-tick", key, what, 'leave it out: once a swing; or rehit_every = "leave"')


def _hazards(survey: Survey, name: str, arena: Arena, plan: Plan, bodies: Sequence[FighterPlan]) -> None:
    solids = area_solids(plan)
    moving = moving_hazards(plan)
    for index, (each, hazard) in enumerate(arena.hazards.items()):
        key = f"arenas.{name}.hazards.{each}"
        every = hazard.rehit_every
        if isinstance(every, Duration) and survey.seconds(every) < QUICK and not hazard.fatal:
            what = (
                f"it wounds again after {survey.seconds(every):.3g} s: {1 / survey.seconds(every):.3g} times a second"
            )
            survey.add("hazard-every-tick", f"{key}.rehit_every", what, '0.5 and more, or "leave": once until left')
        if index in moving or hazard.solid:
            continue
        wall = _covered(plan, solids[index][0], bodies)
        if wall is not None:
            what = f"it lies within the wall {wall}, which stops every body before its hurtboxes touch it"
            survey.add(
                "hazard-behind-wall", key, what, "give it solid = true and leave the wall out, or make it larger"
            )


def _covered(plan: Plan, area: Solid, bodies: Sequence[FighterPlan]) -> str | None:
    """The wall that keeps all these bodies' hurtboxes from an area, if one does."""
    inner = extent(area)
    for index, wall in enumerate(plan.wall_names):
        solid = wall_solid(plan, index)
        if len(solid.axes) and abs(abs(solid.axes[0][0]) - 1.0) > 1e-9:
            continue
        outer = extent(solid)
        on_ground = outer.low[2] - plan.floor < min(body.height for body in bodies)  # nobody stands below it
        shorts = [_short_of(plan, body) for body in bodies]
        if all(outer.grown((*low[:2], UNBOUNDED if on_ground else low[2]), high).holds(inner) for low, high in shorts):
            return wall
    return None


def _short_of(plan: Plan, body: FighterPlan) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """By how much hurtboxes fall short of a wall at its low sides and at its high sides; below 0 they reach into it."""
    boxes = hurtbox_solids(plan, body.id, at_rest(plan, body, (0.0, 0.0, 0.0), (1.0, 0.0)))
    low, high = whole_extent(boxes.values())
    side = body.radius - max(float(high[0]), float(-low[0]))
    across = side if plan.space.looks_around else UNBOUNDED
    below = body.height - float(high[2])
    above = float(low[2])
    return (side, across, below if plan.space.has_heights else UNBOUNDED), (
        side,
        across,
        above if plan.space.has_heights else UNBOUNDED,
    )


def _places(survey: Survey, name: str, arena: Arena, plan: Plan, bodies: Sequence[FighterPlan]) -> None:
    """Where fighters enter must not be in a hazard; who respawns stands clear of all by itself."""
    places: dict[str, tuple[Sequence[float], Facing | None, Sequence[FighterPlan]]] = {}
    for bout_name, bout in survey.bouts_of(name):
        for seat_name, seat in bout.seats.items():
            body = plan.fighter(seat.fighter)
            by_name = isinstance(seat.at, str)
            key = f"arenas.{name}.entries.{seat.at}.at" if by_name else f"bouts.{bout_name}.seats.{seat_name}.at"
            if body is not None:
                places.setdefault(key, (survey.place_of(bout_name, seat), seat.facing, [body]))
    if not survey.bouts_of(name):
        places |= {
            f"arenas.{name}.entries.{each}.at": (entry.at, entry.facing, bodies)
            for each, entry in arena.entries.items()
        }
    solids, moving = area_solids(plan), moving_hazards(plan)
    hazards = [
        (hazard_name, hazard, solids[index][0])
        for index, (hazard_name, hazard) in enumerate(arena.hazards.items())
        if index not in moving and (hazard.fatal or hazard.damage > 0.0)
    ]
    for key, (place, facing, stand) in places.items():
        _in_wall(survey, key, place, plan, stand)
        for hazard_name, hazard, solid in hazards:
            hit = next((body for body in stand if _touches(plan, body, place, facing or "right", solid)), None)
            if hit is not None:
                what = f"{hit.name} there stands in the hazard {hazard_name}"
                what += ", which is fatal" if hazard.fatal else f", which takes {hazard.damage:g}"
                mild = not hazard.fatal
                survey.add("fatal-entry", key, what, "another place, or a smaller hazard", "warning" if mild else None)
                break


def _in_wall(survey: Survey, key: str, place: Sequence[float], plan: Plan, stand: Sequence[FighterPlan]) -> None:
    """An entry where a body overlaps a wall."""
    feet = np.array(plan.space.lift(place))
    for body in stand:
        up = np.array((0.0, 0.0, 1.0))
        top = feet + max(body.height - body.radius, body.radius) * up
        trunk = Solid.capsule(feet + body.radius * up, top, body.radius)
        for index, wall in enumerate(plan.wall_names):
            deep = -gap(trunk, wall_solid(plan, index))
            if deep > CLOSE * body.radius:
                what = f"the body of {body.name}, {2.0 * body.radius:.3g} wide, reaches {deep:.3g} into the wall {wall}"
                survey.add("entry-in-wall", key, what, f"a place {deep:.3g} further from {wall}, or a smaller body")
                return


def _touches(plan: Plan, body: FighterPlan, place: Sequence[float], facing: Facing, solid: Solid) -> bool:
    stance = at_rest(plan, body, plan.space.lift(place), plan.space.heading(facing))
    return any(gap(part, solid) < 0.0 for part in hurtbox_solids(plan, body.id, stance).values())


def _checkpoints(survey: Survey, name: str, arena: Arena, plan: Plan, bodies: Sequence[FighterPlan]) -> None:
    solids = area_solids(plan)[len(arena.hazards) :]
    for index, (each, checkpoint) in enumerate(arena.checkpoints.items()):
        key, solid = f"arenas.{name}.checkpoints.{each}", solids[index][0]
        wall = _covered(plan, solid, bodies)
        if wall is not None:
            what = f"it lies within the wall {wall}, which stops every body before it"
            survey.add("checkpoint-unreachable", f"{key}.at", what, "a place outside the wall, or a larger one")
        elif plan.space.has_heights and solid.name != "half_space":
            _height_of(survey, key, arena, plan, bodies, solid)
            _walled_off(survey, name, each, plan, bodies, solid)
        falls = [body for body in bodies if arena.gravity * survey.book.fighters[body.name].gravity_share > 0.0]
        if plan.space.has_heights and falls and not has_ground(checkpoint.respawn_at, arena, DROP):
            below = _ground_under(arena, checkpoint.respawn_at)
            far = f"{checkpoint.respawn_at[-1] - below:.3g} above the ground" if below is not None else "over nothing"
            what = f"who respawns there stands {far} and falls"
            survey.add("checkpoint-in-air", f"{key}.respawn_at", what, "a place on the floor or on a wall")


def _walled_off(
    survey: Survey, arena: str, checkpoint: str, plan: Plan, bodies: Sequence[FighterPlan], solid: Solid
) -> None:
    """Seen from the side, a wall that nobody steps or jumps over may stand between a checkpoint and every entry."""
    starts = [survey.place_of(name, seat)[0] for name, bout in survey.bouts_of(arena) for seat in bout.seats.values()]
    starts += [each.respawn_at[0] for name, each in survey.book.arenas[arena].checkpoints.items() if name != checkpoint]
    lunges = any(
        survey.book.attacks[attack].lunge or survey.book.attacks[attack].grab or survey.book.attacks[attack].push
        for attack in survey.book.attacks
    )
    weightless = any(survey.book.fighters[body.name].gravity_share == 0 for body in bodies)
    if plan.space.name != "side" or not starts or lunges or weightless:
        return
    area = extent(solid)
    for index, wall in enumerate(plan.wall_names):
        box = extent(wall_solid(plan, index))
        steps = max(survey.book.fighters[body.name].steps_over for body in bodies)
        low = min(body.height for body in bodies)
        stands = box.low[2] - plan.floor < low and box.high[2] - plan.floor > steps
        left, right = all(at < box.low[0] for at in starts), all(at > box.high[0] for at in starts)
        beyond = (left and area.low[0] > box.high[0]) or (right and area.high[0] < box.low[0])
        if stands and beyond:
            what = f"the wall {wall}, {box.high[2] - plan.floor:.3g} high, stands between it and every entry"
            key = f"arenas.{arena}.checkpoints.{checkpoint}.at"
            survey.add("checkpoint-unreachable", key, what, f"a place on the other side of {wall}, or a lower wall")
            return


def _ground_under(arena: Arena, point: Sequence[float]) -> float | None:
    """The height of the highest ground below a point; None for none."""
    step = (arena.bounds.high[-1] - arena.bounds.low[-1]) / 400.0
    height = point[-1]
    while height > arena.bounds.low[-1]:
        if has_ground((*point[:-1], height), arena, step) and (
            arena.floor is not None or height > arena.bounds.low[-1] + step
        ):
            return height
        height -= step
    return None


def _height_of(survey: Survey, key: str, arena: Arena, plan: Plan, bodies: Sequence[FighterPlan], solid: Solid) -> None:
    """A checkpoint may hang higher than anybody comes, from the highest ground on."""
    low = extent(solid).low
    grounds = [plan.floor if arena.floor is not None else arena.bounds.low[-1]]
    grounds += [float(extent(wall_solid(plan, index)).high[2]) for index in range(len(plan.wall_names))]
    highest = max((each for each in grounds if each <= low[2] + 1e-9), default=grounds[0])
    tops = []
    for body in bodies:
        boxes = hurtbox_solids(plan, body.id, at_rest(plan, body, (0.0, 0.0, 0.0), (1.0, 0.0)))
        pull = arena.gravity * survey.book.fighters[body.name].gravity_share
        if pull == 0.0:
            return
        lunges = [survey.book.attacks[attack].lunge for attack in survey.book.fighters[body.name].all_attacks]
        kicks = [(each.speed * sin(radians(each.lift_deg))) ** 2 / (2.0 * pull) for each in lunges if each]
        tops.append(float(whole_extent(boxes.values()).high[2]) + max(kicks, default=0.0))
    out = low[0] > plan.high[0] or extent(solid).high[0] < plan.low[0] or low[2] > plan.high[2]
    if out:
        survey.add("checkpoint-unreachable", f"{key}.at", "it lies outside the arena", "a place within its bounds")
    elif low[2] - highest > max(tops):
        what = f"it begins {low[2] - highest:.3g} above the ground, and nobody reaches above {max(tops):.3g}"
        survey.add("checkpoint-unreachable", f"{key}.at", what, "lay it lower")


def check_bouts(survey: Survey) -> None:
    """Every bout of the book."""
    for name, bout in survey.book.bouts.items():
        _endless_lives(survey, name, bout, survey.arena_of(name))
        _spawn_in_reach(survey, name, bout)


def _endless_lives(survey: Survey, name: str, bout: BoutTable, arena: Arena) -> None:
    if arena.on_elimination == "go_on":
        return
    decisive = {
        each: seat
        for each, seat in bout.seats.items()
        if arena.elimination_team is None or seat.team == arena.elimination_team
    }
    endless = [each for each, seat in decisive.items() if seat.lives == "endless"]
    if endless and len(endless) == len(decisive):
        what = f"on_elimination is {arena.on_elimination}, and {', '.join(endless)} have endless lives"
        survey.add("endless-lives", f"{seat_key(name, endless[0])}.lives", what, "give one of them a number of lives")


def _spawn_in_reach(survey: Survey, name: str, bout: BoutTable) -> None:
    """A seat that respawns without protection within reach of a foe that stays there and strikes."""
    arena = survey.arena_of(name)
    for each, seat in bout.seats.items():
        fighter = survey.book.fighters[seat.fighter]
        if seat.lives == 1 or survey.seconds(fighter.respawn_protection) > 0.0:
            continue
        respawns = {f"entry of {each}": survey.place_of(name, seat)}
        if arena.respawn_entry is not None:
            respawns = {f"entry {arena.respawn_entry}": arena.entries[arena.respawn_entry].at}
        respawns |= {f"checkpoint {point}": table.respawn_at for point, table in arena.checkpoints.items()}
        for use in survey.uses:
            foe = bout.seats.get(use.seat)
            strike = survey.book.attacks[use.attack].strike
            if (
                use.bout != name
                or use.seat == each
                or foe is None
                or strike is None
                or not survey.stays(name, use.seat)
            ):
                continue
            if seat.team is not None and seat.team == foe.team:
                continue
            reach = _reach_of(survey, use.attack) + fighter.body.radius
            there = survey.place_of(name, foe)
            spot = next((spot for spot, place in respawns.items() if dist(place, there) < reach), None)
            if spot is not None:
                far = dist(respawns[spot], there)
                what = (
                    f"{each} respawns at the {spot}, {far:.3g} from {use.seat}, whose {use.attack} reaches {reach:.3g}"
                )
                key = f"fighters.{seat.fighter}.respawn_protection"
                survey.add("spawn-in-reach", key, what, "a respawn_protection of a second, or another place")
                break


def _reach_of(survey: Survey, attack: str) -> float:
    """How far ahead a strike reaches from where its owner stands, at the most."""
    strike = survey.book.attacks[attack].strike
    far = 0.0
    for _, owner in survey.owners(attack):
        for box in strike.hitboxes.values() if strike else ():
            places = [
                owner.joints[end] if isinstance(end, str) else end for end in (box.from_, box.to) if end is not None
            ]
            ahead = max(abs(place[0]) for place in places)
            size = (
                (box.radius or 0.0) + (box.swing.reach if box.swing else 0.0) + (box.size[0] / 2 if box.size else 0.0)
            )
            far = max(far, ahead + size)
    return far
