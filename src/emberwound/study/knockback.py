"""Where an attack's push leads, and how a fighter falls whom it kills, without a bout."""

from __future__ import annotations

from math import degrees, hypot, radians
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.bout.preview import Fall
from emberwound.bout.views.parts import RagdollView
from emberwound.combat.push import knockback_path, path_points
from emberwound.rulebook.outline import known_name
from emberwound.rulebook.terms import footing_of, push_terms
from emberwound.study.asked_hit import asked_hit, pool_values
from emberwound.vocabulary.errors import BoutError, Problem, RulebookError
from emberwound.vocabulary.limits import MOST_PREVIEW_SECONDS

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.rules import Rules
    from emberwound.vocabulary.orders import Facing


POINTS = 121


class KnockbackReport(msgspec.Struct, frozen=True, kw_only=True):
    """The path of a push on a standing victim if it meets nothing: lengths, seconds since it began, degrees.

    `landing` is 0 for one that slides. `points` are (seconds, along the ground, height), evenly over its time.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter or prop."""
    arena: str
    """Where; its gravity counts."""
    hitbox: str | None
    """Hitbox of a strike."""
    blast: str | None
    """Blast, if it is by that."""
    guarded: bool
    """Whether a guard takes the hit."""
    speed: float
    """Speed it begins with, lengths a second."""
    lift_deg: float
    """Angle it begins with, degrees up from the ground."""
    apex: float
    """How high it rises."""
    apex_seconds: float
    """Seconds until then."""
    landing: float
    """How far away it lands; 0 of one that slides."""
    landing_seconds: float
    """Seconds until then."""
    rest: float
    """How far away it comes to rest."""
    rest_seconds: float
    """Seconds until then."""
    points: tuple[tuple[float, float, float], ...]
    """The path as (seconds, along the ground, height), evenly over its time."""

    def __str__(self) -> str:
        what = f"{self.attack} on {self.victim}{', guarded' if self.guarded else ''} in {self.arena}"
        launched = f"{self.speed:.4g} a second at {self.lift_deg:.3g} degrees"
        flight = f"rises {self.apex:.4g}, lands at {self.landing:.4g} after {self.landing_seconds:.3g} s, "
        rest = f"rests at {self.rest:.4g} after {self.rest_seconds:.3g} s"
        return f"{what}: {launched}; {flight if self.landing_seconds else ''}{rest}"


def knockback_report(
    rules: Rules,
    attack: str,
    victim: str,
    *,
    arena: str | None = None,
    pools: Mapping[str, float] | None = None,
    **how: Any,
) -> KnockbackReport:
    """The report behind `Rulebook.knockback_path`; `how` is as `asked_hit` takes it, by a way that pushes if any does.

    Raises RulebookError for unknown names, and for what pushes nobody.
    """
    book = rules.book
    hit = asked_hit(rules, attack, victim, pushing=True, **how)
    where = known_name("arena", next(iter(book.arenas), None) if arena is None else arena, book.arenas)
    if hit.way.options.push is None:
        key = f"blasts.{hit.way.blast}.push" if hit.way.blast else f"attacks.{attack}.push"
        seen = f"{hit.way.blast or attack} pushes nobody"
        allowed = f"give the {'blast' if hit.way.blast else 'attack'} a push"
        raise RulebookError([Problem(rules.source, key, seen, allowed)], asked=True)
    level, rise = hit.push(hit.resolve(pool_values(hit, pools or {})), where)
    footing = footing_of(hit.fighter, book.arenas[where])
    path = knockback_path(footing, level, rise)
    figures: dict[str, Any] = {name: value for name, value in path._asdict().items() if name not in ("level", "rise")}
    return KnockbackReport(
        attack=attack,
        victim=victim,
        arena=where,
        hitbox=hit.way.hitbox,
        blast=hit.way.blast,
        guarded=hit.guarded,
        speed=hypot(level, rise),
        lift_deg=degrees(
            push_terms(hit.way.options.push, footing, book.settings.frame_rate, book.arenas[where].space).lift
        ),
        points=tuple(path_points(footing, path, POINTS)),
        **figures,
    )


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
    while (
        (corpse := fall.seat.corpse) is not None
        and (view := corpse.ragdoll) is not None
        and fall.bout.time <= MOST_PREVIEW_SECONDS
    ):
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
