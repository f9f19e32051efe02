"""Why a seat died, and why it is still alive; how near it came to hazards, checkpoints and pickups."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from emberwound.bout.views.body import hurtboxes_of
from emberwound.bout.views.frame import area_solids_of
from emberwound.plan.solids import gap
from emberwound.study.inquest.answer import Answer, Cause, lines_of, seat_key
from emberwound.study.inquest.attempts import about_attempts
from emberwound.study.inquest.outcomes import hitter_key, outcome
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import (
    AttackBegan,
    Died,
    Healed,
    OrderRefused,
    Respawned,
    SeatEntered,
    SeatLeft,
    Wounded,
)

if TYPE_CHECKING:
    from collections.abc import Collection

    from emberwound.study.inquest.case import Case


STRIDE = 8
"""The nearest approach to an area is sought every so many ticks first."""

NEAR_GRAIN = 1e-9
"""Gaps that differ by less are one."""


class AreaApproach(NamedTuple):
    """How near a seat came to an area of the arena."""

    name: str
    cause: Cause


def near_areas(case: Case, seat: str, places: dict[str, int], what: str, start: int = 0) -> list[AreaApproach]:
    """How near a seat's living body came to areas from a tick on, the nearest first: roughly, then tick by tick."""
    ends = case.chronicle.end.ticks
    found: dict[str, AreaApproach] = {}
    rough = _scan(case, seat, places, what, (start + 1, ends), STRIDE)
    for name, near in rough.items():
        middle = near.cause.tick or 1
        span = (max(middle - STRIDE, start + 1), min(middle + STRIDE, ends))
        found |= _scan(case, seat, {name: places[name]}, what, span, 1)
    return sorted(found.values(), key=lambda each: each.cause.gap or 0.0)


def _scan(
    case: Case, seat: str, places: dict[str, int], what: str, span: tuple[int, int], stride: int
) -> dict[str, AreaApproach]:
    """The nearest approach to each area in the states of a span, every so many ticks."""
    best: dict[str, AreaApproach] = {}
    play = case.play_at(span[0] - 1)
    while places and play.bout.tick < span[1] and not play.bout.over:
        play.until(play.bout.tick + stride)
        view = play.bout.view()
        body = next((each for each in view.bodies if each.seat == seat), None)
        if body is None:
            continue
        parts = list(hurtboxes_of(body).values())
        for name, index in places.items():
            area = area_solids_of(view)[index]
            far = max(min(gap(part, area) for part in parts), 0.0)
            if name in best and far >= (best[name].cause.gap or 0.0) - NEAR_GRAIN:
                continue
            text = f"{seat} came within {case.length(far)} of the {what} {name} at {view.time:.3f} s"
            text = text if far else f"{seat} touched the {what} {name} at {view.time:.3f} s"
            figures: dict[str, Any] = {"time": view.time, "tick": view.tick, "gap": far, "place": body.position}
            best[name] = AreaApproach(name, Cause(name="out-of-reach", text=text, seat=seat, **figures))
    return best


NEAR = 3.0
"""Heights of a body: what it never came nearer to is not reported."""


def about_hazards(case: Case, seat: str, start: int, wounded: Collection[str]) -> list[Cause]:
    """Why the hazards of the arena that a seat came near to did not wound it from a tick on, the nearest first."""
    arena = case.book.arenas[case.chronicle.header.arena]
    places = {name: index for index, name in enumerate(arena.hazards) if name not in wounded}
    if not places:
        return []
    tall = case.book.fighters[case.fighter_of(seat, start)].body.height
    found = near_areas(case, seat, places, "hazard", start)
    return [_why(case, seat, each) for each in found if (each.cause.gap or 0.0) <= NEAR * tall]


def _why(case: Case, seat: str, near: AreaApproach) -> Cause:
    """Why one hazard did not wound it."""
    name = case.chronicle.header.arena
    hazard, key = case.book.arenas[name].hazards[near.name], f"arenas.{name}.hazards.{near.name}"
    figures = {"time": near.cause.time, "tick": near.cause.tick, "gap": near.cause.gap, "place": near.cause.place}
    if near.cause.gap:
        fatal = ("fatal = true",) if hazard.fatal else ()
        set_by = (*lines_of(case, f"{key}.at"), *fatal)
        return Cause(name="out-of-reach", text=near.cause.text, seat=seat, set_by=set_by, **figures)  # type: ignore[arg-type]
    when = f"{seat} was in the hazard {near.name} at {near.cause.time:.3f} s"
    if hazard.schedule is not None:
        first = hazard.schedule.first.written()
        text = f"{when}, while it was off: it first comes on at {first} s, for {hazard.schedule.on.written()} s"
        keys = lines_of(case, f"{key}.schedule.first", f"{key}.schedule.on", f"{key}.schedule.off")
        return Cause(name="switched-off", text=text, seat=seat, set_by=keys, **figures)  # type: ignore[arg-type]
    fighter = case.fighter_or_none(seat, near.cause.tick or 0)
    keys = lines_of(case, f"{key}.layers", f"fighters.{fighter}.respawn_protection", f"{key}.rehit_every")
    text = f"{when}, and was not wounded: its layers, a protection, or its time until it wounds again"
    return Cause(name="passed-over:hazard", text=text, seat=seat, set_by=keys, **figures)  # type: ignore[arg-type]


GRAIN = 1e-9
"""A pool that came back by less than this did not fill up."""


def about_death(case: Case, seat: str) -> Answer:
    """The wounds of a seat's last life that ended, each with its ledger, and who is credited.

    Raises ChronicleError for a seat that never died.
    """
    deaths = case.all(Died, seat=case.known_seat(seat))
    if not deaths:
        raise ChronicleError(f"{seat} never died in this bout; ask why it is alive instead")
    died = deaths[-1]
    start = _life_start(case, seat, died.tick)
    wounds = [each for each in case.all(Wounded, seat=seat) if start <= each.tick and each.seq < died.seq]
    healed = sum(each.amount for each in case.all(Healed, seat=seat) if start <= each.tick <= died.tick)
    by = f"{died.by}'s {died.attack}" if died.by else died.attack
    lasted = died.time - start / case.rate
    text = f"{seat} died at {died.time:.3f} s of {by}, {lasted:.3f} s after life {died.life} began"
    credit = f"credited to {died.credit}" if died.credit else "credited to nobody"
    lines = [f"{credit}{f', with help of {_and(died.helped)}' if died.helped else ''}"]
    if healed:
        lines.append(f"healed of {healed:g} points before")
    for wound in wounds:
        steps = " -> ".join(
            f"{step.rule} {step.after:g}" for step in wound.ledger.steps if not step.rule.startswith("pool")
        )
        whose = f"{wound.by}'s {wound.attack}" if wound.by else wound.attack
        lines.append(
            f"{wound.time:.3f} s {whose} on {wound.hurtbox}: {steps}; {wound.vital_left:g} of {wound.vital_max:g} left"
        )
    cause = Cause(
        name="killed", text=text, time=died.time, tick=died.tick, seat=seat, hurtbox=died.hurtbox, place=died.position
    )
    return Answer(question=f"how did {seat} die?", causes=(cause,), lines=tuple(lines))


def _and(names: tuple[str, ...]) -> str:
    return " and ".join(names)


def _life_start(case: Case, seat: str, tick: int) -> int:
    starts = [each.tick for kind in (SeatEntered, Respawned) for each in case.all(kind, seat=seat) if each.tick <= tick]
    return max(starts, default=0)


def about_alive(case: Case, seat: str) -> Answer:
    """Why a seat is not dead as the record ends: what was tried on it in this life, and what that came to."""
    question = f"why is {case.known_seat(seat)} still alive?"
    state = _not_alive(case, seat)
    if state is not None:
        return Answer(question=question, causes=(state,))
    start = _life_start(case, seat, case.chronicle.end.ticks)
    wounds = [each for each in case.all(Wounded, seat=seat) if each.tick >= start]
    if not wounds:
        return _never_hit(case, seat, question, start)
    healed = sum(each.amount for each in case.all(Healed, seat=seat) if each.tick >= start)
    outcomes = [each for each in (outcome(case, wound) for wound in wounds) if each is not None]
    last, taken = wounds[-1], sum(each.amount for each in wounds)
    weak = [each for each in outcomes if each.name != "hit"]
    lines = tuple(each.text for each in outcomes)
    besides = _hazards(case, seat, start)
    fighter = case.fighter_of(seat, last.tick)
    if len(weak) == len(outcomes):
        names = [each.name for each in weak]
        usual = max(dict.fromkeys(names), key=names.count)
        first = next(each for each in weak if each.name == usual)
        hits = "the only hit" if len(outcomes) == 1 else f"none of the {len(outcomes)} hits"
        text = f"{hits} on {seat} {'did not reach' if len(outcomes) == 1 else 'reached'} its {case.vital_of(last)}"
        cause = Cause(name=usual, text=f"{text}: {first.text}", seat=seat, time=first.time, set_by=first.set_by)
        return Answer(question=question, causes=(cause, *besides), lines=lines[1:])
    lost = sum(_vital_loss(case, each) for each in wounds)
    refilled = last.vital_left - (last.vital_max - lost)
    gained = healed or (refilled if refilled > GRAIN else 0.0)
    pool = f"fighters.{fighter}.pools.{case.vital_of(last)}"
    left = f"{last.vital_left:,.6g} of {last.vital_max:,.6g} {case.vital_of(last)} left"
    if gained and lost >= last.vital_max:
        text = f"{seat} lost {lost:g} {case.vital_of(last)} in this life and got {gained:g} back: {left}"
        healing = [f"attacks.{each.attack}.heal" for each in case.all(Healed, seat=seat) if each.tick >= start]
        keys = lines_of(case, *(healing or [f"{pool}.refill", f"{pool}.delay"]))
        causes = (Cause(name="healed", text=text, seat=seat, set_by=keys), *besides)
        return Answer(question=question, causes=causes, lines=lines)
    hits = f"{len(outcomes)} hit{'' if len(outcomes) == 1 else 's'}"
    text = f"still alive: {taken:g} damage from {hits}, {left} after the last, at {last.time:.3f} s"
    by = dict.fromkeys(f"{hitter_key(case, each)}.damage" for each in wounds)
    own = f"{seat_key(case, seat)}.pools" if case.rules_pools(seat) else ""
    keys = lines_of(case, own or f"{pool}.max", *list(by)[:2])
    never = [each for each in besides if each.name == "out-of-reach" and each.set_by[-1:] == (FATAL,)]
    if never:
        text += f"; {never[0].text}"
        keys = (*never[0].set_by[:1], *keys)
    rest = tuple(each for each in (*weak, *besides) if each not in never[:1])
    return Answer(
        question=question, causes=(Cause(name="still-alive", text=text, seat=seat, set_by=keys), *rest), lines=lines
    )


FATAL = "fatal = true"


def _vital_loss(case: Case, wound: Wounded) -> float:
    vital = case.vital_of(wound)
    return sum(loss.before - loss.after for loss in wound.ledger.losses if loss.pool == vital)


def _not_alive(case: Case, seat: str) -> Cause | None:
    """That a seat is not alive at all: it never entered, left, or is dead."""
    there = [each for kind in (SeatEntered, Respawned) for each in case.all(kind, seat=seat)]
    if not there:
        return Cause(name="never-entered", text=f"{seat} never entered this bout", seat=seat)
    newest = max(each.tick for each in there)
    left = [each for each in case.all(SeatLeft, seat=seat) if each.tick >= newest]
    if left:
        keys = lines_of(case, f"{seat_key(case, seat)}.until" if seat_key(case, seat) else "")
        text = f"{seat} left at {left[-1].time:.3f} s"
        return Cause(name="never-entered", text=text, seat=seat, time=left[-1].time, set_by=keys)
    died = [each for each in case.all(Died, seat=seat) if each.tick >= newest]
    if died:
        text = f"{seat} is dead: it died at {died[-1].time:.3f} s; ask how it died"
        return Cause(name="killed", text=text, seat=seat, time=died[-1].time)
    return None


def _by_allies(case: Case, seat: str, since: tuple[float, float]) -> Cause | None:
    """That an ally's attack touched a seat and left it alone."""
    for name in case.teams:
        if name == seat or case.are_foes(name, seat):
            continue
        for attempt in about_attempts(case, name, seat, since).attempts:
            if attempt.cause.name.startswith("passed-over"):
                return attempt.cause
    return None


def _never_hit(case: Case, seat: str, question: str, start: int) -> Answer:
    """Why nothing hit a seat in this life: the attempts of each foe."""
    foes = [name for name in case.teams if case.are_foes(name, seat)]
    since = (start / case.rate, case.chronicle.seconds)
    acted = [
        name
        for name in foes
        if any(each.tick >= start for kind in (AttackBegan, OrderRefused) for each in case.all(kind, seat=name))
    ]
    hazards = _hazards(case, seat, start)
    if not acted:
        allied = _by_allies(case, seat, since)
        text = f"nobody attacked {seat}: no foe of it was ordered to press or hold an attack"
        nobody = Cause(name="never-ordered", text=text, seat=seat)
        causes = [*([allied] if allied else []), *hazards, *([] if allied or hazards else [nobody])]
        return Answer(question=question, causes=tuple(causes))
    answers = [about_attempts(case, name, seat, since) for name in acted]
    attempts = tuple(sorted((each for answer in answers for each in answer.attempts), key=lambda each: each.time))
    telling = [each for each in attempts if each.cause.name not in ("carried-out", "hit")] or list(attempts)
    nearest = min(telling, key=lambda each: each.cause.gap if each.cause.gap is not None else -1.0).cause
    text = f"nothing hit {seat} in this life; the nearest was this: {nearest.text}"
    cause = Cause(name=nearest.name, text=text, seat=seat, gap=nearest.gap, time=nearest.time, set_by=nearest.set_by)
    return Answer(question=question, causes=(cause, *hazards), attempts=attempts)


def _hazards(case: Case, seat: str, start: int) -> list[Cause]:
    """Why hazards of the arena did not wound a seat in this life."""
    wounded = {each.attack for each in case.all(Wounded, seat=seat) if each.tick >= start}
    return about_hazards(case, seat, start, wounded)
