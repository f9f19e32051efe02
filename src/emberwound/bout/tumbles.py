"""How a fighter falls when a blow kills it, point by point, without anybody to strike that blow."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

import msgspec

from emberwound.bout import conditions
from emberwound.bout.bout import Bout
from emberwound.bout.pushes import Shove
from emberwound.bout.seat import LimpView
from emberwound.bout.world import Slain
from emberwound.geometry.legs import SHAPE_A_END, SHAPE_B_END, SHAPE_IS_BOX
from emberwound.vocabulary.errors import BoutError

if TYPE_CHECKING:
    from emberwound.plan.plane import Vector
    from emberwound.rulebook import Rulebook
    from emberwound.vocabulary.orders import Facing


class Tumble(msgspec.Struct, frozen=True, kw_only=True):
    """A limp body from its death until it is gone: `moments` are its states after each tick, `tick_rate` a second.

    `speed` and `lift_deg` are the push it was killed with, to the right; `place` is the middle of the hurtbox hit,
    `stood` where the fighter stood.
    """

    attack: str
    victim: str
    hurtbox: str
    arena: str
    speed: float
    lift_deg: float
    place: tuple[float, ...]
    stood: tuple[float, ...]
    has_heights: bool
    tick_rate: int
    moments: tuple[LimpView, ...]


def tumble(
    rules: Rulebook, attack: str, victim: str, *, hurtbox: str | None = None, arena: str | None = None
) -> Tumble:
    """How a standing fighter would fall if the push of an attack from its left killed it, hit at a hurtbox.

    The hurtbox is the first and the arena the first when they are not named; it stands at the arena's first entry, or
    in its middle. Raises RulebookError for names the book does not have and an attack without a push, and BoutError
    for a fighter that does not go limp.
    """
    told = rules.push_path(attack, victim, arena=arena, hurtbox=hurtbox)
    fighter = rules.book.fighters[victim]
    if fighter.limp is None:
        raise BoutError(f"{victim} does not go limp; give fighters.{victim} a limp table")
    bout = Bout(rules, arena=told.arena)
    table = rules.book.arenas[told.arena]
    low, high = table.bounds.low, table.bounds.high
    middle = [(a + b) / 2 for a, b in zip(low, high, strict=True)]
    if table.plane != "top" and table.floor is not None:
        middle[-1] = table.floor
    seat = bout.enter(victim, at=next(iter(table.entries), middle), facing=_towards(table.plane))
    bout.step()
    stood = seat.position or ()
    struck = list(fighter.hurtboxes).index(hurtbox) if hurtbox else 0
    place = _kill(bout, seat.name, told.speed, radians(told.lift_deg), struck)
    moments: list[LimpView] = []
    bout.step()
    while (view := seat.limp) is not None:
        moments.append(view)
        bout.step()
    return Tumble(
        attack=attack,
        victim=victim,
        hurtbox=list(fighter.hurtboxes)[struck],
        arena=told.arena,
        speed=told.speed,
        lift_deg=told.lift_deg,
        place=bout.world.point(place),
        stood=stood,
        has_heights=bout.world.plan.plane.has_heights,
        tick_rate=bout.tick_rate,
        moments=tuple(moments),
    )


def _towards(plane: str) -> Facing:
    return "left" if plane == "side" else 180.0


def _kill(bout: Bout, seat: str, speed: float, lift: float, hurtbox: int) -> Vector:
    """Let the body die in the coming tick of a push to the right at a hurtbox; the middle of that."""
    world = bout.world
    row = conditions.row_of(world, world.names.index(seat))
    if row is None:
        raise BoutError("the body did not live to be struck; clear the arena's first entry of hazards")
    shape = row * world.plan.most_hurtboxes + hurtbox
    one = world.block.shapes[SHAPE_A_END : SHAPE_A_END + 3, shape]
    box = world.block.shape_marks[SHAPE_IS_BOX, shape]
    other = one if box else world.block.shapes[SHAPE_B_END : SHAPE_B_END + 3, shape]
    x, y, z = ((one + other) / 2).tolist()
    rise = sin(lift) if world.plan.plane.has_heights else 0.0
    shove = Shove((speed * cos(lift), 0.0, speed * rise), True, bout.time, 0, None, (x, y, z))
    world.shoves[row] = [shove]
    world.slain[row] = Slain(row, 0, bout.time, None, "", "")
    return (x, y, z)
