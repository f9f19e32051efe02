"""All state of a bout: one aligned block of bytes with named views.

Views are (rows, capacity) float64 or int64. Columns are recycled, ids are not; a free column is all zeros, and its
timers are NEVER. Nothing that can change the course of a bout lives anywhere else.
"""

from __future__ import annotations

from itertools import accumulate, pairwise
from typing import TYPE_CHECKING

import numpy as np

from emberwound.geometry.contact import CAPSULE_MARKS, CAPSULE_ROWS, LEG_ROWS
from emberwound.geometry.pose import FRAME_ROWS
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
) = range(12)
"""Rows of `counts`: `LAY` is for how many more ticks hurtboxes are laid anew, `ASKED` whether orders wait."""

BODY_ATTACK, BODY_BEGAN, BODY_LIFE, BODY_DIED = range(4, 8)
BODY_MARKS = 8
"""Marks of a body after those of `geometry.pose`: slot + 1 of its attack, and the `seq` of what began and ended it."""

LIVE, CORPSE = 1, 2

DUE_REMOVE, DUE_RELEASE, DUE_RECOVERED, DUE_LIFE, DUE_ENTER, DUE_RESPAWN, DUE_PRESS = range(7)
"""The timers, in the order the agenda takes those of one tick: three of bodies, one of shots, three of seats."""

ASK_AIM, ASK_AHEAD, ASK_PLACE, AIM, ENTRY, ENTRY_AHEAD = 0, 3, 5, 8, 11, 14
SEAT_ROWS = 16

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
) = range(10)
SEAT_MARKS = 10
"""Marks of a seat: `SEAT_BODY`, `SEAT_PRESS` and `SEAT_KEPT` are column or slot + 1; `SEAT_DROPPED` is a bit a slot."""

ASKED_AIM, ASKED_FACING, ASKED_PLACE, ASKED_TELEPORT = 1, 2, 4, 8

SHOT_FIGHTER, SHOT_SLOT, SHOT_RELEASED = range(3, 6)
SHOT_MARKS = 6

ALIGNMENT = 64


class Block:
    """The block for a plan, with a view for each part of the state."""

    def __init__(self, plan: Plan) -> None:
        bodies = 2 * plan.max_seats
        capsules = bodies * plan.most_hurtboxes
        real, whole = np.dtype(np.float64), np.dtype(np.int64)
        shapes = {
            "counts": (whole, 1, COUNTS),
            "bodies": (real, FRAME_ROWS, bodies),
            "body_marks": (whole, BODY_MARKS, bodies),
            "due": (whole, 1, 3 * bodies + plan.max_shots + 3 * plan.max_seats),
            "ready": (whole, max(plan.most_attacks, 1), bodies),
            "pools": (real, plan.most_pools, bodies),
            "pools_since": (whole, plan.most_pools, bodies),
            "seats": (real, SEAT_ROWS, plan.max_seats),
            "seat_marks": (whole, SEAT_MARKS, plan.max_seats),
            "shots": (real, LEG_ROWS, plan.max_shots),
            "shot_marks": (whole, SHOT_MARKS, plan.max_shots),
            "capsules": (real, CAPSULE_ROWS, capsules),
            "capsule_marks": (whole, CAPSULE_MARKS, capsules),
        }
        places, size = {}, 0
        for name, (dtype, rows, capacity) in shapes.items():
            places[name] = size
            size += -(-rows * capacity * dtype.itemsize // ALIGNMENT) * ALIGNMENT
        self.memory = _aligned(size)

        def view(name: str) -> NDArray[np.generic]:
            dtype, rows, capacity = shapes[name]
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
        capacities = [bodies] * 3 + [plan.max_shots] + [plan.max_seats] * 3
        self.due_starts = list(accumulate(capacities, initial=0))
        self.timers = [self.due[a:b] for a, b in pairwise(self.due_starts)]
        self.ready = wholes("ready")
        self.pools = reals("pools")
        self.pools_since = wholes("pools_since")
        self.seats = reals("seats")
        self.seat_marks = wholes("seat_marks")
        self.shots = reals("shots")
        self.shot_marks = wholes("shot_marks")
        self.capsules = reals("capsules")
        self.capsule_marks = wholes("capsule_marks")
        self.due[:] = NEVER
        self.counts[NEXT_DUE] = NEVER


def _aligned(size: int) -> NDArray[np.uint8]:
    memory = np.zeros(size + ALIGNMENT, np.uint8)
    shift = -memory.ctypes.data % ALIGNMENT
    return memory[shift : shift + size]
