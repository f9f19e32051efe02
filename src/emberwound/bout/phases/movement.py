"""Phases 3 and 4: shots and rays leave their muzzles, then all is moved through the tick."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.bodies import movement, ragdoll
from emberwound.bout.hits import grabs, knockback
from emberwound.bout.orders.input_buffer import press_name, refuse
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatColumn
from emberwound.bout.state.pending import Flight, PendingBlast
from emberwound.bout.state.random import spread_draws
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.separation import separate_bodies, share_parted
from emberwound.geometry.volumes import lay_hazards, lay_hitboxes
from emberwound.geometry.walk import move_bodies
from emberwound.plan.space import along, as_offset, turned, unit
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import LaunchPlan
    from emberwound.plan.space import Vector


def release(world: World) -> None:
    """Let fly what is due, from where its owner stands at the start of the tick, the way it then looks and aims."""
    if not world.releasing:
        return
    for body, slot, began in world.releasing:
        _release(world, body, slot, began)
    world.releasing.clear()
    if world.launched:
        projectiles.place_launched(world)


def _release(world: World, body: int, slot: int, began: int) -> None:
    block = world.block
    seat = world.seat_of(body)
    fighter = queries.fighter_of(world, body)
    attack = fighter.attacks[slot]
    launch = attack.launch
    if attack.blast_at is not None:
        place = _place(
            world, body, *attack.blast_at, block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
        )
        world.pending_blasts.append(PendingBlast(attack.blast, seat, 0.0, place, began))
    if attack.table.throw:
        _throw(world, body, slot, began)
    if launch is None:
        return
    ahead = block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    straight = _direction(world, body, seat, launch)
    offset = along(launch.muzzle, straight) if launch.turns else launch.muzzle
    muzzle = _place(world, body, launch.joint, offset, ahead)
    share = float(block.bodies[BodyColumn.CHARGE, body])
    flight = Flight(body, seat, fighter, slot, muzzle, straight, share, began)
    volley = projectiles.volley(world, flight, attack.shot) if attack.shot else None
    for aside in _fan(launch):
        direction = turned(_turned_aside(world, seat, attack.name, launch, straight, aside), ahead)
        if volley and projectiles.is_full(world):
            refuse(world, seat, press_name(world, seat, slot), Reason.SHOTS_FULL, None)
        elif volley:
            projectiles.launch(world, volley, direction)
        else:
            world.rays.append(projectiles.launch_ray(world, flight._replace(direction=direction)))


def _throw(world: World, body: int, slot: int, began: int) -> None:
    """Let go of who is held, with the hit of the throw; say so where nobody is held any more."""
    if world.block.body_marks[BodyMark.HOLDS, body]:
        world.pending_throws.append((body, slot, began))
    else:
        seat = world.seat_of(body)
        refuse(world, seat, press_name(world, seat, slot), Reason.HOLDS_NOBODY, None)


def _place(world: World, body: int, joint: int, offset: Vector, ahead: list[float]) -> Vector:
    """A place on a body in space, at the start of the tick."""
    x, y, z = world.block.bodies[BodyColumn.START : BodyColumn.START + 3, body].tolist()
    if joint >= 0:
        at = queries.joint_of(world, body, joint)
        offset = (at[0] + offset[0], at[1] + offset[1], at[2] + offset[2])
    mx, my, mz = turned(offset, ahead)
    return (x + mx, y + my, z + mz)


def _fan(launch: LaunchPlan) -> list[float]:
    """How far each of what leaves at once is turned aside: evenly over the fan, a full circle without its seam."""
    if launch.table.count == 1:
        return [0.0]
    gaps = launch.table.count if abs(launch.fan) > FULL_CIRCLE else launch.table.count - 1
    return [launch.fan * (index / gaps - 0.5) for index in range(launch.table.count)]


FULL_CIRCLE = 6.283


def _direction(world: World, body: int, seat: int, launch: LaunchPlan) -> Vector:
    """Where what leaves goes, before it is turned aside, as (ahead, left, up)."""
    if launch.table.direction == "foe":
        return _at_foe(world, body, launch)
    if launch.table.direction == "facing":
        return world.plan.space.lifted(launch.lift)
    ahead, left, up = world.block.seats[SeatColumn.AIM : SeatColumn.AIM + 3, seat].tolist()
    return (ahead, left, up)


def _at_foe(world: World, body: int, launch: LaunchPlan) -> Vector:
    """From the muzzle, or the joint that it turns about, to the middle of the nearest foe; ahead if there is none."""
    ahead = world.block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, body].tolist()
    start = _place(world, body, launch.joint, (0.0, 0.0, 0.0) if launch.turns else launch.muzzle, ahead)
    foe = queries.nearest_foe(world, body, start)
    if foe is None or foe == start:
        return world.plan.space.lifted(0.0)
    a, b, c = (to - at for to, at in zip(foe, start, strict=True))
    return as_offset(unit((a, b, c)), ahead)


def _turned_aside(world: World, seat: int, attack: str, launch: LaunchPlan, direction: Vector, aside: float) -> Vector:
    """The direction of one of what leaves at once: by its place in the fan, and by chance."""
    space = world.plan.space
    if aside:
        direction = space.spread(direction, aside)
    if launch.spread:
        direction = space.scattered(direction, launch.spread, spread_draws(world, seat, attack))
    return direction


def motion(world: World) -> None:
    """Move the bodies that move by themselves; recompute the hurtboxes if any body moved, turned, came or fell.

    Then lay the hitboxes and hazards that are on.
    """
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[Count.MOVING_BODIES]:
        counts[Count.MOVING_BODIES], landed = move_bodies(
            block.bodies,
            block.body_marks,
            tables.models,
            tables.points,
            tables.paths,
            block.shapes,
            tables.bounds,
            block.first_wall,
            block.bodies_end,
            world.plan.tick_rate,
        )
        counts[Count.DIRTY_POSE_TICKS] = max(counts[Count.DIRTY_POSE_TICKS], 2)
        if landed:
            knockback.emit_landings(world)
    lay(world)


def lay(world: World) -> None:
    """What follows when bodies have moved: ragdolls, postures, room between bodies, and all that is laid again."""
    counts = world.counts
    block, tables = world.block, world.plan.tables
    if counts[Count.MOVING_RAGDOLLS]:
        ragdoll.move(world)
    if world.plan.has_postures and counts[Count.DIRTY_POSE_TICKS]:
        movement.rest_again(world)
    if world.plan.bodies_separate and counts[Count.SEATS] > 1:
        _part(world)
    if counts[Count.GRABS]:
        grabs.carry(world)
    if counts[Count.DIRTY_POSE_TICKS]:
        lay_shapes(
            block.bodies,
            block.body_marks,
            tables.offsets,
            tables.offset_marks,
            tables.hidden,
            tables.tracks,
            block.shapes,
            block.shape_marks,
            block.bodies_end,
            counts[Count.TICK],
        )
    if counts[Count.HITBOXES_ON]:
        lay_hitboxes(
            block.bodies,
            block.body_marks,
            tables.hitboxes,
            tables.hitbox_marks,
            tables.tracks,
            block.volumes,
            block.volume_marks,
            world.plan.most_hitboxes,
            block.bodies_end,
            counts[Count.TICK],
        )
    if counts[Count.TICK] >= counts[Count.HAZARDS_DUE] and world.areas:
        counts[Count.HAZARDS_NEAR] = 1
        counts[Count.HAZARDS_DUE] = lay_hazards(
            tables.hazards,
            tables.hazard_marks,
            tables.points,
            tables.paths,
            block.volumes,
            block.volume_marks,
            block.first_hazard,
            block.first_hazard_group,
            counts[Count.TICK],
            world.plan.tick_rate,
        )


def _part(world: World) -> None:
    """Let living bodies that stand in each other give way."""
    block, tables = world.block, world.plan.tables
    moved = separate_bodies(
        block.bodies,
        block.body_marks,
        tables.models,
        block.shapes,
        tables.bounds,
        block.first_wall,
        block.bodies_end,
        share_parted(1.0 / world.plan.tick_rate),
    )
    if moved:
        world.counts[Count.DIRTY_POSE_TICKS] = max(world.counts[Count.DIRTY_POSE_TICKS], 2)
