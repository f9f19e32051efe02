"""Bars: shares, pips, shades, trails and gliding, at one pace however often they are asked for."""

from __future__ import annotations

import re
from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING, Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import emberwound as ew
from conftest import body_of, only, steps
from emberwound import Camera, Follower, events
from emberwound.views import eased, half_life_from_share

if TYPE_CHECKING:
    from emberwound.views import BarView

BOOK = """
[settings]
tick_rate = {tick_rate}
max_seats = {seats}
[kinds.iron]
[bars.life]
pool = "health"
{life}
[bars.shell]
pool = "glass"
{glass}
[fighters.smith]
attacks = ["jab", "mend"]
bars = ["life", "shell"]
corpse_seconds = 1
respawn_seconds = 2
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {most}, vital = true }}
pools.glass = {{ max = 20, share = 0, refill = 4, delay = 1 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.jab]
kind = "iron"
damage = {damage}
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[attacks.mend]
kind = "iron"
heal = 10
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[arenas.forge]
space = "{space}"
floor = 0
bounds = {{ low = {low}, high = {high} }}
"""


def text(life: str = "", glass: str = "", space: str = "side", **parts: Any) -> str:
    size = 3 if space == "3d" else 2
    figures = {"tick_rate": 60, "seats": 4, "most": 50, "damage": 20, "low": [-9] * size, "high": [9] * size, **parts}
    book = BOOK.format(life=life, glass=glass, space=space, **figures)
    return book.replace("floor = 0\n", "") if space == "top" else book


def forge(life: str = "", glass: str = "", **parts: Any) -> tuple[ew.Bout, ew.Seat, ew.Seat]:
    bout = ew.Bout(ew.Rulebook.parse(text(life, glass, **parts), "forge.toml"), arena="forge")
    x = bout.enter("smith", seat="x", at=(0, 0), facing="right")
    y = bout.enter("smith", seat="y", at=(3, 0), lives=2)
    bout.step()
    return bout, x, y


def bar(bout: ew.Bout, seat: str, name: str = "life", *, smooth: bool = False) -> BarView:
    (found,) = (view for view in bout.view(smooth=smooth).bars if (view.seat, view.bar) == (seat, name) and view.alive)
    return found


def test_a_bar_is_centred_over_its_body_and_stacked_on_the_one_below() -> None:
    look = "size = [0.8, 0.1]\nrise = 0.2\ngap = 0.05\noutline = 0.01"
    bout, _, _ = forge(look, look)
    views = [view for view in bout.view().bars if view.seat == "x"]
    assert [view.bar for view in views] == ["life", "shell"]
    assert [view.rect for view in views] == [
        pytest.approx(each) for each in ((-0.4, 2.0, 0.8, 0.1), (-0.4, 2.15, 0.8, 0.1))
    ]
    assert [view.at for view in views] == [pytest.approx(each) for each in ((0.0, 2.05), (0.0, 2.2))]
    assert {view.outline for view in views} == {0.01} and {view.outline_colour for view in views} == {"#26313b"}


def test_from_the_top_it_is_beyond_the_body_and_in_full_over_it() -> None:
    for space, at in (("top", (0.0, 0.3 + 0.15 + 0.06)), ("3d", (0.0, 0.0, 1.8 + 0.15 + 0.06))):
        bout = ew.Bout(ew.Rulebook.parse(text(space=space)), arena="forge")
        bout.enter("smith", seat="x", at=(0, 0) if space == "top" else (0, 0, 0))
        bout.step()
        assert bar(bout, "x").at == pytest.approx(at)


@pytest.mark.parametrize("rate", [15, 30, 60, 144, 240])
def test_what_is_shown_glides_at_one_pace_however_often_it_is_asked_for(rate: int) -> None:
    bout, x, y = forge("half_life = 0.3\nhalf_life_up = 0.1", tick_rate=30)
    x.order(press="jab")
    steps(bout, 1)
    hit = bout.time
    assert [bar(bout, "y").share, bar(bout, "y").shown] == pytest.approx([0.6, 1.0])
    seen = {}
    for _ in range(rate):
        bout.advance(1 / rate)
        seen[round(bout.time * 30)] = bar(bout, "y").shown
    for tick, shown in seen.items():
        assert shown == pytest.approx(eased(1.0, 0.6, tick / 30 - hit, 0.3), rel=1e-12)
    before = bar(bout, "y").shown
    x.order(press="mend")
    steps(bout, 1)
    assert bar(bout, "y").shown == pytest.approx(eased(before, 0.6, 1 / 30, 0.3), rel=1e-12)
    last = bar(bout, "y").shown
    steps(bout, 6)
    assert bar(bout, "y").share == pytest.approx(0.8)
    assert bar(bout, "y").shown == pytest.approx(eased(last, 0.8, 0.2, 0.1), rel=1e-12)
    assert y.pools["health"] == 40


def test_between_ticks_a_smooth_bar_goes_on() -> None:
    bout, x, _ = forge("half_life = 0.1", tick_rate=10)
    x.order(press="jab")
    bout.advance(0.1)
    bout.advance(0.05)
    assert bar(bout, "y").shown == pytest.approx(1.0)
    assert bar(bout, "y", smooth=True).shown == pytest.approx(eased(1.0, 0.6, 0.05, 0.1))


def test_a_pool_that_refills_is_one_in_arrays_bars_and_bodies_between_ticks_too() -> None:
    bout = ew.Bout(ew.Rulebook.parse(text(tick_rate=10)).edit({"fighters.smith.pools.health.refill": 5}), arena="forge")
    x, y = bout.enter("smith", seat="x", at=(0, 0)), bout.enter("smith", seat="y", at=(3, 0))
    x.order(press="jab")
    bout.advance(0.35)
    shown = {
        smooth: (
            bout.view(smooth=smooth).body("y").pools["health"],
            float(bout.view(smooth=smooth).pools["health"][1]),
            bar(bout, "y", smooth=smooth).value,
        )
        for smooth in (False, True)
    }
    assert len(set(shown[False])) == len(set(shown[True])) == 1
    assert shown[True][0] - shown[False][0] == pytest.approx(0.05 * 5)
    assert y.pools["health"] == shown[False][0] < body_of(y).pool_sizes["health"]


def test_a_trail_lingers_then_drains_and_a_second_loss_lets_it_linger_anew() -> None:
    bout, x, _ = forge("half_life = 0\ntrail = { delay = 0.5, half_life = 0.2 }", tick_rate=20, damage=10)
    x.order(press="jab")
    steps(bout, 1)
    assert [bar(bout, "y").shown, bar(bout, "y").trail] == [0.8, 1.0]
    steps(bout, 9)
    assert bar(bout, "y").trail == 1.0
    x.order(press="jab")
    steps(bout, 1)
    assert [bar(bout, "y").share, bar(bout, "y").trail] == [pytest.approx(0.6), 1.0]
    steps(bout, 10)
    assert bar(bout, "y").trail == 1.0, "the second loss began its own delay"
    steps(bout, 4)
    assert bar(bout, "y").trail == pytest.approx(eased(1.0, 0.6, 0.2, 0.2))
    x.order(press="mend")
    steps(bout, 1)
    assert bar(bout, "y").trail == pytest.approx(max(eased(1.0, 0.6, 0.25, 0.2), 0.8))


@pytest.mark.parametrize(
    ("most", "step", "value", "pips", "full"),
    [
        (50, 10, 30, 5, 3),
        (50, 20, 30, 3, 2),
        (45, 10, 25, 5, 3),
        (0.3, 0.1, 0.3, 3, 3),
        (1.1, 0.1, 1.1, 11, 11),
        (7, 10, 7, 1, 1),
        (1e-6, 10, 1e-6, 1, 1),
    ],
)
def test_pips_are_as_many_as_steps_and_empty_from_the_end(
    most: float, step: float, value: float, pips: int, full: int
) -> None:
    bout, x, y = forge(f'style = "pips"\nstep = {step}\nhalf_life = 0\nsymbols = ["#", "."]', most=most, damage=20)
    if value < most:
        x.order(press="jab")
        steps(bout, 2)
    view = bar(bout, "y")
    assert y.pools["health"] == value and len(view.pips) == pips
    assert view.text == "#" * full + "." * (pips - full)
    assert sum(view.pips[:-1]) * step + view.pips[-1] * (most - step * (pips - 1)) == pytest.approx(value)
    assert list(view.pips) == sorted(view.pips, reverse=True)


def test_shades_go_by_the_true_share_and_ramps_between_them() -> None:
    shades = 'shades = [{ colour = "#000000", pattern = "striped" }, { above = 0.5, colour = "#64c800" }]'
    seen = []
    for ramp in ("", "\nramp = true"):
        bout, x, _ = forge(f"half_life = 9\n{shades}{ramp}", damage=30)
        seen.append((bar(bout, "y").colour, bar(bout, "y").pattern))
        x.order(press="jab")
        steps(bout, 1)
        seen.append((bar(bout, "y").colour, bar(bout, "y").pattern))
    assert seen == [("#64c800", "solid"), ("#000000", "striped"), ("#64c800", "solid"), ("#50a000", "striped")]


def test_numbers_texts_and_segments() -> None:
    bout, x, _ = forge('style = "number"', 'style = "ring"\nsegment = 6\ntext = "{share:.0%}"')
    x.order(press="jab")
    steps(bout, 1)
    assert bar(bout, "y").text == "30 / 50" and bar(bout, "y").segments == ()
    assert bar(bout, "y", "shell").text == "100%"
    assert bar(bout, "y", "shell").segments == pytest.approx((0.3, 0.6, 0.9))


def test_a_bar_is_there_always_when_not_full_or_a_while_after_a_change() -> None:
    bout, x, _ = forge('show = "not_full"', 'show = "after_change"\nshow_seconds = 0.5', tick_rate=20)
    assert not bar(bout, "y").visible and not bar(bout, "y", "shell").visible
    x.order(press="jab")
    steps(bout, 1)
    assert bar(bout, "y").visible and not bar(bout, "y", "shell").visible
    book = text(glass='show = "after_change"\nshow_seconds = 0.5', tick_rate=20).replace("share = 0, ", "")
    cut = book.replace("corpse_seconds", 'route = ["glass", "health"]\ncorpse_seconds')
    bout = ew.Bout(ew.Rulebook.parse(cut), arena="forge")
    x = bout.enter("smith", seat="x", at=(0, 0), facing="right")
    bout.enter("smith", seat="y", at=(3, 0))
    x.order(press="jab")
    steps(bout, 1)
    there = []
    for _ in range(160):
        there.append(bar(bout, "y", "shell").visible)
        steps(bout, 1)
    changes = [index for index, (a, b) in enumerate(pairwise(there)) if a != b]
    assert there[0] and changes == [9, 18, 128], "a loss, after 1 s a refill of 5 s"


def test_a_new_life_begins_full_and_a_corpse_keeps_its_empty_bar_until_it_goes() -> None:
    bout, x, y = forge("half_life = 0.5", damage=60)
    x.order(press="jab")
    (died,) = only(events.Died, steps(bout, 3))
    corpse = [view for view in bout.view().bars if view.seat == "y" and view.bar == "life"]
    assert [(view.alive, view.share) for view in corpse] == [(False, 0.0)] and 0.9 < corpse[0].shown < 1.0
    steps(bout, 60)
    assert not [view for view in bout.view().bars if view.seat == "y"]
    while not y.alive:
        steps(bout, 1)
    assert bar(bout, "y").shown == bar(bout, "y").share == 1.0 and died.lives_left == 1


def test_bars_change_no_bout_and_come_back_with_a_snapshot() -> None:
    bout, x, y = forge("half_life = 0.5\ntrail = {}")
    x.order(press="jab")
    steps(bout, 5)
    saved, seen = bout.snapshot(), bout.view().bars
    y.resize("health", 100)
    steps(bout, 3)
    assert bar(bout, "y").share == pytest.approx(0.6) and bar(bout, "y").maximum == 100
    bout.restore(saved)
    assert bout.view().bars == seen
    told = only(events.Wounded, steps(bout, 60))
    bare = ew.Rulebook.parse(text().replace('bars = ["life", "shell"]', ""))
    assert ew.Bout(bare, arena="forge").view().bars == [] and not told


@given(st.lists(st.floats(1e-4, 3), min_size=1, max_size=9), st.floats(-50, 50), st.floats(-50, 50), st.floats(0.01, 2))
@settings(deadline=None)
def test_easing_in_any_steps_comes_to_where_one_step_does(
    times: list[float], shown: float, true: float, half_life: float
) -> None:
    stepped = shown
    for each in times:
        stepped = eased(stepped, true, each, half_life)
    assert stepped == pytest.approx(eased(shown, true, sum(times), half_life), rel=1e-12, abs=1e-12)


def test_a_share_of_the_gap_each_frame_is_a_half_life() -> None:
    assert half_life_from_share(0.15) == pytest.approx(0.0711, abs=5e-5)
    for rate in (15, 60, 240):
        assert eased(1, 0, 1 / rate, half_life_from_share(0.2, rate=rate)) == pytest.approx(0.8)
    for share in (0, -1, 1.1, float("nan")):
        with pytest.raises(ValueError, match="give a share above 0"):
            half_life_from_share(share)


def test_an_aim_point_follows_a_pointer_and_goes_where_it_goes() -> None:
    aims = [Follower((0, 0), half_life=0.1) for _ in range(2)]
    for time, target in ((0, (1, 0)), (0.25, (1, 2)), (0.7, (-1, 2))):
        for aim in aims:
            aim.follow(target, time=time)
        for number in range(1, 9):
            aims[0].at(time + number / 40)
    assert aims[0].at(1.3) == aims[1].at(1.3)
    assert aims[0].at(9) == pytest.approx((-1, 2))
    chase = Follower((0, 0), half_life=0.1)
    chase.follow((1, 0), time=0, velocity=(2, 0))
    assert chase.at(0.3) == pytest.approx((1 + 0.6 - 0.125, 0))
    with pytest.raises(ew.BoutError, match="is before"):
        chase.at(-0.1)
    with pytest.raises(ew.BoutError, match="half_life: give a number from 0 up; got -1"):
        Follower((0, 0), half_life=-1)


def test_a_camera_is_still_in_its_dead_zone_and_looks_ahead() -> None:
    camera = Camera((0, 0), half_life=0.05, dead_zone=1, look_ahead=0.5)
    camera.follow((0.9, 0), time=0)
    assert camera.at(1) == (0, 0)
    camera.follow((2, 0), time=1, velocity=(4, 0))
    assert camera.at(2) == pytest.approx((3, 0), abs=1e-5)
    camera.follow((3.5, 0), time=2)
    assert camera.at(3) == pytest.approx((3, 0), abs=1e-5)


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        (
            'pool = "health"',
            'pool = "helth"',
            'fighters.smith.bars[0]: there is no pool of smith, as the bar life shows, "helth"',
        ),
        ("[bars.shell]", 'shades = [{ colour = "embr" }]\n[bars.shell]', "bars.life.shades[0].colour: "),
        ("[bars.shell]", "step = 0\n[bars.shell]", "bars.life.step: 0"),
        ("[bars.shell]", "half_life = -1\n[bars.shell]", "bars.life.half_life: -1"),
        ("[bars.shell]", 'text = "{valu}"\n[bars.shell]', 'bars.life.text: there is no field of the text "valu"'),
        ("[bars.shell]", 'text = "{value:q}"\n[bars.shell]', "bars.life.text: "),
        ("[bars.shell]", 'style = "pips"\nstep = 0.01\n[bars.shell]', "5000 pips of 0.01 for 50 health"),
        ("[bars.shell]", "segment = 0.01\n[bars.shell]", "5000 segments of 0.01 for 50 health"),
        ("[bars.shell]", 'shades = [{ above = 0.5, colour = "ink" }]\n[bars.shell]', "the lowest shade begins at 0"),
        ('bars = ["life", "shell"]', 'bars = ["life", "shel"]', "there is no bar \"shel\" (did you mean 'shell'?)"),
        ('bars = ["life", "shell"]', 'bars = ["life", "life"]', '"life" for the second time'),
    ],
)
def test_bars_that_cannot_be_are_refused_at_load(old: str, new: str, says: str) -> None:
    with pytest.raises(ew.RulebookError) as raised:
        ew.Rulebook.parse(text().replace(old, new, 1))
    assert says in str(raised.value)


@pytest.mark.parametrize("part", ['style = "pips"\nstep = 10', "segment = 10"])
def test_no_pool_outgrows_the_parts_of_its_bar(part: str) -> None:
    bout, _, y = forge(part)
    steps(bout, 1)
    y.resize("health", 2000)
    steps(bout, 1)
    view = bar(bout, "y")
    assert (len(view.pips), len(view.segments)) == ((200, 0) if view.style == "pips" else (0, 199))
    says = "maximum: the bar life shows health in parts of 10, 200 at most; give up to 2000, got 1e+09"
    with pytest.raises(ew.BoutError, match=re.escape(says)):
        y.resize("health", 1e9)


def test_shares_stay_within_bounds_whatever_befalls() -> None:
    bout, x, y = forge('style = "pips"\nstep = 7\ntrail = {}', "trail = {}")
    x.order(hold=("jab", "mend"))
    y.order(hold="mend", facing="left")
    for tick in range(240):
        bout.step()
        if tick % 17 == 0 and y.alive:
            y.resize("health", 1 + tick)
        for view in bout.view().bars:
            assert 0 <= view.share <= 1 and 0 <= view.shown <= view.trail <= 1
            if view.style == "pips":
                assert len(view.pips) == ceil(round(view.maximum / 7, 9)) and all(0 <= pip <= 1 for pip in view.pips)


@pytest.mark.parametrize(
    ("text", "seen"),
    [
        ("{value:{max}}", "{max}"),
        ("{value:.999999999f}", ".999999999f"),
        ("{value:>999999999}", ">999999999"),
        ("{value!r:>20}", "!r"),
        ("{share:x}", ":x"),
    ],
)
@pytest.mark.parametrize("place", ["bar", "message"])
def test_fields_of_texts_have_short_formats(text: str, seen: str, place: str, saltglass: ew.Rulebook) -> None:
    change = {"bars.health.text": text}
    if place == "message":
        change = {"arenas.causeway.elimination_message": text.replace("value", "seat").replace("share", "seat")}
    with pytest.raises(ew.RulebookError, match=re.escape(seen)) as raised:
        saltglass.edit(change)
    assert "give a short format such as {value:g}" in str(raised.value)


@pytest.mark.parametrize("style", ["bar", "pips", "ring", "number"])
def test_what_is_painted_stays_in_its_rectangle_and_fills_what_is_shown(style: str) -> None:
    step = {"bar": "segment = 10", "pips": "step = 10"}.get(style, "")
    bout, x, _ = forge(f'style = "{style}"\nhalf_life = 0.3\n{step}')
    x.order(press="jab")
    steps(bout, 2)
    view = bar(bout, "y")
    left, bottom, width, height = view.rect
    filled = 0.0
    for shape in view.shapes:
        low, base, wide, tall = shape.rect
        assert left - 1e-9 <= low and low + wide <= left + width + 1e-9 and (base, tall) == (bottom, height)
        filled += shape.share * (shape.colour == view.colour) * (1 if style != "pips" else 1 / len(view.pips))
    assert {shape.sort for shape in view.shapes} == {{"number": "text", "ring": "arc"}.get(style, "rect")}
    assert (
        any(shape.text == view.text for shape in view.shapes)
        if style == "number"
        else filled == pytest.approx(view.shown)
    )
