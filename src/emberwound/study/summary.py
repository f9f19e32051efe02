"""What a bout came to, in few figures, and what each of its attacks did."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.lives.counters import BoardRow
from emberwound.chronicle.bars import vital_max
from emberwound.study.lives import Life, cast_of, lives_of
from emberwound.vocabulary.events import (
    AfflictionBegan,
    AttackBegan,
    BoutRestarted,
    Cue,
    CueSkipped,
    Died,
    Event,
    Exploded,
    Guarded,
    Healed,
    Interrupted,
    OrderRefused,
    PickedUp,
    PropStruck,
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
    from collections.abc import Iterable

    from emberwound.chronicle.chronicle import Chronicle


DIGITS = 9
"""Behind the point: what sums of points in another order differ by is not told."""


class AttackTotals(msgspec.Struct, kw_only=True):
    """What one attack, blast, affliction or hazard did in a bout. Blasts count by themselves."""

    attack: str
    """Which one."""
    used: int = 0
    """How often it began, exploded, or happened to somebody; 0 of a hazard."""
    hit: int = 0
    """Bodies and props it hit, guarded ones not counted."""
    missed: int = 0
    """Shots and rays that ended without having hit anybody, and swings that touched nobody."""
    unfinished: int = 0
    """Uses that were interrupted before they released or swung anything, and shots that still fly at the end."""
    guarded: int = 0
    """Hits that a guard met, whether points passed or not."""
    damage: float = 0.0
    """Points it took, without overkill."""
    healed: float = 0.0
    """Points it gave."""
    kills: int = 0
    """Deaths by it."""


def attack_totals(events: Iterable[Event]) -> tuple[AttackTotals, ...]:
    """The totals of each attack that did something, in the order in which they first did."""
    teller = _Teller()
    for event in events:
        teller.hear(event)
    return teller.told()


class _Teller:
    def __init__(self) -> None:
        self.found: dict[str, AttackTotals] = {}
        self._guarded: set[tuple[object, ...]] = set()
        self._landed: set[int] = set()
        self._flying: dict[int, str] = {}
        self._begun: dict[str, int] = {}
        self._finished: set[int | None] = set()
        self._interrupted: list[tuple[int | None, str]] = []

    def _of(self, name: str) -> AttackTotals:
        return self.found.setdefault(name, AttackTotals(attack=name))

    def hear(self, event: Event) -> None:
        if isinstance(event, AttackBegan):
            self._of(event.attack).used += 1
            self._begun[event.seat or ""] = event.seq
        elif isinstance(event, Interrupted):
            self._interrupted.append((self._begun.get(event.seat or ""), event.attack))
        elif isinstance(event, Released):
            self._flying[event.shot] = event.attack
            self._finished.add(event.cause)
        elif isinstance(event, Exploded):
            self._of(event.blast).used += 1
        elif isinstance(event, AfflictionBegan):
            self._of(event.affliction).used += 1
        elif isinstance(event, Guarded | Wounded | Healed | PropStruck):
            self._land(event)
        elif isinstance(event, SwingEnded):
            self._of(event.attack).missed += event.touched == 0
            self._finished.add(event.cause)
        elif isinstance(event, ShotEnded):
            self._of(event.attack).missed += event.reason is not Reason.HIT and event.shot not in self._landed
            self._flying.pop(event.shot, None)
        elif isinstance(event, Died):
            self._of(event.attack).kills += 1

    def told(self) -> tuple[AttackTotals, ...]:
        """The totals, when all is heard."""
        for begun, attack in self._interrupted:
            self._of(attack).unfinished += begun not in self._finished
        for attack in self._flying.values():
            self._of(attack).unfinished += 1
        for each in self.found.values():
            each.damage, each.healed = round(each.damage, DIGITS), round(each.healed, DIGITS)
        return tuple(self.found.values())

    def _land(self, event: Guarded | Wounded | Healed | PropStruck) -> None:
        totals = self._of(event.attack)
        self._landed.add(event.shot)
        contact = (event.tick, event.time, event.seat, event.by, event.attack, event.shot, event.hitbox)
        if isinstance(event, Guarded):
            self._guarded.add(contact)
            totals.guarded += 1
        elif contact not in self._guarded:
            totals.hit += 1
        if isinstance(event, Wounded):
            totals.damage += event.amount - event.ledger.overkill
        elif isinstance(event, Healed):
            totals.healed += event.amount


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
