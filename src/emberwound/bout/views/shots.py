"""One shot at a moment."""

from __future__ import annotations

from typing import TYPE_CHECKING

import msgspec

from emberwound.bout.attacks import projectiles
from emberwound.bout.state.layout import Count, Timer, number_of
from emberwound.geometry.layout import ShotColumn, ShotMark

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


class ShotView(msgspec.Struct, frozen=True, kw_only=True):
    """A shot in flight: its number, whose, of which attack, where, how fast in lengths a second, and its times."""

    number: int
    """Its number."""
    by: str
    """Whose shot."""
    attack: str
    """Of which attack."""
    position: tuple[float, ...]
    """Where."""
    velocity: tuple[float, ...]
    """Velocity, lengths a second."""
    radius: float
    """Its radius."""
    health: float | None
    """Points it can still take; none of one that cannot be destroyed."""
    seconds: float
    """Seconds since it left, or was sent back."""
    seconds_left: float
    """Seconds until its life is over."""

    @staticmethod
    def of(world: World, shot: int, more: float) -> ShotView:
        """A shot by its place in the block, `more` ticks after the state at hand."""
        block, rate, tick = world.block, world.plan.tick_rate, world.counts[Count.TICK] + more
        attack = projectiles.attack_of(world, shot)
        until = int(block.timers[Timer.SHOT_LIFETIME][shot])
        lifetime = attack.shot.life_ticks if attack.shot else 0
        return ShotView(
            number=int(block.shot_marks[ShotMark.ID, shot]),
            by=world.names[number_of(int(block.shot_marks[ShotMark.OWNER, shot]))],
            attack=attack.name,
            position=world.point(projectiles.place_of(world, shot, more)),
            velocity=world.point(projectiles.velocity_of(world, shot, more)),
            radius=float(block.shots[ShotColumn.RADIUS, shot]),
            health=float(block.shots[ShotColumn.HEALTH, shot]) if attack.shot and attack.shot.health else None,
            seconds=(tick - (until - lifetime)) / rate,
            seconds_left=(until - tick) / rate,
        )
