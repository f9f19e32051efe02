"""How fighters move by themselves: walking, paths, falling, walls, and the orders of scripts."""

from __future__ import annotations

from math import ceil, hypot, sqrt
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np
import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import events

if TYPE_CHECKING:
    from collections.abc import Callable

BOOK = """
[settings]
tick_rate = 60
[kinds.glass]
[fighters.walker]
speed = 2
guard = {}
attacks = ["cast"]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 10, vital = true }
hurtboxes.chest = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
[fighters.post]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 10, vital = true }
hurtboxes.chest = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
[attacks.cast]
kind = "glass"
damage = 10
shot = { radius = 0.05, speed = 60, gravity_share = 0, life = 1, muzzle = [0.5, 1] }
[arenas.shelf]
floor = 0
bounds = { low = [-20, -1], high = [20, 20] }
walls.pier = { at = [6, 1], size = [1, 2] }
walls.shelf = { at = [-8, 2], size = [4, 4] }
walls.ramp = { at = [14, 0], size = [4, 1], turn_deg = 20 }
paths.beat = { points = [[0, 0], [3, 0], [1, 0]] }
[arenas.pan]
space = "top"
bounds = { low = [-20, -20], high = [20, 20] }
walls.rack = { at = [5, 0], size = [1, 6], turn_deg = 45 }
paths.round = { points = [[0, 0], [-3, 0], [-3, 4]], closed = true }
[bouts.drill]
arena = "shelf"
seconds = 6
seats.amber = { fighter = "walker", at = [0, 0] }
seats.post = { fighter = "post", at = [-4, 0] }
[[bouts.drill.orders]]
time = 0.5
seat = "amber"
press = "cast"
every = 1.4
until = 4.7
[[bouts.drill.orders]]
time = 1
seat = "amber"
hold = ["guard"]
until = 1.8
[[bouts.drill.orders]]
time = 3
seat = "amber"
move = 1
until = 4
"""


def shelf(tick_rate: int = 60, arena: str = "shelf") -> ew.Bout:
    return ew.Bout(ew.Rulebook.parse(BOOK), arena=arena, tick_rate=tick_rate)


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_walkers_stop_at_walls_and_bounds(tick_rate: int) -> None:
    bout = shelf(tick_rate)
    amber, beryl = bout.enter("walker", at=(0, 0)), bout.enter("walker", at=(9, 0))
    amber.order(move=1)
    beryl.order(move=1)
    steps(bout, tick_rate)
    assert amber.position == pytest.approx((2, 0))
    steps(bout, 9 * tick_rate)
    assert amber.position == pytest.approx((5.5 - 0.3, 0), abs=1e-9)
    assert amber.facing == "right"
    amber.order(move=-1)
    steps(bout, tick_rate)
    assert amber.position == pytest.approx((3.2, 0))
    assert (amber.facing, amber.states) == ("left", ("moving",))
    amber.order(move=0)
    steps(bout, 3)
    assert amber.states == ()


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_a_walker_falls_off_a_shelf_by_the_textbook(tick_rate: int) -> None:
    bout = shelf(tick_rate)
    amber = bout.enter("walker", at=(-7, 4))
    steps(bout, 2)
    assert (amber.position, amber.states) == ((-7, 4), ())
    amber.order(move=1)
    airborne = 0
    while "airborne" not in amber.states:
        bout.step()
    start, height = bout.time, amber.position[1] if amber.position else 0
    while "airborne" in amber.states:
        airborne += 1
        bout.step()
    assert amber.position and amber.position[1] == 0
    assert airborne == pytest.approx(sqrt(2 * height / 9.81) * tick_rate, abs=2)
    assert amber.position[0] == pytest.approx(-7 + 2 * (bout.time - 2 / tick_rate), abs=0.05)
    assert height == pytest.approx(4, abs=0.35), "the round foot rolls over the edge"
    assert start < bout.time


def test_falls_are_exact_and_bodies_placed_by_a_host_hang() -> None:
    bout = shelf()
    amber, beryl = bout.enter("walker", at=(0, 10)), bout.enter("walker", at=(2, 0))
    beryl.place((2, 5))
    steps(bout, 60)
    assert [amber.position, beryl.position] == [pytest.approx((0, 10 - 9.81 / 2)), (2, 5)]
    beryl.order(move=0)
    steps(bout, 30)
    assert beryl.position == pytest.approx((2, 5 - 9.81 / 8))


def test_a_wall_is_slid_along() -> None:
    bout = shelf(arena="pan")
    amber = bout.enter("walker", at=(0, 0))
    amber.order(move=(1, 0))
    steps(bout, 240)
    assert amber.position
    x, y = amber.position
    assert y > 1 or y < -1, "it glides along the slanted rack"
    assert x < 8.0
    away = (x - 5, y)
    across, along = (away[0] + away[1]) / sqrt(2), (away[1] - away[0]) / sqrt(2)
    beyond = max(abs(across) - 0.5, 0), max(abs(along) - 3, 0)
    assert hypot(*beyond) >= 0.3 - 1e-9, "and never enters it"


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_paths_are_walked_to_the_point_at_every_tick_rate(tick_rate: int) -> None:
    def beat(length: float) -> float:
        length %= 10
        if length > 5:
            length = 10 - length
        return length if length <= 3 else 6 - length

    def lap(length: float) -> tuple[float, float]:
        length %= 12
        if length <= 3:
            return (-length, 0)
        return (-3, length - 3) if length <= 7 else ((length - 7) * 0.6 - 3, 4 - (length - 7) * 0.8)

    bout, pan = shelf(tick_rate), shelf(tick_rate, "pan")
    amber, reed = bout.enter("walker", at=(0, 0)), pan.enter("walker", at=(0, 0))
    amber.order(patrol="beat")
    reed.order(patrol="round")
    for second in range(1, 30):
        steps(bout, tick_rate)
        steps(pan, tick_rate)
        assert amber.position == pytest.approx((beat(2.0 * second), 0), abs=1e-9)
        assert reed.position == pytest.approx(lap(2.0 * second), abs=1e-9)
    amber.order(move=0)
    stopped = amber.position
    steps(bout, 10)
    assert amber.position == stopped


def test_a_host_places_a_body_through_walls_and_a_walker_stops_at_them() -> None:
    bout = shelf()
    placed = bout.enter("walker", seat="placed", at=(4, 0))
    walks = bout.enter("walker", seat="walks", at=(4, 0))
    placed.place((8, 0))
    walks.order(move=1)
    run(bout, 3)
    view = bout.view()
    assert view.positions.tolist() == [[8, 0], pytest.approx([5.5 - 0.3, 0], abs=1e-6)], "the pier begins at 5.5"


def test_a_watcher_keeps_facing_its_nearest_foe() -> None:
    bout = shelf()
    amber = bout.enter("walker", seat="amber", at=(0, 0), team="lamps")
    bout.enter("walker", seat="friend", at=(-1, 0), team="lamps")
    reed = bout.enter("walker", seat="reed", at=(4, 0), team="tide")
    bout.enter("post", seat="far", at=(-5, 0), team="tide")
    amber.order(facing="foe")
    bout.step()
    looks = [amber.facing]
    reed.place((5.5, 3), teleport=True)
    steps(bout, 2)
    looks.append(amber.facing)
    amber.order(facing="right")
    bout.step()
    looks.append(amber.facing)
    assert looks == ["right", "left", "right"]


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_scripts_repeat_presses_and_end_what_lasts_at_exact_times(tick_rate: int) -> None:
    bout = ew.Bout.scripted(ew.Rulebook.parse(BOOK), "drill", tick_rate=tick_rate)
    amber, pressed, guarded, moved = bout.seat("amber"), [], [], []
    for tick in range(6 * tick_rate):
        found = bout.step()
        pressed += [event.tick for event in only(events.AttackBegan, found)]
        guarded += [tick] * ("guarding" in amber.states)
        moved += [tick] * ("moving" in amber.states)
    assert pressed == [ceil(time * tick_rate / 10) for time in (5, 19, 33)]
    assert (guarded[0], guarded[-1]) == (tick_rate, ceil(1.8 * tick_rate) - 1)
    assert (moved[0], moved[-1]) == (3 * tick_rate, 4 * tick_rate - 1)
    assert amber.position == pytest.approx((2, 0))


def test_a_moving_target_is_hit_where_it_is_and_not_where_it_was() -> None:
    for tick_rate in (30, 240):
        bout = shelf(tick_rate)
        amber, reed = bout.enter("walker", at=(-1, 0)), bout.enter("walker", at=(4, 0))
        reed.order(move=-1)
        amber.order(press="cast")
        (wounded,) = only(events.Wounded, steps(bout, tick_rate))
        assert wounded.time == pytest.approx((4 - 0.3 - 0.05 + 0.5) / 62, abs=1e-6)
        assert (reed.alive, reed.position) == (False, None)


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (
            lambda seat: seat.order(move=2),
            "move: seen from the side give a number from -1 .* got 2",
        ),
        (lambda seat: seat.order(move=(1, 0)), "move: seen from the side"),
        (lambda seat: seat.order(facing=90), "no facing 90; known: left, right, foe"),
        (
            lambda seat: seat.order(hold="gaurd"),
            r"no attack, posture or guard of walker 'gaurd' \(did you mean 'guard'\?\)",
        ),
        (lambda seat: seat.order(patrol="beet"), r"no path of shelf 'beet' \(did you mean 'beat'\?\)"),
        (lambda seat: seat.order(patrol="beat", move=1), "one way at a time"),
        (lambda seat: seat.place((0, 0), (1, float("nan"))), "velocity: give"),
    ],
)
def test_orders_that_make_no_sense_say_why(call: Callable[[Any], object], message: str) -> None:
    bout = shelf()
    seat = bout.enter("walker", at=(0, 0))
    before = bout.digest()
    with pytest.raises(ew.BoutError, match=message):
        call(seat)
    assert bout.digest() == before
    with pytest.raises(ew.BoutError, match="post has no speed"):
        bout.enter("post", at=(0, 0)).order(move=1)
    pan = shelf(arena="pan").enter("walker", at=(0, 0), facing=30)
    with pytest.raises(ew.BoutError, match=r"move: give \(x, y\) no longer than 1; got \(1, 1\)"):
        pan.order(move=(1, 1))
    with pytest.raises(ew.BoutError, match="facing: give finite degrees"):
        pan.order(facing=float("inf"))


@pytest.mark.parametrize("tick_rate", [30, 60, 240])
def test_living_bodies_part_softly_where_the_arena_says_so(tick_rate: int) -> None:
    text = """
    [fighters.light]
    body = { radius = 0.3, height = 1.8 }
    pools.health = { max = 1, vital = true }
    hurtboxes.trunk = { from = [0, 1], radius = 0.3 }
    [fighters.heavy]
    weight = 3
    body = { radius = 0.3, height = 1.8 }
    pools.health = { max = 1, vital = true }
    hurtboxes.trunk = { from = [0, 1], radius = 0.3 }
    [arenas.yard]
    floor = 0
    body_contact = "CONTACT"
    bounds = { low = [-9, -1], high = [9, 9] }
    walls.post = { at = [1.5, 1], size = [1, 2] }
    """
    for rule, moves in (("separate", True), ("none", False)):
        made = ew.Bout(ew.Rulebook.parse(text.replace("CONTACT", rule)), arena="yard", tick_rate=tick_rate)
        left, right = made.enter("light", at=(0, 0)), made.enter("heavy", at=(0.2, 0))
        steps(made, tick_rate // 10)
        assert left.position and right.position
        apart = right.position[0] - left.position[0]
        assert apart == pytest.approx(0.6 - 0.4 / 4 if moves else 0.2), "two half-lives"
        if moves:
            assert -left.position[0] == pytest.approx(3 * (right.position[0] - 0.2)), "the lighter gives way more"
        pinned = made.enter("light", at=(0.6, 0))
        steps(made, tick_rate)
        assert pinned.position and pinned.position[0] <= 1.0 - 0.3 + 1e-6, "not into the wall"


CROWD = """
[settings]
max_seats = 80
[kinds.iron]
[fighters.{name}]
attacks = ["hew"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 9, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.hew]
kind = "iron"
damage = 1
active = 0.1
strike.hitboxes.blade = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.1 }}
[arenas.yard]
space = "3d"
floor = 0
body_contact = "{contact}"
bounds = {{ low = [-90, -90, -1], high = [90, 90, 9] }}
"""


def test_in_a_crowd_each_turns_to_the_nearest_foe_and_strikes_whom_its_blade_meets() -> None:
    rng = np.random.default_rng(3)
    bout = ew.Bout(ew.Rulebook.parse(CROWD.format(name="hewer", contact="none")), arena="yard")
    places = np.column_stack([rng.uniform(-6, 6, (80, 2)), np.zeros(80)])
    teams = rng.integers(0, 3, 80)
    for number, (place, team) in enumerate(zip(places.tolist(), teams.tolist(), strict=True)):
        bout.enter("hewer", seat=f"s{number}", at=place, team=f"t{team}").order(facing="foe", press="hew")
    found = bout.step()
    apart = np.linalg.norm(places[:, None] - places[None], axis=2)
    apart[teams[:, None] == teams[None]] = np.inf
    foes = places[apart.argmin(axis=1)] - places
    headings = bout.view().headings
    np.testing.assert_allclose(headings, (foes / np.linalg.norm(foes, axis=1)[:, None])[:, :2], atol=1e-12)
    ahead = np.column_stack([headings, np.zeros(80)])
    expected = set()
    for one in range(80):
        for other in np.flatnonzero(teams != teams[one]).tolist():
            along = np.clip((places[other] - places[one]) @ ahead[one], 0.2, 1.2)
            if np.linalg.norm(places[one] + along * ahead[one] - places[other]) < 0.4:
                expected.add((f"s{one}", f"s{other}"))
    assert len(expected) > 20
    assert {(event.by, event.seat) for event in only(events.Wounded, found)} == expected


def test_in_a_crowd_two_who_overlap_part_as_if_they_were_alone() -> None:
    rng = np.random.default_rng(4)
    rules = ew.Rulebook.parse(CROWD.format(name="hewer", contact="separate"))
    spots = [(-60 + 4 * (number % 6), -60 + 5 * (number // 6), 0.0) for number in rng.permutation(36).tolist()]
    asides = rng.uniform(-0.3, 0.3, (36, 2))
    crowd = ew.Bout(rules, arena="yard")
    for number, ((x, y, z), (dx, dy)) in enumerate(zip(spots, asides.tolist(), strict=True)):
        crowd.enter("hewer", seat=f"a{number}", at=(x, y, z))
        crowd.enter("hewer", seat=f"b{number}", at=(x + dx, y + dy, z))
    steps(crowd, 4)
    for number in range(36):
        alone = ew.Bout(rules, arena="yard")
        (x, y, z), (dx, dy) = spots[number], asides[number].tolist()
        pair = alone.enter("hewer", seat="a", at=(x, y, z)), alone.enter("hewer", seat="b", at=(x + dx, y + dy, z))
        steps(alone, 4)
        assert pair[0].position != (x, y, z)
        assert (crowd.seat(f"a{number}").position, crowd.seat(f"b{number}").position) == (
            pair[0].position,
            pair[1].position,
        )


def test_what_a_book_declares_and_nobody_uses_costs_no_bytes_and_a_swing_half_done_comes_back() -> None:
    sizes, ends = [], []
    for room in ("80", "50_000"):
        text = CROWD.format(name="hewer", contact="none").replace("max_seats = 80", f"max_seats = {room}")
        rehits = text.replace("active = 0.1", "active = 0.1\nstrike.rehit_every = 0.04")
        bout, other = (ew.Bout(ew.Rulebook.parse(rehits), arena="yard") for _ in range(2))
        for one in (other, bout):
            for number in range(3):
                one.enter("hewer", seat=f"s{number}", at=(0.4 * number, 0, 0), team=f"t{number}")
            one.step()
        for seat in other.seats:
            seat.order(press="hew")
        steps(other, 1)
        bout.enter("hewer", at=(5, 5, 0))
        bout.step()
        saved = other.snapshot()
        bout.restore(saved)
        sizes.append(len(saved.state))
        rest = [[event.to_dict() for event in steps(each, 12)] for each in (other, bout)]
        assert rest[0] == rest[1] and bout.digest() == other.digest()
        assert {event["type"] for event in rest[0]} >= {"wounded", "swing_ended"}, "what it touched is remembered"
        ends.append(rest[0])
    assert sizes[0] == sizes[1] < 20_000
    assert ends[0] == ends[1]
    for bad in (saved.state[:-8], saved.state + b"8 bytes.", b"", saved.state[:100]):
        before = bout.digest()
        with pytest.raises(ew.BoutError, match="snapshot is cut off, or of another version of the library: "):
            bout.restore(msgspec.structs.replace(saved, state=bad).sealed())
        assert bout.digest() == before, "nothing has changed"
