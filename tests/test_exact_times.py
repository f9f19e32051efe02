"""Times that are met exactly: at every tick rate, and on whatever tick they begin, the answer is the same."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import only, steps
from emberwound import events

RATES = (30, 37, 60, 144, 240, 1000)

BOOK = """
[settings]
tick_rate = {rate}
frame_rate = {rate}
combo = {{ seconds = "9f", shares = [1, 0.5] }}
trade_window = "9f"
credit_seconds = "9f"
buffer = 0
[kinds.iron]
[fighters.hewer]
attacks = ["jab", "hew"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 1e9, vital = true }}
guard = {{ arc_deg = 360, damage_share = 0.5, perfect = "9f" }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.jab]
kind = "iron"
damage = 10
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[attacks.hew]
kind = "iron"
damage = 10
interrupted_by = ["iron"]
windup = "{windup}f"
active = "1f"
strike.hitboxes.edge = {{ from = [0.5, 1], to = [2, 1], radius = 0.1 }}
[arenas.yard]
floor = 0
bounds = {{ low = [-90, -5], high = [90, 90] }}
"""


def yard(rate: int, windup: int = 2) -> tuple[ew.Bout, ew.Seat, ew.Seat]:
    """Amber before reed, both facing each other."""
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(rate=rate, windup=windup)), arena="yard")
    return bout, bout.enter("hewer", at=(0, 0)), bout.enter("hewer", at=(1.5, 0), facing="left")


@pytest.mark.parametrize("rate", RATES)
def test_a_combo_ends_exactly_after_its_time_on_every_starting_tick(rate: int) -> None:
    bout, amber, _ = yard(rate)
    for gap, after in ((8, 5.0), (9, 10.0)):
        for start in range(60):
            steps(bout, 20 + start % 7)
            amber.order(press="jab")
            first = only(events.Wounded, steps(bout, gap))
            amber.order(press="jab")
            assert [hit.amount for hit in first + only(events.Wounded, steps(bout, 1))] == [10.0, after], (gap, start)


@pytest.mark.parametrize("rate", RATES)
def test_the_perfect_moment_ends_exactly_after_its_time_on_every_starting_tick(rate: int) -> None:
    bout, amber, reed = yard(rate)
    for held, perfect in ((8, True), (9, False)):
        for start in range(60):
            steps(bout, 20 + start % 7)
            reed.order(hold="guard")
            steps(bout, held)
            amber.order(press="jab")
            (guarded,) = only(events.Guarded, steps(bout, 1))
            assert guarded.perfect is perfect, (held, start)
            reed.order(hold=())


@pytest.mark.parametrize("rate", RATES)
def test_a_strike_counts_exactly_up_to_the_end_of_the_trade_window_on_every_starting_tick(rate: int) -> None:
    """Reed's edge comes on so many ticks after amber's ray has interrupted it."""
    for late, trades in ((8, True), (9, True), (10, False)):
        bout, amber, reed = yard(rate, windup=late + 2)
        for start in range(60):
            steps(bout, 20 + start % 7)
            reed.order(press="hew")
            steps(bout, 2)
            amber.order(press="jab")
            found = steps(bout, 1)
            assert only(events.Interrupted, found)
            found = steps(bout, 8)
            assert bool([hit for hit in only(events.Wounded, found) if hit.seat == amber.name]) is (late == 8)
            reed.order(press="jab")
            found = steps(bout, 1)
            hit = [hit for hit in only(events.Wounded, found) if hit.seat == amber.name and hit.attack == "hew"]
            assert bool(hit) is (trades and late == 9), (late, start)
            waits = [each.wait_ticks for each in only(events.OrderRefused, found)]
            assert waits == ([] if late == 8 else [1]), "it is free on the first tick after the window"


@pytest.mark.parametrize("rate", RATES)
def test_credit_lasts_exactly_its_time_on_every_starting_tick(rate: int) -> None:
    text = BOOK.format(rate=rate, windup=2) + (
        '[arenas.yard.hazards.pit]\nat = [1.5, 0]\nradius = 0.5\nfatal = true\nschedule = { first = "FIRSTf", '
        'on = "1f", off = 9 }\n'
    )
    for late, credited in ((9, ["amber"]), (10, [])):
        for start in range(20, 80):
            rules = ew.Rulebook.parse(text.replace("FIRST", str(start + late)))
            bout = ew.Bout(rules, arena="yard")
            amber = bout.enter("hewer", at=(-1, 0), seat="amber")
            bout.enter("hewer", at=(1.5, 0))
            steps(bout, start)
            amber.order(press="jab")
            (died,) = only(events.Died, steps(bout, late + 1))
            assert ([died.credit] if died.credit else []) == credited, (late, start)
