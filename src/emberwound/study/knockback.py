"""Where an attack's push leads, without a bout."""

from __future__ import annotations

from math import cos, degrees, sin
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.push import knockback_path, path_points
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import footing_of, push_terms
from emberwound.study.wound import points_on_prop, report
from emberwound.vocabulary.errors import RulebookError
from emberwound.vocabulary.problems import Problem

if TYPE_CHECKING:
    from emberwound.rulebook.models import Push
    from emberwound.rulebook.rules import Rules

POINTS = 121


class KnockbackReport(msgspec.Struct, frozen=True, kw_only=True):
    """The path of a push on a standing victim if it meets nothing: lengths, seconds since it began, degrees.

    `landing` is 0 for one that slides. `points` are (seconds, along the ground, height), evenly over its time.
    """

    attack: str
    victim: str
    arena: str
    hitbox: str | None
    guarded: bool
    speed: float
    lift_deg: float
    apex: float
    apex_seconds: float
    landing: float
    landing_seconds: float
    rest: float
    rest_seconds: float
    points: tuple[tuple[float, float, float], ...]

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
    hitbox: str | None = None,
    hurtbox: str | None = None,
    guarded: bool = False,
) -> KnockbackReport:
    """The report behind `Rulebook.knockback_path`. Raises RulebookError for unknown names, and without a push."""
    book = rules.book
    known_name("attack", attack, book.attacks)
    fighter = book.bodies[known_name("fighter or prop", victim, book.bodies)]
    where = known_name("arena", next(iter(book.arenas), None) if arena is None else arena, book.arenas)
    box = next(iter(fighter.hurtboxes)) if hurtbox is None else hurtbox
    if victim in book.props:
        striking, points = points_on_prop(rules, attack, victim, hurtbox=box, hitbox=hitbox)
    else:
        wound = report(rules, attack, victim, hurtbox=box, hitbox=hitbox, guarded=guarded)
        striking, points = wound.hitbox, wound.ledger.amount
    push = _push_of(rules, attack, striking)
    footing = footing_of(fighter, book.arenas[where])
    terms = push_terms(push, footing, book.settings.frame_rate)
    share = fighter.hurtboxes[box].push_share * (fighter.guard.push_share if guarded and fighter.guard else 1.0)
    speed = (terms.speed + terms.per_point * points) * share / fighter.weight
    path = knockback_path(footing, speed * cos(terms.lift), speed * sin(terms.lift))
    figures: dict[str, Any] = {name: value for name, value in path._asdict().items() if name not in ("level", "rise")}
    return KnockbackReport(
        attack=attack,
        victim=victim,
        arena=where,
        hitbox=striking,
        guarded=guarded,
        speed=speed,
        lift_deg=degrees(terms.lift),
        points=tuple(path_points(footing, path, POINTS)),
        **figures,
    )


def _push_of(rules: Rules, attack: str, hitbox: str | None) -> Push:
    table = rules.book.attacks[attack]
    box = table.strike.hitboxes[hitbox] if table.strike and hitbox else None
    push = (box.push if box else None) or table.push
    if push is None:
        seen = f"{attack} pushes nobody"
        raise RulebookError(
            [Problem(rules.source, f"attacks.{attack}.push", seen, "give the attack a push")], asked=True
        )
    return push
