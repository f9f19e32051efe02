"""How a fighter would react to an attack, without a bout."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.reaction import HitSummary, Side, choose
from emberwound.rulebook.names import known_name, refuse
from emberwound.rulebook.terms import reaction_terms
from emberwound.study.asked_hit import asked_hit, is_prop, pool_values
from emberwound.vocabulary.clock import ticks_in

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.rules import Rules

SIDES: tuple[Side, ...] = ("front", "back", "left", "right", "above")


class ReactionReport(msgspec.Struct, frozen=True, kw_only=True):
    """What a standing victim does after a hit: nothing, or a row of its table; its lock and hit stop in ticks.

    What kills leads to a row of the dying. `locked_ticks` is how long it cannot attack, hit stop not counted; `broken`
    says that its guard broke.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter."""
    hitbox: str | None
    """Hitbox of a strike."""
    blast: str | None
    """Blast, if it is by that."""
    guarded: bool
    """Whether a guard takes the hit."""
    broken: bool
    """Whether that breaks the guard."""
    kills: bool
    """Whether the hit kills."""
    reaction: str | None
    """Row of the table that fits; none: it does not react."""
    variants: tuple[str, ...]
    """Its variants."""
    seconds: float
    """How long it lasts."""
    ticks: int
    """The same in ticks."""
    locked_ticks: int
    """Ticks in which the victim cannot attack, hit stop not counted."""
    hit_stop: float
    """Seconds of hit stop before that."""
    hit_stop_ticks: int
    """The same in ticks."""
    blend_in: float
    """Seconds in which it grows to full strength."""
    blend_out: float
    """Seconds in which it fades."""


def reaction_report(
    rules: Rules,
    attack: str,
    victim: str,
    *,
    side: Side = "front",
    pools: Mapping[str, float] | None = None,
    survives: bool = False,
    **how: Any,
) -> ReactionReport:
    """The report behind `Rulebook.reaction`; `how` is as `asked_hit` takes it, and who `survives` is not killed.

    Raises RulebookError for names the book does not have.
    """
    settings = rules.book.settings
    known_name("side", side, SIDES)
    if is_prop(rules, victim):
        raise refuse("victim", victim, "a prop does not react; ask for its knockback_path")
    known_name("fighter", victim, rules.book.fighters)
    hit = asked_hit(rules, attack, victim, **how)
    result = hit.resolve(pool_values(hit, pools or {}))
    arena = next(iter(rules.book.arenas), None)
    impact = HitSummary(
        guarded=result.guard is not None,
        breaks=result.guard is not None and result.guard.breaks,
        side=side,
        hurtbox=hit.hurtbox.name,
        kind=hit.way.wound.kind,
        damage=result.amount,
        push=0.0 if arena is None else hypot(*hit.push(result, arena)),
        airborne=False,
        dying=result.kills and not survives,
    )
    fighter = rules.book.fighters[victim]
    rows = reaction_terms(fighter, settings.frame_rate)
    number = choose(rows, impact) if (result.staggers or impact.dying) and not hit.way.wound.heals else None
    terms = None if number is None else rows[number]
    stop = hit.way.options.hit_stop.seconds(settings.frame_rate)
    lasts = None if number is None else fighter.reactions[number].seconds.seconds(settings.frame_rate)
    ticks = 0 if lasts is None else ticks_in(lasts, settings.tick_rate)
    return ReactionReport(
        attack=attack,
        victim=victim,
        hitbox=hit.way.hitbox,
        blast=hit.way.blast,
        guarded=impact.guarded,
        broken=impact.breaks,
        kills=impact.dying,
        reaction=terms.name if terms else None,
        variants=terms.variants if terms else (),
        seconds=terms.seconds if terms else 0.0,
        ticks=ticks,
        locked_ticks=ticks if terms is not None and "attack" in terms.locks else 0,
        hit_stop=float(stop),
        hit_stop_ticks=ticks_in(stop, settings.tick_rate),
        blend_in=terms.blend_in if terms else 0.0,
        blend_out=terms.blend_out if terms else 0.0,
    )
