"""Random rules, random fighters, random orders: what must hold whatever anybody writes or presses."""

from __future__ import annotations

import random
from collections import Counter
from typing import TYPE_CHECKING

import numpy as np
import pytest

import emberwound as ew
from conftest import only
from emberwound import events
from emberwound.chronicle.bars import bars_of
from random_books import book, enter, play

if TYPE_CHECKING:
    from emberwound.views import BarView


LONG = pytest.mark.long


@pytest.mark.parametrize("seed", [*range(4), *(pytest.param(seed, marks=LONG) for seed in range(4, 40))])
def test_whatever_is_written_and_pressed_the_promises_hold(seed: int) -> None:
    check(seed)


def check(seed: int, frames: int = 80) -> ew.Chronicle:
    """Play a random bout, and once more from its middle and from its record; its chronicle."""
    rng = random.Random(seed)
    space, tick_rate = rng.choice(["side", "top", "3d"]), rng.choice([7, 30, 60, 240])
    rules, is_scripted = ew.Rulebook.parse(book(rng, space)), rng.random() < 0.5

    def opened() -> ew.Bout:
        if is_scripted:
            return ew.Bout.scripted(rules, "drill", tick_rate=tick_rate, seed=seed)
        return ew.Bout(rules, arena="pit", tick_rate=tick_rate, seed=seed)

    bout = opened()
    recorder = ew.Recorder(bout)
    for number in range(0 if is_scripted else 5):
        enter(bout, rng, space, f"s{number}")
    heard = listeners(bout)
    play(bout, rng, space, frames)
    fresh = opened()
    fresh.restore(bout.snapshot())
    assert fresh.view().bars == bout.view().bars
    state = rng.getstate()
    play(bout, rng, space, frames)
    rng.setstate(state)
    play(fresh, rng, space, frames)
    chronicle = recorder.chronicle()
    for name in chronicle.tracks.seats[1:3]:
        shown = bars_of(chronicle, name)
        assert all(bar_holds(view) for views in shown.views.values() for view in views if view)
        last = {name: views[-1] for name, views in shown.views.items() if views[-1] is not None}
        now = sorted((view for view in bout.view().bars if view.seat == name), key=lambda view: view.alive)
        assert last == {view.bar: view for view in now}
    assert fresh.digest() == bout.digest() == chronicle.end.digest
    assert ew.rerun(chronicle).to_bytes() == chronicle.to_bytes()
    promises(chronicle)
    bound(chronicle)
    after_death(chronicle)
    counted(chronicle)
    for (kind, seat, by), count in heard.items():
        told = [
            event for event in only(kind, chronicle.events) if seat in (None, event.seat) and by in (None, event.by)
        ]
        assert count == [len(told)], "each listener hears of what it asked for, as often as it occurred"
    return chronicle


def bar_holds(view: BarView) -> bool:
    """What every bar keeps, whatever it shows."""
    shares = (view.share, view.shown, view.trail, *view.pips, *view.segments)
    counts = view.style != "pips" or len(view.pips) == len(view.text)
    return all(0.0 <= share <= 1.0 for share in shares) and view.trail >= view.shown and counts


Heard = dict[tuple[type[events.Event], str | None, str | None], list[int]]


def listeners(bout: ew.Bout) -> Heard:
    """Listeners of many kinds, and how often each was called."""
    asked: list[tuple[type[events.Event], str | None, str | None]] = [
        (events.Died, None, None),
        (events.Wounded, "s1", None),
        (events.Event, None, "s2"),
        (events.Event, "s0", None),
    ]
    heard: Heard = {each: [0] for each in asked}

    def count(which: tuple[type[events.Event], str | None, str | None]) -> None:
        kind, seat, by = which

        @bout.on(kind, seat=seat, by=by)
        def hear(_event: events.Event) -> None:
            heard[which][0] += 1

    for which in asked:
        count(which)
    return heard


def after_death(chronicle: ew.Chronicle) -> None:
    """What holds of deaths, lives, spots and scores."""
    dead: set[str] = set()
    for event in chronicle.events:
        seat = event.seat or ""
        if isinstance(event, events.SeatEntered | events.Respawned):
            dead.discard(seat)
        elif isinstance(event, events.Died):
            assert seat not in dead and (event.lives_left is None or event.lives_left >= 0)
            dead.add(seat)
        elif isinstance(event, events.Wounded | events.PickedUp | events.CheckpointReached):
            assert seat not in dead, "nothing happens to the dead"
        elif isinstance(event, events.Healed):
            assert seat not in dead or event.vital_left > 0.0 or event.amount == 0.0, "but for what revives them"
        elif isinstance(event, events.Eliminated):
            assert seat in dead
        elif isinstance(event, events.BoutEnded):
            assert event.tick == chronicle.events[-1].tick, "when it is over nothing happens any more"
        if isinstance(event, events.Respawned):
            assert event.crowded or event.moved == 0 or event.moved > 0.29, "moved by a body's breadth or not at all"
            assert event.crowded or event.by or stands_free(chronicle, event), "who is revived rises where it lies"


def stands_free(chronicle: ew.Chronicle, stood: events.Respawned) -> bool:
    """Whether nobody who was there is where a body respawns, and no hazard wounds it at once."""
    tracks, arena = chronicle.tracks, chronicle.rules.book.arenas["pit"]
    bodies = [fighter.body for fighter in chronicle.rules.book.fighters.values()]
    wide, low = 2 * min(body.radius for body in bodies), min(body.height for body in bodies)
    now = [event for event in chronicle.events if event.tick == stood.tick]
    gone = {event.seat for event in now if isinstance(event, events.SeatLeft)}
    for number, seat in enumerate(tracks.seats):
        apart = tracks.positions[stood.tick, number] - stood.position
        if seat in (stood.seat, "crate") or seat in gone or np.isnan(apart[0]):
            continue
        above = 0.0 if arena.space == "top" else abs(apart[-1])
        aside = np.hypot(apart[0], 0.0 if arena.space == "side" else apart[1])
        if aside < 0.999 * wide and above < low:
            return False
    placed = {given.seat for given in chronicle.inputs if given.tick == stood.tick}
    stung = [event for event in now if isinstance(event, events.Wounded) and event.attack in arena.hazards]
    at_once = {event.seat for event in stung if event.time <= stood.time + 1e-9}
    return stood.seat in placed or stood.seat not in at_once


def bound(chronicle: ew.Chronicle) -> None:
    """Nobody is bound twice, every hold ends once, and stages only go on within a life."""
    holds: dict[str, str] = {}
    stages: dict[str, list[str]] = {}
    names = {name: [each.name for each in one.stages] for name, one in chronicle.rules.book.fighters.items()}["a"]
    for event in chronicle.events:
        seat, by = event.seat or "", event.by or ""
        if isinstance(event, events.Grabbed):
            assert not {seat, by} & {*holds, *holds.values()}
            holds[seat] = by
        elif isinstance(event, events.GrabEnded):
            assert holds.pop(seat) == by
        elif isinstance(event, events.SeatEntered | events.Respawned):
            stages[seat] = []
        elif isinstance(event, events.StageBegan):
            assert names.index(event.stage) > max(map(names.index, stages[seat]), default=-1)
            stages[seat].append(event.stage)


def counted(chronicle: ew.Chronicle) -> None:
    """Scores change by what is told alone; whatever asks for a cue gives one, or one that is said to be silent."""
    counter = chronicle.rules.book.counters["shells"]
    gains = {"kill": counter.kill, "assist": counter.assist, "death": counter.death, "pickup": 1.0}
    values: dict[str, float] = {}
    restarts = {each.tick: each for each in chronicle.events if isinstance(each, events.BoutRestarted)}
    plain = [each for each in chronicle.events if not isinstance(each, events.Cue | events.CueSkipped)]
    late = [each for each in plain if each.tick in restarts and each.seq > restarts[each.tick].seq]
    assert all(each.time >= restarts[each.tick].time for each in late), "nothing before a restart is told after it"
    for event in chronicle.events:
        seat = event.seat or ""
        if isinstance(event, events.BoutRestarted):
            values = dict.fromkeys(values, 0.0)
        elif isinstance(event, events.SeatEntered):
            values[seat] = 0.0
        elif isinstance(event, events.Scored):
            reset = event.why == "death" and counter.on_death == "reset"
            assert event.after == (0.0 if reset else pytest.approx(event.before + gains[event.why]))
            assert counter.per_second or event.before == values[seat]
            values[seat] = event.after
        elif isinstance(event, events.SeatLeft):
            assert counter.per_second or event.counters == {"shells": values.pop(seat, 0.0)}
    cue = chronicle.rules.book.cues["cry"]
    told = [event for event in chronicle.events if isinstance(event, events.Wounded | events.Died | events.Released)]
    hears = {"everyone": "all", "victim": "seat", "striker": "by"}[cue.audience]
    asked = [event.seq for event in told if getattr(event, hears, "all") is not None]
    given = [event.cause for event in chronicle.events if isinstance(event, events.Cue | events.CueSkipped)]
    assert sorted(each for each in given if each is not None) == asked


def promises(chronicle: ew.Chronicle) -> None:
    """What every record of a bout keeps."""
    told, rate = chronicle.events, chronicle.header.tick_rate
    assert [event.seq for event in told] == list(range(len(told)))
    released = [event.shot for event in told if isinstance(event, events.Released)]
    ended = [event.shot for event in told if isinstance(event, events.ShotEnded)]
    assert len(set(released)) == len(released) and len(set(ended)) == len(ended) and set(ended) <= set(released)
    assert len(released) - len(ended) == chronicle.tracks.live_shots[-1], "every shot ends once, or still flies"
    opened = [event.cause for event in told if isinstance(event, events.SwingEnded)]
    assert len(set(opened)) == len(opened), "every swing ends once"
    struck = [
        (event.cause, event.seat, event.time) for event in told if isinstance(event, events.Wounded) and event.hitbox
    ]
    assert len(set(struck)) == len(struck), "no victim twice at one time by one swing"
    for event in told:
        if isinstance(event, events.ReactionBegan | events.HitStopBegan):
            assert event.until_tick > event.tick
    stay, lives = Counter[str | None](), list[object]()
    for event in told:
        stay[event.seat] += isinstance(event, events.SeatEntered)  # who leaves and comes back begins with life 1
        lives += [(event.seat, stay[event.seat], event.life)] if isinstance(event, events.Died) else []
    assert len(set(lives)) == len(lives), "nobody dies twice in a life"
    for event in told:
        assert event.tick / rate - 1e-9 <= event.time <= (event.tick + 1) / rate + 1e-9, "exact times lie in their tick"
        assert event.cause is None or event.cause < event.seq, "nothing follows from what comes later"
        if isinstance(event, events.Wounded | events.Healed):
            assert 0 <= event.vital_left <= event.vital_max
            assert event.amount >= 0
        if isinstance(event, events.Wounded | events.ShotEnded | events.Bounced):
            assert np.isfinite(event.position).all()
    tracks = chronicle.tracks
    assert not (tracks.pools < 0).any()
    assert not (np.abs(tracks.positions) > 15).any(), "nobody leaves the arena"
