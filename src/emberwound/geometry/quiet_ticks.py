"""Ticks in which nothing is due, one after the other, until something lands or is met."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.contact import first_contacts
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import BodyColumn, Constants
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.ragdoll import step_ragdolls
from emberwound.geometry.separation import separate_bodies
from emberwound.geometry.volume_contacts import touch_contacts
from emberwound.geometry.volumes import lay_hazards, lay_hitboxes
from emberwound.geometry.walk import move_bodies, turn_to_foes

if TYPE_CHECKING:
    from typing import Final

    import numpy as np
    from numpy.typing import NDArray

    Reals = NDArray[np.float64]
    Wholes = NDArray[np.int64]


class Quiet(Constants):
    """Places in the numbers that quiet ticks begin with and leave, and what ended them."""

    TICK: Final = 0
    MOVING: Final = 1  # bodies that move by themselves
    DIRTY: Final = 2  # for how many more ticks shapes are laid
    AREAS_DUE: Final = 3
    NEAR: Final = 4  # bodies near an area
    RAGDOLLS: Final = 5  # ragdolls that move

    TIME: Final = 0  # nothing happened before `until`
    LANDED: Final = 1  # a body came down; nothing of the tick after the moves is done
    MET: Final = 2  # shots met something; areas of the tick are not asked yet
    TOUCHED: Final = 3  # a strike or an area touches; that is to be asked again


@kernel
def run_quietly(
    body: tuple[Reals, Wholes, Reals, Wholes],
    volume: tuple[Reals, Wholes, Reals, Wholes, Reals],
    shot: tuple[Reals, Wholes, Wholes],
    found: tuple[Reals, Wholes, Reals, Wholes],
    moves: tuple[Reals, Reals, Wholes, Reals],
    poses: tuple[Reals, Wholes, Wholes, Reals],
    areas: tuple[Reals, Wholes, Reals, Wholes],
    dolls: tuple[Reals, Reals, Wholes, Wholes, Reals],
    state: tuple[int, int, int, int, int, int],
    sizes: tuple[int, int, int, int, int, int, int, int],
    turning: int,
    sideways: int,
    striking: int,
    shots: int,
    share: float,
    flat: int,
    until: int,
    time: tuple[int, int],
) -> tuple[int, int, int, int, int, int, int, int]:
    """Run the ticks before `until`, up to the first in which a body lands, or anything is met or touched.

    Of that tick only what the last answer but one, of `Quiet`, says is done. The first six answers are the numbers that
    `state` had at the beginning, the last is how many shots met something. Arrays are those of the phases that a tick
    goes through: bodies with their marks, shapes and theirs; volumes with theirs, and who touched them; shots with
    theirs and what they touched; what is found; tables. `sizes` are the columns: bodies in use, hurtboxes of a body,
    the first wall, the first volume and the first group of areas, how many areas there are, hitboxes and ragdoll points
    of a body. Bodies part by `share` of their overlap, below 0 not at all; `time` is the tick rate, and after how many
    slow ticks a ragdoll lies still.
    """
    bodies, body_marks, shapes, shape_marks = body
    volumes, volume_marks, again, keys, ticks = volume
    end, most, first_wall, first_area, first_group, count, hitboxes, points = sizes
    tick, moving, dirty, due, near, falling = state
    tick_rate, slow_ticks = time
    while tick < until:
        if turning and turn_to_foes(bodies, body_marks, end, sideways):
            dirty = max(dirty, 1)
        if moving:
            moving, landed = move_bodies(
                bodies, body_marks, moves[0], moves[1], moves[2], shapes, moves[3], first_wall, end, tick_rate
            )
            dirty = max(dirty, 2)
            if landed:
                return tick, moving, dirty, due, near, falling, Quiet.LANDED, 0
        if falling:
            falling -= step_ragdolls(
                dolls[0],
                bodies,
                body_marks,
                moves[0],
                dolls[1],
                dolls[2],
                dolls[3],
                dolls[4],
                points,
                flat,
                shapes,
                first_wall,
                moves[3],
                end,
                tick_rate,
                slow_ticks,
            )
        if share >= 0.0 and separate_bodies(bodies, body_marks, moves[0], shapes, moves[3], first_wall, end, share):
            dirty = max(dirty, 2)
        if dirty:
            lay_shapes(bodies, body_marks, poses[0], poses[1], poses[2], poses[3], shapes, shape_marks, end, tick)
        if striking:
            lay_hitboxes(bodies, body_marks, areas[2], areas[3], poses[3], volumes, volume_marks, hitboxes, end, tick)
        if count and tick >= due:
            near = 1
            due = lay_hazards(
                areas[0],
                areas[1],
                moves[1],
                moves[2],
                volumes,
                volume_marks,
                first_area,
                first_group,
                tick,
                tick_rate,
            )
        if shots:
            met = first_contacts(
                shot[0],
                shot[1],
                shapes,
                shape_marks,
                shot[2],
                moves[3],
                found[0],
                found[1],
                (0, shots),
                (end * most, first_wall),
                tick,
                tick_rate,
            )
            if met:
                return tick, moving, dirty, due, near, falling, Quiet.MET, met
        if striking:
            touched, group, _ = touch_contacts(
                volumes,
                volume_marks,
                shapes,
                shape_marks,
                (again, keys, ticks),
                found[2],
                found[3],
                (0, end * hitboxes, hitboxes),
                (0, end, most),
                first_group,
                tick,
                0.0,
            )
            if touched or group < end * hitboxes:
                return tick, moving, dirty, due, near, falling, Quiet.TOUCHED, 0
        if count and (near or dirty):
            touched, group, near = touch_contacts(
                volumes,
                volume_marks,
                shapes,
                shape_marks,
                (again, keys, ticks),
                found[2],
                found[3],
                (first_area, volumes.shape[1], 1),
                (0, end, most),
                first_group,
                tick,
                0.0,
            )
            if touched or group < volumes.shape[1]:
                return tick, moving, dirty, due, near, falling, Quiet.TOUCHED, 0
        if dirty:
            for axis in range(3):
                for column in range(end):
                    bodies[BodyColumn.START + axis, column] = bodies[BodyColumn.END + axis, column]
            dirty -= 1
        tick += 1
    return tick, moving, dirty, due, near, falling, Quiet.TIME, 0
