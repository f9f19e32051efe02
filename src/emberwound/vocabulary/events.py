"""What happened in a bout, as frozen values. They are made only when something happens.

Every event says `seq` (its number in the bout), `tick`, `time` (exact seconds, within the tick where that is known),
`seat` (whom it befell), `by` (who did it) and `cause` (the `seq` of the event it follows from).
Points are in the arena's own coordinates: `(x, z)` in an arena seen from the side.
"""

from __future__ import annotations

import msgspec

from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.reasons import Reason

Point = tuple[float, ...]


class Event(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all events say."""

    seq: int
    tick: int
    time: float
    seat: str | None = None
    by: str | None = None
    cause: int | None = None


class Entered(Event, frozen=True, kw_only=True, tag="entered"):
    """A seat's first body stands in the arena."""

    fighter: str
    position: Point
    facing: Point
    lives: int
    team: str | None = None


class ChargeBegan(Event, frozen=True, kw_only=True, tag="charge_began"):
    """An attack is held to be charged; it begins when it is let go."""

    attack: str


class AttackBegan(Event, frozen=True, kw_only=True, tag="attack_began"):
    """A press or a hold was taken; `release_tick` is of the first release, `charge` the share of a full one."""

    attack: str
    release_tick: int
    charge: float | None = None


class Interrupted(Event, frozen=True, kw_only=True, tag="interrupted"):
    """An attack that had begun was cut off before its end."""

    attack: str
    reason: Reason


class Released(Event, frozen=True, kw_only=True, tag="released"):
    """A shot or a ray left its muzzle; a ray has a direction and no velocity."""

    attack: str
    shot: int
    position: Point
    velocity: Point | None = None
    direction: Point | None = None


class Bounced(Event, frozen=True, kw_only=True, tag="bounced"):
    """A shot was thrown back, by a wall or, without one, by the floor; `bounces_left` more may follow."""

    attack: str
    shot: int
    wall: str | None
    position: Point
    velocity: Point
    bounces_left: int


class Refused(Event, frozen=True, kw_only=True, tag="refused"):
    """An order did nothing. `wait_ticks` is how long it would have had to wait, where that is known."""

    order: str
    reason: Reason
    wait_ticks: int | None = None
    pool: str | None = None
    needs: float | None = None
    has: float | None = None


class ShotEnded(Event, frozen=True, kw_only=True, tag="shot_ended"):
    """A shot is gone; there is exactly one of these for each shot."""

    attack: str
    shot: int
    reason: Reason
    position: Point
    hurtbox: str | None = None
    wall: str | None = None


class Wounded(Event, frozen=True, kw_only=True, tag="wounded"):
    """A wound was dealt; the ledger says how its amount came about and what each pool lost."""

    attack: str
    kind: str
    shot: int
    hurtbox: str
    position: Point
    amount: float
    ledger: Ledger
    vital_left: float
    vital_max: float


class Guarded(Event, frozen=True, kw_only=True, tag="guarded"):
    """A held guard met a blow, whether anything passed or not; what passed is in the `Wounded` that follows.

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


class Emptied(Event, frozen=True, kw_only=True, tag="emptied"):
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


class AfflictionBegan(Event, frozen=True, kw_only=True, tag="affliction_began"):
    """A lingering wound began or was renewed; there are `count` of it now, and this one ends on `until_tick`."""

    affliction: str
    count: int
    until_tick: int


class AfflictionEnded(Event, frozen=True, kw_only=True, tag="affliction_ended"):
    """A lingering wound is over."""

    affliction: str
    reason: Reason


class Died(Event, frozen=True, kw_only=True, tag="died"):
    """A body's vital pool came to zero; exactly one for each life. `cause` is the lethal wound."""

    attack: str
    hurtbox: str
    position: Point
    overkill: float
    life: int
    lives_left: int
    returns_tick: int | None = None


class BodyRemoved(Event, frozen=True, kw_only=True, tag="body_removed"):
    """A corpse is gone from the arena."""

    life: int
    reason: Reason


class Respawned(Event, frozen=True, kw_only=True, tag="respawned"):
    """A seat stands in a new body, its pools at their start."""

    fighter: str
    position: Point
    facing: Point
    life: int


AnyEvent = (
    Entered
    | ChargeBegan
    | AttackBegan
    | Interrupted
    | Released
    | Bounced
    | Refused
    | ShotEnded
    | Guarded
    | Wounded
    | Emptied
    | Healed
    | AfflictionBegan
    | AfflictionEnded
    | Died
    | BodyRemoved
    | Respawned
)
"""Every event there is, as one type to decode into."""
