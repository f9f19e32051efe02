"""What attacks do: they begin, release, swing, and end."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.reasons import Reason


class ChargeBegan(Event, frozen=True, kw_only=True, tag="charge_began"):
    """An attack is held to be charged; it begins when it is let go."""

    attack: str


class AttackBegan(Event, frozen=True, kw_only=True, tag="attack_began"):
    """A press or a hold was taken; `release_tick` is of the first release, or of the first hitbox that comes on.

    `charge` is the share of a full one, `follows` the attack that was left for this one.
    """

    attack: str
    release_tick: int
    charge: float | None = None
    follows: str | None = None


class Interrupted(Event, frozen=True, kw_only=True, tag="interrupted"):
    """An attack that had begun was cut off before its end."""

    attack: str
    reason: Reason


class OrderRefused(Event, frozen=True, kw_only=True, tag="order_refused"):
    """An order did nothing. `wait_ticks` is how long it would have had to wait, where that is known."""

    order: str
    reason: Reason
    wait_ticks: int | None = None
    pool: str | None = None
    needs: float | None = None
    has: float | None = None


class Released(Event, frozen=True, kw_only=True, tag="released"):
    """A shot or a ray left its muzzle; a ray has a direction and no velocity."""

    attack: str
    shot: int
    position: Point
    velocity: Point | None = None
    direction: Point | None = None


class Bounced(Event, frozen=True, kw_only=True, tag="bounced"):
    """A shot bounced off a wall or, without one, off the floor; `bounces_left` more may follow."""

    attack: str
    shot: int
    wall: str | None
    position: Point
    velocity: Point
    bounces_left: int


class Exploded(Event, frozen=True, kw_only=True, tag="exploded"):
    """A blast went off; its wounds follow. `shot` is the number of what carried it, 0 for what nothing did."""

    blast: str
    shot: int
    position: Point
    radius: float


class ShotEnded(Event, frozen=True, kw_only=True, tag="shot_ended"):
    """A shot is gone; there is exactly one of these for each shot."""

    attack: str
    shot: int
    reason: Reason
    position: Point
    hurtbox: str | None = None
    wall: str | None = None


class SwingEnded(Event, frozen=True, kw_only=True, tag="swing_ended"):
    """The hitboxes of a strike are off; there is exactly one of these for each swing that had one on.

    It touched so many victims; `cut_off` says that its attack was interrupted.
    """

    attack: str
    touched: int
    cut_off: bool


class StrikeBlocked(Event, frozen=True, kw_only=True, tag="strike_blocked"):
    """A strike would have touched its victim, but a wall stood between; told once for a swing and victim."""

    attack: str
    hitbox: str
    hurtbox: str
    wall: str
    position: Point
