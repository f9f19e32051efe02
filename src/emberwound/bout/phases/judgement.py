"""Phase 6: what the contacts mean, one after the other in their stated order."""

from __future__ import annotations

from heapq import heapify, heappop, heappush
from typing import TYPE_CHECKING

from emberwound.bout import afflictions, blasts
from emberwound.bout.judges import rays, shots, touches
from emberwound.bout.wounds import heal_all

if TYPE_CHECKING:
    from emberwound.bout.world import World


def judgement(world: World) -> None:
    """Judge afflictions, rays and blasts, then contacts by impact time, attacker, release, hitbox and victim.

    What goes on after a contact is asked for its next one in the same tick, which takes its place in the order.
    """
    if world.smarting:
        afflictions.judge(world)
    if world.rays:
        for ray in world.rays:
            rays.judge(world, ray)
        world.rays.clear()
    if world.charges:
        for charge in world.charges:
            blasts.go_off(world, charge)
        world.charges.clear()
    if world.contacts or world.touches:
        _judge_contacts(world)
    if world.healing:
        heal_all(world)
    for table in (world.guards, world.dealt, world.swings):
        if table:
            table.clear()


def _judge_contacts(world: World) -> None:
    queue = shots.contacts_of(world, world.contacts) + touches.contacts_of(world, world.touches)
    world.contacts = 0
    world.touches = []
    heapify(queue)
    while queue:
        contact = heappop(queue)
        for following in contact[5](world, contact):
            heappush(queue, following)
