"""How a fighter would react to an attack, and who can act first after it, without a bout."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.combat.reaction import HitSummary, Side, choose
from emberwound.rulebook.names import known_name
from emberwound.rulebook.terms import reaction_terms
from emberwound.study.knockback import knockback_report
from emberwound.study.timing import timing
from emberwound.study.wound import report
from emberwound.vocabulary.clock import ticks_in
from emberwound.vocabulary.errors import RulebookError

if TYPE_CHECKING:
    from emberwound.rulebook.rules import Rules

SIDES: tuple[Side, ...] = ("front", "back", "left", "right", "above")


class ReactionReport(msgspec.Struct, frozen=True, kw_only=True):
    """What a standing victim does after a hit: nothing, or a row of its table; its lock and hit stop in ticks.

    `locked_ticks` is how long it cannot attack, hit stop not counted; `broken` says that its guard broke.
    """

    attack: str
    victim: str
    hitbox: str | None
    guarded: bool
    broken: bool
    reaction: str | None
    variants: tuple[str, ...]
    seconds: float
    ticks: int
    locked_ticks: int
    hit_stop: float
    hit_stop_ticks: int
    blend_in: float
    blend_out: float


class Advantage(msgspec.Struct, frozen=True, kw_only=True):
    """Who can act first after an attack's first hitbox or release lands at once: the attacker, by so many ticks.

    A number below 0 is the victim's. Hit stop holds a striker as long as its victim, so it counts for shots alone.
    """

    attack: str
    victim: str
    hit_tick: int
    free_tick: int
    on_hit: ReactionReport
    on_guard: ReactionReport | None
    advantage_on_hit: int
    advantage_on_guard: int | None


def reaction_report(
    rules: Rules,
    attack: str,
    victim: str,
    *,
    hitbox: str | None = None,
    hurtbox: str | None = None,
    guarded: bool = False,
    side: Side = "front",
) -> ReactionReport:
    """The report behind `Rulebook.reaction`. Raises RulebookError for names the book does not have."""
    book = rules.book
    settings = book.settings
    wound = report(rules, attack, victim, hitbox=hitbox, hurtbox=hurtbox, guarded=guarded)
    fighter, table = book.fighters[victim], book.attacks[attack]
    known_name("side", side, SIDES)
    stopped = guarded and any(step.rule == "guard" for step in wound.ledger.steps)
    impact = HitSummary(
        guarded=stopped,
        breaks=wound.guard_breaks,
        side=side,
        hurtbox=wound.hurtbox,
        kind=_kind(rules, attack, wound.hitbox),
        damage=wound.ledger.amount,
        push=_push_speed(rules, attack, victim, wound.hitbox, wound.hurtbox, guarded=stopped),
        airborne=False,
        dying=False,
    )
    rows = reaction_terms(fighter, settings.frame_rate)
    number = choose(rows, impact)
    terms = None if number is None else rows[number]
    stop = table.hit_stop.seconds(settings.frame_rate)
    lasts = None if number is None else fighter.reactions[number].seconds.seconds(settings.frame_rate)
    ticks = 0 if lasts is None else ticks_in(lasts, settings.tick_rate)
    return ReactionReport(
        attack=attack,
        victim=victim,
        hitbox=wound.hitbox,
        guarded=stopped,
        broken=wound.guard_breaks,
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


def _kind(rules: Rules, attack: str, hitbox: str | None) -> str:
    table = rules.book.attacks[attack]
    box = table.strike.hitboxes[hitbox] if table.strike and hitbox else None
    return (box.kind if box else None) or table.kind or ""


def _push_speed(rules: Rules, attack: str, victim: str, hitbox: str | None, hurtbox: str, *, guarded: bool) -> float:
    """How fast the attack knocks the victim back in the book's first arena; 0 without a push or an arena."""
    try:
        path = knockback_report(rules, attack, victim, hitbox=hitbox, hurtbox=hurtbox, guarded=guarded)
    except RulebookError:
        return 0.0
    return path.speed


def advantage(rules: Rules, attack: str, victim: str) -> Advantage:
    """Who can act first after an attack hits on the tick of its first hitbox or release. Raises RulebookError."""
    timeline = timing(rules, attack)
    hits = [window.first_tick for window in timeline.windows if window.what in ("hitbox", "release")]
    first = min(hits, default=timeline.windup_ticks)
    on_hit = reaction_report(rules, attack, victim)
    guards = rules.book.fighters[victim].guard is not None
    on_guard = reaction_report(rules, attack, victim, guarded=True) if guards else None
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
