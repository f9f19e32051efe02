"""Bodies come and go: standing up, walking as ordered, falling, being taken away."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatColumn, SeatMark, Timer, mark_of
from emberwound.bout.state.queries import become
from emberwound.combat.pools import resized
from emberwound.geometry.layout import (
    BodyColumn,
    BodyMark,
    Knockback,
    Movement,
    Posture,
    Presence,
    ProtectedBy,
    ShapeColumn,
)
from emberwound.vocabulary.action_state import ActionState
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import BodyRemoved
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector
    from emberwound.vocabulary.reasons import Reason

MOVING, AIRBORNE, GUARDING = "moving", "airborne", "guarding"


def stand(world: World, seat: int, place: Sequence[float], ahead: Sequence[float], *, is_touched: bool = False) -> int:
    """Give a seat a new body at a place, pools at their start, under its last orders; its column.

    What touched the seat before may touch the new body again, unless it `is_touched`, as one that rises where it lay.
    """
    block, counts = world.block, world.counts
    body = int((block.body_marks[BodyMark.ID] == 0).argmax())
    counts[Count.BODIES_END] = max(counts[Count.BODIES_END], body + 1)
    counts[Count.BODIES_MADE] += 1
    marks, fighter = block.body_marks, world.fighter_of_seat(seat)
    marks[BodyMark.ID, body] = counts[Count.BODIES_MADE]
    marks[BodyMark.OWNER, body] = mark_of(seat)
    marks[BodyMark.MODEL, body] = block.seat_marks[SeatMark.FIGHTER, seat]
    marks[BodyMark.PRESENCE, body] = Presence.PROP if fighter.is_prop else Presence.LIVE
    marks[BodyMark.TEAM, body] = block.seat_marks[SeatMark.TEAM, seat]
    marks[BodyMark.POSTURE, body] = block.seat_marks[SeatMark.POSTURE, seat]
    marks[BodyMark.POSE, body] = fighter.rest_poses[marks[BodyMark.POSTURE, body]]
    marks[BodyMark.TURNS_TO_FOES, body] = block.seat_marks[SeatMark.TURNS_TO_FOES, seat]
    marks[BodyMark.LIFE, body] = block.seat_marks[SeatMark.LIFE, seat]
    block.bodies[BodyColumn.START : BodyColumn.START + 3, body] = place
    block.bodies[BodyColumn.END : BodyColumn.END + 3, body] = place
    block.bodies[BodyColumn.SLOWED, body] = 1.0
    block.bodies[BodyColumn.PACE, body] = _pace(world, body)
    block.again[: block.first_checkpoint, seat] = 0.0
    if not is_touched:
        block.swing_touches.forget_other(seat)
    if fighter.stagger_resistance:
        block.bodies[BodyColumn.STAGGER_LEFT, body] = fighter.stagger_resistance.points
    block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body] = ahead
    _fill_pools(world, body, seat, fighter)
    raise_guard(world, body)
    block.seat_marks[SeatMark.BODY, seat] = mark_of(body)
    block.seat_marks[SeatMark.BODY_SINCE, seat] = counts[Count.TICK]
    counts[Count.DIRTY_POSE_TICKS] = max(counts[Count.DIRTY_POSE_TICKS], 1)
    marks[BodyMark.GROUNDED, body] = queries.stands_at(world, fighter, place)
    if not marks[BodyMark.GROUNDED, body]:
        set_moving(world, body)
    follow_orders(world, body)
    return body


def _fill_pools(world: World, body: int, seat: int, fighter: FighterPlan) -> None:
    """Let the pools of a new body hold what they start with, and be as large as its seat's."""
    block, own = world.block, world.block.seat_pools[:, seat].tolist()
    for index, pool in enumerate(fighter.stats.pools):
        size = own[index] or pool.maximum
        block.pools[index, body] = resized(pool.start, pool.maximum, size)
        block.pools_max[index, body] = size if any(own) else 0.0
        block.pools_since[index, body] = world.counts[Count.TICK]
    block.body_marks[BodyMark.RESIZED, body] = any(own)


def set_moving(world: World, body: int) -> None:
    """Let a body move by itself from this tick on."""
    world.block.body_marks[BodyMark.MOVEMENT, body] = Movement.MOVING
    world.counts[Count.MOVING_BODIES] = max(world.counts[Count.MOVING_BODIES], 1)


def follow_orders(world: World, body: int) -> None:
    """Let a body walk as its seat was last ordered, or stand still for an attack that is not done moving."""
    block = world.block
    seat = world.seat_of(body)
    fighter, attack = world.fighter_of_seat(seat), queries.attack_of(world, body)
    free = (attack is None or MOVING in attack.table.allowed_while) and "move" not in queries.locks_of(world, body)
    path = int(block.seat_marks[SeatMark.PATH, seat]) if free else 0
    speed = fighter.table.speed * float(block.bodies[BodyColumn.PACE, body]) if free and not path else 0.0
    wish = block.seats[SeatColumn.MOVE : SeatColumn.MOVE + 2, seat] * speed
    if path and not block.body_marks[BodyMark.PATH_STEP, body]:
        block.body_marks[BodyMark.PATH_NEXT, body] = 0
        block.body_marks[BodyMark.PATH_STEP, body] = 1
    changed = (
        path != block.body_marks[BodyMark.PATH, body]
        or (wish != block.bodies[BodyColumn.WISH : BodyColumn.WISH + 2, body]).any()
    )
    if changed:
        block.body_marks[BodyMark.PATH, body] = path
        block.bodies[BodyColumn.WISH : BodyColumn.WISH + 2, body] = wish
        set_moving(world, body)


def slow(world: World, body: int, share: float, *, disables_guard: bool) -> None:
    """Let a body walk with a share of its pace from now on, and keep its guard down or not."""
    block = world.block
    if block.body_marks[BodyMark.GUARD_DISABLED, body] and not disables_guard:
        raise_guard(world, body)
    block.body_marks[BodyMark.GUARD_DISABLED, body] = disables_guard
    block.bodies[BodyColumn.SLOWED, body] = share
    set_pace(world, body)


def _pace(world: World, body: int) -> float:
    """The share of its speed that a body walks with: by its afflictions, posture, seat and stage."""
    block, stage = world.block, queries.stage_of(world, body)
    posture = queries.fighter_of(world, body).posture_paces[int(block.body_marks[BodyMark.POSTURE, body])]
    own = float(block.seats[SeatColumn.SPEED_SHARE, world.seat_of(body)])
    return float(block.bodies[BodyColumn.SLOWED, body]) * posture * own * (stage.table.speed_share if stage else 1.0)


def set_pace(world: World, body: int) -> None:
    """Let a body walk as fast as it now does."""
    block, pace = world.block, _pace(world, body)
    if block.bodies[BodyColumn.PACE, body] != pace:
        block.bodies[BodyColumn.PACE, body] = pace
        follow_orders(world, body)


def take_posture(world: World, body: int, posture: int) -> None:
    """Let a body hold itself in a posture, by its index, from this tick on."""
    if world.block.body_marks[BodyMark.POSTURE, body] == posture:
        return
    world.block.body_marks[BodyMark.POSTURE, body] = posture
    attack = queries.attack_of(world, body)
    if attack is None or not attack.pose_last:
        rest(world, body)
    set_pace(world, body)


def rest(world: World, body: int) -> None:
    """Take a body's joints to where they are in its posture, in the air to where they are standing."""
    pose(world, body, _rest_pose(world, body), 0)


def _rest_pose(world: World, body: int) -> int:
    marks = world.block.body_marks
    posture = marks[BodyMark.POSTURE, body] if marks[BodyMark.GROUNDED, body] else Posture.STANDING
    return queries.fighter_of(world, body).rest_poses[posture]


def rest_again(world: World) -> None:
    """Take the joints of bodies that hold a posture elsewhere when they left the ground or came down to it."""
    marks = world.block.body_marks
    for body in (marks[BodyMark.POSTURE] > Posture.AIRBORNE).nonzero()[0].tolist():
        rows, wanted = queries.fighter_of(world, body).rest_poses, _rest_pose(world, body)
        row = marks[BodyMark.POSE, body]
        if row != wanted and row in rows and not marks[BodyMark.POSE_LAST, body]:
            pose(world, body, wanted, 0)


def raise_guard(world: World, body: int) -> None:
    """Note that from this tick on, or from when a broken one is back, a body's guard is up if it holds it."""
    marks = world.block.body_marks
    marks[BodyMark.GUARD_SINCE, body] = max(world.counts[Count.TICK], int(marks[BodyMark.GUARD_BACK_TICK, body]))


def pose(world: World, body: int, first: int, last: int) -> None:
    """Take a body's joints along a part of the pose tracks from this tick on."""
    marks, tick = world.block.body_marks, world.counts[Count.TICK]
    marks[BodyMark.POSE, body], marks[BodyMark.POSE_LAST, body], marks[BodyMark.POSE_TICK, body] = first, last, tick
    world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], last + 2)


def protect(world: World, body: int, ticks: int) -> None:
    """Protect a body that respawned for some ticks, this one the first."""
    world.block.body_marks[BodyMark.PROTECTED, body] |= ProtectedBy.RESPAWN
    world.block.timers[Timer.PROTECTION_END][body] = world.counts[Count.TICK] + ticks
    world.wake(world.counts[Count.TICK] + ticks)


def bare(world: World, body: int) -> None:
    """End the protection of a body that stood again."""
    world.block.body_marks[BodyMark.PROTECTED, body] &= ~ProtectedBy.RESPAWN
    world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)


def cover(world: World, body: int, *, hide: int = 0, show: int = 0, protected: bool | None = None) -> None:
    """Hide and show hurtboxes of a body, a bit each, and put it out of reach or back."""
    marks = world.block.body_marks
    marks[BodyMark.HIDDEN, body] = int(marks[BodyMark.HIDDEN, body]) & ~show | hide
    if protected is not None:
        marks[BodyMark.PROTECTED, body] = int(marks[BodyMark.PROTECTED, body]) & ~ProtectedBy.ATTACK | (
            ProtectedBy.ATTACK if protected else 0
        )
    world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)


def lunge(world: World, body: int, velocity: Vector, *, lasting: bool) -> None:
    """Give a body a velocity; while a lunge lasts nothing else moves it."""
    block = world.block
    block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body] = velocity
    block.bodies[BodyColumn.HEAD_START : BodyColumn.HEAD_START + 4, body] = 0.0
    block.body_marks[BodyMark.LUNGES, body] = lasting
    block.body_marks[BodyMark.KNOCKBACK, body] = Knockback.NONE
    if velocity[2] > 0.0:
        block.body_marks[BodyMark.GROUNDED, body] = 0
    set_moving(world, body)


def knock(world: World, bodies: list[int], velocities: NDArray[np.float64], replaces: NDArray[np.bool_]) -> None:
    """Give bodies the velocities (3, n) of pushes, on top of what they had or in its place; they move by that alone."""
    block, v = world.block, slice(BodyColumn.VELOCITY, BodyColumn.VELOCITY + 3)
    block.bodies[v, bodies] = velocities + np.where(replaces, 0.0, block.bodies[v, bodies])
    grounded = block.body_marks[BodyMark.GROUNDED, bodies] != 0
    rise = block.bodies[BodyColumn.VELOCITY + 2, bodies]
    block.bodies[BodyColumn.VELOCITY + 2, bodies] = np.where(grounded, np.maximum(rise, 0.0), rise)
    block.body_marks[BodyMark.GROUNDED, bodies] = grounded & (rise <= 0.0)
    block.body_marks[BodyMark.LUNGES, bodies] = 0
    block.body_marks[BodyMark.KNOCKBACK, bodies] = Knockback.FLYING
    block.body_marks[BodyMark.MOVEMENT, bodies] = Movement.MOVING
    world.counts[Count.MOVING_BODIES] = max(world.counts[Count.MOVING_BODIES], 1)


def coast(world: World, body: int) -> None:
    """End a lunge: the pull and the orders take over."""
    if world.block.body_marks[BodyMark.LUNGES, body]:
        world.block.body_marks[BodyMark.LUNGES, body] = 0
        set_moving(world, body)


def look(world: World, seat: int, body: int | None, *, at_foes: bool) -> None:
    """Let a seat's body turn to its nearest foe from now on, or no longer."""
    world.block.seat_marks[SeatMark.TURNS_TO_FOES, seat] = at_foes
    if body is not None:
        world.block.body_marks[BodyMark.TURNS_TO_FOES, body] = at_foes
    if at_foes:
        world.counts[Count.TURNING_TO_FOES] = 1


def fall(world: World, body: int, died: int) -> None:
    """Make a body a corpse: it does nothing any more but drop to the ground."""
    block = world.block
    marks = block.body_marks
    become(world, body, ActionState.DEAD)
    marks[BodyMark.PRESENCE, body] = Presence.CORPSE
    marks[BodyMark.REACTION, body] = 0
    block.timers[Timer.REACTION_END][body] = NEVER
    marks[BodyMark.DEATH_SEQ, body] = died
    for mark in (BodyMark.PATH, BodyMark.TURNS_TO_FOES, BodyMark.LUNGES, BodyMark.CHARGING_SINCE):
        marks[mark, body] = 0
    block.bodies[BodyColumn.WISH : BodyColumn.WISH + 2, body] = 0.0


def remove(world: World, body: int, reason: Reason, time: float = TICK_START) -> None:
    """Take a body away and free its column; the shapes of what could be hit are laid again."""
    block = world.block
    if block.body_marks[BodyMark.PRESENCE, body] == Presence.LIVE or block.body_marks[BodyMark.REVIVABLE, body]:
        world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)
    world.emit(
        BodyRemoved(
            time=time,
            seat=world.name_of_body(body),
            cause=int(block.body_marks[BodyMark.DEATH_SEQ, body])
            if block.body_marks[BodyMark.PRESENCE, body] == Presence.CORPSE
            else None,
            life=int(block.body_marks[BodyMark.LIFE, body]),
            reason=reason,
        )
    )
    if world.plan.most_hitboxes:
        close_all(world, body)
    if block.body_marks[BodyMark.RAGDOLL, body] > 1:
        world.counts[Count.MOVING_RAGDOLLS] -= 1
    if world.plan.most_ragdoll_points:
        block.ragdoll[:, body * world.plan.most_ragdoll_points : (body + 1) * world.plan.most_ragdoll_points] = 0.0
    block.combos.forget_other(body)
    rows = (block.bar_gaps, block.bar_since, block.trail_gaps, block.trail_since)
    pooled = (block.pools, block.pools_since, block.pools_max, block.hurt_by, block.hurt_at)
    for view in (block.bodies, block.body_marks, block.ready, *pooled, *rows):
        view[:, body] = 0
    for timer in block.timers[: Timer.AFFLICTION]:
        timer[body] = NEVER


def close_all(world: World, body: int) -> None:
    """Put out every hitbox of a body, and forget whom its swing touched."""
    block, most = world.block, world.plan.most_hitboxes
    block.swing_touches.forget(body)
    columns = slice(body * most, (body + 1) * most)
    world.counts[Count.HITBOXES_ON] -= int((block.volumes[ShapeColumn.KIND, columns] != 0.0).sum())
    block.volume_marks[:, columns] = 0
    block.volumes[:, columns] = 0.0
