"""What a body does, changed in one place and only as the table of `vocabulary.doings` allows."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.block import BODY_DOING
from emberwound.vocabulary.doings import FOLLOWS, Doing

if TYPE_CHECKING:
    from emberwound.bout.world import World


def doing_of(world: World, row: int) -> Doing:
    """What a body does."""
    return Doing(int(world.block.body_marks[BODY_DOING, row]))


def become(world: World, row: int, doing: Doing) -> None:
    """Let a body do something else. Raises RuntimeError for what may not follow: a mistake of this library."""
    before = doing_of(world, row)
    if doing not in FOLLOWS[before]:
        raise RuntimeError(f"{doing.name} may not follow {before.name}")
    world.block.body_marks[BODY_DOING, row] = doing


def become_free(world: World, row: int) -> None:
    """Let a body be done with an attack; what took its place goes on."""
    if doing_of(world, row) in (Doing.ATTACKING, Doing.CHARGING):
        become(world, row, Doing.FREE)
