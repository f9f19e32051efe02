"""Ticks in which nothing is due, one after the other, until something lands or is met."""

from __future__ import annotations

from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from emberwound.geometry.contact import first_contacts
from emberwound.geometry.jit import kernel
from emberwound.geometry.layout import BodyColumn, Constants
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.ragdoll import step_ragdolls
from emberwound.geometry.separation import separate_bodies
from emberwound.geometry.volume_contacts import touch_contacts
from emberwound.geometry.volumes import lay_hazards, lay_hitboxes
from emberwound.geometry.walk import move_bodies, turn_to_foes

Reals = NDArray[np.float64]
Wholes = NDArray[np.int64]


class Ended(Constants):
    """What ended quiet ticks."""

    TIME: Final = 0  # nothing happened before `until`
    LANDED: Final = 1  # a body came down; nothing of the tick after the moves is done
    MET: Final = 2  # shots met something; areas of the tick are not asked yet
    TOUCHED: Final = 3  # a strike or an area touches; that is to be asked again


class QuietBodies(NamedTuple):
    """The arrays of bodies and of the shapes that lie on them and stand in the arena."""

    bodies: Reals
    marks: Wholes
    shapes: Reals
    shape_marks: Wholes
    points: Reals


class QuietVolumes(NamedTuple):
    """The arrays of volumes, and from when each may touch whom: of areas by seat, of others by pair."""

    volumes: Reals
    marks: Wholes
    again: Reals
    keys: Wholes
    ticks: Reals


class QuietShots(NamedTuple):
    """The arrays of shots, those that they passed through, and what they and volumes are found to meet."""

    shots: Reals
    marks: Wholes
    passed: Wholes
    found: Reals
    found_marks: Wholes
    touched: Reals
    touched_marks: Wholes


class QuietTables(NamedTuple):
    """The tables of the plan."""

    models: Reals
    points: Reals
    paths: Wholes
    bounds: Reals
    offsets: Reals
    offset_marks: Wholes
    hidden: Wholes
    tracks: Reals
    hazards: Reals
    hazard_marks: Wholes
    hitboxes: Reals
    hitbox_marks: Wholes
    ragdolls: Reals
    ragdoll_marks: Wholes
    links: Wholes
    lengths: Reals


class QuietSizes(NamedTuple):
    """How many columns are in use, and where kinds of columns begin."""

    bodies: int
    hurtboxes: int  # of a body
    first_wall: int
    first_area: int
    first_group: int  # of areas
    areas: int
    hitboxes: int  # of a body
    ragdoll_points: int  # of a body
    shots: int


class QuietRules(NamedTuple):
    """What holds for all the ticks: what there is to do in each, and the figures that it goes by."""

    turning: int
    sideways: int
    striking: int
    share: float  # of an overlap of bodies that goes in a tick; below 0 they do not part
    flat: int
    tick_rate: int
    slow_ticks: int  # after which a ragdoll lies still


class QuietState(NamedTuple):
    """The numbers that change: those that quiet ticks begin with, and those that they leave."""

    tick: int
    moving: int  # bodies that move by themselves
    dirty: int  # for how many more ticks shapes are laid
    due: int  # when areas are laid again
    near: int  # bodies near an area
    falling: int  # ragdolls that move


@kernel
def run_quietly(
    body: QuietBodies,
    volume: QuietVolumes,
    shot: QuietShots,
    tables: QuietTables,
    sizes: QuietSizes,
    rules: QuietRules,
    state: QuietState,
    until: int,
) -> tuple[tuple[int, int, int, int, int, int], int, int]:
    """Run the ticks before `until`, up to the first in which a body lands, or anything is met or touched.

    First what a `QuietState` then holds. Of that last tick only what the second answer, of `Ended`, says is done; the
    third is how many shots met something.
    """
    body, volume, shot = QuietBodies(*body), QuietVolumes(*volume), QuietShots(*shot)  # they come as plain tuples,
    tables, sizes, rules = QuietTables(*tables), QuietSizes(*sizes), QuietRules(*rules)  # which cost a call less
    bodies, body_marks, shapes, shape_marks = body.bodies, body.marks, body.shapes, body.shape_marks
    volumes, volume_marks, kept = volume.volumes, volume.marks, (volume.again, volume.keys, volume.ticks)
    end, most, first_wall, hitboxes = sizes.bodies, sizes.hurtboxes, sizes.first_wall, sizes.hitboxes
    tick, moving, dirty, due, near, falling = state
    tick_rate, models, walls, tracks = rules.tick_rate, tables.models, tables.bounds, tables.tracks
    offsets, offset_marks, hidden = tables.offsets, tables.offset_marks, tables.hidden
    boxes, box_marks = tables.hitboxes, tables.hitbox_marks
    while tick < until:
        if rules.turning and turn_to_foes(bodies, body_marks, end, rules.sideways):
            dirty = max(dirty, 1)
        if moving:
            moving, landed = move_bodies(
                bodies,
                body_marks,
                models,
                tables.points,
                tables.paths,
                shapes,
                walls,
                first_wall,
                end,
                tick_rate,
            )
            dirty = max(dirty, 2)
            if landed:
                return (tick, moving, dirty, due, near, falling), Ended.LANDED, 0
        if falling:
            falling -= step_ragdolls(
                body.points,
                bodies,
                body_marks,
                models,
                tables.ragdolls,
                tables.ragdoll_marks,
                tables.links,
                tables.lengths,
                sizes.ragdoll_points,
                rules.flat,
                shapes,
                first_wall,
                walls,
                end,
                tick_rate,
                rules.slow_ticks,
            )
        if rules.share >= 0.0 and separate_bodies(
            bodies, body_marks, models, shapes, walls, first_wall, end, rules.share
        ):
            dirty = max(dirty, 2)
        if dirty:
            lay_shapes(
                bodies,
                body_marks,
                offsets,
                offset_marks,
                hidden,
                tracks,
                shapes,
                shape_marks,
                end,
                tick,
            )
        if rules.striking:
            lay_hitboxes(
                bodies,
                body_marks,
                boxes,
                box_marks,
                tracks,
                volumes,
                volume_marks,
                hitboxes,
                end,
                tick,
            )
        if sizes.areas and tick >= due:
            near = 1
            due = lay_hazards(
                tables.hazards,
                tables.hazard_marks,
                tables.points,
                tables.paths,
                volumes,
                volume_marks,
                sizes.first_area,
                sizes.first_group,
                tick,
                tick_rate,
            )
        if sizes.shots:
            met = first_contacts(
                shot.shots,
                shot.marks,
                shapes,
                shape_marks,
                shot.passed,
                walls,
                shot.found,
                shot.found_marks,
                (0, sizes.shots),
                (end * most, first_wall),
                tick,
                tick_rate,
            )
            if met:
                return (tick, moving, dirty, due, near, falling), Ended.MET, met
        if rules.striking:
            touched, group, _ = touch_contacts(
                volumes,
                volume_marks,
                shapes,
                shape_marks,
                kept,
                shot.touched,
                shot.touched_marks,
                (0, end * hitboxes, hitboxes),
                (0, end, most),
                sizes.first_group,
                tick,
                0.0,
            )
            if touched or group < end * hitboxes:
                return (tick, moving, dirty, due, near, falling), Ended.TOUCHED, 0
        if sizes.areas and (near or dirty):
            touched, group, near = touch_contacts(
                volumes,
                volume_marks,
                shapes,
                shape_marks,
                kept,
                shot.touched,
                shot.touched_marks,
                (sizes.first_area, volumes.shape[1], 1),
                (0, end, most),
                sizes.first_group,
                tick,
                0.0,
            )
            if touched or group < volumes.shape[1]:
                return (tick, moving, dirty, due, near, falling), Ended.TOUCHED, 0
        if dirty:
            for axis in range(3):
                for column in range(end):
                    bodies[BodyColumn.START + axis, column] = bodies[BodyColumn.END + axis, column]
            dirty -= 1
        tick += 1
    return (tick, moving, dirty, due, near, falling), Ended.TIME, 0
