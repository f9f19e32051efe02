"""When attacks leave: cadence, holding, charging, costs, states, and what an attack does to its owner."""

from __future__ import annotations

from fractions import Fraction
from math import ceil, cos, floor, radians, sin
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import only, steps
from emberwound import Reason, events

if TYPE_CHECKING:
    from collections.abc import Sequence

BOOK = """
[settings]
max_shots = 4000
[kinds.ember]
[fighters.thrower]
speed = 3
guard = {{}}
attacks = ["dart", "burst", "bow", "stance", "leap", "dash"]
body = {{ radius = 0.3, height = 1.8 }}
pools = {{ health = {{ max = 90, vital = true }}, oil = {{ max = 10 }} }}
joints.hand = [0.3, 1.0]
hurtboxes.chest = {{ from = [0.0, 0.4], to = [0.0, 1.4], radius = 0.3 }}
[attacks.dart]
kind = "ember"
damage = 1
{dart}
shot = {{ radius = 0.05, speed = 30, life = 0.2, gravity_share = 0, muzzle = [0.5, 1.0] }}
[attacks.burst]
windup = 0.1
releases = [0, "1/15", 0.25]
recovery = 0.1
cost = {{ oil = 4 }}
poses.hand = [{{ at = 0.05, offset = [-0.3, 1.5] }}, {{ at = 0.1, offset = [0.5, 1.4] }}]
shot = {{ radius = 0.05, speed = 30, life = 0.2, gravity_share = 0, muzzle = "hand" }}
[attacks.bow]
kind = "ember"
damage = 10
windup = 0.1
charge = {{ seconds = 0.5, damage = 3, speed = 2 }}
shot = {{ radius = 0.05, speed = 10, gravity_share = 0, muzzle = [0.5, 1.0] }}
[attacks.stance]
allowed_while = []
windup = 0.1
recovery = 0.3
shot = {{ radius = 0.05, speed = 10, gravity_share = 0, muzzle = [0.5, 1.0] }}
[attacks.leap]
cooldown = 1
lunge = {{ speed = 6, lift_deg = 60 }}
[attacks.dash]
recovery = 0.5
lunge = {{ at = 0.1, seconds = 0.25, speed = 8 }}
[arenas.range]
floor = 0
bounds = {{ low = [-100, -1], high = [100, 100] }}
"""


def thrower(tick_rate: int = 60, dart: str = "") -> tuple[ew.Bout, ew.Seat]:
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(dart=dart)), arena="range", tick_rate=tick_rate)
    return bout, bout.enter("thrower", seat="amber", at=(0, 0))


def releases(found: Sequence[events.Event]) -> list[int]:
    return [event.tick for event in only(events.Released, found)]


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
@pytest.mark.parametrize("rate", ["0.3", "1", "3", "5", "7.5", "11"])
@pytest.mark.parametrize("windup", ["0", "0.011", '"1/13"'])
def test_a_held_attack_keeps_its_cadence_over_any_time(tick_rate: int, rate: str, windup: str) -> None:
    bout, amber = thrower(tick_rate, f"rate = {rate}\nwindup = {windup}\nrecovery = 0.01")
    amber.order(hold="dart")
    ticks = releases(steps(bout, 61 * tick_rate))
    for seconds in (*range(1, 61), Fraction(tick_rate // 2, tick_rate)):
        inside = sum(ticks[0] <= tick <= ticks[0] + seconds * tick_rate for tick in ticks)
        assert inside == 1 + floor(seconds * Fraction(rate)), seconds


def test_lost_time_is_not_caught_up_and_a_press_comes_between() -> None:
    bout, amber = thrower(60, "rate = 7.5\nwindup = 0.02")
    amber.order(hold="dart")
    first = releases(steps(bout, 60))
    assert first == [2 + 8 * k for k in range(8)]
    amber.order(press="burst")
    between = steps(bout, 60)
    assert [event.attack for event in only(events.AttackBegan, between)][:2] == ["burst", "dart"]
    darts = [event.tick for event in only(events.Released, between) if event.attack == "dart"]
    ended = only(events.AttackBegan, between)[0].tick + ceil(0.45 * 60)
    assert darts == [ended + 2 + 8 * k for k in range(len(darts))]
    amber.order(hold=())
    assert releases(steps(bout, 60)) == []


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_several_releases_leave_the_posed_hand_at_their_exact_times(tick_rate: int) -> None:
    bout, amber = thrower(tick_rate)
    amber.order(press="burst")
    found = steps(bout, tick_rate)
    offsets = [Fraction(1, 10), Fraction(1, 10) + Fraction(1, 15), Fraction(35, 100)]
    assert releases(found) == [ceil(each * tick_rate) for each in offsets]
    x, z = only(events.Released, found)[0].position
    late = ceil(Fraction(1, 10) * tick_rate) / tick_rate - 0.1
    assert late == pytest.approx(0, abs=1 / tick_rate)
    assert (x, z) == pytest.approx((0.5, 1.4))
    assert amber.pools["oil"] == 6


def test_what_cannot_be_paid_is_refused_at_once_with_its_figures() -> None:
    bout, amber = thrower()
    found = []
    for _ in range(3):
        amber.order(press="burst")
        found += steps(bout, 40)
    (refused,) = only(events.OrderRefused, found)
    assert (refused.order, refused.reason, refused.pool, refused.needs, refused.has) == (
        "press burst",
        Reason.COST,
        "oil",
        4,
        2,
    )
    assert refused.tick == 80
    amber.order(hold="burst")
    assert [event.order for event in only(events.OrderRefused, steps(bout, 120))] == ["hold burst"], (
        "told once, not each tick"
    )


@pytest.mark.parametrize("held", [0.1, 0.25, 0.5, 2.0])
def test_a_charge_counts_from_the_hold_to_its_full_time(held: float) -> None:
    bout, amber = thrower()
    post = bout.enter("thrower", seat="post", at=(3, 0))
    amber.order(hold="bow")
    found = bout.step()
    assert [type(event).__name__ for event in found][-1] == "ChargeBegan"
    assert amber.states == ("bow", "charging")
    steps(bout, round(held * 60) - 1)
    amber.order(hold=())
    found = steps(bout, 60)
    share = min(held / 0.5, 1.0)
    (began,), (released,), (wounded,) = (
        only(events.AttackBegan, found),
        only(events.Released, found),
        only(events.Wounded, found),
    )
    assert began.charge == pytest.approx(share)
    assert released.velocity == pytest.approx((10 * (1 + share), 0))
    assert released.tick == began.tick + 6
    assert wounded.amount == pytest.approx(10 * (1 + 2 * share))
    assert [step.rule for step in wounded.ledger.steps][:2] == ["base", "charge"]
    assert post.pools["health"] == pytest.approx(90 - wounded.amount)
    amber.order(press="bow")
    assert only(events.AttackBegan, steps(bout, 60))[0].charge == 0.0


@pytest.mark.parametrize(
    ("state", "order", "reason"),
    [
        ("moving", {"move": 1.0}, Reason.MOVING),
        ("airborne", {"press": "leap"}, Reason.AIRBORNE),
        ("guarding", {"hold": "guard"}, Reason.GUARDING),
    ],
)
def test_an_attack_waits_for_the_states_it_does_not_allow(state: str, order: dict[str, object], reason: Reason) -> None:
    bout, amber = thrower()
    amber.order(**order)  # type: ignore[arg-type]
    steps(bout, 2)
    assert state in amber.states
    amber.order(press="stance")
    (refused,) = only(events.OrderRefused, steps(bout, 8))
    assert (refused.reason, refused.wait_ticks, refused.tick) == (reason, None, 2 + 6)
    amber.order(press="stance")
    steps(bout, 2)
    amber.order(move=0, hold=())
    began = only(events.AttackBegan, steps(bout, 4))
    assert bool(began) == (state != "airborne"), "a kept press begins when the state is over"


def test_an_attack_that_does_not_go_with_moving_stands_its_owner_still() -> None:
    bout, amber = thrower()
    amber.order(press="stance")
    bout.step()
    amber.order(move=1)
    steps(bout, 10)
    places = [amber.position]
    steps(bout, 13 + 60)
    places.append(amber.position)
    assert places == [(0, 0), pytest.approx((3.0, 0))]


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
@pytest.mark.parametrize("facing", ["left", "right"])
def test_a_leap_follows_its_parabola_and_lands(tick_rate: int, facing: str) -> None:
    bout, amber = thrower(tick_rate)
    side = 1 if facing == "right" else -1
    amber.order(facing=facing, press="leap")  # type: ignore[arg-type]
    bout.step()
    for tick in range(1, ceil(tick_rate * 2 * 6 * sin(radians(60)) / 9.81)):
        t = tick / tick_rate
        expected = (side * 6 * cos(radians(60)) * t, 6 * sin(radians(60)) * t - 9.81 * t * t / 2)
        assert amber.position == pytest.approx(expected, abs=1e-9)
        assert "airborne" in amber.states
        bout.step()
    assert amber.position and amber.position[1] == 0.0
    steps(bout, 2)
    assert amber.states == ()


def test_a_dash_moves_its_owner_for_its_time_alone() -> None:
    bout, amber = thrower()
    amber.order(press="dash", move=-1, facing="right")
    steps(bout, 30)
    walked = -3 * (0.1 + 0.5 - 0.1 - 0.25)
    assert amber.position == pytest.approx((8 * 0.25 + walked, 0))


def test_guard_and_move_outlive_a_death_and_held_attacks_do_not() -> None:
    bout, amber = thrower(dart="rate = 5")
    beryl = bout.enter("thrower", seat="beryl", at=(5, 0), facing="left", lives=2)
    beryl.order(hold=("dart", "guard"), move=0.1)
    amber.order(hold="bow")
    steps(bout, 40)
    for _ in range(4):
        amber.order(hold=())
        steps(bout, 20)
        amber.order(hold="bow")
        steps(bout, 40)
    found = steps(bout, 200)
    assert (beryl.alive, beryl.life) == (True, 2)
    assert [
        event for event in only(events.Released, found) if event.by == "beryl" and event.tick > bout.tick - 20
    ] == []
    assert set(beryl.states) == {"moving", "guarding"}


def test_of_several_held_attacks_the_first_of_the_list_goes() -> None:
    bout, amber = thrower(dart="rate = 3")
    amber.order(hold=("stance", "dart"))
    found = steps(bout, 60)
    assert {event.attack for event in only(events.AttackBegan, found)} == {"dart"}
    amber.order(hold="stance")
    assert {event.attack for event in only(events.AttackBegan, steps(bout, 60))} == {"stance"}
