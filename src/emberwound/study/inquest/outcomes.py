"""What became of a touch that counted: a hit, or why it took nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Cause
from emberwound.study.inquest.approach import first_through
from emberwound.vocabulary.events import Guarded, Healed, PropStruck, Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout import PassedOver
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.events import Event, Interrupted, OrderRefused
    from emberwound.vocabulary.ledger import Step

PASSED: dict[Reason, str] = {
    Reason.OTHER_LAYER: "layer",
    Reason.ALLY: "ally",
    Reason.OWN_BODY: "owner",
    Reason.TARGET_DEAD: "dead",
    Reason.PROTECTED: "protected",
    Reason.TOUCHED_BEFORE: "touched-before",
}
"""What a touch was passed over for, as a cause says it."""

GUARD, TAKEN = "guard", "damage_taken"
TOUCHES = (Guarded, Healed, PropStruck, Wounded)
"""The events of a touch that counted."""


def missed(case: Case, told: str, near: Near) -> Cause:
    """The cause of what came near a hurtbox, and no nearer."""
    return Cause(
        name="out-of-reach",
        told=told,
        time=near.time,
        tick=int(near.time * case.rate),
        seat=near.seat,
        hurtbox=near.hurtbox,
        gap=max(near.gap, 0.0),
        place=case.plan.space.flatten(near.place),
    )


def through_window(case: Case, moments: Sequence[Moment], what: str, victim: str | None) -> list[Cause]:
    """The cause of what passed through a hurtbox while its owner's attack had it off; none where nothing did."""
    found = first_through(moments)
    if found is None or victim not in (None, found[0]):
        return []
    seat, hurtbox, time = found
    told = f"{what} passed through {seat}'s {hurtbox} at {time:.3f} s, while it was off"
    tick = int(time * case.rate)
    return [Cause(name="passed-over:window", told=told, time=time, tick=tick, seat=seat, hurtbox=hurtbox)]


def _of(name: str, told: str, event: PassedOver | Guarded | Healed | PropStruck | Wounded) -> Cause:
    """The cause that a touch stands for."""
    return Cause(
        name=name,
        told=told,
        time=event.time,
        tick=event.tick,
        seat=event.seat,
        hurtbox=event.hurtbox,
        place=event.position,
    )


def passed_over(case: Case, touch: PassedOver) -> Cause:
    """The cause of a touch that was passed over."""
    what = f"{touch.attack} {touch.shot}" if touch.shot else touch.attack
    why = touch.reason.say()
    if touch.reason is Reason.OTHER_LAYER:
        layer = _layer_of(case, touch)
        why = f"that is on the layer {layer}, which {touch.attack} does not touch" if layer else why
    told = f"{what} touched {touch.seat}'s {touch.hurtbox} at {touch.time:.3f} s and left it alone: {why}"
    return _of(f"passed-over:{PASSED[touch.reason]}", told, touch)


def _layer_of(case: Case, touch: PassedOver) -> str | None:
    bodies = [body for body in case.book.bodies.values() if touch.hurtbox in body.hurtboxes]
    layers = {body.hurtboxes[touch.hurtbox].layer for body in bodies}
    return layers.pop() if len(layers) == 1 else None


def outcome(case: Case, event: Event) -> Cause | None:
    """The cause that a touch which counted stands for; None for an event that is none."""
    if isinstance(event, Healed):
        if event.amount == 0.0:
            why = next((step.why for step in event.ledger.steps if step.before > 0.0 and step.after == 0.0), "")
            told = f"{event.attack} reached {event.seat} at {event.time:.3f} s and healed nothing"
            return _of("zero", f"{told}: {why}" if why else told, event)
        told = f"{event.attack} healed {event.seat} of {event.amount:g} at {event.time:.3f} s"
        return _of("hit", told, event)
    if isinstance(event, PropStruck):
        told = f"{event.attack} struck {event.seat} at {event.time:.3f} s"
        return _of("hit", told, event)
    if isinstance(event, Guarded):
        return _of_guard(case, event)
    if not isinstance(event, Wounded):
        return None
    name, told = _of_wound(case, event)
    where = f"{event.seat}'s {event.hurtbox}" if event.hurtbox in _boxes(case) else event.seat
    return _of(name, f"{event.attack} hit {where} at {event.time:.3f} s{told}", event)


def _of_guard(case: Case, guard: Guarded) -> Cause | None:
    """The cause of a touch that a guard took all of; None where a wound tells of it."""
    if any(_same(guard, wound) for wound in case.all(Wounded, seat=guard.seat, by=guard.by)):
        return None
    how = " in its perfect moment" if guard.perfect else ""
    told = f"{guard.attack} met {guard.seat}'s guard at {guard.time:.3f} s, which took all of it{how}"
    return _of("guarded", told, guard)


def _boxes(case: Case) -> set[str]:
    return {name for body in case.book.bodies.values() for name in body.hurtboxes}


def _of_wound(case: Case, wound: Wounded) -> tuple[str, str]:
    """The name of the cause, and how the sentence goes on."""
    ledger = wound.ledger
    took = ", ".join(f"{loss.before - loss.after:g} {loss.pool}" for loss in ledger.losses if loss.before > loss.after)
    if wound.amount == 0.0:
        step = next((step for step in ledger.steps if step.before > 0.0 and step.after == 0.0), None)
        guard = next((event for event in case.all(Guarded, seat=wound.seat, by=wound.by) if _same(event, wound)), None)
        if guard is not None and (step is None or step.rule == GUARD):
            return "guarded", f", and a guard took all of it{' in its perfect moment' if guard.perfect else ''}"
        if step is not None and step.rule == TAKEN:
            return "immune", f" for nothing: {step.why}"
        if step is None:
            return "hit", "; it takes no points by itself"
        return "zero", f" for nothing: {_said(step)}"
    vital = case.vital_of(wound)
    if not any(loss.pool == vital and loss.before > loss.after for loss in ledger.losses) and ledger.losses:
        pools = [loss.pool for loss in ledger.losses if loss.before > loss.after]
        return f"absorbed:{pools[0] if pools else vital}", f", and {took} took all of it; {vital} is as it was"
    return "hit", f" and took {took or f'{wound.amount:g} points'}; {wound.vital_left:g} of {wound.vital_max:g} left"


def _said(step: Step) -> str:
    return f"{step.rule} made {step.before:g} to 0 ({step.why})"


def _same(guard: Guarded, wound: Wounded) -> bool:
    return guard.tick == wound.tick and guard.attack == wound.attack and guard.shot == wound.shot


def refusal(case: Case, event: OrderRefused) -> Cause:
    """The cause of a refused order."""
    wait = "a moment" if event.wait_ticks is None else f"{event.wait_ticks / case.rate:.3g} s"
    figures = {
        name: "?" if value is None else f"{value:.3g}" for name, value in (("needs", event.needs), ("has", event.has))
    }
    why = event.reason.say(wait=wait, pool=event.pool, **figures)
    return Cause(
        name=f"refused:{event.reason.value}",
        told=f"{event.seat}'s {event.order} was refused at {event.time:.3f} s: {why}",
        time=event.time,
        tick=event.tick,
        seat=event.seat,
    )


def cut_off(event: Interrupted) -> Cause:
    """The cause of an attack that was broken off."""
    told = f"{event.seat}'s {event.attack} was broken off at {event.time:.3f} s: {event.reason.say()}"
    return Cause(name="interrupted", told=told, time=event.time, tick=event.tick, seat=event.seat)
