"""Bodies come and go: standing up, walking as they are told, falling, being taken away."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout import conditions
from emberwound.bout.block import (
    BODIES_MADE,
    BODY_CHARGING,
    BODY_DIED,
    BODY_GUARD_BACK,
    BODY_GUARD_SINCE,
    BODY_GUARDLESS,
    BODY_LIFE,
    BODY_LIMP,
    BODY_REACTION,
    BODY_RESISTANCE,
    BODY_SLOWED,
    CORPSE,
    DUE_AFFLICTION,
    DUE_PROTECT,
    DUE_REACTION,
    LAY,
    LIMP,
    LIVE,
    LOOKERS,
    MOVE,
    MOVERS,
    PROP,
    SEAT_BODY,
    SEAT_FIGHTER,
    SEAT_LIFE,
    SEAT_LOOKS,
    SEAT_PATH,
    SEAT_POSTURE,
    SEAT_SINCE,
    SEAT_TEAM,
    STRIKING,
    TICK,
)
from emberwound.bout.doings import become
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_GROUNDED,
    FRAME_HIDDEN,
    FRAME_ID,
    FRAME_LIVE,
    FRAME_LOOKS,
    FRAME_LUNGES,
    FRAME_MODEL,
    FRAME_MOVES,
    FRAME_OWNER,
    FRAME_PACE,
    FRAME_PATH,
    FRAME_PATH_NEXT,
    FRAME_PATH_STEP,
    FRAME_POSE,
    FRAME_POSE_LAST,
    FRAME_POSE_TICK,
    FRAME_POSTURE,
    FRAME_PROTECTED,
    FRAME_START,
    FRAME_TEAM,
    FRAME_THROWN,
    FRAME_VELOCITY,
    FRAME_WISH,
)
from emberwound.geometry.volumes import VOLUME_SHAPE
from emberwound.geometry.walk import MOVES
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.doings import Doing
from emberwound.vocabulary.events import BodyRemoved

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector
    from emberwound.vocabulary.reasons import Reason

MOVING, AIRBORNE, GUARDING = "moving", "airborne", "guarding"


def stand(world: World, seat: int, place: Sequence[float], ahead: Sequence[float]) -> int:
    """Give a seat a new body at a place, pools at their start, doing as it was last told; its column."""
    block, counts = world.block, world.counts
    row: int = block.body_marks[FRAME_ID].tolist().index(0)
    counts[BODIES_MADE] += 1
    marks, fighter = block.body_marks, world.fighter_of_seat(seat)
    marks[FRAME_ID, row] = counts[BODIES_MADE]
    marks[FRAME_OWNER, row] = seat + 1
    marks[FRAME_MODEL, row] = block.seat_marks[SEAT_FIGHTER, seat]
    marks[FRAME_LIVE, row] = PROP if fighter.is_prop else LIVE
    marks[FRAME_TEAM, row] = block.seat_marks[SEAT_TEAM, seat]
    marks[FRAME_POSTURE, row] = block.seat_marks[SEAT_POSTURE, seat]
    marks[FRAME_POSE, row] = fighter.rest_poses[marks[FRAME_POSTURE, row]]
    marks[FRAME_LOOKS, row] = block.seat_marks[SEAT_LOOKS, seat]
    marks[BODY_LIFE, row] = block.seat_marks[SEAT_LIFE, seat]
    block.bodies[FRAME_START : FRAME_START + 3, row] = place
    block.bodies[FRAME_END : FRAME_END + 3, row] = place
    block.bodies[BODY_SLOWED, row] = 1.0
    block.bodies[FRAME_PACE, row] = fighter.posture_paces[marks[FRAME_POSTURE, row]]
    block.again[: block.first_checkpoint_group, seat] = 0.0
    if fighter.resistance:
        block.bodies[BODY_RESISTANCE, row] = fighter.resistance.points
    block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row] = ahead
    for index, pool in enumerate(fighter.bears.pools):
        block.pools[index, row] = pool.start
        block.pools_since[index, row] = counts[TICK]
    raise_guard(world, row)
    block.seat_marks[SEAT_BODY, seat] = row + 1
    block.seat_marks[SEAT_SINCE, seat] = counts[TICK]
    counts[LAY] = max(counts[LAY], 1)
    marks[FRAME_GROUNDED, row] = conditions.stands_at(world, float(block.bodies[FRAME_START + 2, row]))
    if not marks[FRAME_GROUNDED, row]:
        set_moving(world, row)
    follow_orders(world, row)
    return row


def set_moving(world: World, row: int) -> None:
    """Let a body move by itself from this tick on."""
    world.block.body_marks[FRAME_MOVES, row] = MOVES
    world.counts[MOVERS] = max(world.counts[MOVERS], 1)


def follow_orders(world: World, row: int) -> None:
    """Let a body walk as its seat was last told, or stand still for an attack that is not done moving."""
    block = world.block
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter, attack = world.fighter_of_seat(seat), conditions.attack_of(world, row)
    free = (attack is None or MOVING in attack.states) and "move" not in conditions.locks_of(world, row)
    path = int(block.seat_marks[SEAT_PATH, seat]) if free else 0
    speed = fighter.speed * float(block.bodies[FRAME_PACE, row]) if free and not path else 0.0
    wish = block.seats[MOVE : MOVE + 2, seat] * speed
    if path and not block.body_marks[FRAME_PATH_STEP, row]:
        block.body_marks[FRAME_PATH_NEXT, row] = 0
        block.body_marks[FRAME_PATH_STEP, row] = 1
    changed = (
        path != block.body_marks[FRAME_PATH, row] or (wish != block.bodies[FRAME_WISH : FRAME_WISH + 2, row]).any()
    )
    if changed:
        block.body_marks[FRAME_PATH, row] = path
        block.bodies[FRAME_WISH : FRAME_WISH + 2, row] = wish
        set_moving(world, row)


def slow(world: World, row: int, share: float, *, guardless: bool) -> None:
    """Let a body walk with a share of its pace from now on, and keep its guard down or not."""
    block = world.block
    if block.body_marks[BODY_GUARDLESS, row] and not guardless:
        raise_guard(world, row)
    block.body_marks[BODY_GUARDLESS, row] = guardless
    block.bodies[BODY_SLOWED, row] = share
    _set_pace(world, row)


def _set_pace(world: World, row: int) -> None:
    block = world.block
    posture = conditions.fighter_of(world, row).posture_paces[block.body_marks[FRAME_POSTURE, row]]
    pace = float(block.bodies[BODY_SLOWED, row]) * posture
    if block.bodies[FRAME_PACE, row] != pace:
        block.bodies[FRAME_PACE, row] = pace
        follow_orders(world, row)


def take_posture(world: World, row: int, posture: int) -> None:
    """Let a body hold itself in a posture, by its number, from this tick on."""
    if world.block.body_marks[FRAME_POSTURE, row] == posture:
        return
    world.block.body_marks[FRAME_POSTURE, row] = posture
    attack = conditions.attack_of(world, row)
    if attack is None or not attack.pose_last:
        rest(world, row)
    _set_pace(world, row)


def rest(world: World, row: int) -> None:
    """Take a body's joints to where they are in its posture."""
    pose(world, row, conditions.fighter_of(world, row).rest_poses[world.block.body_marks[FRAME_POSTURE, row]], 0)


def raise_guard(world: World, row: int) -> None:
    """Note that from this tick on, or from when a broken one is back, a body's guard is up if it holds it."""
    marks = world.block.body_marks
    marks[BODY_GUARD_SINCE, row] = max(world.counts[TICK], int(marks[BODY_GUARD_BACK, row]))


def pose(world: World, row: int, first: int, last: int) -> None:
    """Take a body's joints along a stretch of the pose tracks from this tick on."""
    marks, tick = world.block.body_marks, world.counts[TICK]
    marks[FRAME_POSE, row], marks[FRAME_POSE_LAST, row], marks[FRAME_POSE_TICK, row] = first, last, tick
    world.counts[LAY] = max(world.counts[LAY], last + 2)


BY_ATTACK, BY_RESPAWN = 1, 2
"""What protects a body, as bits of `FRAME_PROTECTED`."""


def protect(world: World, row: int, ticks: int) -> None:
    """Put a body that stands again out of reach for some ticks, this one the first."""
    world.block.body_marks[FRAME_PROTECTED, row] |= BY_RESPAWN
    world.block.timers[DUE_PROTECT][row] = world.counts[TICK] + ticks
    world.wake(world.counts[TICK] + ticks)


def bare(world: World, row: int) -> None:
    """End the protection of a body that stood again."""
    world.block.body_marks[FRAME_PROTECTED, row] &= ~BY_RESPAWN
    world.counts[LAY] = max(world.counts[LAY], 1)


def cover(world: World, row: int, *, hide: int = 0, show: int = 0, protected: bool | None = None) -> None:
    """Hide and show hurtboxes of a body, a bit each, and put it out of reach or back."""
    marks = world.block.body_marks
    marks[FRAME_HIDDEN, row] = int(marks[FRAME_HIDDEN, row]) & ~show | hide
    if protected is not None:
        marks[FRAME_PROTECTED, row] = int(marks[FRAME_PROTECTED, row]) & ~BY_ATTACK | (BY_ATTACK if protected else 0)
    world.counts[LAY] = max(world.counts[LAY], 1)


def lunge(world: World, row: int, velocity: Vector, *, lasting: bool) -> None:
    """Give a body a velocity; while a lunge lasts nothing else moves it."""
    block = world.block
    block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, row] = velocity
    block.body_marks[FRAME_LUNGES, row] = lasting
    block.body_marks[FRAME_THROWN, row] = 0
    if velocity[2] > 0.0:
        block.body_marks[FRAME_GROUNDED, row] = 0
    set_moving(world, row)


def throw(world: World, rows: list[int], velocities: NDArray[np.float64], replaces: NDArray[np.bool_]) -> None:
    """Give bodies the velocities (3, n) of pushes, on top of what they had or in its place; they move by that alone."""
    block, v = world.block, slice(FRAME_VELOCITY, FRAME_VELOCITY + 3)
    block.bodies[v, rows] = velocities + np.where(replaces, 0.0, block.bodies[v, rows])
    grounded = block.body_marks[FRAME_GROUNDED, rows] != 0
    rise = block.bodies[FRAME_VELOCITY + 2, rows]
    block.bodies[FRAME_VELOCITY + 2, rows] = np.where(grounded, np.maximum(rise, 0.0), rise)
    block.body_marks[FRAME_GROUNDED, rows] = grounded & (rise <= 0.0)
    block.body_marks[FRAME_LUNGES, rows] = 0
    block.body_marks[FRAME_THROWN, rows] = 1
    block.body_marks[FRAME_MOVES, rows] = MOVES
    world.counts[MOVERS] = max(world.counts[MOVERS], 1)


def coast(world: World, row: int) -> None:
    """End a lunge: the pull and the orders take over."""
    if world.block.body_marks[FRAME_LUNGES, row]:
        world.block.body_marks[FRAME_LUNGES, row] = 0
        set_moving(world, row)


def look(world: World, seat: int, row: int | None, *, at_foes: bool) -> None:
    """Let a seat's body turn to its nearest foe from now on, or stop doing so."""
    world.block.seat_marks[SEAT_LOOKS, seat] = at_foes
    if row is not None:
        world.block.body_marks[FRAME_LOOKS, row] = at_foes
    if at_foes:
        world.counts[LOOKERS] = 1


def fall(world: World, row: int, died: int) -> None:
    """Make a body a corpse: it does nothing any more but drop to the ground."""
    block = world.block
    marks = block.body_marks
    become(world, row, Doing.DEAD)
    marks[FRAME_LIVE, row] = CORPSE
    marks[BODY_REACTION, row] = 0
    block.timers[DUE_REACTION][row] = NEVER
    marks[BODY_DIED, row] = died
    for mark in (FRAME_PATH, FRAME_LOOKS, FRAME_LUNGES, BODY_CHARGING):
        marks[mark, row] = 0
    block.bodies[FRAME_WISH : FRAME_WISH + 2, row] = 0.0


def remove(world: World, row: int, reason: Reason) -> None:
    """Take a corpse away and free its column."""
    block = world.block
    world.emit(
        BodyRemoved,
        seat=world.names[block.body_marks[FRAME_OWNER, row] - 1],
        cause=int(block.body_marks[BODY_DIED, row]) if block.body_marks[FRAME_LIVE, row] == CORPSE else None,
        life=int(block.body_marks[BODY_LIFE, row]),
        reason=reason,
    )
    if world.plan.most_hitboxes:
        close_all(world, row)
    if block.body_marks[BODY_LIMP, row] > 1:
        world.counts[LIMP] -= 1
    if world.plan.most_points:
        block.limp[:, row * world.plan.most_points : (row + 1) * world.plan.most_points] = 0.0
    rows = (block.row_counts, block.row_times, block.bar_gaps, block.bar_since, block.trail_gaps, block.trail_since)
    pooled = (block.pools, block.pools_since, block.pools_max, block.reacted, block.hurt_by, block.hurt_at)
    for view in (block.bodies, block.body_marks, block.ready, *pooled, *rows):
        view[:, row] = 0
    for timer in block.timers[:DUE_AFFLICTION]:
        timer[row] = NEVER


def close_all(world: World, row: int) -> None:
    """Put out every hitbox of a body."""
    block, most = world.block, world.plan.most_hitboxes
    span = slice(row * most, (row + 1) * most)
    world.counts[STRIKING] -= int((block.volume_marks[VOLUME_SHAPE, span] != 0).sum())
    block.volume_marks[:, span] = 0
    block.volumes[:, span] = 0.0
