"""Why something did not come: a respawn, a cue, a checkpoint, a pickup."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.study.inquest.answer import Answer, Cause, Trial, lines_of, seat_key
from emberwound.study.inquest.case import Play
from emberwound.study.inquest.lives import near_areas
from emberwound.study.inquest.walks import wall_ahead
from emberwound.vocabulary.errors import ChronicleError
from emberwound.vocabulary.events import (
    CheckpointReached,
    Cue,
    CueSkipped,
    Died,
    Eliminated,
    Healed,
    PickedUp,
    Respawned,
    SeatEntered,
    SeatLeft,
    Wounded,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from emberwound.rulebook.models import Cue as CueTable
    from emberwound.study.inquest.case import Case
    from emberwound.study.inquest.lives import AreaApproach
    from emberwound.vocabulary.events import Event

MOST_SECONDS = 60
"""A bout is run on for so many seconds to see whether what is due comes."""


def about_missing(case: Case, what: str, seat: str) -> Answer:
    """Why a seat had none of what is asked. Raises ChronicleError for another word than the four."""
    if what not in ASKED:
        raise ChronicleError(f"missing: {what!r}; allowed: {', '.join(ASKED)}")
    case.known_seat(seat)
    question = f"why is there no {what} of {seat}?"
    if not case.all(SeatEntered, seat=seat):
        text = f"{seat} never entered this bout"
        return Answer(question=question, causes=(Cause(name="never-entered", text=text, seat=seat),))
    causes, trial = ASKED[what](case, seat)
    return Answer(question=question, causes=tuple(causes), trial=trial)


def _respawn(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    deaths, respawns = case.all(Died, seat=seat), case.all(Respawned, seat=seat)
    left = case.all(SeatLeft, seat=seat)
    if not deaths:
        return [Cause(name="never-happened", text=f"{seat} never died, so nothing brings it back", seat=seat)], None
    died = deaths[-1]
    if left and left[-1].tick >= died.tick:
        text = f"{seat} left at {left[-1].time:.3f} s, after its death at {died.time:.3f} s"
        return [Cause(name="never-entered", text=text, seat=seat, time=left[-1].time)], None
    back = [each for each in respawns if each.tick > died.tick]
    if back:
        text = f"{seat} did respawn, at {back[-1].time:.3f} s, {back[-1].time - died.time:.3f} s after its death"
        crowded = Cause(name="no-free-spot", text=f"{text}; it found no free spot", seat=seat, time=back[-1].time)
        happened = Cause(name="happened", text=text, seat=seat, time=back[-1].time)
        return [crowded if back[-1].crowded else happened], None
    if died.lives_left == 0:
        when = f" when it was eliminated, at {out[-1].time:.3f} s" if (out := case.all(Eliminated, seat=seat)) else ""
        text = f"{seat} died at {died.time:.3f} s in life {died.life} and had no life left{when}"
        keys = lines_of(case, f"{seat_key(case, seat)}.lives" if seat_key(case, seat) else "")
        cause = Cause(name="out-of-lives", text=text, seat=seat, time=died.time, set_by=keys)
        return [cause], _with_more_lives(case, seat, died)
    due = (died.respawn_tick or 0) / case.rate
    ends = f"the record ends at {case.chronicle.seconds:.3f} s"
    text = f"{seat} died at {died.time:.3f} s and respawns at {due:.3f} s; {ends}"
    keys = lines_of(case, f"fighters.{case.fighter_of(seat, died.tick)}.respawn_seconds")
    return [Cause(name="too-late", text=text, seat=seat, time=due, set_by=keys)], _longer(case, seat, due)


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
        return [Cause(name="never-ordered", text="the book has no cues: add a table [cues.NAME]", seat=seat)], None
    came = {(each.cue, each.cause) for each in case.all(Cue)}
    skipped = {(each.cue, each.cause): each for each in case.all(CueSkipped)}
    causes: list[Cause] = []
    for name, cue in case.book.cues.items():
        matching = [each for each in case.chronicle.events if _tag(each) in cue.on and seat in (each.seat, each.by)]
        if any((name, each.seq) in came for each in matching):
            continue
        text = [skipped[name, each.seq] for each in matching if (name, each.seq) in skipped]
        if text:
            why = f"the cue {name} was skipped at {text[0].time:.3f} s: {text[0].reason.say()}"
            keys = lines_of(case, f"cues.{name}.gap", f"cues.{name}.max_at_once")
            refused = f"refused:{text[0].reason.value}"
            causes.insert(0, Cause(name=refused, text=why, seat=seat, time=text[0].time, set_by=keys))
        elif matching:
            least = max(matching, key=lambda each: getattr(each, "amount", 0.0))
            kind, said, key = _filtered(name, cue, least)
            why = f"{_tag(least)} came at {least.time:.3f} s, but {said}"
            keys = lines_of(case, f"cues.{name}.{key}")
            causes.append(Cause(name=kind, text=why, seat=seat, time=least.time, set_by=keys))
        else:
            why = f"the cue {name} is for {', '.join(cue.on)}, and no such event happened to {seat} or was done by it"
            keys = lines_of(case, f"cues.{name}.on")
            causes.append(Cause(name="never-happened", text=why, seat=seat, set_by=keys))
    return causes or [Cause(name="happened", text=f"every cue of the book came for {seat}", seat=seat)], None


def _tag(event: Event) -> str:
    return str(event.__struct_config__.tag)


def _filtered(name: str, cue: CueTable, event: Event) -> tuple[str, str, str]:
    """Which of a cue's conditions an event did not meet: the cause, the sentence, and the key."""
    points = getattr(event, "amount", None)
    attack, kind = getattr(event, "attack", None), getattr(event, "kind", None)
    if cue.attacks and attack not in cue.attacks:
        return "filtered", f"{name} asks for {', '.join(cue.attacks)}, and it was {attack}", "attacks"
    if cue.kinds and kind not in cue.kinds:
        return "filtered", f"{name} asks for the kind {', '.join(cue.kinds)}, and it was {kind}", "kinds"
    if cue.pool is not None and isinstance(event, Wounded | Healed):
        points = sum(abs(loss.before - loss.after) for loss in event.ledger.losses if loss.pool == cue.pool)
        if points == 0.0:
            return "filtered", f"{name} asks for points of {cue.pool}, and none of it changed", "pool"
    if cue.min_points is not None and points is not None and points < cue.min_points:
        return "below-threshold", f"{name} asks for {cue.min_points:g} points, and it had {points:g}", "min_points"
    if cue.below is not None:
        pool = cue.pool or "the vital pool"
        return "below-threshold", f"{name} asks that {pool} falls to {cue.below:.0%}, and it did not", "below"
    return "filtered", f"{name} is for the {cue.audience} of it", "audience"


def _checkpoint(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    arena = case.book.arenas[case.chronicle.header.arena]
    reached = {event.checkpoint: event for event in case.all(CheckpointReached, seat=seat)}
    first = len(arena.hazards)
    places = {name: first + index for index, name in enumerate(arena.checkpoints) if name not in reached}
    if not arena.checkpoints:
        text = f"the arena {case.chronicle.header.arena} has no checkpoints"
        return [Cause(name="never-ordered", text=text, seat=seat)], None
    causes = [_checkpoint_touched(case, seat, each, reached) for each in near_areas(case, seat, places, "checkpoint")]
    if not causes:
        text = ", ".join(f"{name} at {event.time:.3f} s" for name, event in reached.items())
        causes = [Cause(name="happened", text=f"{seat} reached every checkpoint: {text}", seat=seat)]
    return causes, None


def _checkpoint_touched(case: Case, seat: str, near: AreaApproach, reached: dict[str, CheckpointReached]) -> Cause:
    """Why a checkpoint that a seat did touch did not count: its team or the seat itself had one as far already."""
    if near.cause.gap:
        return _out_of_reach(case, seat, near, "checkpoints")
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
        text = f"{shared[0].seat} reached {near.name} at {shared[0].time:.3f} s for the whole team {team}"
    elif before:
        arena = f"arenas.{case.chronicle.header.arena}"
        further = f"{before[0].checkpoint}, whose order {before[0].order} is further than its {order}"
        text = f"{seat} touched {near.name}, and had reached {further}, before"
        keys = lines_of(
            case,
            f"{arena}.checkpoints.{before[0].checkpoint}.order",
            f"{arena}.checkpoints.{near.name}.order",
            f"{arena}.checkpoint_rule",
        )
        return Cause(name="wrong-order", text=text, seat=seat, time=near.cause.time, tick=near.cause.tick, set_by=keys)
    else:
        return _not_for(case, seat, near, "checkpoints") or near.cause
    return Cause(name="passed-over:touched-before", text=text, seat=seat, time=near.cause.time, tick=near.cause.tick)


def _pickup(case: Case, seat: str) -> tuple[list[Cause], Trial | None]:
    arena = case.book.arenas[case.chronicle.header.arena]
    taken = case.all(PickedUp)
    mine = {event.pickup for event in taken if event.seat == seat}
    if not arena.pickups:
        text = f"the arena {case.chronicle.header.arena} has no pickups"
        return [Cause(name="never-ordered", text=text, seat=seat)], None
    first = len(arena.hazards) + len(arena.checkpoints)
    places = {name: first + index for index, name in enumerate(arena.pickups) if name not in mine}
    causes = [_pickup_taken(case, seat, each, taken) for each in near_areas(case, seat, places, "pickup")]
    return causes or [Cause(name="happened", text=f"{seat} took every pickup of the arena", seat=seat)], None


def _pickup_taken(case: Case, seat: str, near: AreaApproach, taken: list[PickedUp]) -> Cause:
    """Why a pickup that a seat did touch was not there: another had taken it, and it was not back yet."""
    at = near.cause.tick or 0
    before = [event for event in taken if event.pickup == near.name and event.tick <= at]
    if near.cause.gap:
        return _out_of_reach(case, seat, near, "pickups")
    if not before:
        return _not_for(case, seat, near, "pickups") or _gives_nothing(case, seat, near)
    back = before[-1].returns_tick
    when = "and it does not return" if back is None else f"and it returns at {back / case.rate:.3f} s"
    taken_by = f"{before[-1].seat} took it at {before[-1].time:.3f} s, {when}"
    text = f"{seat} was at {near.name} at {at / case.rate:.3f} s; {taken_by}"
    keys = lines_of(case, f"arenas.{case.chronicle.header.arena}.pickups.{near.name}.returns_after")
    return Cause(name="taken", text=text, seat=seat, time=near.cause.time, tick=at, set_by=keys)


def _not_for(case: Case, seat: str, near: AreaApproach, section: str) -> Cause | None:
    """That an area is for other teams."""
    name = case.chronicle.header.arena
    table = case.book.arenas[name]
    teams = (table.checkpoints if section == "checkpoints" else table.pickups)[near.name].for_teams
    if not teams or case.teams.get(seat) in teams:
        return None
    text = f"{near.cause.text}, and it is for {', '.join(teams)} alone"
    keys = lines_of(case, f"arenas.{name}.{section}.{near.name}.for_teams", f"{seat_key(case, seat)}.team")
    return Cause(name="filtered", text=text, seat=seat, time=near.cause.time, tick=near.cause.tick, set_by=keys)


def _gives_nothing(case: Case, seat: str, near: AreaApproach) -> Cause:
    """That a pickup would have given nothing: what it gives was full."""
    key = f"arenas.{case.chronicle.header.arena}.pickups.{near.name}.gives"
    text = f"{near.cause.text}, and it would have given nothing: what it gives was full"
    keys = lines_of(case, key)
    return Cause(name="full", text=text, seat=seat, time=near.cause.time, tick=near.cause.tick, set_by=keys)


def _out_of_reach(case: Case, seat: str, near: AreaApproach, section: str) -> Cause:
    """That a seat came no nearer to an area, and the wall that stopped it."""
    name, text = case.chronicle.header.arena, near.cause.text
    keys: tuple[str, ...] = (f"arenas.{name}.{section}.{near.name}.at",)
    wall = _wall_at(case, seat, near.cause.tick or 0)
    if wall is not None:
        text += f": the wall {wall} stopped it there"
        keys = (f"arenas.{name}.walls.{wall}", *keys)
    return msgspec.structs.replace(near.cause, text=text, set_by=lines_of(case, *keys))


def _wall_at(case: Case, seat: str, tick: int) -> str | None:
    """The wall that a seat walked against in a tick."""
    body = next((each for each in case.play_at(tick).bout.view().bodies if each.seat == seat), None)
    walks = [each for each in case.walks(seat) if each.tick <= tick]
    return wall_ahead(case, body.fighter, body.position, walks[-1].move) if body is not None and walks else None


ASKED: dict[str, Callable[[Case, str], tuple[list[Cause], Trial | None]]] = {
    "respawn": _respawn,
    "cue": _cue,
    "checkpoint": _checkpoint,
    "pickup": _pickup,
}
"""What may be asked for, and who answers."""
