"""Who hurt a body lately: whom its death is credited to, and who helped."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.state.layout import SeatMark, mark_of, number_of
from emberwound.geometry.layout import BodyMark

if TYPE_CHECKING:
    from emberwound.bout.hits.victims import Victim
    from emberwound.bout.state.pending import Hit
    from emberwound.bout.state.world import World


def note_hit(world: World, victim: Victim, hit: Hit, time: float) -> None:
    """Take note of a hit; in a chain of death blasts, of who caused the first, unless that is the victim's teammate."""
    passed_on = hit.credit >= 0 and world.block.seat_marks[SeatMark.TEAM, hit.credit] != victim.team
    victim.note(world, hit.credit if passed_on else hit.by, time)


def note_holder(world: World, body: int, time: float) -> None:
    """Take note that a body is held at a time, which counts as a hit of its holder, unless that is a teammate."""
    marks, block = world.block.body_marks, world.block
    holder = number_of(int(marks[BodyMark.HELD_BY, body]))
    if holder < 0 or marks[BodyMark.TEAM, holder] == marks[BodyMark.TEAM, body]:
        return
    by, seats, times = int(marks[BodyMark.OWNER, holder]), block.hurt_by[:, body], block.hurt_at[:, body]
    known = (seats == by).nonzero()[0]
    free = (seats == 0).nonzero()[0]
    place = int(known[0] if known.size else free[0] if free.size else times.argmin())
    seats[place], times[place] = by, time


def lately(world: World, body: int, time: float) -> list[str]:
    """The seats whose hits met a body within `credit_seconds` before a time, the last first, ties by number."""
    block, window = world.block, world.plan.credit_seconds
    seats, times = block.hurt_by[:, body].tolist(), block.hurt_at[:, body].tolist()
    found = [(-at, seat) for seat, at in zip(seats, times, strict=True) if seat and time - at <= window + CLOSE]
    return [world.names[number_of(seat)] for _, seat in sorted(found)]


CLOSE = 1e-9
"""Seconds that rounding may take from the edge of the window."""


def forget(world: World, by: int) -> None:
    """Take a seat out of all that is remembered."""
    world.block.hurt_at[world.block.hurt_by == mark_of(by)] = 0.0
    world.block.hurt_by[world.block.hurt_by == mark_of(by)] = 0
