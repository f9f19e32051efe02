"""What a body does, changed in one place and only as the table of `vocabulary.action_state` allows."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.action_state import FOLLOWS, ActionState

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def action_of(world: World, body: int) -> ActionState:
    """What a body does."""
    return ActionState(int(world.block.body_marks[BodyMark.ACTION, body]))


def become(world: World, body: int, state: ActionState) -> None:
    """Let a body do something else. Raises RuntimeError for what may not follow: a mistake of this library."""
    before = action_of(world, body)
    if state not in FOLLOWS[before]:
        raise RuntimeError(f"{state.name} may not follow {before.name}")
    world.block.body_marks[BodyMark.ACTION, body] = state


def become_free(world: World, body: int) -> None:
    """Let a body be done with an attack; a reaction that took its place, or that ran beside it, goes on."""
    if action_of(world, body) in (ActionState.ATTACKING, ActionState.CHARGING):
        reacts = world.block.body_marks[BodyMark.REACTION, body]
        become(world, body, ActionState.REACTING if reacts else ActionState.FREE)
