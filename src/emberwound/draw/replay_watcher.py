"""What the page of a replay shows and tracks do not hold, taken down while the bout runs again."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, TypeAlias

import numpy as np

from emberwound.bout.views.body import hitboxes_of, stance_of
from emberwound.chronicle.bars import BarWatcher
from emberwound.draw.projections import FROM_SIDE, outline
from emberwound.plan.stances import Stance, area_solids, hurtbox_solids, moving_hazards

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout import Bout
    from emberwound.bout.views.bars import BarView
    from emberwound.bout.views.body import BodyView
    from emberwound.bout.views.frame import View
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan
    from emberwound.plan.solids import Solid
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input


DIGITS = 3
"""Lengths and shares are written to so many digits after the point."""

Json: TypeAlias = Any


def rounded(values: object) -> Json:
    """Numbers as a page holds them."""
    return np.round(np.asarray(values, float), DIGITS).tolist()


class Looks:
    """The shapes of bodies about their feet, each way they ever looked once."""

    def __init__(self, plan: Plan, projection: Projection) -> None:
        self.plan = plan
        self.projection = projection
        self.shapes: list[Json] = []
        self._known: dict[tuple[int, float, int, bool], int] = {}

    def of(self, fighter: int, pose: float, hidden: int, *, left: bool) -> int:
        """The index of the look of a fighter in a pose, with some hurtboxes off, looking left or not."""
        key = (fighter, pose, hidden, left)
        if key not in self._known:
            self._known[key] = len(self.shapes)
            heading = (-1.0 if left else 1.0, 0.0)
            self.shapes.append(self._shapes(fighter, Stance((0.0, 0.0, 0.0), heading, pose, hidden)))
        return self._known[key]

    def _shapes(self, fighter: int, stance: Stance) -> list[Json]:
        """Capsules as [ax, ay, bx, by, radius], boxes as lists of corners."""
        return [solid_json(each, self.projection) for each in hurtbox_solids(self.plan, fighter, stance).values()]


def solid_json(solid: Solid, projection: Projection) -> Json:
    """A capsule as [ax, ay, bx, by, radius], any other shape as a list of corners."""
    if solid.name == "capsule":
        return rounded([*projection.spot(solid.a), *projection.spot(solid.b), solid.radius])
    return rounded(outline(solid, projection))


class ReplayWatcher:
    """Sees what tracks do not hold: hitboxes that are on, hazards that are off, corpses, bars and lives."""

    def __init__(
        self, plan: Plan, projection: Projection, looks: Looks, ticks: int, progress: Callable[[int, int], None] | None
    ) -> None:
        self.plan = plan
        self.projection = projection
        self.looks = looks
        self.ticks = ticks
        self.progress = progress
        self.hits: dict[int, Json] = {}
        self.off: list[Json] = [[] for _ in plan.hazards]
        self.moved: dict[int, Json] = {index: [] for index in moving_hazards(plan)}
        self._starts = [projection.flat(solid.a) for solid, _ in area_solids(plan)]
        self.lives: dict[str, Json] = {}
        self._corpses: dict[int, dict[str, Json]] = {}
        self._bars: dict[tuple[Json, ...], dict[str, Json]] = {}
        self._bar_watcher = BarWatcher(plan, self._note_bars)

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Take down the state that this tick led to."""
        view, state = bout.view(), bout.tick
        on = [(body.seat, each) for body in view.bodies for each in hitboxes_of(body).values()]
        if on:
            self.hits[state] = [[seat, solid_json(each, self.projection)] for seat, each in on]
        for index, hazard in enumerate(view.areas[: len(self.off)] if self.off else ()):
            note(self.off[index], state, not hazard.on)
            if index in self.moved and hazard.on:
                place = self.projection.flat(self.plan.space.lift(hazard.solid.a))
                note(self.moved[index], state, rounded(place - self._starts[index]))
        if events:
            self._note_lives(bout, state)
        self._note_corpses(view, state)
        self._bar_watcher.tick_closed(bout, inputs, events)
        if self.progress and state % 256 == 0:
            self.progress(state, self.ticks)

    def _note_lives(self, bout: Bout, state: int) -> None:
        left = {seat.name: "∞" if seat.lives_left is None else seat.lives_left for seat in bout.seats}
        for name in dict.fromkeys((*self.lives, *left)):
            note(self.lives.setdefault(name, []), state, left.get(name))

    def _note_corpses(self, view: View, state: int) -> None:
        for body in view.corpses:
            if body.id not in self._corpses:
                self._corpses[body.id] = self._corpse(body, state)
            corpse, ragdoll = self._corpses[body.id], body.ragdoll
            corpse["last"] = state
            spots = [body.position] if ragdoll is None else list(ragdoll.points.values())
            places = [self.projection.spot(self.plan.space.lift(each)) for each in spots]
            note(corpse["places"], state, rounded(np.ravel(places)))

    def _corpse(self, body: BodyView, state: int) -> dict[str, Json]:
        """A corpse as it was when it was first seen: by links if it is a ragdoll, else the look it died in."""
        found: dict[str, Json] = {"seat": body.seat, "first": state, "last": state, "places": []}
        fighter = self.plan.fighter(body.fighter)
        if fighter is not None and fighter.ragdoll is not None and body.ragdoll is not None:
            return {**found, "links": fighter.ragdoll.links.T.tolist(), "radius": fighter.ragdoll.radius}
        x, y = body.heading
        left, stance = self.projection is FROM_SIDE and x < 0.0, stance_of(body)
        return {
            **found,
            "look": self.looks.of(fighter.id if fighter else 0, stance.pose, stance.hidden, left=left),
            "turn": 0.0 if self.projection is FROM_SIDE else round(float(np.arctan2(y, x)), 2),
        }

    def _note_bars(self, state: int, views: list[BarView]) -> None:
        there = {(view.seat, view.bar, view.rect): view for view in sorted(views, key=lambda view: view.alive)}
        for key, view in there.items():
            entry = self._bars.setdefault(key, _bar(view, state))
            note(entry["changes"], state, self._painted(entry, view) or None)
        for key in self._bars.keys() - there.keys():
            note(self._bars[key]["changes"], state, None)

    @staticmethod
    def _painted(entry: dict[str, Json], view: BarView) -> list[Json]:
        """What is painted of a bar: of each shape the index of how it looks, then how far it is filled."""
        told: list[Json] = []
        for shape in view.shapes:
            looks = [
                shape.sort,
                rounded(shape.rect),
                shape.colour,
                shape.pattern,
                shape.opacity,
                shape.outline,
                shape.text,
            ]
            if looks not in entry["shapes"]:
                entry["shapes"].append(looks)
            told += [entry["shapes"].index(looks), round(shape.share, DIGITS)]
        return told

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
        "first": state,
        "shapes": [],
        "changes": [],
    }


def note(changes: list[Json], state: int, value: Json) -> None:
    """Add a value where it differs from the last."""
    if not changes or changes[-1][1] != value:
        changes.append([state, value])
