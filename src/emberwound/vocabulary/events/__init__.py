"""What happened in a bout, as frozen values. They are made only when something happens.

Every event says `seq` (which event of the bout it is), `tick`, `time` (exact seconds, within the tick where that is
known), `seat` (whom it happened to), `by` (who did it) and `cause` (the `seq` of the event it follows from).
Points are in the arena's own coordinates: `(x, z)` in an arena seen from the side.
"""

from __future__ import annotations

from typing import get_args

from emberwound.vocabulary.events.attacks import (
    AttackBegan,
    Bounced,
    ChargeBegan,
    Exploded,
    Interrupted,
    OrderRefused,
    Released,
    ShotEnded,
    ShotReflected,
    ShotStruck,
    StrikeBlocked,
    SwingEnded,
)
from emberwound.vocabulary.events.base import WHOLE_BODY, Event, Point
from emberwound.vocabulary.events.lives import (
    BodyRemoved,
    BoutEnded,
    BoutRestarted,
    CheckpointReached,
    Cue,
    CueSkipped,
    Died,
    Eliminated,
    LifeLost,
    PickedUp,
    PropPlaced,
    Respawned,
    Scored,
    SeatEntered,
    SeatLeft,
    StageBegan,
)
from emberwound.vocabulary.events.wounds import (
    AfflictionBegan,
    AfflictionEnded,
    Grabbed,
    GrabEnded,
    GrabFailed,
    Guarded,
    Healed,
    HitStopBegan,
    KnockedBack,
    Landed,
    PoolEmptied,
    PropStruck,
    ReactionBegan,
    ReactionEnded,
    Wounded,
)

__all__ = [
    "TYPES",
    "WHOLE_BODY",
    "AfflictionBegan",
    "AfflictionEnded",
    "AnyEvent",
    "AttackBegan",
    "BodyRemoved",
    "Bounced",
    "BoutEnded",
    "BoutRestarted",
    "ChargeBegan",
    "CheckpointReached",
    "Cue",
    "CueSkipped",
    "Died",
    "Eliminated",
    "Event",
    "Exploded",
    "GrabEnded",
    "GrabFailed",
    "Grabbed",
    "Guarded",
    "Healed",
    "HitStopBegan",
    "Interrupted",
    "KnockedBack",
    "Landed",
    "LifeLost",
    "OrderRefused",
    "PickedUp",
    "Point",
    "PoolEmptied",
    "PropPlaced",
    "PropStruck",
    "ReactionBegan",
    "ReactionEnded",
    "Released",
    "Respawned",
    "Scored",
    "SeatEntered",
    "SeatLeft",
    "ShotEnded",
    "ShotReflected",
    "ShotStruck",
    "StageBegan",
    "StrikeBlocked",
    "SwingEnded",
    "Wounded",
]

AnyEvent = (
    SeatEntered
    | SeatLeft
    | PropPlaced
    | PropStruck
    | ChargeBegan
    | AttackBegan
    | Interrupted
    | Released
    | Bounced
    | ShotStruck
    | ShotReflected
    | Exploded
    | SwingEnded
    | StrikeBlocked
    | OrderRefused
    | ShotEnded
    | Guarded
    | Wounded
    | KnockedBack
    | HitStopBegan
    | Landed
    | Grabbed
    | GrabFailed
    | GrabEnded
    | ReactionBegan
    | ReactionEnded
    | PoolEmptied
    | Healed
    | AfflictionBegan
    | AfflictionEnded
    | Died
    | LifeLost
    | Eliminated
    | BoutEnded
    | BoutRestarted
    | StageBegan
    | CheckpointReached
    | PickedUp
    | Scored
    | BodyRemoved
    | Respawned
    | Cue
    | CueSkipped
)
"""Every event there is, as one type to decode into."""

TYPES: dict[str, type[Event]] = {str(kind.__struct_config__.tag): kind for kind in get_args(AnyEvent)}
"""Every type of event by its name."""
