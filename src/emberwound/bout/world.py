"""What the phases of a tick work on: the plan, the block, and the scratch of the tick at hand."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.block import CURSOR, NEXT_DUE, SEAT_FIGHTER, SEQ, SHIFT, TICK, Block
from emberwound.geometry.contact import FOUND_MARKS, FOUND_ROWS
from emberwound.geometry.volume_contacts import TOUCH_MARKS, TOUCH_ROWS
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.blasts import Charge
    from emberwound.bout.contacts import Touch
    from emberwound.bout.judges.touches import Swing
    from emberwound.bout.pushes import Shove
    from emberwound.bout.reactions import Hit
    from emberwound.bout.shots import Ray
    from emberwound.bout.wounds import Blow, Landed
    from emberwound.combat.reaction import Side
    from emberwound.combat.terms import BodyTerms
    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.script import Script
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.ledger import Ledger
    from emberwound.vocabulary.orders import Input


LONE_TEAM = 1 << 30
"""Teams from this number on are of one seat each."""


class Slain:
    """A body whose vital pool came to zero in this tick, with the wound that did it; `by` is None for a hazard's."""

    __slots__ = ("attack", "by", "hurtbox", "overkill", "row", "side", "time", "wound")

    def __init__(
        self,
        row: int,
        wound: int,
        time: float,
        by: str | None,
        attack: str,
        hurtbox: str,
        side: Side | None = None,
    ) -> None:
        self.row = row
        self.wound = wound
        self.time = time
        self.by = by
        self.attack = attack
        self.hurtbox = hurtbox
        self.side = side
        self.overkill = 0.0


class World:
    """Plan, block and scratch. Between ticks the scratch is empty, but for inputs that the next tick will take."""

    __slots__ = (
        "block",
        "broken",
        "charges",
        "contacts",
        "counts",
        "dealt",
        "events",
        "found",
        "found_marks",
        "freezes",
        "guards",
        "healing",
        "hits",
        "inputs",
        "names",
        "plan",
        "rays",
        "reached",
        "releasing",
        "script",
        "shoves",
        "slain",
        "smarting",
        "swings",
        "teams",
        "touched",
        "touched_marks",
        "touches",
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
        self.reached: list[tuple[int, int, int, float]] = []
        self.smarting: list[tuple[int, int, int, float, int]] = []
        self.guards: dict[int, bool] = {}
        self.healing: list[tuple[Blow, Landed]] = []
        self.slain: dict[int, Slain] = {}
        self.broken: dict[int, tuple[float, int]] = {}
        self.charges: list[Charge] = []
        self.freezes: dict[int, tuple[int, int]] = {}
        self.hits: dict[int, list[Hit]] = {}
        self.shoves: dict[int, list[Shove]] = {}
        self.dealt: dict[tuple[object, ...], tuple[Ledger, list[float], BodyTerms]] = {}
        self.swings: dict[int, Swing] = {}
        self.contacts = 0
        self.touches: list[Touch] = []
        self.found = np.empty((FOUND_ROWS, plan.max_shots))
        self.found_marks = np.empty((FOUND_MARKS, plan.max_shots), np.int64)
        room = 4 * plan.max_seats
        self.touched = np.empty((TOUCH_ROWS, room))
        self.touched_marks = np.empty((TOUCH_MARKS, room), np.int64)

    def clear_scratch(self) -> None:
        """Forget what a broken tick left behind."""
        self.events = []
        self.contacts = 0
        for each in (self.releasing, self.rays, self.smarting, self.healing, self.touches, self.charges, self.reached):
            each.clear()
        for table in (
            self.guards,
            self.slain,
            self.broken,
            self.dealt,
            self.swings,
            self.shoves,
            self.hits,
            self.freezes,
        ):
            table.clear()

    def emit(self, kind: type[Event], /, *, time: float | None = None, **figures: Any) -> int:
        """Make an event of this tick and give its `seq`; without a time of its own it is at the tick's start."""
        counts = self.counts
        tick, seq = counts[TICK], counts[SEQ]
        counts[SEQ] = seq + 1
        if time is None:
            time = tick / self.plan.tick_rate
        self.events.append(kind(seq=seq, tick=tick, time=time, **figures))
        return seq

    def wake(self, tick: int) -> None:
        """See to it that the agenda runs on `tick`."""
        self.counts[NEXT_DUE] = min(self.counts[NEXT_DUE], tick)

    def soonest(self) -> int:
        """The earliest tick on which anything is due."""
        block, script = self.block, self.script
        cursor = self.counts[CURSOR]
        waits = script is not None and cursor < len(script.inputs)
        scripted = script.inputs[cursor].tick + self.counts[SHIFT] if script and waits else NEVER
        return min(int(block.due.min()), scripted)

    def name_of(self, seat: int) -> str | None:
        """The name of a seat by its number; None below 0, for nobody."""
        return self.names[seat] if seat >= 0 else None

    def team_number(self, name: str | None, seat: int) -> int:
        """The number of a team; a seat without one is a team of its own."""
        if name is None:
            return LONE_TEAM + seat
        if name not in self.teams:
            free = self.teams.index("") if "" in self.teams else len(self.teams)
            self.teams[free : free + 1] = [name]
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
