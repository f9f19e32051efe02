"""What happens to bodies: wounds, guards, pushes, reactions, healing and afflictions."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.reasons import Reason


class Wounded(Event, frozen=True, kw_only=True, tag="wounded"):
    """A wound was dealt; the ledger says how its amount came about and what each pool lost.

    By a shot or ray it has an id, by a strike a hitbox; by a hazard, whose name then stands as its attack, there is
    nobody it is by.
    """

    attack: str
    """Attack, blast, affliction or hazard."""
    kind: str
    """Kind of the wound."""
    shot: int
    """Id of the shot or ray; 0 of strikes, blasts without a shot, afflictions and hazards."""
    hurtbox: str
    """Hurtbox that was hit."""
    position: Point
    """Where."""
    amount: float
    """Points that the pools gave up, and what was left over."""
    ledger: Ledger
    """How the amount came about, and what each pool lost."""
    vital_left: float
    """Points left in the vital pool."""
    vital_max: float
    """The most points that pool holds."""
    hitbox: str | None = None
    """Hitbox of a strike."""


class Guarded(Event, frozen=True, kw_only=True, tag="guarded"):
    """A held guard met a hit, whether anything passed or not; what passed is in the `Wounded` that follows.

    `share` of the points passed. `drained` points of its pool it cost; `broken` says that this broke it.
    """

    attack: str
    """Attack, blast or hazard."""
    shot: int
    """Id of the shot or ray; else 0."""
    hurtbox: str
    """Hurtbox that was hit."""
    position: Point
    """Where."""
    share: float
    """Share of the points that passed."""
    drained: float
    """Points that it cost the guard's pool."""
    perfect: bool
    """Whether the guard was in its perfect moment."""
    broken: bool
    """Whether this broke it."""
    hitbox: str | None = None
    """Hitbox of a strike."""


class PropStruck(Event, frozen=True, kw_only=True, tag="prop_struck"):
    """Something hit a prop; `seat` is the prop's name."""

    attack: str
    """Attack, blast or hazard."""
    shot: int
    """Id of the shot or ray; else 0."""
    hurtbox: str
    """Hurtbox of the prop."""
    position: Point
    """Where."""
    hitbox: str | None = None
    """Hitbox of a strike."""


class KnockedBack(Event, frozen=True, kw_only=True, tag="knocked_back"):
    """The hits of a tick knock a body back: from `starts_tick` on `velocity` replaces what it had, or is added."""

    velocity: Point
    """Velocity given, lengths a second along the axes of the arena."""
    replaces: bool
    """Whether it replaces the velocity the body had; else it is added."""
    starts_tick: int
    """First tick that it moves the body in."""


class Grabbed(Event, frozen=True, kw_only=True, tag="grabbed"):
    """A body is held by another's from the next tick on; it can do nothing meanwhile."""

    attack: str
    """Which attack."""
    until_tick: int
    """Tick on which its time is over."""


class GrabFailed(Event, frozen=True, kw_only=True, tag="grab_failed"):
    """A hit that would have held a body did not."""

    attack: str
    """Which attack."""
    reason: Reason
    """Why."""


class GrabEnded(Event, frozen=True, kw_only=True, tag="grab_ended"):
    """A body is no longer held by another's."""

    attack: str
    """The attack that held it."""
    reason: Reason
    """Why."""
    position: Point
    """Where it was let go."""


class ReactionBegan(Event, frozen=True, kw_only=True, tag="reaction_began"):
    """A body reacts to a hit from the next tick on, until `until_tick`; `guarded` says that its guard took it."""

    reaction: str
    """Name of the row."""
    variant: str
    """Which of its variants."""
    part: str
    """Part of the body."""
    side: str
    """Side the hit came from."""
    guarded: bool
    """Whether a guard took the hit."""
    until_tick: int
    """Tick it is over with."""


class ReactionEnded(Event, frozen=True, kw_only=True, tag="reaction_ended"):
    """A reaction is over; `guarding` says whether its guard, still held, is up again."""

    reaction: str
    """Name of the row."""
    guarding: bool
    """Whether the guard, still held, is up again."""


class HitStopBegan(Event, frozen=True, kw_only=True, tag="hit_stop_began"):
    """Hit stop: a body's own clock stands still from the next tick on, until `until_tick`."""

    until_tick: int
    """Tick it is over with."""


class Landed(Event, frozen=True, kw_only=True, tag="landed"):
    """A body that was knocked into the air landed."""

    position: Point
    """Where."""


class PoolEmptied(Event, frozen=True, kw_only=True, tag="pool_emptied"):
    """A pool that is not the vital one came to zero: a shield broke, or the oil ran out."""

    pool: str
    """Which pool."""


class Healed(Event, frozen=True, kw_only=True, tag="healed"):
    """Points were mended; the ledger says how many, and where they went."""

    attack: str
    """Attack, blast or affliction."""
    kind: str
    """Kind of the healing."""
    shot: int
    """Id of the shot or ray; else 0."""
    hurtbox: str
    """Hurtbox that was hit."""
    position: Point
    """Where."""
    amount: float
    """Points given."""
    ledger: Ledger
    """How the amount came about, and where it went."""
    vital_left: float
    """Points then in the vital pool."""
    vital_max: float
    """The most points that pool holds."""
    hitbox: str | None = None
    """Hitbox of a strike."""


class AfflictionBegan(Event, frozen=True, kw_only=True, tag="affliction_began"):
    """A lingering wound began or was renewed; there are `count` of it now, and this one ends on `until_tick`."""

    affliction: str
    """Which one."""
    count: int
    """How many of it there are now."""
    until_tick: int
    """Tick this one is over with."""


class AfflictionEnded(Event, frozen=True, kw_only=True, tag="affliction_ended"):
    """A lingering wound is over."""

    affliction: str
    """Which one."""
    reason: Reason
    """`time_over`, `cured` or `victim_died`."""
