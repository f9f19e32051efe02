"""Pushes: where they take whom, at any tick rate, from wherever the victim stands, and what stops them."""

from __future__ import annotations

from math import cos, exp, hypot, radians, sin
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from conftest import only, run
from emberwound import events

RATES = [30, 60, 120, 240]
ARENAS = {
    "side": "floor = 0\nbounds = { low = [-90, -1], high = [90, 60] }",
    "top": 'space = "top"\nbounds = { low = [-90, -90], high = [90, 90] }',
    "3d": 'space = "3d"\nfloor = 0\nbounds = { low = [-90, -90, -1], high = [90, 90, 60] }',
}
BOOK = """
[settings]
max_seats = 4
[kinds.iron]
[fighters.hewer]
attacks = ["hew", "toss", "shoot"]
speed = 4
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 1000, vital = true }}
guard = {{ arc_deg = 180, push_share = 0.5 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.3], radius = 0.3 }}
[fighters.mark]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {health}, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.3], radius = 0.3, push_share = {push_share} }}
{mark}
[attacks.hew]
kind = "iron"
damage = 10
active = 0.1
strike.hitboxes.edge = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.4 }}
push = {{ {push} }}
[attacks.toss]
kind = "iron"
damage = 4
active = 0.1
strike.hitboxes.edge = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.4 }}
push = {{ speed = 3, lift_deg = 90, mode = "add" }}
[attacks.shoot]
kind = "iron"
damage = 1
push = {{ {shot_push} }}
[attacks.shoot.shot]
radius = 0.05
speed = 30
gravity_share = 0
muzzle = [0.4, 1]
direction = "facing"
lift_deg = {shot_lift}
[arenas.yard]
{arena}
"""


def yard(push: str, space: str = "side", *, tick_rate: int = 60, walls: str = "", **parts: Any) -> ew.Bout:
    figures = {"health": 1e6, "push_share": 1, "mark": "", "shot_push": "speed = 5", "shot_lift": 0, **parts}
    text = BOOK.format(push=push, arena=ARENAS[space] + "\n" + walls, **figures)
    return ew.Bout(ew.Rulebook.parse(text), arena="yard", tick_rate=tick_rate)


def hit(bout: ew.Bout, press: str = "hew", *, victim: str = "mark", at: tuple[float, ...] = (1, 0)) -> ew.Seat:
    tail = (0.0,) * (len(bout.view().axes) - len(at))
    amber = bout.enter("hewer", seat="amber", at=(0.0,) * len(bout.view().axes))
    reed = bout.enter(victim, seat="reed", at=(*at, *tail), facing="left")
    amber.order(press=press)
    return reed


def places(bout: ew.Bout, seat: ew.Seat, ticks: int) -> list[tuple[float, ...]]:
    """Where a seat stands after each of so many ticks."""
    found = []
    for _ in range(ticks):
        bout.step()
        found.append(seat.position or ())
    return found


COMBINATIONS = [
    ("speed = 6, lift_deg = 45", ""),
    ("speed = 6, lift_deg = 80", "weight = 0.5"),
    ("speed = 9, lift_deg = 20", "drag = 0.6"),
    ("speed = 9, lift_deg = 20", "drag = 3\nslide_deceleration = 4"),
    ("speed = 6", ""),
    ("speed = 6", "weight = 2\nslide_deceleration = 3"),
    ("speed = 2, per_point = 0.4, lift_deg = 30", ""),
    ("speed = 7, lift_deg = 50", "gravity_share = 0.3"),
    ("distance = 3, apex = 1.2", ""),
    ("distance = 3, apex = 1.2", "drag = 1.1\nslide_deceleration = 20"),
    ("distance = 3, seconds = 0.7", ""),
    ("distance = 3, seconds = 0.7", "drag = 1.1"),
    ("distance = 1.5", "slide_deceleration = 5"),
    ("distance = 40, apex = 8", "drag = 0.05\ngravity_share = 2"),
]


@pytest.mark.parametrize("tick_rate", RATES)
@pytest.mark.parametrize(("push", "mark"), COMBINATIONS)
def test_a_push_goes_where_its_path_says_at_every_tick_rate(push: str, mark: str, tick_rate: int) -> None:
    bout = yard(push, mark=mark, tick_rate=tick_rate)
    path = ew.Rulebook.of(bout.rules).knockback_path("hew", "mark")
    reed = hit(bout)
    found = bout.step()
    (pushed,) = only(events.KnockedBack, found)
    assert pushed.starts_tick == pushed.tick + 1, "with a head start"
    start = pushed.time
    heights: list[float] = []
    while bout.time < start + path.rest_seconds + 0.1:
        found += bout.step()
        heights.append(reed.position[1] if reed.position else 0.0)
    landed = only(events.Landed, found)
    assert len(landed) == (1 if path.landing_seconds else 0)
    for event in landed:
        assert event.position[0] - 1 == pytest.approx(path.landing, rel=1e-6)
        assert event.time - start == pytest.approx(path.landing_seconds, rel=1e-6)
    assert reed.position == pytest.approx((1 + path.rest, 0), rel=1e-6)
    assert max(heights) <= path.apex * (1 + 1e-9)
    assert max(heights) >= path.apex - 0.5 * 2 * 9.81 * (0.5 / tick_rate) ** 2 - 1e-9, "the state nearest to the top"


@pytest.mark.parametrize("drag", [0, 0.4, 5])
def test_what_is_authored_by_what_one_sees_is_seen(drag: float) -> None:
    for apex in (0.05, 1.2, 30):
        path = ew.Rulebook.of(yard(f"distance = 3, apex = {apex}", mark=f"drag = {drag}").rules).knockback_path(
            "hew", "mark"
        )
        assert (path.landing, path.apex) == pytest.approx((3, apex), rel=1e-6)
        assert max(height for _, _, height in path.points) == pytest.approx(apex, rel=0.01)
    path = ew.Rulebook.of(yard("distance = 3, seconds = 0.8", mark=f"drag = {drag}").rules).knockback_path(
        "hew", "mark"
    )
    assert (path.landing, path.landing_seconds) == pytest.approx((3, 0.8), rel=1e-6)
    slid = ew.Rulebook.of(yard("speed = 6", mark=f"drag = {drag}").rules).knockback_path("hew", "mark")
    assert slid.rest == pytest.approx(1.5), "drag acts in the air only"
    slid = ew.Rulebook.of(yard("distance = 2.5", mark=f"drag = {drag}").rules).knockback_path("hew", "mark")
    assert slid.rest == pytest.approx(2.5)


def test_pushes_of_one_tick_are_summed_and_set_clears_once() -> None:
    for mode, kept in (("set", 0.0), ("add", 2.0)):
        bout = yard(f'speed = 3, mode = "{mode}"', mark="speed = 2")
        tail = bout.enter("hewer", seat="amber", at=(0, 0))
        other = bout.enter("hewer", seat="brack", at=(0.1, 0))
        reed = bout.enter("mark", seat="reed", at=(1, 0), facing="left")
        reed.order(move=1)
        bout.step()
        tail.order(press="hew")
        other.order(press="toss")
        (pushed,) = [event for event in only(events.KnockedBack, bout.step()) if event.seat == "reed"]
        assert pushed.velocity == pytest.approx((3, 3))
        assert pushed.replaces == (mode == "set")
        before = reed.position
        bout.step()
        assert before and reed.position
        walked = 2
        assert (reed.position[0] - before[0]) * 60 == pytest.approx(2 * (3 + kept) - walked), "from where it was hit"


def test_a_push_that_sets_takes_the_same_way_from_falling_standing_and_rising() -> None:
    paths = []
    for velocity in ((0, 0), (3, -6), (-2, 7)):
        bout = yard("speed = 6, lift_deg = 40")
        reed = hit(bout, at=(1, 0.2))
        reed.place((1, 0.2), velocity)
        bout.step()
        paths.append(places(bout, reed, 30))
    assert paths[0] == paths[1] == paths[2]


@pytest.mark.parametrize(
    ("push", "space"), [("speed = 6, lift_deg = 33", "side"), ("distance = 2, apex = 1", "side"), ("speed = 5", "3d")]
)
def test_a_push_mirrored_is_the_mirrored_push(push: str, space: str) -> None:
    def pushed_back(side: int) -> list[tuple[float, ...]]:
        bout = yard(push, space, mark="restitution = 0.4")
        tail = (0.0,) * (len(bout.view().axes) - 1)
        amber = bout.enter("hewer", at=(0, *tail), facing="right" if side > 0 else "left")
        reed = bout.enter("mark", at=(side, *tail))
        amber.order(press="hew")
        found = []
        for _ in range(90):
            bout.step()
            found.append(tuple(side * each if axis == 0 else each for axis, each in enumerate(reed.position or ())))
        return found

    assert pushed_back(1) == pushed_back(-1)


@pytest.mark.parametrize(
    ("push", "lift", "expected"),
    [
        ('speed = 5, heading = "travel"', 30, (5 * cos(radians(30)), 5 * sin(radians(30)))),
        ('speed = 5, heading = "travel", lift_deg = 25', 30, (5 * cos(radians(55)), 5 * sin(radians(55)))),
        ('speed = 5, heading = "away", lift_deg = 10', 30, (5 * cos(radians(10)), 5 * sin(radians(10)))),
        ('speed = 5, heading = "facing"', 30, (5, 0)),
        ('speed = 5, heading = "radial", lift_deg = 80', 30, (0, 5)),
        ('speed = 5, heading = "radial"', 30, (5 * cos(radians(30)), 5 * sin(radians(30)))),
        ('speed = 5, heading = "fixed", direction = [-3, 0]', 30, (-5, 0)),
    ],
)
def test_headings_of_what_flies(push: str, lift: float, expected: tuple[float, float]) -> None:
    bout = yard("speed = 1", shot_push=push, shot_lift=lift)
    hit(bout, "shoot", at=(1.0, 0.3))
    (pushed,) = only(events.KnockedBack, run(bout, 0.2))
    assert pushed.velocity == pytest.approx(expected, abs=0 if 0 in expected[:1] else None)


@pytest.mark.parametrize(("dive", "side"), [(59.5, "front"), (60.5, "above")])
def test_what_falls_more_steeply_than_60_degrees_comes_from_above(dive: float, side: str) -> None:
    bout = yard("speed = 1", shot_lift=-dive, mark='reactions = [{ name = "reel", seconds = 0.1 }]')
    hit(bout, "shoot", at=(0.9,))
    (reacted,) = only(events.ReactionBegan, run(bout, 0.2))
    assert reacted.side == side


def test_a_radial_push_of_a_strike_goes_from_its_owner_to_where_it_hit_in_every_direction() -> None:
    bout = yard('speed = 5, heading = "radial"', "3d")
    bout.enter("hewer", seat="amber", at=(1, 2, 0), facing=40).order(press="hew")
    bout.enter("mark", seat="reed", at=(1 + cos(radians(40)), 2 + sin(radians(40)), 0))
    found = run(bout, 0.5)
    (wounded,), (pushed,) = only(events.Wounded, found), only(events.KnockedBack, found)
    way = np.subtract(wounded.position, (1, 2, 0))
    assert way[2] > 0.1
    assert pushed.velocity == pytest.approx(tuple(5 * way / np.linalg.norm(way)))


def test_guard_hurtbox_and_weight_take_their_shares() -> None:
    assert (
        ew.Rulebook.of(yard("speed = 8", push_share=0.25, mark="weight = 2").rules).knockback_path("hew", "mark").speed
        == 1
    )
    bout = yard("speed = 8")
    reed = hit(bout, victim="hewer")
    reed.order(hold="guard")
    (pushed,) = only(events.KnockedBack, bout.step())
    assert pushed.velocity == pytest.approx((4, 0))
    assert ew.Rulebook.of(bout.rules).knockback_path("hew", "hewer", guarded=True).speed == 4
    with pytest.raises(ew.RulebookError, match="there is no attack 'hwe'"):
        ew.Rulebook.of(bout.rules).knockback_path("hwe", "mark")
    with pytest.raises(ew.RulebookError, match="there is no arena 'yrad'"):
        ew.Rulebook.of(bout.rules).knockback_path("hew", "mark", arena="yrad")


@pytest.mark.parametrize("space", ["side", "top", "3d"])
def test_a_wall_stops_a_push_or_throws_it_back(space: str) -> None:
    at = {"side": "[3, 2]", "top": "[3, 0]", "3d": "[3, 0, 2]"}[space]
    size = {"side": "[0.4, 4]", "top": "[0.4, 4]", "3d": "[0.4, 4, 4]"}[space]
    for keep, back in ((0, False), (0.5, True)):
        bout = yard(
            "speed = 12", space, walls=f"walls.pier = {{ at = {at}, size = {size} }}", mark=f"restitution = {keep}"
        )
        reed = hit(bout)
        ends = [place[0] for place in places(bout, reed, 120)]
        touches = 3 - 0.2 - 0.3
        assert max(ends) <= touches + 1e-6, "it goes no further than the wall"
        assert back or max(ends) == pytest.approx(touches, abs=1e-6)
        assert (ends[-1] < 2.4) == back


def test_corpses_fly_with_the_push_that_killed_them_and_hazards_push() -> None:
    bout = yard("distance = 3, apex = 1", health=5)
    reed = hit(bout)
    found = run(bout, 1.5)
    assert not reed.alive
    (landed,) = only(events.Landed, found)
    assert landed.position == pytest.approx((4, 0))
    vent = (
        'hazards.vent = { at = [0.5, 0], radius = 0.6, kind = "iron", damage = 1, push = { speed = 4, lift_deg = 60 } }'
    )
    blown = yard("speed = 1", walls=vent)
    blown.enter("mark", seat="reed", at=(1, 0))
    (pushed, *_) = only(events.KnockedBack, run(blown, 0.1))
    assert pushed.by is None
    assert pushed.velocity == pytest.approx((4 * cos(radians(60)), 4 * sin(radians(60))))
    assert hypot(*pushed.velocity) == pytest.approx(4)


def test_a_push_waits_while_its_victim_may_still_trade() -> None:
    bout = yard("speed = 30", tick_rate=240)
    text = bout.rules.canonical()
    text["attacks"]["toss"] |= {"interrupted_by": ["iron"], "windup": 0.02}
    made = ew.Bout(ew.Rulebook.from_canonical(text), arena="yard", tick_rate=240)
    amber = made.enter("hewer", seat="amber", at=(0, 0))
    reed = made.enter("hewer", seat="reed", at=(1, 0), facing="left")
    amber.order(press="hew")
    reed.order(press="toss")
    found = run(made, 0.1)
    first, second = only(events.Wounded, found)
    assert (first.seat, second.seat) == ("reed", "amber")
    assert second.time == pytest.approx(0.02)
    pushed = next(event for event in only(events.KnockedBack, found) if event.seat == "reed")
    assert pushed.starts_tick == 9, "the first tick after the thirtieth of a second that follows the wound"


@pytest.mark.parametrize("drag", [0, 0.4])
@pytest.mark.parametrize("sort", ["placed", "falling", "thrown", "frozen"])
def test_a_push_that_adds_counts_from_the_velocity_its_victim_then_had(sort: str, drag: float) -> None:
    """In the air at (x, z) with (u, w) a push of 3 along the ground leads on from there with (u + 3, w)."""
    stop = "hit_stop = 0.1" if sort == "frozen" else ""
    bout = yard('speed = 3, mode = "add"', mark=f"drag = {drag}")
    text = bout.rules.canonical()
    text["attacks"]["hew"] |= {"ray": {"muzzle": [0.4, 1], "range": 9, "direction": "facing"}}
    text["attacks"]["hew"].pop("strike")
    if stop:
        text["attacks"]["hew"]["hit_stop"] = 0.1
    made = ew.Bout(ew.Rulebook.from_canonical(text), arena="yard")
    amber = made.enter("hewer", seat="amber", at=(0, 0.5))
    reed = made.enter("mark", seat="reed", at=(1, 0.5), facing="left")
    amber.place((0, 0.5), grounded=True)
    if sort == "placed":
        reed.place((1, 0.5), grounded=False)
    elif sort == "thrown":
        amber.order(press="hew")
    made.step()
    run(made, 0.15)
    if sort == "placed":
        reed.place((1, 0.5), grounded=False)
        made.step()
    before, velocity = reed.position, made.view().body(reed).velocity
    amber.order(press="hew")
    (pushed,) = [event for event in only(events.KnockedBack, made.step()) if event.seat == "reed"]
    begins = pushed.time + (0.1 if stop else 0)
    assert before and pushed.velocity == pytest.approx((3, 0))
    while made.time < begins + 0.05:
        made.step()
    t = made.time - begins
    s = t if drag == 0 else (1 - exp(-drag * t)) / drag
    drop = 9.81 * (t * t / 2 if drag == 0 else (t - s) / drag)
    assert reed.position == pytest.approx(
        (before[0] + (velocity[0] + 3) * s, before[1] + velocity[1] * s - drop), abs=1e-9
    )


@pytest.mark.parametrize("tick_rate", [7, 10, 20, 30, 60, 1000])
def test_a_hop_shorter_than_the_rest_of_its_tick_lands_at_its_own_time(tick_rate: int) -> None:
    bout = yard("speed = 5", shot_push="speed = 0.2, lift_deg = 45", shot_lift=0, tick_rate=tick_rate)
    bout.enter("hewer", at=(0, 0), seat="a").order(press="shoot")
    bout.enter("mark", at=(2.75, 0), seat="b")
    found = run(bout, 2)
    (pushed,), (landed,) = only(events.KnockedBack, found), only(events.Landed, found)
    assert pushed.time == pytest.approx(2 / 30)
    assert landed.time - pushed.time == pytest.approx(2 * 0.2 * sin(radians(45)) / 9.81)
    assert landed.position[0] - 2.75 == pytest.approx(0.2**2 / 9.81)


def test_no_push_has_a_part_of_minus_zero() -> None:
    book = """
[kinds.iron]
[fighters.imp]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 20, vital = true }
hurtboxes.trunk = { from = [0, 0.9], radius = 0.3 }
attacks = ["pull"]
[attacks.pull]
kind = "iron"
damage = 1
push = { speed = 2, heading = "towards" }
ray = { muzzle = [0.4, 0.9], range = 9, direction = "facing" }
[arenas.pit]
space = "3d"
floor = 0
bounds = { low = [-9, -9, -1], high = [9, 9, 9] }
"""
    bout = ew.Bout(ew.Rulebook.parse(book), arena="pit")
    puller = bout.enter("imp", at=(0, 0, 0), facing=0)
    bout.enter("imp", at=(3, 0, 0), facing=180)
    puller.order(press="pull")
    pushed = [each for each in bout.advance(0.2) if isinstance(each, ew.events.KnockedBack)]
    assert [str(each.velocity) for each in pushed] == ["(-2.0, 0.0, 0.0)"]
