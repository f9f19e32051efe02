"""The stages of fighters: beginning them as a pool runs low, and what they and their seats change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.bodies import movement, pools
from emberwound.bout.state import queries
from emberwound.bout.state.layout import SeatColumn, mark_of
from emberwound.geometry.layout import BodyMark, Presence
from emberwound.vocabulary.events import StageBegan, Wounded
from emberwound.vocabulary.events.base import TICK_START

if TYPE_CHECKING:
    from emberwound.bout.state.world import World


def settle(world: World) -> None:
    """Begin the stages that the pools of living bodies have come to: of several the last one."""
    marks = world.block.body_marks
    for body in (marks[BodyMark.PRESENCE] == Presence.LIVE).nonzero()[0].tolist():
        stages = queries.fighter_of(world, body).stages
        number = int(marks[BodyMark.STAGE, body])
        if number == len(stages):
            continue
        held, sizes = pools.values(world, body), pools.stats_of(world, body).pools
        reached = [
            later for later in range(number, len(stages))
            if held[stages[later].pool] < stages[later].below * sizes[stages[later].pool].maximum
        ]  # fmt: skip
        if reached:
            _begin(world, body, reached[-1])


def _begin(world: World, body: int, number: int) -> None:
    seat = world.name_of_body(body)
    world.block.body_marks[BodyMark.STAGE, body] = mark_of(number)
    movement.set_pace(world, body)
    wounds = [each for each in world.events if isinstance(each, Wounded) and each.seat == seat]
    stage = queries.fighter_of(world, body).stages[number]
    world.emit(
        StageBegan(
            time=wounds[-1].time if wounds else TICK_START,
            seat=seat,
            by=wounds[-1].by if wounds else None,
            cause=wounds[-1].seq if wounds else None,
            stage=stage.name,
        )
    )


def dealt(world: World, seat: int) -> tuple[tuple[float, str], ...]:
    """The factors on the damage that a seat deals: its own, and that of the stage its body is in."""
    own = float(world.block.seats[SeatColumn.DAMAGE_DEALT, seat])
    found: tuple[tuple[float, str], ...] = () if own == 1.0 else ((own, f"{world.names[seat]} deals × {own:g}"),)
    body = queries.body_of(world, seat)
    stage = None if body is None else queries.stage_of(world, body)
    if stage is not None and stage.damage_dealt != 1.0:
        found += ((stage.damage_dealt, f"in stage {stage.name} × {stage.damage_dealt:g}"),)
    return found
