"""The script of a bout table: who enters, and what they are ordered on which tick."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

from emberwound.vocabulary.clock import NEVER, ticks_in
from emberwound.vocabulary.orders import INPUTS, AnyInput, Enter, Leave, Order

if TYPE_CHECKING:
    from collections.abc import Sequence
    from fractions import Fraction

    from emberwound.rulebook import Rules
    from emberwound.rulebook.models import TimedOrder


@dataclass(frozen=True)
class Script:
    """A scripted bout: its length in ticks, the entries before the first tick, and timed inputs in order of tick.

    Seats that enter later, and that leave, do so by inputs of their tick.
    """

    name: str
    ticks: int
    seed: int
    entries: tuple[Enter, ...]
    inputs: tuple[AnyInput, ...]

    @cached_property
    def comes_and_goes(self) -> bool:
        """Whether seats enter later, or leave."""
        return bool(self.late or self.leaving)

    @cached_property
    def leaving(self) -> frozenset[str]:
        """The seats that leave."""
        return frozenset(each.seat for each in self.inputs if isinstance(each, Leave))

    @cached_property
    def late(self) -> frozenset[str]:
        """The seats that enter later."""
        return frozenset(each.seat for each in self.inputs if isinstance(each, Enter))


def compile_script(rules: Rules, bout: str, tick_rate: int) -> Script:
    """The script of one of the book's bouts at a tick rate; the name is taken as already checked.

    An order at time t is given to tick ceil(t * tick_rate); orders of one tick keep the file's order.
    """
    table = rules.book.bouts[bout]
    frame_rate = rules.book.settings.frame_rate
    presences = {
        seat: (ticks_in(entry.time.seconds(frame_rate), tick_rate),
               None if entry.until is None else ticks_in(entry.until.seconds(frame_rate), tick_rate))
        for seat, entry in table.seats.items()
    }  # fmt: skip
    entering = tuple(
        Enter(
            tick=presences[seat][0],
            seat=seat,
            source="script",
            fighter=entry.fighter,
            at=entry.at,
            facing=entry.facing,
            lives=None if entry.lives == "endless" else entry.lives,
            team=entry.team,
            pools=entry.pools,
            damage_dealt=entry.damage_dealt,
            speed_share=entry.speed_share,
        )
        for seat, entry in table.seats.items()
    )
    whole = table.seconds.seconds(frame_rate)
    inputs: list[AnyInput] = [entry for entry in entering if entry.tick]
    inputs += [
        each for order in table.orders for time in _times(order, whole, frame_rate)
        for each in _inputs(order, ticks_in(time, tick_rate))
    ]  # fmt: skip
    inputs += _endings(table.orders, frame_rate, tick_rate)
    inputs = [each for each in inputs if each.tick < (presences[each.seat][1] or NEVER)]
    inputs += [
        Leave(tick=leaves, seat=seat, source="script") for seat, (_, leaves) in presences.items() if leaves is not None
    ]
    inputs.sort(key=lambda each: each.tick)
    at_once = tuple(entry for entry in entering if not entry.tick)
    return Script(bout, ticks_in(whole, tick_rate), table.seed, at_once, tuple(inputs))


def _times(order: TimedOrder, whole: Fraction, frame_rate: int) -> list[Fraction]:
    """When an order is given: once, or every so often, exactly, until its end or the bout's."""
    start = order.time.seconds(frame_rate)
    if order.every is None:
        return [start]
    until = whole if order.until is None else min(order.until.seconds(frame_rate), whole)
    every = order.every.seconds(frame_rate)
    count = -((start - until) // every)
    return [start + index * every for index in range(int(count))]


def _inputs(order: TimedOrder, tick: int) -> list[AnyInput]:
    """The inputs that a timed order gives: of each kind whose keys it has any of."""
    found: list[AnyInput] = []
    for kind in INPUTS:
        told = {field: getattr(order, key) for field, key in kind.script_keys.items()}
        if any(each is not None and each is not False for each in told.values()):
            found.append(kind(tick=tick, seat=order.seat, source="script", **told))
    return found


def _endings(orders: Sequence[TimedOrder], frame_rate: int, tick_rate: int) -> list[AnyInput]:
    """What ends a hold, a move or a patrol when its time is over, if no later order has taken its place by then."""
    times = [order.time.seconds(frame_rate) for order in orders]
    found: list[AnyInput] = []
    for index, order in enumerate(orders):
        if order.until is None or order.every is not None:
            continue
        until = order.until.seconds(frame_rate)
        later = [
            other for place, other in enumerate(orders)
            if other.seat == order.seat and (times[index], index) < (times[place], place) and times[place] <= until
        ]  # fmt: skip
        moves, holds = _walks(order) and not any(map(_walks, later)), order.hold is not None
        holds = holds and all(other.hold is None for other in later)
        if moves or holds:
            still = (0.0, 0.0) if isinstance(order.move, tuple) else 0.0
            tick = ticks_in(until, tick_rate)
            found.append(
                Order(
                    tick=tick,
                    seat=order.seat,
                    source="script",
                    move=still if moves else None,
                    hold=() if holds else None,
                )
            )
    return found


def _walks(order: TimedOrder) -> bool:
    return order.move is not None or order.patrol is not None
