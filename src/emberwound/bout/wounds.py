"""A blow that landed: the guard it meets, its wound or healing, the pools it changes, and whether it was the last."""

from __future__ import annotations

from fractions import Fraction
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import afflictions, attacks, conditions, credit, pools, pushes, reactions
from emberwound.bout.block import BODY_GUARD_BACK, BODY_GUARD_SINCE, TICK
from emberwound.bout.world import Slain
from emberwound.combat.guard import angle_from_front, covers, stop
from emberwound.combat.reaction import side_of
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import before_guard, deal, kill, mend
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_FROZEN, FRAME_MODEL, FRAME_OWNER
from emberwound.vocabulary.events import Guarded, Healed, PropStruck, Wounded

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.combat.guard import Guarded as Stopped
    from emberwound.combat.push import PushTerms
    from emberwound.combat.reaction import Side
    from emberwound.combat.terms import BodyTerms, HurtboxTerms, WoundTerms
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.plane import Vector
    from emberwound.vocabulary.ledger import Ledger


class Blow(NamedTuple):
    """What lands: whose (below 0 nobody's), called what, its wound and what it leaves, and from which event.

    Then by which shot (0 for none) or hitbox, how charged and from how far; where it comes from, or else how it moves
    and where it left; its push by the victim's fighter, and how strong that is; for how many ticks it stops whom it
    hits, and the body that strikes; and whether it is fatal.
    """

    by: int
    name: str
    wound: WoundTerms
    afflicts: tuple[int, ...]
    cause: int | None
    number: int = 0
    hitbox: str | None = None
    charge: float | None = None
    distance: float = 0.0
    source: Vector | None = None
    travel: Vector = (0.0, 0.0, 0.0)
    origin: Vector = (0.0, 0.0, 0.0)
    pushes: tuple[PushTerms, ...] = ()
    strength: float = 1.0
    stop_ticks: int = 0
    striker: int = -1
    fatal: bool = False


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


def strike(world: World, blow: Blow, struck: Struck) -> tuple[int | None, str, str]:
    """Let a blow take effect on the body it struck; the event it ends in, the seat, the hurtbox.

    Healing waits until all wounds of the tick are judged; it then ends in the event of its release.
    """
    body, part = divmod(struck.shape, world.plan.most_hurtboxes)
    landed = Landed(body, part, struck.position, struck.time)
    marks = world.block.body_marks
    fighter = world.plan.fighters[marks[FRAME_MODEL, body]]
    seat = world.names[marks[FRAME_OWNER, body] - 1]
    hurtbox = fighter.hurtboxes[part].name
    if fighter.is_prop:
        return _knock(world, blow, landed, fighter, seat), seat, hurtbox
    if blow.wound.heals:
        world.healing.append((blow, landed))
        return blow.cause, seat, hurtbox
    return _wound(world, blow, landed, fighter, seat), seat, hurtbox


def _knock(world: World, blow: Blow, landed: Landed, fighter: FighterPlan, seat: str) -> int:
    """What a blow does to a prop: it is thrown, as strongly as if it had been hurt."""
    hurtbox = fighter.hurtboxes[landed.part]
    hit = Circumstance(blow.name, fighter.name, blow.distance, blow.charge, 0, 1.0)
    _, amount = before_guard(blow.wound, hurtbox, fighter.bears, world.plan.house, hit)
    cause = world.emit(
        PropStruck,
        time=landed.time,
        seat=seat,
        by=world.name_of(blow.by),
        cause=blow.cause,
        attack=blow.name,
        shot=blow.number,
        hitbox=blow.hitbox,
        hurtbox=hurtbox.name,
        position=world.point(landed.position),
    )
    _throw(world, blow, landed, fighter, None, amount, cause)
    return cause


def _wound(world: World, blow: Blow, landed: Landed, fighter: FighterPlan, seat: str) -> int | None:
    plan = world.plan
    body, part, position, time = landed
    bears, hurtbox = pools.bears_of(world, body, fighter), fighter.hurtboxes[part]
    suffers = hurtbox if blow.by >= 0 else fighter.all_over
    row = _in_a_row(world, blow.by, body, time) if plan.combo_ticks and blow.by >= 0 else 0
    marked = afflictions.marked(world, body) if plan.afflictions else 1.0
    distance = blow.distance if blow.wound.falloff or plan.house.steps else 0.0
    hit = Circumstance(blow.name, fighter.name, distance, blow.charge, row, marked)
    before = pools.values(world, body, bears)
    cause: int | None = blow.cause
    emptied: list[str] = []
    credit.note(world, body, blow.by, time)
    stopped = _guard(world, blow, landed, hit, before) if bears.guard and not blow.fatal else None
    if stopped is not None:
        cause = _tell_guarded(world, blow, landed, stopped)
        if stopped.drained and bears.guard:
            held = [*before]
            held[bears.guard.pool] -= stopped.drained
            emptied += pools.spend(world, body, before, held)
            before = held
        hit = hit._replace(guard_share=stopped.share, guard_why=stopped.why)
    ledger, after = kill(bears, before) if blow.fatal else _deal(world, blow.wound, suffers, bears, before, hit)
    emptied += pools.spend(world, body, before, after, bears)
    by = world.name_of(blow.by)
    if stopped is None or ledger.amount > 0.0:
        cause = world.emit(
            Wounded,
            time=time,
            seat=seat,
            by=by,
            cause=cause,
            attack=blow.name,
            kind=blow.wound.kind,
            shot=blow.number,
            hitbox=blow.hitbox,
            hurtbox=hurtbox.name,
            position=world.point(position),
            amount=ledger.amount,
            ledger=ledger,
            vital_left=after[bears.vital],
            vital_max=bears.pools[bears.vital].maximum,
        )
    if cause is None:
        return None
    if blow.pushes or fighter.reactions or blow.stop_ticks:
        _throw(world, blow, landed, fighter, stopped, ledger.amount, cause)
    if emptied:
        pools.tell_emptied(world, seat, emptied, cause, time)
    if ledger.amount > 0.0:
        attacks.may_break_off(world, body, blow.wound.kind, time, cause)
    if blow.afflicts and ledger.amount > 0.0 and after[bears.vital] > 0.0:
        afflictions.afflict(world, blow, landed, cause)
    if after[bears.vital] == 0.0:
        _slay(world, blow, landed, hurtbox.name, cause).overkill += ledger.overkill
    return cause


def _slay(world: World, blow: Blow, landed: Landed, hurtbox: str, cause: int) -> Slain:
    """Note that a blow was the last of a body, unless an earlier one was."""
    if landed.body not in world.slain:
        side, by = _side(world, blow, landed), world.name_of(blow.by)
        world.slain[landed.body] = Slain(landed.body, cause, landed.time, by, blow.name, hurtbox, side)
    return world.slain[landed.body]


def _side(world: World, blow: Blow, landed: Landed) -> Side:
    """The side of its victim that a blow comes from."""
    heading = world.block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, landed.body].tolist()
    plane = world.plan.plane
    towards = _towards(world, blow, landed)
    return side_of(heading, towards, looks_around=plane.looks_around, has_heights=plane.has_heights)


def _stop(world: World, blow: Blow, body: int, cause: int) -> None:
    """Note that a blow stops its victim, and who strikes it, for a while; the longest of a tick counts."""
    for row in (body, blow.striker) if blow.striker >= 0 else (body,):
        if blow.stop_ticks > world.freezes.get(row, (0, 0))[0]:
            world.freezes[row] = (blow.stop_ticks, cause)


def _throw(
    world: World,
    blow: Blow,
    landed: Landed,
    fighter: FighterPlan,
    stopped: Stopped | None,
    amount: float,
    cause: int,
) -> None:
    """What a blow does to its victim besides the wound: hit stop, its push, and what the victim may react to."""
    if blow.stop_ticks:
        _stop(world, blow, landed.body, cause)
    speed = 0.0
    if blow.pushes:
        share = fighter.hurtboxes[landed.part].push_share * (1.0 if stopped is None else stopped.push_share)
        share *= blow.strength
        speed = pushes.gather(world, blow, landed, fighter, amount, share, cause)
    if fighter.reactions:
        towards = _towards(world, blow, landed)
        reactions.note(world, blow, landed, fighter, towards, (amount, speed, cause), stopped)


def _deal(
    world: World, wound: WoundTerms, hurtbox: HurtboxTerms, bears: BodyTerms, before: list[float], hit: Circumstance
) -> tuple[Ledger, list[float]]:
    """What a wound takes; the same wound in the same circumstance is reckoned once in a tick."""
    key = (id(wound), id(hurtbox), id(bears), hit, *before)
    found = world.dealt.get(key)
    if found is None:
        found = world.dealt[key] = (*deal(wound, hurtbox, bears, before, world.plan.house, hit), bears)
    return found[:2]


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
    fighter = conditions.fighter_of(world, body)
    guard = fighter.bears.guard
    if guard is None:
        return None
    if body not in world.guards:
        world.guards[body] = conditions.is_guarding(world, body)
    if not world.guards[body]:
        return None
    towards = _towards(world, blow, landed)
    angle = angle_from_front(block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist(), towards)
    if not covers(guard, blow.wound, angle):
        return None
    suffers = fighter.hurtboxes[landed.part] if blow.by >= 0 else fighter.all_over
    _, amount = before_guard(blow.wound, suffers, fighter.bears, world.plan.house, hit)
    now = max(landed.time, int(block.body_marks[FRAME_FROZEN, body]) / world.plan.tick_rate)
    held = now - int(block.body_marks[BODY_GUARD_SINCE, body]) / world.plan.tick_rate
    pool = before[guard.pool] if guard.pool >= 0 else 0.0
    stopped = stop(guard, amount, held, pool)
    if stopped.breaks:
        block.body_marks[BODY_GUARD_BACK, body] = world.counts[TICK] + 1 + fighter.broken_ticks
    return stopped


def _towards(world: World, blow: Blow, landed: Landed) -> Vector:
    """Where a blow comes from: its source, or against the way it moves relative to its victim."""
    rate, body = world.plan.tick_rate, landed.body
    if blow.source is not None:
        share = landed.time * rate - world.counts[TICK]
        x, y, z = conditions.place_at(world, body, share)
        return (blow.source[0] - x, blow.source[1] - y, blow.source[2] - z)
    start, end = conditions.place_at(world, body, 0.0), conditions.place_at(world, body, 1.0)
    x, y, z = ((b - a) * rate - c for a, b, c in zip(start, end, blow.travel, strict=True))
    return (x, y, z)


def _tell_guarded(world: World, blow: Blow, landed: Landed, stopped: Stopped) -> int:
    owner = world.block.body_marks[FRAME_OWNER, landed.body] - 1
    return world.emit(
        Guarded,
        time=landed.time,
        seat=world.names[owner],
        by=world.name_of(blow.by),
        cause=blow.cause,
        attack=blow.name,
        shot=blow.number,
        hitbox=blow.hitbox,
        hurtbox=conditions.fighter_of(world, landed.body).hurtboxes[landed.part].name,
        position=world.point(landed.position),
        share=stopped.share,
        drained=stopped.drained,
        perfect=stopped.perfect,
        broken=stopped.breaks,
    )


def heal_all(world: World) -> None:
    """Mend what this tick's healing blows mend, after all its wounds; they undo no death."""
    for blow, landed in world.healing:
        fighter = conditions.fighter_of(world, landed.body)
        bears, hurtbox = pools.bears_of(world, landed.body), fighter.hurtboxes[landed.part]
        before = pools.values(world, landed.body)
        hit = Circumstance(blow.name, fighter.name, blow.distance, blow.charge)
        ledger, after = mend(blow.wound, bears, hurtbox.route, before, hit)
        if landed.body in world.slain:
            after = before
        pools.spend(world, landed.body, before, after)
        afflictions.cure(world, landed.body, blow.wound.kind, landed.time)
        world.emit(
            Healed,
            time=landed.time,
            seat=world.names[world.block.body_marks[FRAME_OWNER, landed.body] - 1],
            by=world.name_of(blow.by),
            cause=blow.cause,
            attack=blow.name,
            kind=blow.wound.kind,
            shot=blow.number,
            hitbox=blow.hitbox,
            hurtbox=hurtbox.name,
            position=world.point(landed.position),
            amount=sum(new - old for old, new in zip(before, after, strict=True)),
            ledger=ledger,
            vital_left=after[bears.vital],
            vital_max=bears.pools[bears.vital].maximum,
        )
    world.healing.clear()
