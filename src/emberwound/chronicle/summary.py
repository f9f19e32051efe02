"""What a bout came to, in few figures."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

import msgspec

from emberwound.vocabulary.events import (
    Died,
    Entered,
    Healed,
    Refused,
    Released,
    Respawned,
    ShotEnded,
    SwingEnded,
    Wounded,
)
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.chronicle.chronicle import Chronicle


class ShotTotals(msgspec.Struct, frozen=True):
    """Shots fired, how many hit, how the others ended, and how many were still flying at the end."""

    fired: int
    hit: int
    ended: dict[str, int]
    flying: int


class SeatTotals(msgspec.Struct, frozen=True):
    """A seat at the end: its fighter, deaths, lives left, vital points, and what it did.

    `lives_left` is None of endless ones; `vital_left` 0 without a living body.
    """

    seat: str
    fighter: str
    alive: bool
    vital: str
    vital_left: float
    vital_max: float
    deaths: int
    lives_left: int | None
    shots: int
    swings: int
    hits: int


class Summary(msgspec.Struct, frozen=True):
    """The totals of a bout."""

    shots: ShotTotals
    seats: tuple[SeatTotals, ...]
    refused: int


def summarise(chronicle: Chronicle) -> Summary:
    """The totals of a chronicle, from its events alone."""
    events = chronicle.events
    fired = sum(isinstance(event, Released) for event in events)
    ended = Counter(event.reason for event in events if isinstance(event, ShotEnded))
    others = {reason.value: ended[reason] for reason in Reason if reason in ended and reason is not Reason.HIT}
    shots = ShotTotals(fired, ended[Reason.HIT], others, fired - ended.total())
    entered = [event for event in events if isinstance(event, Entered)]
    refused = sum(isinstance(event, Refused) for event in events)
    return Summary(shots, tuple(_seat(chronicle, event) for event in entered), refused)


def _seat(chronicle: Chronicle, entered: Entered) -> SeatTotals:
    seat = entered.seat or ""
    pools = chronicle.rules.book.fighters[entered.fighter].pools
    vital, pool = next((name, pool) for name, pool in pools.items() if pool.vital)
    start = left = pool.max if pool.start is None else pool.start
    alive, deaths, lives = True, 0, entered.lives
    for event in chronicle.events:
        if event.seat != seat:
            continue
        if isinstance(event, Wounded | Healed):
            left = event.vital_left
        elif isinstance(event, Died):
            alive, deaths, lives = False, deaths + 1, event.lives_left
        elif isinstance(event, Respawned):
            alive, left = True, start
    done = [event for event in chronicle.events if event.by == seat]
    return SeatTotals(
        seat=seat,
        fighter=entered.fighter,
        alive=alive,
        vital=vital,
        vital_left=left,
        vital_max=pool.max,
        deaths=deaths,
        lives_left=lives,
        shots=sum(isinstance(event, Released) for event in done),
        swings=sum(isinstance(event, SwingEnded) for event in done),
        hits=sum(isinstance(event, Wounded) for event in done),
    )
