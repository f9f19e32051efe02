"""What the phases of a tick work on: the plan, the block, the names of seats, and the scratch of the tick at hand."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
from msgspec.structs import force_setattr

from emberwound.bout.state.block import Block
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark
from emberwound.bout.state.snapshot import Packing
from emberwound.geometry.layout import BodyMark, FoundColumn, FoundMark, TouchColumn, TouchMark
from emberwound.geometry.quiet_ticks import QuietTables
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from emberwound.bout.state.pending import (
        AfflictionTick,
        Hit,
        HitLocation,
        LethalHit,
        PendingBlast,
        PendingGrab,
        PendingKnockback,
        PendingReaction,
        QueuedContact,
        Ray,
        Reached,
        Swing,
        VolumeContact,
    )
    from emberwound.combat.hit import HitResult
    from emberwound.combat.terms import BodyStats
    from emberwound.plan import Plan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plan import Tables
    from emberwound.plan.script import Script
    from emberwound.vocabulary.events import AnyEvent
    from emberwound.vocabulary.orders import Input


class SeatNames(list[str]):
    """A list of names by index, '' where a seat left; it is changed through its own methods alone."""

    def __init__(self, names: Iterable[str] = ()) -> None:
        super().__init__(names)
        self._indexes = {name: index for index, name in enumerate(self) if name}

    def __contains__(self, name: object) -> bool:
        return isinstance(name, str) and name in self._indexes

    @property
    def have_gaps(self) -> bool:
        """Whether a seat left whose index nobody has taken yet."""
        return len(self._indexes) < len(self)

    def index_of(self, name: str | None) -> int:
        """The index of a seat. Raises KeyError for a name that nobody has."""
        return self._indexes[name or ""]

    def give(self, name: str) -> int:
        """Give a name the first index that is free, else a new one."""
        if not self.have_gaps:
            self.append("")
        index = self.index("")
        self[index] = name
        self._indexes[name] = index
        return index

    def free(self, index: int) -> None:
        """Take the name of an index away."""
        del self._indexes[self[index]]
        self[index] = ""

    def replace(self, names: Iterable[str]) -> None:
        """Take other names for all."""
        self[:] = names
        self._indexes = {name: index for index, name in enumerate(self) if name}


LONE_TEAM = 1 << 30
"""Teams from this index on are of one seat each."""


def _quiet_tables(tables: Tables) -> QuietTables:
    """The tables that quiet ticks read, in one."""
    return QuietTables(
        tables.models,
        tables.points,
        tables.paths,
        tables.bounds,
        tables.offsets,
        tables.offset_marks,
        tables.hidden,
        tables.tracks,
        tables.hazards,
        tables.hazard_marks,
        tables.hitboxes,
        tables.hitbox_marks,
        tables.ragdolls,
        tables.ragdoll_marks,
        tables.ragdoll_links,
        tables.ragdoll_lengths,
    )


class WorldState:
    """What can be read of a bout: plan, block, names. One of its own stays as it is while the bout goes on.

    `point` gives a vector as a point of the arena's users. `stagger_left` is what a running tick has left of stagger
    resistances.
    """

    __slots__ = (
        "areas",
        "block",
        "counts",
        "has_grabs",
        "has_homing_shots",
        "has_stages",
        "names",
        "plan",
        "point",
        "script",
        "stagger_left",
        "teams",
    )

    def __init__(self, plan: Plan, script: Script | None, block: Block, names: SeatNames, teams: list[str]) -> None:
        self.plan, self.script, self.block, self.names, self.teams = plan, script, block, names, teams
        self.point = plan.space.flatten
        self.areas, self.has_grabs, self.has_stages = plan.areas, plan.has_grabs, plan.has_stages
        self.has_homing_shots = plan.has_homing_shots
        self.counts = block.counts
        self.stagger_left: dict[int, float] = {}

    def still(self) -> WorldState:
        """The bout as it stands between two ticks, copied."""
        return WorldState(self.plan, self.script, self.block.still(), SeatNames(self.names), [*self.teams])

    def name_of(self, seat: int) -> str | None:
        """The name of a seat by its index; None below 0, for nobody."""
        return self.names[seat] if seat >= 0 else None

    def seat_of(self, body: int) -> int:
        """The index of the seat whose body this is."""
        return index_of_mark(int(self.block.body_marks[BodyMark.OWNER, body]))

    def name_of_body(self, body: int) -> str:
        """The name of the seat, or of the prop, whose body this is."""
        return self.names[self.seat_of(body)]

    def team_name(self, index: int) -> str | None:
        """The name of a team by its index; None for that of a lone seat."""
        return None if index >= LONE_TEAM else self.teams[index - 1]

    def fighter_of_seat(self, seat: int) -> FighterPlan:
        """The plan of the fighter on a seat."""
        return self.plan.fighters[int(self.block.seat_marks[SeatMark.FIGHTER, seat])]


class World(WorldState):
    """Plan, block and scratch. Between ticks the scratch is empty, but for inputs that the next tick will take."""

    __slots__ = (
        "contacts",
        "deals_otherwise",
        "ended_shots",
        "events",
        "found",
        "found_marks",
        "guards",
        "healing",
        "hear_blast",
        "hit_stops",
        "inputs",
        "interrupted",
        "launched",
        "lethal_hits",
        "packing",
        "pending_affliction_ticks",
        "pending_blasts",
        "pending_grabs",
        "pending_knockback",
        "pending_reactions",
        "pending_throws",
        "quiet_tables",
        "rays",
        "reached",
        "releasing",
        "resolved",
        "returned",
        "sent_back",
        "shots_can_be_struck",
        "struck",
        "swings",
        "touched",
        "touched_marks",
        "touches",
        "victims",
    )

    def __init__(self, plan: Plan, script: Script | None) -> None:
        super().__init__(plan, script, Block(plan), SeatNames(), [])
        self.quiet_tables = _quiet_tables(plan.tables)
        self.pending_grabs: list[PendingGrab] = []
        self.pending_throws: list[tuple[int, int, int]] = []
        self.packing = Packing(self.block)
        self.look_for_dealers()
        self.events: list[AnyEvent] = []
        self.inputs: list[Input] = []
        self.releasing: list[tuple[int, int, int]] = []
        self.launched: list[tuple[tuple[float, ...], tuple[int, ...], int]] = []
        self.ended_shots: list[int] = []
        self.rays: list[Ray] = []
        self.reached: list[Reached] = []
        self.pending_affliction_ticks: list[AfflictionTick] = []
        self.guards: dict[int, bool] = {}
        self.healing: list[tuple[Hit, HitLocation]] = []
        self.lethal_hits: dict[int, LethalHit] = {}
        self.interrupted: dict[int, tuple[float, int]] = {}
        self.pending_blasts: list[PendingBlast] = []
        self.hit_stops: dict[int, tuple[int, int]] = {}
        self.pending_reactions: dict[int, list[PendingReaction]] = {}
        self.pending_knockback: dict[int, list[PendingKnockback]] = {}
        self.resolved: dict[tuple[object, ...], tuple[HitResult, BodyStats]] = {}
        self.swings: dict[int, Swing] = {}
        self.victims: dict[int, Any] = {}
        self.sent_back: dict[int, int] = {}
        self.returned: set[tuple[int, int]] = set()
        self.shots_can_be_struck = plan.shots_can_be_struck
        self.hear_blast: Callable[[World, PendingBlast], None] | None = None
        self.contacts = 0
        self.touches: list[VolumeContact] = []
        self.struck: list[QueuedContact] = []
        self.found = np.empty((FoundColumn.COLUMNS, plan.max_shots))
        self.found_marks = np.empty((FoundMark.COLUMNS, plan.max_shots), np.int64)
        room = 4 * plan.max_seats
        self.touched = np.empty((TouchColumn.COLUMNS, room))
        self.touched_marks = np.empty((TouchMark.COLUMNS, room), np.int64)

    def look_for_dealers(self) -> None:
        """See whether any seat or stage deals another share of damage than its attacks say."""
        self.deals_otherwise = self.plan.stages_deal_otherwise or bool(self.counts[Count.DEALS_OTHERWISE])

    def clear_scratch(self) -> None:
        """Forget what a broken tick left behind."""
        self.events = []
        self.contacts = 0
        for each in (
            self.releasing,
            self.launched,
            self.ended_shots,
            self.rays,
            self.pending_affliction_ticks,
            self.pending_grabs,
            self.pending_throws,
            self.healing,
            self.touches,
            self.struck,
            self.pending_blasts,
            self.reached,
        ):
            each.clear()
        for table in (
            self.guards,
            self.sent_back,
            self.returned,
            self.lethal_hits,
            self.interrupted,
            self.resolved,
            self.stagger_left,
            self.swings,
            self.victims,
            self.pending_knockback,
            self.pending_reactions,
            self.hit_stops,
        ):
            table.clear()

    def emit(self, event: AnyEvent) -> int:
        """Tell an event of this tick and give its `seq`; one without a time of its own is at the tick's start."""
        counts = self.counts
        tick, seq = counts[Count.TICK], counts[Count.SEQ]
        counts[Count.SEQ] = seq + 1
        force_setattr(event, "seq", seq)
        force_setattr(event, "tick", tick)
        if event.time == TICK_START:
            force_setattr(event, "time", tick / self.plan.tick_rate)
        self.events.append(event)
        return seq

    def wake(self, tick: int) -> None:
        """See to it that the agenda runs on `tick`."""
        self.counts[Count.NEXT_DUE] = min(self.counts[Count.NEXT_DUE], tick)

    def soonest(self) -> int:
        """The earliest tick on which anything is due."""
        block, script = self.block, self.script
        cursor = self.counts[Count.SCRIPT_CURSOR]
        waits = script is not None and cursor < len(script.inputs)
        scripted = script.inputs[cursor].tick + self.counts[Count.SCRIPT_OFFSET] if script and waits else NEVER
        return min(int(block.due.min()), scripted)

    def team_index(self, name: str | None, seat: int) -> int:
        """The index of a team; a seat without one is a team of its own."""
        if name is None:
            return LONE_TEAM + seat
        if name not in self.teams:
            free = self.teams.index("") if "" in self.teams else len(self.teams)
            self.teams[free : free + 1] = [name]
        return self.teams.index(name) + 1
