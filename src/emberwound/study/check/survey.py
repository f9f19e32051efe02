"""A book as its checks look at it: what they ask of it again and again, and what they found."""

from __future__ import annotations

from functools import cached_property
from math import sqrt
from typing import TYPE_CHECKING, NamedTuple

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.lines import line_of
from emberwound.study.asked_hit import ways_of
from emberwound.study.check.finding import FINDINGS, Finding
from emberwound.study.matches import match_table

if TYPE_CHECKING:
    from emberwound.rulebook.models import Arena, Attack, BoutTable, Fighter, SeatEntry
    from emberwound.rulebook.rules import Rules
    from emberwound.study.asked_hit import Way
    from emberwound.study.check.finding import Severity
    from emberwound.study.matches import MatchRow
    from emberwound.vocabulary.clock import Duration


LIKELY_FALL = (0.1, 2.0)
"""Seconds in which a body of a game falls from its own height, from a strong pull to a weak one."""


class Use(NamedTuple):
    """That a seat of a bout is told to use an attack: by which order first."""

    bout: str
    seat: str
    attack: str
    order: int


class Survey:
    """A book, what its checks ask of it, and what they found so far."""

    def __init__(self, rules: Rules) -> None:
        self.rules, self.book = rules, rules.book
        self.found: list[Finding] = []

    def add(self, name: str, key: str, what: str, advice: str, severity: Severity | None = None) -> None:
        """Note a finding; without a severity of its own it has the usual one of its name."""
        usual, why = FINDINGS[name]
        self.found.append(
            Finding(
                name=name,
                severity=severity or usual,
                file=self.rules.source,
                key=key,
                line=line_of(self.rules.text, key) if self.rules.text else None,
                what=what,
                why=why,
                advice=advice,
            )
        )

    def seconds(self, time: Duration) -> float:
        """A time in seconds."""
        return float(time.seconds(self.book.settings.frame_rate))

    def timeline(self, attack: str) -> AttackTimeline:
        """When an attack does what."""
        return AttackTimeline.of(self.book.attacks[attack], self.book.settings.frame_rate)

    def owners(self, attack: str) -> list[tuple[str, Fighter]]:
        """The fighters that have an attack, at first or in a stage."""
        return [(name, each) for name, each in self.book.fighters.items() if attack in each.all_attacks]

    @cached_property
    def matches(self) -> list[MatchRow]:
        """What every attack does to every hurtbox of every fighter."""
        return match_table(self.rules)

    @cached_property
    def uses(self) -> list[Use]:
        """Which seats of the book's bouts are told to use which attacks."""
        found: dict[tuple[str, str, str], Use] = {}
        for name, bout in self.book.bouts.items():
            for index, order in enumerate(bout.orders):
                for attack in (order.press, *(order.hold or ())):
                    if attack in self.book.attacks:
                        found.setdefault((name, order.seat, attack), Use(name, order.seat, attack, index))
        return list(found.values())

    @cached_property
    def mismatched(self) -> dict[str, tuple[str, float]]:
        """The arenas whose gravity does not fit the size of a fighter in it, and in how long that one falls so far."""
        found: dict[str, tuple[str, float]] = {}
        for name, arena in self.book.arenas.items():
            for each, fighter in self.fighters_in(name) if arena.space != "top" else ():
                pull = arena.gravity * fighter.gravity_share
                seconds = sqrt(2.0 * fighter.body.height / pull) if pull else LIKELY_FALL[0]
                if not LIKELY_FALL[0] <= seconds <= LIKELY_FALL[1]:
                    found.setdefault(name, (each, seconds))
        return found

    def arena_of(self, bout: str) -> Arena:
        """The arena of a bout."""
        return self.book.arenas[self.book.bouts[bout].arena]

    def place_of(self, bout: str, seat: SeatEntry) -> tuple[float, ...]:
        """Where a seat of a bout enters."""
        return self.arena_of(bout).entries[seat.at].at if isinstance(seat.at, str) else seat.at

    def stays(self, bout: str, seat: str) -> bool:
        """Whether nothing that a bout's script tells a seat moves it from where it entered."""
        table = self.book.bouts[bout]
        moved = any(
            order.seat == seat and (order.move is not None or order.patrol is not None or order.place is not None)
            for order in table.orders
        )
        lunges = any(self.book.attacks[use.attack].lunge for use in self.uses if use[:2] == (bout, seat))
        return not moved and not lunges

    def victims(self, use: Use, way: Way) -> list[str]:
        """The seats, props and fighters' names that a way of an attack may touch in the bout it is used in."""
        bout = self.book.bouts[use.bout]
        owner = bout.seats[use.seat]
        found = []
        for name, seat in bout.seats.items():
            if name == use.seat:
                allowed = getattr(way.options, "hits_owner", False)
            else:
                allied = owner.team is not None and seat.team == owner.team
                allowed = not allied or getattr(way.options, "hits_allies", False)
            if allowed and self.touches(way, seat.fighter):
                found.append(name)
        props = self.arena_of(use.bout).props
        return [*found, *(name for name, prop in props.items() if self.touches(way, prop.prop))]

    def meet(self, one: str, other: str) -> bool:
        """Whether a fighter may be a foe of another: in a bout of the book, or anywhere in a book without bouts."""
        return not self.book.bouts or (one, other) in self._foes

    @cached_property
    def _foes(self) -> set[tuple[str, str]]:
        return {
            (one.fighter, other.fighter)
            for bout in self.book.bouts.values()
            for first, one in bout.seats.items()
            for second, other in bout.seats.items()
            if first != second and (one.team is None or one.team != other.team)
        }

    def foes_attacks(self, victim: str) -> set[str]:
        """The attacks of all who may be foes of a fighter."""
        return {
            attack
            for name, each in self.book.fighters.items()
            if self.meet(name, victim)
            for attack in each.all_attacks
        }

    def touches(self, way: Way, body: str) -> bool:
        """Whether a way of an attack touches any hurtbox of a fighter or prop."""
        return any(way.touches(box.layer) for box in self.book.bodies[body].hurtboxes.values())

    def ways(self, attack: str) -> tuple[Way, ...]:
        """The ways in which an attack hits."""
        return ways_of(self.rules, attack)

    def does_hit(self, attack: Attack) -> bool:
        """Whether an attack is meant to touch others: it has a shot, a ray, a strike, a throw or a blast."""
        return bool(attack.shot or attack.ray or attack.strike or attack.throw or attack.blast)

    def bouts_of(self, arena: str) -> list[tuple[str, BoutTable]]:
        """The bouts held in an arena."""
        return [(name, bout) for name, bout in self.book.bouts.items() if bout.arena == arena]

    def fighters_in(self, arena: str) -> list[tuple[str, Fighter]]:
        """The fighters that any bout brings into an arena; all of the book for an arena without one."""
        bouts = self.bouts_of(arena)
        names = dict.fromkeys(seat.fighter for _, bout in bouts for seat in bout.seats.values())
        return [(name, self.book.fighters[name]) for name in (names if bouts else self.book.fighters)]


def seat_key(bout: str, seat: str) -> str:
    """The key of a seat of a bout."""
    return f"bouts.{bout}.seats.{seat}"
