"""What each column of the block is called that no kernel reads: counts, timers, seats, afflictions, cues.

The columns of bodies, shots, shapes and volumes are in `geometry.layout`, where kernels find them too.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Final, TypeVar

from emberwound.geometry.layout import Constants

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Number = TypeVar("Number", int, NDArray[np.int64])


class Count(Constants):
    """Places in `counts`."""

    TICK: Final = 0  # the coming tick, or the one that runs
    NEXT_DUE: Final = 1  # the earliest tick on which a timer or the script is due
    SEQ: Final = 2  # the seq of the next event
    BODIES_MADE: Final = 3
    SHOTS_MADE: Final = 4
    SEATS: Final = 5  # seats ever used; those free again count
    SHOTS_TOP: Final = 6  # every shot in flight is below this one
    SHOTS_FLYING: Final = 7
    DIRTY_POSE_TICKS: Final = 8  # for how many more ticks the shapes of bodies are laid again
    ORDERS_PENDING: Final = 9  # 1 when orders wait for phase 2
    SCRIPT_CURSOR: Final = 10  # the script's next input
    SEED: Final = 11
    MOVING_BODIES: Final = 12  # bodies that move by themselves
    TURNING_TO_FOES: Final = 13  # 1 when any body turns to its foes
    HITBOXES_ON: Final = 14
    HAZARDS_DUE: Final = 15  # the tick on which an area next comes, goes or moves
    HAZARDS_NEAR: Final = 16  # bodies near an area
    MOVING_RAGDOLLS: Final = 17
    OVER: Final = 18  # 1 when the bout has ended
    SETTLED_ON: Final = 19  # the tick at whose start a decided bout has ended or restarts; 0 for an open one
    SCRIPT_OFFSET: Final = 20  # how many ticks late the script is after a restart
    LEAVING: Final = 21  # 1 when seats leave
    SEATS_MADE: Final = 22  # all seats that ever entered
    BODIES_END: Final = 23  # no body was ever in a column from this one on
    DEALS_OTHERWISE: Final = 24  # 1 once a seat entered that deals a multiple of its fighter's damage
    GRABS: Final = 25  # bodies that are held by others
    COLUMNS: Final = 26


class Timer(Constants):
    """The timers, in the order in which the agenda takes those of one tick; each holds the tick on which it is due."""

    DEATH_BLAST: Final = 0  # of bodies, up to GRAB_END
    CORPSE_GONE: Final = 1
    HIT_STOP_END: Final = 2
    ATTACK_STAGE: Final = 3
    REACTION_END: Final = 4
    KNOCKBACK: Final = 5
    PROTECTION_END: Final = 6
    GRAB_END: Final = 7
    AFFLICTION: Final = 8  # of afflictions
    SHOT_LIFETIME: Final = 9  # of shots
    SHOT_STEERING: Final = 10  # of shots, where any home
    ENTER: Final = 11  # of seats, up to HELD
    RESPAWN: Final = 12
    BUFFERED_PRESS: Final = 13
    HELD: Final = 14


class SeatColumn(Constants):
    """Columns of `seats`, real numbers. What is asked waits for phase 2."""

    ASKED_AIM: Final = 0
    ASKED_AHEAD: Final = 3
    ASKED_PLACE: Final = 5
    ASKED_VELOCITY: Final = 8  # lengths a second
    ASKED_MOVE: Final = 11  # shares of its fighter's speed
    AIM: Final = 13  # the unit direction it aims in, (ahead, left, up)
    ENTRY: Final = 16  # where it entered
    ENTRY_AHEAD: Final = 19
    MOVE: Final = 21  # shares of its fighter's speed
    ASKED_START: Final = 23  # where the way to ASKED_PLACE begins after a teleport
    DAMAGE_DEALT: Final = 26  # factor on the damage of all that it hits with
    SPEED_SHARE: Final = 27  # factor on its walking speed
    COLUMNS: Final = 28


class SeatMark(Constants):
    """Columns of `seat_marks`, whole numbers. A free seat has 0 in all of them."""

    FIGHTER: Final = 0  # the index of its fighter in the plan
    BODY: Final = 1  # the index of its living body + 1
    LIFE: Final = 2  # which of its lives, from 1
    LIVES: Final = 3  # lives left, the one in play included; Limit.ENDLESS_LIVES is without end
    ORDERS_PENDING: Final = 4  # bits of Asked
    PRESS: Final = 5  # the slot just pressed + 1
    DROPPED_PRESSES: Final = 6  # a bit for each slot pressed before that in the same tick
    BUFFERED_PRESS: Final = 7  # the slot of the press that waits + 1
    BUFFERED_UNTIL: Final = 8  # the tick on which that press is given up
    DEATH_SEQ: Final = 9  # the `seq` of its last death
    TEAM: Final = 10  # the index of its team
    ASKED_HOLD: Final = 11  # bits as in HELD, with those of HeldBit
    ASKED_PATH: Final = 12  # the index of a path + 1
    HELD: Final = 13  # a bit for each slot that it holds
    GUARD: Final = 14  # 1 while it holds its guard
    REPEATS: Final = 15  # the slot that is repeated while held + 1
    TOLD_REASON: Final = 16  # the index of the reason last given for a hold that cannot begin + 1
    PATH: Final = 17  # the index of the path that it walks + 1
    TURNS_TO_FOES: Final = 18
    POSTURE: Final = 19  # the index of the posture that it holds
    ELIMINATED: Final = 20  # 1 when its last life is over
    LIVES_AT_ENTRY: Final = 21
    CHECKPOINT: Final = 22  # the index of its checkpoint + 1
    BODY_SINCE: Final = 23  # the tick since which its body stands
    LEAVING: Final = 24  # 1 when it leaves with the coming tick
    BECOMES: Final = 25  # the index of its next body's fighter + 1
    ID: Final = 26  # counts all seats that ever entered, from 1; handles know a seat by it
    REVIVED_BY: Final = 27  # the index of the seat whose healing revives it with the coming tick + 1
    REVIVED_SEQ: Final = 28  # the `seq` of that healing
    ASKED_GROUNDED: Final = 29  # what its host says of its footing when it places it, 0 or 1, + 1
    ASKED_POSTURE: Final = 30  # the posture that its host places it in + 1
    COLUMNS: Final = 31


class Asked(Constants):
    """Bits: what a seat was asked since the last tick."""

    AIM: Final = 1
    FACING: Final = 2
    PLACE: Final = 4
    TELEPORT: Final = 8
    MOVE: Final = 16
    PATH: Final = 32
    HOLD: Final = 64
    FOE: Final = 128


class HeldBit(Constants):
    """What is held besides attacks: the bit of the guard, and the place of the first bit of postures, by index."""

    GUARD: Final = 1 << 40
    POSTURE: Final = 40


class AfflictionMark(Constants):
    """Columns of `afflicted_marks`; `afflicted` holds how strong each affliction is."""

    INDEX: Final = 0  # its index in the plan + 1
    BY: Final = 1  # the index of the seat that inflicted it + 1
    SINCE: Final = 2  # the tick on which it began
    RENEWED: Final = 3  # the tick on which it was last renewed
    BEAT: Final = 4  # how many wounds it has dealt
    SEQ: Final = 5  # the `seq` of the event that began or renewed it
    COLUMNS: Final = 6


class CueColumn(Constants):
    """Columns of `cues`, those that sound or wait."""

    STARTS: Final = 0  # seconds of the bout
    ENDS: Final = 1
    PITCH: Final = 2  # hertz
    AT: Final = 3  # 1 when its place is known, then the place
    COLUMNS: Final = 7


class Limit(Constants):
    """What the block has room for."""

    ENDLESS_LIVES: Final = 1 << 40  # so many lives stand for lives without end
    AFFLICTIONS: Final = 8  # a body
    ATTACKERS_REMEMBERED: Final = 8  # a body


def mark_of(index: Number) -> Number:
    """An index as the block holds it: a mark, where 0 means none."""
    return index + 1


def index_of_mark(mark: Number) -> Number:
    """The index that a mark of the block stands for; -1 for none."""
    return mark - 1
