"""What the page of a replay shows and tracks do not hold, taken down while the bout runs again."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.bout.block import BODY_LIMP, CORPSE
from emberwound.bout.conditions import hidden_in
from emberwound.bout.limps import points_of
from emberwound.chronicle.bars import BarWatcher
from emberwound.draw.looks import DIGITS, rounded
from emberwound.draw.views import FROM_SIDE, box_outline
from emberwound.geometry.legs import SHAPE_A_END, SHAPE_AXES, SHAPE_B, SHAPE_RADIUS
from emberwound.geometry.pose import (
    FRAME_AHEAD,
    FRAME_ID,
    FRAME_LIVE,
    FRAME_MODEL,
    FRAME_OWNER,
    FRAME_START,
    pose_rows,
)
from emberwound.geometry.volumes import BOX, HAZARD_PATH, VOLUME_OWNER, VOLUME_SHAPE, volume_ends

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout import Bout
    from emberwound.bout.bars import BarView
    from emberwound.bout.world import World
    from emberwound.draw.looks import Looks
    from emberwound.draw.views import View
    from emberwound.plan import Plan
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input

Json = Any


class ReplayWatcher:
    """Sees what tracks do not hold: hitboxes that are on, hazards that are off, corpses, bars and lives."""

    def __init__(
        self, plan: Plan, view: View, looks: Looks, ticks: int, progress: Callable[[int, int], None] | None
    ) -> None:
        self.plan = plan
        self.view = view
        self.looks = looks
        self.ticks = ticks
        self.progress = progress
        self.hits: dict[int, Json] = {}
        self.off: list[Json] = [[] for _ in plan.hazards]
        paths = plan.tables.hazard_marks[HAZARD_PATH, : len(plan.hazards)]
        self.moved: dict[int, Json] = {number: [] for number in paths.nonzero()[0].tolist()}
        self.lives: dict[str, Json] = {}
        self._corpses: dict[int, dict[str, Json]] = {}
        self._bars: dict[tuple[Json, ...], dict[str, Json]] = {}
        self._bar_watcher = BarWatcher(plan, self._note_bars)

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Take down the state that this tick led to."""
        block, state = bout.world.block, bout.tick
        shapes = block.volume_marks[VOLUME_SHAPE]
        on: list[int] = shapes[: block.first_hazard].nonzero()[0].tolist()
        if on:
            self.hits[state] = [self._hitbox(bout, column, int(shapes[column])) for column in on]
        for number, shape in enumerate(shapes[block.first_hazard :].tolist()[: len(self.off)]):
            note(self.off[number], state, not shape)
        for number, moves in self.moved.items():
            if shapes[block.first_hazard + number]:
                spot = slice(SHAPE_A_END, SHAPE_A_END + 3)
                way = block.volumes[spot, block.first_hazard + number] - self.plan.tables.hazards[spot, number]
                note(moves, state, rounded(self.view.flat(way)))
        if events:
            self._note_lives(bout, state)
        self._note_corpses(bout.world, state)
        self._bar_watcher.tick_closed(bout, inputs, events)
        if self.progress and state % 256 == 0:
            self.progress(state, self.ticks)

    def _note_lives(self, bout: Bout, state: int) -> None:
        left = {seat.name: "∞" if seat.lives_left is None else seat.lives_left for seat in bout.seats}
        for name in dict.fromkeys((*self.lives, *left)):
            note(self.lives.setdefault(name, []), state, left.get(name))

    def _hitbox(self, bout: Bout, column: int, shape: int) -> Json:
        block, view = bout.world.block, self.view
        owner = bout.world.names[int(block.volume_marks[VOLUME_OWNER, column]) - 1]
        volumes = block.volumes
        if shape == BOX:
            axes = volumes[SHAPE_AXES : SHAPE_AXES + 9, column].reshape(3, 3)
            centre = volumes[SHAPE_A_END : SHAPE_A_END + 3, column]
            return [owner, rounded(box_outline(centre, volumes[SHAPE_B : SHAPE_B + 3, column], axes, view))]
        ax, ay, az, bx, by, bz = volume_ends(volumes, column, shape, 1.0)
        radius = float(volumes[SHAPE_RADIUS, column])
        return [owner, rounded([*view.spot((ax, ay, az)), *view.spot((bx, by, bz)), radius])]

    def _note_corpses(self, world: World, state: int) -> None:
        marks = world.block.body_marks
        rows: list[int] = (marks[FRAME_LIVE] == CORPSE).nonzero()[0].tolist()
        for row in rows:
            number = int(marks[FRAME_ID, row])
            if number not in self._corpses:
                self._corpses[number] = self._corpse(world, row, state)
            corpse = self._corpses[number]
            corpse["last"] = state
            limp = self.plan.fighters[int(marks[FRAME_MODEL, row])].limp if marks[BODY_LIMP, row] else None
            if limp is not None:
                places = [self.view.spot(place) for place in points_of(world, row, limp)[:3].T]
            else:
                places = [self.view.spot(world.block.bodies[FRAME_START : FRAME_START + 3, row])]
            note(corpse["places"], state, rounded(np.ravel(places)))

    def _corpse(self, world: World, row: int, state: int) -> dict[str, Json]:
        """A corpse as it was when it was first seen: by links if it is limp, else the look it died in."""
        marks, ahead = world.block.body_marks[:, row : row + 1], world.block.bodies[FRAME_AHEAD : FRAME_AHEAD + 2, row]
        fighter = self.plan.fighters[int(marks[FRAME_MODEL, 0])]
        found: dict[str, Json] = {
            "seat": world.names[int(marks[FRAME_OWNER, 0]) - 1],
            "first": state,
            "last": state,
            "places": [],
        }
        if fighter.limp is not None and marks[BODY_LIMP, 0]:
            return {**found, "links": fighter.limp.links.T.tolist(), "radius": fighter.limp.radius}
        pose, hidden = pose_rows(marks, np.array([state])), hidden_in(self.plan, marks)
        left = self.view is FROM_SIDE and bool(ahead[0] < 0.0)
        return {
            **found,
            "look": self.looks.of(fighter.id, float(pose[0]), int(hidden[0]), left=left),
            "turn": 0.0 if self.view is FROM_SIDE else round(float(np.arctan2(ahead[1], ahead[0])), 2),
        }

    def _note_bars(self, state: int, views: list[BarView]) -> None:
        there = {(view.seat, view.bar, view.rect): view for view in sorted(views, key=lambda view: view.alive)}
        for key, view in there.items():
            entry = self._bars.setdefault(key, _bar(view, state))
            pips = [round(pip, 2) for pip in view.pips]
            shown = [round(view.shown, DIGITS), round(view.trail, DIGITS), view.colour, view.pattern, view.text, pips]
            note(entry["changes"], state, shown if view.visible else None)
        for key in self._bars.keys() - there.keys():
            note(self._bars[key]["changes"], state, None)

    def bars(self) -> list[Json]:
        """The bars of all seats, each with what it showed from when on."""
        self._bar_watcher.finish()
        return list(self._bars.values())

    def corpses(self) -> list[Json]:
        """All corpses that lay there, each from its first state to its last."""
        return list(self._corpses.values())


def _bar(view: BarView, state: int) -> dict[str, Json]:
    return {
        "seat": view.seat,
        "style": view.style,
        "first": state,
        "rect": rounded(view.rect),
        "segments": rounded(view.segments),
        "outline": view.outline_colour,
        "changes": [],
    }


def note(changes: list[Json], state: int, value: Json) -> None:
    """Add a value where it differs from the last."""
    if not changes or changes[-1][1] != value:
        changes.append([state, value])
