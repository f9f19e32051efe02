"""What happened in a bout, as frozen values. They are made only when something happens.

Every event says `seq` (its number in the bout), `tick`, `time` (exact seconds, within the tick where that is known),
`seat` (whom it befell), `by` (who did it) and `cause` (the `seq` of the event it follows from).
Points are in the arena's own coordinates: `(x, z)` in an arena seen from the side.
"""

from __future__ import annotations

from typing import get_args

import msgspec

from emberwound.vocabulary.ledger import Ledger
from emberwound.vocabulary.reasons import Reason

Point = tuple[float, ...]

ALL_OVER = "all over"
"""The hurtbox that the wounds of afflictions name."""


class Event(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all events say."""

    seq: int
    tick: int
    time: float
    seat: str | None = None
    by: str | None = None
    cause: int | None = None


class Entered(Event, frozen=True, kw_only=True, tag="entered"):
    """A seat's first body stands in the arena; `lives` are None when they are endless."""

    fighter: str
    position: Point
    facing: Point
    lives: int | None
    team: str | None = None


class Left(Event, frozen=True, kw_only=True, tag="left"):
    """A seat left the bout; what it counted, the seconds of its last life included.

    Of one that leaves before its first tick nothing else is told.
    """

    counters: dict[str, float]


class PropStood(Event, frozen=True, kw_only=True, tag="prop_stood"):
    """A prop stands in the arena; `seat` is its own name, `prop` that of its sort."""

    prop: str
    position: Point
    facing: Point


class PropStruck(Event, frozen=True, kw_only=True, tag="prop_struck"):
    """Something hit a prop; `seat` is the prop's name."""

    attack: str
    shot: int
    hurtbox: str
    position: Point
    hitbox: str | None = None


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


class Burst(Event, frozen=True, kw_only=True, tag="burst"):
    """A blast went off; its wounds follow. `shot` is the number of what carried it, 0 for what nothing did."""

    blast: str
    shot: int
    position: Point
    radius: float


class SwingEnded(Event, frozen=True, kw_only=True, tag="swing_ended"):
    """The hitboxes of a strike are off; there is exactly one of these for each swing of which one came on.

    It touched so many victims; `cut_off` says that its attack was broken off.
    """

    attack: str
    touched: int
    cut_off: bool


class WallBetween(Event, frozen=True, kw_only=True, tag="wall_between"):
    """A strike would have touched its victim, but a wall stood between; told once for a swing and victim."""

    attack: str
    hitbox: str
    hurtbox: str
    wall: str
    position: Point


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
    hitbox: str | None = None


class Pushed(Event, frozen=True, kw_only=True, tag="pushed"):
    """The blows of a tick throw a body: `velocity` replaces what it had, or is added to it, from `starts_tick` on."""

    velocity: Point
    replaces: bool
    starts_tick: int


class Reacted(Event, frozen=True, kw_only=True, tag="reacted"):
    """A body reacts to a blow from the next tick on, until `until_tick`; `guarded` says that its guard took it."""

    reaction: str
    variant: str
    part: str
    side: str
    guarded: bool
    until_tick: int


class Recovered(Event, frozen=True, kw_only=True, tag="recovered"):
    """A reaction is over; `guarding` says whether its guard, still held, is up again."""

    reaction: str
    guarding: bool


class Frozen(Event, frozen=True, kw_only=True, tag="frozen"):
    """Hit stop: a body's own clock stands still from the next tick on, until `until_tick`."""

    until_tick: int


class Landed(Event, frozen=True, kw_only=True, tag="landed"):
    """A body that was thrown into the air came down."""

    position: Point


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


class Died(Event, frozen=True, kw_only=True, tag="died"):
    """A body's vital pool came to zero; exactly one for each life. `cause` is the lethal wound.

    `by` did it; `credit` is the last seat of another team whose blow met it within `credit_seconds`, guarded or not,
    and `helped` are the others. `side` is where the blow came from, seen from it. `reaction` and `variant` are how it
    dies, where its fighter's table has a row for that.
    """

    attack: str
    hurtbox: str
    position: Point
    overkill: float
    life: int
    lives_left: int | None
    returns_tick: int | None = None
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


class Ended(Event, frozen=True, kw_only=True, tag="ended"):
    """The bout is over: `winner` is the only team, or seat of none, that still stands; a draw when nobody does."""

    winner: str | None
    draw: bool


class Restarted(Event, frozen=True, kw_only=True, tag="restarted"):
    """The bout begins anew with the next tick: all stand again where they entered, with the lives they had then."""


class BodyRemoved(Event, frozen=True, kw_only=True, tag="body_removed"):
    """A corpse is gone from the arena."""

    life: int
    reason: Reason


class CheckpointReached(Event, frozen=True, kw_only=True, tag="checkpoint_reached"):
    """A seat will stand again at this checkpoint from now on, or all of its team."""

    checkpoint: str
    order: int
    whole_team: bool


class PickedUp(Event, frozen=True, kw_only=True, tag="picked_up"):
    """A seat took a pickup: the points each pool gained, what was counted, and lives.

    It is there again on `back_tick`, if ever. One that would give nothing is left where it is.
    """

    pickup: str
    gained: dict[str, float]
    counted: dict[str, float]
    lives: int
    lives_left: int | None
    back_tick: int | None


class Scored(Event, frozen=True, kw_only=True, tag="scored"):
    """A counter of a seat changed by a kill, an assist, a death or a pickup."""

    counter: str
    why: str
    before: float
    after: float


class Respawned(Event, frozen=True, kw_only=True, tag="respawned"):
    """A seat stands in a new body, its pools at their start.

    At its `checkpoint`, or where it entered; `moved` is how far from there the nearest free spot was, and `crowded`
    says that there was none. Until the tick `protected_until` nothing but what is fatal touches it.
    """

    fighter: str
    position: Point
    facing: Point
    life: int
    checkpoint: str | None = None
    moved: float = 0.0
    crowded: bool = False
    protected_until: int | None = None


class Cue(Event, frozen=True, kw_only=True, tag="cue"):
    """Something to be heard or seen, given by the event `cause`; `seat` is the only one it is for, None for all.

    It lasts from `starts` to `ends`, in seconds of the bout, and starts late when it waits for another of its name.
    `pitch` is in hertz; `cuts` is the `seq` of the cue that it cuts short.
    """

    cue: str
    medium: str
    starts: float
    ends: float
    pitch: float
    strength: float
    cuts: int | None = None
    position: Point | None = None


class CueSilent(Event, frozen=True, kw_only=True, tag="cue_silent"):
    """The event `cause` would have given a cue, but it was too much, or too soon."""

    cue: str
    reason: Reason


AnyEvent = (
    Entered
    | Left
    | PropStood
    | PropStruck
    | ChargeBegan
    | AttackBegan
    | Interrupted
    | Released
    | Bounced
    | Burst
    | SwingEnded
    | WallBetween
    | Refused
    | ShotEnded
    | Guarded
    | Wounded
    | Pushed
    | Frozen
    | Landed
    | Reacted
    | Recovered
    | Emptied
    | Healed
    | AfflictionBegan
    | AfflictionEnded
    | Died
    | LifeLost
    | Eliminated
    | Ended
    | Restarted
    | CheckpointReached
    | PickedUp
    | Scored
    | BodyRemoved
    | Respawned
    | Cue
    | CueSilent
)
"""Every event there is, as one type to decode into."""

TYPES: dict[str, type[Event]] = {str(kind.__struct_config__.tag): kind for kind in get_args(AnyEvent)}
"""Every type of event by its name."""
