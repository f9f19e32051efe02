"""Phases 5 to 8: contacts, what they mean in their stated order, what follows, and the next state."""

from __future__ import annotations

from heapq import heapify, heappop, heappush
from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles, timeline
from emberwound.bout.bodies import pools
from emberwound.bout.hits import contacts, grabs, knockback, reactions, shots_met, victims
from emberwound.bout.hits.damage import heal_all
from emberwound.bout.hits.judges import shots, touches, without_contact
from emberwound.bout.lives import areas, counters, cues, death
from emberwound.bout.orders.input_buffer import shorten_buffer
from emberwound.bout.state.layout import Count
from emberwound.geometry.layout import BodyColumn
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.events import Died


def contact(world: World) -> None:
    """Find what each shot meets first, and whom each swing and hazard touches; both sides may move."""
    if world.counts[Count.SHOTS_FLYING]:
        world.contacts = contacts.of_shots(world, 0, world.counts[Count.SHOTS_TOP])
    if world.counts[Count.HITBOXES_ON]:
        world.touches = contacts.of_strikes(world)
    if world.areas and (world.counts[Count.HAZARDS_NEAR] or world.counts[Count.DIRTY_POSE_TICKS]):
        found, world.counts[Count.HAZARDS_NEAR] = contacts.of_hazards(world)
        world.touches += found
    if shots_met.may_be(world):
        world.struck = without_contact.contacts_of(world)


def judgement(world: World) -> None:
    """Judge afflictions, rays and blasts, then contacts by impact time, attacker, release, hitbox and victim.

    What a host does to bodies, and throws, come before all of it. What goes on after a contact is asked for its next
    one in the same tick, which takes its place in the order.
    """
    if world.inputs:
        without_contact.judge_hosts(world)
    if world.pending_throws:
        without_contact.judge_throws(world)
    if world.pending_affliction_ticks:
        without_contact.judge_afflictions(world)
    if world.rays:
        for ray in world.rays:
            shots.judge_ray(world, ray)
        world.rays.clear()
    if world.pending_blasts:
        for blast in world.pending_blasts:
            shots_met.set_off(world, blast)
        world.pending_blasts.clear()
    if world.contacts or world.touches or world.struck:
        _judge_contacts(world)
    if world.healing:
        heal_all(world)
    _clear(world)


def _clear(world: World) -> None:
    """Write what the hits left of their victims, free the shots that ended, and forget what only hits needed."""
    if world.victims:
        victims.write(world)
    projectiles.free_ended(world)
    for table in (world.guards, world.resolved, world.swings, world.sent_back, world.returned):
        if table:
            table.clear()


MANY = 12
"""So many victims are read faster all at once than one by one."""


def _judge_contacts(world: World) -> None:
    queue = shots.contacts_of(world, world.contacts) + touches.contacts_of(world, world.touches) + world.struck
    world.contacts = 0
    world.touches, world.struck = [], []
    if len(queue) >= MANY:
        shapes = [entry.shape for entry in queue]
        most, first_wall = world.plan.most_hurtboxes, world.block.first_wall
        victims.read(world, [shape // most for shape in shapes if 0 <= shape < first_wall])
    heapify(queue)
    while queue:
        for following in heappop(queue).contact.judge(world):
            heappush(queue, following)


def aftermath(world: World) -> None:
    """What wounds broke off, reactions, then deaths in the order of their lethal wounds.

    At a death the action of the body ends, it falls, the seat's wait begins. Then hit stop, and the pushes of all
    hits; then who is grabbed and let go, and stages that begin; at the end who is out, and what comes of that.
    """
    if world.interrupted:
        _interrupt_all(world)
    if world.pending_reactions:
        reactions.settle(world)
    fallen = _die(world) if world.lethal_hits else []
    world.pending_reactions.clear()
    if world.reached:
        areas.settle(world)
    if world.hit_stops:
        knockback.freeze(world)
    if world.pending_knockback:
        knockback.settle(world)
    if world.has_grabs and (world.pending_grabs or world.counts[Count.GRABS]):
        grabs.settle(world)
    if world.has_stages and (world.events or world.inputs):  # no pool falls without either
        pools.begin_stages(world)
    if fallen:
        death.eliminate(world, [died for died in fallen if died.lives_left == 0])


def _die(world: World) -> list[Died]:
    fallen = [death.die(world, lethal) for lethal in world.lethal_hits.values()]
    world.lethal_hits.clear()
    if world.plan.counters:
        counters.settle(world, fallen)
    return fallen


def _interrupt_all(world: World) -> None:
    for body, (time, wound) in world.interrupted.items():
        if body not in world.lethal_hits:
            _interrupt(world, body, time, wound)
    world.interrupted.clear()


def _interrupt(world: World, body: int, time: float, wound: int) -> None:
    timeline.interrupt(world, body, Reason.WOUNDED, time, wound)
    shorten_buffer(world, world.seat_of(body))


def close(world: World) -> None:
    """Cues are given; bodies are where they went; the clock moves on by one tick."""
    counts = world.counts
    if 0 < counts[Count.SETTLED_ON] <= counts[Count.TICK] + 1:
        death.settle_bout(world)
    if world.events and world.plan.cued:
        cues.give(world)
    if counts[Count.DIRTY_POSE_TICKS]:
        bodies = world.block.bodies
        bodies[BodyColumn.START : BodyColumn.START + 3] = bodies[BodyColumn.END : BodyColumn.END + 3]
        counts[Count.DIRTY_POSE_TICKS] -= 1
    counts[Count.TICK] += 1
