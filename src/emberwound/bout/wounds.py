"""A blow that landed: the guard it meets, its wound or healing, the pools it changes, and whether it was the last."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import afflictions, bodies, pools
from emberwound.bout.block import BODY_GUARD_BACK, BODY_GUARD_SINCE, TICK
from emberwound.bout.world import Slain
from emberwound.combat.guard import angle_from_front, covers, stop
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import before_guard, deal, mend
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_END, FRAME_OWNER, FRAME_START
from emberwound.vocabulary.events import Guarded, Healed, Wounded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.combat.guard import Guarded as Stopped
    from emberwound.plan.plan import AttackPlan
    from emberwound.plan.plane import Vector


class Blow(NamedTuple):
    """What lands: whose, of which attack, by which shot, from which event, how charged, from how far, moving how."""

    by: int
    attack: AttackPlan
    number: int
    cause: int
    charge: float | None
    distance: float
    travel: Vector


class Struck(NamedTuple):
    """What a blow touched: the column of the hurtbox, the place, and the exact time."""

    shape: int
    position: Vector
    time: float


class Landed(NamedTuple):
    """Where and when a blow landed: the body, its hurtbox's number, the place, and the exact time."""

    body: int
    part: int
    position: Vector
    time: float


def strike(world: World, blow: Blow, struck: Struck) -> tuple[int, str, str]:
    """Let a blow take effect on the body it struck; the event it ends in, the seat, the hurtbox.

    Healing waits until all wounds of the tick are judged; it then ends in the event of its release.
    """
    body, part = divmod(struck.shape, world.plan.most_hurtboxes)
    landed = Landed(body, part, struck.position, struck.time)
    fighter = bodies.fighter_of(world, body)
    seat = world.names[world.block.body_marks[FRAME_OWNER, body] - 1]
    hurtbox = fighter.hurtboxes[part].name
    if blow.attack.wound.heals:
        world.healing.append((blow, landed))
        return blow.cause, seat, hurtbox
    return _wound(world, blow, landed), seat, hurtbox


def _wound(world: World, blow: Blow, landed: Landed) -> int:
    block, plan = world.block, world.plan
    body, part, position, time = landed
    fighter = bodies.fighter_of(world, body)
    bears, hurtbox = pools.bears_of(world, body), fighter.hurtboxes[part]
    row = _in_a_row(world, blow.by, body, time) if plan.combo_ticks else 0
    marked = afflictions.marked(world, body) if plan.afflictions else 1.0
    hit = Circumstance(blow.attack.name, fighter.name, blow.distance, blow.charge, row, marked)
    before = pools.values(world, body, bears)
    cause, emptied = blow.cause, []
    stopped = _guard(world, blow, landed, hit, before) if bears.guard else None
    if stopped is not None:
        cause = _tell_guarded(world, blow, landed, stopped)
        if stopped.drained and bears.guard:
            held = [*before]
            held[bears.guard.pool] -= stopped.drained
            emptied += pools.spend(world, body, before, held)
            before = held
        hit = hit._replace(guard_share=stopped.share, guard_why=stopped.why)
    ledger, after = deal(blow.attack.wound, hurtbox, bears, before, plan.house, hit)
    emptied += pools.spend(world, body, before, after, bears)
    seat, by = world.names[block.body_marks[FRAME_OWNER, body] - 1], world.names[blow.by]
    if stopped is None or ledger.amount > 0.0:
        cause = world.emit(
            Wounded,
            time=time,
            seat=seat,
            by=by,
            cause=cause,
            attack=blow.attack.name,
            kind=blow.attack.wound.kind,
            shot=blow.number,
            hurtbox=hurtbox.name,
            position=world.point(position),
            amount=ledger.amount,
            ledger=ledger,
            vital_left=after[bears.vital],
            vital_max=bears.pools[bears.vital].maximum,
        )
    pools.tell_emptied(world, seat, emptied, cause, time)
    if blow.attack.afflicts and ledger.amount > 0.0 and after[bears.vital] > 0.0:
        afflictions.afflict(world, blow, landed, cause)
    if after[bears.vital] == 0.0:
        slain = world.slain.setdefault(body, Slain(body, cause, time, by, blow.attack.name, hurtbox.name))
        slain.overkill += ledger.overkill
    return cause


def _in_a_row(world: World, by: int, body: int, time: float) -> int:
    """How many wounds of this seat on this body came less than the book's time apart before this one."""
    block, plan = world.block, world.plan
    apart = Fraction((time - float(block.row_times[by, body])) * plan.tick_rate)
    count = int(block.row_counts[by, body]) if apart < plan.combo_ticks else 0
    block.row_counts[by, body] = count + 1
    block.row_times[by, body] = time
    return count


def _guard(world: World, blow: Blow, landed: Landed, hit: Circumstance, before: list[float]) -> Stopped | None:
    """What the victim's guard does with a blow, by the state at the start of the phase; None when it meets none."""
    block, body = world.block, landed.body
    fighter = bodies.fighter_of(world, body)
    guard = fighter.bears.guard
    if guard is None:
        return None
    if body not in world.guards:
        world.guards[body] = bodies.is_guarding(world, body)
    if not world.guards[body]:
        return None
    start, end = block.bodies[FRAME_START : FRAME_START + 2, body], block.bodies[FRAME_END : FRAME_END + 2, body]
    moving = ((end - start) * world.plan.tick_rate).tolist()
    towards = (moving[0] - blow.travel[0], moving[1] - blow.travel[1])
    angle = angle_from_front(block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist(), towards)
    if not covers(guard, blow.attack.wound, angle):
        return None
    _, amount = before_guard(blow.attack.wound, fighter.hurtboxes[landed.part], fighter.bears, world.plan.house, hit)
    held = landed.time - int(block.body_marks[BODY_GUARD_SINCE, body]) / world.plan.tick_rate
    pool = before[guard.pool] if guard.pool >= 0 else 0.0
    stopped = stop(guard, amount, held, pool)
    if stopped.breaks:
        block.body_marks[BODY_GUARD_BACK, body] = world.counts[TICK] + 1 + fighter.broken_ticks
    return stopped


def _tell_guarded(world: World, blow: Blow, landed: Landed, stopped: Stopped) -> int:
    owner = world.block.body_marks[FRAME_OWNER, landed.body] - 1
    return world.emit(
        Guarded,
        time=landed.time,
        seat=world.names[owner],
        by=world.names[blow.by],
        cause=blow.cause,
        attack=blow.attack.name,
        shot=blow.number,
        hurtbox=bodies.fighter_of(world, landed.body).hurtboxes[landed.part].name,
        position=world.point(landed.position),
        share=stopped.share,
        drained=stopped.drained,
        perfect=stopped.perfect,
        broken=stopped.breaks,
    )


def heal_all(world: World) -> None:
    """Mend what this tick's healing blows mend, after all its wounds; they undo no death."""
    for blow, landed in world.healing:
        fighter = bodies.fighter_of(world, landed.body)
        bears, hurtbox = pools.bears_of(world, landed.body), fighter.hurtboxes[landed.part]
        before = pools.values(world, landed.body)
        hit = Circumstance(blow.attack.name, fighter.name, blow.distance, blow.charge)
        ledger, after = mend(blow.attack.wound, bears, hurtbox.route, before, hit)
        if landed.body in world.slain:
            after = before
        pools.spend(world, landed.body, before, after)
        afflictions.cure(world, landed.body, blow.attack.wound.kind, landed.time)
        world.emit(
            Healed,
            time=landed.time,
            seat=world.names[world.block.body_marks[FRAME_OWNER, landed.body] - 1],
            by=world.names[blow.by],
            cause=blow.cause,
            attack=blow.attack.name,
            kind=blow.attack.wound.kind,
            shot=blow.number,
            hurtbox=hurtbox.name,
            position=world.point(landed.position),
            amount=sum(new - old for old, new in zip(before, after, strict=True)),
            ledger=ledger,
            vital_left=after[bears.vital],
            vital_max=bears.pools[bears.vital].maximum,
        )
    world.healing.clear()
