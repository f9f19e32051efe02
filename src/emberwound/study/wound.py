"""What an attack would do to a fighter, without a bout: one wound with its ledger."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import msgspec

from emberwound.rulebook.names import known_name, refuse
from emberwound.study.asked_hit import asked_hit, is_prop, pool_values
from emberwound.vocabulary.ledger import Ledger

if TYPE_CHECKING:
    from collections.abc import Mapping

    from emberwound.rulebook.rules import Rules


class WoundReport(msgspec.Struct, frozen=True, kw_only=True):
    """One wound: who by what on whom and where, the ledger, every pool before and after, and whether it kills.

    By one of the attack's hitboxes, by its blast, or by neither. `drained` is what a guard cost its pool before the
    wound; `before` is before that too.
    """

    attack: str
    """Which attack."""
    victim: str
    """Which fighter."""
    hurtbox: str
    """Hurtbox that is hit."""
    ledger: Ledger
    """How its amount comes about."""
    before: dict[str, float]
    """Pools before it."""
    after: dict[str, float]
    """Pools after it."""
    kills: bool
    """Whether it kills."""
    hitbox: str | None = None
    """Hitbox of a strike."""
    blast: str | None = None
    """Blast, if it is by that."""
    drained: float = 0.0
    """Points that a guard's pool paid."""
    guard_breaks: bool = False
    """Whether that breaks the guard."""
    met_at: float | None = None
    """How far in front the victim stands that meets it with this hurtbox first; none where the hurtbox was named."""

    def to_dict(self) -> dict[str, Any]:
        """All of it as plain values."""
        found: dict[str, Any] = msgspec.to_builtins(self)
        return found

    def heading(self) -> str:
        """What on whom, and how many points it came to."""
        which = f" ({self.hitbox})" if self.hitbox else f" (blast {self.blast})" if self.blast else ""
        met = "" if self.met_at is None else f" (met first, {self.met_at:.3g} in front)"
        return f"{self.attack}{which} on {self.victim}'s {self.hurtbox}{met}: {self.ledger.amount:g}"

    def outcome(self) -> str:
        """What came of it besides the pools, as words to follow them."""
        cost = f", {self.drained:g} drained by the guard" if self.drained else ""
        return cost + (", the guard breaks" if self.guard_breaks else "") + (", dead" if self.kills else "")

    def __str__(self) -> str:
        wide = max(len(step.rule) for step in self.ledger.steps)
        lines = [self.heading()]
        lines += [
            f"  {step.rule:{wide}}  {step.before:>8g} -> {step.after:<8g} {step.why}" for step in self.ledger.steps
        ]
        left = ", ".join(f"{name} {value:g}" for name, value in self.after.items())
        return "\n".join([*lines, f"  left: {left}{self.outcome()}"])


def report(
    rules: Rules, attack: str, victim: str, *, pools: Mapping[str, float] | None = None, **how: Any
) -> WoundReport:
    """The report behind `Rulebook.wound`; `how` is as `asked_hit` takes it.

    Raises RulebookError for names and numbers the book does not allow.
    """
    if is_prop(rules, victim):
        raise refuse("victim", victim, "a prop has no points to lose; ask for its knockback_path")
    known_name("fighter", victim, rules.book.fighters)
    hit = asked_hit(rules, attack, victim, **how)
    before, names = pool_values(hit, pools or {}), [pool.name for pool in hit.stats.pools]
    result = hit.resolve(before)
    return WoundReport(
        attack=attack,
        victim=victim,
        hurtbox=hit.hurtbox.name,
        hitbox=hit.way.hitbox,
        blast=hit.way.blast,
        ledger=result.ledger,
        before=dict(zip(names, before, strict=True)),
        after=dict(zip(names, result.values, strict=True)),
        kills=result.kills,
        drained=result.guard.drained if result.guard else 0.0,
        guard_breaks=result.guard is not None and result.guard.breaks,
        met_at=hit.met_at,
    )
