"""Checks against a tick rate: what would have to happen more than once in a tick, and cannot."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.vocabulary.clock import exact

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from emberwound.rulebook.models import Affliction, Arena, Attack
    from emberwound.rulebook.outline import Key


def too_fast(
    attacks: Mapping[str, Attack],
    afflictions: Mapping[str, Affliction],
    arenas: Mapping[str, Arena],
    frame_rate: int,
    tick_rate: int,
) -> Iterator[tuple[Key, str, str]]:
    """Where a book asks for more than one in a tick: the key, what was seen, and what is allowed."""
    most = f"allowed at {tick_rate} ticks a second: at most {tick_rate} a second, one a tick"
    least = f"allowed at {tick_rate} ticks a second: at least 1/{tick_rate} s, a tick"
    for name, attack in attacks.items():
        if attack.rate is not None and exact(attack.rate) > tick_rate:
            yield ("attacks", name, "rate"), f"{attack.rate:g} a second", most
    for name, affliction in afflictions.items():
        if affliction.every is not None and affliction.every.seconds(frame_rate) * tick_rate < 1:
            yield ("afflictions", name, "every"), str(affliction.every.written()), least
    for name, arena in arenas.items():
        for each, hazard in arena.hazards.items():
            schedule = hazard.schedule
            if schedule and (schedule.on.seconds(frame_rate) + schedule.off.seconds(frame_rate)) * tick_rate < 1:
                key = ("arenas", name, "hazards", each, "schedule")
                seen = f"on for {schedule.on.written()}, off for {schedule.off.written()}"
                yield key, seen, f"{least}, for both"
