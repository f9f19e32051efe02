"""How a fighter falls when a hit kills it, point by point, without anybody to strike it."""

from __future__ import annotations

from math import radians
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.preview import Fall
from emberwound.bout.views.parts import RagdollView
from emberwound.study.knockback import knockback_report
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.limits import MOST_PREVIEW_SECONDS

if TYPE_CHECKING:
    from emberwound.rulebook import Rules
    from emberwound.vocabulary.orders import Facing


class RagdollPreview(msgspec.Struct, frozen=True, kw_only=True):
    """A ragdoll from its death until it is gone: `moments` are its states after each tick, `tick_rate` a second.

    `speed` and `lift_deg` are the push it was killed with, to the right; `place` is the middle of the hurtbox hit,
    `stood` where the fighter stood.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter."""
    hurtbox: str
    """Hurtbox that is hit."""
    arena: str
    """Where."""
    speed: float
    """Speed of the push, lengths a second."""
    lift_deg: float
    """Its angle, degrees up from the ground."""
    place: tuple[float, ...]
    """Middle of the hurtbox."""
    stood: tuple[float, ...]
    """Where the fighter stood."""
    has_heights: bool
    """Whether the arena has heights; seen from the top it has none."""
    tick_rate: int
    """Ticks a second."""
    moments: tuple[RagdollView, ...]
    """Its state after each tick."""


def ragdoll_preview(
    rules: Rules, attack: str, victim: str, *, hurtbox: str | None = None, arena: str | None = None
) -> RagdollPreview:
    """How a standing fighter would fall if the push of an attack from its left killed it, for a minute at most.

    The hurtbox is the first and the arena the first when they are not named; it stands at the arena's first entry, or
    in its middle. Raises RulebookError for names the book does not have and an attack without a push, and BoutError
    for a fighter that is no ragdoll.
    """
    told = knockback_report(rules, attack, victim, arena=arena, hurtbox=hurtbox)
    fighter = rules.book.fighters[victim]
    if fighter.ragdoll is None:
        raise BoutError(f"{victim} is no ragdoll when it dies; give fighters.{victim} a ragdoll table")
    table = rules.book.arenas[told.arena]
    low, high = table.bounds.low, table.bounds.high
    middle = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
    if table.space != "top" and table.floor is not None:
        middle[-1] = table.floor
    fall = Fall(rules, told.arena, victim, next(iter(table.entries), tuple(middle)), _towards(table.space))
    stood = fall.seat.position or ()
    part = list(fighter.hurtboxes).index(hurtbox) if hurtbox else 0
    place = fall.kill(told.speed, radians(told.lift_deg), part)
    moments: list[RagdollView] = []
    fall.bout.step()
    while (view := fall.seat.ragdoll) is not None and fall.bout.time <= MOST_PREVIEW_SECONDS:
        moments.append(view)
        fall.bout.step()
    return RagdollPreview(
        attack=attack,
        victim=victim,
        hurtbox=list(fighter.hurtboxes)[part],
        arena=told.arena,
        speed=told.speed,
        lift_deg=told.lift_deg,
        place=place,
        stood=stood,
        has_heights=table.space != "top",
        tick_rate=fall.bout.tick_rate,
        moments=tuple(moments),
    )


def _towards(space: str) -> Facing:
    return "left" if space == "side" else 180.0
