"""All state of a bout: one aligned block of bytes with named views.

Views are (rows, capacity) float64 or int64. Columns are recycled, ids are not; a free column is all zeros, and its
timers are NEVER. Nothing that a bout depends on lives anywhere else.
"""

from __future__ import annotations

from functools import cached_property
from itertools import accumulate, pairwise
from typing import TYPE_CHECKING, Literal, NamedTuple, TypeAlias

import numpy as np

from emberwound.bout.state.layout import (
    AfflictionMark,
    Count,
    CueColumn,
    Limit,
    SeatColumn,
    SeatMark,
)
from emberwound.bout.state.pairs import Pairs
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
    """The block for a plan, with a view for each part of the state, and the pairs that have met.

    `swing_touches` keeps for a body that strikes and a seat it touched the exact tick from which it may touch that seat
    again, `combos` for a seat and a body it wounded the exact tick of the last wound and how many came in a row.
    """

    def __init__(self, plan: Plan) -> None:
        bodies = 2 * plan.max_seats
        lingering = bodies * Limit.AFFLICTIONS if plan.afflictions else 0
        self.first_wall = bodies * plan.most_hurtboxes
        self.first_hazard = bodies * plan.most_hitboxes
        self.first_hazard_group = bodies if plan.most_hitboxes else 0
        self.first_checkpoint = len(plan.hazards)
        self.first_pickup = self.first_checkpoint + len(plan.checkpoints)
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
        self.memory = _aligned(size)
        self.swing_touches, self.combos = Pairs(plan.max_seats, 1), Pairs(bodies, 2)

        def reals(name: str) -> NDArray[np.float64]:
            return self.view(name)  # type: ignore[return-value]

        def wholes(name: str) -> NDArray[np.int64]:
            return self.view(name)  # type: ignore[return-value]

        self.counts = memoryview(wholes("counts")[0])
        self.bodies = reals("bodies")
        self.body_marks = wholes("body_marks")
        self.due = wholes("due")[0]
        self.timer_parts = _timers(plan, lingering)
        self.due_starts = list(accumulate((each.capacity for each in self.timer_parts), initial=0))
        self.timers = [self.due[a:b] for a, b in pairwise(self.due_starts)]
        self.ready = wholes("ready")
        self.pools = reals("pools")
        self.pools_since = wholes("pools_since")
        self.pools_max = reals("pools_max")
        self.afflicted, self.afflicted_marks = reals("afflicted"), wholes("afflicted_marks")
        self.variant_turns = wholes("variant_turns")
        self.hurt_by, self.hurt_at = wholes("hurt_by"), reals("hurt_at")
        self.ragdoll = reals("ragdoll")
        self.seats, self.counters = reals("seats"), reals("counters")
        self.seat_pools = reals("seat_pools")
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
        part, start = self.layout[name], self.places[name]
        size = part.rows * part.capacity * part.dtype.itemsize
        return self.memory[start : start + size].view(part.dtype).reshape(part.rows, part.capacity)

    @property
    def bodies_end(self) -> int:
        """No body was ever in a column from this one on, so nobody needs to look there."""
        return self.counts[Count.BODIES_END]

    def area_of(self, volume: int) -> int:
        """The index of the area whose volume this is, among hazards, checkpoints and pickups."""
        return volume - self.first_hazard

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

    def __getattr__(self, name: str) -> object:
        found: object
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


class Used(NamedTuple):
    """How many columns of bodies, seats and shots may be in use."""

    body: int
    seat: int
    shot: int


class Part(NamedTuple):
    """A part of the block: the type of its numbers, rows and columns, and whose the columns are.

    `each` body, seat or shot has `per` columns; without an owner all are in use. The `last` columns are nobody's; they
    are `fixed` where the plan alone says what they hold.
    """

    dtype: Dtype
    rows: int
    capacity: int
    each: Literal["body", "seat", "shot"] | None = None
    per: int = 1
    last: int = 0
    fixed: bool = False

    def used(self, counts: Used) -> int:
        """How many of its columns before the last may be in use, where there are so many bodies, seats and shots."""
        return self.capacity if self.each is None else int(getattr(counts, self.each)) * self.per


Dtype: TypeAlias = np.dtype[np.float64] | np.dtype[np.int64]

REAL, WHOLE = np.dtype(np.float64), np.dtype(np.int64)


def _layout(plan: Plan, lingering: int) -> dict[str, Part]:
    """The parts of the block in their order."""
    bodies, hurtboxes, hitboxes = 2 * plan.max_seats, plan.most_hurtboxes, plan.most_hitboxes
    walls, points = len(plan.wall_names), plan.most_ragdoll_points
    heard = sum(cue.lanes * cue.places for cue in plan.cues)

    def of_bodies(dtype: Dtype, rows: int, per: int = 1, last: int = 0, *, fixed: bool = False) -> Part:
        return Part(dtype, rows, bodies * per + last, "body", per, last, fixed)

    def of_seats(dtype: Dtype, rows: int) -> Part:
        return Part(dtype, rows, plan.max_seats, "seat")

    def of_shots(dtype: Dtype, rows: int) -> Part:
        return Part(dtype, rows, plan.max_shots, "shot")

    return {
        "counts": Part(WHOLE, 1, Count.COLUMNS),
        "bodies": of_bodies(REAL, BodyColumn.COLUMNS),
        "body_marks": of_bodies(WHOLE, BodyMark.COLUMNS),
        "due": Part(WHOLE, 1, sum(each.capacity for each in _timers(plan, lingering))),
        "ready": of_bodies(WHOLE, max(plan.most_attacks, 1)),
        "pools": of_bodies(REAL, plan.most_pools),
        "pools_since": of_bodies(WHOLE, plan.most_pools),
        "pools_max": of_bodies(REAL, plan.most_pools),
        "afflicted": of_bodies(REAL, 1, lingering // bodies),
        "afflicted_marks": of_bodies(WHOLE, AfflictionMark.COLUMNS, lingering // bodies),
        "variant_turns": of_seats(WHOLE, plan.most_reactions),
        "hurt_by": of_bodies(WHOLE, Limit.ATTACKERS_REMEMBERED),
        "hurt_at": of_bodies(REAL, Limit.ATTACKERS_REMEMBERED),
        "ragdoll": of_bodies(REAL, PointColumn.COLUMNS, points),
        "seats": of_seats(REAL, SeatColumn.COLUMNS),
        "seat_pools": of_seats(REAL, plan.most_pools),
        "counters": of_seats(REAL, len(plan.counters)),
        "seat_marks": of_seats(WHOLE, SeatMark.COLUMNS),
        "shots": of_shots(REAL, ShotColumn.COLUMNS),
        "shot_marks": of_shots(WHOLE, ShotMark.COLUMNS),
        "touched": of_shots(WHOLE, max(plan.most_pierced, 1)),
        "shapes": of_bodies(REAL, ShapeColumn.COLUMNS, hurtboxes, walls, fixed=True),
        "shape_marks": of_bodies(WHOLE, ShapeMark.COLUMNS, hurtboxes, walls, fixed=True),
        "volumes": of_bodies(REAL, VolumeColumn.COLUMNS, hitboxes, plan.areas),
        "volume_marks": of_bodies(WHOLE, VolumeMark.COLUMNS, hitboxes, plan.areas),
        "again": of_seats(REAL, plan.areas),
        "taken": Part(REAL, 1, len(plan.pickups)),
        "bar_gaps": of_bodies(REAL, plan.most_bars),
        "bar_since": of_bodies(WHOLE, plan.most_bars),
        "trail_gaps": of_bodies(REAL, plan.most_bars),
        "trail_since": of_bodies(WHOLE, plan.most_bars),
        "cues": Part(REAL, CueColumn.COLUMNS, heard),
        "cue_numbers": Part(WHOLE, 1, heard),
        "cue_ready": Part(REAL, 1, sum(cue.lanes for cue in plan.cues)),
        "cue_draws": Part(WHOLE, 1, len(plan.cues)),
        "spread_draws": of_seats(WHOLE, len(plan.spread_attacks)),
    }


def _timers(plan: Plan, lingering: int) -> list[Part]:
    """The parts of `due` in the order of `Timer`."""
    bodies = 2 * plan.max_seats
    of_body, of_seat = Part(WHOLE, 1, bodies, "body"), Part(WHOLE, 1, plan.max_seats, "seat")
    of_affliction = Part(WHOLE, 1, lingering, "body", lingering // bodies)
    of_shot = Part(WHOLE, 1, plan.max_shots, "shot")
    of_homing = of_shot if plan.has_homing_shots else Part(WHOLE, 1, 0, "shot", 0)
    return [*[of_body] * 8, of_affliction, of_shot, of_homing, *[of_seat] * 4]


def _bytes_of(part: Part) -> int:
    return -(-part.rows * part.capacity * part.dtype.itemsize // ALIGNMENT) * ALIGNMENT


def _aligned(size: int) -> NDArray[np.uint8]:
    memory = np.zeros(size + ALIGNMENT, np.uint8)
    shift = -memory.ctypes.data % ALIGNMENT
    return memory[shift : shift + size]
