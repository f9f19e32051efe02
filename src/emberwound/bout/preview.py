"""What the floors above take from inside a bout: a body killed at once, and copies of states and bars."""

from __future__ import annotations

from math import cos, sin
from typing import TYPE_CHECKING

from emberwound.bout.bout import Bout
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count
from emberwound.bout.state.pending import LethalHit, PendingKnockback
from emberwound.bout.views.bars import columns
from emberwound.bout.views.states_batch import StateCopier
from emberwound.geometry.layout import ShapeColumn, ShapeKind
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    from emberwound.bout.views.bars import BarColumns
    from emberwound.rulebook import Rules
    from emberwound.vocabulary.orders import Facing


class Fall:
    """A fighter that stands alone in an arena until it is killed."""

    def __init__(self, rules: Rules, arena: str, fighter: str, at: str | tuple[float, ...], facing: Facing) -> None:
        self.bout = Bout(rules, arena=arena)
        self.seat = self.bout.enter(fighter, at=at, facing=facing)
        self.bout.step()

    def kill(self, speed: float, lift: float, hurtbox: int) -> tuple[float, ...]:
        """Let it die in the coming tick of a push to the right at a hurtbox, raised by `lift` radians.

        The middle of that hurtbox. Raises BoutError when it did not live so long.
        """
        world = self.bout._world  # noqa: SLF001 (a room of the bout's own)
        body = queries.body_of(world, world.names.index_of(self.seat.name))
        if body is None:
            raise BoutError("the body did not live to be hit; clear the arena's first entry of hazards")
        shape = body * world.plan.most_hurtboxes + hurtbox
        one = world.block.shapes[ShapeColumn.A_END : ShapeColumn.A_END + 3, shape]
        box = world.block.shapes[ShapeColumn.KIND, shape] == ShapeKind.BOX
        other = one if box else world.block.shapes[ShapeColumn.B_END : ShapeColumn.B_END + 3, shape]
        x, y, z = ((one + other) / 2).tolist()
        rise = sin(lift) if world.plan.space.has_heights else 0.0
        push = PendingKnockback((speed * cos(lift), 0.0, speed * rise), True, self.bout.time, 0, None, (x, y, z))
        world.pending_knockback[body] = [push]
        world.wake(world.counts[Count.TICK])
        world.lethal_hits[body] = LethalHit(body, 0, self.bout.time, None, "", "")
        return world.point((x, y, z))


def bar_columns(bout: Bout, seat: str | None = None) -> BarColumns:
    """Copies of all that the bars of a bout are worked out from at this moment, or of those of one seat."""
    return columns(bout._world, seat=seat)  # noqa: SLF001 (a room of the bout's own)


def state_copier(bout: Bout) -> StateCopier:
    """What copies the states of a bout; it has the present one already."""
    return StateCopier(bout._world)  # noqa: SLF001 (as above)
