"""Phase 6: what the contacts mean, one after the other in their stated order."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import shots
from emberwound.bout.block import SHOT_RELEASED, TICK
from emberwound.bout.world import Slain
from emberwound.combat.wound import deal
from emberwound.geometry.contact import (
    FOUND_CAPSULE,
    FOUND_FRACTION,
    FOUND_LEG,
    FOUND_SECONDS,
    FOUND_WHAT,
    FOUND_X,
    MARK_ID,
    MARK_OWNER,
    MARK_TICK,
    MET_CAPSULE,
    MET_FLOOR,
)
from emberwound.geometry.pose import FRAME_MODEL, FRAME_OWNER
from emberwound.vocabulary.events import Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.plane import Vector


def judgement(world: World) -> None:
    """Judge contacts in the order of impact time, attacker's seat, and shot."""
    if not world.contacts:
        return
    marks = world.block.shot_marks
    found = world.found[:, : world.contacts].T.tolist()
    found_marks = world.found_marks[:, : world.contacts].T.tolist()
    legs = [line[FOUND_LEG] for line in found_marks]
    owners, numbers = marks[MARK_OWNER, legs].tolist(), marks[MARK_ID, legs].tolist()
    order = sorted(range(len(found)), key=lambda i: (found[i][FOUND_FRACTION], owners[i], numbers[i]))
    for index in order:
        _judge(world, found[index], found_marks[index])
    world.contacts = 0


def _judge(world: World, line: list[float], line_marks: list[int]) -> None:
    row, what = line_marks[FOUND_LEG], line_marks[FOUND_WHAT]
    seconds = line[FOUND_SECONDS]
    born = int(world.block.shot_marks[MARK_TICK, row])
    time = born / world.plan.tick_rate + seconds
    position = (line[FOUND_X], line[FOUND_X + 1], line[FOUND_X + 2])
    if what == MET_CAPSULE:
        _hit(world, row, line_marks[FOUND_CAPSULE], position, time)
        return
    at_birth = seconds == 0.0
    if what == MET_FLOOR:
        reason = Reason.MUZZLE_IN_FLOOR if at_birth else Reason.FLOOR
    else:
        reason = Reason.MUZZLE_OUT_OF_BOUNDS if at_birth else Reason.OUT_OF_BOUNDS
    shots.end(world, row, reason, position, time=time)


def _hit(world: World, shot: int, capsule: int, position: Vector, time: float) -> None:
    block, plan = world.block, world.plan
    body, part = divmod(capsule, plan.most_hurtboxes)
    fighter = plan.fighters[block.body_marks[FRAME_MODEL, body]]
    attack = shots.attack_of(world, shot)
    hurtbox = fighter.hurtboxes[part]
    count = len(fighter.pools.pools)
    ledger, after = deal(attack.wound, hurtbox, fighter.pools, block.pools[:count, body].tolist())
    block.pools[:count, body] = after
    for loss in ledger.losses:
        index = next(index for index, pool in enumerate(fighter.pools.pools) if pool.name == loss.pool)
        block.pools_since[index, body] = world.counts[TICK]
    vital = fighter.pools.vital
    seat = world.names[block.body_marks[FRAME_OWNER, body] - 1]
    by = world.names[block.shot_marks[MARK_OWNER, shot] - 1]
    wound = world.emit(
        Wounded,
        time=time,
        seat=seat,
        by=by,
        cause=int(block.shot_marks[SHOT_RELEASED, shot]),
        attack=attack.name,
        kind=attack.wound.kind,
        shot=int(block.shot_marks[MARK_ID, shot]),
        hurtbox=hurtbox.name,
        position=world.point(position),
        amount=ledger.amount,
        ledger=ledger,
        vital_left=after[vital],
        vital_max=fighter.pools.pools[vital].maximum,
    )
    if after[vital] == 0.0:
        slain = world.slain.setdefault(body, Slain(body, wound, time, by, attack.name, hurtbox.name))
        slain.overkill += ledger.overkill
    shots.end(world, shot, Reason.HIT, position, time=time, seat=seat, cause=wound, hurtbox=hurtbox.name)
