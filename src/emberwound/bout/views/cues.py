"""Cues as they sound and show at a moment."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.state.layout import Count, CueColumn
from emberwound.vocabulary.events import Point

if TYPE_CHECKING:
    from emberwound.bout.state.world import WorldState


class CueView(msgspec.Struct, frozen=True, kw_only=True):
    """A cue at this moment: `id` is the `seq` of its event, `hears` the only seat it is for, if not for all.

    `seconds` it has lasted, `seconds_left` it will; `position` is where it came about, where that is known.
    """

    cue: str
    """Which cue of the book."""
    id: int
    """`seq` of its event."""
    medium: str
    """"sound", "flash" or "shake"."""
    hears: str | None
    """The only seat that it is for; none: all."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float
    """Seconds until it ends."""
    pitch: float
    """Pitch in hertz."""
    strength: float
    """How strong it is, from 0 to 1."""
    position: Point | None
    """Where it comes from, where that is known."""


def sounding(world: WorldState) -> tuple[CueView, ...]:
    """All cues that have begun and are not over, in the order in which they were given."""
    now = world.counts[Count.TICK] / world.plan.tick_rate
    begun, over = world.block.cues[CueColumn.STARTS], world.block.cues[CueColumn.ENDS]
    places = ((begun <= now) & (now < over)).nonzero()[0].tolist()
    return tuple(sorted((_view(world, place, now) for place in places), key=lambda view: view.id))


def _view(world: WorldState, place: int, now: float) -> CueView:
    cues = world.plan.cues
    cue = cues[bisect_right(cues, place, key=lambda each: each.first_place) - 1]
    starts, ends, pitch, known, *at = world.block.cues[:, place].tolist()
    seat = (place - cue.first_place) // cue.places
    return CueView(
        cue=cue.name,
        id=int(world.block.cue_numbers[place]) - 1,
        medium=cue.table.medium,
        hears=None if cue.table.audience == "everyone" else world.names[seat],
        seconds=now - starts,
        seconds_left=ends - now,
        pitch=pitch,
        strength=cue.table.strength,
        position=world.point(at) if known else None,
    )
