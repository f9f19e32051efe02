"""What a question hopes to see, and changes of the book's lines that are tried for it."""

from __future__ import annotations

import re
from math import hypot
from typing import TYPE_CHECKING, Any

from emberwound.study.inquest.answer import Trial, said, value_at
from emberwound.study.inquest.case import played
from emberwound.study.inquest.outcomes import outcome
from emberwound.vocabulary.errors import EmberwoundError
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
    from collections.abc import Callable, Sequence

    from emberwound.study.inquest.answer import Cause
    from emberwound.study.inquest.case import Case
    from emberwound.vocabulary.events import Event

    Happens = Callable[[Sequence[Event]], str | None]

MOST_RUNS = 12
"""No more changes are tried for one question."""

SMALLER, LARGER = (0.5, 0.25, 0.1, 0.02, 0.001), (1.5, 2.0, 4.0, 10.0)
"""Factors by which a number is tried, until one is enough."""

TOO_MUCH = frozenset(
    """windup active recovery cooldown seconds respawn_seconds respawn_protection flat_reduction refill min_points
    gravity_share weight perfect gap first order rehit_every severity""".split()  # noqa: SIM905 (words, not a list)
)
TOO_LITTLE = frozenset(
    "max_shots speed life range radius lives max_at_once speed_share rate step_height".split()  # noqa: SIM905 (as above)
)
ONE = frozenset({"multiplier", "push_share", "damage_dealt"})
NEEDLESS = frozenset(
    """layers falloff against postures invulnerable interrupted_by schedule kinds attacks until team classes for_teams
    layer cost damage_taken""".split()  # noqa: SIM905 (as above)
)
"""Keys whose numbers may have been too large, too small, or not 1, and those that may be left out."""

COUNTS = frozenset({"lives", "max_shots", "max_at_once", "order"})
LARGE_POOL = 500.0
"""A pool of more points than this may be larger than it was meant to be."""


def trial_of_rules(case: Case, cause: Cause, happens: Happens) -> Trial | None:
    """The first change of a line behind a cause with which what was asked for happens.

    `happens` looks at the events of the bout under changed rules, and says what it was looking for.
    """
    runs = 0
    for key in (line.partition(" = ")[0] for line in cause.set_by):
        if "[" in key:
            continue
        before = value_at(case, key)
        for value in _candidates(key, before):
            runs += 1
            if runs > MOST_RUNS:
                return None
            then = _under(case, {key: value}, happens)
            if then:
                return Trial(change=f"{key} {said(value)}{_instead(value, before)}", then=then, runs=runs)
    return None


def _instead(value: Any, before: Any) -> str:
    """What a value was before, where that is short to say."""
    if value is None or before is None or isinstance(before, dict | list | bool):
        return ""
    return f" instead of {before:g}" if isinstance(before, int | float) else f" instead of {before}"


def _candidates(key: str, value: Any) -> list[Any]:
    """Other values of a key, the least change first."""
    *_, above, last = ("", *key.split("."))
    if above in ("walls", "damage_taken", "against") or (last in NEEDLESS and value is not None):
        return [None]
    if last == "hits_allies" and value is False:
        return [True]
    if last == "facing":
        return ["right" if value == "left" else "left"]
    return [1.0] if last in ONE and value != 1.0 else _indexes(last, value)


def _indexes(last: str, value: Any) -> list[Any]:
    """Other numbers in place of one, smaller or larger as its key may have been meant."""
    less = last in TOO_MUCH or (last == "max" and isinstance(value, int | float) and value > LARGE_POOL)
    if isinstance(value, str) and re.fullmatch(r"[0-9.]+f", value):
        return [f"{float(value[:-1]) * factor:g}f" for factor in SMALLER] if less else []
    if isinstance(value, bool) or not isinstance(value, int | float):
        return []
    factors = SMALLER if less else LARGER if last in TOO_LITTLE else ()
    if last in COUNTS:
        counts = (max(1, round(value * factor)) for factor in factors)
        return [each for each in dict.fromkeys(counts) if each != value]
    return [float(f"{value * factor:.3g}") for factor in factors]


def _under(case: Case, changes: dict[str, Any], happens: Happens) -> str | None:
    """What then happens in the bout under changed rules."""
    try:
        play = played(case.chronicle, case.rules.edit(changes), case.chronicle.end.ticks)
    except EmberwoundError:
        return None
    return happens(play.events) if play else None


FAST = 1.0
"""Heights a second: a push as fast as this is seen."""


def shot_takes(case: Case, released: Released) -> Happens:
    """That the same shot of the seat takes vital points."""
    mine = [each.shot for each in case.all(Released, by=released.by) if each.attack == released.attack]
    return _takes(case, released.by or "", released.attack, mine.index(released.shot))


def attack_takes(case: Case, began: AttackBegan) -> Happens:
    """That the seat's attack takes vital points, or heals some, when it is used."""
    return _takes(case, began.seat or "", began.attack, None, since=began.tick)


def _takes(case: Case, by: str, attack: str, index: int | None, since: int = 0) -> Happens:
    def happens(events: Sequence[Event]) -> str | None:
        shots = [each.shot for each in events if isinstance(each, Released) and (each.by, each.attack) == (by, attack)]
        wanted = shots[index] if index is not None and index < len(shots) else None
        for event in events:
            if not isinstance(event, Wounded | Healed) or (event.by, event.attack) != (by, attack):
                continue
            vital = _lost_vital(case, event) if isinstance(event, Wounded) else event.amount
            if vital > 0.0 and event.tick >= since and wanted in (None, event.shot):
                text = outcome(case, event)
                return text.text.partition("; ")[0] if text else None
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
