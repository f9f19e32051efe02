"""Guards and reactions: what a held guard sees of a hit, and what its victim does after it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement
from emberwound.bout.orders.input_buffer import shorten_buffer
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, index_of_mark, mark_of
from emberwound.bout.state.pending import PendingReaction
from emberwound.bout.state.queries import action_of, become
from emberwound.combat.hit import GuardStance, Stagger
from emberwound.combat.push import without_noise
from emberwound.combat.reaction import HitSummary, choose, side_of
from emberwound.combat.wound import angle_from_front
from emberwound.geometry.layout import BodyColumn, BodyMark, Knockback, Presence
from emberwound.vocabulary.action_state import ActionState
from emberwound.vocabulary.clock import NEVER, exact_ticks
from emberwound.vocabulary.events import Guarded, ReactionBegan, ReactionEnded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World, WorldState
    from emberwound.combat.hit import HitResult
    from emberwound.combat.reaction import ReactionTerms
    from emberwound.combat.wound import GuardOutcome
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector


def guard_stance(world: World, hit: Hit, where: HitLocation) -> GuardStance | None:
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


def emit_guarded(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, outcome: GuardOutcome) -> int:
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
            shot=hit.shot,
            hitbox=hit.hitbox,
            hurtbox=fighter.hurtboxes[where.part].name,
            position=world.point(where.position),
            share=outcome.share,
            drained=outcome.drained,
            perfect=outcome.perfect,
            broken=outcome.breaks,
        )
    )
    guard = fighter.table.guard
    sends_back = guard is not None and (guard.reflects == "always" or (guard.reflects == "perfect" and outcome.perfect))
    if sends_back and hit.shot and hit.blast is None and not outcome.breaks:
        once = (hit.shot, where.body)  # two guards in each other would send it to and fro for ever
        if once not in world.returned:
            world.returned.add(once)
            world.sent_back[hit.shot] = seq
    return seq


def note(
    world: World,
    hit: Hit,
    where: HitLocation,
    fighter: FighterPlan,
    figures: tuple[float, float, int],
    result: HitResult,
) -> None:
    """Take note of a hit on a fighter with a table; `figures` are its points, its push, and its event."""
    damage, push, cause = figures
    block, space, body = world.block, world.plan.space, where.body
    heading = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    towards = towards_source(world, hit, where)
    side = side_of(heading, towards, looks_around=space.looks_around, has_heights=space.has_heights)
    hurtbox = fighter.hurtboxes[where.part].name
    airborne = not block.body_marks[BodyMark.GROUNDED, body]
    guarded, breaks = result.guard is not None, result.guard is not None and result.guard.breaks
    summary = HitSummary(guarded, breaks, side, hurtbox, hit.plan.wound.kind, damage, push, airborne, dying=False)
    if result.stagger_left is not None:
        world.stagger_left[body] = result.stagger_left
    world.pending_reactions.setdefault(body, []).append(
        PendingReaction(summary, where.time, world.name_of(hit.by), cause, result.staggers)
    )


def note_parry(world: World, hit: Hit, where: HitLocation, outcome: GuardOutcome, cause: int) -> None:
    """Take note of a body's strike that met a guard's perfect moment."""
    body, by = hit.striker, world.name_of_body(where.body)
    if not outcome.perfect or body < 0 or not queries.fighter_of(world, body).reactions:
        return
    airborne = not world.block.body_marks[BodyMark.GROUNDED, body]
    kind = hit.plan.wound.kind
    summary = HitSummary(False, False, "front", "", kind, 0.0, 0.0, airborne, dying=False, parried=True)
    world.pending_reactions.setdefault(body, []).append(PendingReaction(summary, where.time, by, cause, staggers=True))


def stagger(world: WorldState, body: int, fighter: FighterPlan) -> Stagger | None:
    """What a body holds against reacting to the next hit of this tick; None for a fighter without such terms."""
    terms, block = fighter.stagger_resistance, world.block
    if terms is None or not fighter.reactions:
        return None
    left = world.stagger_left.get(body)
    if left is None:
        since = int(block.body_marks[BodyMark.STAGGER_SINCE, body])
        idle = (world.counts[Count.TICK] - since) / world.plan.tick_rate - terms.delay
        left = float(block.bodies[BodyColumn.STAGGER_LEFT, body]) + terms.refill * max(idle, 0.0)
    return Stagger(terms, min(left, terms.points))


def settle(world: World) -> None:
    """Begin what the hits of this tick lead to: of several the most severe, of equals the last."""
    for body, hits in world.pending_reactions.items():
        if body in world.lethal_hits or world.block.body_marks[BodyMark.PRESENCE, body] != Presence.LIVE:
            continue
        _write_stagger(world, body)
        fighter = queries.fighter_of(world, body)
        chosen: tuple[int, PendingReaction] | None = None
        for hit in hits:
            index = choose(fighter.reactions, hit.summary) if hit.staggers else None
            if index is not None and (
                chosen is None or fighter.reactions[index].severity >= fighter.reactions[chosen[0]].severity
            ):
                chosen = (index, hit)
        if chosen is not None:
            _begin(world, body, fighter, *chosen)
    world.stagger_left.clear()


def _write_stagger(world: World, body: int) -> None:
    left = world.stagger_left.get(body)
    if left is not None:
        world.block.bodies[BodyColumn.STAGGER_LEFT, body] = left
        world.block.body_marks[BodyMark.STAGGER_SINCE, body] = world.counts[Count.TICK]


def _begin(world: World, body: int, fighter: FighterPlan, index: int, hit: PendingReaction) -> None:
    block, after = world.block, world.counts[Count.TICK] + 1
    marks, terms = block.body_marks, fighter.reactions[index]
    running = reaction_of(world, body)
    attack = queries.attack_of(world, body)
    if running is not None and running.severity > terms.severity:
        return
    if attack is not None and attack.table.withstands_severity >= terms.severity:
        return
    seat = world.seat_of(body)
    why = Reason.PARRIED if hit.summary.parried else Reason.WOUNDED
    timeline.interrupt(world, body, why, hit.time, hit.cause)
    if "attack" in terms.locks:
        shorten_buffer(world, seat)
    become(world, body, ActionState.REACTING)
    until = after + fighter.reaction_ticks[index]
    marks[BodyMark.REACTION, body], marks[BodyMark.REACTION_SINCE, body] = mark_of(index), after
    marks[BodyMark.VARIANT, body] = variant = next_variant(world, body, index, terms)
    if "turn" in terms.locks:
        marks[BodyMark.TURNS_TO_FOES, body] = 0
    block.timers[Timer.REACTION_END][body] = until
    world.wake(until)
    movement.follow_orders(world, body)
    world.emit(
        ReactionBegan(
            time=hit.time,
            seat=world.names[seat],
            by=hit.by,
            cause=hit.cause,
            reaction=terms.name,
            variant=terms.variants[variant],
            part=terms.part,
            side=hit.summary.side,
            guarded=hit.summary.guarded,
            until_tick=until,
        )
    )


def next_variant(world: World, body: int, index: int, terms: ReactionTerms) -> int:
    """The next variant of a row of a body's table: by turns over all lives of its seat."""
    turns, seat = world.block.variant_turns, world.seat_of(body)
    count = int(turns[index, seat])
    turns[index, seat] = count + 1
    return count % len(terms.variants)


def dying(world: World, body: int) -> tuple[int, int] | None:
    """How a body dies: the row of its table for its lethal hit, and the variant, by their indexes."""
    hits, fighter = world.pending_reactions.get(body), queries.fighter_of(world, body)
    if not hits:
        return None
    death = world.lethal_hits[body]
    lethal = next((hit for hit in hits if hit.cause == death.wound), hits[-1])
    index = choose(fighter.reactions, lethal.summary._replace(dying=True))
    return None if index is None else (index, next_variant(world, body, index, fighter.reactions[index]))


def run_on(world: World, body: int, index: int, variant: int) -> None:
    """Let a corpse go through the reaction that it died with, for whoever draws it; it locks nothing."""
    marks, after = world.block.body_marks, world.counts[Count.TICK] + 1
    until = after + queries.fighter_of(world, body).reaction_ticks[index]
    marks[BodyMark.REACTION, body], marks[BodyMark.REACTION_SINCE, body] = mark_of(index), after
    marks[BodyMark.VARIANT, body] = variant
    world.block.timers[Timer.REACTION_END][body] = until
    world.wake(until)


def reaction_of(world: WorldState, body: int) -> ReactionTerms | None:
    """The reaction a body is in, or None."""
    index = index_of_mark(int(world.block.body_marks[BodyMark.REACTION, body]))
    return None if index < 0 else queries.fighter_of(world, body).reactions[index]


def end(world: World, body: int) -> None:
    """Let a reaction be over: orders count again, and a guard that is still held goes up; nothing of a corpse's."""
    terms = reaction_of(world, body)
    if terms is None:
        return
    forget(world, body)
    if world.block.body_marks[BodyMark.PRESENCE, body] != Presence.LIVE:
        return
    if is_reacting(world, body):
        become(world, body, ActionState.FREE)
    block = world.block
    seat = world.seat_of(body)
    block.body_marks[BodyMark.TURNS_TO_FOES, body] = block.seat_marks[SeatMark.TURNS_TO_FOES, seat]
    if block.body_marks[BodyMark.KNOCKBACK, body]:
        block.body_marks[BodyMark.KNOCKBACK, body] = Knockback.SETTLING
    if "guard" in terms.locks:
        movement.raise_guard(world, body)
    movement.follow_orders(world, body)
    guarding = queries.is_guarding(world, body)
    world.emit(ReactionEnded(seat=world.names[seat], reaction=terms.name, guarding=guarding))


def forget(world: World, body: int) -> None:
    """Take a reaction off a body."""
    marks = world.block.body_marks
    for mark in (BodyMark.REACTION, BodyMark.VARIANT, BodyMark.REACTION_SINCE):
        marks[mark, body] = 0
    world.block.timers[Timer.REACTION_END][body] = NEVER


def is_reacting(world: World, body: int) -> bool:
    """Whether a body is in a reaction."""
    return action_of(world, body) is ActionState.REACTING
