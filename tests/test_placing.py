"""Bodies that a host places, and what stands on what: footing, postures, and paths in height."""

from __future__ import annotations

from math import dist
from typing import Any

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import events

BOOK = """
[kinds.iron]

[fighters.hewer]
speed = 2
attacks = ["chop"]
body = {{ radius = 0.3, height = 1.8 }}
gravity_share = {share}
pools.health = {{ max = 90, vital = true }}
joints.brow = [0.1, 1.5]
postures.low = {{ joints = {{ brow = [0.4, 0.8] }}, speed_share = 0.5 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = "brow", radius = 0.2 }}
[attacks.chop]
kind = "iron"
damage = 10
allowed_while = ["moving"]
active = "2f"
lunge = {{ speed = 1, lift_deg = -45, seconds = 0.5 }}
strike.hitboxes.blade = {{ from = [0.6, 1], radius = 0.1 }}

[arenas.yard]
space = "{space}"
floor = 0
bounds = {{ low = {low}, high = {high} }}
walls.quay = {{ at = {quay}, size = {size} }}
paths.beat = {{ points = {beat} }}
hazards.wisp = {{ at = {first}, radius = 0.1, path = "beat", speed = 2, damage = 1, kind = "iron" }}
"""

SIDE = {
    "space": "side",
    "low": "[-20, -1]",
    "high": "[20, 20]",
    "quay": "[6, 1]",
    "size": "[4, 2]",
    "beat": "[[-9, 3], [-6, 7], [-3, 3]]",
    "first": "[-9, 3]",
}
IN_3D = {
    "space": "3d",
    "low": "[-20, -20, -1]",
    "high": "[20, 20, 20]",
    "quay": "[6, 0, 1]",
    "size": "[4, 4, 2]",
    "beat": "[[-9, 0, 3], [-6, 0, 7], [-6, 3, 3]]",
    "first": "[-9, 0, 3]",
}


def yard(plane: dict[str, str], *, share: float = 1, tick_rate: int = 60) -> ew.Bout:
    """A yard with a quay, and a path in the air that a wisp follows."""
    return ew.Bout(ew.Rulebook.parse(BOOK.format(share=share, **plane)), arena="yard", tick_rate=tick_rate)


def chops(seat: ew.Seat, bout: ew.Bout) -> bool:
    """Whether an attack that is not allowed in the air begins."""
    seat.order(press="chop")
    return bool(only(events.AttackBegan, steps(bout, 1)))


@pytest.mark.parametrize(
    ("height", "how", "stands"),
    [
        (0.0, {}, True),
        (1e-12, {}, True),
        (0.0002, {}, True),
        (0.001, {}, False),
        (0.001, {"grounded": True}, True),
        (0.0, {"grounded": False}, False),
    ],
)
def test_a_placed_body_stands_within_a_thousandth_of_its_radius_or_as_its_host_says(
    height: float, how: dict[str, Any], stands: bool
) -> None:
    for x, ground in ((0.0, 0.0), (6.0, 2.0)):
        bout = yard(SIDE)
        seat = bout.enter("hewer", at=(0, 0))
        seat.place((x, ground + height), **how)
        bout.step()
        assert ("airborne" not in seat.states) is stands
        assert chops(seat, bout) is stands
        assert bout.view().body(seat).position == (x, ground + height) or stands


def test_who_feels_no_gravity_stands_wherever_it_is_placed_and_who_enters_on_a_wall_stands_there() -> None:
    light = yard(SIDE, share=0)
    flies = light.enter("hewer", at=(0, 3))
    flies.place((0, 5))
    assert chops(flies, light)
    bout = yard(SIDE)
    assert chops(bout.enter("hewer", at=(6, 2)), bout)


def test_a_posture_is_given_with_a_place_until_the_next_hold() -> None:
    bout = yard(SIDE)
    seat = bout.enter("hewer", at=(0, 0))
    seat.place((1, 0), posture="low")
    steps(bout, 2)
    assert bout.view().body(seat).posture == "low"
    seat.place((2, 0))
    steps(bout, 2)
    assert bout.view().body(seat).posture == "low"
    seat.place((2, 0), posture="standing")
    steps(bout, 2)
    assert bout.view().body(seat).posture == "standing"
    seat.place((2, 0), posture="low")
    seat.order(hold=())
    steps(bout, 2)
    assert bout.view().body(seat).posture == "low", "of one tick the place counts"
    seat.order(hold=())
    steps(bout, 2)
    assert bout.view().body(seat).posture == "standing"
    with pytest.raises(ew.BoutError, match=r"no posture of hewer 'lwo' \(did you mean 'low'\?\); known: standing, low"):
        seat.place((2, 0), posture="lwo")
    with pytest.raises(ew.BoutError, match="grounded: give True or False; got 1"):
        seat.place((2, 0), grounded=1)  # type: ignore[arg-type]


def test_a_posture_holds_its_joints_on_the_ground_alone() -> None:
    bout = yard(SIDE)
    seat = bout.enter("hewer", at=(6, 2))

    def brow() -> tuple[float, ...]:
        body = bout.view().body(seat)
        assert body
        x, z = body.joints["brow"]
        return (round(x - body.position[0], 9), round(z - body.position[1], 9))

    seat.order(hold="low", facing="right")
    steps(bout, 2)
    assert brow() == (0.4, 0.8)
    seat.order(move=1)
    while seat.position and seat.position[1] > 1.7:
        bout.step()
    bout.step()
    assert brow() == (0.1, 1.5), "in the air joints are where they are standing"
    while seat.position and seat.position[1] > 0:
        bout.step()
    bout.step()
    assert brow() == (0.4, 0.8)


@pytest.mark.parametrize("plane", [SIDE, IN_3D], ids=["side", "3d"])
@pytest.mark.parametrize("tick_rate", [30, 60, 144])
def test_a_body_without_gravity_and_a_hazard_follow_a_path_in_height_by_one_rule(
    plane: dict[str, str], tick_rate: int
) -> None:
    bout = yard(plane, share=0, tick_rate=tick_rate)
    start = (-9, 3) if plane is SIDE else (-9, 0, 3)
    seat = bout.enter("hewer", at=start)
    seat.order(patrol="beat")
    for second in range(1, 12):
        steps(bout, tick_rate)
        view = bout.view()
        [wisp] = view.areas
        assert seat.position == pytest.approx(wisp.solid.a, abs=1e-9)
        if second == 1:
            assert seat.position and dist(seat.position, start) == pytest.approx(2)
            body = view.body(seat)
            assert body and dist(body.velocity, (0,) * len(start)) == pytest.approx(2)
    seat.order(move=0 if plane is SIDE else (0, 0))
    steps(bout, 2)
    rests = seat.position
    steps(bout, 5)
    assert seat.position == rests, "without the path it stays where it is"


def test_who_walks_on_the_ground_is_told_which_point_of_a_path_it_cannot_walk_to() -> None:
    bout = yard(SIDE)
    seat = bout.enter("hewer", at=(0, 0))
    said = r"patrol: nothing is under \(-9, 3\) of path 'beat', and hewer walks on the ground; lay each point"
    with pytest.raises(ew.BoutError, match=said):
        seat.order(patrol="beat")
    ground = dict(SIDE, beat="[[-9, 0], [4.5, 2], [7, 2]]")
    bout = yard(ground)
    bout.enter("hewer", at=(-9, 0)).order(patrol="beat")
    scripted = BOOK.format(share=1, **SIDE) + (
        '[bouts.round]\narena = "yard"\nseconds = 2\nseats.reed = { fighter = "hewer", at = [0, 0] }\n'
        'orders = [{ time = 0, seat = "reed", patrol = "beat" }]\n'
    )
    with pytest.raises(ew.RulebookError) as caught:
        ew.Rulebook.parse(scripted)
    assert "bouts.round.orders[0].patrol: path beat: nothing is under [-9, 3]; hewer walks on the ground" in str(
        caught.value
    )


def test_a_lunge_downwards_of_a_body_without_gravity_lasts_its_time() -> None:
    bout = yard(SIDE, share=0)
    seat = bout.enter("hewer", at=(0, 5))
    seat.order(press="chop")
    run(bout, 1)
    assert seat.position == pytest.approx((0.5 * 0.5**0.5, 5 - 0.5 * 0.5**0.5), abs=1e-9)


RANGE = """
[kinds.iron]
[fighters.hewer]
attacks = ["shove"]
speed = 2
body = {{ radius = 0.3, height = 1.8 }}
restitution = {keep}
drag = {drag}
slide_deceleration = 9
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.shove]
kind = "iron"
damage = 1
push = {{ speed = 12, lift_deg = {lift} }}
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[arenas.quay]
floor = 0
bounds = {{ low = [-90, -5], high = [90, 90] }}
walls.pier = {{ at = [{pier}, 2], size = [0.4, 4] }}
walls.quay = {{ at = [-3, 0.5], size = [14, 1] }}
"""


@pytest.mark.parametrize(
    ("keep", "lift", "drag", "pier", "seconds"),
    [(0.5, 0, 0, 3, 1), (0.5, 30, 0, 3, 0.4), (0.5, 30, 0.3, 3, 0.4), (0.7, 30, 0, 3, 3), (0, 0, 0, 50, 1.2)],
)
def test_what_is_thrown_back_or_slides_off_a_ledge_within_a_tick_goes_on_at_once(
    keep: float, lift: float, drag: float, pier: float, seconds: float
) -> None:
    stood = []
    for tick_rate in (30, 60, 120, 240, 1000):
        rules = ew.Rulebook.parse(RANGE.format(keep=keep, lift=lift, drag=drag, pier=pier))
        bout = ew.Bout(rules, arena="quay", tick_rate=tick_rate)
        bout.enter("hewer", at=(0, 1)).order(press="shove")
        reed = bout.enter("hewer", at=(1.5, 1), facing="left")
        steps(bout, round(seconds * tick_rate))
        assert reed.position
        stood.append(reed.position)
    assert all(place == pytest.approx(stood[-1], abs=2e-6) for place in stood), stood


def test_who_walks_off_a_ledge_falls_from_that_moment_on() -> None:
    stood = []
    for tick_rate in (30, 60, 120, 240, 1000):
        rules = ew.Rulebook.parse(RANGE.format(keep=0, lift=0, drag=0, pier=50))
        bout = ew.Bout(rules, arena="quay", tick_rate=tick_rate)
        reed = bout.enter("hewer", at=(3.5, 1))
        reed.order(move=1)
        steps(bout, round(0.6 * tick_rate))
        assert reed.position
        stood.append(reed.position)
    assert stood[-1][1] < 0.7
    assert all(place == pytest.approx(stood[-1], abs=1e-9) for place in stood), stood
