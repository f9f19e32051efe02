"""Hazards: volumes of an arena that wound the living in them, at exact times, breathing, moving, or fatal."""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import Any

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import events

RATES = [30, 60, 144, 240]

BOOK = """
[kinds.brine]
[afflictions.stung]
seconds = 1
speed_share = 0.5
[fighters.walker]
attacks = ["roll"]
speed = 2
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {health}, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3, multiplier = 3 }}
hurtboxes.plate = {{ from = [0.3, 0.9], size = [0.2, 1, 0.6], multiplier = 0, layer = "plate" }}
{fighter}
[attacks.roll]
active = 5
invulnerable = [{{}}]
[arenas.field]
space = "{space}"
{floor}
bounds = {{ low = {low}, high = {high} }}
paths.line = {{ points = [{start}, {end}] }}
[arenas.field.hazards.vent]
{vent}
"""
STING = 'kind = "brine"\ndamage = 2'


def field(vent: str, space: str = "side", *, tick_rate: int = 60, health: float = 1e6, fighter: str = "") -> ew.Bout:
    room = {"side": (2, "floor = 0"), "top": (2, ""), "3d": (3, "floor = 0")}[space]

    def point(*figures: float) -> str:
        return str(list(figures[: room[0]]))

    text = BOOK.format(
        vent=vent, space=space, floor=room[1], health=health, fighter=fighter,
        low=point(-20, -1 if space == "side" else -20, -1), high=point(20, 20, 20),
        start=point(-3, 1, 1), end=point(3, 1, 1),
    )  # fmt: skip
    return ew.Bout(ew.Rulebook.parse(text), arena="field", tick_rate=tick_rate)


def stand(bout: ew.Bout, x: float = 0.0, seat: str = "reed", **how: Any) -> ew.Seat:
    tail = (0.0,) * (len(bout.view().axes) - 1)
    return bout.enter("walker", seat=seat, at=(x, *tail), **how)


@pytest.mark.parametrize("tick_rate", RATES)
@pytest.mark.parametrize(("every", "seconds", "wounds"), [(0.5, 10, 21), (0.1, 10, 101), (0.7, 7, 11), ("1/3", 5, 16)])
def test_standing_in_it_for_a_closed_window_gives_exactly_as_many_wounds(
    tick_rate: int, every: object, seconds: int, wounds: int
) -> None:
    written = f'"{every}"' if isinstance(every, str) else every
    bout = field(f"at = [0, 1]\nradius = 1\n{STING}\nrehit_every = {written}", tick_rate=tick_rate)
    stand(bout)
    found = only(events.Wounded, steps(bout, seconds * tick_rate + 1))
    assert len(found) == wounds
    assert {(event.by, event.attack, event.amount) for event in found} == {(None, "vent", 2.0)}
    period = 1 / 3 if isinstance(every, str) else float(every)  # type: ignore[arg-type]
    assert [b.time - a.time for a, b in pairwise(found)] == pytest.approx([period] * (wounds - 1))


SHAPES = {
    "sphere": ("at = [0, 1]\nradius = 0.5", 0.8),
    "capsule": ("at = [0, 1]\nto = [1, 1]\nradius = 0.4", 0.7),
    "box": ("at = [0, 1]\nsize = [1, 0.4]", 0.8),
    "beyond": ("at = [0.2, 0]\nhalf_space = [1, 0]", 0.1),
}


@pytest.mark.parametrize("near", [0.0, 0.25])
@pytest.mark.parametrize("shape", SHAPES)
def test_each_shape_reaches_as_far_as_it_is_and_as_near_says(shape: str, near: float) -> None:
    vent, reach = SHAPES[shape]
    for clear, touched in ((0.01, 0), (-0.01, 1)):
        bout = field(f"{vent}\n{STING}\nmargin = {near}", fighter="gravity_share = 0")
        stand(bout, -(reach + near + clear), facing="left")
        found = only(events.Wounded, run(bout, 0.2))
        assert len(found) == touched, (shape, near, clear)


@pytest.mark.parametrize("space", ["side", "top", "3d"])
def test_in_every_plane_one_walks_into_it_at_the_exact_time(space: str) -> None:
    at = {"side": "[5, 1]", "top": "[5, 0]", "3d": "[5, 0, 1]"}[space]
    times = set()
    for tick_rate in RATES:
        bout = field(f"at = {at}\nradius = 0.5\n{STING}\nlayers = ['body']", space, tick_rate=tick_rate)
        reed = stand(bout)
        reed.order(move=1 if space == "side" else (1, 0))
        wounded = only(events.Wounded, run(bout, 3))[0]
        times.add(round(wounded.time, 9))
    assert times == {round((5 - 0.5 - 0.3) / 2, 9)}


def test_a_hazard_wounds_the_living_once_whatever_the_hurtbox_and_forgets_nobody() -> None:
    bout = field(f"at = [0, 1]\nradius = 2\n{STING}\nafflicts = ['stung']", health=5)
    stand(bout, seat="reed", lives=2)
    stand(bout, 1.0, seat="sedge")
    found = run(bout, 1.9)
    told = {
        seat: [event.amount for event in only(events.Wounded, found) if event.seat == seat]
        for seat in ("reed", "sedge")
    }
    assert told == {"reed": [2, 2, 2], "sedge": [2, 2, 2]}
    died = only(events.Died, found)
    assert {event.seat for event in died} == {"reed", "sedge"}
    assert all(event.by is None and event.attack == "vent" for event in died)
    later = run(bout, 3)
    (again,) = only(events.Respawned, later)
    assert again.moved > 2 and not only(events.Wounded, later), "it respawns where the vent cannot reach it"
    reed = bout.seat("reed")
    reed.place((0, 0))
    (wounded,) = only(events.Wounded, run(bout, 0.1))
    assert wounded.seat == "reed", "a new body is touched again"
    assert {event.by for event in only(events.AfflictionBegan, found)} == {None}


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_vent_breathes_at_exact_times(tick_rate: int) -> None:
    vent = f"at = [0, 1]\nradius = 1\n{STING}\nrehit_every = 10\nschedule = {{ first = 0.33, on = 0.2, off = 0.47 }}"
    for steps_in, expected in ((0.0, 0.33), (0.4, 0.33), (0.6, 1.0), (0.9, 1.0), (1.3, 1.67)):
        bout = field(vent, tick_rate=tick_rate)
        reed = stand(bout, 9)
        run(bout, steps_in)
        reed.place((0, 0), teleport=True)
        (wounded,) = only(events.Wounded, run(bout, 2))
        arrives = ceil(round(steps_in * tick_rate, 6)) / tick_rate
        assert wounded.time == pytest.approx(max(expected, arrives), abs=1e-9)


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_moving_hazard_runs_into_those_who_stand(tick_rate: int) -> None:
    vent = f"at = [-3, 1]\nradius = 0.5\n{STING}\nrehit_every = 0.01\npath = 'line'\nspeed = 3\nlayers = ['body']"
    bout = field(vent, tick_rate=tick_rate)
    stand(bout)
    times = [event.time for event in only(events.Wounded, run(bout, 4))]
    assert times[0] == pytest.approx((3 - 0.8) / 3, abs=1e-9)
    gone = next(b for a, b in pairwise(times) if b - a > 0.1)
    assert gone == pytest.approx((6 + 3 - 0.8) / 3, abs=1 / tick_rate + 1e-9), "and back again"


def test_the_tide_is_fatal_even_to_the_protected_and_says_all_it_takes() -> None:
    for fatal, dead in (("fatal = true", True), (f"{STING}\ndamage = 1e9".replace("damage = 2\n", ""), False)):
        bout = field(f"at = [0, 0]\nhalf_space = [1, 0]\n{fatal}", health=40)
        reed = stand(bout, -5)
        reed.order(press="roll", move=1)
        found = run(bout, 4)
        assert reed.alive is not dead
        if dead:
            (wounded,) = only(events.Wounded, found)
            assert [step.rule for step in wounded.ledger.steps] == ["fatal", "pool health"]
            assert (wounded.amount, wounded.vital_left, wounded.ledger.overkill) == (40, 0, 0)
            assert wounded.time == pytest.approx((5 - 0.4) / 2), "at the plate, which is ahead of the trunk"
            (died,) = only(events.Died, found)
            assert (died.by, died.cause, died.attack) == (None, wounded.seq, "vent")


@pytest.mark.parametrize(("x", "guarded"), [(0.5, False), (-0.5, True)])
def test_a_guard_meets_a_hazard_from_its_centre(x: float, guarded: bool) -> None:
    bout = field(f"at = [0, 1]\nradius = 1\n{STING}", fighter="guard = { arc_deg = 90, damage_share = 0 }")
    reed = stand(bout, x, facing="right")
    reed.order(hold="guard")
    found = run(bout, 0.3)
    assert len(only(events.Guarded, found)) == int(guarded)
    assert len(only(events.Wounded, found)) == int(not guarded)


def test_the_demo_by_the_vent_begins_the_same_at_every_tick_rate(saltglass: ew.Rulebook) -> None:
    """Hit stop and pushes begin with the next tick, so that later hits come a little apart."""
    told = {}
    for tick_rate in (30, 60, 120, 144, 240):
        found = only(events.Wounded, ew.run(saltglass, "vent", tick_rate=tick_rate).events)
        told[tick_rate] = [(event.seat, event.by, event.attack) for event in found[:8]]
        times = [event.time for event in found[:8]]
        if tick_rate == 30:
            first = times
        assert times == pytest.approx(first, abs=2 / 30)
    assert all(each == told[60] for each in told.values())


BELOW = """
[kinds.steam]
[fighters.post]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.3], to = [0, 1.2], radius = 0.3 }}
[[fighters.post.reactions]]
name = "reel"
seconds = 0.2
[arenas.yard]
floor = 0
bounds = {{ low = [-50, -5], high = [50, 20] }}
[arenas.yard.hazards.vent]
at = [{at}, -0.5]
radius = 1
kind = "steam"
damage = 1
push = {{ speed = 2.5, heading = "{heading}" }}
"""


@pytest.mark.parametrize("heading", ["away", "radial"])
@pytest.mark.parametrize("tick_rate", [30, 37, 60, 144, 240, 1000])
@pytest.mark.parametrize("at", [0.1 + 0.2, 7.3, 17.1])
def test_what_comes_from_straight_below_takes_no_side_from_rounding(heading: str, tick_rate: int, at: float) -> None:
    rules = ew.Rulebook.parse(BELOW.format(at=at, heading=heading), "below.toml")
    bout = ew.Bout(rules, arena="yard", tick_rate=tick_rate)
    bout.enter("post", at=(at + 3, 0), seat="amber")
    bout.step()
    bout.seat("amber").place((at + 1e-9, 0), teleport=True)
    found = run(bout, 0.1)
    (pushed,) = only(events.KnockedBack, found)[:1]
    (reacted,) = only(events.ReactionBegan, found)[:1]
    assert reacted.side == "front"
    if heading == "away":
        assert pushed.velocity == pytest.approx((-2.5, 0)), "of what nobody does, against where the victim looks"
