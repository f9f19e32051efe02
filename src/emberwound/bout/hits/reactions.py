"""Reactions: chosen from what a tick's hits were like, begun after it, and over in their time."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement
from emberwound.bout.hits import guard
from emberwound.bout.orders.input_buffer import shorten_buffer
from emberwound.bout.state import queries
from emberwound.bout.state.action_state import action_of, become
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of, number_of
from emberwound.bout.state.pending import PendingReaction
from emberwound.combat.hit import Stagger
from emberwound.combat.reaction import HitSummary, choose, side_of
from emberwound.geometry.layout import BodyColumn, BodyMark, Knockback, Presence
from emberwound.vocabulary.action_state import ActionState
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import ReactionBegan, ReactionEnded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit, HitLocation
    from emberwound.bout.state.world import World
    from emberwound.combat.guard import GuardOutcome
    from emberwound.combat.hit import HitResult
    from emberwound.combat.reaction import ReactionTerms
    from emberwound.plan.fighter_plans import FighterPlan


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
    towards = guard.towards_source(world, hit, where)
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


def stagger(world: World, body: int, fighter: FighterPlan) -> Stagger | None:
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
            number = choose(fighter.reactions, hit.summary) if hit.staggers else None
            if number is not None and (
                chosen is None or fighter.reactions[number].severity >= fighter.reactions[chosen[0]].severity
            ):
                chosen = (number, hit)
        if chosen is not None:
            _begin(world, body, fighter, *chosen)
    world.stagger_left.clear()


def _write_stagger(world: World, body: int) -> None:
    left = world.stagger_left.get(body)
    if left is not None:
        world.block.bodies[BodyColumn.STAGGER_LEFT, body] = left
        world.block.body_marks[BodyMark.STAGGER_SINCE, body] = world.counts[Count.TICK]


def _begin(world: World, body: int, fighter: FighterPlan, number: int, hit: PendingReaction) -> None:
    block, after = world.block, world.counts[Count.TICK] + 1
    marks, terms = block.body_marks, fighter.reactions[number]
    running = reaction_of(world, body)
    attack = queries.attack_of(world, body)
    if running is not None and running.severity > terms.severity:
        return
    if attack is not None and attack.withstands_severity >= terms.severity:
        return
    seat = world.seat_of(body)
    why = Reason.PARRIED if hit.summary.parried else Reason.WOUNDED
    timeline.interrupt(world, body, why, hit.time, hit.cause)
    if "attack" in terms.locks:
        shorten_buffer(world, seat)
    become(world, body, ActionState.REACTING)
    until = after + fighter.reaction_ticks[number]
    marks[BodyMark.REACTION, body], marks[BodyMark.REACTION_SINCE, body] = mark_of(number), after
    marks[BodyMark.VARIANT, body] = variant = next_variant(world, body, number, terms)
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


def next_variant(world: World, body: int, number: int, terms: ReactionTerms) -> int:
    """The next variant of a row of a body's table: by turns over all lives of its seat."""
    turns, seat = world.block.variant_turns, world.seat_of(body)
    count = int(turns[number, seat])
    turns[number, seat] = count + 1
    return count % len(terms.variants)


def dying(world: World, body: int) -> tuple[int, int] | None:
    """How a body dies: the row of its table for its lethal hit, and the variant, by their numbers."""
    hits, fighter = world.pending_reactions.get(body), queries.fighter_of(world, body)
    if not hits:
        return None
    death = world.lethal_hits[body]
    lethal = next((hit for hit in hits if hit.cause == death.wound), hits[-1])
    number = choose(fighter.reactions, lethal.summary._replace(dying=True))
    return None if number is None else (number, next_variant(world, body, number, fighter.reactions[number]))


def run_on(world: World, body: int, number: int, variant: int) -> None:
    """Let a corpse go through the reaction that it died with, for whoever draws it; it locks nothing."""
    marks, after = world.block.body_marks, world.counts[Count.TICK] + 1
    until = after + queries.fighter_of(world, body).reaction_ticks[number]
    marks[BodyMark.REACTION, body], marks[BodyMark.REACTION_SINCE, body] = mark_of(number), after
    marks[BodyMark.VARIANT, body] = variant
    world.block.timers[Timer.REACTION_END][body] = until
    world.wake(until)


def reaction_of(world: World, body: int) -> ReactionTerms | None:
    """The reaction a body is in, or None."""
    number = number_of(int(world.block.body_marks[BodyMark.REACTION, body]))
    return None if number < 0 else queries.fighter_of(world, body).reactions[number]


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
