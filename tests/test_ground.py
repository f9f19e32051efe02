"""Walking over curbs, stairs, ledges and slopes: by a reference of its own, and alike at every tick rate."""

from __future__ import annotations

import random
from math import cos, radians, sin, sqrt, tan

import pytest

import emberwound as ew
from conftest import steps

RATES = [7, 30, 60, 144, 1000]
RADIUS, STEP, SPEED = 0.3, 0.36, 4.0
BOOK = """
[kinds.salt]
[fighters.walker]
speed = 4
{more}
attacks = ["jab"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 10, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
[attacks.jab]
kind = "salt"
damage = 1
active = 0.1
allowed_while = ["moving"]
strike.hitboxes.fist = {{ from = [0.5, 1], radius = 0.1 }}
[arenas.way]
{arena}
"""


def walker(arena: str, rate: int, at: tuple[float, ...] = (0, 0), more: str = "") -> tuple[ew.Bout, ew.Seat]:
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(arena=arena, more=more)), arena="way", tick_rate=rate)
    return bout, bout.enter("walker", at=at, seat="ann")


def boxes(tops: list[tuple[float, float, float]]) -> str:
    """A landscape seen from the side, of (left, right, top)."""
    walls = [
        f"walls.b{n} = {{ at = [{(left + right) / 2!r}, {top / 2!r}], size = [{right - left!r}, {top!r}] }}"
        for n, (left, right, top) in enumerate(tops)
    ]
    return "floor = 0\nbounds = { low = [-90, -1], high = [90, 20] }\n" + "\n".join(walls)


def height_of(tops: list[tuple[float, float, float]], x: float) -> float:
    """Where a ball of the radius comes to lie on a landscape: on a top, or on the edge beside it."""
    found = 0.0
    for left, right, top in tops:
        aside = max(left - x, x - right, 0.0)
        if aside < RADIUS:
            found = max(found, top - RADIUS + sqrt(RADIUS**2 - aside**2))
    return found


def landscape(rng: random.Random, *, blocked: bool) -> list[tuple[float, float, float]]:
    """Tops that touch each other, none higher or lower by more than a step, but for the last of one that is blocked."""
    tops, left, top = [], 1.0, 0.0
    for _ in range(8):
        right = left + rng.uniform(0.7, 2)
        top = max(top + rng.uniform(-STEP, STEP), 0.01)
        tops.append((left, right, top))
        left = right
    if blocked:
        tops.append((left, left + 2, top + rng.uniform(1.01, 4) * STEP))
    return tops


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("seed", range(6))
def test_over_random_steps_feet_are_where_a_ball_would_lie(seed: int, rate: int) -> None:
    rng = random.Random(seed)
    tops = landscape(rng, blocked=bool(seed % 2))
    end = tops[-1][0] - RADIUS if seed % 2 else 1e9
    bout, ann = walker(boxes(tops), rate)
    ann.order(move=1)
    for tick in range(1, 4 * rate):
        bout.step()
        x = min(tick / rate * SPEED, end, tops[-1][1] - 0.01)
        if x < min(tick / rate * SPEED, end):
            break
        edges = [abs(abs(x - edge) - RADIUS) for left, right, _ in tops for edge in (left, right)]
        if min(edges) > 1e-9:  # where a ball touches the side of an edge, both heights are right
            assert ann.position == pytest.approx((x, height_of(tops, x)), abs=1e-6), (tick, x)
        assert "airborne" not in ann.states


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("height", [0.05, 0.2, 0.355])
def test_a_curb_is_stepped_over_up_and_down_without_a_moment_in_the_air(height: float, rate: int) -> None:
    tops = [(2.0, 3.0, height)]
    bout, ann = walker(boxes(tops), rate)
    ann.order(move=1, hold="jab")
    while (x := (ann.position or (0, 0))[0]) < 6:
        bout.step()
        assert "airborne" not in ann.states
        assert ann.position == pytest.approx((x + SPEED / rate, height_of(tops, x + SPEED / rate)), abs=1e-6)
        assert bout.view().body("ann").velocity == pytest.approx((SPEED, 0))


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize(
    ("height", "step", "over"),
    [
        (0.4, "", False),
        (0.4, "step_height = 0.5", True),
        (0.2, "step_height = 0.1", False),
        (0.2, "step_height = 0", False),
    ],
)
def test_what_is_higher_than_its_step_stops_a_walker_where_it_touches(
    height: float, step: str, over: bool, rate: int
) -> None:
    bout, ann = walker(boxes([(2.0, 3.0, height)]), rate, more=step)
    ann.order(move=1)
    steps(bout, 2 * rate)
    lower = max(RADIUS - height, 0.0)
    touches = 2 - sqrt(RADIUS**2 - lower**2)
    assert ann.position == pytest.approx((8 if over else touches, 0), abs=1e-6)


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("angle", [10, 30, 44, 46, 60, 70, 89])
def test_slopes_are_walked_up_to_forty_five_degrees_at_full_speed_over_the_ground(angle: int, rate: int) -> None:
    """A slope is a box turned about its lower left corner, which lies at 2 on the floor."""
    turn = radians(angle)
    x, z = 2 + 5 * cos(turn) + 5 * sin(turn), 5 * sin(turn) - 5 * cos(turn)
    hill = f"walls.hill = {{ at = [{x}, {z}], size = [10, 10], turn_deg = {angle} }}"
    side = f"floor = 0\nbounds = {{ low = [-5, -20], high = [30, 20] }}\n{hill}"
    bout, ann = walker(side, rate)
    ann.order(move=1)
    steps(bout, rate)
    walks = angle < 45
    foot = 2 - RADIUS * tan(turn / 2)
    at = SPEED if walks else foot
    rise = max(tan(turn) * (at - foot), 0.0) if walks else 0.0
    assert ann.position == pytest.approx((at, rise), abs=1e-5)
    assert "airborne" not in ann.states


@pytest.mark.parametrize("rate", RATES)
def test_beyond_a_ledge_higher_than_a_step_a_walker_falls_from_where_its_foot_rolls_off(rate: int) -> None:
    bout, ann = walker(boxes([(-5.0, 2.0, 3.0)]), rate, at=(0, 3))
    ann.order(move=1)
    edge = 2 + RADIUS * sqrt(1 - 0.7**2)
    while (x := (ann.position or (0, 0))[0]) + SPEED / rate < edge:
        bout.step()
        assert ann.position == pytest.approx((x + SPEED / rate, height_of([(-5, 2, 3)], x + SPEED / rate)), abs=1e-6)
    bout.step()
    assert "airborne" in ann.states
    while "airborne" in ann.states:
        bout.step()
        (x, z), fallen = ann.position or (0, 0), bout.time - edge / SPEED
        assert x == pytest.approx(SPEED * bout.time)
        if z > 0:
            assert z == pytest.approx(3 - 0.3 * RADIUS - 9.81 / 2 * fallen**2, abs=1e-6)


@pytest.mark.parametrize("rate", RATES)
def test_in_the_air_no_wall_lifts_who_walks_into_it(rate: int) -> None:
    bout, ann = walker(boxes([(2.0, 4.0, 3.0)]), rate, at=(0, 2.9))
    ann.order(move=1)
    highest = 0.0
    while (ann.position or (0, 0))[1] > 0 and bout.time < 5:
        bout.step()
        highest = max(highest, (ann.position or (0, 0))[1])
    assert highest < 2.9 and ann.position == pytest.approx((2 - RADIUS, 0), abs=1e-6)


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_a_patrol_over_low_stairs_stays_on_the_ground_and_attacks_there(rate: int) -> None:
    stairs = [(2 + 0.5 * n, 8.0, 0.18 * (n + 1)) for n in range(5)]
    arena = boxes(stairs) + "\npaths.beat = { points = [[0, 0], [7, 0.9]] }"
    bout, ann = walker(arena, rate)
    ann.order(patrol="beat", hold="jab")
    told = bout.advance(6)
    assert not [each for each in told if isinstance(each, ew.events.OrderRefused)]
    assert 7 > (ann.position or (0, 0))[0] > 0


@pytest.mark.parametrize("rate", [30, 60, 144])
@pytest.mark.parametrize("spikes", ["walls.step = { at = [4, 0.25], size = [2, 0.5] }", "solid"])
def test_a_crate_that_is_knocked_onto_an_edge_lies_on_top_or_beside_it(spikes: str, rate: int) -> None:
    solid = 'hazards.step = { at = [4, 0.25], size = [2, 0.5], solid = true, kind = "salt", damage = 3 }'
    lies = set()
    for far in range(24):
        crate = f'props.crate = {{ prop = "crate", at = [{0.9 + far * 0.06}, 0] }}'
        arena = f"{boxes([])}\n{crate}\n{solid if spikes == 'solid' else spikes}"
        text = BOOK.format(arena=arena, more="").replace(
            "active = 0.1", "push = { speed = 5, lift_deg = 30 }\nactive = 0.1"
        )
        text = text.replace("from = [0.5, 1], radius = 0.1", "from = [0, 0.4], to = [3, 0.4], radius = 0.1")
        text += (
            "[props.crate]\nbody = { radius = 0.4, height = 0.8 }\nhurtboxes.wood = { from = [0, 0.4], radius = 0.4 }\n"
        )
        bout = ew.Bout(ew.Rulebook.parse(text), arena="way", tick_rate=rate)
        bout.enter("walker", at=(0, 0)).order(press="jab")
        bout.advance(5)
        (x, z) = bout.props[0].position
        assert min(abs(z), abs(z - 0.5)) <= 1e-3 * 0.4 and (z < 0.1) is (x < 2.97), (x, z)
        lies.add(z > 0.1)
    assert lies == {True, False}
