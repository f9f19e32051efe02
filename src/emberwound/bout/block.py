"""All state of a bout: one aligned block of bytes with named views.

Views are (rows, capacity) float64 or int64. Columns are recycled, ids are not; a free column is all zeros, and its
timers are NEVER. Nothing that can change the course of a bout lives anywhere else.
"""

from __future__ import annotations

from itertools import accumulate, pairwise
from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.geometry.legs import LEG_MARKS, LEG_ROWS, SHAPE_MARKS, SHAPE_ROWS
from emberwound.geometry.limp import POINT_ROWS
from emberwound.geometry.pose import FRAME_MARKS, FRAME_ROWS
from emberwound.geometry.volumes import VOLUME_MARKS, VOLUME_ROWS
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan import Plan

COUNTS = 24
(
    TICK,
    NEXT_DUE,
    SEQ,
    BODIES_MADE,
    SHOTS_MADE,
    SEATS,
    SHOTS_TOP,
    SHOTS_FLYING,
    LAY,
    ASKED,
    CURSOR,
    SEED,
    MOVERS,
    LOOKERS,
    STRIKING,
    HAZARDS_DUE,
    HAZARDS_NEAR,
    LIMP,
    OVER,
    RESTARTING,
    SHIFT,
    LEAVING,
) = range(22)
"""Rows of `counts`: `LAY` is for how many more ticks shapes are laid anew, `ASKED` whether orders wait, `MOVERS` how
many bodies move by themselves, `LOOKERS` whether any turns to its foes, `STRIKING` how many hitboxes are on.
`HAZARDS_DUE` is the tick on which a hazard next comes, goes or moves, `HAZARDS_NEAR` how many bodies are near one,
`LIMP` how many limp bodies move. `OVER` says that the bout has ended, `RESTARTING` that it starts anew with the end of
the tick; `SHIFT` is how many ticks late the script is for that. `LEAVING` says that seats leave."""

BODY_CHARGE, BODY_SLOWED, BODY_TRADES, BODY_RESISTANCE, BODY_PUSH = range(FRAME_ROWS, FRAME_ROWS + 5)
BODY_ROWS = FRAME_ROWS + 7
"""`BODY_CHARGE` is the share of a full charge that the attack at hand was begun with, `BODY_SLOWED` the share of its
pace that afflictions leave it, `BODY_TRADES` the exact tick until which a strike that was broken off still counts,
`BODY_RESISTANCE` what it holds against reactions, `BODY_PUSH` the velocity of a push that waits."""

(
    BODY_ATTACK,
    BODY_BEGAN,
    BODY_LIFE,
    BODY_DIED,
    BODY_ANCHOR,
    BODY_REPEAT,
    BODY_STAGE,
    BODY_CHARGING,
    BODY_GUARD_SINCE,
    BODY_GUARD_BACK,
    BODY_GUARDLESS,
    BODY_RESIZED,
    BODY_OVER,
    BODY_OPENED,
    BODY_TOUCHED,
    BODY_WAITING,
    BODY_THROWN_BY,
    BODY_DOING,
    BODY_REACTION,
    BODY_VARIANT,
    BODY_REACTS_SINCE,
    BODY_RESISTS_SINCE,
    BODY_LIMP,
) = range(FRAME_MARKS, FRAME_MARKS + 23)
BODY_MARKS = FRAME_MARKS + 23
"""Marks of a body after those of `geometry.pose`: slot + 1 of its attack; the `seq` of what began and ended it; the
tick its attack or its row of held repeats started on, the number of the repeat, the next stage; and the tick + 1 since
which it charges; the tick since which its guard is up, that on which a broken one comes back, and
whether an affliction keeps it down; whether its pools are of other sizes than its fighter's; the tick + 1 on which a
strike that was broken off is over; of its swing, the tick + 1 within which a hitbox came on, and how many it touched;
whether a push waits, 1 to be added or 2 to replace, and the `seq` of what threw it;
what it does, as a `Doing`; the number + 1 of the reaction it is in, its variant, and the tick that began on; the tick
on which its resistance was last drained; and whether it is limp, 1 still, or 2 moving and
more the longer it is slow."""

LIVE, CORPSE, PROP = 1, 2, 3

(
    DUE_BURST,
    DUE_REMOVE,
    DUE_THAW,
    DUE_STAGE,
    DUE_REACTION,
    DUE_PUSH,
    DUE_PROTECT,
    DUE_AFFLICTION,
    DUE_LIFE,
    DUE_ENTER,
    DUE_RESPAWN,
    DUE_PRESS,
    DUE_HOLD,
) = range(13)
"""The timers, in the order the agenda takes those of one tick: seven of bodies, then of afflictions, shots and
seats."""

ASK_AIM, ASK_AHEAD, ASK_PLACE, ASK_VELOCITY, ASK_MOVE, AIM, ENTRY, ENTRY_AHEAD, MOVE = 0, 3, 5, 8, 11, 13, 16, 19, 21
SEAT_ROWS = 23

(
    SEAT_FIGHTER,
    SEAT_BODY,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_ASKED,
    SEAT_PRESS,
    SEAT_DROPPED,
    SEAT_KEPT,
    SEAT_KEPT_UNTIL,
    SEAT_DIED,
    SEAT_TEAM,
    SEAT_ASK_HOLD,
    SEAT_ASK_PATH,
    SEAT_HOLD,
    SEAT_GUARD,
    SEAT_CHAIN,
    SEAT_TOLD,
    SEAT_PATH,
    SEAT_LOOKS,
    SEAT_DRAWS,
    SEAT_POSTURE,
    SEAT_OUT,
    SEAT_LIVES_FIRST,
    SEAT_CHECKPOINT,
    SEAT_SINCE,
    SEAT_LEAVES,
    SEAT_BECOMES,
) = range(27)
SEAT_MARKS = 27
"""Marks of a seat: `SEAT_BODY`, `SEAT_PRESS`, `SEAT_KEPT` and `SEAT_PATH` are a number + 1; `SEAT_DROPPED` and
`SEAT_HOLD` are a bit a slot; `SEAT_CHAIN` is the slot + 1 of what it repeats while held; `SEAT_TOLD` is the number + 1
of the reason last given for a hold that cannot begin; `SEAT_DRAWS` counts what the seat has drawn of its luck;
`SEAT_POSTURE` is the number of the posture it holds; `SEAT_OUT` says that its last life is over, `SEAT_LIVES_FIRST` how
many it entered with, `SEAT_CHECKPOINT` the number + 1 of the checkpoint at which it stands again,
`SEAT_SINCE` the tick since which its body stands, `SEAT_LEAVES` whether it leaves, and `SEAT_BECOMES` the number + 1 of
the fighter that its next body is."""

ENDLESS = 1 << 40
"""So many lives stand for lives without end."""

ASKED_AIM, ASKED_FACING, ASKED_PLACE, ASKED_TELEPORT, ASKED_MOVE, ASKED_PATH, ASKED_HOLD, ASKED_FOE = (
    1 << bit for bit in range(8)
)
HOLD_GUARD = 1 << 40
"""The bit of the guard in what a seat is asked to hold."""
HOLD_POSTURE = 40
"""Postures are the bits from here on, by their number, which is 2 at the least."""

SHOT_CHARGE = LEG_ROWS
SHOT_ROWS = LEG_ROWS + 1
SHOT_FIGHTER, SHOT_SLOT, SHOT_RELEASED, SHOT_BOUNCES, SHOT_PIERCES = range(LEG_MARKS, LEG_MARKS + 5)
SHOT_MARKS = LEG_MARKS + 5

AFFLICTED, AFFLICTED_BY, AFFLICTED_SINCE, AFFLICTED_UNTIL_FROM, AFFLICTED_BEAT, AFFLICTED_CAUSE = range(6)
AFFLICTED_MARKS = 6
MOST_AFFLICTIONS = 8
"""Each body has so many columns for afflictions: the number + 1, whose, the ticks it began and was last renewed on, how
many wounds it has dealt, and the `seq` it began with; `afflicted` holds how strong each is."""

MOST_HURTERS = 8
"""Each body remembers so many of the seats that hurt it last, as number + 1, and when."""

CUE_STARTS, CUE_ENDS, CUE_PITCH, CUE_AT = range(4)
CUE_ROWS = CUE_AT + 4
"""Of each cue that sounds or waits: from when to when, its pitch, whether its place is known, and the place."""

ALIGNMENT = 64


class Block:
    """The block for a plan, with a view for each part of the state."""

    def __init__(self, plan: Plan) -> None:
        bodies = 2 * plan.max_seats
        lingering = bodies * MOST_AFFLICTIONS if plan.afflictions else 0
        self.first_wall = bodies * plan.most_hurtboxes
        self.first_hazard = bodies * plan.most_hitboxes
        self.first_hazard_group = bodies if plan.most_hitboxes else 0
        self.first_checkpoint_group = self.first_hazard_group + len(plan.hazards)
        self.first_pickup_group = self.first_checkpoint_group + len(plan.checkpoints)
        layout = _layout(plan, lingering)
        places, size = {}, 0
        for name, (dtype, rows, capacity) in layout.items():
            places[name] = size
            size += -(-rows * capacity * dtype.itemsize // ALIGNMENT) * ALIGNMENT
        self.memory = _aligned(size)

        def view(name: str) -> NDArray[np.generic]:
            dtype, rows, capacity = layout[name]
            start = places[name]
            return self.memory[start : start + rows * capacity * dtype.itemsize].view(dtype).reshape(rows, capacity)

        def reals(name: str) -> NDArray[np.float64]:
            return view(name)  # type: ignore[return-value]

        def wholes(name: str) -> NDArray[np.int64]:
            return view(name)  # type: ignore[return-value]

        self.counts = memoryview(wholes("counts")[0])
        self.bodies = reals("bodies")
        self.body_marks = wholes("body_marks")
        self.due = wholes("due")[0]
        capacities = [bodies] * 7 + [lingering, plan.max_shots] + [plan.max_seats] * 4
        self.due_starts = list(accumulate(capacities, initial=0))
        self.timers = [self.due[a:b] for a, b in pairwise(self.due_starts)]
        self.ready = wholes("ready")
        self.pools = reals("pools")
        self.pools_since = wholes("pools_since")
        self.pools_max = reals("pools_max")
        self.row_counts = wholes("row_counts")
        self.row_times = reals("row_times")
        self.afflicted, self.afflicted_marks = reals("afflicted"), wholes("afflicted_marks")
        self.reacted = wholes("reacted")
        self.hurt_by, self.hurt_at = wholes("hurt_by"), reals("hurt_at")
        self.limp = reals("limp")
        self.seats, self.counters = reals("seats"), reals("counters")
        self.seat_marks = wholes("seat_marks")
        self.shots, self.shot_marks = reals("shots"), wholes("shot_marks")
        self.touched = wholes("touched")
        self.shapes = reals("shapes")
        self.shape_marks = wholes("shape_marks")
        self.volumes, self.volume_marks = reals("volumes"), wholes("volume_marks")
        self.again, self.taken = reals("again"), reals("taken")[0]
        self.bar_gaps, self.bar_since = reals("bar_gaps"), wholes("bar_since")
        self.trail_gaps, self.trail_since = reals("trail_gaps"), wholes("trail_since")
        self.cues, self.cue_numbers = reals("cues"), wholes("cue_numbers")[0]
        self.cue_ready, self.cue_draws = reals("cue_ready")[0], wholes("cue_draws")[0]
        self.shapes[:, self.first_wall :] = plan.tables.wall_shapes
        self.shape_marks[:, self.first_wall :] = plan.tables.wall_marks
        self.due[:] = NEVER
        self.counts[NEXT_DUE] = NEVER


def _layout(plan: Plan, lingering: int) -> dict[str, tuple[np.dtype[Any], int, int]]:
    """What each view is of, how many rows it has, and how many columns."""
    real, whole = np.dtype(np.float64), np.dtype(np.int64)
    bodies = 2 * plan.max_seats
    shapes = bodies * plan.most_hurtboxes + len(plan.wall_names)
    volumes = bodies * plan.most_hitboxes + plan.areas
    groups = (bodies if plan.most_hitboxes else 0) + plan.areas
    heard = sum(cue.lanes * cue.places for cue in plan.cues)
    return {
        "counts": (whole, 1, COUNTS),
        "bodies": (real, BODY_ROWS, bodies),
        "body_marks": (whole, BODY_MARKS, bodies),
        "due": (whole, 1, 7 * bodies + lingering + plan.max_shots + 4 * plan.max_seats),
        "ready": (whole, max(plan.most_attacks, 1), bodies),
        "pools": (real, plan.most_pools, bodies),
        "pools_since": (whole, plan.most_pools, bodies),
        "pools_max": (real, plan.most_pools, bodies),
        "row_counts": (whole, plan.max_seats if plan.combo_ticks else 1, bodies),
        "row_times": (real, plan.max_seats if plan.combo_ticks else 1, bodies),
        "afflicted": (real, 1, lingering),
        "afflicted_marks": (whole, AFFLICTED_MARKS, lingering),
        "reacted": (whole, plan.most_reactions, bodies),
        "hurt_by": (whole, MOST_HURTERS, bodies),
        "hurt_at": (real, MOST_HURTERS, bodies),
        "limp": (real, POINT_ROWS, bodies * plan.most_points),
        "seats": (real, SEAT_ROWS, plan.max_seats),
        "counters": (real, len(plan.counters), plan.max_seats),
        "seat_marks": (whole, SEAT_MARKS, plan.max_seats),
        "shots": (real, SHOT_ROWS, plan.max_shots),
        "shot_marks": (whole, SHOT_MARKS, plan.max_shots),
        "touched": (whole, max(plan.most_pierced, 1), plan.max_shots),
        "shapes": (real, SHAPE_ROWS, shapes),
        "shape_marks": (whole, SHAPE_MARKS, shapes),
        "volumes": (real, VOLUME_ROWS, volumes),
        "volume_marks": (whole, VOLUME_MARKS, volumes),
        "again": (real, groups, plan.max_seats),
        "taken": (real, 1, len(plan.pickups)),
        "bar_gaps": (real, plan.most_bars, bodies),
        "bar_since": (whole, plan.most_bars, bodies),
        "trail_gaps": (real, plan.most_bars, bodies),
        "trail_since": (whole, plan.most_bars, bodies),
        "cues": (real, CUE_ROWS, heard),
        "cue_numbers": (whole, 1, heard),
        "cue_ready": (real, 1, sum(cue.lanes for cue in plan.cues)),
        "cue_draws": (whole, 1, len(plan.cues)),
    }


def _aligned(size: int) -> NDArray[np.uint8]:
    memory = np.zeros(size + ALIGNMENT, np.uint8)
    shift = -memory.ctypes.data % ALIGNMENT
    return memory[shift : shift + size]
