"""What became of a touch that counted: a hit, or why it took nothing."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.study.inquest.answer import STEPS, Cause, lines_of, order_key, seat_key
from emberwound.study.inquest.approach import first_through
from emberwound.vocabulary.events import AttackBegan, Guarded, Healed, PropStruck, ReactionBegan, Respawned, Wounded
from emberwound.vocabulary.ledger import amount
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout import PassedOver
    from emberwound.rulebook.models import Pool
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


def missed(case: Case, what: str, brief: tuple[str, str], near: Near, keys: tuple[str, ...] = ()) -> Cause:
    """The cause of what came near a hurtbox, and no nearer; `keys` are what in the book led it there.

    `brief` says it in short, but for when: what stands before the time, and what stands after it.
    """
    before, after = brief
    return Cause(
        name="out-of-reach",
        set_by=lines_of(case, *keys),
        text=f"{what} {before} at {near.time:.3f} s{after}",
        brief=f"it {before}{after}",
        time=near.time,
        tick=int(near.time * case.rate),
        seat=near.seat,
        hurtbox=near.hurtbox,
        gap=max(near.gap, 0.0),
        place=case.plan.space.flatten(near.place),
    )


def through_window(case: Case, moments: Sequence[Moment], what: str, victim: str | None) -> list[Cause]:
    """The cause of what passed through a hurtbox while that was off: by an attack of its owner, or by a posture."""
    found = first_through(moments)
    if found is None or victim not in (None, found[0]):
        return []
    seat, hurtbox, time = found
    tick = int(time * case.rate)
    fighter = case.fighter_or_none(seat, tick)
    table = case.book.fighters[fighter].hurtboxes[hurtbox] if fighter else None
    begun = [each for each in case.all(AttackBegan, seat=seat) if each.tick <= tick]
    attack = case.book.attacks[begun[-1].attack] if begun else None
    through, why = f"passed through {seat}'s {hurtbox}", ", while it was off"
    if table is not None and table.postures and not (attack and hurtbox in attack.hurtboxes_off):
        set_by = lines_of(case, f"fighters.{fighter}.hurtboxes.{hurtbox}.postures")
        why, name = f"{why}: it is on only while {' or '.join(table.postures)}", "passed-over:posture"
    else:
        name = "passed-over:window"
        set_by = lines_of(case, f"attacks.{begun[-1].attack}.hurtboxes_off.{hurtbox}") if begun else ()
    text, brief = f"{what} {through} at {time:.3f} s{why}", f"it {through}{why}"
    return [Cause(name=name, text=text, brief=brief, time=time, tick=tick, seat=seat, hurtbox=hurtbox, set_by=set_by)]


def _of(
    name: str,
    text: str,
    event: PassedOver | Guarded | Healed | PropStruck | Wounded,
    set_by: tuple[str, ...] = (),
) -> Cause:
    """The cause that a touch stands for."""
    return Cause(
        name=name,
        set_by=set_by,
        text=text,
        time=event.time,
        tick=event.tick,
        seat=event.seat,
        hurtbox=event.hurtbox,
        place=event.position,
    )


def passed_over(case: Case, touch: PassedOver) -> Cause:
    """The cause of a touch that was passed over."""
    what = f"{touch.attack} {touch.shot}" if touch.shot else touch.attack
    why, keys = _why_passed_over(case, touch)
    whom = f"touched {touch.seat}'s {touch.hurtbox}"
    text = f"{what} {whom} at {touch.time:.3f} s and left it alone: {why}"
    cause = _of(f"passed-over:{PASSED[touch.reason]}", text, touch, lines_of(case, *keys))
    return msgspec.structs.replace(cause, brief=f"it {whom} and left it alone: {why}")


def _why_passed_over(case: Case, touch: PassedOver) -> tuple[str, tuple[str, ...]]:
    """Why a touch did not count, and what in the book says so."""
    attack, victim, why = f"attacks.{touch.attack}", case.fighter_or_none(touch.seat, touch.tick), touch.reason.say()
    if touch.attack not in case.book.attacks:
        attack = f"blasts.{touch.attack}"
    if touch.reason is Reason.OTHER_LAYER and victim is not None:
        boxes = f"fighters.{victim}.hurtboxes.{touch.hurtbox}.layer"
        layer = case.book.fighters[victim].hurtboxes[touch.hurtbox].layer
        return f"that is on the layer {layer}, which {touch.attack} does not touch", (f"{attack}.layers", boxes)
    if touch.reason is Reason.ALLY:
        team, seats = case.teams.get(touch.by or ""), (seat_key(case, touch.by), seat_key(case, touch.seat))
        keys = (f"{attack}.hits_allies", *(f"{each}.team" for each in seats if each))
        return f"{touch.by} and {touch.seat} are both of team {team}, and it does not hit allies", keys
    if touch.reason is Reason.OWN_BODY:
        return why, (f"{attack}.hits_owner",)
    if touch.reason is Reason.PROTECTED and victim is not None:
        return _why_protected(case, touch, victim)
    if touch.reason is Reason.TOUCHED_BEFORE:
        return why, (f"{attack}.strike.rehit_every",)
    return why, ()


def _why_protected(case: Case, touch: PassedOver, victim: str) -> tuple[str, tuple[str, ...]]:
    """What protected a victim: its respawn, or the attack it was at."""
    back = [each for each in case.all(Respawned, seat=touch.seat) if each.tick <= touch.tick]
    if back and (back[-1].protected_until or 0) > touch.tick:
        text = f"{touch.seat} had respawned at {back[-1].time:.3f} s and was protected"
        return text, (f"fighters.{victim}.respawn_protection",)
    begun = [each for each in case.all(AttackBegan, seat=touch.seat) if each.tick <= touch.tick]
    if begun and case.book.attacks[begun[-1].attack].invulnerable:
        name = begun[-1].attack
        return f"{touch.seat} was invulnerable in its {name}", (f"attacks.{name}.invulnerable",)
    return "the target is protected", ()


def outcome(case: Case, event: Event) -> Cause | None:
    """The cause that a touch which counted stands for; None for an event that is none."""
    if isinstance(event, Healed):
        if event.amount == 0.0:
            why = next((step.why for step in event.ledger.steps if step.before > 0.0 and step.after == 0.0), "")
            text = f"{event.attack} reached {event.seat} at {event.time:.3f} s and healed nothing"
            return _of("zero", f"{text}: {why or 'nothing was missing'}", event)
        text = f"{event.attack} healed {event.seat} of {event.amount:g} at {event.time:.3f} s"
        return _of("hit", text, event)
    if isinstance(event, PropStruck):
        text = f"{event.attack} struck {event.seat} at {event.time:.3f} s"
        return _of("hit", text, event)
    if isinstance(event, Guarded):
        return _of_guard(case, event)
    if not isinstance(event, Wounded):
        return None
    name, text, keys = _of_wound(case, event)
    where = f"{event.seat}'s {event.hurtbox}" if event.hurtbox in _boxes(case) else event.seat
    return _of(name, f"{event.attack} hit {where} at {event.time:.3f} s{text}", event, lines_of(case, *keys))


def _of_guard(case: Case, guard: Guarded) -> Cause | None:
    """The cause of a touch that a guard took all of; None where a wound says so."""
    if any(_same(guard, wound) for wound in case.all(Wounded, seat=guard.seat, by=guard.by)):
        return None
    how, keys = _of_stance(case, guard)
    text = f"{guard.attack} met {guard.seat}'s guard at {guard.time:.3f} s, which took all of it{how}"
    return _of("guarded", text, guard, lines_of(case, *keys))


def _of_stance(case: Case, guard: Guarded) -> tuple[str, tuple[str, ...]]:
    """How a guard took all of a hit, and what in the book lets it."""
    victim = case.fighter_or_none(guard.seat, guard.tick)
    key = f"fighters.{victim}.guard"
    if guard.perfect:
        return " in its perfect moment", (f"{key}.perfect",)
    return "", (f"{key}.damage_share", f"{key}.arc_deg")


def _boxes(case: Case) -> set[str]:
    return {name for body in case.book.bodies.values() for name in body.hurtboxes}


def _of_wound(case: Case, wound: Wounded) -> tuple[str, str, tuple[str, ...]]:
    """The name of the cause, how the sentence goes on, and what in the book decided it."""
    ledger = wound.ledger
    victim = case.fighter_or_none(wound.seat, wound.tick)
    took = ", ".join(amount(loss.before - loss.after, loss.pool) for loss in ledger.losses if loss.before > loss.after)
    if wound.amount == 0.0:
        return _of_nothing(case, wound, victim)
    vital = case.vital_of(wound)
    if not any(loss.pool == vital and loss.before > loss.after for loss in ledger.losses) and ledger.losses:
        pools = [loss.pool for loss in ledger.losses if loss.before > loss.after]
        pool = pools[0] if pools else vital
        left = next((loss.after for loss in ledger.losses if loss.pool == pool), 0.0)
        table = case.book.fighters[victim].pools[pool] if victim else None
        size = f"; {left:g} of {table.max:g} {pool} left" if table else ""
        keys = tuple(f"fighters.{victim}.pools.{pool}.{each}" for each in ("max", *_refill(table)))
        route = f"fighters.{victim}.hurtboxes.{wound.hurtbox}.route"
        return f"absorbed:{pool}", f", and {took} took all of it; {vital} is as it was{size}", (*keys, route)
    past, keys = _past_guard(case, wound, victim)
    text = f" and took {took or f'{wound.amount:g} points'}; {wound.vital_left:g} of {wound.vital_max:g} left{past}"
    return "hit", text, keys


def _refill(pool: Pool | None) -> tuple[str, ...]:
    return ("refill",) if pool is not None and pool.refill else ()


def _of_nothing(case: Case, wound: Wounded, victim: str | None) -> tuple[str, str, tuple[str, ...]]:
    """What became of a wound of no points."""
    step = next((step for step in wound.ledger.steps if step.before > 0.0 and step.after == 0.0), None)
    guard = next((event for event in case.all(Guarded, seat=wound.seat, by=wound.by) if _same(event, wound)), None)
    if guard is not None and (step is None or step.rule == GUARD):
        how, keys = _of_stance(case, guard)
        return "guarded", f", and a guard took all of it{how}", keys
    if step is None:
        what = f"{hitter_key(case, wound)}.{'heal' if _is_balm(case, wound) else 'damage'}"
        return "no-damage", f"; it takes no points by itself: its {what.rpartition('.')[2]} is 0", (what,)
    parts = {
        "attack": wound.attack,
        "victim": victim or "",
        "hurtbox": wound.hurtbox,
        "seat": seat_key(case, wound.by),
        "striker": case.fighter_or_none(wound.by, wound.tick) or "",
    }
    key = STEPS.get(step.rule, "").format(**parts)
    if step.rule == TAKEN:
        return "immune", f" for nothing: {step.why}", (f"{key}.{wound.kind}",)
    return "zero", f" for nothing: {_said(step)}", (key,)


def hitter_key(case: Case, wound: Wounded) -> str:
    """The key of the table that a wound is of."""
    book, hazard = case.book, f"arenas.{case.chronicle.header.arena}.hazards.{wound.attack}"
    for section, known in (("attacks", book.attacks), ("blasts", book.blasts), ("afflictions", book.afflictions)):
        if wound.attack in known:
            return f"{section}.{wound.attack}"
    return hazard


def _is_balm(case: Case, wound: Wounded) -> bool:
    """Whether a wound of nothing was likely meant to heal: its attack hits allies."""
    attack = case.book.attacks.get(wound.attack)
    return attack is not None and attack.hits_allies and not case.are_foes(wound.by or "", wound.seat or "")


def _past_guard(case: Case, wound: Wounded, victim: str | None) -> tuple[str, tuple[str, ...]]:
    """That a hit passed a guard which was held, and why."""
    guard = case.book.fighters[victim].guard if victim else None
    if guard is None or not case.holds_guard(wound.seat or "", wound.tick):
        return "", ()
    if any(_same(event, wound) for event in case.all(Guarded, seat=wound.seat, by=wound.by)):
        return "", ()
    attack, key = case.book.attacks.get(wound.attack), f"fighters.{victim}.guard"
    if attack is not None and attack.guard_class not in guard.classes:
        text = f"; {wound.seat}'s guard does not stop what is {attack.guard_class}: its classes are"
        keys = (f"{key}.classes", f"attacks.{wound.attack}.guard_class")
        return f"{text} {', '.join(guard.classes) or 'none'}", keys
    return f"; it came from outside the arc of {wound.seat}'s guard, or that was down", (f"{key}.arc_deg",)


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
        name="held-behind" if event.reason is Reason.HELD_BEHIND else f"refused:{event.reason.value}",
        text=f"{event.seat}'s {event.order} was refused at {event.time:.3f} s: {why}",
        time=event.time,
        tick=event.tick,
        seat=event.seat,
        set_by=lines_of(case, *_refused_by(case, event)),
    )


def _refused_by(case: Case, event: OrderRefused) -> tuple[str, ...]:
    """What in the book refused an order."""
    name, seat, reason = event.order.partition(" ")[2], event.seat or "", event.reason
    key, fighter = f"attacks.{name}", case.fighter_or_none(seat, event.tick)
    attack = case.book.attacks.get(name)
    plain: dict[Reason, tuple[str, ...]] = {
        Reason.COOLDOWN: (f"{key}.rate" if attack is not None and attack.rate is not None else f"{key}.cooldown",),
        Reason.COST: (f"{key}.cost", f"fighters.{fighter}.pools.{event.pool}.max"),
        Reason.HELD_BEHIND: (order_key(case, seat, event.tick, "hold"), f"fighters.{fighter}.attacks"),
        Reason.SHOTS_FULL: ("settings.max_shots",),
        Reason.MOVING: (f"{key}.allowed_while", order_key(case, seat, event.tick, "move")),
        Reason.AIRBORNE: (f"{key}.allowed_while",),
        Reason.GUARDING: (f"{key}.allowed_while", order_key(case, seat, event.tick, "hold")),
        Reason.OTHER_STAGE: (f"fighters.{fighter}.stages",),
        Reason.DEAD: (f"fighters.{fighter}.respawn_seconds",),
        Reason.OUT_OF_LIVES: (f"{seat_key(case, seat)}.lives",) if seat_key(case, seat) else (),
    }
    if reason is Reason.ATTACKING:
        begun = [each for each in case.all(AttackBegan, seat=seat) if each.tick <= event.tick]
        last = f"attacks.{begun[-1].attack}" if begun else ""
        return (f"{last}.windup", f"{last}.active", f"{last}.recovery") if last else ()
    if reason is Reason.REACTING:
        reacted = [each for each in case.all(ReactionBegan, seat=seat) if each.tick <= event.tick]
        rows = [row.name for row in case.book.fighters[fighter].reactions] if fighter else []
        index = rows.index(reacted[-1].reaction) if reacted and reacted[-1].reaction in rows else None
        row = f"fighters.{fighter}.reactions[{index}]"
        return (f"{row}.name", f"{row}.seconds", f"{row}.locks") if index is not None else ()
    return plain.get(reason, ())


def cut_off(case: Case, event: Interrupted) -> Cause:
    """The cause of an attack that was broken off."""
    why, keys = event.reason.say(), (f"attacks.{event.attack}.interrupted_by",)
    wound = next((each for each in case.all(Wounded, seat=event.seat) if each.seq == event.cause), None)
    if wound is not None:
        if wound.kind in case.book.attacks[event.attack].interrupted_by:
            why += f": a wound of the kind {wound.kind}, which interrupts it"
        else:
            reacted = [each for each in case.all(ReactionBegan, seat=event.seat) if each.cause == wound.seq]
            why += f", and reacted with {reacted[0].reaction}" if reacted else ""
            keys = (f"attacks.{event.attack}.withstands_severity",)
    text = f"{event.seat}'s {event.attack} was broken off at {event.time:.3f} s: {why}"
    return Cause(
        name="interrupted",
        text=text,
        time=event.time,
        tick=event.tick,
        seat=event.seat,
        set_by=lines_of(case, *keys) if event.reason is Reason.WOUNDED else (),
    )
