"""Where an attack's push leads, without a bout."""

from __future__ import annotations

from math import degrees, hypot
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.push import knockback_path, path_points
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import footing_of, push_terms
from emberwound.study.asked_hit import asked_hit, pool_values
from emberwound.vocabulary.errors import RulebookError
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.rules import Rules

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
