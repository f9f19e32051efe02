"""Hit stop: whose clock stands still for how long, and what goes on meanwhile."""

from __future__ import annotations

from typing import Any

import pytest

import emberwound as ew
from conftest import only, run
from emberwound import Reason, events

BOOK = """
[settings]
tick_rate = 60
buffer = {buffer}
longest_hit_stop = {longest}
[kinds.iron]
[afflictions.burning]
kind = "iron"
damage = 1
every = 0.3
seconds = 0.8
[fighters.hewer]
attacks = ["hew", "jab", "shoot", "roll"]
speed = 3
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 500, vital = true, refill = 10, delay = 0 }}
guard = {{ perfect = 0.05 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[[fighters.hewer.reactions]]
name = "flinch"
seconds = 0.3
[attacks.hew]
kind = "iron"
damage = 10
active = 0.1
recovery = 0.4
cooldown = 1
hit_stop = {stop}
push = {{ {push} }}
{hew}
strike.hitboxes.edge = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.jab]
kind = "iron"
damage = 1
active = 0.1
hit_stop = 0.05
strike.hitboxes.fist = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.shoot]
kind = "iron"
damage = 1
hit_stop = 0.2
shot = {{ radius = 0.05, speed = 60, gravity_share = 0, muzzle = [0.4, 1], direction = "facing" }}
[attacks.roll]
active = 0.3
[arenas.yard]
floor = 0
bounds = {{ low = [-20, -1], high = [20, 9] }}
"""


def yard(tick_rate: int = 60, **parts: Any) -> ew.Bout:
    figures = {"buffer": 0.1, "longest": 0.5, "stop": 0.1, "push": "speed = 3", "hew": "", **parts}
    return ew.Bout(ew.Rulebook.parse(BOOK.format(**figures)), arena="yard", tick_rate=tick_rate)


def meet(bout: ew.Bout, apart: float = 1) -> tuple[ew.Seat, ew.Seat]:
    return bout.enter("hewer", seat="amber", at=(0, 0)), bout.enter("hewer", seat="reed", at=(apart, 0), facing="left")


@pytest.mark.parametrize(("tick_rate", "ticks"), [(30, 3), (60, 6), (120, 12), (240, 24)])
def test_a_strike_freezes_both_for_its_time(tick_rate: int, ticks: int) -> None:
    bout = yard(tick_rate)
    seats = meet(bout)
    seats[0].order(press="hew")
    frozen = only(events.HitStopBegan, bout.step())
    assert {(event.seat, event.until_tick) for event in frozen} == {("amber", 1 + ticks), ("reed", 1 + ticks)}
    where = seats[1].position
    for _ in range(ticks):
        assert all("frozen" in seat.states for seat in seats)
        bout.step()
        assert seats[1].position == where, "the push waits"
    bout.step()
    assert not any("frozen" in seat.states for seat in seats)
    bout.step()
    assert seats[1].position and where and seats[1].position[0] > where[0]


def test_all_that_the_own_clock_times_comes_later_by_as_much() -> None:
    told = {}
    for stop in (0, 0.2):
        bout = yard(stop=stop, hew='afflicts = ["burning"]')
        amber, reed = meet(bout)
        amber.order(press="hew")
        found = bout.step()
        lost = 500 - reed.pools["health"]
        if stop:
            run(bout, 0.15)
            assert 500 - reed.pools["health"] == pytest.approx(lost), "nothing refills in the frozen"
        found += run(bout, 2)
        swing = only(events.SwingEnded, found)[0].tick
        recovered = only(events.ReactionEnded, found)[0].tick
        burns = [event.tick for event in only(events.Wounded, found) if event.hurtbox == "whole body"]
        over = only(events.AfflictionEnded, found)[0].tick
        told[stop] = [swing, recovered, *burns, over]
    assert len(told[0]) == 5
    assert told[0.2] == [tick + 12 for tick in told[0]]


def test_presses_are_kept_through_a_freeze_and_the_buffer_stands_still() -> None:
    bout = yard(stop=0.4, buffer=0.05)
    amber, reed = meet(bout)
    amber.order(press="hew")
    bout.step()
    reed.order(press="roll", move=1)
    found = run(bout, 0.5)
    refused = only(events.OrderRefused, found)
    assert [event.reason for event in refused] == [Reason.REACTING]
    assert refused[0].tick == pytest.approx(1 + 24 + 3, abs=1), "five hundredths after the end"
    far = yard(stop=0.4, buffer=0.05)
    amber, reed = meet(far)
    amber.order(press="hew")
    far.step()
    amber.order(press="jab")
    found = run(far, 0.4)
    assert only(events.OrderRefused, found) == []


def test_what_is_left_is_the_longer_one_and_capped() -> None:
    bout = yard(stop=0.3, longest=0.2)
    amber, _ = meet(bout)
    brack = bout.enter("hewer", seat="brack", at=(-0.4, 0))
    amber.order(press="hew")
    (until,) = {event.until_tick for event in only(events.HitStopBegan, bout.step()) if event.seat == "reed"}
    assert until == 1 + 12
    brack.order(press="jab")
    found = run(bout, 0.1)
    assert [hit for hit in only(events.Wounded, found) if (hit.by, hit.seat) == ("brack", "reed")], "the blow lands"
    again = [event for event in only(events.HitStopBegan, found) if event.seat == "reed"]
    assert again == [], "three ticks do not lengthen eleven"
    run(bout, 1)
    brack.place((0.3, 0), teleport=True)
    brack.order(press="shoot")
    found = run(bout, 0.1)
    assert {event.seat for event in only(events.HitStopBegan, found)} == {"reed"}, "a shot stops its victim alone"


def test_the_frozen_can_be_hit_and_a_push_that_sets_takes_the_place_of_the_waiting_one() -> None:
    bout = yard(stop=0.3, push="speed = 3, mode = 'add'")
    amber, reed = meet(bout)
    brack = bout.enter("hewer", seat="brack", at=(2, 0), facing="left", team="tide")
    amber.order(press="hew")
    bout.step()
    where = reed.position
    brack.order(press="hew")
    found = run(bout, 0.1)
    assert [event.by for event in only(events.Wounded, found) if event.seat == "reed"] == ["brack"]
    run(bout, 0.6)
    assert reed.position == pytest.approx(where), "three this way and three that way"


def test_letting_go_counts_at_once_and_the_perfect_moment_waits() -> None:
    bout = yard(stop=0.2)
    amber, reed = meet(bout)
    reed.order(hold="guard")
    run(bout, 0.2)
    amber.order(press="hew")
    bout.step()
    assert "frozen" in reed.states
    reed.order(hold=())
    found = run(bout, 1)
    (recovered,) = only(events.ReactionEnded, found)
    assert not recovered.guarding


@pytest.mark.parametrize("tick_rate", [7, 30, 60])
def test_a_striker_that_dies_of_its_own_blow_is_stopped_and_gone_without_a_trace(tick_rate: int) -> None:
    brief = BOOK.replace("speed = 3\nbody", "speed = 3\ncorpse_seconds = 0\nrespawn_seconds = 0.5\nbody", 1)
    text = brief.format(buffer=0.1, longest=0.5, stop=0.1, push="speed = 3", hew="hits_owner = true")
    bout = ew.Bout(ew.Rulebook.parse(text.replace("damage = 10", "damage = 900", 1)), arena="yard", tick_rate=tick_rate)
    amber = bout.enter("hewer", seat="amber", at=(0, 0), lives=9)
    for _ in range(3):
        amber.order(press="hew", hold=("roll",))
        found = run(bout, 3)
        (died,) = only(events.Died, found)
        (swing,) = only(events.SwingEnded, found)
        began = [event.seq for event in only(events.AttackBegan, found) if event.attack == "hew"]
        assert [swing.cause] == began and swing.touched == 1 and swing.seq > died.seq
        amber.order(hold=())
        run(bout, 1)


def test_a_hit_stop_of_a_single_tick_is_one() -> None:
    bout = yard(stop='"1f"')
    amber, reed = meet(bout)
    amber.order(press="hew")
    (mine, theirs) = only(events.HitStopBegan, bout.step())
    assert (mine.until_tick, theirs.until_tick) == (2, 2)
    seen = []
    for _ in range(3):
        seen.append("frozen" in reed.states)
        bout.step()
    assert seen == [True, True, False]
