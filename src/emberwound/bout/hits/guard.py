"""A held guard in a running bout: whether it is up, where a hit comes from, and what is told of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count
from emberwound.combat.guard import angle_from_front
from emberwound.combat.hit import GuardStance
from emberwound.combat.push import without_noise
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.vocabulary.clock import exact_ticks
from emberwound.vocabulary.events import Guarded

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World
    from emberwound.combat.guard import GuardOutcome
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


def stance(world: World, hit: Hit, where: HitLocation) -> GuardStance | None:
    """How a body's guard stands against a hit, by the state at the start of the phase; None when it is not up."""
    block, body, rate = world.block, where.body, world.plan.tick_rate
    if body not in world.guards:
        world.guards[body] = queries.is_guarding(world, body)
    if not world.guards[body]:
        return None
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    now = max(exact_ticks(where.time, rate), float(block.body_marks[BodyMark.FROZEN_UNTIL, body]))
    held = now - int(block.body_marks[BodyMark.GUARD_SINCE, body])
    return GuardStance(angle_from_front(ahead, towards_source(world, hit, where)), held / rate)


def towards_source(world: World, hit: Hit, where: HitLocation) -> Vector:
    """Where a hit comes from: its source, or against the way it moves relative to its victim.

    Blasts and hazards are seen from the middle of the victim's body, a body that strikes from the feet of both.
    """
    rate, body = world.plan.tick_rate, where.body
    if hit.source is not None:
        x, y, z = queries.place_then(world, body, where.time)
        height = queries.fighter_of(world, body).height
        middle = 0.5 * height if hit.hitbox is None else 0.0
        return without_noise((hit.source[0] - x, hit.source[1] - y, hit.source[2] - z - middle), height)
    start, end = queries.place_at(world, body, 0.0), queries.place_at(world, body, 1.0)
    x, y, z = ((b - a) * rate - c for a, b, c in zip(start, end, hit.travel, strict=True))
    return (x, y, z)


def tell(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, outcome: GuardOutcome) -> int:
    """Say what a guard did, and let one that broke stay down for its time; the event."""
    if outcome.breaks:
        back = world.counts[Count.TICK] + 1 + fighter.broken_ticks
        world.block.body_marks[BodyMark.GUARD_BACK_TICK, where.body] = back
    seq = world.emit(
        Guarded(
            time=where.time,
            seat=world.name_of_body(where.body),
            by=world.name_of(hit.by),
            cause=hit.cause,
            attack=hit.name,
            shot=hit.number,
            hitbox=hit.hitbox,
            hurtbox=fighter.hurtboxes[where.part].name,
            position=world.point(where.position),
            share=outcome.share,
            drained=outcome.drained,
            perfect=outcome.perfect,
            broken=outcome.breaks,
        )
    )
    sends_back = fighter.reflects == "always" or (fighter.reflects == "perfect" and outcome.perfect)
    if sends_back and hit.number and hit.blast is None and not outcome.breaks:
        once = (hit.number, where.body)  # two guards in each other would send it to and fro for ever
        if once not in world.returned:
            world.returned.add(once)
            world.sent_back[hit.number] = seq
    return seq
