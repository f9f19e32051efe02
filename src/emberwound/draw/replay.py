"""A recorded bout as one page to be scrubbed: everything a browser draws, as plain numbers, and the page round it."""

from __future__ import annotations

from importlib.resources import files
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from emberwound.chronicle.narration import Narrator
from emberwound.draw.palette import seat_look
from emberwound.draw.projections import FROM_SIDE, PROJECTIONS, area_outline, areas_of, wall_outline
from emberwound.draw.replay_watcher import Looks, ReplayWatcher, rounded
from emberwound.draw.windows import plan_of, title_of
from emberwound.plan.stances import area_solids, at_rest
from emberwound.study.inquest.orders import lines_for_story, whys
from emberwound.study.lives import fighter_at
from emberwound.vocabulary.events import Healed, Released, SeatEntered, ShotEnded, Wounded

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.draw.replay_watcher import Json
    from emberwound.plan import Plan
    from emberwound.study.inquest.answer import Answer

MARK = "/*bout*/null"
"""What stands in the page for the data."""


def replay_page(chronicle: Chronicle, progress: Callable[[int, int], None] | None = None, *, why: bool = False) -> str:
    """One HTML page that shows a recorded bout; it needs no network and no other file.

    With `why` it says why each shot and swing missed and each order was refused: an inquest for each, which takes some
    tenths of a second. `progress` is called now and then with the ticks seen and the ticks in all.
    """
    page = files("emberwound.draw").joinpath("replay.html").read_text(encoding="utf-8")
    data = msgspec.json.encode(replay_data(chronicle, progress, why=why)).decode().replace("<", "\\u003c")
    return page.replace(MARK, data, 1)


def replay_data(
    chronicle: Chronicle, progress: Callable[[int, int], None] | None = None, *, why: bool = False
) -> dict[str, Json]:
    """All that the page draws, state by state, as plain lists and numbers."""
    plan = plan_of(chronicle)
    projection = PROJECTIONS[plan.space.name][0]
    looks = Looks(plan, projection)
    watcher = ReplayWatcher(plan, projection, looks, chronicle.end.ticks, progress)
    chronicle.show(watcher)
    tracks, book = chronicle.tracks, chronicle.rules.book
    low, high = projection.flat(plan.low), projection.flat(plan.high)
    return {
        "title": title_of(chronicle),
        "units": book.settings.units,
        "seen": projection.name,
        "rate": chronicle.header.tick_rate,
        "states": len(tracks.ticks),
        "low": rounded(low),
        "high": rounded(high),
        "floor": plan.floor if projection is FROM_SIDE else None,
        "walls": [
            {"name": name, "outline": rounded(wall_outline(plan, index, projection))}
            for index, name in enumerate(plan.wall_names)
        ],
        "areas": [
            {**look._asdict(), "outline": rounded(area_outline(plan, solid, projection))}
            for look, (solid, _) in zip(areas_of(plan), area_solids(plan), strict=True)
        ],
        "seats": [_seat(chronicle, plan, projection, looks, name) for name in tracks.seats],
        "looks": looks.shapes,
        "hits": watcher.hits,
        "off": watcher.off,
        "moved": watcher.moved,
        "corpses": watcher.corpses(),
        "bars": _bars(chronicle, plan, watcher.bars()),
        "lives": watcher.lives,
        **_scores(chronicle),
        "shots": _shots(chronicle, projection, plan),
        "events": _events(chronicle, whys(chronicle, progress=progress) if why else {}),
    }


def _bars(chronicle: Chronicle, plan: Plan, bars: list[Json]) -> list[Json]:
    """The bars, hung over the head as it is seen from above where there are heights and no view from the side."""
    if plan.space.name == "3d":
        for bar in bars:
            fighter = plan.fighter(fighter_at(chronicle.events, bar["seat"], bar["first"]) or "")
            if fighter is not None:
                for shape in bar["shapes"]:
                    shape[1][1] -= fighter.height - fighter.radius
    return bars


def _seat(chronicle: Chronicle, plan: Plan, projection: Projection, looks: Looks, name: str) -> dict[str, Json]:
    """A seat's or a prop's stays of being there: from which state on, where, in which look, and turned how far."""
    tracks = chronicle.tracks
    index = tracks.seats.index(name)
    entered = next((event for event in chronicle.events if isinstance(event, SeatEntered) and event.seat == name), None)
    prop = next((each for each in plan.props if each.name == name), None)
    stays: list[dict[str, Json]] = []
    for first, last in _runs(tracks.alive[:, index]):
        sort = prop.sort if prop else fighter_at(chronicle.events, name, int(tracks.ticks[first]))
        fighter = plan.fighter(sort or "")
        if fighter is None:
            continue
        states = range(first, last)
        rest = at_rest(plan, fighter, (0, 0, 0), (1, 0))
        seen = [
            looks.of(fighter.id, rest.pose if prop else float(tracks.poses[state, index]),
                     rest.hidden if prop else int(tracks.hidden[state, index]),
                     left=projection is FROM_SIDE and bool(tracks.ahead[state, index, 0] < 0.0))
            for state in states
        ]  # fmt: skip
        turns = np.arctan2(tracks.ahead[first:last, index, 1], tracks.ahead[first:last, index, 0])
        places = projection.flat([plan.space.lift(place) for place in tracks.positions[first:last, index].tolist()])
        stays.append(
            {
                "first": first,
                "places": rounded(places.ravel()),
                "looks": _changes(seen, first),
                "turns": [] if projection is FROM_SIDE else _changes(np.round(turns, 2).tolist(), first),
            }
        )
    return {
        "name": name,
        "sort": prop.sort if prop else entered.fighter if entered else "",
        "team": entered.team if entered else None,
        "prop": prop is not None,
        "colour": "#26313b" if prop else seat_look(index - len(plan.props))[0],
        "stays": stays,
    }


def _scores(chronicle: Chronicle) -> dict[str, Json]:
    """The counter that the board goes by, and what each seat had of it from when on."""
    tracks, book = chronicle.tracks, chronicle.rules.book
    counter = next(iter(book.settings.board), next(iter(book.counters), None))
    if counter is None:
        return {"counter": None, "scores": {}}
    points = tracks.scores[:, :, list(book.counters).index(counter)]
    return {
        "counter": counter,
        "scores": {
            name: _changes([None if np.isnan(each) else each for each in rounded(points[:, index])], 0)
            for index, name in enumerate(tracks.seats)
        },
    }


def _runs(there: np.ndarray) -> list[tuple[int, int]]:
    """From which state up to which something is there."""
    turns = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]])))
    return [(int(a), int(b)) for a, b in turns.reshape(-1, 2)]


def _changes(values: Sequence[float | None], first: int) -> list[Json]:
    """Pairs of a state and a value, where it changes."""
    found: list[Json] = []
    for state, value in enumerate(values, first):
        if not found or found[-1][1] != value:
            found.append([state, value])
    return found


def _shots(chronicle: Chronicle, projection: Projection, plan: Plan) -> list[dict[str, Json]]:
    """Each shot: whose, from which state on it flew where, where it began and ended, and by which event."""
    tracks, lift = chronicle.tracks, plan.space.lift
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
                "way": rounded(projection.flat([lift(place) for place in way]).ravel()),
            }
        )
    return found


def _events(chronicle: Chronicle, answers: Mapping[int, Answer]) -> list[dict[str, Json]]:
    """Every event that a reader sees, with the ledger of a wound, or why it came to nothing."""
    lines = lines_for_story(answers)
    narrator = Narrator(chronicle.header.tick_rate, chronicle.rules.book)
    found: list[dict[str, Json]] = []
    for event in chronicle.events:
        text = narrator.sentence(event)
        if not text:
            continue
        told: dict[str, Json] = {
            "state": event.tick + 1,
            "time": round(event.time, 3),
            "kind": str(event.__struct_config__.tag),
            "text": f"{text}; {lines[event.seq]}" if event.seq in lines else text,
        }
        if event.seq in answers:
            told["answer"] = [[each.name, each.text] for each in answers[event.seq].causes]
        if isinstance(event, Wounded | Healed):
            ledger = event.ledger
            told["ledger"] = [
                [step.rule, round(step.before, 4), round(step.after, 4), step.why] for step in ledger.steps
            ]
        found.append(told)
    return found
