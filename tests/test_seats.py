"""Seats against a plain model of them: whoever comes, dies, takes, reaches and leaves in whatever order."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import Bundle, RuleBasedStateMachine, consumes, invariant, rule

import emberwound as ew
from conftest import only
from emberwound import events

BOOK = """
[settings]
max_seats = 6
board = ["shells", "falls"]
[counters.shells]
[counters.falls]
death = 1
best = "lowest"
[fighters.husk]
respawn_seconds = 0.05
body = { radius = 0.1, height = 1 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.5], radius = 0.1 }
[fighters.imp]
respawn_seconds = 0.1
body = { radius = 0.1, height = 1 }
pools.health = { max = 3, vital = true }
hurtboxes.trunk = { from = [0, 0.5], radius = 0.1 }
[arenas.field]
space = "top"
bounds = { low = [-30, -30], high = [30, 30] }
entries.gate = { at = [-20, 0] }
hazards.frost = { at = [20, 0], half_space = [1, 0], fatal = true }
checkpoints.near = { at = [0, 9], radius = 0.5, order = 1, respawn_at = [0, 12] }
checkpoints.far = { at = [0, -9], radius = 0.5, order = 2, respawn_at = [0, -12] }
pickups.heart = { at = [9, 9], radius = 0.5, lives = 1, returns_after = "1/60" }
pickups.shell = { at = [9, -9], radius = 0.5, counts = { shells = 2 }, returns_after = "1/60" }
"""
RULES = ew.Rulebook.parse(BOOK)
WAITS = {"husk": 3, "imp": 6}
STANDS = {0: (-20.0, 0.0), 1: (0.0, 12.0), 2: (0.0, -12.0)}
Lives = Literal["endless"] | int


@dataclass
class Expected:
    """What a seat should be, as a reader of the documents would keep it on paper."""

    lives: int | None
    fighter: str
    becomes: str
    life: int = 1
    furthest: int = 0
    shells: float = 0
    falls: float = 0
    waits: int = 0


class Seats(RuleBasedStateMachine):
    """A field with something fatal, two checkpoints, a heart and a shell, and up to six seats."""

    seats = Bundle("seats")

    def __init__(self) -> None:
        super().__init__()
        self.bout = ew.Bout(RULES, arena="field")
        self.expected: dict[str, Expected] = {}
        self.heard: dict[str, list[events.AnyEvent]] = {}
        self.made = 0

    def step(self) -> list[events.AnyEvent]:
        """One tick of the bout, and of the paper."""
        found = self.bout.step()
        for name, seat in self.expected.items():
            if seat.waits:
                seat.waits -= 1
                if not seat.waits:
                    seat.life += 1
                    seat.fighter = seat.becomes
                    (stood,) = [event for event in only(events.Respawned, found) if event.seat == name]
                    assert (stood.life, stood.fighter) == (seat.life, seat.fighter)
                    assert stood.moved > 0 or stood.position == STANDS[seat.furthest]
        return found

    def put(self, name: str, x: float, y: float) -> list[events.AnyEvent]:
        """Put a seat's body somewhere for a tick, and away again; what it was told meanwhile."""
        self.bout.seat(name).place((x, y), teleport=True)
        found = self.step()
        if self.bout.seat(name).alive:
            self.bout.seat(name).place((-25, len(self.expected)), teleport=True)
            found += self.step()
        return [event for event in found if event.seat == name]

    @rule(target=seats, lives=st.sampled_from([1, 2, 3, "endless"]), fighter=st.sampled_from(["husk", "imp"]))
    def enter(self, lives: Lives, fighter: str) -> str:
        if len(self.expected) == 6:
            self.leave(next(iter(self.expected)))
        self.made += 1
        name = f"seat-{self.made}"
        self.bout.enter(fighter, seat=name, at="gate", lives=lives)
        self.heard[name] = []
        self.bout.on(events.Died, seat=name)(self.heard[name].append)
        self.expected[name] = Expected(None if lives == "endless" else int(lives), fighter, fighter)
        self.step()
        return name

    @rule(name=seats)
    def kill(self, name: str) -> None:
        if name not in self.expected or not self.bout.seat(name).alive:
            return
        seat = self.expected[name]
        told = self.put(name, 25, 0)
        (died,) = only(events.Died, told)
        seat.falls += 1
        if seat.lives is not None:
            seat.lives -= 1
        assert (died.life, died.lives_left) == (seat.life, seat.lives)
        assert len(only(events.Eliminated, told)) == (seat.lives == 0) and len(only(events.LifeLost, told)) == 1
        seat.waits = 0 if seat.lives == 0 else WAITS[seat.fighter] + 1

    @rule(name=seats, which=st.sampled_from([1, 2]))
    def reach(self, name: str, which: int) -> None:
        if name not in self.expected or not self.bout.seat(name).alive:
            return
        seat = self.expected[name]
        told = only(events.CheckpointReached, self.put(name, 0, 9 if which == 1 else -9))
        assert [event.order for event in told] == ([which] if which > seat.furthest else [])
        seat.furthest = max(seat.furthest, which)

    @rule(name=seats, what=st.sampled_from(["heart", "shell"]))
    def take(self, name: str, what: str) -> None:
        if name not in self.expected or not self.bout.seat(name).alive:
            return
        seat = self.expected[name]
        self.step()
        told = only(events.PickedUp, self.put(name, 9, 9 if what == "heart" else -9))
        useless = what == "heart" and seat.lives is None
        assert [event.pickup for event in told] == ([] if useless else [what])
        if what == "shell":
            seat.shells += 2
        elif seat.lives is not None:
            seat.lives += 1

    @rule(name=seats, fighter=st.sampled_from(["husk", "imp"]))
    def become(self, name: str, fighter: str) -> None:
        if name not in self.expected or self.expected[name].waits:
            return
        if self.expected[name].lives == 0:
            with pytest.raises(ew.BoutError, match="has no life left"):
                self.bout.seat(name).become(fighter)
        else:
            self.bout.seat(name).become(fighter)
            self.expected[name].becomes = fighter

    @rule(name=consumes(seats))
    def go(self, name: str) -> None:
        if name in self.expected:
            self.leave(name)

    def leave(self, name: str) -> None:
        """Let a seat leave, and see what it takes along."""
        self.bout.seat(name).leave()
        seat = self.expected.pop(name)
        (left,) = only(events.SeatLeft, self.step())
        assert left.counters == {"shells": seat.shells, "falls": seat.falls}
        assert len(self.heard[name]) == seat.falls, "a listener hears of each death, whichever body it was"

    @rule(ticks=st.integers(1, 9))
    def wait(self, ticks: int) -> None:
        for _ in range(ticks):
            self.step()

    @invariant()
    def seats_are_as_on_paper(self) -> None:
        for name, want in self.expected.items():
            seat = self.bout.seat(name)
            assert (seat.lives_left, seat.life, seat.fighter) == (want.lives, want.life, want.fighter)
            assert (seat.alive, seat.out) == (not want.waits and want.lives != 0, want.lives == 0)
            assert seat.score == {"shells": want.shells, "falls": want.falls}
        ranks = sorted(self.expected.values(), key=lambda each: (-each.shells, each.falls))
        board: list[Any] = [row.counters for row in self.bout.board()]
        assert board == [{"shells": each.shells, "falls": each.falls} for each in ranks]
        assert sorted(row.seat for row in self.bout.board()) == sorted(self.expected)


Seats.TestCase.settings = settings(
    max_examples=100, stateful_step_count=40, derandomize=True, deadline=None, suppress_health_check=list(HealthCheck)
)
TestSeats = Seats.TestCase
