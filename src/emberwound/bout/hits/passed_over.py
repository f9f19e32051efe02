"""Whom attacks touch and leave alone, and why: worked out only while somebody asks.

Contacts that count are found by kernels that never look at what they must not touch. Here the same shapes are asked
again with everything allowed, and what the one rule refuses is reported, once for as long as the contact lasts.
"""

from __future__ import annotations

from math import dist, hypot
from typing import TYPE_CHECKING, NamedTuple

import msgspec
import numpy as np

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import contacts
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark, mark_of
from emberwound.geometry.flight_segments import may_not_touch, meet_time, segment_limit, segment_place, tick_zero
from emberwound.geometry.layout import (
    BodyMark,
    FoundColumn,
    FoundMark,
    MayTouch,
    Presence,
    ReachedColumn,
    Refusal,
    ShapeMark,
    ShotColumn,
    ShotMark,
    TouchColumn,
    TouchMark,
    VolumeMark,
)
from emberwound.geometry.neighbours import refusal
from emberwound.geometry.pose import lay_shapes
from emberwound.geometry.rays_and_blasts import ray_touches, reach_shapes
from emberwound.geometry.volume_contacts import touch_contacts, touchable_from, volume_refusal
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from numpy.typing import NDArray

    from emberwound.bout.state.pending import PendingBlast, Ray
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector

ALL_LAYERS = -1
EVERYBODY = MayTouch.OWNER | MayTouch.TEAM


REASONS: dict[int, Reason] = {
    Refusal.TARGET_DEAD: Reason.TARGET_DEAD,
    Refusal.OTHER_LAYER: Reason.OTHER_LAYER,
    Refusal.OWN_BODY: Reason.OWN_BODY,
    Refusal.ALLY: Reason.ALLY,
    Refusal.PROTECTED: Reason.PROTECTED,
    Refusal.TOUCHED_BEFORE: Reason.TOUCHED_BEFORE,
}
"""The reason of each refusal; both have the same names."""

NO_KEYS, NO_TICKS = np.zeros(0, np.int64), np.zeros((1, 0))
"""Nobody touched anybody."""


class PassedOver(msgspec.Struct, frozen=True, kw_only=True):
    """An attack touched a hurtbox and left it alone: whose, by which attack, whom, where, and why.

    `distance` is what a wound would go by: flown by shots and rays, on the ground from who strikes, from the centre of
    a blast, 0 of a hazard. `by` is None for a hazard, and `shot` 0 for what is no shot and no ray.
    """

    tick: int
    """Tick of the contact."""
    time: float
    """Exact time, in seconds of the bout."""
    by: str | None
    """Whose attack; none of a hazard."""
    attack: str
    """Attack, blast or hazard."""
    shot: int
    """Id of the shot or ray; else 0."""
    seat: str
    """Whom it touched."""
    hurtbox: str
    """Hurtbox that it touched."""
    reason: Reason
    """Why it left it alone."""
    distance: float
    """What a wound's `falloff` would go by."""
    position: tuple[float, ...]
    """Where."""


class _Touch(NamedTuple):
    """What lasts of a contact: which release, swing or hazard, which body, and why."""

    source: tuple[str, int]
    body: int
    code: int


class PassedOverFinder:
    """Finds in every tick who is passed over; it is asked between the contacts of a tick and their judgement."""

    def __init__(self) -> None:
        self.found: list[PassedOver] = []
        self._before: set[_Touch] = set()
        self._now: set[_Touch] = set()
        self._shapes: _Shapes | None = None

    def begin(self, world: World) -> None:
        """Look at the shots, rays, strikes and hazards of the tick at hand; `world.contacts` are found already."""
        self.found = []
        self._before, self._now = self._now, set()
        self._shapes = all_of = _all_shapes(world)
        for shot in world.block.shot_marks[ShotMark.ID].nonzero()[0].tolist():
            self._shot(world, shot, all_of)
        for ray in world.rays:
            self._ray(world, ray, all_of)
        self._volumes(world, all_of)

    def blast(self, world: World, blast: PendingBlast) -> None:
        """Look at what a blast is about to reach."""
        plan, block = world.plan.blasts[blast.blast], world.block
        all_of = self._shapes or _all_shapes(world)
        team = int(block.seat_marks[SeatMark.TEAM, blast.by]) if blast.by >= 0 else -1
        owner = mark_of(blast.by)
        reached = np.empty((ReachedColumn.COLUMNS, block.first_wall))
        reach_shapes(
            blast.place,
            blast.share,
            plan.table.radius,
            all_of.shapes,
            all_of.marks,
            (owner, team, ALL_LAYERS, EVERYBODY),
            block.first_wall,
            reached,
        )
        time = (world.counts[Count.TICK] + blast.share) / world.plan.tick_rate
        for shape, code in _refused(
            all_of, lambda each: int(refusal(plan.hit.layers, plan.hit.options, owner, team, all_of.marks, each))
        ):
            gap, x, y, z = reached[:, shape].tolist()
            if gap <= plan.table.radius:
                figures = (world.name_of(blast.by), plan.name, blast.shot, time, gap, (x, y, z))
                self._report(world, (plan.name, blast.cause or 0), shape, code, figures)

    def _report(
        self,
        world: World,
        source: tuple[str, int],
        shape: int,
        code: int,
        figures: tuple[str | None, str, int, float, float, Vector],
    ) -> None:
        """Tell of a contact unless it has lasted since the last tick; `figures` are by, attack, shot, time, far, at."""
        body, part = divmod(shape, world.plan.most_hurtboxes)
        touch = _Touch(source, int(world.block.body_marks[BodyMark.ID, body]), code)
        new = touch not in self._before and touch not in self._now
        self._now.add(touch)
        if not new:
            return
        by, attack, shot, time, distance, place = figures
        self.found.append(
            PassedOver(
                tick=world.counts[Count.TICK],
                time=time,
                by=by,
                attack=attack,
                shot=shot,
                seat=world.name_of_body(body),
                hurtbox=queries.fighter_of(world, body).hurtboxes[part].name,
                reason=REASONS[code],
                distance=distance,
                position=world.point(place),
            )
        )

    def _shot(self, world: World, shot: int, all_of: _Shapes) -> None:
        block, rate, tick = world.block, world.plan.tick_rate, world.counts[Count.TICK]
        segments, shot_marks = block.shots, block.shot_marks
        zero = tick_zero(segments, shot, tick, rate)
        begin, end = max(zero, 0.0), zero + 1.0 / rate
        layers = int(shot_marks[ShotMark.LAYERS, shot])
        until, _ = segment_limit(segments, shot, layers, world.plan.tables.bounds, begin, end)
        until = min(until, _first_contact(world, shot))
        attack = projectiles.attack_of(world, shot)
        shot_id, seat = int(shot_marks[ShotMark.ID, shot]), index_of_mark(int(shot_marks[ShotMark.OWNER, shot]))
        origin = segments[ShotColumn.ORIGIN : ShotColumn.ORIGIN + 3, shot].tolist()
        for shape, code in _refused(
            all_of, lambda each: int(may_not_touch(shot_marks, shot, all_of.marks, each, block.touched))
        ):
            seconds = float(meet_time(segments, shot, all_of.shapes, shape, zero, begin, until, 1.0 / rate))
            if seconds > until:
                continue
            place = segment_place(segments, shot, seconds)
            time = tick / rate + (seconds - zero)
            figures = (world.names[seat], attack.name, shot_id, time, dist(place, origin), place)
            self._report(world, ("shot", shot_id), shape, code, figures)

    def _ray(self, world: World, ray: Ray, all_of: _Shapes) -> None:
        flight, attack = ray.flight, ray.attack
        touched, end = contacts.of_ray(world, ray)
        most = (attack.launch.table.pierce if attack.launch else 0) + 1
        limit = touched[most - 1].share if len(touched) >= most else end.share
        start, move = np.array(flight.muzzle), np.array(flight.direction) * attack.ray_range
        shares = np.empty(all_of.marks.shape[1])
        ray_touches(start, move, all_of.shapes, all_of.marks, ALL_LAYERS, shares)
        time = world.counts[Count.TICK] / world.plan.tick_rate
        for shape, code in _refused(all_of, lambda each: contacts.ray_refusal(world, ray, all_of.marks, each)):
            share = float(shares[shape])
            if share > limit:
                continue
            x, y, z = (start + move * share).tolist()
            far = share * attack.ray_range
            figures = (world.names[flight.seat], attack.name, ray.shot, time, far, (x, y, z))
            self._report(world, ("shot", ray.shot), shape, code, figures)

    def _volumes(self, world: World, all_of: _Shapes) -> None:
        """Strikes and hazards: each group's first touch of each body with all allowed, if that one is refused."""
        block, plan = world.block, world.plan
        last = block.first_hazard + len(plan.hazards)
        open_marks = block.volume_marks.copy()
        open_marks[VolumeMark.LAYERS] = ALL_LAYERS
        open_marks[VolumeMark.OPTIONS] = EVERYBODY
        for columns in ((0, block.first_hazard, plan.most_hitboxes), (block.first_hazard, last, 1)):
            for share, place, volume, shape in _touches(world, open_marks, all_of, columns):
                code = _volume_code(world, volume, all_of, shape, share)
                if code == Refusal.NONE:
                    continue
                self._report_volume(world, volume, shape, code, share, place)

    def _report_volume(self, world: World, volume: int, shape: int, code: int, share: float, place: Vector) -> None:
        block, plan = world.block, world.plan
        time = (world.counts[Count.TICK] + share) / plan.tick_rate
        if volume >= block.first_hazard:
            hazard = plan.hazards[volume - block.first_hazard]
            self._report(world, (hazard.name, 0), shape, code, (None, hazard.name, 0, time, 0.0, place))
            return
        striker = volume // plan.most_hitboxes
        attack = queries.attack_of(world, striker)
        if attack is None:
            return
        x, y, _ = queries.place_at(world, striker, share)
        far = hypot(place[0] - x, place[1] - y)
        swing = int(block.body_marks[BodyMark.ATTACK_SEQ, striker])
        figures = (world.name_of_body(striker), attack.name, 0, time, far, place)
        self._report(world, ("swing", swing), shape, code, figures)


class _Shapes(NamedTuple):
    """The shapes of this tick with those of corpses; `dead` are those nothing touches; walls are left out."""

    shapes: NDArray[np.float64]
    marks: NDArray[np.int64]
    dead: NDArray[np.bool_]


def _all_shapes(world: World) -> _Shapes:
    block, tables = world.block, world.plan.tables
    shapes, marks = block.shapes[:, : block.first_wall].copy(), block.shape_marks[:, : block.first_wall].copy()
    dead = np.zeros(block.first_wall, bool)
    corpses = (block.body_marks[BodyMark.PRESENCE] == Presence.CORPSE).nonzero()[0].tolist()
    if not corpses:
        return _Shapes(shapes, marks, dead)
    body_marks = np.zeros_like(block.body_marks)
    body_marks[:, corpses] = block.body_marks[:, corpses]
    body_marks[BodyMark.PRESENCE, corpses] = Presence.LIVE
    laid, laid_marks = np.zeros_like(shapes), np.zeros_like(marks)
    lay_shapes(
        block.bodies,
        body_marks,
        tables.offsets,
        tables.offset_marks,
        tables.hidden,
        tables.tracks,
        laid,
        laid_marks,
        block.bodies_end,
        world.counts[Count.TICK],
    )
    dead = (laid_marks[ShapeMark.LAYER] != 0) & (marks[ShapeMark.LAYER] == 0)
    shapes[:, dead], marks[:, dead] = laid[:, dead], laid_marks[:, dead]
    return _Shapes(shapes, marks, dead)


def _refused(all_of: _Shapes, code_of: Callable[[int], int]) -> Iterator[tuple[int, int]]:
    """Each shape that is left alone, and why."""
    for shape in all_of.marks[ShapeMark.LAYER].nonzero()[0].tolist():
        code = Refusal.TARGET_DEAD if all_of.dead[shape] else code_of(shape)
        if code != Refusal.NONE:
            yield shape, code


def _first_contact(world: World, shot: int) -> float:
    """Seconds since its segment began at which a shot meets what counts, in this tick; inf for nothing."""
    count = world.contacts
    at = np.flatnonzero(world.found_marks[FoundMark.SHOT, :count] == shot)
    return float(world.found[FoundColumn.SECONDS, at[0]]) if at.size else float("inf")


def _touches(
    world: World,
    volume_marks: NDArray[np.int64],
    all_of: _Shapes,
    columns: tuple[int, int, int],
) -> Iterator[tuple[float, Vector, int, int]]:
    block, most = world.block, world.plan.most_hurtboxes
    never, group = (np.zeros_like(block.again), NO_KEYS, NO_TICKS), columns[0]
    bodies = (0, block.bodies.shape[1], most)
    while group < columns[1]:
        count, group, _ = touch_contacts(
            block.volumes,
            volume_marks,
            all_of.shapes,
            all_of.marks,
            never,
            world.touched,
            world.touched_marks,
            (group, *columns[1:]),
            bodies,
            block.first_hazard_group,
            world.counts[Count.TICK],
            0.0,
        )
        for line, mark in zip(
            world.touched[:, :count].T.tolist(), world.touched_marks[:, :count].T.tolist(), strict=True
        ):
            x, y, z = line[TouchColumn.X : TouchColumn.X + 3]
            yield line[TouchColumn.SHARE], (x, y, z), mark[TouchMark.VOLUME], mark[TouchMark.SHAPE]


def _volume_code(world: World, volume: int, all_of: _Shapes, shape: int, share: float) -> int:
    if all_of.dead[shape]:
        return Refusal.TARGET_DEAD
    code = int(volume_refusal(world.block.volume_marks, volume, all_of.marks, shape))
    if code != Refusal.NONE:
        return code
    group = int(world.block.volume_marks[VolumeMark.GROUP, volume])
    seat = index_of_mark(int(all_of.marks[ShapeMark.OWNER, shape]))
    block = world.block
    kept = (block.again, block.swing_touches.keys, block.swing_touches.figures)
    again = float(touchable_from(kept, block.first_hazard_group, group, seat))
    return Refusal.TOUCHED_BEFORE if again > world.counts[Count.TICK] + share else Refusal.NONE
