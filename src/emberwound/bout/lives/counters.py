"""The counters of each seat: by the second, by kill, assist, death and pickup; and the board of all seats."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec
import numpy as np

from emberwound.bout.state.layout import Count, SeatMark
from emberwound.vocabulary.events import Scored

if TYPE_CHECKING:
    from collections.abc import Iterable

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World
    from emberwound.plan import Plan
    from emberwound.vocabulary.events import Died


class BoardRow(msgspec.Struct, frozen=True, kw_only=True):
    """A seat on the board: its place from 1, seats that are even sharing one, what it counts, and whether it is out."""

    place: int
    """Place from 1; seats that are even share one."""
    seat: str
    """Which seat."""
    team: str | None
    """Its team."""
    counters: dict[str, float]
    """What it counts."""
    out: bool
    """Whether it has no life left."""


def restart_counters(world: World, seat: int) -> None:
    """What a restart makes of a seat's counters."""
    _bank(world, seat)
    for index, counter in enumerate(world.plan.counters):
        if counter.table.on_restart == "reset":
            world.block.counters[index, seat] = counter.table.start


def counted(world: World, seat: int) -> list[float]:
    """The counters of a seat as they stand now, the seconds of the running life in them."""
    found: list[float] = all_counted(world)[:, seat].tolist()
    return found


def all_counted(world: World) -> NDArray[np.float64]:
    """The counters of all seats as they stand now, (counters, seats)."""
    marks = world.block.seat_marks
    ticks = np.maximum(world.counts[Count.TICK] - marks[SeatMark.BODY_SINCE], 0) * (marks[SeatMark.BODY] != 0)
    return counted_after(world.plan, world.block.counters, ticks / world.plan.tick_rate)


def counted_after(plan: Plan, counters: NDArray[np.float64], seconds: NDArray[np.float64]) -> NDArray[np.float64]:
    """What counters (counters, n) hold once the running lives of n seats are `seconds` (n,) old."""
    per_second, minimum = plan.tables.counters
    found: NDArray[np.float64] = np.maximum(counters + per_second * seconds, minimum)
    return found


def _running(world: World, seat: int) -> float:
    """The seconds of a seat's running life that are not counted for good yet."""
    marks = world.block.seat_marks[:, seat]
    if not marks[SeatMark.BODY]:
        return 0.0
    return max(world.counts[Count.TICK] - int(marks[SeatMark.BODY_SINCE]), 0) / world.plan.tick_rate


def _bank(world: World, seat: int) -> None:
    """Count the seconds up to the end of this tick for good."""
    block, after = world.block, world.counts[Count.TICK] + 1
    seconds = (after - int(block.seat_marks[SeatMark.BODY_SINCE, seat])) / world.plan.tick_rate
    if block.seat_marks[SeatMark.BODY, seat]:
        for index, counter in enumerate(world.plan.counters):
            if counter.table.per_second:
                value = float(block.counters[index, seat]) + counter.table.per_second * seconds
                block.counters[index, seat] = max(value, counter.minimum)
    block.seat_marks[SeatMark.BODY_SINCE, seat] = after


def settle(world: World, died: Iterable[Died]) -> None:
    """Count this tick's deaths: for each the victim's, then the kill, then the assists."""
    for death in died:
        if death.seat is None:
            continue
        seat = world.names.index_of(death.seat)
        for index, counter in enumerate(world.plan.counters):
            if counter.table.on_death == "reset":
                _set(world, seat, index, counter.table.start, "death", death.seq)
            elif counter.table.death:
                add(world, seat, {index: counter.table.death}, "death", death.seq)
            if counter.table.kill and death.credit:
                add(world, world.names.index_of(death.credit), {index: counter.table.kill}, "kill", death.seq)
            for helper in death.helped if counter.table.assist else ():
                add(world, world.names.index_of(helper), {index: counter.table.assist}, "assist", death.seq)


def end_life(world: World, seat: int) -> None:
    """Count the seconds of a life that is over."""
    if world.plan.counters:
        _bank(world, seat)


def add(world: World, seat: int, points: dict[int, float], why: str, cause: int) -> None:
    """Add points to counters of a seat, none below its least."""
    for index, change in points.items():
        _set(world, seat, index, counted(world, seat)[index] + change, why, cause)


def _set(world: World, seat: int, index: int, value: float, why: str, cause: int) -> None:
    counter = world.plan.counters[index]
    before = counted(world, seat)[index]
    after = max(value, counter.minimum)
    world.block.counters[index, seat] = after - counter.table.per_second * _running(world, seat)
    if after != before:
        world.emit(
            Scored(
                time=(world.counts[Count.TICK] + 1) / world.plan.tick_rate,
                seat=world.names[seat],
                cause=cause,
                counter=counter.name,
                why=why,
                before=before,
                after=after,
            )
        )


def board(world: World) -> tuple[BoardRow, ...]:
    """All seats, the best first by the book's `board`; those that are even in the order in which they sit."""
    plan, marks = world.plan, world.block.seat_marks
    seats = [seat for seat in range(len(plan.props), world.counts[Count.SEATS]) if marks[SeatMark.LIVES_AT_ENTRY, seat]]
    values = {seat: counted(world, seat) for seat in seats}

    def rank(seat: int) -> tuple[float, ...]:
        return tuple(
            -values[seat][n] if plan.counters[n].table.best == "highest" else values[seat][n] for n in plan.board
        )

    order = sorted(seats, key=rank)
    rows: list[BoardRow] = []
    for index, seat in enumerate(order, 1):
        even = rows and rank(seat) == rank(order[index - 2])
        rows.append(
            BoardRow(
                place=rows[-1].place if even else index,
                seat=world.names[seat],
                team=world.team_name(int(marks[SeatMark.TEAM, seat])),
                counters={counter.name: value for counter, value in zip(plan.counters, values[seat], strict=True)},
                out=bool(marks[SeatMark.ELIMINATED, seat]),
            )
        )
    return tuple(rows)
