"""Checks of an attack's timeline, and of what comes more often than ticks do."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise
from typing import TYPE_CHECKING

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.models import FollowUp
from emberwound.vocabulary.clock import exact
from emberwound.vocabulary.limits import MOST_POSED_SECONDS

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Window
    from emberwound.rulebook.outline import Key

    Times = tuple[Fraction, Fraction]
    from collections.abc import Iterator, Mapping

    from emberwound.rulebook.models import Affliction, Arena, Attack


def check_timeline(found: Findings, name: str) -> None:
    """All windows of an attack must lie in its time, and what may follow it must be of its fighters."""
    key: Key = ("attacks", name)
    attack = found.book.attacks[name]
    time = (Fraction(0), AttackTimeline.of(attack, found.book.settings.frame_rate).whole)
    if attack.poses and time[1] > MOST_POSED_SECONDS:
        allowed = f"an attack with poses lasts at most {MOST_POSED_SECONDS} s"
        found.report((*key, "poses"), f"an attack of {float(time[1]):g} s", allowed)
    check_windows(found, (*key, "invulnerable"), attack.invulnerable, time, "the attack")
    for box, windows in attack.hurtboxes_off.items():
        place: Key = (*key, "hurtboxes_off", box)
        check_windows(found, place, windows, time, "the attack", needed=True)
        for fighter, owner in found.owners(name):
            if box not in owner.hurtboxes:
                found.unknown(place, f"hurtbox of {fighter}", box, owner.hurtboxes)
    following: tuple[tuple[str, dict[str, Window]], ...] = (
        ("cancels", dict(attack.cancels)),
        ("follow_ups", dict(attack.follow_ups)),
    )
    for what, table in following:
        for each, window in table.items():
            _following(found, (*key, what, each), name, window, time)
    circle = _circle(found, name)
    if circle:
        allowed = "give one of them a window of time, `from` or `until`: else each would follow the other at once"
        found.report((*key, "follow_ups"), " -> ".join(circle), allowed)


def check_windows(
    found: Findings, key: Key, windows: Sequence[Window], within: Times, of: str, *, needed: bool = False
) -> None:
    """Windows of time: none empty, each after the one before it, all within another."""
    read = [_times(found, each, within[1]) for each in windows]
    if needed and not windows:
        found.report(key, "an empty list", "give a window { from, until }, or leave it out", finding="hitbox-never-on")
    for index, times in enumerate(read):
        _within(found, (*key, index), times, within, of)
    for index, (before, after) in enumerate(pairwise(read), start=1):
        if after[0] < before[1]:
            found.report(
                (*key, index),
                f"from {float(after[0]):g}",
                f"the window before ends at {float(before[1]):g}",
                finding="double-window",
            )


def _times(found: Findings, window: Window, end: Fraction) -> Times:
    return found.seconds(window.from_), end if window.until is None else found.seconds(window.until)


def _within(found: Findings, key: Key, times: Times, within: Times, of: str) -> None:
    (begins, ends), (low, high) = times, within
    seen = f"{float(begins):g} to {float(ends):g}"
    if begins >= ends:
        found.report(key, seen, "it must end after it begins", finding="hitbox-never-on" if "hitboxes" in key else None)
    elif not low <= begins < ends <= high:
        found.report(
            key,
            seen,
            f"allowed: within the time of {of}, {float(low):g} to {float(high):g} s",
            finding="hitbox-never-on" if "hitboxes" in key else None,
        )


def _following(found: Findings, key: Key, name: str, window: Window, time: Times) -> None:
    _within(found, key, _times(found, window, time[1]), time, "the attack")
    follows = str(key[-1])
    press = (window.press if isinstance(window, FollowUp) else None) or follows
    for fighter, owner in found.owners(name):
        for place, needed in ((key, follows), ((*key, "press"), press)):
            if needed not in owner.attacks and needed in found.book.names["attacks"]:
                found.unknown(place, f"attack of {fighter}", needed, owner.attacks)


def _circle(found: Findings, name: str) -> list[str]:
    """A way from an attack back to it through follow-ups without a window of time; empty when there is none."""
    ways, seen = [[name]], {name}
    for way in ways:
        attack = found.book.attacks.get(way[-1])
        for each, window in (attack.follow_ups if attack else {}).items():
            if window.model_fields_set & {"from_", "until"}:
                continue
            if each == name:
                return [*way, each]
            if each not in seen:
                seen.add(each)
                ways.append([*way, each])
    return []


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
