"""The victims of a tick's hits: what hits need of each body, read and written once, and who hurt it lately."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.bodies import pools
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark, mark_of
from emberwound.combat.pools import refilled
from emberwound.geometry.layout import BodyMark, Presence

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from emberwound.bout.state.pending import Hit
    from emberwound.bout.state.world import World
    from emberwound.combat.terms import BodyStats
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.fighter_plans import FighterPlan


MARKS = [
    BodyMark.OWNER,
    BodyMark.MODEL,
    BodyMark.TEAM,
    BodyMark.RESIZED,
    BodyMark.FROZEN_UNTIL,
    BodyMark.PRESENCE,
    BodyMark.ATTACK,
]


class Victim:
    """A victim of the hits of a tick, as they leave it so far; `attack` is the one it is busy with.

    `values` are what its pools hold, one each. `attackers` and `times` are the seats that hurt it lately, and when,
    as the block holds them. `changed` says of each pool that changed what it holds, and from which tick it
    refills.
    """

    __slots__ = (
        "attack",
        "attackers",
        "body",
        "changed",
        "clock",
        "fighter",
        "is_dead",
        "noted",
        "seat",
        "stats",
        "team",
        "times",
        "values",
    )

    def __init__(self, world: World, body: int, marks: Sequence[int], attackers: list[int], times: list[float]) -> None:
        owner, model, self.team, is_resized, frozen_until, presence, attack = marks
        self.body = body
        self.fighter: FighterPlan = world.plan.fighters[model]
        self.seat: str = world.names[index_of_mark(owner)]
        self.stats: BodyStats = pools.stats_of(world, body, self.fighter) if is_resized else self.fighter.stats
        self.attack: AttackPlan | None = self.fighter.attacks[index_of_mark(attack)] if attack else None
        self.clock = max(world.counts[Count.TICK], frozen_until)
        self.is_dead = presence == Presence.CORPSE
        self.values: Sequence[float] = ()
        self.attackers, self.times, self.noted = attackers, times, False
        self.changed: dict[int, tuple[float, int | None]] = {}

    def spend(self, world: World, after: Sequence[float]) -> list[str]:
        """Let its pools hold `after`; the names of those that this emptied, but for the vital one.

        What lost points refills after its delay, counted from now; what gained goes on refilling.
        """
        before, rate = self.values, world.plan.tick_rate
        if before == after:
            return []
        if world.plan.most_bars:
            pools.note(world, self.body, self.stats, before, after)
        emptied, held = [], [*after]
        for index, (old, new) in enumerate(zip(before, after, strict=True)):
            if old == new:
                continue
            pool, since = self.stats.pools[index], None
            if pool.refill:
                since = pools.refills_from(pool, self.clock, rate, lost=new < old)
                held[index] = refilled(pool, new, (self.clock - since) / rate, dead=self.is_dead)
            self.changed[index] = (new, since)
            if new == 0.0 and index != self.stats.vital:
                emptied.append(pool.name)
        self.values = held
        return emptied

    def note(self, world: World, by: int, time: float) -> None:
        """Take note that a seat's hit met it, guarded or not; its own team's do not count.

        Where more seats than are remembered hurt it, the one whose last hit is longest ago is forgotten.
        """
        if by < 0 or world.block.seat_marks[SeatMark.TEAM, by] == self.team:
            return
        seats, times, mark = self.attackers, self.times, mark_of(by)
        if mark in seats:
            place = seats.index(mark)
        elif 0 in seats:
            place = seats.index(0)
        else:
            place = times.index(min(times))
        seats[place], times[place], self.noted = mark, time, True


def of(world: World, body: int) -> Victim:
    """A body as the hits of this tick leave it so far."""
    found: Victim | None = world.victims.get(body)
    if found is None:
        block = world.block
        marks = block.body_marks[:, body].tolist()
        found = _read(
            world,
            body,
            [marks[mark] for mark in MARKS],
            (block.hurt_by[:, body].tolist(), block.hurt_at[:, body].tolist()),
            (block.pools[:, body].tolist(), block.pools_since[:, body].tolist()),
        )
    return found


def read(world: World, bodies: Iterable[int]) -> None:
    """Read the bodies that hits of this tick are about to touch, all at once, except those that are read already."""
    columns = [body for body in dict.fromkeys(bodies) if body not in world.victims]
    if not columns:
        return
    block = world.block
    marks = zip(*(block.body_marks[mark, columns].tolist() for mark in MARKS), strict=True)
    lately = zip(block.hurt_by[:, columns].T.tolist(), block.hurt_at[:, columns].T.tolist(), strict=True)
    held = zip(block.pools[:, columns].T.tolist(), block.pools_since[:, columns].T.tolist(), strict=True)
    for each in zip(columns, marks, lately, held, strict=True):
        _read(world, *each)


def _read(
    world: World,
    body: int,
    marks: Sequence[int],
    lately: tuple[list[int], list[float]],
    held: tuple[list[float], list[int]],
) -> Victim:
    victim = world.victims[body] = Victim(world, body, marks, *lately)
    rate = world.plan.tick_rate
    victim.values = pools.refilled_to(victim.stats, *held, victim.clock, rate, dead=victim.is_dead)
    return victim


def write(world: World) -> None:
    """Write what the hits of this tick left of their victims."""
    block = world.block
    changed = [
        (index, body, value, since)
        for body, victim in world.victims.items()
        for index, (value, since) in victim.changed.items()
    ]
    if changed:
        indexes, bodies, values, _ = zip(*changed, strict=True)
        block.pools[indexes, bodies] = values
        refills = [(index, body, since) for index, body, _, since in changed if since is not None]
        if refills:
            indexes, bodies, since = zip(*refills, strict=True)
            block.pools_since[indexes, bodies] = since
    noted = [victim for victim in world.victims.values() if victim.noted]
    if noted:
        columns = [victim.body for victim in noted]
        block.hurt_by[:, columns] = np.array([victim.attackers for victim in noted]).T
        block.hurt_at[:, columns] = np.array([victim.times for victim in noted]).T
    world.victims.clear()


def note_hit(world: World, victim: Victim, hit: Hit, time: float) -> None:
    """Take note of a hit; in a chain of death blasts, of who caused the first, unless that is the victim's teammate."""
    passed_on = hit.credit >= 0 and world.block.seat_marks[SeatMark.TEAM, hit.credit] != victim.team
    victim.note(world, hit.credit if passed_on else hit.by, time)


def note_holder(world: World, body: int, time: float) -> None:
    """Take note that a body is held at a time, which counts as a hit of its holder, unless that is a teammate."""
    marks, block = world.block.body_marks, world.block
    holder = index_of_mark(int(marks[BodyMark.HELD_BY, body]))
    if holder < 0 or marks[BodyMark.TEAM, holder] == marks[BodyMark.TEAM, body]:
        return
    by, seats, times = int(marks[BodyMark.OWNER, holder]), block.hurt_by[:, body], block.hurt_at[:, body]
    known = (seats == by).nonzero()[0]
    free = (seats == 0).nonzero()[0]
    place = int(known[0] if known.size else free[0] if free.size else times.argmin())
    seats[place], times[place] = by, time


def hit_lately(world: World, body: int, time: float) -> list[str]:
    """The seats whose hits met a body within `credit_seconds` before a time, the last first, ties by index."""
    block, window = world.block, world.plan.credit_seconds
    seats, times = block.hurt_by[:, body].tolist(), block.hurt_at[:, body].tolist()
    found = [(-at, seat) for seat, at in zip(seats, times, strict=True) if seat and time - at <= window + CLOSE]
    return [world.names[index_of_mark(seat)] for _, seat in sorted(found)]


CLOSE = 1e-9
"""Seconds that rounding may take from the edge of the window."""


def forget_hits(world: World, by: int) -> None:
    """Take a seat out of all that is remembered."""
    world.block.hurt_at[world.block.hurt_by == mark_of(by)] = 0.0
    world.block.hurt_by[world.block.hurt_by == mark_of(by)] = 0
