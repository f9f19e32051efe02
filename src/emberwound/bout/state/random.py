"""Random draws, keyed by seed, seat, purpose and count, so that one draw more here changes nothing elsewhere."""

from __future__ import annotations

from typing import TYPE_CHECKING

from numpy.random import Philox

from emberwound.bout.state.layout import Count, SeatMark

if TYPE_CHECKING:
    from emberwound.bout.state.world import World

SPREAD, PITCH = 1, 2
"""The purposes that draws are made for."""


def draws(world: World, seat: int, purpose: int, count: int) -> list[float]:
    """`count` numbers from 0 up to 1, the next of this seat's for this purpose."""
    marks = world.block.seat_marks
    number = int(marks[SeatMark.DRAWS, seat])
    marks[SeatMark.DRAWS, seat] = number + 1
    return _drawn(world, seat << 8 | purpose, number, count)


def pitch_draw(world: World, cue: int) -> float:
    """A number from 0 up to 1, the next of this cue's."""
    number = int(world.block.cue_draws[cue])
    world.block.cue_draws[cue] = number + 1
    return _drawn(world, cue << 8 | PITCH, number, 1)[0]


def _drawn(world: World, what: int, number: int, count: int) -> list[float]:
    source = Philox(key=[world.counts[Count.SEED], what], counter=[0, number, 0, 0])
    return [int(raw >> 11) * 2.0**-53 for raw in source.random_raw(count).tolist()]
