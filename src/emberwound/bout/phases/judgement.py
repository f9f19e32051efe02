"""Phase 6: what the contacts mean, one after the other in their stated order."""

from __future__ import annotations

from heapq import heapify, heappop, heappush
from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import struck_shots, victims
from emberwound.bout.hits.healing import heal_all
from emberwound.bout.hits.judges import rays, shots, touches, without_contact

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


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
            rays.judge_ray(world, ray)
        world.rays.clear()
    if world.pending_blasts:
        for blast in world.pending_blasts:
            struck_shots.set_off(world, blast)
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
