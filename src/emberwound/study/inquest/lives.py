"""Why a seat died, and why it is still alive: its wounds, what they came to, and who is credited."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.study.inquest.answer import Answer, Cause
from emberwound.study.inquest.areas import about_hazards
from emberwound.study.inquest.attempts import about_attempts
from emberwound.study.inquest.outcomes import hitter_key, outcome
from emberwound.study.inquest.settings_of import lines_of, seat_key
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
    from emberwound.study.inquest.case import Case

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
    told = f"{seat} died at {died.time:.3f} s of {by}, {lasted:.3f} s after life {died.life} began"
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
        name="killed", told=told, time=died.time, tick=died.tick, seat=seat, hurtbox=died.hurtbox, place=died.position
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
    lines = tuple(each.told for each in outcomes)
    besides = _hazards(case, seat, start)
    fighter = case.fighter_of(seat, last.tick)
    if len(weak) == len(outcomes):
        names = [each.name for each in weak]
        usual = max(dict.fromkeys(names), key=names.count)
        first = next(each for each in weak if each.name == usual)
        hits = "the only hit" if len(outcomes) == 1 else f"none of the {len(outcomes)} hits"
        told = f"{hits} on {seat} {'did not reach' if len(outcomes) == 1 else 'reached'} its {case.vital_of(last)}"
        cause = Cause(name=usual, told=f"{told}: {first.told}", seat=seat, time=first.time, set_by=first.set_by)
        return Answer(question=question, causes=(cause, *besides), lines=lines[1:])
    lost = sum(_vital_loss(case, each) for each in wounds)
    refilled = last.vital_left - (last.vital_max - lost)
    gained = healed or (refilled if refilled > GRAIN else 0.0)
    pool = f"fighters.{fighter}.pools.{case.vital_of(last)}"
    left = f"{last.vital_left:,.6g} of {last.vital_max:,.6g} {case.vital_of(last)} left"
    if gained and lost >= last.vital_max:
        told = f"{seat} lost {lost:g} {case.vital_of(last)} in this life and got {gained:g} back: {left}"
        healing = [f"attacks.{each.attack}.heal" for each in case.all(Healed, seat=seat) if each.tick >= start]
        keys = lines_of(case, *(healing or [f"{pool}.refill", f"{pool}.delay"]))
        causes = (Cause(name="healed", told=told, seat=seat, set_by=keys), *besides)
        return Answer(question=question, causes=causes, lines=lines)
    hits = f"{len(outcomes)} hit{'' if len(outcomes) == 1 else 's'}"
    told = f"still alive: {taken:g} damage from {hits}, {left} after the last, at {last.time:.3f} s"
    by = dict.fromkeys(f"{hitter_key(case, each)}.damage" for each in wounds)
    own = f"{seat_key(case, seat)}.pools" if case.rules_pools(seat) else ""
    keys = lines_of(case, own or f"{pool}.max", *list(by)[:2])
    never = [each for each in besides if each.name == "out-of-reach" and each.set_by[-1:] == (FATAL,)]
    if never:
        told += f"; {never[0].told}"
        keys = (*never[0].set_by[:1], *keys)
    rest = tuple(each for each in (*weak, *besides) if each not in never[:1])
    return Answer(
        question=question, causes=(Cause(name="still-alive", told=told, seat=seat, set_by=keys), *rest), lines=lines
    )


FATAL = "fatal = true"


def _vital_loss(case: Case, wound: Wounded) -> float:
    vital = case.vital_of(wound)
    return sum(loss.before - loss.after for loss in wound.ledger.losses if loss.pool == vital)


def _not_alive(case: Case, seat: str) -> Cause | None:
    """That a seat is not alive at all: it never entered, left, or is dead."""
    there = [each for kind in (SeatEntered, Respawned) for each in case.all(kind, seat=seat)]
    if not there:
        return Cause(name="never-entered", told=f"{seat} never entered this bout", seat=seat)
    newest = max(each.tick for each in there)
    left = [each for each in case.all(SeatLeft, seat=seat) if each.tick >= newest]
    if left:
        keys = lines_of(case, f"{seat_key(case, seat)}.until" if seat_key(case, seat) else "")
        told = f"{seat} left at {left[-1].time:.3f} s"
        return Cause(name="never-entered", told=told, seat=seat, time=left[-1].time, set_by=keys)
    died = [each for each in case.all(Died, seat=seat) if each.tick >= newest]
    if died:
        told = f"{seat} is dead: it died at {died[-1].time:.3f} s; ask how it died"
        return Cause(name="killed", told=told, seat=seat, time=died[-1].time)
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
        told = f"nobody attacked {seat}: no foe of it was told to press or hold an attack"
        nobody = Cause(name="never-ordered", told=told, seat=seat)
        causes = [*([allied] if allied else []), *hazards, *([] if allied or hazards else [nobody])]
        return Answer(question=question, causes=tuple(causes))
    answers = [about_attempts(case, name, seat, since) for name in acted]
    attempts = tuple(sorted((each for answer in answers for each in answer.attempts), key=lambda each: each.time))
    telling = [each for each in attempts if each.cause.name not in ("carried-out", "hit")] or list(attempts)
    nearest = min(telling, key=lambda each: each.cause.gap if each.cause.gap is not None else -1.0).cause
    told = f"nothing hit {seat} in this life; the nearest was this: {nearest.told}"
    cause = Cause(name=nearest.name, told=told, seat=seat, gap=nearest.gap, time=nearest.time, set_by=nearest.set_by)
    return Answer(question=question, causes=(cause, *hazards), attempts=attempts)


def _hazards(case: Case, seat: str, start: int) -> list[Cause]:
    """Why hazards of the arena did not wound a seat in this life."""
    wounded = {each.attack for each in case.all(Wounded, seat=seat) if each.tick >= start}
    return about_hazards(case, seat, start, wounded)
