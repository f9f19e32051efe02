"""What a question hopes to see in a bout under changed rules: each gives a function of its events."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING

from emberwound.study.inquest.outcomes import outcome
from emberwound.vocabulary.events import (
    AttackBegan,
    CheckpointReached,
    Cue,
    Died,
    Healed,
    KnockedBack,
    PickedUp,
    Released,
    Respawned,
    Wounded,
)

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.study.inquest.case import Case
    from emberwound.study.inquest.trials_of_rules import Happens
    from emberwound.vocabulary.events import Event

FAST = 1.0
"""Heights a second: a push as fast as this is seen."""


def shot_takes(case: Case, released: Released) -> Happens:
    """That the same shot of the seat takes vital points."""
    mine = [each.shot for each in case.all(Released, by=released.by) if each.attack == released.attack]
    return _takes(case, released.by or "", released.attack, mine.index(released.shot))


def attack_takes(case: Case, began: AttackBegan) -> Happens:
    """That the seat's attack takes vital points, or heals some, when it is used."""
    return _takes(case, began.seat or "", began.attack, None, since=began.tick)


def _takes(case: Case, by: str, attack: str, number: int | None, since: int = 0) -> Happens:
    def happens(events: Sequence[Event]) -> str | None:
        shots = [each.shot for each in events if isinstance(each, Released) and (each.by, each.attack) == (by, attack)]
        wanted = shots[number] if number is not None and number < len(shots) else None
        for event in events:
            if not isinstance(event, Wounded | Healed) or (event.by, event.attack) != (by, attack):
                continue
            vital = _lost_vital(case, event) if isinstance(event, Wounded) else event.amount
            if vital > 0.0 and event.tick >= since and wanted in (None, event.shot):
                told = outcome(case, event)
                return told.told.partition("; ")[0] if told else None
        return None

    return happens


def _lost_vital(case: Case, wound: Wounded) -> float:
    vital = case.vital_of(wound) if wound.seat in case.teams else ""
    return sum(loss.before - loss.after for loss in wound.ledger.losses if loss.pool == vital)


def order_begins(case: Case, seat: str, tick: int) -> Happens:
    """That an attack of a seat begins on its order, and does what it does within a second."""
    asked = {attack for order, attack in case.orders(seat) if order.tick == tick}
    last = tick + case.plan.buffer_ticks + 1

    def happens(events: Sequence[Event]) -> str | None:
        for event in events:
            mine = isinstance(event, AttackBegan) and event.seat == seat and event.attack in asked
            if mine and tick <= event.tick <= last and event.release_tick - tick <= case.rate:  # type: ignore[attr-defined]
                return f"{seat}'s {event.attack} begins at {event.time:.3f} s"  # type: ignore[attr-defined]
        return None

    return happens


def pushed(case: Case, by: str, victim: str) -> Happens:
    """That a seat knocks another back so that it is seen."""

    def happens(events: Sequence[Event]) -> str | None:
        for event in events:
            if isinstance(event, KnockedBack) and (event.seat, event.by) == (victim, by):
                speed = hypot(*event.velocity)
                if speed >= FAST * case.book.fighters[case.fighter_of(victim, event.tick)].body.height:
                    return f"{victim} is knocked back with {speed:.3g} {case.units}/s at {event.time:.3f} s"
        return None

    return happens


def comes(case: Case, what: str, seat: str) -> Happens:
    """That a respawn, a cue, a checkpoint or a pickup comes which did not."""
    had = {_name(each) for each in case.chronicle.events if _concerns(each, what, seat)}

    def happens(events: Sequence[Event]) -> str | None:
        for event in events:
            if _concerns(event, what, seat) and (_name(event) not in had or what == "respawn"):
                return (
                    f"{_name(event) or seat + ' respawns'} comes at {event.time:.3f} s"
                    if what == "cue"
                    else (
                        f"{seat} respawns at {event.time:.3f} s"
                        if what == "respawn"
                        else f"{seat} gets {_name(event)} at {event.time:.3f} s"
                    )
                )
        return None

    return happens


KINDS: dict[str, type[Event]] = {
    "respawn": Respawned,
    "cue": Cue,
    "checkpoint": CheckpointReached,
    "pickup": PickedUp,
}


def _concerns(event: Event, what: str, seat: str) -> bool:
    kind = KINDS.get(what)
    return kind is not None and isinstance(event, kind) and (what == "cue" or event.seat == seat)


def _name(event: Event) -> str:
    return str(next((getattr(event, each) for each in ("cue", "checkpoint", "pickup") if hasattr(event, each)), ""))


def dies(seat: str) -> Happens:
    """That a seat dies."""

    def happens(events: Sequence[Event]) -> str | None:
        died = next((each for each in events if isinstance(each, Died) and each.seat == seat), None)
        return None if died is None else f"{seat} dies at {died.time:.3f} s of {died.attack}"

    return happens
