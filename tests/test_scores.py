"""What is counted for each seat, and the board."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import events

BOOK = """
[settings]
tick_rate = {tick_rate}
board = {board}
[kinds.iron]
[counters.pearls]
start = 2
kill = 10
assist = 4
death = -5
minimum = 0
on_restart = "keep"
[counters.falls]
death = 1
best = "lowest"
[counters.seconds]
per_second = 2
on_death = "{on_death}"
[fighters.hewer]
attacks = ["jab", "tap"]
respawn_seconds = 0.5
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 20, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.jab]
kind = "iron"
damage = 20
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[attacks.tap]
kind = "iron"
damage = 1
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing", pierce = 9 }}
[arenas.pier]
floor = 0
{arena}
bounds = {{ low = [-20, -1], high = [20, 9] }}
hazards.pit = {{ at = [9, 0], half_space = [1, 0], fatal = true }}
pickups.shell = {{ at = [-9, 0.5], radius = 0.3, counts = {{ pearls = 3 }}, returns_after = 0.4 }}
"""


def pier(**parts: Any) -> ew.Bout:
    figures = {"tick_rate": 60, "board": '["pearls", "falls"]', "on_death": "keep", "arena": "", **parts}
    return ew.Bout(ew.Rulebook.parse(BOOK.format(**figures)), arena="pier")


def test_kills_assists_deaths_and_pickups_are_counted_and_told() -> None:
    bout = pier()
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    flint = bout.enter("hewer", seat="flint", at=(-1, 0))
    reed = bout.enter("hewer", seat="reed", at=(3, 0), facing="left", lives=3)
    flint.order(press="tap")
    steps(bout, 3)
    amber.order(press="jab")
    found = run(bout, 0.2)
    died = only(events.Died, found)[0]
    scored = only(events.Scored, found)
    assert [(event.seat, event.counter, event.why, event.before, event.after) for event in scored] == [
        ("reed", "pearls", "death", 2, 0),
        ("amber", "pearls", "kill", 2, 12),
        ("flint", "pearls", "assist", 2, 6),
        ("reed", "falls", "death", 0, 1),
    ]  # fmt: skip
    assert {event.cause for event in scored} == {died.seq}
    flint.place((-9, 0), teleport=True)
    gained = [(event.why, event.after) for event in only(events.Scored, run(bout, 0.6))]
    assert gained == [("pickup", 9), ("pickup", 12)] and flint.score["pearls"] == 12
    assert reed.score["falls"] == 1


def test_the_board_is_sorted_by_its_rule_and_those_who_are_even_share_a_place() -> None:
    bout = pier()
    seats = [bout.enter("hewer", seat=name, at=(2 * n, 0), lives=3) for n, name in enumerate("abcd")]
    assert [(row.place, row.seat) for row in bout.board()] == [(1, "a"), (1, "b"), (1, "c"), (1, "d")]
    seats[0].order(press="jab")
    run(bout, 0.2)
    seats[3].place((12, 0), teleport=True)
    steps(bout, 2)
    rows = bout.board()
    assert [(row.place, row.seat) for row in rows] == [(1, "a"), (2, "c"), (3, "b"), (3, "d")]
    assert rows[0].counters["pearls"] == 12 and not rows[3].out and rows[3].team is None
    assert [row.seat for row in pier(board="[]").board()] == []


@pytest.mark.parametrize("tick_rate", [30, 60, 240])
@pytest.mark.parametrize("on_death", ["keep", "reset"])
def test_seconds_count_while_a_body_stands(tick_rate: int, on_death: str) -> None:
    bout = pier(tick_rate=tick_rate, on_death=on_death)
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives=2)
    run(bout, 3)
    assert reed.score["seconds"] == pytest.approx(6)
    reed.place((12, 0), teleport=True)
    steps(bout, 1)
    while reed.alive:
        bout.step()
    held = reed.score["seconds"]
    assert held == (0 if on_death == "reset" else pytest.approx(6, abs=5 / tick_rate))
    for _ in range(tick_rate // 4):
        bout.step()
        assert reed.score["seconds"] == held
    run(bout, 2.25)
    assert reed.score["seconds"] == pytest.approx(held + 4, abs=3 / tick_rate)


def test_a_restart_keeps_or_resets_by_rule() -> None:
    bout = pier(arena='on_elimination = "restart"')
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    bout.enter("hewer", seat="reed", at=(3, 0))
    amber.order(press="jab")
    run(bout, 1)
    assert amber.score["pearls"] == 12 and amber.score["seconds"] < 2.0
    assert bout.seat("reed").score["falls"] == 0


@pytest.mark.parametrize("seed", range(4))
def test_a_score_is_what_its_events_and_seconds_make_it(seed: int) -> None:
    rng = np.random.default_rng(seed)
    bout = pier()
    recorder = ew.Recorder(bout)
    seats = [bout.enter("hewer", at=(n, 0), lives="endless") for n in range(5)]
    for _ in range(400):
        seat = seats[int(rng.integers(5))]
        if rng.uniform() < 0.1:
            seat.place((float(rng.choice([12, -9, 2])), 0), teleport=True)
        seat.order(press=str(rng.choice(["jab", "tap"])), facing="left" if rng.uniform() < 0.5 else "right")
        bout.step()
    chronicle = recorder.chronicle()
    scored = only(events.Scored, chronicle.events)
    assert len(scored) > 30
    for each in seats:
        for counter, start in (("pearls", 2), ("falls", 0)):
            mine = [event for event in scored if (event.seat, event.counter) == (each.name, counter)]
            assert all(a.after == b.before for a, b in pairwise(mine))
            assert each.score[counter] == (mine[-1].after if mine else start)
        died = [event for event in only(events.Died, chronicle.events) if event.seat == each.name]
        assert each.score["falls"] == len(died)
        stood = chronicle.tracks.alive[1:, chronicle.tracks.seats.index(each.name)].sum() + len(died)
        assert each.score["seconds"] == pytest.approx(2 * stood / 60)
    kills = [event.credit for event in only(events.Died, chronicle.events) if event.credit]
    assert len(kills) == sum(event.why == "kill" for event in scored)
    assert ew.rerun(chronicle).end == chronicle.end


def test_a_life_took_no_more_than_it_had_and_overkill_is_told_apart(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    lives = {(life.seat, life.number): life for life in ew.study.summarise(chronicle).lives}
    wounds = only(events.Wounded, chronicle.events)
    for (seat, number), life in lives.items():
        fighter = saltglass.book.fighters[life.fighter]
        if life.end == "died":
            assert life.taken == fighter.pools["health"].max, (seat, number)
    over = sum(wound.ledger.overkill for wound in wounds)
    assert lives["amber", 1].overkill_dealt == over == sum(life.overkill_taken for life in lives.values()) > 0
    assert lives["amber", 1].dealt + over == sum(wound.amount for wound in wounds)


@pytest.mark.parametrize("tick_rate", [7, 30, 60, 144, 240, 1000])
@pytest.mark.parametrize(("returns_after", "taken"), [("0.1", 100), ("0.01", 1000), ('"1/7"', 70)])
def test_a_place_that_counts_by_time_counts_alike_at_any_rate_for_all_who_stand_in_it(
    tick_rate: int, returns_after: str, taken: int
) -> None:
    zone = f"pickups.zone = {{ at = [0, 0.5], radius = 1, counts = {{ pearls = 1 }}, returns_after = {returns_after} }}"
    bout = pier(tick_rate=tick_rate, arena=zone)
    seats = [bout.enter("hewer", seat=name, at=(x, 0)) for name, x in (("amber", 0), ("reed", 0.5), ("far", 5))]
    bout.advance(10)
    assert [seat.score["pearls"] - 2 for seat in seats] == [taken, taken, 0]


def test_what_is_for_some_teams_is_left_alone_by_others() -> None:
    areas = """
    pickups.heart = { at = [0, 0.5], radius = 1, counts = { pearls = 1 }, for_teams = ["shore"] }
    checkpoints.cairn = { at = [0, 0.5], radius = 1, order = 1, respawn_at = [3, 0], for_teams = ["shore", "quay"] }
    """
    bout = pier(arena=areas)
    for name, team in (("foe", "tide"), ("lone", None), ("amber", "shore"), ("reed", "quay")):
        bout.enter("hewer", seat=name, at=(0, 0), team=team)
    found = run(bout, 0.1)
    assert [each.seat for each in only(events.PickedUp, found)] == ["amber"]
    assert [each.seat for each in only(events.CheckpointReached, found)] == ["amber", "reed"]
