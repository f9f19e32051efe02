"""Judges the contacts of a tick together, where none of them does more than take points from a pool or end a shot."""

from __future__ import annotations

from math import inf
from operator import itemgetter
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.hits.damage import follow_plainly, plain_points
from emberwound.bout.hits.judges import shots, touches
from emberwound.bout.hits.side_by_side import WoundSource, all_suit, deal, may_be_dealt, tell
from emberwound.bout.state.layout import Count, number_of
from emberwound.bout.state.pending import HitLocation
from emberwound.geometry.layout import BodyMark, FoundColumn, Met, ShotColumn, ShotMark
from emberwound.vocabulary.clock import on_grid
from emberwound.vocabulary.events import ShotEnded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, QueuedContact
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import AttackPlan, HitPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


class _Line(NamedTuple):
    """What a contact comes to: when and where, whose, of which attack and event, by which shot or hitbox.

    And what it hits, if anything: by which plan which hurtbox of which body.
    """

    time: float
    position: Vector
    by: int
    attack: AttackPlan
    cause: int
    shot: int = 0
    hitbox: str | None = None
    plan: HitPlan | None = None
    body: int = -1
    part: int = -1


def judge(world: World, queue: list[QueuedContact]) -> bool:
    """Judge the contacts of a tick in columns, in their order; False for a tick with any other sort of contact."""
    queue.sort(key=ORDER)
    lines: list[_Line] = []
    for contact in queue:
        read = _READERS.get(contact[5])
        line = read(world, contact) if read else None
        if line is None:
            return False
        lines.append(line)
    hits = [line for line in lines if line.plan is not None]
    bodies = [line.body for line in hits]
    if not bodies or not all_suit(world, bodies):
        return False
    owners, models = (world.block.body_marks[mark, bodies].tolist() for mark in (BodyMark.OWNER, BodyMark.MODEL))
    fighters = [world.plan.fighters[model] for model in models]
    points = [
        plain_points(world, line.plan, line.attack.name, fighter, line.part)[0]  # type: ignore[arg-type]
        for line, fighter in zip(hits, fighters, strict=True)
    ]
    pools = deal(world, bodies, [line.by for line in hits], points, [line.time for line in hits])
    seats = [world.names[number_of(owner)] for owner in owners]
    wounds = iter(zip(seats, fighters, points, *pools, strict=True))
    for contact, line in zip(queue, lines, strict=True):
        seat = hurtbox = None
        cause = line.cause
        if line.plan is not None:
            seat, fighter, amount, before, after = next(wounds)
            hurtbox = fighter.hurtboxes[line.part]
            cause = _wound(world, contact, line, line.plan, seat, fighter, (amount, before, after))
        if line.shot:
            _end(world, contact, line, cause, seat, hurtbox.name if hurtbox else None)
        else:
            _touched(world, contact)
    return True


ORDER = itemgetter(0, 1, 2, 3, 4)
"""What decides which contact of a tick comes first."""


def _of_shot(world: World, contact: QueuedContact) -> _Line | None:
    """A shot that hits or ends; None for one that does more than that."""
    found, (_, what, shape), segment, mark = contact[-1]
    plan = world.plan
    attack = plan.fighters[mark[ShotMark.FIGHTER]].attacks[mark[ShotMark.SLOT]]
    if attack.blast >= 0:
        return None
    _, seconds, x, y, z = found
    time = segment[ShotColumn.TICK] / plan.tick_rate + segment[ShotColumn.BEGIN] + seconds
    whose = (time, (x, y, z), mark[ShotMark.OWNER] - 1, attack, mark[ShotMark.RELEASE_SEQ], mark[ShotMark.ID])
    if what != Met.SHAPE or shape >= world.block.first_wall:
        return None if mark[ShotMark.BOUNCES] and what in (Met.SHAPE, Met.FLOOR) else _Line(*whose)
    if mark[ShotMark.PIERCES] or not _is_simple(world, attack, attack.hit):
        return None
    return _Line(*whose, None, attack.hit, *divmod(shape, plan.most_hurtboxes))


def _of_strike(world: World, contact: QueuedContact) -> _Line | None:
    """What a strike hits; None where it does more than that, or depends on what else is hit in the tick."""
    touch, _, swing = contact[-1]
    strike, hitbox = swing.strike, swing.strike.hitboxes[contact[3]]
    has_walls = world.block.shapes.shape[1] > world.block.first_wall
    if (strike.walls_block and has_walls) or 0.0 < strike.rehit < 1.0 or strike.leaves or world.plan.trade_ticks < 1.0:
        return None
    if not _is_simple(world, swing.attack, hitbox.hit):
        return None
    time = (world.counts[Count.TICK] + touch.share) / world.plan.tick_rate
    body, part = divmod(touch.shape, world.plan.most_hurtboxes)
    return _Line(time, touch.position, swing.by, swing.attack, swing.cause, 0, hitbox.name, hitbox.hit, body, part)


_READERS = {shots.judge: _of_shot, touches.judge_strike: _of_strike}


def _is_simple(world: World, attack: AttackPlan, plan: HitPlan) -> bool:
    return not (plan.wound.falloff or attack.charge) and may_be_dealt(world, plan)


def _wound(
    world: World,
    contact: QueuedContact,
    line: _Line,
    plan: HitPlan,
    seat: str,
    fighter: FighterPlan,
    figures: tuple[float, float, float],
) -> int:
    """Tell of a wound, and let follow what does; its event. `figures` are as `side_by_side.tell` takes them."""
    where = HitLocation(line.body, line.part, line.position, line.time)
    what = WoundSource(line.by, line.attack.name, plan.wound, line.cause, line.shot, line.hitbox)
    cause, ledger = tell(world, what, where, fighter, seat, figures)
    _, before, after = figures
    if after == 0.0 or fighter.reactions or plan.pushes or plan.stop_ticks:
        follow_plainly(world, _hit_of(world, contact, line), where, fighter, (ledger, before, after), cause)
    return cause


def _hit_of(world: World, contact: QueuedContact, line: _Line) -> Hit:
    if line.shot:
        found, _, segment, mark = contact[-1]
        return shots.hit_of(world, segment, mark, line.position, found[FoundColumn.SECONDS])
    touch, _, swing = contact[-1]
    return touches.hit_of(swing, contact[3], touch)


def _end(world: World, contact: QueuedContact, line: _Line, cause: int, seat: str | None, hurtbox: str | None) -> None:
    """Tell of the end of a shot."""
    found, (shot, what, shape), segment, _ = contact[-1]
    reason, wall = Reason.HIT, None
    if seat is None:
        reason = shots.ENDS[what][found[FoundColumn.SECONDS] == 0.0 and segment[ShotColumn.BEGIN] == 0.0]
        wall = world.plan.wall_names[shape - world.block.first_wall] if what == Met.SHAPE else None
    world.emit(
        ShotEnded(
            time=line.time,
            seat=seat,
            by=world.names[line.by],
            cause=cause,
            attack=line.attack.name,
            shot=line.shot,
            reason=reason,
            position=world.point(line.position),
            hurtbox=hurtbox,
            wall=wall,
        )
    )
    world.ended_shots.append(shot)


def _touched(world: World, contact: QueuedContact) -> None:
    """Take note of whom a swing touched."""
    touch, seat, swing = contact[-1]
    world.block.body_marks[BodyMark.SWING_TOUCHED, swing.striker] += 1
    rehit = swing.strike.rehit
    world.block.swing_touches.put(
        swing.striker, seat, on_grid(world.counts[Count.TICK] + touch.share + rehit) if rehit else inf
    )
