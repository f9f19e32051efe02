"""What never comes: later than every bout, above every wound, behind its owner, or at a wall for ever."""

from __future__ import annotations

from itertools import pairwise
from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.ground_walk import walk
from emberwound.geometry.obstacles import carry, first_wall
from emberwound.plan.compile import compile_plan
from emberwound.plan.solids import extent
from emberwound.plan.stances import at_rest, hitbox_solid
from emberwound.study.check.launches import planned_attack

if TYPE_CHECKING:
    from collections.abc import Iterator

    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.rulebook.models import Attack
    from emberwound.study.check.survey import Survey
    from emberwound.vocabulary.clock import Duration

NOWHERE, AHEAD = (0.0, 0.0, 0.0), (1.0, 0.0)


def check_never(survey: Survey) -> None:
    """All of this."""
    for key, what, advice in _too_late(survey):
        survey.add("after-the-end", key, what, advice)
    for attack, table in survey.book.attacks.items():
        _without_damage(survey, attack, table)
        _capacity(survey, attack, table)
        _behind(survey, attack)
    _held(survey)
    _cues(survey)
    for name in survey.book.arenas:
        _ground(survey, name)
    for bout in survey.book.bouts:
        _patrols(survey, bout)


def _too_late(survey: Survey) -> Iterator[tuple[str, str, str]]:
    """Times that are longer than every bout they might matter in."""
    book = survey.book
    longest = max((survey.seconds(bout.seconds) for bout in book.bouts.values()), default=0.0)
    if not longest:
        return
    told = f"the longest bout lasts {longest:g} s"
    for key, time in _times(survey):
        if time is not None and survey.seconds(time) >= longest:
            yield key, f"{survey.seconds(time):g} s, and {told}", "a shorter time, or a longer bout"
    for name, affliction in book.afflictions.items():
        if affliction.damage and affliction.every:
            first, lasts = survey.seconds(affliction.every), survey.seconds(affliction.seconds)
            if first > lasts:
                what = f"its first wound comes after {first:g} s, and it lasts {lasts:g} s"
                yield f"afflictions.{name}.every", what, "a shorter every, or more seconds"
    yield from _late_schedules(survey)


def _times(survey: Survey) -> Iterator[tuple[str, Duration | None]]:
    """The times that nothing comes of where they are longer than a bout."""
    book = survey.book
    respawning = {seat.fighter for bout in book.bouts.values() for seat in bout.seats.values() if seat.lives != 1}
    for name, attack in book.attacks.items():
        yield f"attacks.{name}.windup", attack.windup
        yield f"attacks.{name}.cooldown", attack.cooldown
    for name, fighter in book.fighters.items():
        if name in respawning:
            yield f"fighters.{name}.respawn_seconds", fighter.respawn_seconds
        for pool, table in fighter.pools.items():
            if table.refill:
                yield f"fighters.{name}.pools.{pool}.delay", table.delay
    for name, affliction in book.afflictions.items():
        yield f"afflictions.{name}.every", affliction.every


def _late_schedules(survey: Survey) -> Iterator[tuple[str, str, str]]:
    """Hazards that come on after every bout in their arena."""
    for name, arena in survey.book.arenas.items():
        ends = max((survey.seconds(bout.seconds) for _, bout in survey.bouts_of(name)), default=None)
        for hazard, table in arena.hazards.items():
            first = survey.seconds(table.schedule.first) if table.schedule else 0.0
            if ends is not None and first >= ends:
                what = f"it first comes on at {first:g} s, and bouts there end at {ends:g} s"
                yield f"arenas.{name}.hazards.{hazard}.schedule.first", what, "an earlier first"


def _without_damage(survey: Survey, name: str, attack: Attack) -> None:
    """A kind without damage or healing: the number was forgotten."""
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    if attack.kind is None or attack.damage or attack.heal or attack.blast or any(box.damage for box in boxes):
        return
    warned = [each.key for each in survey.rules.warnings if each.finding == "carries-nothing"]
    if any(key.startswith(f"attacks.{name}.") for key in warned):
        return
    if survey.does_hit(attack) and not attack.grab:
        what = f"it has the kind {attack.kind}, and neither damage nor healing"
        survey.add("no-damage", f"attacks.{name}.damage", what, "give it damage or heal, or leave the kind out")


def _capacity(survey: Survey, name: str, attack: Attack) -> None:
    most = survey.book.settings.max_shots
    if attack.shot is not None and attack.shot.count > most:
        what = f"{attack.shot.count} shots leave at once, and settings.max_shots is {most}"
        advice = f"max_shots = {attack.shot.count} and more"
        survey.add("capacity-too-small", f"attacks.{name}.shot.count", what, advice)


def _behind(survey: Survey, name: str) -> None:
    """A strike all of whose hitboxes lie behind the middle of every fighter that has it."""
    book, owners = survey.book, survey.owners(name)
    strike = book.attacks[name].strike
    if strike is None or not owners or not book.arenas:
        return
    plan = compile_plan(survey.rules, next(iter(book.arenas)), book.settings.tick_rate)
    furthest = max(_furthest(plan, plan.fighter(each), name) for each, _ in owners)
    if furthest < 0.0:
        box = next(iter(strike.hitboxes))
        what = f"all its hitboxes lie {-furthest:.3g} and more behind the middle of {owners[0][0]}"
        key = f"attacks.{name}.strike.hitboxes.{box}.from"
        survey.add("strike-behind", key, what, "offsets ahead: their first numbers above 0")


def _furthest(plan: Plan, body: FighterPlan | None, name: str) -> float:
    attack = planned_attack(body, name)
    if body is None or attack is None or attack.strike is None:
        return 0.0
    rest = at_rest(plan, body, NOWHERE, AHEAD)
    return max(
        float(extent(hitbox_solid(plan, window.entry, rest, float(share))).high[0])
        for window in attack.strike.windows
        for share in np.linspace(0.0, 1.0, 9)
    )


def _held(survey: Survey) -> None:
    """Orders that hold several attacks, of which the first goes alone."""
    for name, bout in survey.book.bouts.items():
        for index, order in enumerate(bout.orders):
            attacks = [each for each in order.hold or () if each in survey.book.attacks]
            fighter = survey.book.fighters[bout.seats[order.seat].fighter]
            if len(attacks) > 1 and not fighter.stages:  # a stage has attacks of its own, of which the first goes
                own = fighter.all_attacks
                first = min(attacks, key=own.index)
                others = " and ".join(each for each in attacks if each != first)
                what = f"{first} goes first, and {others} never, for as long as {first} is held"
                key = f"bouts.{name}.orders[{index}].hold"
                survey.add("held-behind", key, what, "hold one attack, and press the others")


def _cues(survey: Survey) -> None:
    """Cues that ask for more points than any wound of the book has."""
    book = survey.book
    wounds = [row.damage for row in survey.matches]
    for name, attack in book.attacks.items():
        if attack.charge and any(row.attack == name for row in survey.matches):
            wounds.append(max(row.damage for row in survey.matches if row.attack == name) * attack.charge.damage)
    shares = [share for each in book.fighters.values() for share in each.damage_taken.values()]
    factor = max([1.0, *shares]) * max([1.0, *(each.damage_taken_share for each in book.afflictions.values())])
    dealt = [seat.damage_dealt for bout in book.bouts.values() for seat in bout.seats.values()]
    dealt += [stage.damage_dealt for each in book.fighters.values() for stage in each.stages]
    combo = max(book.settings.combo.shares) if book.settings.combo else 1.0
    factor *= max([1.0, *dealt]) * max(1.0, combo)
    wounds += [hazard.damage for arena in book.arenas.values() for hazard in arena.hazards.values()]
    wounds += [each.damage for each in book.afflictions.values()]
    fatal = any(hazard.fatal for arena in book.arenas.values() for hazard in arena.hazards.values())
    most = max(wounds, default=0.0) * factor
    for name, cue in book.cues.items():
        if cue.min_points is None or cue.on != ("wounded",) or cue.min_points <= most or book.settings.steps:
            continue
        if (
            fatal
            and not cue.kinds
            and not cue.attacks
            and cue.min_points
            <= max((pool.max for each in book.fighters.values() for pool in each.pools.values()), default=0.0)
        ):
            continue
        what = f"it asks for {cue.min_points:g} points, and no wound of the book has more than {most:g}"
        survey.add("cue-never", f"cues.{name}.min_points", what, f"{most:g} and less")


def _ground(survey: Survey, name: str) -> None:
    """Entries of an arena with gravity that neither a floor nor a wall lies under."""
    arena = survey.book.arenas[name]
    if arena.space == "top" or arena.floor is not None or not arena.gravity:
        return
    plan = compile_plan(survey.rules, name, survey.book.settings.tick_rate)
    for bout_name, bout in survey.bouts_of(name):
        for seat_name, seat in bout.seats.items():
            body = plan.fighter(seat.fighter)
            if body is None or survey.book.fighters[seat.fighter].gravity_share == 0.0:
                continue
            place = plan.space.lift(survey.place_of(bout_name, seat))
            if _wall_on(plan, body, place, (0.0, 0.0, plan.low[2] - place[2] - 1.0)) is None:
                by_name = isinstance(seat.at, str)
                key = f"arenas.{name}.entries.{seat.at}.at" if by_name else f"bouts.{bout_name}.seats.{seat_name}.at"
                what = f"{seat_name} enters there, the arena has gravity {arena.gravity:g}, and nothing is below"
                survey.add("no-ground", key, what, "give the arena a floor, or a wall to stand on")
                return


def _patrols(survey: Survey, name: str) -> None:
    """Patrols whose path leads through a wall that the walker can not step over."""
    bout = survey.book.bouts[name]
    plan = compile_plan(survey.rules, bout.arena, survey.book.settings.tick_rate)
    for index, order in enumerate(bout.orders):
        path = survey.book.arenas[bout.arena].paths.get(order.patrol or "")
        body = plan.fighter(bout.seats[order.seat].fighter)
        if path is None or body is None:
            continue
        points = [plan.space.lift(each) for each in path.points]
        steps = survey.book.fighters[body.name].steps_over
        for one, two in pairwise([*points, *points[:1]] if path.closed else points):
            wall = _stopped(plan, body, one, two, steps)
            if wall is not None:
                what = f"on its path {order.patrol} {order.seat} comes to the wall {wall} and stands there"
                survey.add("patrol-at-wall", f"bouts.{name}.orders[{index}].patrol", what, "a path round the wall")
                return


MOST_STEPS = 2000


def _stopped(
    plan: Plan, body: FighterPlan, start: tuple[float, ...], end: tuple[float, ...], step: float
) -> str | None:
    """The wall at which a body stands on its way from one point to another, sliding along what it can."""
    radius = min(body.radius, 0.5 * body.height)
    core = body.height - 2.0 * radius if plan.space.has_heights else 0.0
    shapes = np.ascontiguousarray(plan.tables.wall_shapes)
    (x, y, z), (ex, ey, _) = start, end
    for _ in range(MOST_STEPS):
        far = hypot(ex - x, ey - y)
        if far <= 0.5 * radius or not plan.wall_names:
            return None
        way = ((ex - x) / far * 0.5 * radius, (ey - y) / far * 0.5 * radius)
        if plan.space.has_heights:
            nx, ny, nz, _, _, left = walk(shapes, 0, plan.floor, (x, y, z), way, way, radius, core, step)
            if left > 0.0:  # it falls there
                return None
        else:
            nx, ny, nz, *_ = carry(shapes, 0, (x, y, z), (*way, 0.0), (*way, 0.0), radius, core, 0.0)
        if hypot(nx - x, ny - y) < 1e-3 * radius:
            ahead = (way[0], way[1], 0.0)
            up = step if plan.space.has_heights else 0.0
            found = int(first_wall(shapes, 0, (x, y, z + up), ahead, radius, core)[1])
            return plan.wall_names[found] if found >= 0 else None
        x, y, z = nx, ny, nz
    return None


def _wall_on(plan: Plan, body: FighterPlan, place: tuple[float, ...], way: tuple[float, float, float]) -> str | None:
    """The first wall that a body meets on a straight way."""
    if not plan.wall_names:
        return None
    radius = min(body.radius, 0.5 * body.height)
    core = body.height - 2.0 * radius if plan.space.has_heights else 0.0
    shapes = np.ascontiguousarray(plan.tables.wall_shapes)
    x, y, z = place
    found = int(first_wall(shapes, 0, (x, y, z), way, radius, core)[1])
    return plan.wall_names[found] if found >= 0 else None
