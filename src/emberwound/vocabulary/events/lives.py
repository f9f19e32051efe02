"""Who enters, dies, respawns and leaves, what is won on the way, and what is to be heard and seen."""

from __future__ import annotations

from emberwound.vocabulary.events.base import Event, Point
from emberwound.vocabulary.reasons import Reason


class SeatEntered(Event, frozen=True, kw_only=True, tag="seat_entered"):
    """A seat's first body stands in the arena; `lives` are None when they are endless."""

    fighter: str
    """Its fighter."""
    position: Point
    """Where it stands."""
    facing: Point
    """Direction that it faces."""
    lives: int | None
    """How many lives it has; none of endless ones."""
    team: str | None = None
    """Its team."""


class SeatLeft(Event, frozen=True, kw_only=True, tag="seat_left"):
    """A seat left the bout; what it counted, the seconds of its last life included.

    Of one that leaves before its first tick nothing else is emitted.
    """

    counters: dict[str, float]
    """What it counted."""


class PropPlaced(Event, frozen=True, kw_only=True, tag="prop_placed"):
    """A prop stands in the arena; `seat` is its own name, `prop` that of its sort."""

    prop: str
    """Which prop of the book."""
    position: Point
    """Where it stands."""
    facing: Point
    """Direction that it faces."""


class Died(Event, frozen=True, kw_only=True, tag="died"):
    """A body's vital pool came to zero; exactly one for each life. `cause` is the lethal wound.

    `by` did it; `credit` is the last seat of another team whose hit met it within `credit_seconds`, guarded or not,
    and `helped` are the others. `side` is where the hit came from, seen from it. `reaction` and `variant` are how it
    dies, where its fighter's table has a row for that.
    """

    attack: str
    """What dealt the lethal wound."""
    hurtbox: str
    """Hurtbox that was hit."""
    position: Point
    """Where the body was."""
    overkill: float
    """Points left over when the vital pool was empty."""
    life: int
    """Number of the life, from 1."""
    lives_left: int | None
    """Lives left; none of endless ones."""
    respawn_tick: int | None = None
    """Tick that it respawns in."""
    credit: str | None = None
    """Seat that is credited."""
    helped: tuple[str, ...] = ()
    """Other seats whose hits are remembered."""
    side: str | None = None
    """Side the hit came from."""
    reaction: str | None = None
    """Row of the reaction it dies with."""
    variant: str | None = None
    """Which of its variants."""


class LifeLost(Event, frozen=True, kw_only=True, tag="life_lost"):
    """A seat has a life less, or one of lives without end; `by` is credited with it."""

    life: int
    """Number of the life, from 1."""
    lives_left: int | None
    """Lives left; none of endless ones."""


class Eliminated(Event, frozen=True, kw_only=True, tag="eliminated"):
    """A seat has no life left; `by` is credited with it, `message` is the arena's, filled in."""

    message: str
    """The arena's message, filled in."""


class BoutEnded(Event, frozen=True, kw_only=True, tag="bout_ended"):
    """The bout is over: `winner` is the only team, or seat of none, that still stands; a draw when nobody does."""

    winner: str | None
    """Team, or seat of none, that won."""
    draw: bool
    """Whether nobody won."""


class BoutRestarted(Event, frozen=True, kw_only=True, tag="bout_restarted"):
    """The bout restarts with the next tick: all respawn where they entered, with the lives they had then."""


class BodyRemoved(Event, frozen=True, kw_only=True, tag="body_removed"):
    """A corpse is gone from the arena."""

    life: int
    """Number of the life, from 1."""
    reason: Reason
    """Why."""


class Respawned(Event, frozen=True, kw_only=True, tag="respawned"):
    """A seat stands in a new body, its pools at their start.

    At its `checkpoint`, or where it entered; `moved` is how far from there the nearest free spot was, and `crowded`
    says that there was none. One that `by` revived stands where its corpse lay, with what it was healed, and `cause`
    is the healing. Until the tick `protected_until` nothing but what is fatal touches it.
    """

    fighter: str
    """Its fighter."""
    position: Point
    """Where it stands."""
    facing: Point
    """Direction that it faces."""
    life: int
    """Number of the life, from 1."""
    checkpoint: str | None = None
    """Checkpoint at which it respawned; none: its entry."""
    moved: float = 0.0
    """Distance from there to the nearest free spot."""
    crowded: bool = False
    """Whether there was no free spot."""
    protected_until: int | None = None
    """Tick up to which only what is fatal touches it."""


class StageBegan(Event, frozen=True, kw_only=True, tag="stage_began"):
    """A pool of a fighter ran low enough for its next stage; `cause` is the wound that did it, `by` whose it was."""

    stage: str
    """Which stage."""


class CheckpointReached(Event, frozen=True, kw_only=True, tag="checkpoint_reached"):
    """A seat, or all of its team, respawns at this checkpoint from now on."""

    checkpoint: str
    """Which one."""
    order: int
    """How far along it is."""
    whole_team: bool
    """Whether it counts for all of the team."""


class PickedUp(Event, frozen=True, kw_only=True, tag="picked_up"):
    """A seat took a pickup: the points each pool gained, what was counted, and lives.

    It is there again on `returns_tick`, if ever. One that would give nothing is left where it is.
    """

    pickup: str
    """Which one."""
    gained: dict[str, float]
    """Points that each pool gained."""
    counted: dict[str, float]
    """Points that each counter was given."""
    lives: int
    """Lives more."""
    lives_left: int | None
    """Lives left then; none of endless ones."""
    returns_tick: int | None
    """Tick it is there again."""


class Scored(Event, frozen=True, kw_only=True, tag="scored"):
    """A counter of a seat changed by a kill, an assist, a death or a pickup."""

    counter: str
    """Which counter."""
    why: str
    """`kill`, `assist`, `death` or `pickup`."""
    before: float
    """Its value before."""
    after: float
    """Its value after."""


class Cue(Event, frozen=True, kw_only=True, tag="cue"):
    """Something to be heard or seen, given by the event `cause`; `seat` is the only one it is for, None for all.

    It lasts from `starts` to `ends`, in seconds of the bout, and starts late when it waits for another of its name.
    `pitch` is in hertz; `cuts` is the `seq` of the cue that it cuts short.
    """

    cue: str
    """Which cue of the book."""
    medium: str
    """`sound`, `flash` or `shake`."""
    starts: float
    """When it begins, in seconds of the bout."""
    ends: float
    """When it ends, in seconds of the bout."""
    pitch: float
    """Pitch in hertz."""
    strength: float
    """How strong it is, from 0 to 1."""
    cuts: int | None = None
    """`seq` of the cue that it cuts off."""
    position: Point | None = None
    """Where it comes from."""


class CueSkipped(Event, frozen=True, kw_only=True, tag="cue_skipped"):
    """The event `cause` would have given a cue, but it was too much, or too soon."""

    cue: str
    """Which cue of the book."""
    reason: Reason
    """`cue_full` or `cue_too_soon`."""
