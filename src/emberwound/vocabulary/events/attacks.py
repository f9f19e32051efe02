"""What attacks do: they begin, release, swing, and end."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.reasons import Reason


class ChargeBegan(Event, frozen=True, kw_only=True, tag="charge_began"):
    """An attack is held to be charged; it begins when it is let go."""

    attack: str
    """Which attack."""


class AttackBegan(Event, frozen=True, kw_only=True, tag="attack_began"):
    """A press or a hold was taken; `release_tick` is of the first release, or of the first hitbox that comes on.

    `charge` is the share of a full one, `follows` the attack that was left for this one.
    """

    attack: str
    """Which attack."""
    release_tick: int
    """Tick of the first release, or of the first hitbox that comes on."""
    charge: float | None = None
    """Share of a full charge."""
    follows: str | None = None
    """Attack that was left for this one."""


class Interrupted(Event, frozen=True, kw_only=True, tag="interrupted"):
    """An attack that had begun was cut off before its end."""

    attack: str
    """Which attack."""
    reason: Reason
    """`wounded`, `owner_died` or `followed`."""


class OrderRefused(Event, frozen=True, kw_only=True, tag="order_refused"):
    """An order did nothing. `wait_ticks` is how long it would have had to wait, where that is known."""

    order: str
    """What was ordered, such as `press flare`."""
    reason: Reason
    """Why it did nothing."""
    wait_ticks: int | None = None
    """Ticks that it would have had to wait, where that is known."""
    pool: str | None = None
    """Pool that could not pay."""
    needs: float | None = None
    """Points it costs."""
    has: float | None = None
    """Points the pool held."""


class Released(Event, frozen=True, kw_only=True, tag="released"):
    """A shot or a ray left its muzzle; a ray has a direction and no velocity."""

    attack: str
    """Which attack."""
    shot: int
    """Id of the shot or ray."""
    position: Point
    """The muzzle."""
    velocity: Point | None = None
    """Velocity of a shot."""
    direction: Point | None = None
    """Direction of a ray."""


class Bounced(Event, frozen=True, kw_only=True, tag="bounced"):
    """A shot bounced off a wall or, without one, off the floor; `bounces_left` more may follow."""

    attack: str
    """Which attack."""
    shot: int
    """Id of the shot."""
    wall: str | None
    """Wall it bounced off; none: the floor."""
    position: Point
    """Where."""
    velocity: Point
    """Velocity afterwards."""
    bounces_left: int
    """Bounces left."""


class ShotStruck(Event, frozen=True, kw_only=True, tag="shot_struck"):
    """A shot of a seat that can be destroyed was hit; `left` are the points it can still take, 0 if it is destroyed."""

    attack: str
    """The attack that hit it."""
    shot: int
    """Id of the shot or ray that hit it; else 0."""
    hitbox: str | None
    """Hitbox of the strike that hit it."""
    struck: int
    """Id of the shot that was hit."""
    struck_attack: str
    """Attack of the shot that was hit."""
    position: Point
    """Where."""
    amount: float
    """Points of damage."""
    left: float
    """Points it can still take."""


class ShotReflected(Event, frozen=True, kw_only=True, tag="shot_reflected"):
    """A shot of a seat was sent back: it is the shot of `by` from then on, and its life and range begin again."""

    attack: str
    """Attack of the shot."""
    shot: int
    """Id of the shot."""
    reflected_by: str
    """The attack that sent it back, or "guard"."""
    position: Point
    """Where."""
    velocity: Point
    """Velocity afterwards."""


class Exploded(Event, frozen=True, kw_only=True, tag="exploded"):
    """A blast went off; its wounds follow. `shot` is the id of what carried it, 0 for what nothing did."""

    blast: str
    """Which blast."""
    shot: int
    """Id of the shot that carried it; else 0."""
    position: Point
    """Its middle."""
    radius: float
    """How far it reached."""


class ShotEnded(Event, frozen=True, kw_only=True, tag="shot_ended"):
    """A shot is gone; there is exactly one of these for each shot."""

    attack: str
    """Which attack."""
    shot: int
    """Id of the shot or ray."""
    reason: Reason
    """Why it ended."""
    position: Point
    """Where."""
    hurtbox: str | None = None
    """Hurtbox that it hit."""
    wall: str | None = None
    """Wall that it hit."""


class SwingEnded(Event, frozen=True, kw_only=True, tag="swing_ended"):
    """The hitboxes of a strike are off; there is exactly one of these for each swing that had one on.

    It touched so many victims; `cut_off` says that its attack was interrupted.
    """

    attack: str
    """Which attack."""
    touched: int
    """Victims that it touched."""
    cut_off: bool
    """Whether the attack was interrupted."""


class StrikeBlocked(Event, frozen=True, kw_only=True, tag="strike_blocked"):
    """A strike would have touched its victim, but a wall stood between; emitted once for a swing and victim."""

    attack: str
    """Which attack."""
    hitbox: str
    """Hitbox that would have touched."""
    hurtbox: str
    """Hurtbox that it would have touched."""
    wall: str
    """Wall that stood between."""
    position: Point
    """Where the strike met the hurtbox."""
