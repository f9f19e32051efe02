"""What bodies are, where they stand, and what they do and may do at the moment, read from the block."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.state.layout import Count, Limit, SeatMark, index_of_mark, mark_of
from emberwound.geometry.layout import BodyColumn, BodyMark, ModelColumn, Posture, Presence, ShotMark
from emberwound.geometry.obstacles import FOOTHOLD, has_footing
from emberwound.geometry.pose import pose_of
from emberwound.vocabulary.action_state import FOLLOWS, ActionState
from emberwound.vocabulary.clock import exact_ticks
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World, WorldState
    from emberwound.plan import Plan
    from emberwound.plan.attack_plans import AttackPlan
    from emberwound.plan.fighter_plans import FighterPlan, StagePlan
    from emberwound.plan.space import Vector


def action_of(world: World, body: int) -> ActionState:
    """What a body does."""
    return ActionState(int(world.block.body_marks[BodyMark.ACTION, body]))


def become(world: World, body: int, state: ActionState) -> None:
    """Let a body do something else. Raises RuntimeError for what may not follow: a mistake of this library."""
    before = action_of(world, body)
    if state not in FOLLOWS[before]:
        raise RuntimeError(f"{state.name} may not follow {before.name}")
    world.block.body_marks[BodyMark.ACTION, body] = state


def become_free(world: World, body: int) -> None:
    """Let a body be done with an attack; a reaction that took its place, or that ran beside it, goes on."""
    if action_of(world, body) in (ActionState.ATTACKING, ActionState.CHARGING):
        reacts = world.block.body_marks[BodyMark.REACTION, body]
        become(world, body, ActionState.REACTING if reacts else ActionState.FREE)


MOVING, AIRBORNE, GUARDING = "moving", "airborne", "guarding"

NO_LOCKS: frozenset[str] = frozenset()
ALL_LOCKS = frozenset({"move", "attack", "guard", "turn"})


def column_of_shot(world: World, shot: int) -> int:
    """The column of a shot in flight. Raises BoutError when it is not, or no more."""
    ids = world.block.shot_marks[ShotMark.ID]
    columns: list[int] = (ids == shot).nonzero()[0].tolist()
    if not columns:
        flying = ", ".join(map(str, sorted(filter(None, ids.tolist())))) or "none"
        raise BoutError(f"shot {shot} is not in flight; flying: {flying}")
    return columns[0]


def stands_at(world: World, fighter: FighterPlan, place: Sequence[float]) -> bool:
    """Whether a body with its feet at a place stands: on the floor or a wall, up to FOOTHOLD of its radius below it.

    Seen from the top, or without gravity of its own, it stands everywhere.
    """
    model = world.plan.tables.models[:, fighter.id]
    if not world.plan.space.has_heights or model[ModelColumn.GRAVITY] == 0.0:
        return True
    x, y, z = (float(each) for each in place)
    height = float(model[ModelColumn.HEIGHT])
    radius = min(float(model[ModelColumn.RADIUS]), 0.5 * height)
    if z <= world.plan.floor + FOOTHOLD * radius:
        return True
    block = world.block
    return bool(has_footing(block.shapes, block.first_wall, (x, y, z), radius, height - 2.0 * radius))


def attack_of(world: WorldState, body: int) -> AttackPlan | None:
    """The attack a body is busy with, or None."""
    slot = index_of_mark(int(world.block.body_marks[BodyMark.ATTACK, body]))
    return None if slot < 0 else fighter_of(world, body).attacks[slot]


def fighter_of(world: WorldState, body: int) -> FighterPlan:
    """The plan of the fighter that a body is."""
    return world.plan.fighters[int(world.block.body_marks[BodyMark.MODEL, body])]


def stage_of(world: WorldState, body: int) -> StagePlan | None:
    """The stage that a body is in, or None."""
    index = index_of_mark(int(world.block.body_marks[BodyMark.STAGE, body]))
    return None if index < 0 else fighter_of(world, body).stages[index]


def usable_attacks(world: World, body: int) -> int:
    """The slots of the attacks that a body may use in its stage, a bit each."""
    stage = stage_of(world, body)
    return fighter_of(world, body).first_attacks if stage is None else stage.attacks


def states_of(world: WorldState, body: int) -> list[str]:
    """What a body is doing besides its attack: moving, airborne, guarding."""
    block = world.block
    marks, bodies = block.body_marks, block.bodies
    walks = marks[BodyMark.PATH, body] or bodies[BodyColumn.WISH : BodyColumn.WISH + 2, body].any()
    found = [MOVING] if walks and marks[BodyMark.GROUNDED, body] else []
    if not marks[BodyMark.GROUNDED, body]:
        found.append(AIRBORNE)
    if is_guarding(world, body):
        found.append(GUARDING)
    return found


def is_guarding(world: WorldState, body: int) -> bool:
    """Whether a body holds its guard: its seat does, it is not broken, and its attack, if any, goes with it."""
    block = world.block
    if not block.seat_marks[SeatMark.GUARD, world.seat_of(body)]:
        return False
    if (
        block.body_marks[BodyMark.GUARD_BACK_TICK, body] > world.counts[Count.TICK]
        or block.body_marks[BodyMark.GUARD_DISABLED, body]
    ):
        return False
    if "guard" in locks_of(world, body):
        return False
    attack = attack_of(world, body)
    return attack is None or GUARDING in attack.table.allowed_while


def locks_of(world: WorldState, body: int) -> frozenset[str]:
    """What a body cannot do for the reaction it is in, or for being held."""
    if world.has_grabs and world.block.body_marks[BodyMark.HELD_BY, body]:
        return ALL_LOCKS
    index = index_of_mark(int(world.block.body_marks[BodyMark.REACTION, body]))
    return fighter_of(world, body).reactions[index].locks if index >= 0 else NO_LOCKS


def place_at(world: World, body: int, share: float) -> Vector:
    """Where a body is at a fraction of the tick at hand."""
    a, b, c, x, y, z = world.block.bodies[BodyColumn.START : BodyColumn.END + 3, body].tolist()
    return (a + (x - a) * share, b + (y - b) * share, c + (z - c) * share)


def place_then(world: World, body: int, time: float) -> Vector:
    """Where a body is at an exact time of the tick at hand, in seconds."""
    return place_at(world, body, exact_ticks(time, world.plan.tick_rate) - world.counts[Count.TICK])


def nearest_foe(world: World, body: int, place: Vector) -> Vector | None:
    """The middle of the living body of another team that is nearest to a place, the first of equals; None for none."""
    return nearest_of_other_team(world, int(world.block.body_marks[BodyMark.TEAM, body]), place)


def nearest_of_other_team(world: World, team: int, place: Vector) -> Vector | None:
    """The same, for who is of a team."""
    block, marks = world.block, world.block.body_marks
    foes = ((marks[BodyMark.PRESENCE] == Presence.LIVE) & (marks[BodyMark.TEAM] != team)).nonzero()[0]
    if not foes.size:
        return None
    places = block.bodies[BodyColumn.START : BodyColumn.START + 3, foes].copy()
    if world.plan.space.has_heights:
        heights = [world.plan.fighters[model].height for model in marks[BodyMark.MODEL, foes].tolist()]
        places[2] += 0.5 * np.array(heights)
    x, y, z = places[:, int(((places.T - place) ** 2).sum(axis=1).argmin())].tolist()
    return (x, y, z)


def place_of(world: WorldState, body: int) -> list[float]:
    """Where a body stands at the start of the tick."""
    place: list[float] = world.block.bodies[BodyColumn.START : BodyColumn.START + 3, body].tolist()
    return place


def joint_of(world: World, body: int, joint: int) -> Vector:
    """A joint's offset (ahead, left, up) at the start of the tick."""
    place = world.plan.tables.tracks[pose_of(world.block.body_marks, body, world.counts[Count.TICK]), joint]
    ahead, left, up = place.tolist()
    return (ahead, left, up)


def lives_of(world: World, seat: int) -> int | None:
    """How many lives a seat has left, the one in play included; None without end."""
    lives = int(world.block.seat_marks[SeatMark.LIVES, seat])
    return None if lives >= Limit.ENDLESS_LIVES else lives


def corpse_of(world: World, seat: int) -> int | None:
    """The column of the corpse a seat has lying in the arena, or None."""
    marks = world.block.body_marks
    found = np.flatnonzero((marks[BodyMark.OWNER] == mark_of(seat)) & (marks[BodyMark.PRESENCE] == Presence.CORPSE))
    return int(found[0]) if found.size else None


def hidden_in(plan: Plan, marks: NDArray[np.int64]) -> NDArray[np.int64]:
    """A bit for each hurtbox that is off, by posture or attack, of n bodies whose marks are (marks, n)."""
    posture = np.where(marks[BodyMark.GROUNDED] != 0, marks[BodyMark.POSTURE], Posture.AIRBORNE)
    hidden: NDArray[np.int64] = marks[BodyMark.HIDDEN] | plan.tables.hidden[marks[BodyMark.MODEL], posture]
    return hidden


def body_of(world: World, seat: int) -> int | None:
    """The column of a seat's living body, or None."""
    body = index_of_mark(int(world.block.seat_marks[SeatMark.BODY, seat]))
    return None if body < 0 else body


def local_tick(world: World, body: int) -> int:
    """The tick that a body's own clock shows: that of its end, while it is frozen."""
    return max(world.counts[Count.TICK], int(world.block.body_marks[BodyMark.FROZEN_UNTIL, body]))
