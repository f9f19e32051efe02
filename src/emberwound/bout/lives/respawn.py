"""Entering and respawning: where, which way, and what is told of it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement, pools
from emberwound.bout.lives.free_spot import free_spot
from emberwound.bout.orders.entering import rename_slots
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatColumn, SeatMark, number_of
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.vocabulary.events import PropPlaced, Respawned, SeatEntered
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector


def announce(world: World, seat: int) -> None:
    """Tell that a seat's first body, or a prop, stands."""
    name, fighter = world.names[seat], world.fighter_of_seat(seat)
    position, facing = _pose(world, seat)
    if fighter.is_prop:
        world.emit(PropPlaced(seat=name, prop=fighter.name, position=position, facing=facing))
        return
    world.emit(
        SeatEntered(
            seat=name,
            fighter=fighter.name,
            position=position,
            facing=facing,
            lives=queries.lives_of(world, seat),
            team=world.team_name(int(world.block.seat_marks[SeatMark.TEAM, seat])),
        )
    )


def respawn(world: World, seat: int) -> None:
    """Let a seat stand in its next body: where it was revived, else at its checkpoint or entry.

    There a body that stands in the way is avoided: it takes the free spot nearest to that.
    """
    block = world.block
    block.seat_marks[SeatMark.LIFE, seat] += 1
    corpse = queries.corpse_of(world, seat)
    if corpse is not None and block.seat_marks[SeatMark.REVIVED_SEQ, seat]:
        _rise(world, seat, corpse)
        return
    if corpse is not None and block.body_marks[BodyMark.REVIVABLE, corpse]:
        block.body_marks[BodyMark.REVIVABLE, corpse] = 0
        world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 1)
    _become(world, seat)
    place, ahead = _wanted(world, seat)
    spot = free_spot(world, seat, place)
    body = movement.stand(world, seat, spot or place, ahead)
    number = number_of(int(block.seat_marks[SeatMark.CHECKPOINT, seat]))
    _announce_respawn(
        world,
        seat,
        body,
        cause=int(block.seat_marks[SeatMark.DEATH_SEQ, seat]) or None,
        checkpoint=world.plan.checkpoints[number].name if number >= 0 else None,
        moved=sum((a - b) ** 2 for a, b in zip(spot, place, strict=True)) ** 0.5 if spot else 0.0,
        crowded=spot is None,
    )


def _announce_respawn(
    world: World,
    seat: int,
    body: int,
    *,
    cause: int | None,
    by: str | None = None,
    checkpoint: str | None = None,
    moved: float = 0.0,
    crowded: bool = False,
) -> None:
    """Protect a new body for its time, and tell that it stands."""
    fighter = world.fighter_of_seat(seat)
    if fighter.protected_ticks:
        movement.protect(world, body, fighter.protected_ticks)
    position, facing = _pose(world, seat)
    until = world.counts[Count.TICK] + fighter.protected_ticks if fighter.protected_ticks else None
    world.emit(
        Respawned(
            seat=world.names[seat],
            by=by,
            cause=cause,
            fighter=fighter.name,
            position=position,
            facing=facing,
            life=int(world.block.seat_marks[SeatMark.LIFE, seat]),
            checkpoint=checkpoint,
            moved=moved,
            crowded=crowded,
            protected_until=until,
        )
    )


def _rise(world: World, seat: int, corpse: int) -> None:
    """Let a seat that was revived stand where its corpse lies, with what healing gave that, and what it still held."""
    block, marks = world.block, world.block.seat_marks[:, seat]
    place = block.bodies[BodyColumn.END : BodyColumn.END + 3, corpse].tolist()
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, corpse].tolist()
    grounded = int(block.body_marks[BodyMark.GROUNDED, corpse])
    held, healed = pools.values(world, corpse), number_of(int(marks[SeatMark.REVIVED_SEQ]))
    by = world.name_of(number_of(int(marks[SeatMark.REVIVED_BY])))
    marks[[SeatMark.REVIVED_SEQ, SeatMark.REVIVED_BY]] = 0
    passed = block.touched == block.body_marks[BodyMark.ID, corpse]
    timeline.abandon(world, corpse, Reason.REVIVED)
    movement.remove(world, corpse, Reason.REVIVED)
    body = movement.stand(world, seat, place, ahead, is_touched=True)
    block.touched[passed] = block.body_marks[BodyMark.ID, body]
    block.body_marks[BodyMark.GROUNDED, body] = grounded
    sizes = pools.stats_of(world, body).pools
    block.pools[: len(held), body] = [min(value, pool.maximum) for value, pool in zip(held, sizes, strict=True)]
    _announce_respawn(world, seat, body, cause=healed, by=by)


def _become(world: World, seat: int) -> None:
    """Let a seat's next body be the fighter's that it was asked to be, which cannot hold itself as the last one did."""
    marks = world.block.seat_marks[:, seat]
    if marks[SeatMark.BECOMES]:
        before = world.fighter_of_seat(seat)
        marks[SeatMark.FIGHTER] = number_of(marks[SeatMark.BECOMES])
        for mark in (SeatMark.BECOMES, SeatMark.POSTURE, SeatMark.ASKED_POSTURE, SeatMark.GUARD):
            marks[mark] = 0
        world.block.variant_turns[:, seat] = 0
        rename_slots(world, seat, before)


def _wanted(world: World, seat: int) -> tuple[Vector, Sequence[float]]:
    """The place a seat should respawn at, and its heading."""
    block, plan = world.block, world.plan
    number = number_of(int(block.seat_marks[SeatMark.CHECKPOINT, seat]))
    if number >= 0:
        checkpoint = plan.checkpoints[number]
        return checkpoint.respawn_at, plan.space.heading(checkpoint.facing)
    if plan.respawn_entry is not None:
        entry = plan.entries[plan.respawn_entry]
        return entry.position, plan.space.heading(entry.facing)
    x, y, z = block.seats[SeatColumn.ENTRY : SeatColumn.ENTRY + 3, seat].tolist()
    return (x, y, z), block.seats[SeatColumn.ENTRY_AHEAD : SeatColumn.ENTRY_AHEAD + 2, seat].tolist()


def _pose(world: World, seat: int) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Where a seat's body stands and which way it looks, as users of the arena say it."""
    block, body = world.block, queries.body_of(world, seat)
    position = world.point(block.bodies[BodyColumn.START : BodyColumn.START + 3, body])
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    return position, world.point((*ahead, 0.0))
