"""All state of a bout: one aligned block of bytes with named views.

Views are (rows, capacity) float64 or int64. Columns are recycled, ids are not; a free column is all zeros, and its
timers are NEVER. Nothing that a bout depends on lives anywhere else.
"""

from __future__ import annotations

from functools import cached_property
from itertools import accumulate, pairwise
from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.state.layout import (
    AfflictionMark,
    Count,
    CueColumn,
    Limit,
    SeatColumn,
    SeatMark,
)
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    PointColumn,
    ShapeColumn,
    ShapeMark,
    ShotColumn,
    ShotMark,
    VolumeColumn,
    VolumeMark,
)
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.errors import BoutError
from emberwound.vocabulary.limits import MOST_BLOCK_BYTES

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.plan import Plan


ALIGNMENT = 64


class Block:
    """The block for a plan, with a view for each part of the state.

    No body was ever in a column from `bodies_end` on, so nobody needs to look there.
    """

    def __init__(self, plan: Plan) -> None:
        bodies = 2 * plan.max_seats
        lingering = bodies * Limit.AFFLICTIONS if plan.afflictions else 0
        self.first_wall = bodies * plan.most_hurtboxes
        self.first_hazard = bodies * plan.most_hitboxes
        self.first_hazard_group = bodies if plan.most_hitboxes else 0
        self.first_checkpoint_group = self.first_hazard_group + len(plan.hazards)
        self.first_pickup_group = self.first_checkpoint_group + len(plan.checkpoints)
        self.layout = _layout(plan, lingering)
        self.places, size = {}, 0
        for name, part in self.layout.items():
            self.places[name] = size
            size += _bytes_of(part)
        if size > MOST_BLOCK_BYTES:
            raise BoutError(
                f"the state of a bout of this book takes {size / 2**30:.3g} GiB, more than "
                f"{MOST_BLOCK_BYTES >> 30}; lower settings.max_seats ({plan.max_seats}) or settings.max_shots "
                f"({plan.max_shots})"
            )
        self.memory, self.bodies_end = _aligned(size), 0

        def reals(name: str) -> NDArray[np.float64]:
            return self.view(name)  # type: ignore[return-value]

        def wholes(name: str) -> NDArray[np.int64]:
            return self.view(name)  # type: ignore[return-value]

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
        self.combo_counts = wholes("combo_counts")
        self.combo_ticks = reals("combo_ticks")
        self.afflicted, self.afflicted_marks = reals("afflicted"), wholes("afflicted_marks")
        self.variant_turns = wholes("variant_turns")
        self.hurt_by, self.hurt_at = wholes("hurt_by"), reals("hurt_at")
        self.ragdoll = reals("ragdoll")
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
        self.spread_draws = wholes("spread_draws")
        self.shapes[:, self.first_wall :] = plan.tables.wall_shapes
        self.shape_marks[:, self.first_wall :] = plan.tables.wall_marks
        self.due[:] = NEVER
        self.counts[Count.NEXT_DUE] = NEVER

    def view(self, name: str) -> NDArray[np.generic]:
        """A part of the memory as an array."""
        (dtype, rows, capacity), start = self.layout[name], self.places[name]
        return self.memory[start : start + rows * capacity * dtype.itemsize].view(dtype).reshape(rows, capacity)

    def replace(self, memory: bytes) -> None:
        """Take another block's memory for its own."""
        self.memory[:] = np.frombuffer(memory, np.uint8)
        most = self.shape_marks[ShapeMark.OWNER, : self.first_wall].reshape(self.bodies.shape[1], -1)
        used = (self.body_marks[BodyMark.ID] != 0) | (most != 0).any(axis=1)
        self.bodies_end = int(used.nonzero()[0].max(initial=-1)) + 1

    def still(self) -> StillBlock:
        """A copy of what a picture of the moment needs, that stays as it is now."""
        return StillBlock(self)

    @cached_property
    def picture(self) -> tuple[list[NDArray[np.uint8]], dict[str, int]]:
        """The pieces of the memory that a picture needs, and where each part begins when they are put together."""
        pieces, places, size, names = [], {}, 0, list(self.layout)
        for first, last in PICTURED:
            start, end = self.places[first], self.places[last] + _bytes_of(self.layout[last])
            pieces.append(self.memory[start:end])
            for name in names[names.index(first) : names.index(last) + 1]:
                places[name] = self.places[name] - start + size
            size += end - start
        return pieces, places


class StillBlock(Block):
    """What a picture needs of a block, copied in a few pieces; an array is made when it is first asked for.

    It has no memory to run on: it is for reading. Hurtboxes are left out, they follow from the pose, and so are the
    accounts that bodies keep of each other.
    """

    def __init__(self, block: Block) -> None:
        pieces, self.places = block.picture
        self.layout, self.due_starts, self.first_hazard = block.layout, block.due_starts, block.first_hazard
        self.memory = np.concatenate(pieces)
        self.counts = memoryview(self.view("counts")[0])

    def __getattr__(self, name: str) -> Any:
        found: Any
        if name == "timers":
            found = [self.due[a:b] for a, b in pairwise(self.due_starts)]
        elif name in self.places:
            found = self.view(name)[0] if name in FLAT else self.view(name)
        else:
            raise AttributeError(f"no part of a picture: {name}")
        setattr(self, name, found)
        return found


FLAT = ("due", "taken", "cue_numbers")
"""Parts of one row, that are read as if they had none."""

PICTURED = (
    ("counts", "pools_max"),
    ("afflicted", "afflicted_marks"),
    ("ragdoll", "shot_marks"),
    ("volumes", "volume_marks"),
    ("taken", "cue_numbers"),
)
"""The parts of a block, from one to another, that say what there is now."""


def _layout(plan: Plan, lingering: int) -> dict[str, tuple[np.dtype[Any], int, int]]:
    """What each view is of, how many rows it has, and how many columns."""
    real, whole = np.dtype(np.float64), np.dtype(np.int64)
    bodies = 2 * plan.max_seats
    shapes = bodies * plan.most_hurtboxes + len(plan.wall_names)
    volumes = bodies * plan.most_hitboxes + plan.areas
    groups = (bodies if plan.most_hitboxes else 0) + plan.areas
    heard = sum(cue.lanes * cue.places for cue in plan.cues)
    return {
        "counts": (whole, 1, Count.COLUMNS),
        "bodies": (real, BodyColumn.COLUMNS, bodies),
        "body_marks": (whole, BodyMark.COLUMNS, bodies),
        "due": (whole, 1, 7 * bodies + lingering + plan.max_shots + 4 * plan.max_seats),
        "ready": (whole, max(plan.most_attacks, 1), bodies),
        "pools": (real, plan.most_pools, bodies),
        "pools_since": (whole, plan.most_pools, bodies),
        "pools_max": (real, plan.most_pools, bodies),
        "combo_counts": (whole, plan.max_seats if plan.combo_ticks else 1, bodies),
        "combo_ticks": (real, plan.max_seats if plan.combo_ticks else 1, bodies),
        "afflicted": (real, 1, lingering),
        "afflicted_marks": (whole, AfflictionMark.COLUMNS, lingering),
        "variant_turns": (whole, plan.most_reactions, plan.max_seats),
        "hurt_by": (whole, Limit.ATTACKERS_REMEMBERED, bodies),
        "hurt_at": (real, Limit.ATTACKERS_REMEMBERED, bodies),
        "ragdoll": (real, PointColumn.COLUMNS, bodies * plan.most_ragdoll_points),
        "seats": (real, SeatColumn.COLUMNS, plan.max_seats),
        "counters": (real, len(plan.counters), plan.max_seats),
        "seat_marks": (whole, SeatMark.COLUMNS, plan.max_seats),
        "shots": (real, ShotColumn.COLUMNS, plan.max_shots),
        "shot_marks": (whole, ShotMark.COLUMNS, plan.max_shots),
        "touched": (whole, max(plan.most_pierced, 1), plan.max_shots),
        "shapes": (real, ShapeColumn.COLUMNS, shapes),
        "shape_marks": (whole, ShapeMark.COLUMNS, shapes),
        "volumes": (real, VolumeColumn.COLUMNS, volumes),
        "volume_marks": (whole, VolumeMark.COLUMNS, volumes),
        "again": (real, groups, plan.max_seats),
        "taken": (real, 1, len(plan.pickups)),
        "bar_gaps": (real, plan.most_bars, bodies),
        "bar_since": (whole, plan.most_bars, bodies),
        "trail_gaps": (real, plan.most_bars, bodies),
        "trail_since": (whole, plan.most_bars, bodies),
        "cues": (real, CueColumn.COLUMNS, heard),
        "cue_numbers": (whole, 1, heard),
        "cue_ready": (real, 1, sum(cue.lanes for cue in plan.cues)),
        "cue_draws": (whole, 1, len(plan.cues)),
        "spread_draws": (whole, len(plan.spread_attacks), plan.max_seats),
    }


def _bytes_of(part: tuple[np.dtype[Any], int, int]) -> int:
    dtype, rows, capacity = part
    return -(-rows * capacity * dtype.itemsize // ALIGNMENT) * ALIGNMENT


def _aligned(size: int) -> NDArray[np.uint8]:
    memory = np.zeros(size + ALIGNMENT, np.uint8)
    shift = -memory.ctypes.data % ALIGNMENT
    return memory[shift : shift + size]
