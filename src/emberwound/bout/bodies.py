"""Bodies come and go: standing up, walking as they are told, falling, being taken away."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import (
    BODIES_MADE,
    BODY_ATTACK,
    BODY_CHARGING,
    BODY_DIED,
    BODY_GUARD_BACK,
    BODY_GUARD_SINCE,
    BODY_GUARDLESS,
    BODY_LIFE,
    CORPSE,
    DUE_REMOVE,
    DUE_STAGE,
    ENTRY,
    ENTRY_AHEAD,
    LAY,
    LIVE,
    LOOKERS,
    MOVE,
    MOVERS,
    SEAT_BODY,
    SEAT_FIGHTER,
    SEAT_GUARD,
    SEAT_LIFE,
    SEAT_LOOKS,
    SEAT_PATH,
    SEAT_TEAM,
    TICK,
)
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_END,
    FRAME_GROUNDED,
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
    FRAME_START,
    FRAME_TEAM,
    FRAME_VELOCITY,
    FRAME_WISH,
    pose_row,
)
from emberwound.geometry.walk import MOVES
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import BodyRemoved

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.plan import AttackPlan, FighterPlan
    from emberwound.plan.plane import Vector
    from emberwound.vocabulary.reasons import Reason

MOVING, AIRBORNE, GUARDING = "moving", "airborne", "guarding"


def stand(world: World, seat: int) -> int:
    """Give a seat a new body where it entered, pools at their start, doing as it was last told; its column."""
    block, counts = world.block, world.counts
    row: int = block.body_marks[FRAME_ID].tolist().index(0)
    counts[BODIES_MADE] += 1
    marks, fighter = block.body_marks, world.fighter_of_seat(seat)
    marks[FRAME_ID, row] = counts[BODIES_MADE]
    marks[FRAME_OWNER, row] = seat + 1
    marks[FRAME_MODEL, row] = block.seat_marks[SEAT_FIGHTER, seat]
    marks[FRAME_LIVE, row] = LIVE
    marks[FRAME_TEAM, row] = block.seat_marks[SEAT_TEAM, seat]
    marks[FRAME_POSE, row] = fighter.rest_pose
    marks[FRAME_LOOKS, row] = block.seat_marks[SEAT_LOOKS, seat]
    marks[BODY_LIFE, row] = block.seat_marks[SEAT_LIFE, seat]
    block.bodies[FRAME_START : FRAME_START + 3, row] = block.seats[ENTRY : ENTRY + 3, seat]
    block.bodies[FRAME_END : FRAME_END + 3, row] = block.seats[ENTRY : ENTRY + 3, seat]
    block.bodies[FRAME_PACE, row] = 1.0
    block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row] = block.seats[ENTRY_AHEAD : ENTRY_AHEAD + 2, seat]
    for index, pool in enumerate(fighter.bears.pools):
        block.pools[index, row] = pool.start
        block.pools_since[index, row] = counts[TICK]
    raise_guard(world, row)
    block.seat_marks[SEAT_BODY, seat] = row + 1
    counts[LAY] = max(counts[LAY], 1)
    marks[FRAME_GROUNDED, row] = stands_at(world, float(block.bodies[FRAME_START + 2, row]))
    if not marks[FRAME_GROUNDED, row]:
        set_moving(world, row)
    follow_orders(world, row)
    return row


def stands_at(world: World, height: float) -> bool:
    """Whether a body whose feet are at `height` stands on the ground of the arena; walls are felt when it moves."""
    return height <= world.plan.floor or not world.plan.plane.has_heights


def set_moving(world: World, row: int) -> None:
    """Let a body move by itself from this tick on."""
    world.block.body_marks[FRAME_MOVES, row] = MOVES
    world.counts[MOVERS] = max(world.counts[MOVERS], 1)


def follow_orders(world: World, row: int) -> None:
    """Let a body walk as its seat was last told, or stand still for an attack that is not done moving."""
    block = world.block
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter, attack = world.fighter_of_seat(seat), attack_of(world, row)
    free = attack is None or MOVING in attack.states
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


def attack_of(world: World, row: int) -> AttackPlan | None:
    """The attack a body is busy with, or None."""
    slot = int(world.block.body_marks[BODY_ATTACK, row]) - 1
    return None if slot < 0 else fighter_of(world, row).attacks[slot]


def fighter_of(world: World, row: int) -> FighterPlan:
    """The plan of the fighter that a body is."""
    return world.plan.fighters[int(world.block.body_marks[FRAME_MODEL, row])]


def states_of(world: World, row: int) -> list[str]:
    """What a body is doing besides its attack: moving, airborne, guarding."""
    block = world.block
    marks, bodies = block.body_marks, block.bodies
    walks = marks[FRAME_PATH, row] or bodies[FRAME_WISH : FRAME_WISH + 2, row].any()
    found = [MOVING] if walks and marks[FRAME_GROUNDED, row] else []
    if not marks[FRAME_GROUNDED, row]:
        found.append(AIRBORNE)
    if is_guarding(world, row):
        found.append(GUARDING)
    return found


def is_guarding(world: World, row: int) -> bool:
    """Whether a body holds its guard: its seat does, it is not broken, and its attack, if any, goes with it."""
    block = world.block
    if not block.seat_marks[SEAT_GUARD, block.body_marks[FRAME_OWNER, row] - 1]:
        return False
    if block.body_marks[BODY_GUARD_BACK, row] > world.counts[TICK] or block.body_marks[BODY_GUARDLESS, row]:
        return False
    attack = attack_of(world, row)
    return attack is None or GUARDING in attack.states


def set_pace(world: World, row: int, pace: float, *, guardless: bool) -> None:
    """Let a body walk with a share of its speed from now on, and keep its guard down or not."""
    block = world.block
    if block.body_marks[BODY_GUARDLESS, row] and not guardless:
        raise_guard(world, row)
    block.body_marks[BODY_GUARDLESS, row] = guardless
    if block.bodies[FRAME_PACE, row] != pace:
        block.bodies[FRAME_PACE, row] = pace
        follow_orders(world, row)


def place_of(world: World, row: int) -> list[float]:
    """Where a body stands at the start of the tick."""
    place: list[float] = world.block.bodies[FRAME_START : FRAME_START + 3, row].tolist()
    return place


def raise_guard(world: World, row: int) -> None:
    """Note that from this tick on, or from when a broken one is back, a body's guard is up if it holds it."""
    marks = world.block.body_marks
    marks[BODY_GUARD_SINCE, row] = max(world.counts[TICK], int(marks[BODY_GUARD_BACK, row]))


def pose(world: World, row: int, first: int, last: int) -> None:
    """Take a body's joints along a stretch of the pose tracks from this tick on."""
    marks, tick = world.block.body_marks, world.counts[TICK]
    marks[FRAME_POSE, row], marks[FRAME_POSE_LAST, row], marks[FRAME_POSE_TICK, row] = first, last, tick
    world.counts[LAY] = max(world.counts[LAY], last + 2)


def joint_of(world: World, row: int, joint: int) -> Vector:
    """A joint's offset (ahead, left, up) at the start of the tick."""
    place = world.plan.tables.tracks[pose_row(world.block.body_marks, row, world.counts[TICK]), joint]
    ahead, left, up = place.tolist()
    return (ahead, left, up)


def lunge(world: World, row: int, velocity: Vector, *, lasting: bool) -> None:
    """Give a body a velocity; while a lunge lasts nothing else moves it."""
    block = world.block
    block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, row] = velocity
    block.body_marks[FRAME_LUNGES, row] = lasting
    if velocity[2] > 0.0:
        block.body_marks[FRAME_GROUNDED, row] = 0
    set_moving(world, row)


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


def corpse_of(world: World, seat: int) -> int | None:
    """The column of the corpse a seat has lying in the arena, or None."""
    marks = world.block.body_marks
    owners, states = marks[FRAME_OWNER].tolist(), marks[FRAME_LIVE].tolist()
    pairs = enumerate(zip(owners, states, strict=True))
    return next((row for row, (owner, state) in pairs if owner == seat + 1 and state == CORPSE), None)


def fall(world: World, row: int, died: int) -> None:
    """Make a body a corpse: it does nothing any more but drop to the ground."""
    block = world.block
    marks = block.body_marks
    marks[FRAME_LIVE, row] = CORPSE
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
        cause=int(block.body_marks[BODY_DIED, row]),
        life=int(block.body_marks[BODY_LIFE, row]),
        reason=reason,
    )
    rows = (block.row_counts, block.row_times)
    pooled = (block.pools, block.pools_since, block.pools_max)
    for view in (block.bodies, block.body_marks, block.ready, *pooled, *rows):
        view[:, row] = 0
    for timer in (DUE_REMOVE, DUE_STAGE):
        block.timers[timer][row] = NEVER


def row_of(world: World, seat: int) -> int | None:
    """The column of a seat's living body, or None."""
    row = int(world.block.seat_marks[SEAT_BODY, seat]) - 1
    return None if row < 0 else row
