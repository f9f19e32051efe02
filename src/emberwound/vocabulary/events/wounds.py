"""What befalls bodies: wounds, guards, pushes, reactions, healing and afflictions."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.reasons import Reason


class Wounded(Event, frozen=True, kw_only=True, tag="wounded"):
    """A wound was dealt; the ledger says how its amount came about and what each pool lost.

    By a shot or ray it has a number, by a strike a hitbox; by a hazard, whose name then stands as its attack, there is
    nobody it is by.
    """

    attack: str
    kind: str
    shot: int
    hurtbox: str
    position: Point
    amount: float
    ledger: Ledger
    vital_left: float
    vital_max: float
    hitbox: str | None = None


class Guarded(Event, frozen=True, kw_only=True, tag="guarded"):
    """A held guard met a hit, whether anything passed or not; what passed is in the `Wounded` that follows.

    `share` of the points passed. `drained` points of its pool it cost; `broken` says that this broke it.
    """

    attack: str
    shot: int
    hurtbox: str
    position: Point
    share: float
    drained: float
    perfect: bool
    broken: bool
    hitbox: str | None = None


class PropStruck(Event, frozen=True, kw_only=True, tag="prop_struck"):
    """Something hit a prop; `seat` is the prop's name."""

    attack: str
    shot: int
    hurtbox: str
    position: Point
    hitbox: str | None = None


class KnockedBack(Event, frozen=True, kw_only=True, tag="knocked_back"):
    """The hits of a tick knock a body back: from `starts_tick` on `velocity` replaces what it had, or is added."""

    velocity: Point
    replaces: bool
    starts_tick: int


class ReactionBegan(Event, frozen=True, kw_only=True, tag="reaction_began"):
    """A body reacts to a hit from the next tick on, until `until_tick`; `guarded` says that its guard took it."""

    reaction: str
    variant: str
    part: str
    side: str
    guarded: bool
    until_tick: int


class ReactionEnded(Event, frozen=True, kw_only=True, tag="reaction_ended"):
    """A reaction is over; `guarding` says whether its guard, still held, is up again."""

    reaction: str
    guarding: bool


class HitStopBegan(Event, frozen=True, kw_only=True, tag="hit_stop_began"):
    """Hit stop: a body's own clock stands still from the next tick on, until `until_tick`."""

    until_tick: int


class Landed(Event, frozen=True, kw_only=True, tag="landed"):
    """A body that was knocked into the air landed."""

    position: Point


class PoolEmptied(Event, frozen=True, kw_only=True, tag="pool_emptied"):
    """A pool that is not the vital one came to zero: a shield broke, or the oil ran out."""

    pool: str


class Healed(Event, frozen=True, kw_only=True, tag="healed"):
    """Points were mended; the ledger says how many, and where they went."""

    attack: str
    kind: str
    shot: int
    hurtbox: str
    position: Point
    amount: float
    ledger: Ledger
    vital_left: float
    vital_max: float
    hitbox: str | None = None


class AfflictionBegan(Event, frozen=True, kw_only=True, tag="affliction_began"):
    """A lingering wound began or was renewed; there are `count` of it now, and this one ends on `until_tick`."""

    affliction: str
    count: int
    until_tick: int


class AfflictionEnded(Event, frozen=True, kw_only=True, tag="affliction_ended"):
    """A lingering wound is over."""

    affliction: str
    reason: Reason
