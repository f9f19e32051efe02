"""A bout by its lives: who stood when and where, what they dealt and took, and how it ended."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec

from emberwound.vocabulary.events import BoutRestarted, Died, Event, Respawned, SeatEntered, SeatLeft, Wounded

if TYPE_CHECKING:
    from collections.abc import Iterable


class Life(msgspec.Struct, kw_only=True):
    """One life of a seat, times in seconds; `ended` is None while it lasts, `respawns_at` when no other follows.

    It began at `checkpoint`, None for where the seat entered. `attack` and `by` ended it, and `credit` is the seat that
    this is credited to. `dealt` and `taken` are points of damage without the overkill, which has totals of its
    own; `kills` are the deaths it is credited.
    """

    seat: str
    """Whose life."""
    fighter: str
    """As which fighter."""
    number: int
    """Which of the seat's lives it is, from 1."""
    began: float
    """When it began."""
    checkpoint: str | None = None
    """Checkpoint at which it began; none: an entry."""
    ended: float | None = None
    """When it ended; none while it lasts."""
    end: Literal["alive", "died", "restarted", "left"] = "alive"
    """How it ended."""
    attack: str | None = None
    """What dealt the lethal wound."""
    by: str | None = None
    """Who dealt it."""
    credit: str | None = None
    """Who is credited with it."""
    respawns_at: float | None = None
    """When the next life begins, if one follows."""
    dealt: float = 0.0
    """Points of damage dealt, without overkill."""
    taken: float = 0.0
    """Points of damage taken, without overkill."""
    overkill_dealt: float = 0.0
    """Points dealt beyond what was left."""
    overkill_taken: float = 0.0
    """Points taken beyond what was left."""
    kills: int = 0
    """Deaths it is credited with."""


def cast_of(events: Iterable[Event]) -> list[SeatEntered]:
    """The first entering of each seat, in the order in which they came; who leaves may come again under one name."""
    first: dict[str | None, SeatEntered] = {}
    for event in events:
        if isinstance(event, SeatEntered):
            first.setdefault(event.seat, event)
    return list(first.values())


def fighter_at(events: Iterable[Event], seat: str, tick: int) -> str | None:
    """The name of the fighter that a seat was in the state after `tick` ticks; None if it had not entered."""
    found = None
    for event in events:
        if event.tick >= max(tick, 1):
            break
        if event.seat == seat and isinstance(event, SeatEntered | Respawned):
            found = event.fighter
    return found


def lives_of(events: Iterable[Event], tick_rate: int) -> tuple[Life, ...]:
    """The lives that events make up, in the order in which they began."""
    narrator = _LifeKeeper(tick_rate)
    for event in events:
        narrator.hear(event)
    return tuple(narrator.lives)


class _LifeKeeper:
    def __init__(self, tick_rate: int) -> None:
        self.tick_rate = tick_rate
        self.lives: list[Life] = []
        self.last: dict[str, Life] = {}

    def hear(self, event: Event) -> None:
        if isinstance(event, SeatEntered):
            self._begin(event, 1, None)
        elif isinstance(event, Respawned):
            self._begin(event, event.life, event.checkpoint)
        elif isinstance(event, Wounded):
            self._wound(event)
        elif isinstance(event, Died):
            self._die(event)
        elif isinstance(event, BoutRestarted):
            for life in self.last.values():
                if life.ended is None:
                    life.respawns_at = event.time
                _end(life, event, "restarted")
        elif isinstance(event, SeatLeft) and event.seat in self.last:
            _end(self.last.pop(event.seat), event, "left")

    def _begin(self, event: SeatEntered | Respawned, number: int, checkpoint: str | None) -> None:
        seat = event.seat or ""
        life = Life(seat=seat, fighter=event.fighter, number=number, began=event.time, checkpoint=checkpoint)
        self.lives.append(life)
        self.last[seat] = life

    def _wound(self, event: Wounded) -> None:
        over = event.ledger.overkill
        if event.seat in self.last:
            self.last[event.seat].taken += event.amount - over
            self.last[event.seat].overkill_taken += over
        if event.by in self.last:
            self.last[event.by].dealt += event.amount - over
            self.last[event.by].overkill_dealt += over

    def _die(self, event: Died) -> None:
        life = self.last.get(event.seat or "")
        if life is None:
            return
        life.attack, life.by, life.credit = event.attack, event.by, event.credit
        life.respawns_at = None if event.respawn_tick is None else event.respawn_tick / self.tick_rate
        _end(life, event, "died")
        if event.credit in self.last:
            self.last[event.credit].kills += 1


def _end(life: Life, event: Event, how: Literal["died", "restarted", "left"]) -> None:
    if life.ended is None:
        life.ended, life.end = event.time, how
