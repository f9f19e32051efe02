"""What became of an order: refused and why, interrupted, or carried out, and then what came of its attack."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Answer, Cause, Trial
from emberwound.study.inquest.attempts import of_attack
from emberwound.study.inquest.outcomes import refusal
from emberwound.vocabulary.errors import BoutError, ChronicleError
from emberwound.vocabulary.events import AttackBegan, ChargeBegan, Died, OrderRefused, SeatEntered, SeatLeft

if TYPE_CHECKING:
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.orders import Order

LONGEST_WAIT = 5.0
"""A press is tried again for so many seconds after it was refused."""

HOPELESS = ("dead", "out_of_lives", "replaced", "other_fighter")
"""Reasons that no later press is tried for."""


def about_order(case: Case, seat: str, tick: int) -> Answer:
    """What became of the order that a seat was given for a tick. Raises ChronicleError where there was none."""
    orders = case.orders(case.known_seat(seat))
    found = [(order, attack) for order, attack in orders if order.tick == tick]
    question = f"what became of {seat}'s order in tick {tick}?"
    if not found:
        if not orders:
            told = f"{seat} is never told to press or hold anything"
            return Answer(question=question, causes=(Cause(name="never-ordered", told=told, seat=seat),))
        ticks = [order.tick for order, _ in orders]
        raise ChronicleError(case.none_at(f"{seat} has no order in tick {tick} to press or hold anything", ticks, tick))
    order, asked = found[0]
    causes = _fate(case, order, asked)
    trial = _later(case, order, asked, causes[0]) if causes[0].name.startswith("refused:") else None
    answer = None
    if causes[0].name == "hit":
        began = next(event for event in case.all(AttackBegan, seat=seat) if event.tick == causes[0].tick)
        answer = of_attack(case, began)
        causes = list(answer.causes)
        trial = answer.trial
    return Answer(question=question, causes=tuple(causes), trial=trial)


def about_refusal(case: Case, event: OrderRefused) -> Answer:
    """Why an order was refused."""
    return Answer(question=f"why was {event.seat}'s {event.order} refused?", causes=(refusal(case, event),))


def _fate(case: Case, order: Order, asked: str) -> list[Cause]:
    """Why an order did nothing; one named "hit" says that its attack began, at its tick."""
    seat, press = order.seat, order.press == asked
    said = f"{'press' if press else 'hold'} {asked}"
    there = [event for event in case.all(SeatEntered, seat=seat) if event.tick <= order.tick]
    left = [event for event in case.all(SeatLeft, seat=seat) if event.tick <= order.tick]
    if not there or (left and left[-1].tick >= there[-1].tick):
        told = f"{seat} was not there in tick {order.tick}: it {'had left' if left else 'had not entered yet'}"
        return [Cause(name="never-entered", told=told, tick=order.tick, seat=seat)]
    upto = _next_order(case, order)
    for event in case.chronicle.events:
        if event.seat != seat or not order.tick <= event.tick < upto:
            continue
        if isinstance(event, OrderRefused) and event.order == said:
            return [refusal(case, event)]
        if isinstance(event, AttackBegan) and (event.attack == asked or event.follows):
            told = f"{seat}'s {event.attack} began at {event.time:.3f} s"
            return [Cause(name="hit", told=told, time=event.time, tick=event.tick, seat=seat)]
        if isinstance(event, ChargeBegan) and event.attack == asked:
            continue
        if isinstance(event, Died):
            told = f"{seat} died at {event.time:.3f} s, before {said} could begin"
            return [Cause(name="interrupted", told=told, time=event.time, tick=event.tick, seat=seat)]
    if asked not in case.book.attacks:
        told = f"{said} is no attack: {seat} held it from {order.tick / case.rate:.3f} s on"
        return [Cause(name="carried-out", told=told, tick=order.tick, seat=seat)]
    told = f"{said} had not begun when the record ends, at {case.chronicle.seconds:.3f} s"
    return [Cause(name="not-due-yet", told=told, tick=order.tick, seat=seat)]


def _next_order(case: Case, order: Order) -> int:
    """The tick of the seat's next order of the same sort; a wait may run into it, and no further."""
    buffer = case.plan.buffer_ticks
    later = [each.tick for each, _ in case.orders(order.seat) if each.tick > order.tick]
    ends = case.chronicle.end.ticks + 1
    return min(ends, max(min(later, default=ends), order.tick + buffer + 1))


def _later(case: Case, order: Order, asked: str, cause: Cause) -> Trial | None:
    """How much later the same press begins its attack, found by pressing it later and later."""
    if cause.name.partition(":")[2] in HOPELESS or asked not in case.book.attacks:
        return None
    play, runs = case.play_at(order.tick), 0
    while play.bout.tick < order.tick + LONGEST_WAIT * case.rate and not play.bout.over:
        saved = play.save()
        runs += 1
        play.take_due()
        try:
            play.bout.seat(order.seat).order(press=asked)
        except BoutError:
            return None
        began = [event for event in play.step() if isinstance(event, AttackBegan) and event.seat == order.seat]
        if any(event.attack == asked for event in began) and play.bout.tick - 1 > order.tick:
            late = (play.bout.tick - 1 - order.tick) / case.rate
            then = f"{order.seat}'s {asked} begins at {began[-1].time:.3f} s"
            return Trial(change=f"pressed {late:.3g} s later", then=then, runs=runs)
        play.restore(saved)
        play.step()
    return None
