"""Every attempt of one seat on another: what became of it, and what it looked like."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.study.inquest.answer import Answer, Attempt, Cause, lines_of
from emberwound.study.inquest.approach import ball, moment, nearest
from emberwound.study.inquest.case import Case
from emberwound.study.inquest.outcomes import TOUCHES, cut_off, missed, outcome, refusal
from emberwound.study.inquest.shots import about_shot, flight
from emberwound.study.inquest.swings import about_swing, sweep
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import AttackBegan, Exploded, Interrupted, OrderRefused, Released
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.chronicle import Chronicle
    from emberwound.study.inquest.approach import Moment, Near


def of_attack(case: Case, began: AttackBegan, victim: str | None = None, *, tries: bool = True) -> Answer:
    """What became of an attack that began: of its first shot that hit, else of its first, or of its swing."""
    shots = [each for each in case.all(Released, by=began.seat) if case.follows(each, began.seq)]
    if shots:
        answers = [about_shot(case, each.shot, victim, tries=tries and len(shots) == 1) for each in shots]
        hit = next((each for each in answers if each.cause.name == "hit"), None)
        return hit or min(answers, key=lambda each: each.cause.gap if each.cause.gap is not None else 0.0)
    attack = case.book.attacks[began.attack]
    if attack.strike is not None:
        return about_swing(case, began, victim, tries=tries)
    return about_blast(case, began, victim)


def about_blast(case: Case, began: AttackBegan, victim: str | None) -> Answer:
    """What became of an attack that neither releases nor strikes: of its blast, if it has one."""
    question = f"what became of {began.seat}'s {began.attack}?"
    hits = [
        cause
        for event in case.chronicle.events
        if isinstance(event, TOUCHES) and victim in (None, event.seat) and case.follows(event, began.seq)
        for cause in [outcome(case, event)]
        if cause is not None
    ]
    if hits:
        return Answer(question=question, causes=tuple(sorted(hits, key=lambda each: each.name == "hit")))
    exploded = next((each for each in case.all(Exploded, by=began.seat) if case.follows(each, began.seq)), None)
    if exploded is None:
        return Answer(question=question, causes=(_without_touch(case, began),))
    view = case.play_at(exploded.tick).bout.view()
    place = case.plan.space.lift(exploded.position)
    near = nearest([moment(case.plan, view, began.seat or "", [ball(place, exploded.radius)])])
    near = [each for each in near if victim in (None, each.seat) and case.are_foes(began.seat or "", each.seat)]
    causes = [
        missed(
            case,
            exploded.blast,
            (f"ended {case.length(max(each.gap, 0.0))} from {each.seat}'s {each.hurtbox}", ""),
            each,
            (f"blasts.{exploded.blast}.radius",),
        )
        for each in near
    ]
    return Answer(question=question, causes=tuple(causes) or (_without_touch(case, began),))


def _without_touch(case: Case, began: AttackBegan) -> Cause:
    cut = next(
        (
            each
            for each in case.all(Interrupted, seat=began.seat)
            if each.attack == began.attack and began.tick <= each.tick <= case.over(began)
        ),
        None,
    )
    if cut is not None:
        return cut_off(case, cut)
    if began.release_tick >= case.chronicle.end.ticks:
        text = f"{began.seat}'s {began.attack} had not come to its release when the record ends"
        keys = lines_of(case, f"attacks.{began.attack}.windup")
        return Cause(name="too-late", text=text, tick=began.tick, seat=began.seat, set_by=keys)
    full = [
        each
        for each in case.all(OrderRefused, seat=began.seat)
        if each.reason is Reason.SHOTS_FULL and each.tick == began.release_tick
    ]
    if full:
        return refusal(case, full[0])
    text = f"{began.seat}'s {began.attack} began at {began.time:.3f} s; it touches nobody by itself"
    return Cause(name="carried-out", text=text, time=began.time, tick=began.tick, seat=began.seat)


def about_attempts(case: Case, by: str, victim: str, between: tuple[float, float] | None) -> Answer:
    """Every attack of a seat while another was there, and every refused one, within a span of seconds."""
    first, last = between or (0.0, case.chronicle.seconds)
    case.known_seat(by)
    case.known_seat(victim)
    span = f" from {first:g} to {last:g} s" if between else ""
    question = f"what became of {by}'s attempts on {victim}{span}?"
    found: list[Attempt] = []
    for event in case.chronicle.events:
        if event.seat != by or not first <= event.time <= last:
            continue
        if isinstance(event, AttackBegan):
            answer = of_attack(case, event, victim, tries=False)
            shots = [each.shot for each in case.all(Released, by=by) if case.follows(each, event.seq)]
            shot = shots[0] if shots else 0
            found.append(Attempt(time=event.time, tick=event.tick, attack=event.attack, shot=shot, cause=answer.cause))
        elif isinstance(event, OrderRefused):
            name = event.order.partition(" ")[2]
            found.append(Attempt(time=event.time, tick=event.tick, attack=name, shot=0, cause=refusal(case, event)))
    if not found:
        text = f"{by} began no attack{span}, and none was refused"
        return Answer(question=question, causes=(Cause(name="never-ordered", text=text, seat=by),))
    counts: dict[str, int] = {}
    for each in found:
        counts[each.cause.name] = counts.get(each.cause.name, 0) + 1
    text = ", ".join(f"{count} {name}" for name, count in sorted(counts.items(), key=lambda each: -each[1]))
    worst = next((each.cause for each in found if each.cause.name not in ("hit", "carried-out")), found[0].cause)
    summary = f"{len(found)} attempt{'' if len(found) == 1 else 's'} of {by} on {victim}: {text}"
    cause = Cause(name=worst.name, text=summary, seat=victim, set_by=worst.set_by)
    return Answer(question=question, causes=(cause,), attempts=tuple(found))


class Scene(NamedTuple):
    """An answer with the moments that it shows; `near` is the nearest approach to the seat of its first cause."""

    answer: Answer
    owner: str
    moments: list[Moment]
    near: Near | None

    @property
    def at(self) -> Moment:
        """The moment of the nearest approach, or the last one."""
        time = self.near.time if self.near else self.moments[-1].time
        return min(self.moments, key=lambda each: abs(each.time - time))


def scene_of_shot(chronicle: Chronicle, shot: int) -> Scene:
    """The scene of a shot or ray. Raises ChronicleError for an id that none had."""
    case = Case(chronicle)
    answer, released = about_shot(case, shot), case.released(shot)
    moments, _ = flight(case, released)
    return Scene(answer, released.by or "", moments, _near(answer, moments))


def scene_of_swing(chronicle: Chronicle, seat: str, tick: int) -> Scene:
    """The scene of the attack that a seat was at in a tick. Raises ChronicleError where there was none."""
    case = Case(chronicle)
    began = case.attack_at(seat, tick)
    answer = of_attack(case, began)
    moments, _ = sweep(case, began)
    if not moments:
        return _without_strike(case, began)
    return Scene(answer, seat, moments, _near(answer, moments))


def _without_strike(case: Case, began: AttackBegan) -> Scene:
    """The scene of the first shot that an attack released."""
    for each in case.all(Released, by=began.seat):
        if case.follows(each, began.seq):
            return scene_of_shot(case.chronicle, each.shot)
    raise ChronicleError(
        f"{began.seat}'s {began.attack} has no hitbox and released nothing: nothing of it can be drawn"
    )


def _near(answer: Answer, moments: list[Moment]) -> Near | None:
    found = nearest(moments)
    return next((each for each in found if each.seat == answer.cause.seat), found[0] if found else None)
