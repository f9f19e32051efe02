"""What became of a shot or a ray: whom it hit, how near it passed, what ended it before, and what would have hit."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

import numpy as np

from emberwound.study.inquest.answer import Answer, Cause, aim_keys, flight_keys, lines_of
from emberwound.study.inquest.approach import ball, moment, nearest
from emberwound.study.inquest.outcomes import TOUCHES, missed, outcome, passed_over, through_window
from emberwound.study.inquest.trials import trial_of_shot
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout import PassedOver
    from emberwound.study.inquest.approach import Moment, Near
    from emberwound.study.inquest.case import Case, Play
    from emberwound.vocabulary.events import Released, ShotEnded

ENDS: dict[Reason, str] = {
    Reason.LIFE_OVER: "life",
    Reason.RANGE_OVER: "range",
    Reason.OUT_OF_BOUNDS: "bounds",
    Reason.MUZZLE_OUT_OF_BOUNDS: "bounds",
    Reason.WALL: "wall",
    Reason.MUZZLE_IN_WALL: "wall",
    Reason.FLOOR: "floor",
    Reason.MUZZLE_IN_FLOOR: "floor",
    Reason.SHOTS_FULL: "capacity",
}
"""What ended a shot, as a cause says it."""

RAY_STEPS = 65
"""Places along a ray that are looked at."""


def about_shot(case: Case, shot: int, victim: str | None = None, *, tries: bool = True) -> Answer:
    """What became of a shot or ray, with regard to one seat or to all foes of its owner; `tries` looks for a change."""
    released = case.released(shot)
    owner, question = released.by or "", f"what became of shot {shot}, {released.by}'s {released.attack}?"
    hits = [
        cause
        for event in case.chronicle.events
        if isinstance(event, TOUCHES) and event.shot == shot and victim in (None, event.seat)
        for cause in [outcome(case, event)]
        if cause is not None
    ]
    if hits:
        telling = sorted(hits, key=lambda each: each.name == "hit")
        trial = trial_of_shot(case, released, telling[0], None) if tries and telling[0].name != "hit" else None
        return Answer(question=question, causes=tuple(telling), trial=trial)
    moments, touched = flight(case, released)
    near = [each for each in nearest(moments) if victim in (None, each.seat) and _is_meant(case, owner, each, victim)]
    off = through_window(case, moments, f"{released.attack} {shot}", victim)
    postured = [each for each in off if each.name == "passed-over:posture" and near]
    causes = [each for each in off if each not in postured]
    causes += _missed(case, released, near, [each for each in touched if victim in (None, each.seat)], victim)
    causes += postured
    trial = trial_of_shot(case, released, causes[0], _near_of(near, causes[0])) if tries else None
    return Answer(question=question, causes=tuple(causes), trial=trial)


def _near_of(near: list[Near], cause: Cause) -> Near | None:
    return next((each for each in near if each.seat == cause.seat), near[0] if near else None)


def _is_meant(case: Case, owner: str, near: Near, victim: str | None) -> bool:
    """Whether a body is one that a shot was likely meant for: a named one, or a foe's."""
    return near.seat == victim or (near.seat in case.teams and case.are_foes(owner, near.seat))


def flight(case: Case, released: Released) -> tuple[list[Moment], list[PassedOver]]:
    """The moments of a shot's flight, or a ray's, and the touches it passed over, seen by running the bout again."""
    play, ended = case.play_at(released.tick), case.ended(released.shot)
    owner = released.by or ""
    play.listen()
    lift = case.plan.space.lift
    shot = case.book.attacks[released.attack].shot
    before = play.bout.view()
    if shot is None:
        play.step()
        start, end = np.array(lift(released.position)), np.array(lift(ended.position if ended else released.position))
        moments = [
            moment(case.plan, before, owner, [ball(start + share * (end - start), 0.0)])
            for share in np.linspace(0.0, 1.0, RAY_STEPS)
        ]
        return moments, _of_shot(play, released.shot)
    moments = [moment(case.plan, before, owner, [ball(lift(released.position), shot.radius)])]
    last = ended.tick if ended else case.chronicle.end.ticks - 1
    while play.bout.tick <= last and not play.bout.over:
        play.step()
        view = play.bout.view()
        flying = next((each for each in view.shots if each.id == released.shot), None)
        if flying is not None:
            moments.append(moment(case.plan, view, owner, [ball(lift(flying.position), flying.radius)]))
        elif ended is not None:
            final = moment(case.plan, view, owner, [ball(lift(ended.position), shot.radius)])
            moments.append(final._replace(time=ended.time))
            break
    return moments, _of_shot(play, released.shot)


def _of_shot(play: Play, shot: int) -> list[PassedOver]:
    return [each for each in play.touched if each.shot == shot]


def _missed(
    case: Case, released: Released, near: list[Near], touched: list[PassedOver], victim: str | None
) -> list[Cause]:
    """Why a shot hit nobody, or not the `victim`, the first true cause first."""
    owner, ended = released.by or "", case.ended(released.shot)
    passed = sorted((passed_over(case, each) for each in touched), key=lambda each: each.name == "passed-over:dead")
    foes = [each for each in passed if victim is not None or case.are_foes(owner, each.seat or "")]
    others = [each for each in passed if each not in foes and each.seat != owner]
    others = others or [each for each in passed if each.seat == owner and not near]
    over = [_end(case, released, ended, near)] if ended and ended.reason in ENDS else []
    misses = [_miss(case, released, each) for each in near]
    if near and near[0].is_last and over:
        return [*foes, *over, *misses[1:], *others]
    if ended is None and (not near or near[0].is_last):
        return [*foes, _flies(case, released), *misses, *others]
    if near:
        return [*foes, *misses, *over, *others]
    return [*foes, *others, *over] or [_nobody(released)]


def _flies(case: Case, released: Released) -> Cause:
    text = f"{released.attack} {released.shot} still flew when the record ends, at {case.chronicle.seconds:.3f} s"
    key = f"attacks.{released.attack}.shot.speed"
    time, tick = case.chronicle.seconds, case.chronicle.end.ticks
    return Cause(name="too-late", text=text, time=time, tick=tick, set_by=lines_of(case, key))


def _nobody(released: Released) -> Cause:
    text = f"{released.attack} {released.shot} flew where no foe of {released.by} was"
    return Cause(name="never-entered", text=text, time=released.time, tick=released.tick)


def _miss(case: Case, released: Released, near: Near) -> Cause:
    side = near.side_for(_heading(case, released))
    how = (
        f"passed {case.length(near.gap)} {_AS_IT_FLEW.get(side, side)} {near.seat}'s {near.hurtbox}"
        if near.gap > GRAZED
        else f"grazed {near.seat}'s {near.hurtbox} (0 {case.units})"
    )
    bent = flight_keys(case, released.attack) if side in ("above", "below") else ()
    keys = aim_keys(case, released.by, released.attack, released.tick)
    return missed(case, f"{released.attack} {released.shot}", (how, ""), near, (*keys, *bent))


_AS_IT_FLEW = {"in front of": "short of", "behind": "beyond"}
GRAZED = 1e-9


def _heading(case: Case, released: Released) -> tuple[float, float]:
    """The direction over the ground in which a shot or ray left."""
    way = case.plan.space.lift(released.velocity or released.direction or released.position)
    far = hypot(way[0], way[1])
    return (way[0] / far, way[1] / far) if far else (1.0, 0.0)


def _end(case: Case, released: Released, ended: ShotEnded, near: list[Near]) -> Cause:
    place = case.point(ended.position)
    text = f"{released.attack} {released.shot} {ended.reason.say(place=place, wall=ended.wall, victim='', hurtbox='')}"
    last = near[0] if near and near[0].is_last else None
    short = f"{case.length(last.gap)} short of {last.seat}'s {last.hurtbox}" if last else None
    text += f" at {ended.time:.3f} s, {short}" if short else ""
    if ended.reason is Reason.FLOOR and (shot := case.book.attacks[released.attack].shot) is not None:
        text += f"; it was shot with {shot.speed:g} {case.units}/s"
        text += f" and falls with {shot.gravity_share:g} of the gravity" if shot.gravity_share != 1.0 else ""
    return Cause(
        name=f"ended:{ENDS[ended.reason]}",
        text=text,
        brief=short,
        time=ended.time,
        tick=ended.tick,
        seat=near[0].seat if near else None,
        hurtbox=last.hurtbox if last else None,
        gap=last.gap if last else None,
        place=ended.position,
        set_by=lines_of(case, *_ended_by(case, released, ended)),
    )


def _ended_by(case: Case, released: Released, ended: ShotEnded) -> tuple[str, ...]:
    """What in the book ended a shot."""
    arena, attack = f"arenas.{case.chronicle.header.arena}", case.book.attacks[released.attack]
    key = f"attacks.{released.attack}.{'shot' if attack.shot else 'ray'}"
    end = ENDS[ended.reason]
    if ended.reason in (Reason.MUZZLE_IN_WALL, Reason.MUZZLE_IN_FLOOR, Reason.MUZZLE_OUT_OF_BOUNDS):
        return (f"{key}.muzzle", f"{arena}.bounds" if end == "bounds" else f"{arena}.walls")
    if end in ("life", "range"):
        return (f"{key}.{end}",)
    if end == "wall":
        walls = case.book.arenas[case.chronicle.header.arena].walls
        return (f"{arena}.{'walls' if ended.wall in walls else 'hazards'}.{ended.wall}",)
    if end == "bounds":
        return (f"{arena}.bounds", *aim_keys(case, released.by, released.attack, released.tick))
    if end == "floor":
        aims = aim_keys(case, released.by, released.attack, released.tick)
        return (*flight_keys(case, released.attack), *aims)
    return ("settings.max_shots",)
