"""Changes with which a swing would have hit: each is tried by running the bout again."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

from emberwound.study.inquest.answer import Trial
from emberwound.study.inquest.outcomes import outcome
from emberwound.study.inquest.play import played
from emberwound.study.inquest.settings_of import said, seat_key, what_allows
from emberwound.vocabulary.errors import BoutError, RulebookError
from emberwound.vocabulary.events import Healed, PropStruck, Wounded

if TYPE_CHECKING:
    from emberwound.study.inquest.answer import Cause
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.case import Case
    from emberwound.study.inquest.play import Play
    from emberwound.vocabulary.events import AttackBegan

STEPS, SMALL = 20, 0.1
"""A swing is tried from nearer by so many steps to the gap, and up to three times that; no gap counts as smaller."""


def trial_of_swing(
    case: Case, began: AttackBegan, cause: Cause, near: list[Near], moments: list[Moment]
) -> Trial | None:
    """What an author would change first with which the swing hits: its hitbox, a facing, a team, a place."""
    if near and cause.name == "out-of-reach" and moments:
        if cause.told.endswith("in front") and "its hitbox is behind" in cause.told:
            return _mirrored(case, began, near[0])
        if "who faces the other way" in cause.told:
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
    """The seat told to look the other way as it enters."""
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
    told = ", ".join(f"{name} {said(value)}" for name, value in changes.items())
    return Trial(change=told, then=then, runs=1) if then else None


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
                told = outcome(case, event)
                return told.told if told else None
    return None
