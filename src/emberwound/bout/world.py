"""What the phases of a tick work on: the plan, the block, and the scratch of the tick at hand."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.block import CURSOR, NEXT_DUE, SEAT_FIGHTER, SEQ, TICK, Block
from emberwound.geometry.contact import FOUND_MARKS, FOUND_ROWS
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.shots import Ray
    from emberwound.bout.wounds import Blow, Landed
    from emberwound.plan import Plan
    from emberwound.plan.plan import FighterPlan
    from emberwound.plan.script import Script
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


LONE_TEAM = 1 << 30
"""Teams from this number on are of one seat each."""


class Slain:
    """A body whose vital pool came to zero in this tick, with the wound that did it."""

    __slots__ = ("attack", "by", "hurtbox", "overkill", "row", "time", "wound")

    def __init__(self, row: int, wound: int, time: float, by: str, attack: str, hurtbox: str) -> None:
        self.row = row
        self.wound = wound
        self.time = time
        self.by = by
        self.attack = attack
        self.hurtbox = hurtbox
        self.overkill = 0.0


class World:
    """Plan, block and scratch. Between ticks the scratch is empty, but for inputs that the next tick will take."""

    __slots__ = (
        "block",
        "contacts",
        "counts",
        "events",
        "found",
        "found_marks",
        "guards",
        "healing",
        "inputs",
        "names",
        "plan",
        "rays",
        "releasing",
        "script",
        "slain",
        "smarting",
        "teams",
    )

    def __init__(self, plan: Plan, script: Script | None) -> None:
        self.plan = plan
        self.script = script
        self.block = Block(plan)
        self.counts = self.block.counts
        self.names: list[str] = []
        self.events: list[Event] = []
        self.inputs: list[Input] = []
        self.teams: list[str] = []
        self.releasing: list[tuple[int, int, int, int]] = []
        self.rays: list[Ray] = []
        self.smarting: list[tuple[int, int, int, float, int]] = []
        self.guards: dict[int, bool] = {}
        self.healing: list[tuple[Blow, Landed]] = []
        self.slain: dict[int, Slain] = {}
        self.contacts = 0
        self.found = np.empty((FOUND_ROWS, plan.max_shots))
        self.found_marks = np.empty((FOUND_MARKS, plan.max_shots), np.int64)

    def clear_scratch(self) -> None:
        """Forget what a broken tick left behind."""
        self.events = []
        self.contacts = 0
        for each in (self.releasing, self.rays, self.smarting, self.healing):
            each.clear()
        self.guards.clear()
        self.slain.clear()

    def emit(self, kind: type[Event], /, *, time: float | None = None, **figures: Any) -> int:
        """Make an event of this tick and give its `seq`; without a time of its own it is at the tick's start."""
        tick, seq = self.counts[TICK], self.counts[SEQ]
        self.counts[SEQ] = seq + 1
        when = tick / self.plan.tick_rate if time is None else time
        self.events.append(kind(seq=seq, tick=tick, time=when, **figures))
        return seq

    def wake(self, tick: int) -> None:
        """See to it that the agenda runs on `tick`."""
        self.counts[NEXT_DUE] = min(self.counts[NEXT_DUE], tick)

    def soonest(self) -> int:
        """The earliest tick on which anything is due."""
        block, script = self.block, self.script
        cursor = self.counts[CURSOR]
        scripted = script.inputs[cursor].tick if script and cursor < len(script.inputs) else NEVER
        return min(int(block.due.min()), scripted)

    def team_number(self, name: str | None, seat: int) -> int:
        """The number of a team; a seat without one is a team of its own."""
        if name is None:
            return LONE_TEAM + seat
        if name not in self.teams:
            self.teams.append(name)
        return self.teams.index(name) + 1

    def team_name(self, number: int) -> str | None:
        """The name of a team by its number; None for that of a lone seat."""
        return None if number >= LONE_TEAM else self.teams[number - 1]

    def fighter_of_seat(self, seat: int) -> FighterPlan:
        """The plan of the fighter on a seat."""
        return self.plan.fighters[int(self.block.seat_marks[SEAT_FIGHTER, seat])]

    def point(self, vector: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
        """A vector as a point of the arena's users."""
        return self.plan.plane.flatten(vector)
