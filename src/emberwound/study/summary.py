"""What a bout came to, in few figures."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.lives.counters import BoardRow
from emberwound.chronicle.bars import vital_max
from emberwound.study.attacks import AttackTotals, attack_totals
from emberwound.study.lives import Life, cast_of, lives_of
from emberwound.vocabulary.events import (
    BoutRestarted,
    Cue,
    CueSkipped,
    Died,
    OrderRefused,
    PickedUp,
    Released,
    Respawned,
    SeatEntered,
    SeatLeft,
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
    """Shots and rays released."""
    hit: int
    """How many ended in a hurtbox."""
    ended: dict[str, int]
    """How many of the others ended for which reason."""
    flying: int
    """How many were flying at the end."""


class SeatTotals(msgspec.Struct, frozen=True):
    """A seat at the end: its fighter, deaths, lives left, vital points, and what it did.

    `lives_left` is None of endless ones; `vital_left` 0 without a living body.
    """

    seat: str
    """Which seat."""
    fighter: str
    """Its fighter at the end."""
    alive: bool
    """Whether it stands at the end."""
    vital: str
    """Name of its vital pool."""
    vital_left: float
    """Points in it at the end; 0 without a living body."""
    vital_max: float
    """The most points it holds."""
    deaths: int
    """How often it died."""
    lives_left: int | None
    """Lives left; none of endless ones."""
    shots: int
    """Shots and rays it released."""
    swings: int
    """Swings it made."""
    hits: int
    """Wounds it dealt."""


class CueTotals(msgspec.Struct, frozen=True):
    """How often a cue of the book was given, and how often it was silent for being too much or too soon."""

    cue: str
    """Which cue."""
    given: int
    """How often it was given."""
    silent: int
    """How often it was skipped."""


class Summary(msgspec.Struct, frozen=True):
    """The totals of a bout."""

    shots: ShotTotals
    """Of all shots."""
    seats: tuple[SeatTotals, ...]
    """Of each seat, in the order in which they entered."""
    refused: int
    """Orders that were refused."""
    lives: tuple[Life, ...]
    """Every life."""
    board: tuple[BoardRow, ...]
    """The board at the end."""
    cues: tuple[CueTotals, ...]
    """Of each cue of the book."""
    attacks: tuple[AttackTotals, ...]
    """Of each attack, blast, affliction and hazard that did something."""


def summarise(chronicle: Chronicle) -> Summary:
    """The totals of a chronicle, from its events and its last state."""
    events = chronicle.events
    fired = sum(isinstance(event, Released) for event in events)
    ended = Counter(event.reason for event in events if isinstance(event, ShotEnded))
    others = {reason.value: ended[reason] for reason in Reason if reason in ended and reason is not Reason.HIT}
    shots = ShotTotals(fired, ended[Reason.HIT], others, fired - ended.total())
    entered = cast_of(events)
    refused = sum(isinstance(event, OrderRefused) for event in events)
    return Summary(
        shots=shots,
        seats=tuple(_seat(chronicle, event) for event in entered),
        refused=refused,
        lives=lives_of(events, chronicle.header.tick_rate),
        board=chronicle.end.board,
        cues=_cues(chronicle),
        attacks=attack_totals(events),
    )


def _cues(chronicle: Chronicle) -> tuple[CueTotals, ...]:
    given = Counter(event.cue for event in chronicle.events if isinstance(event, Cue))
    silent = Counter(event.cue for event in chronicle.events if isinstance(event, CueSkipped))
    return tuple(CueTotals(name, given[name], silent[name]) for name in chronicle.rules.book.cues)


def _seat(chronicle: Chronicle, entered: SeatEntered) -> SeatTotals:
    seat, fighter = entered.seat or "", entered.fighter
    alive, deaths, lives = True, 0, entered.lives
    for event in chronicle.events:
        if isinstance(event, BoutRestarted):
            lives = entered.lives
        if event.seat != seat:
            continue
        if isinstance(event, Died):
            alive, deaths, lives = False, deaths + 1, event.lives_left
        elif isinstance(event, Respawned):
            alive, fighter = True, event.fighter
        elif isinstance(event, PickedUp):
            lives = event.lives_left
        elif isinstance(event, SeatLeft):
            alive = False
    pools = chronicle.rules.book.fighters[fighter].pools
    vital = next(name for name, pool in pools.items() if pool.vital)
    left = float(chronicle.final.pool(seat, vital)[-1]) if alive else 0.0
    done = [event for event in chronicle.events if event.by == seat]
    return SeatTotals(
        seat=seat,
        fighter=fighter,
        alive=alive,
        vital=vital,
        vital_left=left,
        vital_max=vital_max(chronicle, seat, fighter),
        deaths=deaths,
        lives_left=lives,
        shots=sum(isinstance(event, Released) for event in done),
        swings=sum(isinstance(event, SwingEnded) for event in done),
        hits=sum(isinstance(event, Wounded) for event in done),
    )
