"""The script of a bout table: who enters, and what they are told on which tick."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from emberwound.vocabulary.clock import ticks_in
from emberwound.vocabulary.orders import AnyInput, Enter, Order, Place

if TYPE_CHECKING:
    from emberwound.rulebook import Rulebook
    from emberwound.rulebook.models import TimedOrder


@dataclass(frozen=True, slots=True)
class Script:
    """A scripted bout: its length in ticks, the entries before the first tick, and timed inputs in order of tick."""

    name: str
    ticks: int
    seed: int
    entries: tuple[Enter, ...]
    inputs: tuple[AnyInput, ...]


def compile_script(rules: Rulebook, bout: str, tick_rate: int) -> Script:
    """The script of one of the book's bouts at a tick rate; the name is taken as already checked.

    An order at time t is given to tick ceil(t * tick_rate); orders of one tick keep the file's order.
    """
    table = rules.book.bouts[bout]
    frame_rate = rules.book.settings.frame_rate
    entries = tuple(
        Enter(
            tick=0,
            seat=seat,
            source="script",
            fighter=entry.fighter,
            at=entry.at,
            facing=entry.facing,
            lives=entry.lives,
        )
        for seat, entry in table.seats.items()
    )
    inputs = [
        each for order in table.orders for each in _inputs(order, ticks_in(order.time.seconds(frame_rate), tick_rate))
    ]
    inputs.sort(key=lambda each: each.tick)
    return Script(bout, ticks_in(table.seconds.seconds(frame_rate), tick_rate), table.seed, entries, tuple(inputs))


def _inputs(order: TimedOrder, tick: int) -> list[AnyInput]:
    found: list[AnyInput] = []
    if order.place is not None:
        found.append(Place(tick=tick, seat=order.seat, source="script", position=order.place, teleport=order.teleport))
    if not (order.aim is None and order.facing is None and order.press is None):
        found.append(
            Order(tick=tick, seat=order.seat, source="script", aim=order.aim, facing=order.facing, press=order.press)
        )
    return found
