"""What became of an order, and why shots and swings of a whole bout came to nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Answer, Cause, Trial, lines_of, order_key
from emberwound.study.inquest.attempts import of_attack
from emberwound.study.inquest.case import Case
from emberwound.study.inquest.outcomes import refusal
from emberwound.study.inquest.shots import about_shot
from emberwound.study.inquest.walks import about_walk
from emberwound.vocabulary.errors import BoutError, ChronicleError
from emberwound.vocabulary.events import (
    AttackBegan,
    ChargeBegan,
    Died,
    OrderRefused,
    SeatEntered,
    SeatLeft,
    ShotEnded,
    SwingEnded,
)

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from emberwound.chronicle import Chronicle
    from emberwound.vocabulary.orders import Order


LONGEST_WAIT = 5.0
"""A press is tried again for so many seconds after it was refused."""

HOPELESS = ("dead", "out_of_lives", "replaced", "other_fighter")
"""Reasons that no later press is tried for."""


def about_order(case: Case, seat: str, tick: int) -> Answer:
    """What became of the order that a seat was given for a tick. Raises ChronicleError where there was none."""
    orders = case.orders(case.known_seat(seat))
    walks = case.walks(seat)
    found = [(order, attack) for order, attack in orders if order.tick == tick]
    question = f"what became of {seat}'s order in tick {tick}?"
    walking = [each for each in walks if each.tick == tick]
    if not found and walking:
        return about_walk(case, walking[0], question)
    if not found:
        if not orders and not walks:
            text = f"{seat} was never ordered to press, hold or walk"
            return Answer(question=question, causes=(Cause(name="never-ordered", text=text, seat=seat),))
        ticks = [order.tick for order in (*(each for each, _ in orders), *walks)]
        raise ChronicleError(case.none_at(f"{seat} has no order in tick {tick} to press, hold or walk", ticks, tick))
    fates = [(*each, *_fate(case, *each)) for each in found]
    order, asked, causes, began = next((each for each in fates if each[3] is not None), fates[0])
    trial = _later(case, order, asked, causes[0]) if causes and causes[0].name.startswith("refused:") else None
    if began is not None:
        answer = of_attack(case, began)
        causes, trial = [*_late(case, order, began), *answer.causes], answer.trial
    behind = [each for other, each in found if other is order and each in case.book.attacks and each != asked]
    if began is not None and order.hold is not None and len(behind) > 0 and order.press is None:
        causes.insert(0, _behind(case, order, began.attack, behind))
        trial = None
    return Answer(question=question, causes=tuple(causes), trial=trial)


LATE = 1.0
"""A press whose attack releases or strikes later than so many seconds seems to do nothing."""


def _late(case: Case, order: Order, began: AttackBegan) -> list[Cause]:
    """That what an attack does comes long after the press."""
    seconds = (began.release_tick - order.tick) / case.rate
    if seconds <= LATE:
        return []
    text = f"{began.seat}'s {began.attack} began at {began.time:.3f} s, and does what it does {seconds:.3g} s later"
    keys = lines_of(case, f"attacks.{began.attack}.windup")
    return [Cause(name="too-late", text=text, time=began.time, tick=began.tick, seat=began.seat, set_by=keys)]


def _behind(case: Case, order: Order, first: str, others: list[str]) -> Cause:
    """That of several held attacks the first goes alone."""
    head = f"{order.seat} holds {first} and {' and '.join(others)}"
    text = f"{head}: of several held attacks the first in its fighter's list goes, and no other while that is held"
    key = order_key(case, order.seat, order.tick, "hold")
    fighter = case.fighter_or_none(order.seat, order.tick)
    keys = lines_of(case, key, f"fighters.{fighter}.attacks")
    return Cause(name="held-behind", text=text, tick=order.tick, seat=order.seat, set_by=keys)


def about_refusal(case: Case, event: OrderRefused) -> Answer:
    """Why an order was refused."""
    return Answer(question=f"why was {event.seat}'s {event.order} refused?", causes=(refusal(case, event),))


def _fate(case: Case, order: Order, asked: str) -> tuple[list[Cause], AttackBegan | None]:
    """Why an order did nothing, or the attack that it began."""
    seat, press = order.seat, order.press == asked
    said = f"{'press' if press else 'hold'} {asked}"
    there = [event for event in case.all(SeatEntered, seat=seat) if event.tick <= order.tick]
    left = [event for event in case.all(SeatLeft, seat=seat) if event.tick <= order.tick]
    if not there or (left and left[-1].tick >= there[-1].tick):
        text = f"{seat} was not there in tick {order.tick}: it {'had left' if left else 'had not entered yet'}"
        return [Cause(name="never-entered", text=text, tick=order.tick, seat=seat)], None
    upto = _next_order(case, order)
    for event in case.chronicle.events:
        if event.seat != seat or not order.tick <= event.tick < upto:
            continue
        if isinstance(event, OrderRefused) and event.order == said:
            return [refusal(case, event)], None
        if isinstance(event, AttackBegan) and (event.attack == asked or event.follows):
            return [], event
        if isinstance(event, ChargeBegan) and event.attack == asked:
            continue
        if isinstance(event, Died):
            text = f"{seat} died at {event.time:.3f} s, before {said} could begin"
            return [Cause(name="interrupted", text=text, time=event.time, tick=event.tick, seat=seat)], None
    if asked not in case.book.attacks:
        text = f"{said} is no attack: {seat} held it from {order.tick / case.rate:.3f} s on"
        return [Cause(name="carried-out", text=text, tick=order.tick, seat=seat)], None
    text = f"{said} had not begun when the record ends, at {case.chronicle.seconds:.3f} s"
    return [Cause(name="too-late", text=text, tick=order.tick, seat=seat)], None


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


def whys(
    chronicle: Chronicle,
    *,
    tries: bool = False,
    progress: Callable[[int, int], None] | None = None,
) -> dict[int, Answer]:
    """The answers for what came to nothing in a bout, by the `seq` of the event that ends it.

    That is the end of a shot or ray that hit nobody, of a swing that touched nobody, and a refused order. With `tries`
    changes are tried too, which takes a second or so for each.
    `progress` is called with the events seen and all.
    """
    case = Case(chronicle)
    begun = {event.seq: event for event in case.all(AttackBegan)}
    found: dict[int, Answer] = {}
    for index, event in enumerate(chronicle.events):
        if isinstance(event, ShotEnded) and event.hurtbox is None:
            found[event.seq] = about_shot(case, event.shot, tries=tries)
        elif isinstance(event, SwingEnded) and event.touched == 0 and event.cause in begun:
            found[event.seq] = of_attack(case, begun[event.cause], tries=tries)
        elif isinstance(event, OrderRefused):
            found[event.seq] = about_refusal(case, event)
        if progress:
            progress(index + 1, len(chronicle.events))
    return found


def lines_for_story(answers: Mapping[int, Answer]) -> dict[int, str]:
    """What a story adds to the end of a shot or a swing, by the event's seq: how near it came, what it touched."""
    return {index: line for index, answer in answers.items() if (line := _in_a_line(answer)) is not None}


def _in_a_line(answer: Answer) -> str | None:
    cause = answer.cause
    if not cause.name.startswith("passed-over"):
        cause = next((each for each in answer.causes if each.gap is not None), cause)
        if cause.gap is None or answer.cause.name in ("hit", "interrupted"):
            return None
    return cause.brief
