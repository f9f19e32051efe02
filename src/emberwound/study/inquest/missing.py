"""Why something did not come: a respawn, a cue, a checkpoint, a pickup."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from emberwound.bout.views.solids import solid_in_space
from emberwound.study.check.shapes import gap
from emberwound.study.inquest.answer import Answer, Cause, Trial
from emberwound.study.inquest.play import Play
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import (
    CheckpointReached,
    Cue,
    CueSkipped,
    Died,
    Eliminated,
    PickedUp,
    Respawned,
    SeatEntered,
    SeatLeft,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.rulebook.models import Cue as CueTable
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.events import Event

MOST_SECONDS = 60
"""A bout is run on for so many seconds to see whether what is due comes."""

STRIDE = 8
"""The nearest approach to an area is sought every so many ticks first."""

GRAIN = 1e-9
"""Gaps that differ by less are one."""


def about_missing(case: Case, what: str, seat: str) -> Answer:
    """Why a seat had none of what is asked. Raises ChronicleError for another word than the four."""
    if what not in ASKED:
        raise ChronicleError(f"missing: {what!r}; allowed: {', '.join(ASKED)}")
    case.known_seat(seat)
    question = f"why is there no {what} of {seat}?"
    if not case.all(SeatEntered, seat=seat):
        told = f"{seat} never entered this bout"
        return Answer(question=question, causes=(Cause(name="never-entered", told=told, seat=seat),))
    causes, trial = ASKED[what](case, seat)
    return Answer(question=question, causes=tuple(causes), trial=trial)


def _respawn(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    deaths, respawns = case.all(Died, seat=seat), case.all(Respawned, seat=seat)
    left = case.all(SeatLeft, seat=seat)
    if not deaths:
        return [Cause(name="not-due-yet", told=f"{seat} never died, so nothing brings it back", seat=seat)], None
    died = deaths[-1]
    if left and left[-1].tick >= died.tick:
        told = f"{seat} left at {left[-1].time:.3f} s, after its death at {died.time:.3f} s"
        return [Cause(name="never-entered", told=told, seat=seat, time=left[-1].time)], None
    back = [each for each in respawns if each.tick > died.tick]
    if back:
        told = f"{seat} did respawn, at {back[-1].time:.3f} s, {back[-1].time - died.time:.3f} s after its death"
        crowded = Cause(name="no-free-spot", told=f"{told}; it found no free spot", seat=seat, time=back[-1].time)
        return [crowded if back[-1].crowded else Cause(name="hit", told=told, seat=seat, time=back[-1].time)], None
    if died.lives_left == 0:
        when = f" when it was eliminated, at {out[-1].time:.3f} s" if (out := case.all(Eliminated, seat=seat)) else ""
        told = f"{seat} died at {died.time:.3f} s in life {died.life} and had no life left{when}"
        return [Cause(name="out-of-lives", told=told, seat=seat, time=died.time)], _with_more_lives(case, seat, died)
    due = (died.respawn_tick or 0) / case.rate
    ends = f"the record ends at {case.chronicle.seconds:.3f} s"
    told = f"{seat} died at {died.time:.3f} s and respawns at {due:.3f} s; {ends}"
    return [Cause(name="not-due-yet", told=told, seat=seat, time=due)], _longer(case, seat, due)


def _with_more_lives(case: Case, seat: str, died: Died) -> Trial | None:
    """The bout with one more life of a scripted seat, run until it is back."""
    script = case.chronicle.header.script
    entry = case.book.bouts[script].seats.get(seat) if script else None
    if entry is None or entry.lives == "endless":
        return None
    key = f"bouts.{script}.seats.{seat}.lives"
    play = Play(case.chronicle, case.rules.edit({key: entry.lives + 1}))
    return _back(case, play, seat, died.tick, f"{key} = {entry.lives + 1} instead of {entry.lives}")


def _longer(case: Case, seat: str, due: float) -> Trial | None:
    play = case.play_at(case.chronicle.end.ticks)
    return _back(case, play, seat, case.chronicle.end.ticks - 1, f"a bout of {due + 1.0 / case.rate:.3f} s")


def _back(case: Case, play: Play, seat: str, after: int, change: str) -> Trial | None:
    for _ in range(after + MOST_SECONDS * case.rate):
        if play.bout.over:
            return None
        for event in play.step():
            if isinstance(event, Respawned) and event.seat == seat and event.tick > after:
                where = case.point(event.position)
                return Trial(change=change, then=f"{seat} respawns at {event.time:.3f} s at {where}", runs=1)
    return None


def _cue(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    if not case.book.cues:
        return [Cause(name="never-ordered", told="the book has no cues: add a table [cues.NAME]", seat=seat)], None
    came = {(each.cue, each.cause) for each in case.all(Cue)}
    skipped = {(each.cue, each.cause): each for each in case.all(CueSkipped)}
    causes: list[Cause] = []
    for name, cue in case.book.cues.items():
        matching = [each for each in case.chronicle.events if _tag(each) in cue.on and seat in (each.seat, each.by)]
        if any((name, each.seq) in came for each in matching):
            continue
        told = [skipped[name, each.seq] for each in matching if (name, each.seq) in skipped]
        if told:
            why = f"the cue {name} was skipped at {told[0].time:.3f} s: {told[0].reason.say()}"
            causes.insert(0, Cause(name=f"refused:{told[0].reason.value}", told=why, seat=seat, time=told[0].time))
        elif matching:
            why = f"{_tag(matching[0])} came at {matching[0].time:.3f} s, but {_filtered(name, cue, matching[0])}"
            causes.append(Cause(name="not-due-yet", told=why, seat=seat, time=matching[0].time))
        else:
            why = f"the cue {name} is for {', '.join(cue.on)}, and no such event befell {seat} or was done by it"
            causes.append(Cause(name="not-due-yet", told=why, seat=seat))
    return causes or [Cause(name="hit", told=f"every cue of the book came for {seat}", seat=seat)], None


def _tag(event: Event) -> str:
    return str(event.__struct_config__.tag)


def _filtered(name: str, cue: CueTable, event: Event) -> str:
    """Which of a cue's conditions an event did not meet."""
    points = getattr(event, "amount", None)
    if cue.min_points is not None and points is not None and points < cue.min_points:
        return f"{name} asks for {cue.min_points:g} points, and it had {points:g}"
    attack, kind = getattr(event, "attack", None), getattr(event, "kind", None)
    if cue.attacks and attack not in cue.attacks:
        return f"{name} asks for {', '.join(cue.attacks)}, and it was {attack}"
    if cue.kinds and kind not in cue.kinds:
        return f"{name} asks for the kind {', '.join(cue.kinds)}, and it was {kind}"
    if cue.below is not None:
        return f"{name} asks that the vital pool falls below {cue.below:.0%}, and it did not"
    return f"{name} is for the {cue.audience} of it"


def _checkpoint(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    arena = case.book.arenas[case.chronicle.header.arena]
    reached = {event.checkpoint: event for event in case.all(CheckpointReached, seat=seat)}
    first = len(arena.hazards)
    places = {name: first + number for number, name in enumerate(arena.checkpoints) if name not in reached}
    if not arena.checkpoints:
        told = f"the arena {case.chronicle.header.arena} has no checkpoints"
        return [Cause(name="never-ordered", told=told, seat=seat)], None
    causes = [_checkpoint_touched(case, seat, each, reached) for each in _areas(case, seat, places, "checkpoint")]
    if not causes:
        told = ", ".join(f"{name} at {event.time:.3f} s" for name, event in reached.items())
        causes = [Cause(name="hit", told=f"{seat} reached every checkpoint: {told}", seat=seat)]
    return causes, None


def _checkpoint_touched(case: Case, seat: str, near: AreaApproach, reached: dict[str, CheckpointReached]) -> Cause:
    """Why a checkpoint that a seat did touch did not count: its team or the seat itself had one as far already."""
    if near.cause.gap:
        return near.cause
    order = case.book.arenas[case.chronicle.header.arena].checkpoints[near.name].order
    before = [each for each in reached.values() if each.order > order and each.tick <= (near.cause.tick or 0)]
    team = case.teams.get(seat)
    shared = [
        each
        for each in case.all(CheckpointReached)
        if each.whole_team
        and each.checkpoint == near.name
        and team is not None
        and case.teams.get(each.seat or "") == team
    ]
    if shared:
        told = f"{shared[0].seat} reached {near.name} at {shared[0].time:.3f} s for the whole team {team}"
    elif before:
        told = f"{seat} touched {near.name}, and had reached {before[0].checkpoint}, which is further, before"
    else:
        return near.cause
    return Cause(name="passed-over:touched-before", told=told, seat=seat, time=near.cause.time, tick=near.cause.tick)


def _pickup(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    arena = case.book.arenas[case.chronicle.header.arena]
    taken = case.all(PickedUp)
    mine = {event.pickup for event in taken if event.seat == seat}
    if not arena.pickups:
        told = f"the arena {case.chronicle.header.arena} has no pickups"
        return [Cause(name="never-ordered", told=told, seat=seat)], None
    first = len(arena.hazards) + len(arena.checkpoints)
    places = {name: first + number for number, name in enumerate(arena.pickups) if name not in mine}
    causes = [_pickup_taken(case, seat, each, taken) for each in _areas(case, seat, places, "pickup")]
    return causes or [Cause(name="hit", told=f"{seat} took every pickup of the arena", seat=seat)], None


def _pickup_taken(case: Case, seat: str, near: AreaApproach, taken: list[PickedUp]) -> Cause:
    """Why a pickup that a seat did touch was not there: another had taken it, and it was not back yet."""
    at = near.cause.tick or 0
    before = [event for event in taken if event.pickup == near.name and event.tick <= at]
    if near.cause.gap or not before:
        return near.cause
    back = before[-1].returns_tick
    when = "and it does not return" if back is None else f"and it returns at {back / case.rate:.3f} s"
    taken_by = f"{before[-1].seat} took it at {before[-1].time:.3f} s, {when}"
    told = f"{seat} was at {near.name} at {at / case.rate:.3f} s; {taken_by}"
    return Cause(name="not-due-yet", told=told, seat=seat, time=near.cause.time, tick=at)


class AreaApproach(NamedTuple):
    """How near a seat came to an area of the arena."""

    name: str
    cause: Cause


def _areas(case: Case, seat: str, places: dict[str, int], what: str) -> list[AreaApproach]:
    """How near a seat's living body came to areas that it never took, the nearest first: roughly, then tick by tick."""
    ends = case.chronicle.end.ticks
    found: dict[str, AreaApproach] = {}
    rough = _scan(case, seat, places, what, (1, ends), STRIDE)
    for name, near in rough.items():
        middle = near.cause.tick or 1
        span = (max(middle - STRIDE, 1), min(middle + STRIDE, ends))
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
        parts = [solid_in_space(case.plan, each) for each in body.hurtboxes.values()]
        for name, number in places.items():
            area = solid_in_space(case.plan, view.areas[number].solid)
            far = max(min(gap(part, area) for part in parts), 0.0)
            if name in best and far >= (best[name].cause.gap or 0.0) - GRAIN:
                continue
            told = f"{seat} came within {case.length(far)} of the {what} {name} at {view.time:.3f} s"
            figures: dict[str, Any] = {"time": view.time, "tick": view.tick, "gap": far, "place": body.position}
            best[name] = AreaApproach(name, Cause(name="out-of-reach", told=told, seat=seat, **figures))
    return best


ASKED: dict[str, Callable[[Case, str], tuple[list[Cause], Trial | None]]] = {
    "respawn": _respawn,
    "cue": _cue,
    "checkpoint": _checkpoint,
    "pickup": _pickup,
}
"""What may be asked for, and who answers."""
