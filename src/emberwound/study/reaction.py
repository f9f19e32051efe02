"""How a fighter would react to an attack, and who can act first after it, without a bout."""

from __future__ import annotations

from math import hypot
from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.combat.reaction import HitSummary, Side, choose
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import reaction_terms
from emberwound.study.asked_hit import asked_hit, is_prop, pool_values, refuse
from emberwound.study.timing import timing
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


class Advantage(msgspec.Struct, frozen=True, kw_only=True):
    """Who can act first after an attack's first hitbox or release lands at once: the attacker, by so many ticks.

    A number below 0 is the victim's. Hit stop holds a striker as long as its victim, so it counts for shots alone.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter it lands on."""
    hit_tick: int
    """Tick it lands on, counted from its start."""
    free_tick: int
    """Tick its owner can act on again."""
    on_hit: ReactionReport
    """How the victim reacts, not guarded."""
    on_guard: ReactionReport | None
    """How the victim reacts, guarded; none without a guard."""
    advantage_on_hit: int
    """Ticks by which the attacker can act first; below 0 the victim."""
    advantage_on_guard: int | None
    """The same when it is guarded."""


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


def advantage(rules: Rules, attack: str, victim: str) -> Advantage:
    """Who can act first after an attack hits on the tick of its first hitbox or release, and the victim survives.

    Raises RulebookError.
    """
    timeline = timing(rules, attack)
    hits = [window.first_tick for window in timeline.windows if window.what in ("hitbox", "release")]
    first = min(hits, default=timeline.windup_ticks)
    on_hit = reaction_report(rules, attack, victim, survives=True)
    guards = rules.book.fighters[victim].guard is not None
    on_guard = reaction_report(rules, attack, victim, guarded=True, survives=True) if guards else None
    left = timeline.whole_ticks - first - 1
    strikes = rules.book.attacks[attack].strike is not None

    def ahead(each: ReactionReport) -> int:
        return each.locked_ticks - left + (0 if strikes else each.hit_stop_ticks)

    return Advantage(
        attack=attack,
        victim=victim,
        hit_tick=first,
        free_tick=timeline.whole_ticks,
        on_hit=on_hit,
        on_guard=on_guard,
        advantage_on_hit=ahead(on_hit),
        advantage_on_guard=None if on_guard is None else ahead(on_guard),
    )
