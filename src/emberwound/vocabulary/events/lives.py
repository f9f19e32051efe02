"""Who enters, dies, respawns and leaves, and what is won on the way."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.reasons import Reason


class SeatEntered(Event, frozen=True, kw_only=True, tag="seat_entered"):
    """A seat's first body stands in the arena; `lives` are None when they are endless."""

    fighter: str
    position: Point
    facing: Point
    lives: int | None
    team: str | None = None


class SeatLeft(Event, frozen=True, kw_only=True, tag="seat_left"):
    """A seat left the bout; what it counted, the seconds of its last life included.

    Of one that leaves before its first tick nothing else is told.
    """

    counters: dict[str, float]


class PropPlaced(Event, frozen=True, kw_only=True, tag="prop_placed"):
    """A prop stands in the arena; `seat` is its own name, `prop` that of its sort."""

    prop: str
    position: Point
    facing: Point


class Died(Event, frozen=True, kw_only=True, tag="died"):
    """A body's vital pool came to zero; exactly one for each life. `cause` is the lethal wound.

    `by` did it; `credit` is the last seat of another team whose hit met it within `credit_seconds`, guarded or not,
    and `helped` are the others. `side` is where the hit came from, seen from it. `reaction` and `variant` are how it
    dies, where its fighter's table has a row for that.
    """

    attack: str
    hurtbox: str
    position: Point
    overkill: float
    life: int
    lives_left: int | None
    respawn_tick: int | None = None
    credit: str | None = None
    helped: tuple[str, ...] = ()
    side: str | None = None
    reaction: str | None = None
    variant: str | None = None


class LifeLost(Event, frozen=True, kw_only=True, tag="life_lost"):
    """A seat has a life less, or one of lives without end; `by` is credited with it."""

    life: int
    lives_left: int | None


class Eliminated(Event, frozen=True, kw_only=True, tag="eliminated"):
    """A seat has no life left; `by` is credited with it, `message` is the arena's, filled in."""

    message: str


class BoutEnded(Event, frozen=True, kw_only=True, tag="bout_ended"):
    """The bout is over: `winner` is the only team, or seat of none, that still stands; a draw when nobody does."""

    winner: str | None
    draw: bool


class BoutRestarted(Event, frozen=True, kw_only=True, tag="bout_restarted"):
    """The bout restarts with the next tick: all respawn where they entered, with the lives they had then."""


class BodyRemoved(Event, frozen=True, kw_only=True, tag="body_removed"):
    """A corpse is gone from the arena."""

    life: int
    reason: Reason


class Respawned(Event, frozen=True, kw_only=True, tag="respawned"):
    """A seat stands in a new body, its pools at their start.

    At its `checkpoint`, or where it entered; `moved` is how far from there the nearest free spot was, and `crowded`
    says that there was none. One that `by` revived stands where its corpse lay, with what it was healed, and `cause`
    is the healing. Until the tick `protected_until` nothing but what is fatal touches it.
    """

    fighter: str
    position: Point
    facing: Point
    life: int
    checkpoint: str | None = None
    moved: float = 0.0
    crowded: bool = False
    protected_until: int | None = None


class CheckpointReached(Event, frozen=True, kw_only=True, tag="checkpoint_reached"):
    """A seat, or all of its team, respawns at this checkpoint from now on."""

    checkpoint: str
    order: int
    whole_team: bool


class PickedUp(Event, frozen=True, kw_only=True, tag="picked_up"):
    """A seat took a pickup: the points each pool gained, what was counted, and lives.

    It is there again on `returns_tick`, if ever. One that would give nothing is left where it is.
    """

    pickup: str
    gained: dict[str, float]
    counted: dict[str, float]
    lives: int
    lives_left: int | None
    returns_tick: int | None


class Scored(Event, frozen=True, kw_only=True, tag="scored"):
    """A counter of a seat changed by a kill, an assist, a death or a pickup."""

    counter: str
    why: str
    before: float
    after: float
