"""What each attack of a bout came to: how often it was used, hit, missed and was guarded, and what that did."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.vocabulary.events import (
    AfflictionBegan,
    AttackBegan,
    Died,
    Event,
    Exploded,
    Guarded,
    Healed,
    Interrupted,
    PropStruck,
    Released,
    ShotEnded,
    SwingEnded,
    Wounded,
)
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Iterable

DIGITS = 9
"""Behind the point: what sums of points in another order differ by is not told."""


class AttackTotals(msgspec.Struct, kw_only=True):
    """What one attack, blast, affliction or hazard did in a bout. Blasts count by themselves."""

    attack: str
    """Which one."""
    used: int = 0
    """How often it began, exploded, or befell somebody; 0 of a hazard."""
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
