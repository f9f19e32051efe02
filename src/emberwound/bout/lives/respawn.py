"""Entering and respawning: the nearest free spot, which way a body looks there, and what is emitted."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement, pools
from emberwound.bout.orders.entering import rename_slots
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatColumn, SeatMark, index_of_mark
from emberwound.geometry.layout import BodyColumn, BodyMark, HazardMark, Presence, ShapeColumn, ShapeKind
from emberwound.geometry.solids import Boxes, Capsules, nearest
from emberwound.vocabulary.events import PropPlaced, Respawned, SeatEntered
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from emberwound.bout.state.world import World
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.plan.space import Vector

    Array = NDArray[np.float64]

RINGS, ROUND = 24, 8
"""How many radii of the body away a spot is looked for at the most, and in how many directions on the ground."""

UNDER = 0.05
"""Radii of the body below its feet within which it stands on something."""

MOMENTS = 64
"""Places of a hazard on a path that are kept clear of."""


def free_spot(world: World, seat: int, place: Vector) -> Vector | None:
    """The free spot nearest to a place, at its height and on the same footing; None when there is none.

    Of equally near ones the first of a stated order: ahead along x first, then round from there.
    """
    fighter = world.plan.fighters[int(world.block.seat_marks[SeatMark.FIGHTER, seat])]
    spots = _around(world, fighter, np.array(place))
    footed = _footed(world, fighter, spots[:1])[0]
    free = _within(world, fighter, spots) & ~_in_walls(world, fighter, spots) & ~_among_bodies(world, fighter, spots)
    if footed:
        free &= _footed(world, fighter, spots)
    if free.any():
        free &= ~_in_reach(world, fighter, spots)
    found = free.nonzero()[0]
    if not found.size:
        return None
    x, y, z = spots[found[0]].tolist()
    return (x, y, z)


def _around(world: World, fighter: FighterPlan, place: Array) -> Array:
    """The place itself and rings about it, the nearest first."""
    turns = 2 if not world.plan.space.looks_around else ROUND
    angles = 2.0 * np.pi * np.arange(turns) / turns
    ways = np.stack([np.cos(angles), np.sin(angles) if turns > 2 else 0.0 * angles, 0.0 * angles], axis=1)
    rings = [place + fighter.radius * ring * ways for ring in range(1, RINGS + 1)]
    return np.vstack([place[None], *rings])


def _capsules(fighter: FighterPlan, spots: Array, *, more: float = 0.0, count: int = 1) -> Capsules:
    """The body at every spot as a capsule, `count` times over, `more` thicker."""
    low, high = np.array(spots), np.array(spots)
    low[:, 2] += fighter.radius
    high[:, 2] += max(fighter.height - fighter.radius, fighter.radius)
    repeat = np.repeat
    return Capsules.of(
        repeat(low, count, axis=0), repeat(high, count, axis=0), np.full(len(spots) * count, fighter.radius + more)
    )


def _round_hurtboxes(fighter: FighterPlan, spots: Array) -> Capsules:
    """A capsule at every spot that holds all hurtboxes of a fighter that stands there, and its body."""
    low, high = np.array(spots), np.array(spots)
    low[:, 2] += min(fighter.radius, fighter.lowest + fighter.reach)
    high[:, 2] += max(fighter.radius, fighter.height - fighter.radius, fighter.highest - fighter.reach)
    return Capsules.of(low, high, np.full(len(spots), fighter.reach))


def _within(world: World, fighter: FighterPlan, spots: Array) -> NDArray[np.bool_]:
    low, high = np.array(world.plan.low), np.array(world.plan.high)
    room = np.array([fighter.radius, fighter.radius, 0.0])
    known = np.array([axis in world.plan.space.axes for axis in "xyz"])
    inside = np.asarray((((spots >= low + room) & (spots <= high - room)) | ~known).all(axis=1))
    inside[0] = True
    return inside


def _walls(world: World, count: int) -> Boxes:
    """All walls, once for each of `count` spots."""
    shapes = world.plan.tables.wall_shapes
    axes = shapes[ShapeColumn.AXES : ShapeColumn.AXES + 9].T.reshape(-1, 3, 3)
    centres, halves = shapes[ShapeColumn.A : ShapeColumn.A + 3].T, shapes[ShapeColumn.B : ShapeColumn.B + 3].T
    finite = np.where(np.isfinite(halves), halves, 1e9)
    return Boxes(np.tile(centres, (count, 1)), np.tile(finite, (count, 1)), np.tile(axes, (count, 1, 1)))


def _in_walls(world: World, fighter: FighterPlan, spots: Array) -> NDArray[np.bool_]:
    walls = len(world.plan.wall_names)
    if not walls:
        return np.zeros(len(spots), bool)
    gaps = nearest(_capsules(fighter, spots, more=-1e-6 * fighter.radius, count=walls), _walls(world, len(spots)))[0]
    return np.asarray((gaps.reshape(-1, walls) <= 0.0).any(axis=1))


def _footed(world: World, fighter: FighterPlan, spots: Array) -> NDArray[np.bool_]:
    """Whether there is ground under the feet."""
    if not world.plan.space.has_heights:
        return np.ones(len(spots), bool)
    footed = spots[:, 2] <= world.plan.floor + UNDER * fighter.radius
    walls = len(world.plan.wall_names)
    if walls:
        feet = np.repeat(spots, walls, axis=0)
        soles = Capsules.of(feet, feet, np.full(len(feet), UNDER * fighter.radius))
        footed |= (nearest(soles, _walls(world, len(spots)))[0].reshape(-1, walls) <= 0.0).any(axis=1)
    return footed


def _among_bodies(world: World, fighter: FighterPlan, spots: Array) -> NDArray[np.bool_]:
    """Whether a living body or a prop is in the way."""
    marks = world.block.body_marks
    bodies = np.isin(marks[BodyMark.PRESENCE], (Presence.LIVE, Presence.PROP)).nonzero()[0]
    places = world.block.bodies[BodyColumn.END : BodyColumn.END + 3, bodies].T
    models = [world.plan.fighters[model] for model in marks[BodyMark.MODEL, bodies].tolist()]
    radii, heights = np.array([each.radius for each in models]), np.array([each.height for each in models])
    apart = spots[:, None, :] - places[None]
    near = np.hypot(apart[..., 0], apart[..., 1]) < (fighter.radius + radii) * (1.0 - 1e-9)
    level = (apart[..., 2] < heights) & (apart[..., 2] > -fighter.height)
    return np.asarray((near & level if world.plan.space.has_heights else near).any(axis=1))


def _in_reach(world: World, fighter: FighterPlan, spots: Array) -> NDArray[np.bool_]:
    """Whether a hazard can reach a body that stands there, now or at any time of its path and schedule."""
    reached = np.zeros(len(spots), bool)
    for index in range(len(world.plan.hazards)):
        for drift in _drifts(world, index):
            reached |= np.asarray(_gap_to(world, index, _round_hurtboxes(fighter, spots - drift)) <= 0.0)
    return reached


def _drifts(world: World, index: int) -> Array:
    """How far from where it starts a hazard may be."""
    tables = world.plan.tables
    path = index_of_mark(int(tables.hazard_marks[HazardMark.PATH, index]))
    if path < 0:
        return np.zeros((1, 3))
    first, count, closed = tables.paths[:3, path].tolist()
    points = tables.points[first : first + count]
    segments = np.vstack([points, points[:1]]) if closed else points
    shares = np.linspace(0.0, len(segments) - 1.0, MOMENTS)
    at = np.stack([np.interp(shares, np.arange(len(segments)), segments[:, axis]) for axis in range(3)], axis=1)
    return np.asarray(at - points[0])


def _gap_to(world: World, index: int, solids: Capsules) -> Array:
    """How far each body is from a hazard where that starts."""
    tables, count = world.plan.tables, len(solids.radius)
    shape_of, kind = tables.hazards[:, index], tables.hazards[ShapeColumn.KIND, index]
    place = shape_of[ShapeColumn.A : ShapeColumn.A + 3]
    if kind == ShapeKind.HALF_SPACE:
        way = shape_of[ShapeColumn.AXES : ShapeColumn.AXES + 3]
        ends = np.maximum((solids.a - place) @ way, (solids.b - place) @ way)
        return np.asarray(-ends - solids.radius - shape_of[ShapeColumn.RADIUS])
    if kind == ShapeKind.BOX:
        axes = shape_of[ShapeColumn.AXES : ShapeColumn.AXES + 9].reshape(1, 3, 3)
        half = np.where(
            np.isfinite(shape_of[ShapeColumn.B : ShapeColumn.B + 3]), shape_of[ShapeColumn.B : ShapeColumn.B + 3], 1e9
        )
        box = Boxes(np.tile(place, (count, 1)), np.tile(half, (count, 1)), np.tile(axes, (count, 1, 1)))
        return np.asarray(nearest(solids, box)[0] - shape_of[ShapeColumn.RADIUS])
    other = Capsules.of(
        np.tile(place, (count, 1)),
        np.tile(shape_of[ShapeColumn.B : ShapeColumn.B + 3], (count, 1)),
        np.full(count, shape_of[ShapeColumn.RADIUS]),
    )
    return nearest(solids, other)[0]


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
    index = index_of_mark(int(block.seat_marks[SeatMark.CHECKPOINT, seat]))
    _announce_respawn(
        world,
        seat,
        body,
        cause=int(block.seat_marks[SeatMark.DEATH_SEQ, seat]) or None,
        checkpoint=world.plan.checkpoints[index].name if index >= 0 else None,
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
    """Protect a new body for its time, and emit that it stands."""
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
    held, healed = pools.values(world, corpse), index_of_mark(int(marks[SeatMark.REVIVED_SEQ]))
    by = world.name_of(index_of_mark(int(marks[SeatMark.REVIVED_BY])))
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
        marks[SeatMark.FIGHTER] = index_of_mark(marks[SeatMark.BECOMES])
        for mark in (SeatMark.BECOMES, SeatMark.POSTURE, SeatMark.ASKED_POSTURE, SeatMark.GUARD):
            marks[mark] = 0
        world.block.variant_turns[:, seat] = 0
        rename_slots(world, seat, before)


def _wanted(world: World, seat: int) -> tuple[Vector, Sequence[float]]:
    """The place a seat should respawn at, and its heading."""
    block, plan = world.block, world.plan
    index = index_of_mark(int(block.seat_marks[SeatMark.CHECKPOINT, seat]))
    if index >= 0:
        checkpoint = plan.checkpoints[index]
        return checkpoint.respawn_at, plan.space.heading(checkpoint.table.facing)
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
