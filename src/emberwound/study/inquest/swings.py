"""What became of a swing: whom its hitboxes touched, how near they came, and what cut it off."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.views.solids import solid_in_space
from emberwound.study.inquest.answer import Answer, Cause, Trial
from emberwound.study.inquest.approach import moment, nearest
from emberwound.study.inquest.outcomes import TOUCHES, cut_off, missed, outcome, passed_over, through_window
from emberwound.study.inquest.play import played
from emberwound.vocabulary.errors import BoutError, RulebookError
from emberwound.vocabulary.events import AttackBegan, Interrupted, PropStruck, StrikeBlocked, Wounded

if TYPE_CHECKING:
    from emberwound.bout import PassedOver
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.case import Case
    from emberwound.study.inquest.play import Play

STEPS, SMALL = 20, 0.1
"""A swing is tried from nearer by so many steps to the gap, and up to three times that; no gap counts as smaller."""


def about_swing(case: Case, began: AttackBegan, victim: str | None = None, *, tries: bool = True) -> Answer:
    """What became of an attack that strikes, with regard to one seat or to all foes."""
    owner = began.seat or ""
    question = f"what became of {owner}'s {began.attack} of tick {began.tick}?"
    hits = [
        cause
        for event in case.chronicle.events
        if isinstance(event, TOUCHES)
        and event.by == owner
        and event.attack == began.attack
        and victim in (None, event.seat)
        and case.follows(event, began.seq)
        for cause in [outcome(case, event)]
        if cause is not None
    ]
    if hits:
        return Answer(question=question, causes=tuple(sorted(hits, key=lambda each: each.name == "hit")))
    cut = next((each for each in case.all(Interrupted, seat=owner) if case.follows(each, began.seq)), None)
    if cut is None:
        upto = case.over(began)
        cuts = [each for each in case.all(Interrupted, seat=owner) if each.attack == began.attack]
        cut = next((each for each in cuts if began.tick <= each.tick <= upto), None)
    moments, touched = sweep(case, began)
    near = [each for each in nearest(moments) if victim in (None, each.seat) and case.are_foes(owner, each.seat)]
    near = [each for each in near if each.seat in case.teams]
    passed = [passed_over(case, each) for each in touched if victim in (None, each.seat)]
    foes = [each for each in passed if case.are_foes(owner, each.seat or "")]
    blocked = [_blocked(each) for each in case.all(StrikeBlocked, by=owner) if case.follows(each, began.seq)]
    misses = [_miss(case, began, each) for each in near]
    foes = through_window(case, moments, f"{owner}'s {began.attack}", victim) + foes
    causes = [*foes, *blocked, *misses]
    if cut is not None:  # it tells of itself first where the swing was not over
        late = bool(moments) and cut.time > moments[-1].time + 1.0 / case.rate
        causes.insert(len(causes) if late else len(foes) + len(blocked), cut_off(cut))
    causes += [each for each in passed if each not in foes and each.seat != owner]
    causes = causes or [_nobody(began)]
    trial = _moved(case, began, near[0]) if tries and near and causes[0].name == "out-of-reach" else None
    if tries and trial is None:
        trial = _allow(case, began, causes[0])
    return Answer(question=question, causes=tuple(causes), trial=trial)


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
        boxes = [solid_in_space(case.plan, each) for each in body.hitboxes.values()]
        if boxes:
            moments.append(moment(case.plan, view, owner, boxes))
        elif moments or began.attack not in body.states:
            break
    return moments, [each for each in play.touched if each.by == owner and each.attack == began.attack]


def _miss(case: Case, began: AttackBegan, near: Near) -> Cause:
    told = (
        f"{began.seat}'s {began.attack} came within {case.length(max(near.gap, 0.0))} of {near.seat}'s {near.hurtbox} "
        f"at {near.time:.3f} s, {near.side} it"
    )
    return missed(case, told, near)


def _blocked(event: StrikeBlocked) -> Cause:
    told = f"the wall {event.wall} stopped {event.attack} at {event.time:.3f} s before {event.seat}'s {event.hurtbox}"
    return Cause(
        name="passed-over:wall", told=told, time=event.time, tick=event.tick, seat=event.seat, hurtbox=event.hurtbox
    )


def _nobody(began: AttackBegan) -> Cause:
    told = f"{began.attack} struck where no foe of {began.seat} was"
    return Cause(name="never-entered", told=told, time=began.time, tick=began.tick)


def _moved(case: Case, began: AttackBegan, near: Near) -> Trial | None:
    """How much nearer to its foe, or further away, its owner had to stand as it began, found by placing it there."""
    play = case.play_at(began.tick)
    bodies = {each.seat: each.position for each in play.bout.view().bodies}
    here, there = bodies.get(began.seat or ""), bodies.get(near.seat)
    way = _level(case, here, there) if here and there else None
    if here is None or way is None:
        return None
    saved, runs = play.save(), 0
    for step in range(1, 3 * STEPS):
        for side, word in ((1.0, "nearer to"), (-1.0, "further from")):
            runs += 1
            far = step * max(near.gap, SMALL) / STEPS
            place = tuple(at + side * far * each for at, each in zip(here, way, strict=True))
            play.restore(saved)
            play.take_due()
            try:
                play.bout.seat(began.seat or "").place(place, teleport=True)
            except BoutError:  # outside the arena, or in a wall
                continue
            then = _strikes(play, case, began, near.seat)
            if then:
                return Trial(change=f"{case.length(far)} {word} {near.seat}", then=then, runs=runs)
    return None


def _level(case: Case, here: tuple[float, ...], there: tuple[float, ...]) -> tuple[float, ...] | None:
    """The direction along the ground from one place to another."""
    count = len(here) if case.plan.space.name == "top" else len(here) - 1
    apart = [there[axis] - here[axis] for axis in range(count)]
    far = sum(each**2 for each in apart) ** 0.5
    if far == 0.0:
        return None
    return (*(each / far for each in apart), *([0.0] * (len(here) - count)))


def _strikes(play: Play, case: Case, began: AttackBegan, victim: str) -> str | None:
    for _ in range(case.over(began) - began.tick + case.rate // 2):
        for event in play.step():
            if isinstance(event, Wounded | PropStruck) and (event.seat, event.by, event.attack) == (
                victim,
                began.seat,
                began.attack,
            ):
                told = outcome(case, event)
                return told.told if told else None
    return None


def _allow(case: Case, began: AttackBegan, cause: Cause) -> Trial | None:
    """What lets a touch count that was passed over."""
    key, why = f"attacks.{began.attack}", cause.name.partition(":")[2]
    changes = {"ally": (f"{key}.hits_allies", True), "layer": (f"{key}.layers", None)}
    if not cause.name.startswith("passed-over") or why not in changes or cause.seat is None:
        return None
    name, value = changes[why]
    try:
        play = played(case.chronicle, case.rules.edit({name: value}), began.tick)
    except RulebookError:
        return None
    then = _strikes(play, case, began, cause.seat) if play else None
    told = "left out" if value is None else f"= {str(value).lower()}"
    return Trial(change=f"{name} {told}", then=then, runs=1) if then else None
