"""When an attack does what, in ticks and in seconds: the figures behind its time line."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec

from emberwound.rulebook.attack_timeline import AttackTimeline, NamedWindow
from emberwound.rulebook.outline import known_name
from emberwound.vocabulary.clock import ticks_in

if TYPE_CHECKING:
    from collections.abc import Iterable
    from fractions import Fraction

    from emberwound.rulebook.rules import Rules

WindowSort = Literal["hitbox", "release", "invulnerable", "hurtbox off", "cancel", "follow-up", "lunge"]


class TimedWindow(msgspec.Struct, frozen=True, kw_only=True):
    """A window of an attack: of what, whose name, in seconds, and its first and last tick, both part of it.

    A release is a single tick. A hitbox is on for its exact time; its first and last tick may hold a part of that.
    """

    what: WindowSort
    """What it is a window of."""
    name: str
    """Hitbox, attack or hurtbox that it is about."""
    begins: float
    """Its start in seconds from the start of the attack."""
    ends: float
    """Its end in seconds."""
    first_tick: int
    """First tick it counts in."""
    last_tick: int
    """Last tick it counts in."""


class AttackTiming(msgspec.Struct, frozen=True, kw_only=True):
    """The timeline of an attack begun on tick 0: where its parts end, in ticks and seconds, and what happens in them.

    The windup ends, the recovery begins and the attack is over at the start of the tick named; `cooldown` runs from
    its first release, for what releases nothing from its start.
    """

    attack: str
    """Which attack."""
    tick_rate: int
    """Ticks a second."""
    windup: float
    """Seconds of windup."""
    windup_ticks: int
    """Ticks of windup."""
    active: float
    """Seconds from the end of the windup to the start of the recovery."""
    active_ticks: int
    """The same in ticks."""
    recovery: float
    """Seconds of recovery."""
    recovery_ticks: int
    """Ticks of recovery."""
    whole: float
    """Seconds from its start to its end."""
    whole_ticks: int
    """The same in ticks."""
    cooldown: float
    """Seconds from release to release."""
    cooldown_ticks: int
    """The same in ticks."""
    windows: tuple[TimedWindow, ...]
    """When its hitboxes are on, when it releases, and its other windows."""

    def of(self, what: WindowSort) -> list[TimedWindow]:
        """The windows of one sort, in order."""
        return [window for window in self.windows if window.what == what]


def timing(rules: Rules, attack: str) -> AttackTiming:
    """The timing of an attack at the book's tick rate. Raises RulebookError for an unknown attack."""
    book = rules.book
    known_name("attack", attack, book.attacks)
    timeline, rate = AttackTimeline.of(book.attacks[attack], book.settings.frame_rate), book.settings.tick_rate
    windup, active, whole = (ticks_in(each, rate) for each in (timeline.windup, timeline.active, timeline.whole))
    return AttackTiming(
        attack=attack,
        tick_rate=rate,
        windup=float(timeline.windup),
        windup_ticks=windup,
        active=float(timeline.active - timeline.windup),
        active_ticks=active - windup,
        recovery=float(timeline.whole - timeline.active),
        recovery_ticks=whole - active,
        whole=float(timeline.whole),
        whole_ticks=whole,
        cooldown=float(timeline.cooldown),
        cooldown_ticks=ticks_in(timeline.cooldown, rate),
        windows=tuple(_windows(timeline, rate)),
    )


def _windows(timeline: AttackTimeline, rate: int) -> Iterable[TimedWindow]:
    for number, at in enumerate(timeline.releases, start=1):
        tick = ticks_in(at, rate)
        yield TimedWindow(
            what="release", name=str(number), begins=float(at), ends=float(at), first_tick=tick, last_tick=tick
        )
    sorts: tuple[tuple[WindowSort, tuple[NamedWindow, ...]], ...] = (
        ("hitbox", timeline.hitboxes),
        ("invulnerable", timeline.invulnerable),
        ("hurtbox off", timeline.hidden),
        ("lunge", (timeline.lunge,) if timeline.lunge else ()),
        ("cancel", timeline.cancels),
        ("follow-up", timeline.follow_ups),
    )
    for what, windows in sorts:
        for name, begins, ends in windows:
            first, last = _ticks(begins, ends, rate, exactly=what == "hitbox")
            yield TimedWindow(
                what=what, name=name, begins=float(begins), ends=float(ends), first_tick=first, last_tick=last
            )


def _ticks(begins: Fraction, ends: Fraction, rate: int, *, exactly: bool) -> tuple[int, int]:
    """The first and the last tick of a window, at least one."""
    first = int(begins * rate) if exactly else ticks_in(begins, rate)
    return first, max(ticks_in(ends, rate) - 1, first)


def timing_table(rules: Rules) -> list[AttackTiming]:
    """The timing of every attack of a book."""
    return [timing(rules, attack) for attack in rules.book.attacks]
