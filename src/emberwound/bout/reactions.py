"""Reactions: chosen from what a tick's blows were like, begun after it, and over in their time."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout import attacks, bodies, conditions
from emberwound.bout.block import (
    BODY_REACTION,
    BODY_REACTS_SINCE,
    BODY_RESISTANCE,
    BODY_RESISTS_SINCE,
    BODY_VARIANT,
    DUE_REACTION,
    SEAT_LOOKS,
    TICK,
)
from emberwound.bout.doings import become, doing_of
from emberwound.bout.presses import hurry_kept
from emberwound.combat.reaction import Impact, choose, resist, side_of
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_GROUNDED, FRAME_LOOKS, FRAME_OWNER, FRAME_THROWN
from emberwound.geometry.thrown import SETTLING
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.doings import Doing
from emberwound.vocabulary.events import Reacted, Recovered
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.world import World
    from emberwound.bout.wounds import Blow, Landed
    from emberwound.combat.guard import Guarded
    from emberwound.combat.reaction import ReactionTerms
    from emberwound.plan.fighter_plans import FighterPlan


class Hit(NamedTuple):
    """A blow of this tick as reactions see it: what it was like, when, by whom, and the event it ended in."""

    impact: Impact
    time: float
    by: str | None
    cause: int


def note(
    world: World,
    blow: Blow,
    landed: Landed,
    fighter: FighterPlan,
    towards: Sequence[float],
    figures: tuple[float, float, int],
    stopped: Guarded | None,
) -> None:
    """Take note of a blow on a fighter with a table; `figures` are its points, its push, and its event."""
    damage, push, cause = figures
    block, plane, body = world.block, world.plan.plane, landed.body
    heading = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, body].tolist()
    side = side_of(heading, towards, looks_around=plane.looks_around, has_heights=plane.has_heights)
    hurtbox = fighter.hurtboxes[landed.part].name
    airborne = not block.body_marks[FRAME_GROUNDED, body]
    guarded, breaks = stopped is not None, stopped is not None and stopped.breaks
    impact = Impact(guarded, breaks, side, hurtbox, blow.wound.kind, damage, push, airborne, dying=False)
    world.hits.setdefault(body, []).append(Hit(impact, landed.time, world.name_of(blow.by), cause))


def settle(world: World) -> None:
    """Begin what the blows of this tick lead to: of several the most severe, of equals the last."""
    for row, hits in world.hits.items():
        if row in world.slain:
            continue
        fighter = conditions.fighter_of(world, row)
        chosen: tuple[int, Hit] | None = None
        for hit in hits:
            if _is_resisted(world, row, fighter, hit.impact):
                continue
            number = choose(fighter.reactions, hit.impact)
            if number is not None and (
                chosen is None or fighter.reactions[number].severity >= fighter.reactions[chosen[0]].severity
            ):
                chosen = (number, hit)
        if chosen is not None:
            _begin(world, row, fighter, *chosen)


def _is_resisted(world: World, row: int, fighter: FighterPlan, impact: Impact) -> bool:
    """Whether a body takes a blow without a reaction; what it holds against them is drained by it."""
    terms, block = fighter.resistance, world.block
    if terms is None or impact.guarded:
        return False
    held, since = float(block.bodies[BODY_RESISTANCE, row]), int(block.body_marks[BODY_RESISTS_SINCE, row])
    idle = (world.counts[TICK] - since) / world.plan.tick_rate - terms.delay
    held = min(held + terms.refill * max(idle, 0.0), terms.points)
    resisted, block.bodies[BODY_RESISTANCE, row] = resist(terms, held, impact.damage)
    block.body_marks[BODY_RESISTS_SINCE, row] = world.counts[TICK]
    return resisted


def _begin(world: World, row: int, fighter: FighterPlan, number: int, hit: Hit) -> None:
    block, after = world.block, world.counts[TICK] + 1
    marks, terms = block.body_marks, fighter.reactions[number]
    running = reaction_of(world, row)
    attack = conditions.attack_of(world, row)
    if running is not None and running.severity > terms.severity:
        return
    if attack is not None and attack.resists >= terms.severity:
        return
    seat = int(marks[FRAME_OWNER, row]) - 1
    attacks.break_off(world, row, Reason.WOUNDED, hit.time, hit.cause)
    if "attack" in terms.locks:
        hurry_kept(world, seat)
    become(world, row, Doing.REACTING)
    until = after + fighter.reaction_ticks[number]
    marks[BODY_REACTION, row], marks[BODY_REACTS_SINCE, row] = number + 1, after
    marks[BODY_VARIANT, row] = variant = next_variant(world, row, number, terms)
    if "turn" in terms.locks:
        marks[FRAME_LOOKS, row] = 0
    block.timers[DUE_REACTION][row] = until
    world.wake(until)
    bodies.follow_orders(world, row)
    world.emit(
        Reacted,
        time=hit.time,
        seat=world.names[seat],
        by=hit.by,
        cause=hit.cause,
        reaction=terms.name,
        variant=terms.variants[variant],
        part=terms.part,
        side=hit.impact.side,
        guarded=hit.impact.guarded,
        until_tick=until,
    )


def next_variant(world: World, row: int, number: int, terms: ReactionTerms) -> int:
    """The next variant of a row of a body's table: they take turns, so none comes twice running."""
    count = int(world.block.reacted[number, row])
    world.block.reacted[number, row] = count + 1
    return count % len(terms.variants)


def dying(world: World, row: int) -> tuple[str | None, str | None]:
    """How a body dies: the row of its table for its lethal blow, and the variant."""
    hits, fighter = world.hits.get(row), conditions.fighter_of(world, row)
    if not hits:
        return None, None
    slain = world.slain[row]
    lethal = next((hit for hit in hits if hit.cause == slain.wound), hits[-1])
    number = choose(fighter.reactions, lethal.impact._replace(dying=True))
    if number is None:
        return None, None
    terms = fighter.reactions[number]
    return terms.name, terms.variants[next_variant(world, row, number, terms)]


def reaction_of(world: World, row: int) -> ReactionTerms | None:
    """The reaction a body is in, or None."""
    number = int(world.block.body_marks[BODY_REACTION, row]) - 1
    return None if number < 0 else conditions.fighter_of(world, row).reactions[number]


def end(world: World, row: int) -> None:
    """Let a reaction be over: orders count again, and a guard that is still held goes up."""
    terms = reaction_of(world, row)
    if terms is None:
        return
    forget(world, row)
    become(world, row, Doing.FREE)
    block = world.block
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    block.body_marks[FRAME_LOOKS, row] = block.seat_marks[SEAT_LOOKS, seat]
    if block.body_marks[FRAME_THROWN, row]:
        block.body_marks[FRAME_THROWN, row] = SETTLING
    if "guard" in terms.locks:
        bodies.raise_guard(world, row)
    bodies.follow_orders(world, row)
    guarding = conditions.is_guarding(world, row)
    world.emit(Recovered, seat=world.names[seat], reaction=terms.name, guarding=guarding)


def forget(world: World, row: int) -> None:
    """Take a reaction off a body."""
    marks = world.block.body_marks
    for mark in (BODY_REACTION, BODY_VARIANT, BODY_REACTS_SINCE):
        marks[mark, row] = 0
    world.block.timers[DUE_REACTION][row] = NEVER


def is_reacting(world: World, row: int) -> bool:
    """Whether a body is in a reaction."""
    return doing_of(world, row) is Doing.REACTING
