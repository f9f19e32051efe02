"""Phase 7: what the wounds lead to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import stages
from emberwound.bout.hits import grabs, hit_stop, knockback, reactions
from emberwound.bout.lives import areas, counters, death, elimination
from emberwound.bout.orders.input_buffer import shorten_buffer
from emberwound.bout.state.layout import Count
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.vocabulary.events import Died


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
        hit_stop.settle(world)
    if world.pending_knockback:
        knockback.settle(world)
    if world.has_grabs and (world.pending_grabs or world.counts[Count.GRABS]):
        grabs.settle(world)
    if world.has_stages:
        stages.settle(world)
    if fallen:
        elimination.settle(world, [died for died in fallen if died.lives_left == 0])


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
