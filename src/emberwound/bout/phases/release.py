"""Phase 3: shots and rays leave their muzzles."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import conditions, shots
from emberwound.bout.blasts import Charge
from emberwound.bout.block import AIM, BODY_CHARGE, TICK
from emberwound.bout.luck import SPREAD, draws
from emberwound.bout.presses import press_name, refuse
from emberwound.bout.shots import Flight
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_OWNER, FRAME_START, FRAME_VELOCITY
from emberwound.plan.plane import turned
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import LaunchPlan
    from emberwound.plan.plane import Vector


def release(world: World) -> None:
    """Let fly what is due, from where its owner stands at the start of the tick, the way it then looks and aims."""
    if not world.releasing:
        return
    for row, slot, began, index in world.releasing:
        _release(world, row, slot, began, index)
    world.releasing.clear()


def _release(world: World, row: int, slot: int, began: int, index: int) -> None:
    block = world.block
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter = conditions.fighter_of(world, row)
    attack = fighter.attacks[slot]
    launch = attack.launch
    if attack.blast_at is not None:
        place = _place(world, row, *attack.blast_at, block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist())
        world.charges.append(Charge(attack.blast, seat, 0.0, place, began))
    if launch is None:
        return
    if index == 0:
        block.ready[slot, row] = world.counts[TICK] + attack.cooldown_ticks - attack.release_ticks
    ahead = block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row].tolist()
    muzzle = _place(world, row, launch.joint, launch.muzzle, ahead)
    share = float(block.bodies[BODY_CHARGE, row])
    for aside in _fan(launch):
        direction = turned(_direction(world, seat, launch, aside), ahead)
        if attack.shot and shots.is_full(world):
            refuse(world, seat, press_name(world, seat, slot), Reason.SHOTS_FULL, None)
            continue
        flight = Flight(seat, fighter, slot, muzzle, direction, share, began)
        if attack.shot:
            moving = block.bodies[FRAME_VELOCITY : FRAME_VELOCITY + 3, row].tolist()
            shots.launch(world, flight, attack.shot, moving)
        else:
            world.rays.append(shots.launch_ray(world, flight))


def _place(world: World, row: int, joint: int, offset: Vector, ahead: list[float]) -> Vector:
    """A place on a body in space, at the start of the tick."""
    x, y, z = world.block.bodies[FRAME_START : FRAME_START + 3, row].tolist()
    if joint >= 0:
        at = conditions.joint_of(world, row, joint)
        offset = (at[0] + offset[0], at[1] + offset[1], at[2] + offset[2])
    mx, my, mz = turned(offset, ahead)
    return (x + mx, y + my, z + mz)


def _fan(launch: LaunchPlan) -> list[float]:
    """How far each of what leaves at once is turned aside: evenly over the fan, a full circle without its seam."""
    if launch.count == 1:
        return [0.0]
    gaps = launch.count if abs(launch.fan) > FULL_CIRCLE else launch.count - 1
    return [launch.fan * (number / gaps - 0.5) for number in range(launch.count)]


FULL_CIRCLE = 6.283


def _direction(world: World, seat: int, launch: LaunchPlan, aside: float) -> Vector:
    """The direction of one of what leaves at once, as (ahead, left, up)."""
    plane = world.plan.plane
    if launch.by_facing:
        direction = plane.lifted(launch.lift)
    else:
        ahead, left, up = world.block.seats[AIM : AIM + 3, seat].tolist()
        direction = (ahead, left, up)
    if aside:
        direction = plane.spread(direction, aside)
    if launch.spread:
        direction = plane.scattered(direction, launch.spread, draws(world, seat, SPREAD, 2))
    return direction
