"""What happened in a bout, as frozen values. They are made only when something happens.

Every event says `seq` (its number in the bout), `tick`, `time` (exact seconds, within the tick where that is known),
`seat` (whom it befell), `by` (who did it) and `cause` (the `seq` of the event it follows from).
Points are in the arena's own coordinates: `(x, z)` in an arena seen from the side.
"""

from __future__ import annotations

from typing import get_args

from emberwound.vocabulary.events.attacks import (
    AttackBegan,
    Bounced,
    Burst,
    ChargeBegan,
    Interrupted,
    Refused,
    Released,
    ShotEnded,
    SwingEnded,
    WallBetween,
)
from emberwound.vocabulary.events.base import ALL_OVER, Event, Point
from emberwound.vocabulary.events.cues import Cue, CueSilent
from emberwound.vocabulary.events.lives import (
    BodyRemoved,
    CheckpointReached,
    Died,
    Eliminated,
    Ended,
    Entered,
    Left,
    LifeLost,
    PickedUp,
    PropStood,
    Respawned,
    Restarted,
    Scored,
)
from emberwound.vocabulary.events.wounds import (
    AfflictionBegan,
    AfflictionEnded,
    Emptied,
    Frozen,
    Guarded,
    Healed,
    Landed,
    PropStruck,
    Pushed,
    Reacted,
    Recovered,
    Wounded,
)

__all__ = [
    "ALL_OVER",
    "TYPES",
    "AfflictionBegan",
    "AfflictionEnded",
    "AnyEvent",
    "AttackBegan",
    "BodyRemoved",
    "Bounced",
    "Burst",
    "ChargeBegan",
    "CheckpointReached",
    "Cue",
    "CueSilent",
    "Died",
    "Eliminated",
    "Emptied",
    "Ended",
    "Entered",
    "Event",
    "Frozen",
    "Guarded",
    "Healed",
    "Interrupted",
    "Landed",
    "Left",
    "LifeLost",
    "PickedUp",
    "Point",
    "PropStood",
    "PropStruck",
    "Pushed",
    "Reacted",
    "Recovered",
    "Refused",
    "Released",
    "Respawned",
    "Restarted",
    "Scored",
    "ShotEnded",
    "SwingEnded",
    "WallBetween",
    "Wounded",
]

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
