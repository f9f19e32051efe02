"""What bodies are, where they stand, and what they may do at the moment, read from the block."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.block import (
    BODY_ATTACK,
    BODY_GUARD_BACK,
    BODY_GUARDLESS,
    BODY_REACTION,
    CORPSE,
    ENDLESS,
    SEAT_BODY,
    SEAT_GUARD,
    SEAT_LIVES,
    TICK,
)
from emberwound.geometry.pose import AIRBORNE as AIRBORNE_POSTURE
from emberwound.geometry.pose import (
    FRAME_END,
    FRAME_GROUNDED,
    FRAME_HIDDEN,
    FRAME_LIVE,
    FRAME_MODEL,
    FRAME_OWNER,
    FRAME_PATH,
    FRAME_POSTURE,
    FRAME_START,
    FRAME_WISH,
    pose_row,
)

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.world import World
    from emberwound.plan import Plan
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plane import Vector

MOVING, AIRBORNE, GUARDING = "moving", "airborne", "guarding"

NO_LOCKS: frozenset[str] = frozenset()


def stands_at(world: World, height: float) -> bool:
    """Whether a body whose feet are at `height` stands on the ground of the arena; walls are felt when it moves."""
    return height <= world.plan.floor or not world.plan.plane.has_heights


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
    if "guard" in locks_of(world, row):
        return False
    attack = attack_of(world, row)
    return attack is None or GUARDING in attack.states


def locks_of(world: World, row: int) -> frozenset[str]:
    """What a body cannot do for the reaction it is in."""
    number = int(world.block.body_marks[BODY_REACTION, row]) - 1
    return fighter_of(world, row).reactions[number].locks if number >= 0 else NO_LOCKS


def place_at(world: World, row: int, share: float) -> Vector:
    """Where a body is at a fraction of the tick at hand."""
    a, b, c, x, y, z = world.block.bodies[FRAME_START : FRAME_END + 3, row].tolist()
    return (a + (x - a) * share, b + (y - b) * share, c + (z - c) * share)


def place_of(world: World, row: int) -> list[float]:
    """Where a body stands at the start of the tick."""
    place: list[float] = world.block.bodies[FRAME_START : FRAME_START + 3, row].tolist()
    return place


def joint_of(world: World, row: int, joint: int) -> Vector:
    """A joint's offset (ahead, left, up) at the start of the tick."""
    place = world.plan.tables.tracks[pose_row(world.block.body_marks, row, world.counts[TICK]), joint]
    ahead, left, up = place.tolist()
    return (ahead, left, up)


def lives_of(world: World, seat: int) -> int | None:
    """How many lives a seat has left, the one in play included; None without end."""
    lives = int(world.block.seat_marks[SEAT_LIVES, seat])
    return None if lives >= ENDLESS else lives


def corpse_of(world: World, seat: int) -> int | None:
    """The column of the corpse a seat has lying in the arena, or None."""
    marks = world.block.body_marks
    found = np.flatnonzero((marks[FRAME_OWNER] == seat + 1) & (marks[FRAME_LIVE] == CORPSE))
    return int(found[0]) if found.size else None


def hidden_in(plan: Plan, marks: NDArray[np.int64]) -> NDArray[np.int64]:
    """A bit for each hurtbox that is off, by posture or attack, of n bodies whose marks are (marks, n)."""
    posture = np.where(marks[FRAME_GROUNDED] != 0, marks[FRAME_POSTURE], AIRBORNE_POSTURE)
    hidden: NDArray[np.int64] = marks[FRAME_HIDDEN] | plan.tables.hidden[marks[FRAME_MODEL], posture]
    return hidden


def row_of(world: World, seat: int) -> int | None:
    """The column of a seat's living body, or None."""
    row = int(world.block.seat_marks[SEAT_BODY, seat]) - 1
    return None if row < 0 else row
