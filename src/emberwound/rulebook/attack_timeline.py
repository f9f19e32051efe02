"""The timeline of an attack: what it does when, in exact seconds from its start."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING, NamedTuple

from emberwound.vocabulary.clock import exact

if TYPE_CHECKING:
    from collections.abc import Iterable

    from emberwound.rulebook.models import Attack, Window
    from emberwound.vocabulary.clock import Duration


class NamedWindow(NamedTuple):
    """Part of an attack's time that belongs to something: a hitbox, a hurtbox, an attack that may follow."""

    name: str
    begins: Fraction
    ends: Fraction


@dataclass(frozen=True, slots=True)
class AttackTimeline:
    """When an attack does what; `first` is its first release, else when its first hitbox comes on, else its windup.

    `follow_ups` and `cancels` are named after the attack that they lead into.
    """

    windup: Fraction
    active: Fraction
    whole: Fraction
    cooldown: Fraction
    first: Fraction
    releases: tuple[Fraction, ...]
    hitboxes: tuple[NamedWindow, ...]
    invulnerable: tuple[NamedWindow, ...]
    hidden: tuple[NamedWindow, ...]
    cancels: tuple[NamedWindow, ...]
    follow_ups: tuple[NamedWindow, ...]
    lunge: NamedWindow | None

    @classmethod
    def of(cls, attack: Attack, frame_rate: int) -> AttackTimeline:
        """The timeline of an attack of a book of this frame rate."""

        def at(*parts: Duration) -> Fraction:
            return sum((part.seconds(frame_rate) for part in parts), Fraction(0))

        def windows(name: str, table: Iterable[Window]) -> list[NamedWindow]:
            return [NamedWindow(name, at(each.from_), at(each.until) if each.until else whole) for each in table]

        windup = at(attack.windup)
        active = windup + max(at(attack.active), at(attack.releases[-1]))
        whole = active + at(attack.recovery)
        releases = (
            [windup + at(each) for each in attack.releases]
            if attack.shot or attack.ray or attack.throw or attack.blast_at is not None
            else []
        )
        boxes = attack.strike.hitboxes.items() if attack.strike else ()
        hitboxes = [
            window
            for name, box in boxes
            for window in ([NamedWindow(name, windup, active)] if box.on is None else windows(name, box.on))
        ]
        lunge = attack.lunge
        cooldown = at(attack.cooldown) if attack.cooldown else Fraction(0)
        return cls(
            windup=windup,
            active=active,
            whole=whole,
            cooldown=1 / exact(attack.rate) if attack.rate else cooldown,
            first=min([*releases, *(each.begins for each in hitboxes)], default=windup + at(attack.releases[0])),
            releases=tuple(releases),
            hitboxes=tuple(hitboxes),
            invulnerable=tuple(windows("invulnerable", attack.invulnerable)),
            hidden=tuple(each for name, table in attack.hurtboxes_off.items() for each in windows(name, table)),
            cancels=tuple(each for name, window in attack.cancels.items() for each in windows(name, [window])),
            follow_ups=tuple(each for name, window in attack.follow_ups.items() for each in windows(name, [window])),
            lunge=NamedWindow("lunge", at(lunge.at), at(lunge.at, lunge.seconds)) if lunge else None,
        )

    @property
    def period(self) -> Fraction:
        """Seconds from one held repeat to the next, but for the tick that each takes at the least."""
        return max(self.cooldown, self.whole)
