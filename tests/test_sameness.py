"""The same bout is the same bits: in another process, stepped or advanced, laid aside and taken up again."""

from __future__ import annotations

import os
import subprocess
import sys
from typing import TYPE_CHECKING, Any

import numpy as np
import pytest

import emberwound as ew
from conftest import range_rules, steps
from emberwound import events

if TYPE_CHECKING:
    from pathlib import Path

SCRIPT = """
import sys, emberwound as ew
sys.stdout.buffer.write(ew.run(ew.Rulebook.load(sys.argv[1]), "crossing").to_bytes())
"""


def test_two_processes_with_different_hash_seeds_write_the_same_bytes(
    saltglass_path: Path, saltglass: ew.Rulebook
) -> None:
    written = [
        subprocess.run(
            [sys.executable, "-c", SCRIPT, str(saltglass_path)],
            env={**os.environ, "PYTHONHASHSEED": seed},
            check=True,
            capture_output=True,
        ).stdout
        for seed in ("1", "4242")
    ]
    assert written[0] == written[1] == ew.run(saltglass, "crossing").to_bytes()


def test_stepping_and_advancing_come_to_the_same(saltglass: ew.Rulebook) -> None:
    straight = ew.run(saltglass, "crossing")
    bout = ew.Bout.scripted(saltglass, "crossing")
    recorder = ew.Recorder(bout)
    found = [event for _ in range(21) for event in bout.advance(0.5)]
    assert tuple(found) == straight.events
    assert bout.digest() == straight.end.digest
    assert recorder.chronicle().to_bytes() == straight.to_bytes()


def test_restored_at_random_ticks_into_fresh_bouts_the_record_is_the_straight_one(saltglass: ew.Rulebook) -> None:
    straight = ew.run(saltglass, "crossing")
    ticks = np.random.default_rng(11).choice(straight.end.ticks, 20, replace=False).tolist()
    bout = ew.Bout.scripted(saltglass, "crossing")
    recorder = ew.Recorder(bout)
    for tick in sorted(ticks):
        while bout.tick < tick:
            bout.step()
        fresh = ew.Bout.scripted(saltglass, "crossing")
        fresh.restore(bout.snapshot())
        assert fresh.digest() == bout.digest()
        later = ew.Recorder(fresh)
        while fresh.tick < straight.end.ticks:
            fresh.step()
        joined = recorder.chronicle().join(later.chronicle())
        assert joined.to_bytes() == straight.to_bytes()
        for name in ("ticks", "positions", "pools", "live_shots", "shot_states", "shot_ids", "shot_positions"):
            np.testing.assert_array_equal(getattr(joined.tracks, name), getattr(straight.tracks, name))


def hosted(tick_rate: int) -> tuple[ew.Bout, ew.Recorder]:
    """A bout of a host that orders, places and enters in odd ways, with fractions of ticks between."""
    bout = ew.Bout(
        range_rules(damage=40, windup="0.1", cooldown="0.3", gravity_share=0.3), arena="range", tick_rate=tick_rate
    )
    recorder = ew.Recorder(bout)
    amber = bout.enter("thrower", seat="amber", at="line", lives=3)
    rng = np.random.default_rng(2)
    for frame in range(400):
        if frame == 40:
            bout.enter("post", seat="post", at=(6, 0), facing="left", lives=2)
        if frame == 90:
            bout.enter("thrower", seat="beryl", at="butts")
        if rng.random() < 0.3:
            amber.order(press="dart", aim=(1, float(rng.uniform(-0.1, 0.3))))
        if frame > 90 and rng.random() < 0.2:
            bout.seat("beryl").order(press="lob" if rng.random() < 0.3 else "dart", facing="left")
        if rng.random() < 0.2:
            amber.place((float(rng.uniform(-2, 2)), 0.0), teleport=bool(rng.random() < 0.3))
        bout.advance(float(rng.uniform(0.0, 0.05)))
    return bout, recorder


def test_a_hosted_bout_is_run_again_from_its_inputs_byte_for_byte(tmp_path: Path) -> None:
    bout, recorder = hosted(60)
    chronicle = recorder.chronicle()
    assert {type(each).__name__ for each in chronicle.inputs} == {"Enter", "Order", "Place"}
    assert {events.Died, events.Respawned, events.OrderRefused, events.BodyRemoved} <= {
        type(event) for event in chronicle.events
    }
    path = chronicle.save(tmp_path / "hosted.jsonl")
    loaded = ew.Chronicle.load(path)
    assert loaded == chronicle
    again = ew.rerun(loaded)
    assert again.to_bytes() == path.read_bytes()
    assert again.end.digest == bout.digest()
    np.testing.assert_array_equal(loaded.tracks.positions, chronicle.tracks.positions)


def test_orders_that_no_tick_has_taken_are_kept_by_records_and_snapshots() -> None:
    bout, recorder = hosted(60)
    bout.seat("amber").order(press="lob", facing="left")
    bout.advance(0.0)
    before = recorder.chronicle()
    assert before.inputs[-1].tick == before.end.ticks
    assert ew.rerun(before).to_bytes() == before.to_bytes()
    fresh = ew.Bout(bout.rules, arena="range")
    fresh.restore(bout.snapshot())
    first, second = ew.Recorder(bout), ew.Recorder(fresh)
    assert bout.advance(0.5) == fresh.advance(0.5)
    assert first.chronicle() == second.chronicle()
    assert before.join(second.chronicle()).to_bytes() == recorder.chronicle().to_bytes()
    assert [seat.name for seat in fresh.seats] == ["amber", "post", "beryl"]


@pytest.mark.parametrize("tick_rate", [30, 120, 144, 240])
def test_the_tick_rate_changes_no_outcome(saltglass: ew.Rulebook, tick_rate: int) -> None:
    def told(chronicle: ew.Chronicle) -> list[tuple[Any, ...]]:
        return [
            (
                type(event).__name__,
                event.seat,
                event.by,
                *(getattr(event, name, None) for name in ("amount", "reason", "life")),
            )
            for event in chronicle.events
        ]

    base, other = ew.run(saltglass, "crossing"), ew.run(saltglass, "crossing", tick_rate=tick_rate)
    assert told(base) == told(other)
    pairs = zip(base.events, other.events, strict=True)
    assert max(abs(a.time - b.time) for a, b in pairs) <= 1 / 30 + 1 / min(60, tick_rate)


def test_the_record_can_be_read_and_speaks_up_when_it_cannot(saltglass: ew.Rulebook, tmp_path: Path) -> None:
    data = ew.run(saltglass, "crossing").to_bytes()
    lines = data.splitlines(keepends=True)
    assert ew.Chronicle.from_bytes(data) == ew.run(saltglass, "crossing")
    broken = {
        r"not a chronicle": b"hello\n",
        r"not a chronicle: its first line": b"",
        r"cut off within its first line; nothing of it can be read": lines[0][:400],
        r"version 9; this program reads version 4: update it": data.replace(b'"version":4', b'"version":9', 1),
        r"version 2; this program reads version 4: record its": data.replace(b'"version":4', b'"version":2', 1),
        r"the last line is missing: the file was cut off": b"".join(lines[:-1]),
        r"line 4 cannot be read": b"".join(lines[:3]) + b'{"type":"entered"}\n' + b"".join(lines[4:]),
        r"line 4 cannot be read: an event needs": b"".join(lines[:3]) + b'{"type":"bout_restarted"}\n',
        r"was cut off; with partial=True, or --partial": b"".join(lines[:2]) + lines[2][:40],
        r"line \d+ stands where no line may stand": data + lines[1],
        r"line 1 cannot be read": data.replace(b'"seed":7,', b"", 1),
    }
    for message, content in broken.items():
        with pytest.raises(ew.ChronicleError, match=message):
            ew.Chronicle.from_bytes(content, "crossing.jsonl")
    with pytest.raises(ew.ChronicleError, match=r"nowhere\.jsonl: No such file or directory"):
        ew.Chronicle.load(tmp_path / "nowhere.jsonl")
    changed = ew.Chronicle.from_bytes(data.replace(b'"amount":12.0', b'"amount":13.0', 1))
    with pytest.raises(ew.ChronicleError, match="gives other events than it records; it was made with emberwound"):
        _ = changed.tracks


@pytest.mark.parametrize("cut", [0.3, 0.6, 0.999, 1.0])
def test_a_record_that_was_cut_off_is_read_as_far_as_it_goes(
    saltglass: ew.Rulebook, tmp_path: Path, cut: float
) -> None:
    whole = ew.run(saltglass, "crossing")
    data = whole.to_bytes()
    first = data.index(b"\n") + 1
    path = tmp_path / "cut.jsonl"
    path.write_bytes(data[: first + int(cut * (len(data) - first))])
    if cut < 1:
        with pytest.raises(ew.ChronicleError, match="was cut off"):
            ew.Chronicle.load(path)
    read = ew.Chronicle.load(path, partial=True)
    ticks = read.end.ticks
    assert read.events == tuple(event for event in whole.events if event.tick < ticks)
    assert ticks == whole.end.ticks if cut == 1 else 0 < ticks < whole.end.ticks
    bout = ew.Bout.scripted(saltglass, "crossing")
    while bout.tick < ticks:
        bout.step()
    assert read.end.digest == bout.digest() and len(read.tracks.ticks) == ticks + 1
    path.write_bytes(data[: first // 2])
    with pytest.raises(ew.ChronicleError, match="within its first line"):
        ew.Chronicle.load(path, partial=True)


def test_only_records_that_meet_can_be_joined(saltglass: ew.Rulebook) -> None:
    straight = ew.run(saltglass, "crossing")
    with pytest.raises(ew.ChronicleError, match="do not meet: the first ends at tick 630, the second begins at 0"):
        straight.join(straight)
    with pytest.raises(ew.ChronicleError, match="headers differ"):
        straight.join(ew.run(saltglass, "crossing", seed=8))
    bout = ew.Bout.scripted(saltglass, "crossing")
    bout.advance(0.5)
    with pytest.raises(ew.ChronicleError, match="begins at tick 30; join it"):
        ew.rerun(ew.Recorder(bout).chronicle())


def test_tracks_follow_the_bout(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    tracks = chronicle.tracks
    assert tracks.seats == ("amber", "reed", "brack")
    assert tracks.ticks.tolist() == list(range(631))
    assert tracks.positions[0, 1].tolist() == [8, 0]
    died, back = (
        next(e.tick for e in chronicle.events if isinstance(e, kind)) for kind in (events.Died, events.Respawned)
    )
    dead = np.isnan(tracks.pools[:, 1, 0])
    assert np.flatnonzero(dead).tolist() == list(range(died + 1, back + 1))
    assert (tracks.alive[:, 1] == ~dead).all()
    assert tracks.live_shots.sum() == len(tracks.shot_ids)
    flown = tracks.shot(2)
    released = next(event for event in chronicle.events if isinstance(event, events.Released) and event.shot == 2)
    (x, z), (vx, vz) = released.position, released.velocity or (0, 0)
    assert flown[60 - 1] == pytest.approx((x + vx, z + vz - 0.6 * 9.81 / 2)), "a second after its release"


def recorded_branches(rules: ew.Rulebook) -> tuple[ew.Bout, ew.Recorder, ew.Snapshot]:
    """A crossing, run for a second, saved, and run on for a second in a branch of its own."""
    bout = ew.Bout.scripted(rules, "crossing")
    recorder = ew.Recorder(bout)
    steps(bout, 60)
    saved = bout.snapshot()
    bout.seat("amber").order(press="cinder")
    steps(bout, 60)
    return bout, recorder, saved


def test_a_record_goes_on_with_the_branch_that_a_bout_was_restored_to(saltglass: ew.Rulebook) -> None:
    bout, recorder, saved = recorded_branches(saltglass)
    left_behind = recorder.chronicle()
    bout.restore(saved)
    assert recorder.chronicle().end.ticks == 60
    bout.seat("reed").order(move=1)
    steps(bout, 90)
    chronicle = recorder.chronicle()
    assert [event.seq for event in chronicle.events] == list(range(len(chronicle.events)))
    assert chronicle.end.ticks == 150 and chronicle != left_behind
    assert ew.rerun(chronicle) == chronicle
    assert chronicle.tracks.ticks.tolist() == list(range(151))
    alone = ew.Bout.scripted(saltglass, "crossing")
    straight = ew.Recorder(alone)
    steps(alone, 60)
    alone.seat("reed").order(move=1)
    steps(alone, 90)
    assert straight.chronicle() == chronicle


def test_a_record_says_what_restored_state_it_does_not_lead_to(saltglass: ew.Rulebook) -> None:
    _, _, saved = recorded_branches(saltglass)
    fresh = ew.Bout.scripted(saltglass, "crossing")
    recorder = ew.Recorder(fresh)
    fresh.restore(saved)
    steps(fresh, 5)
    with pytest.raises(ew.ChronicleError, match="restored to tick 60, and it holds ticks 0 to 0; record the restored"):
        recorder.chronicle()


def test_a_record_that_was_stopped_ends_where_it_was_stopped(saltglass: ew.Rulebook) -> None:
    bout, recorder, _ = recorded_branches(saltglass)
    before = recorder.chronicle()
    recorder.stop()
    steps(bout, 30)
    recorder.stop()
    assert recorder.chronicle() == before
    assert ew.rerun(before) == before


def test_whatever_can_change_what_comes_is_in_the_digest(saltglass: ew.Rulebook) -> None:
    """One input more, of any sort and with any figure, is another digest at once; without it, the same again."""
    bout = ew.Bout(saltglass, arena="saltway", seed=3)
    amber = bout.enter("lamplighter", at="gate", seat="amber", team="lamps")
    bout.enter("wader", at="ford", seat="reed", team="tide")
    steps(bout, 7)
    before, digest = bout.snapshot(), bout.digest()
    changes: list[Any] = [
        lambda: amber.order(move=1),
        lambda: amber.order(move=0.5),
        lambda: amber.order(aim=(1, 1)),
        lambda: amber.order(facing="left"),
        lambda: amber.order(facing="foe"),
        lambda: amber.order(patrol="beat"),
        *(lambda press=press: amber.order(press=press) for press in saltglass.book.fighters["lamplighter"].attacks),
        *(lambda held=held: amber.order(hold=held) for held in ("flare", "guard", "crouching", ("flare", "guard"))),
        *(
            lambda how=how: amber.place((1, 0), **how)
            for how in ({}, {"velocity": (1, 0)}, {"teleport": True}, {"grounded": True}, {"grounded": False})
        ),
        lambda: amber.place((1, 0), posture="crouching"),
        lambda: amber.place((1, 0), posture="standing"),
        lambda: amber.place((1.5, 0)),
        lambda: amber.resize("health", 91),
        lambda: amber.become("wader"),
        lambda: amber.become("tidewader"),
        amber.leave,
        *(
            lambda how=how: bout.enter("wader", at="far", **how)
            for how in (
                {},
                {"seat": "sedge"},
                {"team": "lamps"},
                {"team": "gulls"},
                {"lives": 2},
                {"lives": "endless"},
                {"facing": "right"},
            )
        ),
        lambda: bout.enter("wader", at=(22.6, 0.5)),
        bout.step,
    ]
    found = {digest}
    for number, change in enumerate(changes):
        bout.restore(before)
        assert bout.digest() == digest
        change()
        assert bout.digest() not in found, f"change {number} leaves no trace"
        found.add(bout.digest())
    assert ew.Bout(saltglass, arena="saltway", seed=4).digest() != ew.Bout(saltglass, arena="saltway", seed=3).digest()


@pytest.mark.parametrize("seconds", [0.1, 100.0])
def test_many_ticks_at_once_are_the_same_as_one_by_one(saltglass: ew.Rulebook, seconds: float) -> None:
    for name in saltglass.book.bouts:
        one_by_one, at_once = (ew.Bout.scripted(saltglass, name) for _ in range(2))
        ticks = one_by_one.script_ticks or 0
        found: list[events.AnyEvent] = []
        heard: list[events.Event] = []
        at_once.on(events.Event)(heard.append)
        while at_once.tick < ticks:
            found += at_once.advance(min(seconds, (ticks - at_once.tick) / at_once.tick_rate))
        assert found == heard == [event for _ in range(ticks) for event in one_by_one.step()]
        assert at_once.digest() == one_by_one.digest()
