"""Parts of a view as values: what a body does and bears, shots, areas, shapes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import msgspec

from emberwound.bout.attacks import projectiles
from emberwound.bout.state.layout import Count, Timer, index_of_mark
from emberwound.geometry.layout import ShapeColumn, ShotColumn, ShotMark
from emberwound.plan.solids import ShapeName, Solid
from emberwound.plan.stances import area_solids

if TYPE_CHECKING:
    from emberwound.bout.state.world import WorldState


class ActionView(msgspec.Struct, frozen=True, kw_only=True):
    """The attack that a body is in: `seconds` since it began, `seconds_left` until it is over.

    While it charges up, `charging` is true and `seconds_left` is None: it waits to be let go.
    """

    attack: str
    """Which attack."""
    charging: bool
    """Whether it is held and charges up."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float | None
    """Seconds until it is over; none while it charges up."""


class ReactionView(msgspec.Struct, frozen=True, kw_only=True):
    """A running reaction: its name and variant, the part of the body, its time so far and left, how strong it is."""

    name: str
    """Row of the reaction."""
    variant: str
    """Which of its variants."""
    part: str
    """Part of the body that it moves."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float
    """Seconds until it ends."""
    blend: float
    """How strong it is just then, from 0 to 1."""


class RagdollView(msgspec.Struct, frozen=True, kw_only=True):
    """A ragdoll: the place and velocity of each point, the links between them, and whether it lies still."""

    points: dict[str, tuple[float, ...]]
    """Place of each point."""
    velocities: dict[str, tuple[float, ...]]
    """Velocity of each point, lengths a second."""
    links: tuple[tuple[str, str], ...]
    """Pairs of points that keep their distance."""
    still: bool
    """Whether it lies still."""


class AfflictionView(msgspec.Struct, frozen=True, kw_only=True):
    """An affliction of a body: by whom, how strong, and how long it still lasts."""

    name: str
    """Which affliction."""
    by: str | None
    """Whose it is."""
    strength: float
    """How strong it is."""
    seconds_left: float
    """Seconds until it ends."""


class AreaView(msgspec.Struct, frozen=True, kw_only=True):
    """A part of the arena that is touched: what it is, whether it is on (or there, of a pickup), and its shape."""

    name: str
    """Which one."""
    sort: Literal["hazard", "checkpoint", "pickup"]
    """What it is."""
    fatal: bool
    """Whether it kills at once."""
    on: bool
    """Whether it is on, or there, of a pickup."""
    solid: SolidView
    """Its shape."""


def areas_of(world: WorldState) -> tuple[AreaView, ...]:
    """All areas, hazards first, as they were at the end of the last tick; one that is off stands where it starts."""
    plan, block, tick = world.plan, world.block, world.counts[Count.TICK]
    sorts: list[tuple[str, Literal["hazard", "checkpoint", "pickup"], bool]] = [
        *((each.name, "hazard", each.table.fatal) for each in plan.hazards),
        *((each.name, "checkpoint", False) for each in plan.checkpoints),
        *((each.name, "pickup", False) for each in plan.pickups),
    ]
    first_pickup = len(plan.hazards) + len(plan.checkpoints)
    found = []
    for index, ((name, sort, fatal), solid) in enumerate(zip(sorts, solids_of_areas(world), strict=True)):
        is_laid = block.volumes[ShapeColumn.KIND, block.first_hazard + index] != 0.0
        on = block.taken[index - first_pickup] <= tick if sort == "pickup" else is_laid
        found.append(AreaView(name=name, sort=sort, fatal=fatal, on=bool(on), solid=solid_view(world, solid)))
    return tuple(found)


def solids_of_areas(world: WorldState) -> list[Solid]:
    """The shapes of all areas as they were at the end of the last tick; one that is off stands where it starts."""
    first, volumes = world.block.first_hazard, world.block.volumes
    return [
        Solid(volumes[:, first + index], 1.0) if volumes[ShapeColumn.KIND, first + index] else start
        for index, (start, _) in enumerate(area_solids(world.plan))
    ]


class ShotView(msgspec.Struct, frozen=True, kw_only=True):
    """A shot in flight: its id, whose, of which attack, where, how fast in lengths a second, and its times."""

    id: int
    """Its id, as events say it in `shot`."""
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


def shot_view(world: WorldState, shot: int, more: float) -> ShotView:
    """A shot by its place in the block, `more` ticks after the state at hand."""
    block, rate, tick = world.block, world.plan.tick_rate, world.counts[Count.TICK] + more
    attack = projectiles.attack_of(world, shot)
    until = int(block.timers[Timer.SHOT_LIFETIME][shot])
    lifetime = attack.shot.life_ticks if attack.shot else 0
    return ShotView(
        id=int(block.shot_marks[ShotMark.ID, shot]),
        by=world.names[index_of_mark(int(block.shot_marks[ShotMark.OWNER, shot]))],
        attack=attack.name,
        position=world.point(projectiles.place_of(world, shot, more)),
        velocity=world.point(projectiles.velocity_of(world, shot, more)),
        radius=float(block.shots[ShotColumn.RADIUS, shot]),
        health=float(block.shots[ShotColumn.HEALTH, shot]) if attack.shot and attack.shot.health else None,
        seconds=(tick - (until - lifetime)) / rate,
        seconds_left=(until - tick) / rate,
    )


Point = tuple[float, ...]


class SolidView(msgspec.Struct, frozen=True, kw_only=True):
    """A shape: a capsule from `a` to `b` (a sphere where they are one), a box round `a`, or a half-space beyond `a`.

    `radius` is that of a capsule, and a margin about the others. `axes` are unit vectors (x, y, z): those of a box,
    whose half sizes are in `half_sizes`, or the one that a half-space lies along.
    """

    shape: ShapeName
    """What it is."""
    a: Point
    """One end of a capsule, the middle of a box, a place on the plane of a half-space."""
    b: Point
    """The other end of a capsule."""
    radius: float
    """Radius of a capsule; a margin about the others."""
    half_sizes: tuple[float, ...] = ()
    """Half sizes of a box along its axes."""
    axes: tuple[tuple[float, ...], ...] = ()
    """Unit vectors (x, y, z): those of a box, or the one that a half-space lies along."""


def solid_view(world: WorldState, solid: Solid) -> SolidView:
    """A shape in the points of the arena."""
    return SolidView(
        shape=solid.name,
        a=world.point(solid.a),
        b=world.point(solid.b),
        radius=solid.radius,
        half_sizes=tuple(solid.half_sizes.tolist()) if solid.half_sizes.any() else (),
        axes=tuple(tuple(axis) for axis in solid.axes.tolist()),
    )
