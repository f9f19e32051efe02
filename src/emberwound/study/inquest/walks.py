"""What became of an order to walk: how far the body came, and what kept it from coming further."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.obstacles import first_wall
from emberwound.study.inquest.answer import Answer, Cause
from emberwound.study.inquest.settings_of import lines_of, order_key, seat_key
from emberwound.vocabulary.events import Died, ReactionBegan

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
        told = f"{seat} had no living body in tick {order.tick}"
        return Answer(question=question, causes=(Cause(name="never-entered", told=told, seat=seat, tick=order.tick),))
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
        told = f"{whole}: its speed is {fighter.speed:g} {case.units} a second"
        causes = [Cause(name="blocked", told=told, seat=seat, tick=order.tick, set_by=lines_of(case, *keys))]
    return Answer(question=question, causes=tuple(causes or [_walked(case, order, whole)]))


def _walked(case: Case, order: Order, whole: str) -> Cause:
    keys = lines_of(case, order_key(case, order.seat, order.tick, "move" if order.patrol is None else "patrol"))
    return Cause(name="carried-out", told=whole, seat=order.seat, tick=order.tick, set_by=keys)


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
        told = f"{whole}: {why} at {time:.3f} s"
        return Cause(
            name="blocked", told=told, time=time, tick=tick, seat=seat, place=place, set_by=lines_of(case, *keys)
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
        number = rows.index(reacted[-1].reaction) if reacted and reacted[-1].reaction in rows else 0
        row = f"fighters.{body.fighter}.reactions[{number}]"
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
