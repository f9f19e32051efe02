"""A blow that landed: its wound, the pools it takes from, and whether it was the last."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import bodies
from emberwound.bout.block import TICK
from emberwound.bout.world import Slain
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import deal
from emberwound.geometry.pose import FRAME_OWNER
from emberwound.vocabulary.events import Wounded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.plan import AttackPlan
    from emberwound.plan.plane import Vector


class Blow(NamedTuple):
    """What lands: whose, of which attack, by which shot, from which event, and what its charge multiplies it by."""

    by: int
    attack: AttackPlan
    number: int
    cause: int
    charge: float | None


def strike(world: World, blow: Blow, shape: int, position: Vector, time: float) -> tuple[int, str, str]:
    """Wound the body whose hurtbox is `shape`; the `seq` of the wound, the seat, and the hurtbox's name."""
    block, plan = world.block, world.plan
    body, part = divmod(shape, plan.most_hurtboxes)
    fighter = bodies.fighter_of(world, body)
    hurtbox = fighter.hurtboxes[part]
    count = len(fighter.bears.pools)
    before = block.pools[:count, body].tolist()
    hit = Circumstance(blow.attack.name, fighter.name, charge=blow.charge)
    ledger, after = deal(blow.attack.wound, hurtbox, fighter.bears, before, plan.house, hit)
    for index in range(count):
        if after[index] != before[index]:
            block.pools[index, body] = after[index]
            block.pools_since[index, body] = world.counts[TICK]
    vital = fighter.bears.vital
    seat = world.names[block.body_marks[FRAME_OWNER, body] - 1]
    by = world.names[blow.by]
    wound = world.emit(
        Wounded,
        time=time,
        seat=seat,
        by=by,
        cause=blow.cause,
        attack=blow.attack.name,
        kind=blow.attack.wound.kind,
        shot=blow.number,
        hurtbox=hurtbox.name,
        position=world.point(position),
        amount=ledger.amount,
        ledger=ledger,
        vital_left=after[vital],
        vital_max=fighter.bears.pools[vital].maximum,
    )
    if after[vital] == 0.0:
        slain = world.slain.setdefault(body, Slain(body, wound, time, by, blow.attack.name, hurtbox.name))
        slain.overkill += ledger.overkill
    return wound, seat, hurtbox.name
