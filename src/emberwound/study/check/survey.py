"""What checks find, by name, and a book as they look at it."""

from __future__ import annotations

from functools import cached_property
from math import sqrt
from typing import TYPE_CHECKING, Literal, NamedTuple

import msgspec

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.load import line_of
from emberwound.study.asked_hit import ways_of
from emberwound.study.wound import match_table

if TYPE_CHECKING:
    from emberwound.rulebook.models import Arena, Attack, BoutTable, Fighter, SeatEntry
    from emberwound.rulebook.rules import Rules
    from emberwound.study.asked_hit import Way
    from emberwound.study.wound import MatchRow
    from emberwound.vocabulary.clock import Duration


Severity = Literal["error", "warning", "hint"]
SEVERITIES: tuple[Severity, ...] = ("error", "warning", "hint")


class Finding(msgspec.Struct, frozen=True, kw_only=True):
    """Something in a book that does not do what it seems to say: its name, where it stands, why, and what to try.

    As text it is one line: where, what, and what to try.
    """

    name: str
    """Which of the names that docs/nothing-happens.md lists."""
    severity: Severity
    """How bad it is: an error makes something impossible, a warning is seldom meant, a hint may be."""
    file: str
    """Name of the book's file."""
    key: str
    """Dotted key it is about."""
    line: int | None
    """Line of the key in the file, from 1; none of a book that was not read from text."""
    what: str
    """What was found there, with its figures."""
    why: str
    """Why that matters."""
    advice: str
    """What to try."""

    def __str__(self) -> str:
        place = self.file if self.line is None else f"{self.file}:{self.line}"
        return f"{place}: {self.key}: {self.name}: {self.what}; {self.advice}"


FINDINGS: dict[str, tuple[Severity, str]] = {
    "refused": ("error", "the book cannot be loaded, so nothing of it runs"),
    "hurts-nobody": ("error", "the attack is carried out, and nobody there can ever be touched by it"),
    "zero-wound": ("warning", "the hit counts, is recorded, and takes no points"),
    "no-damage": ("warning", "the hit counts, is recorded, and takes no points"),
    "held-behind": ("warning", "of several held attacks the first goes alone, for as long as it is held"),
    "after-the-end": ("warning", "every bout is over before, so it never comes"),
    "own-step": ("hint", "what the step does is not looked at here"),
    "carries-nothing": ("warning", "the attack is carried out, and nothing comes of it"),
    "attack-unused": ("warning", "nobody can press it"),
    "template-unused": ("warning", "nothing of it is in any arena"),
    "kind-unused": ("hint", "what is said about the kind counts for nothing"),
    "fighter-unused": ("hint", "it is in no bout of the book; only a host can bring it in"),
    "arena-unused": ("hint", "no bout of the book is held there; only a host can open it"),
    "endless-shot": (
        "warning",
        "it takes room among `max_shots` for all that time, and may hit when nobody expects it",
    ),
    "short-shot": ("warning", "it ends before it can reach anybody, however it is aimed"),
    "muzzle-in-wall": ("warning", "the shot ends as it leaves"),
    "muzzle-behind": ("warning", "the shot starts at its owner's back and may pass what stands close in front"),
    "hits-own-body": ("warning", "the shot leaves within its owner's hurtbox and hits it first"),
    "late-release": ("warning", "the button seems to do nothing for that long"),
    "strike-behind": ("warning", "it touches nobody whom its owner faces"),
    "capacity-too-small": ("error", "no release has room for all that leaves at once"),
    "hitbox-never-on": ("error", "the strike touches nobody"),
    "double-window": ("error", "it is not clear when the hitbox is on"),
    "cost-above-pool": ("error", "the attack is refused each time for its cost"),
    "guard-total": ("warning", "nothing in the book gets through it, and holding it costs nothing"),
    "immortal": ("warning", "nothing in the book can ever kill it"),
    "unreachable-height": ("warning", "it passes over or under everybody who stands on the same ground"),
    "never-hittable": ("warning", "nothing can hit the fighter as it stands"),
    "unreachable-hurtbox": ("warning", "nothing in the book touches its layer"),
    "oversized-hurtbox": ("warning", "the fighter is hit where nothing of it is seen"),
    "gap-in-hurtboxes": ("warning", "shots fly through the fighter there"),
    "nested-hurtbox": ("warning", "whatever comes meets the outer one first, so it never counts"),
    "untouched-pool": ("warning", "it stays as it starts: nothing wounds, costs, fills or drains it"),
    "endless-shield": ("warning", "it fills up faster than anything in the book empties it"),
    "reaction-shadowed": ("error", "the row never counts"),
    "reaction-lock": ("warning", "who is hit once can never act again while the other goes on"),
    "knockback-out-of-bounds": ("warning", "whoever is hit leaves the arena, wherever it stood"),
    "hazard-behind-wall": ("warning", "a wall stops every body before it touches the hazard"),
    "hazard-every-tick": ("warning", "contact drains on almost every tick"),
    "fatal-entry": ("error", "who enters or respawns there is hurt at once"),
    "entry-in-wall": ("warning", "no wall stops who stands within it, and it walks out on either side"),
    "no-ground": ("warning", "whoever enters there falls out of the arena"),
    "patrol-at-wall": ("warning", "whoever walks it stands at the wall for ever"),
    "no-heights": ("warning", "seen from the top there are no heights, so it counts for nothing"),
    "checkpoint-unreachable": ("warning", "nobody can touch it, so nobody respawns there"),
    "checkpoint-in-air": ("warning", "whoever respawns there falls"),
    "spawn-in-reach": ("warning", "who respawns there is hit again before it can act"),
    "endless-lives": ("warning", "nobody is ever out, so what should follow never does"),
    "cue-never": ("warning", "nothing in the book is enough for it, so it never comes"),
    "cue-every-tick": ("warning", "the cue is heard or seen without a pause"),
    "bar-of-idle-pool": ("warning", "the bar never moves"),
    "bars-overlap": ("warning", "one bar covers another"),
    "off-grid-time": ("hint", "at this tick rate it is rounded up"),
    "scale-mismatch": (
        "warning",
        "bodies fall far too slowly or too fast for their size; lengths may be in another unit",
    ),
    "order-to-nobody": ("error", "nobody carries the order out"),
}
"""All names a finding may have: how severe it is as a rule, and why it matters."""


LIKELY_FALL = (0.1, 2.0)
"""Seconds in which a body of a game falls from its own height, from a strong pull to a weak one."""


class Use(NamedTuple):
    """That a seat of a bout is ordered to use an attack: by which order first."""

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
        """Which seats of the book's bouts are ordered to use which attacks."""
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
        """Whether nothing that a bout's script orders moves it from where it entered."""
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
