"""All state of a bout: one aligned block of bytes with named views.

Views are (rows, capacity) float64 or int64. Columns are recycled, ids are not; a free column is all zeros, and its
timers are NEVER. Nothing that can change the course of a bout lives anywhere else.
"""

from __future__ import annotations

from itertools import accumulate, pairwise
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.legs import LEG_MARKS, LEG_ROWS, SHAPE_MARKS, SHAPE_ROWS
from emberwound.geometry.pose import FRAME_MARKS, FRAME_ROWS
from emberwound.vocabulary.clock import NEVER

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan import Plan

COUNTS = 16
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
) = range(14)
"""Rows of `counts`: `LAY` is for how many more ticks shapes are laid anew, `ASKED` whether orders wait, `MOVERS` how
many bodies move by themselves, `LOOKERS` whether any turns to its foes."""

BODY_CHARGE = FRAME_ROWS
BODY_ROWS = FRAME_ROWS + 1
"""`BODY_CHARGE` is the share of a full charge that the attack at hand was begun with."""

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
) = range(FRAME_MARKS, FRAME_MARKS + 12)
BODY_MARKS = FRAME_MARKS + 12
"""Marks of a body after those of `geometry.pose`: slot + 1 of its attack; the `seq` of what began and ended it; the
tick its attack or its row of held repeats started on, the number of the repeat, the next stage; and the tick + 1 since
which it charges; the tick since which its guard is up, that on which a broken one comes back, and
whether an affliction keeps it down; and whether its pools are of other sizes than its fighter's."""

LIVE, CORPSE = 1, 2

DUE_REMOVE, DUE_STAGE, DUE_AFFLICTION, DUE_LIFE, DUE_ENTER, DUE_RESPAWN, DUE_PRESS, DUE_HOLD = range(8)
"""The timers, in the order the agenda takes those of one tick: three of bodies, one of shots, four of seats."""

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
) = range(20)
SEAT_MARKS = 20
"""Marks of a seat: `SEAT_BODY`, `SEAT_PRESS`, `SEAT_KEPT` and `SEAT_PATH` are a number + 1; `SEAT_DROPPED` and
`SEAT_HOLD` are a bit a slot; `SEAT_CHAIN` is the slot + 1 of what it repeats while held; `SEAT_TOLD` is the number + 1
of the reason last given for a hold that cannot begin; `SEAT_DRAWS` counts what the seat has drawn of its luck."""

ASKED_AIM, ASKED_FACING, ASKED_PLACE, ASKED_TELEPORT, ASKED_MOVE, ASKED_PATH, ASKED_HOLD, ASKED_FOE = (
    1 << bit for bit in range(8)
)
HOLD_GUARD = 1 << 40
"""The bit of the guard in what a seat is asked to hold."""

SHOT_CHARGE = LEG_ROWS
SHOT_ROWS = LEG_ROWS + 1
SHOT_FIGHTER, SHOT_SLOT, SHOT_RELEASED, SHOT_BOUNCES, SHOT_PIERCES = range(LEG_MARKS, LEG_MARKS + 5)
SHOT_MARKS = LEG_MARKS + 5

AFFLICTED, AFFLICTED_BY, AFFLICTED_SINCE, AFFLICTED_UNTIL_FROM, AFFLICTED_BEAT, AFFLICTED_CAUSE = range(6)
AFFLICTED_MARKS = 6
MOST_AFFLICTIONS = 8
"""Each body has so many columns for afflictions: the number + 1, whose, the ticks it began and was last renewed on, how
many wounds it has dealt, and the `seq` it began with; `afflicted` holds how strong each is."""

ALIGNMENT = 64


class Block:
    """The block for a plan, with a view for each part of the state."""

    def __init__(self, plan: Plan) -> None:
        bodies = 2 * plan.max_seats
        self.first_wall = bodies * plan.most_hurtboxes
        lingering = bodies * MOST_AFFLICTIONS if plan.afflictions else 0
        shapes = self.first_wall + len(plan.wall_names)
        real, whole = np.dtype(np.float64), np.dtype(np.int64)
        layout = {
            "counts": (whole, 1, COUNTS),
            "bodies": (real, BODY_ROWS, bodies),
            "body_marks": (whole, BODY_MARKS, bodies),
            "due": (whole, 1, 2 * bodies + lingering + plan.max_shots + 4 * plan.max_seats),
            "ready": (whole, max(plan.most_attacks, 1), bodies),
            "pools": (real, plan.most_pools, bodies),
            "pools_since": (whole, plan.most_pools, bodies),
            "pools_max": (real, plan.most_pools, bodies),
            "row_counts": (whole, plan.max_seats if plan.combo_ticks else 1, bodies),
            "row_times": (real, plan.max_seats if plan.combo_ticks else 1, bodies),
            "afflicted": (real, 1, lingering),
            "afflicted_marks": (whole, AFFLICTED_MARKS, lingering),
            "seats": (real, SEAT_ROWS, plan.max_seats),
            "seat_marks": (whole, SEAT_MARKS, plan.max_seats),
            "shots": (real, SHOT_ROWS, plan.max_shots),
            "shot_marks": (whole, SHOT_MARKS, plan.max_shots),
            "touched": (whole, max(plan.most_pierced, 1), plan.max_shots),
            "shapes": (real, SHAPE_ROWS, shapes),
            "shape_marks": (whole, SHAPE_MARKS, shapes),
        }
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
        capacities = [bodies, bodies, lingering, plan.max_shots] + [plan.max_seats] * 4
        self.due_starts = list(accumulate(capacities, initial=0))
        self.timers = [self.due[a:b] for a, b in pairwise(self.due_starts)]
        self.ready = wholes("ready")
        self.pools = reals("pools")
        self.pools_since = wholes("pools_since")
        self.pools_max = reals("pools_max")
        self.row_counts = wholes("row_counts")
        self.row_times = reals("row_times")
        self.afflicted = reals("afflicted")
        self.afflicted_marks = wholes("afflicted_marks")
        self.seats = reals("seats")
        self.seat_marks = wholes("seat_marks")
        self.shots = reals("shots")
        self.shot_marks = wholes("shot_marks")
        self.touched = wholes("touched")
        self.shapes = reals("shapes")
        self.shape_marks = wholes("shape_marks")
        self.shapes[:, self.first_wall :] = plan.tables.wall_shapes
        self.shape_marks[:, self.first_wall :] = plan.tables.wall_marks
        self.due[:] = NEVER
        self.counts[NEXT_DUE] = NEVER


def _aligned(size: int) -> NDArray[np.uint8]:
    memory = np.zeros(size + ALIGNMENT, np.uint8)
    shift = -memory.ctypes.data % ALIGNMENT
    return memory[shift : shift + size]
