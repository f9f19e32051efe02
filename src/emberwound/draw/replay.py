"""A recorded bout as one page to be scrubbed: everything a browser draws, as plain numbers, and the page round it."""

from __future__ import annotations

from importlib.resources import files
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np

from emberwound.chronicle.runs import rerun
from emberwound.chronicle.telling import Teller
from emberwound.draw.stage import areas_of
from emberwound.draw.story import plan_of, title_of
from emberwound.draw.style import seat_look
from emberwound.draw.views import (
    FROM_SIDE,
    VIEWS,
    Stance,
    area_outline,
    at_rest,
    box_outline,
    part_place,
    to_space,
    wall_outline,
)
from emberwound.geometry.legs import SHAPE_A_END, SHAPE_AXES, SHAPE_B, SHAPE_RADIUS
from emberwound.geometry.pose import (
    OFFSET_A,
    OFFSET_AXES,
    OFFSET_B,
    OFFSET_IS_BOX,
    OFFSET_JOINT_A,
    OFFSET_JOINT_B,
    OFFSET_RADIUS,
)
from emberwound.geometry.volumes import BOX, VOLUME_OWNER, VOLUME_SHAPE, volume_ends
from emberwound.vocabulary.events import Entered, Healed, Released, Respawned, ShotEnded, Wounded

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from emberwound.bout import Bout
    from emberwound.bout.bars import BarView
    from emberwound.bout.world import World
    from emberwound.chronicle import Chronicle
    from emberwound.draw.views import View
    from emberwound.plan import Plan
    from emberwound.vocabulary.events import Event
    from emberwound.vocabulary.orders import Input

DIGITS = 3
"""Lengths and shares are written to so many digits after the point."""
MARK = "/*bout*/null"
"""What stands in the page for the data."""

Json = Any


def replay_page(chronicle: Chronicle, progress: Callable[[int, int], None] | None = None) -> str:
    """One HTML page that shows a recorded bout; it needs no network and no other file.

    `progress` is called now and then with the ticks seen and the ticks in all.
    """
    page = files("emberwound.draw").joinpath("replay.html").read_text(encoding="utf-8")
    data = msgspec.json.encode(replay_data(chronicle, progress)).decode().replace("</", "<\\/")
    return page.replace(MARK, data, 1)


def replay_data(chronicle: Chronicle, progress: Callable[[int, int], None] | None = None) -> dict[str, Json]:
    """All that the page draws, state by state, as plain lists and numbers."""
    plan = plan_of(chronicle)
    view = VIEWS[plan.plane.name][0]
    watcher = _Watcher(plan, view, chronicle.end.ticks, progress)
    rerun(chronicle, watcher)
    looks = _Looks(plan, view)
    tracks, book = chronicle.tracks, chronicle.rules.book
    low, high = view.flat(plan.low), view.flat(plan.high)
    return {
        "title": title_of(chronicle),
        "units": book.settings.units,
        "seen": view.name,
        "rate": chronicle.header.tick_rate,
        "states": len(tracks.ticks),
        "low": _rounded(low),
        "high": _rounded(high),
        "floor": plan.floor if view is FROM_SIDE else None,
        "walls": [
            {"name": name, "outline": _rounded(wall_outline(plan, number, view))}
            for number, name in enumerate(plan.wall_names)
        ],
        "areas": [
            {"look": look, "name": name, "outline": _rounded(area_outline(plan, number, view))}
            for number, (look, name) in enumerate(areas_of(plan))
        ],
        "seats": [_seat(chronicle, plan, view, looks, name) for name in tracks.seats],
        "looks": looks.shapes,
        "hits": watcher.hits,
        "off": watcher.off,
        "bars": watcher.bars(),
        "lives": watcher.lives,
        "counter": next(iter(book.settings.board), next(iter(book.counters), None)),
        "shots": _shots(chronicle, view, plan),
        "events": _events(chronicle),
    }


def _rounded(values: Any) -> Json:
    return np.round(np.asarray(values, float), DIGITS).tolist()


class _Looks:
    """The shapes of bodies about their feet, each way they ever looked once."""

    def __init__(self, plan: Plan, view: View) -> None:
        self.plan = plan
        self.view = view
        self.shapes: list[Json] = []
        self._known: dict[tuple[int, float, int, bool], int] = {}

    def of(self, fighter: int, pose: float, hidden: int, *, left: bool) -> int:
        """The number of the look of a fighter in a pose, with some hurtboxes off, looking left or not."""
        key = (fighter, pose, hidden, left)
        if key not in self._known:
            self._known[key] = len(self.shapes)
            heading = (-1.0 if left else 1.0, 0.0)
            self.shapes.append(self._shapes(fighter, Stance((0.0, 0.0, 0.0), heading, pose, hidden)))
        return self._known[key]

    def _shapes(self, fighter: int, stance: Stance) -> list[Json]:
        """Capsules as [ax, ay, bx, by, radius], boxes as lists of corners."""
        tables, found = self.plan.tables, []
        for part in range(len(self.plan.fighters[fighter].hurtboxes)):
            if stance.hidden >> part & 1:
                continue
            offsets, marks = tables.offsets[:, fighter, part], tables.offset_marks[:, fighter, part]
            a = part_place(offsets, marks, (OFFSET_A, OFFSET_JOINT_A), self.plan, stance)
            if marks[OFFSET_IS_BOX]:
                rows = offsets[OFFSET_AXES : OFFSET_AXES + 9].reshape(3, 3)
                axes = np.array([to_space(row, (0.0, 0.0, 0.0), stance.heading) for row in rows])
                found.append(_rounded(box_outline(a, offsets[OFFSET_B : OFFSET_B + 3], axes, self.view)))
                continue
            b = part_place(offsets, marks, (OFFSET_B, OFFSET_JOINT_B), self.plan, stance)
            ends = [*self.view.spot(a), *self.view.spot(b), float(offsets[OFFSET_RADIUS])]
            found.append(_rounded(ends))
        return found


def _seat(chronicle: Chronicle, plan: Plan, view: View, looks: _Looks, name: str) -> dict[str, Json]:
    """A seat's or a prop's stretches of being there: from which state on, where, in which look, and turned how far."""
    tracks = chronicle.tracks
    number = tracks.seats.index(name)
    entered = next((event for event in chronicle.events if isinstance(event, Entered) and event.seat == name), None)
    prop = next((each for each in plan.props if each.name == name), None)
    fighters = [(event.tick, event.fighter) for event in chronicle.events
                if isinstance(event, Entered | Respawned) and event.seat == name]  # fmt: skip
    stretches: list[dict[str, Json]] = []
    for first, last in _runs(tracks.alive[:, number]):
        sort = prop.sort if prop else [each for begins, each in fighters if begins <= tracks.ticks[first]][-1]
        fighter = plan.fighter(sort)
        if fighter is None:
            continue
        states = range(first, last)
        rest = at_rest(plan, fighter, (0, 0, 0), (1, 0))
        seen = [
            looks.of(fighter.id, rest.pose if prop else float(tracks.poses[state, number]),
                     rest.hidden if prop else int(tracks.hidden[state, number]),
                     left=view is FROM_SIDE and bool(tracks.ahead[state, number, 0] < 0.0))
            for state in states
        ]  # fmt: skip
        turns = np.arctan2(tracks.ahead[first:last, number, 1], tracks.ahead[first:last, number, 0])
        places = view.flat([plan.plane.lift(place) for place in tracks.positions[first:last, number].tolist()])
        stretches.append(
            {
                "first": first,
                "places": _rounded(places.ravel()),
                "looks": _changes(seen, first),
                "turns": [] if view is FROM_SIDE else _changes(np.round(turns, 2).tolist(), first),
            }
        )
    return {
        "name": name,
        "sort": prop.sort if prop else entered.fighter if entered else "",
        "team": entered.team if entered else None,
        "prop": prop is not None,
        "colour": "#26313b" if prop else seat_look(number - len(plan.props))[0],
        "stretches": stretches,
    }


def _runs(there: np.ndarray) -> list[tuple[int, int]]:
    """From which state up to which something is there."""
    turns = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]])))
    return [(int(a), int(b)) for a, b in turns.reshape(-1, 2)]


def _changes(values: Sequence[float], first: int) -> list[Json]:
    """Pairs of a state and a value, where it changes."""
    found: list[Json] = []
    for state, value in enumerate(values, first):
        if not found or found[-1][1] != value:
            found.append([state, value])
    return found


def _shots(chronicle: Chronicle, view: View, plan: Plan) -> list[dict[str, Json]]:
    """Each shot: whose, from which state on it flew where, where it began and ended, and by which event."""
    tracks, lift = chronicle.tracks, plan.plane.lift
    ended = {event.shot: event for event in chronicle.events if isinstance(event, ShotEnded)}
    found: list[dict[str, Json]] = []
    for event in chronicle.events:
        if not isinstance(event, Released):
            continue
        flown = tracks.shot_ids == event.shot
        states = tracks.shot_states[flown].tolist()
        way = [event.position, *map(tuple, tracks.shot_positions[flown].tolist())]
        end = ended.get(event.shot)
        if end is not None:
            way.append(end.position)
        found.append(
            {
                "by": event.by,
                "first": states[0] if states else event.tick + 1,
                "last": states[-1] if states else event.tick + 1,
                "end": None if end is None else end.tick + 1,
                "hit": end is not None and end.hurtbox is not None,
                "way": _rounded(view.flat([lift(place) for place in way]).ravel()),
            }
        )
    return found


def _events(chronicle: Chronicle) -> list[dict[str, Json]]:
    """Every event that a reader is told of, with the ledger of a wound."""
    teller = Teller(chronicle.header.tick_rate)
    found: list[dict[str, Json]] = []
    for event in chronicle.events:
        text = teller.sentence(event)
        if not text:
            continue
        told: dict[str, Json] = {
            "state": event.tick + 1,
            "time": round(event.time, 3),
            "kind": str(event.__struct_config__.tag),
            "text": text,
        }
        if isinstance(event, Wounded | Healed):
            ledger = event.ledger
            told["ledger"] = [
                [step.rule, round(step.before, 4), round(step.after, 4), step.why] for step in ledger.steps
            ]
        found.append(told)
    return found


class _Watcher:
    """Sees what tracks do not hold: hitboxes that are on, hazards that are off, bars, lives and scores."""

    def __init__(self, plan: Plan, view: View, ticks: int, progress: Callable[[int, int], None] | None) -> None:
        self.plan = plan
        self.view = view
        self.ticks = ticks
        self.progress = progress
        self.hits: dict[int, Json] = {}
        self.off: list[Json] = [[] for _ in plan.hazards]
        self.lives: dict[str, Json] = {}
        self._bars: dict[tuple[str, str], dict[str, Json]] = {}

    def tick_closed(self, bout: Bout, inputs: Sequence[Input], events: Sequence[Event]) -> None:
        """Take down the state that this tick led to."""
        del inputs, events
        block, state = bout.world.block, bout.tick
        shapes = block.volume_marks[VOLUME_SHAPE]
        on: list[int] = np.flatnonzero(shapes[: block.first_hazard]).tolist()
        if on:
            self.hits[state] = [self._hitbox(bout, column, int(shapes[column])) for column in on]
        for number in range(len(self.plan.hazards)):
            _note(self.off[number], state, not shapes[block.first_hazard + number])
        for row in bout.board():
            seat = bout.seat(row.seat)
            score = next(iter(row.counters.values()), None)
            _note(self.lives.setdefault(row.seat, []), state, [seat.lives_left, score])
        self._note_bars(bout.world, bout.bars(), state)
        if self.progress and state % 256 == 0:
            self.progress(state, self.ticks)

    def _hitbox(self, bout: Bout, column: int, shape: int) -> Json:
        block, view = bout.world.block, self.view
        owner = bout.world.names[int(block.volume_marks[VOLUME_OWNER, column]) - 1]
        volumes = block.volumes
        if shape == BOX:
            axes = volumes[SHAPE_AXES : SHAPE_AXES + 9, column].reshape(3, 3)
            centre = volumes[SHAPE_A_END : SHAPE_A_END + 3, column]
            return [owner, _rounded(box_outline(centre, volumes[SHAPE_B : SHAPE_B + 3, column], axes, view))]
        ax, ay, az, bx, by, bz = volume_ends(volumes, column, shape, 1.0)
        radius = float(volumes[SHAPE_RADIUS, column])
        return [owner, _rounded([*view.spot((ax, ay, az)), *view.spot((bx, by, bz)), radius])]

    def _note_bars(self, world: World, views: Sequence[BarView], state: int) -> None:
        there = {(view.seat, view.bar): view for view in sorted(views, key=lambda view: view.alive)}
        for key, view in there.items():
            entry = self._bars.setdefault(key, _bar(view, self._lowered(world, key[0])))
            pips = [round(pip, 2) for pip in view.pips]
            shown = [round(view.shown, DIGITS), round(view.trail, DIGITS), view.colour, view.pattern, view.text, pips]
            _note(entry["changes"], state, shown if view.visible else None)
        for key in self._bars.keys() - there.keys():
            _note(self._bars[key]["changes"], state, None)

    def _lowered(self, world: World, seat: str) -> float:
        """How far down a bar over a head goes where the head is seen from above."""
        fighter = world.fighter_of_seat(world.names.index(seat))
        return fighter.height - fighter.radius if self.plan.plane.name == "full" else 0.0

    def bars(self) -> list[Json]:
        """The bars of all seats, each with what it showed from when on."""
        return list(self._bars.values())


def _bar(view: BarView, lowered: float) -> dict[str, Json]:
    left, bottom, width, height = view.rect
    return {
        "seat": view.seat,
        "style": view.style,
        "rect": _rounded([left, bottom - lowered, width, height]),
        "segments": _rounded(view.segments),
        "outline": view.outline_colour,
        "changes": [],
    }


def _note(changes: list[Json], state: int, value: Json) -> None:
    """Add a value where it differs from the last."""
    if not changes or changes[-1][1] != value:
        changes.append([state, value])
