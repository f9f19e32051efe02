"""What became of an order to walk, and of a push: how far the body came, and what kept it."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.obstacles import first_wall
from emberwound.study.inquest.answer import Answer, Cause, lines_of, order_key, seat_key
from emberwound.study.inquest.attempts import about_attempts
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import Died, Guarded, KnockedBack, ReactionBegan, Wounded

if TYPE_CHECKING:
    from emberwound.bout.views.body import BodyView
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.orders import Order


STUCK, PROBE = 0.05, 0.05
"""Who came less than this share of its way in a tick stands; what is this share of its radius ahead stopped it."""

SLOW = 0.1
"""Who walks less than this share of its height a second seems to stand."""


def about_walk(case: Case, order: Order, question: str) -> Answer:
    """What became of an order to walk, up to the seat's next one."""
    seat, ends = order.seat, _end(case, order)
    play = case.play_at(order.tick)
    play.take_due()
    body = next((each for each in play.bout.view().bodies if each.seat == seat), None)
    if body is None:
        text = f"{seat} had no living body in tick {order.tick}"
        return Answer(question=question, causes=(Cause(name="never-entered", text=text, seat=seat, tick=order.tick),))
    start, at, far = body.position, body.position, 0.0
    stops: list[tuple[float, tuple[float, ...]]] = []
    pace = case.book.fighters[body.fighter].speed
    while play.bout.tick < ends and not play.bout.over:
        play.step()
        body = next((each for each in play.bout.view().bodies if each.seat == seat), None)
        if body is None:
            break
        step = hypot(*(a - b for a, b in zip(body.position, at, strict=True)))
        far += step
        if step <= STUCK * pace / case.rate and not stops:
            stops.append(((play.bout.tick - 1) / case.rate, body.position))
        at = body.position
    seconds = (play.bout.tick - order.tick) / case.rate
    whole = f"{seat} walked {case.length(far)} in {seconds:.3g} s, from {case.point(start)} to {case.point(at)}"
    causes = [_stopped(case, order, whole, stops[0])] if stops else []
    fighter = case.book.fighters[case.fighter_of(seat, order.tick)]
    if not stops and far < SLOW * fighter.body.height * seconds:
        keys = (f"fighters.{case.fighter_of(seat, order.tick)}.speed", _seat_pace(case, seat))
        text = f"{whole}: its speed is {fighter.speed:g} {case.units} a second"
        causes = [Cause(name="blocked", text=text, seat=seat, tick=order.tick, set_by=lines_of(case, *keys))]
    return Answer(question=question, causes=tuple(causes or [_walked(case, order, whole)]))


def _walked(case: Case, order: Order, whole: str) -> Cause:
    keys = lines_of(case, order_key(case, order.seat, order.tick, "move" if order.patrol is None else "patrol"))
    return Cause(name="carried-out", text=whole, seat=order.seat, tick=order.tick, set_by=keys)


def _seat_pace(case: Case, seat: str) -> str:
    key = seat_key(case, seat)
    return f"{key}.speed_share" if key else ""


def _end(case: Case, order: Order) -> int:
    """The tick of the seat's next order to walk or to stand."""
    later = [
        each.tick
        for each in case.chronicle.inputs
        if getattr(each, "seat", None) == order.seat
        and each.tick > order.tick
        and (getattr(each, "move", None) is not None or getattr(each, "patrol", None) is not None)
    ]
    return min([*later, case.chronicle.end.ticks])


def _stopped(case: Case, order: Order, whole: str, stop: tuple[float, tuple[float, ...]]) -> Cause:
    """What stopped a walk: a wall ahead, the bounds, a reaction, an attack to stand still for, or its death."""
    time, place = stop
    tick, seat = round(time * case.rate), order.seat
    arena = f"arenas.{case.chronicle.header.arena}"

    def cause(why: str, *keys: str) -> Cause:
        text = f"{whole}: {why} at {time:.3f} s"
        return Cause(
            name="blocked", text=text, time=time, tick=tick, seat=seat, place=place, set_by=lines_of(case, *keys)
        )

    body = next((each for each in case.play_at(tick).bout.view().bodies if each.seat == seat), None)
    if body is None:
        return cause("it died" if case.all(Died, seat=seat) else "it was gone")
    locked = _locked(case, body, tick)
    if locked is not None:
        return cause(*locked)
    wall = wall_ahead(case, body.fighter, body.position, order.move)
    if wall is not None:
        walls = case.book.arenas[case.chronicle.header.arena].walls
        name = f"{arena}.{'walls' if wall in walls else 'hazards'}.{wall}"
        return cause(f"the wall {wall} stopped it", name, f"fighters.{body.fighter}.step_height")
    low, high = (case.plan.space.flatten(each) for each in (case.plan.low, case.plan.high))
    if any(at <= a or at >= b for at, a, b in zip(place[:-1], low, high, strict=False)):
        return cause("it stood at the bounds", f"{arena}.bounds")
    return cause("it stood")


def _locked(case: Case, body: BodyView, tick: int) -> tuple[str, ...] | None:
    """What a body did that kept it from walking, and the keys behind it."""
    if body.reaction is not None:
        reacted = [each for each in case.all(ReactionBegan, seat=body.seat) if each.tick <= tick]
        rows = [row.name for row in case.book.fighters[body.fighter].reactions]
        index = rows.index(reacted[-1].reaction) if reacted and reacted[-1].reaction in rows else 0
        row = f"fighters.{body.fighter}.reactions[{index}]"
        return f"it was in the reaction {body.reaction.name}", f"{row}.locks", f"{row}.seconds"
    if body.held_by is not None:
        return (f"{body.held_by} held it",)
    if body.action is not None and "moving" not in case.book.attacks[body.action.attack].allowed_while:
        return f"it stood still for its {body.action.attack}", f"attacks.{body.action.attack}.allowed_while"
    return None


def wall_ahead(
    case: Case, fighter: str, position: tuple[float, ...], move: float | tuple[float, ...] | None
) -> str | None:
    """The wall that a body touches on the way it walks; None where it touches none."""
    plan = case.plan
    model = plan.fighter(fighter)
    if model is None or not plan.wall_names or move is None:
        return None
    across, along = (move[0], move[1]) if isinstance(move, tuple) else (float(move), 0.0)
    far = hypot(across, along)
    if far == 0.0:
        return None
    radius = min(model.radius, 0.5 * model.height)
    core = model.height - 2.0 * radius if plan.space.has_heights else 0.0
    x, y, z = plan.space.lift(position)
    up = 1e-3 * radius if plan.space.has_heights else 0.0
    way = (across / far * PROBE * radius, along / far * PROBE * radius, 0.0)
    shapes = np.ascontiguousarray(plan.tables.wall_shapes)
    found = int(first_wall(shapes, 0, (x, y, z + up), way, radius, core)[1])
    return plan.wall_names[found] if found >= 0 else None


LITTLE = 0.1
"""Shares of its height: who moved less by a push seems not to have moved."""

WATCHED = 2.0
"""Seconds for which a push is followed."""


def about_push(case: Case, by: str, victim: str) -> Answer:
    """Why the hits of one seat did not knock another back, or how far they did."""
    if case.known_seat(by) == victim:
        raise ChronicleError(f"push: {by} and {victim} are one seat; give who pushes and who is pushed")
    question = f"why was {case.known_seat(victim)} not knocked back by {by}?"
    hits: list[Wounded | Guarded] = [*case.all(Wounded, seat=victim, by=by), *case.all(Guarded, seat=victim, by=by)]
    if not hits:
        answer = about_attempts(case, by, victim, None)
        return Answer(question=question, causes=answer.causes, attempts=answer.attempts)
    pushes = [each for each in case.all(KnockedBack, seat=victim) if each.by == by]
    if not pushes:
        return Answer(question=question, causes=(_none(case, victim, hits[0]),))
    return Answer(question=question, causes=tuple(_of_push(case, victim, each, hits) for each in pushes))


def _none(case: Case, victim: str, hit: Wounded | Guarded) -> Cause:
    """That a hit pushed nobody."""
    key, fighter = f"attacks.{hit.attack}", case.fighter_of(victim, hit.tick)
    text = f"{hit.attack} hit {victim} at {hit.time:.3f} s, and has no push"
    keys = lines_of(case, f"{key}.push")
    table = case.book.attacks.get(hit.attack)
    if table is not None and table.push is not None:
        boxes = case.book.fighters[fighter].hurtboxes
        share = boxes[hit.hurtbox].push_share if hit.hurtbox in boxes else 1.0
        box = f"fighters.{fighter}.hurtboxes.{hit.hurtbox}.push_share"
        keys = lines_of(case, box if share == 0.0 else f"fighters.{fighter}.guard.push_share", f"{key}.push")
        text = f"{hit.attack} hit {victim} at {hit.time:.3f} s, and nothing of its push was left"
        if share == 0.0:
            text += f": the push_share of its {hit.hurtbox} is 0"
        return Cause(name="zero", text=text, time=hit.time, tick=hit.tick, seat=victim, set_by=keys)
    return Cause(name="no-push", text=text, time=hit.time, tick=hit.tick, seat=victim, set_by=keys)


def _of_push(case: Case, victim: str, push: KnockedBack, hits: list[Wounded | Guarded]) -> Cause:
    """How far a push took its victim, and what kept it from going further."""
    fighter = case.fighter_of(victim, push.tick)
    table = case.book.fighters[fighter]
    speed = hypot(*push.velocity)
    play = case.play_at(push.tick + 1)
    start = at = _place(case, victim)
    for _ in range(round(WATCHED * case.rate)):
        play.step()
        place = _place(case, victim)
        if place is None or play.bout.over:
            break
        at = place
    far = hypot(*(a - b for a, b in zip(at, start, strict=True))) if at and start else 0.0
    whole = (
        f"{victim} was knocked back at {push.time:.3f} s with {speed:.3g} {case.units}/s and came {case.length(far)}"
    )
    guarded = [each for each in hits if isinstance(each, Guarded) and each.tick == push.tick]
    hit = next((each for each in hits if each.tick == push.tick), hits[0])
    box = table.hurtboxes.get(hit.hurtbox)
    way = push.velocity[0] if case.plan.space.name == "side" else push.velocity[:2]
    wall = wall_ahead(case, fighter, at, way) if at else None
    keys = [f"fighters.{fighter}.weight"] if table.weight != 1.0 else []
    keys += [f"fighters.{fighter}.guard.push_share"] if guarded else []
    keys += (
        [f"fighters.{fighter}.hurtboxes.{hit.hurtbox}.push_share"] if box is not None and box.push_share != 1.0 else []
    )
    keys += [f"attacks.{hit.attack}.push"]
    name, why = ("hit", "") if far > LITTLE * table.body.height else ("zero", "")
    if wall is not None:
        keys.insert(0, f"arenas.{case.chronicle.header.arena}.walls.{wall}")
        name, why = "blocked", f": the wall {wall} stopped it"
    elif table.weight > 1.0 and name == "zero":
        why = f": its weight is {table.weight:g}"
    return Cause(name=name, text=whole + why, time=push.time, tick=push.tick, seat=victim, set_by=lines_of(case, *keys))


def _place(case: Case, seat: str) -> tuple[float, ...] | None:
    view = case.play_now().bout.view()
    return next((each.position for each in (*view.bodies, *view.corpses) if each.seat == seat), None)
