"""What became of a swing, and changes with which it would have hit."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.views.body import hitboxes_of
from emberwound.study.inquest.answer import (
    Answer,
    Cause,
    Trial,
    lines_of,
    order_key,
    place_keys,
    said,
    seat_key,
    what_allows,
)
from emberwound.study.inquest.approach import moment, nearest
from emberwound.study.inquest.case import played
from emberwound.study.inquest.outcomes import TOUCHES, cut_off, missed, outcome, passed_over, through_window
from emberwound.vocabulary.errors import BoutError, RulebookError
from emberwound.vocabulary.events import AttackBegan, Healed, Interrupted, PropStruck, StrikeBlocked, Wounded

if TYPE_CHECKING:
    from emberwound.bout import PassedOver
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.case import Case, Play


STEPS, SMALL = 20, 0.1
"""A swing is tried from nearer by so many steps to the gap, and up to three times that; no gap counts as smaller."""


def trial_of_swing(
    case: Case, began: AttackBegan, cause: Cause, near: list[Near], moments: list[Moment]
) -> Trial | None:
    """What an author would change first with which the swing hits: its hitbox, a facing, a team, a place."""
    if near and cause.name == "out-of-reach" and moments:
        if cause.text.endswith("in front") and "its hitbox is behind" in cause.text:
            return _mirrored(case, began, near[0])
        if "who faces the other way" in cause.text:
            return _facing(case, began, near[0])
        return _moved(case, began, near[0])
    changes = what_allows(case, began.attack, cause, began.tick)
    return _edited(case, began, cause.seat or "", changes)


def _mirrored(case: Case, began: AttackBegan, near: Near) -> Trial | None:
    """The hitboxes on the other side of their owner."""
    strike = case.book.attacks[began.attack].strike
    changes: dict[str, Any] = {}
    for name, box in strike.hitboxes.items() if strike else ():
        for part, place in (("from", box.from_), ("to", box.to)):
            if place is not None and not isinstance(place, str) and place[0] < 0.0:
                changes[f"attacks.{began.attack}.strike.hitboxes.{name}.{part}"] = [-place[0], *place[1:]]
    return _edited(case, began, near.seat, changes)


def _facing(case: Case, began: AttackBegan, near: Near) -> Trial | None:
    """The seat made to look the other way as it enters."""
    key, here = seat_key(case, began.seat), case.play_at(began.tick).bout.seat(began.seat or "").position
    if not key or here is None or case.plan.space.looks_around:
        return None
    heading = -1 if near.place[0] - near.aside[0] < here[0] else 1
    return _edited(case, began, near.seat, {f"{key}.facing": "right" if heading > 0 else "left"})


def _edited(case: Case, began: AttackBegan, victim: str, changes: dict[str, Any]) -> Trial | None:
    """The swing under changed rules; None if it does not hit."""
    if not changes:
        return None
    try:
        play = played(case.chronicle, case.rules.edit(changes), began.tick)
    except RulebookError:
        return None
    then = strikes(play, case, began, victim) if play else None
    text = ", ".join(f"{name} {said(value)}" for name, value in changes.items())
    return Trial(change=text, then=then, runs=1) if then else None


def _moved(case: Case, began: AttackBegan, near: Near) -> Trial | None:
    """How much nearer to its foe, or further away, its owner had to stand as it began, found by placing it there."""
    play = case.play_at(began.tick)
    bodies = {each.seat: each.position for each in play.bout.view().bodies}
    here, there = bodies.get(began.seat or ""), bodies.get(near.seat)
    way = _level(case, here, there) if here and there else None
    if here is None or way is None:
        return None
    room = _room(case, began.seat, began.tick) + _room(case, near.seat, began.tick)
    saved, runs = play.save(), 0
    for step in range(1, 3 * STEPS):
        for side, word in ((1.0, "nearer to"), (-1.0, "further from")):
            runs += 1
            far = step * max(near.gap, SMALL) / STEPS
            place = tuple(at + side * far * each for at, each in zip(here, way, strict=True))
            if hypot(*(a - b for a, b in zip(place, there or here, strict=True))) < room:
                continue  # within its foe
            play.restore(saved)
            play.take_due()
            try:
                play.bout.seat(began.seat or "").place(place, teleport=True)
            except BoutError:  # outside the arena, or in a wall
                continue
            then = strikes(play, case, began, near.seat)
            if then:
                return Trial(change=f"{case.length(far)} {word} {near.seat}", then=then, runs=runs)
    return None


def _room(case: Case, seat: str | None, tick: int) -> float:
    fighter = case.fighter_or_none(seat, tick)
    return case.book.fighters[fighter].body.radius if fighter else 0.0


def _level(case: Case, here: tuple[float, ...], there: tuple[float, ...]) -> tuple[float, ...] | None:
    """The direction along the ground from one place to another."""
    count = len(here) if case.plan.space.name == "top" else len(here) - 1
    apart = [there[axis] - here[axis] for axis in range(count)]
    far = sum(each**2 for each in apart) ** 0.5
    if far == 0.0:
        return None
    return (*(each / far for each in apart), *([0.0] * (len(here) - count)))


def strikes(play: Play, case: Case, began: AttackBegan, victim: str) -> str | None:
    """What the swing then did to its victim, as a sentence; None if it did not hit it."""
    for _ in range(case.over(began) - began.tick + case.rate // 2):
        for event in play.step():
            if isinstance(event, Wounded | PropStruck | Healed) and (event.seat, event.by, event.attack) == (
                victim,
                began.seat,
                began.attack,
            ):
                text = outcome(case, event)
                return text.text if text else None
    return None


def about_swing(case: Case, began: AttackBegan, victim: str | None = None, *, tries: bool = True) -> Answer:
    """What became of an attack that strikes, with regard to one seat or to all foes."""
    question = f"what became of {began.seat}'s {began.attack} of tick {began.tick}?"
    hits = _hits(case, began, victim)
    if hits:
        return Answer(question=question, causes=tuple(sorted(hits, key=lambda each: each.name == "hit")))
    moments, touched = sweep(case, began)
    near = [each for each in nearest(moments) if each.seat in case.teams and _is_meant(case, began, each.seat, victim)]
    causes = _causes(case, began, victim, moments, touched, near)
    trial = trial_of_swing(case, began, causes[0], near, moments) if tries else None
    return Answer(question=question, causes=tuple(causes), trial=trial)


def _hits(case: Case, began: AttackBegan, victim: str | None) -> list[Cause]:
    """What its hits on one seat, or on anybody, came to."""
    mine = [
        event
        for event in case.chronicle.events
        if isinstance(event, TOUCHES) and event.by == began.seat and event.attack == began.attack
    ]
    meant = [each for each in mine if victim in (None, each.seat) and case.follows(each, began.seq)]
    return [cause for each in meant if (cause := outcome(case, each)) is not None]


def _heals(case: Case, began: AttackBegan) -> bool:
    """Whether a swing is meant for friends: it heals, or revives without wounding."""
    attack = case.book.attacks[began.attack]
    return attack.heal > 0.0 or (attack.damage == 0.0 and attack.revive)


def _is_meant(case: Case, began: AttackBegan, seat: str, victim: str | None) -> bool:
    """Whether a swing was likely meant for a seat: the one named, else a foe; a friend, if it heals."""
    if victim is not None:
        return victim == seat
    return case.are_foes(began.seat or "", seat) is not _heals(case, began)


def _causes(
    case: Case,
    began: AttackBegan,
    victim: str | None,
    moments: list[Moment],
    touched: list[PassedOver],
    near: list[Near],
) -> list[Cause]:
    """Why a swing hit nobody, the first true cause first: what it passed over, a wall, its end, how near it came."""
    owner = began.seat or ""
    passed = [passed_over(case, each) for each in touched if victim in (None, each.seat)]
    passed = [each for each in passed if each.name != "passed-over:owner" or not _heals(case, began)]
    passed = sorted(passed, key=lambda each: each.name == "passed-over:dead")
    foes = [each for each in passed if victim is not None or _is_meant(case, began, each.seat or "", None)]
    blocked = [_blocked(each) for each in case.all(StrikeBlocked, by=owner) if case.follows(each, began.seq)]
    through = through_window(case, moments, f"{owner}'s {began.attack}", victim)
    causes = [*through, *foes, *blocked, *(_miss(case, began, each, moments) for each in near)]
    cut = _cut_of(case, began)
    if cut is not None:  # it comes first where the swing was not over
        late = bool(moments) and cut.time > moments[-1].time + 1.0 / case.rate
        causes.insert(len(causes) if late else len(through) + len(foes) + len(blocked), cut_off(case, cut))
    causes += [each for each in passed if each not in foes and each.seat != owner]
    if not causes:
        causes = [_nobody(began) if moments else _never_on(case, began)]
    return causes


def _cut_of(case: Case, began: AttackBegan) -> Interrupted | None:
    """What broke a swing off, if anything did."""
    cuts = case.all(Interrupted, seat=began.seat or "")
    followed = next((each for each in cuts if case.follows(each, began.seq)), None)
    if followed is not None:
        return followed
    upto = case.over(began)
    return next((each for each in cuts if each.attack == began.attack and began.tick <= each.tick <= upto), None)


def sweep(case: Case, began: AttackBegan) -> tuple[list[Moment], list[PassedOver]]:
    """The moments of a swing while hitboxes are on, and the touches it passed over."""
    play, owner = case.play_at(began.tick), began.seat or ""
    play.listen()
    moments: list[Moment] = []
    for _ in range(case.over(began) - began.tick + case.rate):
        play.step()
        view = play.bout.view()
        body = next((each for each in view.bodies if each.seat == owner), None)
        if body is None or play.bout.over:
            break
        boxes = list(hitboxes_of(body).values())
        if boxes:
            moments.append(moment(case.plan, view, owner, boxes))
        elif moments or began.attack not in body.states:
            break
    return moments, [each for each in play.touched if each.by == owner and each.attack == began.attack]


def _miss(case: Case, began: AttackBegan, near: Near, moments: list[Moment]) -> Cause:
    """How a swing missed a body, as its owner sees it."""
    behind = behind_of(began, near, moments)
    gap, whom = case.length(max(near.gap, 0.0)), f"{near.seat}'s {near.hurtbox}"
    what, came = f"{began.seat}'s {began.attack}", f"came within {gap} of {whom}"
    owner = began.seat or ""
    at = min(moments, key=lambda each: abs(each.time - near.time))
    side = near.side_for(at.headings.get(owner, near.heading))
    if behind == "victim":
        text = [order_key(case, owner, began.tick, part) for part in ("facing", "aim", "move")]
        mine = f"{seat_key(case, owner)}.facing" if seat_key(case, owner) else ""
        keys: tuple[str, ...] = (mine, *text, *place_keys(case, near.seat))
        why = f": {near.seat} is behind {owner}, who faces the other way"
        return missed(case, what, (came, why), near, keys)
    boxes = tuple(f"{hitbox}.{part}" for hitbox in _hitboxes(case, began) for part in PARTS)
    if behind == "hitbox":
        return missed(case, what, (came, f": its hitbox is behind {owner}, and {near.seat} in front"), near, boxes)
    how = {"in front of": "beyond it", "behind": "short of it"}.get(side, f"{side} it")
    places = place_keys(case, near.seat) if side in ("in front of", "behind") else ()
    return missed(case, what, (came, f", {how}"), near, (*boxes, *places))


PARTS = ("from", "to")


def _hitboxes(case: Case, began: AttackBegan) -> list[str]:
    strike = case.book.attacks[began.attack].strike
    return [f"attacks.{began.attack}.strike.hitboxes.{name}" for name in (strike.hitboxes if strike else ())]


def behind_of(began: AttackBegan, near: Near, moments: list[Moment]) -> str:
    """Whether the "victim", or the "hitbox" alone, is behind who strikes; nothing where both are in front."""
    at = min(moments, key=lambda each: abs(each.time - near.time))
    heading = at.headings.get(began.seat or "")
    if heading is None or not at.own:
        return ""
    middle = np.mean([each.middle for each in at.own], axis=0)
    ahead = np.array([*heading, 0.0])
    theirs = near.place - near.aside
    if float((theirs - middle) @ ahead) < 0.0:
        return "victim"
    return "hitbox" if float((near.place - middle) @ ahead) < 0.0 else ""


def _never_on(case: Case, began: AttackBegan) -> Cause:
    """That no hitbox of an attack ever came on."""
    text = f"no hitbox of {began.attack} came on between {began.time:.3f} s and the end of the attack"
    keys = (f"attacks.{began.attack}.active", *(f"{each}.on" for each in _hitboxes(case, began)))
    return Cause(
        name="out-of-reach", text=text, time=began.time, tick=began.tick, seat=began.seat, set_by=lines_of(case, *keys)
    )


def _blocked(event: StrikeBlocked) -> Cause:
    text = f"the wall {event.wall} stopped {event.attack} at {event.time:.3f} s before {event.seat}'s {event.hurtbox}"
    return Cause(
        name="passed-over:wall",
        text=text,
        time=event.time,
        tick=event.tick,
        seat=event.seat,
        hurtbox=event.hurtbox,
        set_by=(f'attacks.{event.attack}.strike.on_wall = "block"',),
    )


def _nobody(began: AttackBegan) -> Cause:
    text = f"{began.attack} struck where no foe of {began.seat} was"
    return Cause(name="never-entered", text=text, time=began.time, tick=began.tick)
