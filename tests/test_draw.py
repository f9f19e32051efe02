"""The story's figure, read through its axes."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

import numpy as np
import pytest
from matplotlib.collections import PolyCollection
from matplotlib.patches import Rectangle
from matplotlib.text import Text

import emberwound as ew
from conftest import only, range_rules
from emberwound import events
from emberwound.draw import (
    draw_arena,
    draw_attack,
    draw_bars,
    draw_knockback,
    draw_lives,
    draw_ragdoll,
    draw_reaction,
    draw_shot_strip,
    draw_shots,
    draw_story,
)
from emberwound.draw.replay import replay_data
from emberwound.draw.style import to_bytes
from emberwound.study import summarise
from emberwound.study.lives import lives_of

if TYPE_CHECKING:
    from matplotlib.axes import Axes


def points(axes: Axes) -> list[list[tuple[float, ...]]]:
    return [[tuple(point) for point in np.asarray(line.get_xydata()).tolist()] for line in axes.lines]


def texts(axes: Axes) -> list[str]:
    return [each.get_text() for each in axes.texts]


def test_the_figure_shows_each_path_each_wound_and_each_fate(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    sheet = draw_story(chronicle)
    paths, health = sheet.axes
    assert sheet.get_suptitle() == "The Saltglass Causeway: the first crossing"
    assert paths.get_title(loc="left").startswith("10 shots, 7 of them hit somebody")
    assert (paths.get_xlabel(), paths.get_ylabel(), health.get_xlabel()) == ("x (m)", "height z (m)", "time (s)")
    ends = {line[-1] for line in points(paths) if len(line) > 2}
    for event in chronicle.events:
        if isinstance(event, events.ShotEnded):
            assert event.position in ends
    assert {
        "reed (wader)\n✝ 3.01 s, ▲ 6.72 s",
        "brack (tidewader)\n✝ 7.09 s",
        "amber (lamplighter)\nalive to the end",
    } <= set(texts(paths))
    numbers = sorted(int(number) for text in texts(paths) if text[0].isdigit() for number in text.split(", "))
    assert numbers == list(range(1, 11))
    assert "● hit   ♦ out of the arena   ✕ floor   ▶ still flying" in texts(paths)
    wounds = [event for event in chronicle.events if isinstance(event, events.Wounded)]
    assert [text for text in texts(health) if text.isdigit()] == ["1", "3", "8", "4", "5", "6", "7"]
    steps = {point for line in points(health) for point in line}
    assert {(event.time, event.vital_left) for event in wounds} <= steps
    assert to_bytes(sheet).startswith(b"\x89PNG")


@pytest.mark.parametrize("fighters", [0, 1])
def test_a_bout_in_which_nothing_flies_can_be_drawn(fighters: int) -> None:
    bout = ew.Bout(range_rules(), arena="range")
    recorder = ew.Recorder(bout)
    for _ in range(fighters):
        bout.enter("post", at="line")
    bout.advance(0.5)
    sheet = draw_story(recorder.chronicle())
    assert sheet.axes[0].get_title(loc="left").startswith("0 shots, 0 of them hit")
    assert to_bytes(sheet).startswith(b"\x89PNG")


def test_the_arena_shows_places_and_fighters_with_all_their_names(saltglass: ew.Rulebook) -> None:
    sheet = draw_arena(saltglass, "yard")
    top, side, row = sheet.axes
    assert (top.get_ylabel(), side.get_ylabel()) == ("y (m)", "height z (m)")
    assert {"bell", "step", "arch", "stair", "round, round and round"} <= set(texts(top))
    assert {"head × 1.5", "arm × 0.5", "plate × 0.25", "flare", "splinters", "bellwarden"} <= set(texts(row))
    assert any(line[:1] == [(14.0, 9.0)] and len(line) == 4 for line in points(top)), "a closed path comes back"


def test_the_strip_shows_the_hand_at_the_muzzle_when_the_shot_leaves(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    released = next(event for event in chronicle.events if isinstance(event, events.Released))
    sheet = draw_shot_strip(chronicle, 1, "release", step=3)
    titles = [axes.get_title(loc="left") for axes in sheet.axes]
    assert titles[4] == f"tick {released.tick}: the release" and titles[0] == f"tick {released.tick - 12}, -12"

    def hand(axes: Axes) -> np.ndarray:
        bodies = [each for each in axes.collections if isinstance(each, PolyCollection) and len(each.get_paths()) == 3]
        outline = bodies[0].get_paths()[2].vertices
        return np.asarray(outline)

    gaps = [np.linalg.norm(hand(axes) - released.position, axis=1).min() for axes in sheet.axes]
    assert gaps[4] == pytest.approx(0.08, abs=0.01), "the arm's end is round the muzzle at the release"
    assert min(gaps[:4]) > 0.2
    flown = [[line for line in points(axes) if len(line) > 2] for axes in sheet.axes]
    assert [len(lines) for lines in flown] == [0, 0, 0, 0, 0, 1, 1, 1]
    for moment, message in (("release", "there is no shot 77"), ("start", "there is no moment 'start'")):
        with pytest.raises(ew.ChronicleError, match=message):
            draw_shot_strip(chronicle, 77 if moment == "release" else 1, moment)
    with pytest.raises(ew.ChronicleError, match="shot 10 was still flying"):
        draw_shot_strip(chronicle, 10, "end")


@pytest.mark.parametrize(("bout", "panels"), [("pans", 1), ("yard", 2), ("ledge", 1)])
def test_every_bounce_wound_and_end_is_where_it_happened(saltglass: ew.Rulebook, bout: str, panels: int) -> None:
    chronicle = ew.run(saltglass, bout)
    sheet = draw_shots(chronicle)
    assert len(sheet.axes) == panels
    shown = {tuple(np.round(point, 9)) for line in points(sheet.axes[0]) for point in line}
    space = chronicle.rules.book.arenas[chronicle.header.arena].space
    for event in chronicle.events:
        if isinstance(event, events.Bounced | events.Wounded | events.ShotEnded | events.Released):
            assert tuple(np.round(event.position[:2], 9)) in shown, (space, event)


def test_the_attack_shows_on_which_tick_its_hitboxes_are_on_and_how_far_they_reach(saltglass: ew.Rulebook) -> None:
    sheet = draw_attack(saltglass, "sweep", ticks=[0, 15, 22, 23])
    line, strip = sheet.axes
    assert sheet.get_suptitle().startswith("lamplighter's sweep: hitboxes on in ticks 15 to 22; hook reaches 2.02 m")
    lanes = ["phases", "hitbox hook", "hitbox pole", "cancel roll", "follow-up backsweep", "cooldown"]
    assert [label.get_text() for label in line.get_yticklabels()] == lanes[::-1]
    assert {"windup", "active", "recovery", "15-22", "0-11", "23-38", "ready on 30"} <= set(texts(line))
    shapes = [patch for patch in line.patches if isinstance(patch, Rectangle)]
    bars = {(bar.get_x(), bar.get_x() + bar.get_width()) for bar in shapes}
    timing = saltglass.timing("sweep")
    assert {(window.first_tick, window.last_tick + 1) for window in timing.windows} <= bars
    titles = [text for text in texts(strip) if text.startswith("tick")]
    assert titles == ["tick 0", "tick 15: hook, pole on", "tick 22: hook, pole on", "tick 23"]
    struck = saltglass_hit(saltglass)
    assert struck.hitbox == "hook"
    reach = max(float(each.split()[1]) for each in texts(strip) if each.startswith("hook"))
    assert struck.position[0] <= reach + 1e-2 < struck.position[0] + 0.15, "a post at the end of its reach is hit"
    for what, message in (
        ({"attack": "sweeep"}, "there is no attack 'sweeep'"),
        ({"attack": "sweep", "fighter": "wader"}, "there is no fighter with the attack sweep: 'wader'"),
        ({"attack": "sweep", "arena": "seaside"}, "there is no arena 'seaside'"),
        ({"attack": "sweep", "ticks": [40]}, "give at most 6 ticks from 0 to 39"),
    ):
        with pytest.raises(ew.EmberwoundError, match=message):
            draw_attack(saltglass, **what)


ARENAS = ("pans", "yard")


def test_a_strip_shows_a_body_from_the_blow_until_it_lies_still(saltglass: ew.Rulebook) -> None:
    places = ("body", "head")
    told = [saltglass.ragdoll("backsweep", "lamplighter", hurtbox=each) for each in places]
    path = saltglass.knockback_path("backsweep", "lamplighter")
    sheet = draw_ragdoll(saltglass, "backsweep", "lamplighter", hurtboxes=places)
    assert f"backsweep at {path.speed:.3g} m/s, {path.lift_deg:.3g}°" in sheet.get_suptitle()
    assert [axes.get_ylabel() for axes in sheet.axes if axes.get_ylabel()] == ["hit at body", "hit at head"]
    for arena in ARENAS:
        fallen = draw_ragdoll(saltglass, "sweep", "wader", arena=arena)
        assert len(fallen.axes) == min(len(saltglass.book.fighters["wader"].hurtboxes), 3)
    for fall, axes in zip(told, sheet.axes, strict=True):
        first = next(number for number, each in enumerate(fall.moments) if each.still)
        assert texts(axes)[0] == "0.02 s" and f"{(first + 1) / 60:.2f} s, still" in texts(axes)
        labels = [float(each.get_text()) for each in axes.get_xticklabels()]
        shifts = list(dict.fromkeys(np.round(np.array(axes.get_xticks()) - labels, 9).tolist()))
        assert len(shifts) == 7, "the ticks of each frame tell where in the world it is"
        for frame, moment in ((0, 0), (1, 6)):
            boxes = [path.get_extents() for path in axes.collections[frame].get_paths()]
            drawn = np.array([(box.x0 + box.x1, box.y0 + box.y1) for box in boxes]) / 2
            assert np.allclose(drawn - (shifts[frame], 0), list(fall.moments[moment].points.values()))


def saltglass_hit(rules: ew.Rulebook) -> events.Wounded:
    """What a sweep does to a wader that just stands in its way."""
    bout = ew.Bout(rules, arena="causeway")
    amber = bout.enter("lamplighter", at="west")
    bout.enter("wader", at=(2.2, 0), facing="left")
    amber.order(press="sweep")
    return next(event for event in bout.advance(1) if isinstance(event, events.Wounded))


def test_an_attack_is_drawn_against_a_victim_that_reacts(saltglass: ew.Rulebook) -> None:
    told = saltglass.advantage("claws", "lamplighter")
    line = draw_attack(saltglass, "claws", against="lamplighter").axes[0]
    assert {"flinch, -22", "jolt, -22"} <= set(texts(line))
    lanes = [label.get_text() for label in line.get_yticklabels()]
    bars = {
        lanes[round(each.get_y() + each.get_height() / 2)]: (each.get_x(), each.get_width())
        for each in line.patches if isinstance(each, Rectangle)
    }  # fmt: skip
    cases = {"hit": (told.on_hit, told.after_hit), "guarded": (told.on_guard, told.after_guard)}
    expected = {
        f"lamplighter, {case}": (after.hit_ticks[0] + 1, report.ticks)
        for case, (report, after) in cases.items() if report and after
    }  # fmt: skip
    assert len(expected) == 2 and expected.items() <= bars.items()
    with pytest.raises(ew.RulebookError, match=r"there is no fighter 'wadr' \(did you mean 'wader'\?\)"):
        draw_attack(saltglass, "claws", against="wadr")


@pytest.mark.parametrize("attack", ["roll", "flare", "beam", "leap", "claws"])
def test_attacks_of_every_sort_can_be_drawn(saltglass: ew.Rulebook, attack: str) -> None:
    sheet = draw_attack(saltglass, attack, arena="yard" if attack == "beam" else None)
    assert len([text for text in texts(sheet.axes[1]) if text.startswith("tick")]) >= 2
    assert to_bytes(sheet, ".svg").lstrip().startswith(b"<?xml")


def test_the_arena_shows_its_hazards(saltglass: ew.Rulebook) -> None:
    place, _ = draw_arena(saltglass, "causeway").axes
    assert {"vent", "tide, fatal"} <= set(texts(place))
    outlines = [path.vertices for each in place.collections for path in each.get_paths()]
    tide = next(np.asarray(each) for each in outlines if np.asarray(each)[:, 0].min() == 20.0)
    assert tide[:, 0].max() == 22.0, "up to the bounds"


DRIFTING = """
settings.tick_rate = 60
[kinds.heat]
[arenas.field]
space = "top"
bounds = { low = [-20, -20], high = [20, 20] }
paths.line = { points = [[-3, 1], [3, 1]] }
[arenas.field.hazards.vent]
at = [-3, 1]
radius = 0.5
kind = "heat"
damage = 2
rehit_every = 1
path = "line"
speed = 3
[arenas.field.hazards.gust]
at = [5, 5]
radius = 1
kind = "heat"
damage = 2
rehit_every = 1
schedule = { first = 1, on = 1, off = 1 }
"""


def test_hazards_are_shown_where_and_whether_they_are_on_a_tick() -> None:
    rules = ew.Rulebook.parse(DRIFTING)
    for tick, middle, off in ((None, -3.0, False), (30, -1.5, True), (90, 1.5, False)):
        place, _ = draw_arena(rules, "field", tick=tick).axes
        assert ("gust, off" in texts(place)) == off
        outlines = [np.asarray(path.vertices) for each in place.collections for path in each.get_paths()]
        (vent,) = [each for each in outlines if len(each) and np.ptp(each[:, 0]) == pytest.approx(1.0)]
        assert (vent[:, 0].min() + vent[:, 0].max()) / 2 == pytest.approx(middle)
    with pytest.raises(ew.OutputError, match="tick -1: give a tick from 0 to 1000000000"):
        draw_arena(rules, "field", tick=-1)
    bout = ew.Bout(rules, arena="field")
    recorder = ew.Recorder(bout)
    for _ in range(90):
        bout.step()
    page = replay_data(recorder.chronicle())
    assert page["moved"][0][29][1] == pytest.approx([1.5, 0.0]), "as far as in half a second"
    assert [change for change in page["off"][1] if change[0] > 0][:2] == [[1, True], [61, False]]


LONE = """
[fighters.lone]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 1, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }
[arenas.shaft]
space = "3d"
floor = 0
bounds = { low = [-5, -5, -1], high = [5, 5, 40] }
"""


def test_an_arena_of_any_shape_fits_a_page() -> None:
    sheet = draw_arena(ew.Rulebook.parse(LONE), "shaft")
    assert to_bytes(sheet).startswith(b"\x89PNG") and sheet.get_figheight() == pytest.approx(8.0)
    for axes in sheet.axes:
        place = axes.get_window_extent()
        assert 0 < place.x0 < place.x1 < 1280 and 0 < place.y0 < place.y1 < 800


def test_the_story_shows_everybody_as_posed_after_a_tick(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    paths, health = draw_story(chronicle, ticks=[60, 150, 300]).axes
    assert {"60, 150, 300", "60, 150"} <= set(texts(paths)), "reed is dead on tick 300"
    assert {"tick 60", "tick 150", "tick 300"} <= set(texts(health))
    flying = chronicle.tracks.shot_positions[np.isin(chronicle.tracks.shot_states, (60, 150, 300))]
    assert len(flying) and all(tuple(spot) in {line[-1] for line in points(paths)} for spot in flying.tolist())
    with pytest.raises(ew.OutputError, match=re.escape("tick 631: give ticks of the bout, from 0 to 630")):
        draw_story(chronicle, ticks=[631])


def test_lives_are_told_and_drawn_with_how_each_ended(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "passage")
    lives = lives_of(chronicle.events, chronicle.header.tick_rate)
    died = only(events.Died, chronicle.events)
    ended = sorted((life.ended, life.seat, life.number, life.credit) for life in lives if life.end == "died")
    assert ended == sorted((event.time, event.seat, event.life, event.credit) for event in died)
    wounds = sum(event.amount for event in only(events.Wounded, chronicle.events))
    assert sum(life.taken + life.overkill_taken for life in lives) == wounds
    assert sum(life.kills for life in lives) == sum(event.credit is not None for event in died)
    (restart,) = only(events.BoutRestarted, chronicle.events)
    assert {life.ended for life in lives if life.end == "restarted"} == {restart.time}
    assert all(life.ended is None for life in lives if life.end == "alive")
    sheet = draw_lives(chronicle)
    lanes, left, score = sheet.axes
    assert lanes.get_title(loc="left") == f"{len(lives)} lives of 5 seats, {len(died)} deaths, 1 restart"
    assert [label.get_text().split("\n")[0] for label in lanes.get_yticklabels()] == list(chronicle.tracks.seats)
    marks = [text.get_text() for text in lanes.texts]
    assert marks.count("✝ the brine → reed") == 1 and marks.count("⚑ mid_cairn") == 1
    assert sum(mark.startswith("✝") for mark in marks) == len(died)
    steps = {line.get_label(): line.get_ydata() for line in left.get_lines()}
    amber = [round(float(value)) for value in np.asarray(steps["amber"])]
    assert [value for value, last in zip(amber, [None, *amber], strict=False) if value != last] == [2, 1, 0, 2, 3]
    told = {text.get_text() for text in score.texts}
    assert told - {" "} == {f"{row.seat} {row.counters['pearls']:g}" for row in chronicle.end.board}


def test_figures_show_no_more_than_the_time_that_is_asked_for(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "passage")
    paths, health = draw_story(chronicle, between=(28, 36)).axes
    assert paths.get_title(loc="left").startswith("7 shots, 5 of them hit") and health.get_xlim() == (28, 36)
    assert {"amber", "sorrel", "reed", "sedge", "flint"} <= set(texts(health))
    lanes, _, score = draw_lives(chronicle, between=(8, 22)).axes
    assert sum(text.startswith("✝") for text in texts(lanes)) == 3 and lanes.get_xlim() == (8, 22)
    assert {"amber 6", "reed 10"} <= set(texts(score))
    (shots,) = draw_shots(chronicle, between=(0, 3)).axes
    assert shots.get_title(loc="left").startswith("1 shot, which hit nobody")
    with pytest.raises(ew.OutputError, match="from 0 to 41 s; got 30 to 50"):
        draw_lives(chronicle, between=(30, 50))


def test_lives_are_drawn_without_counters_lives_or_anybody(saltglass: ew.Rulebook) -> None:
    bare = saltglass.edit({"counters": None, "settings.board": None, "arenas.saltway.pickups.pearl": None})
    bout = ew.Bout(bare, arena="saltway")
    recorder = ew.Recorder(bout)
    assert len(draw_lives(recorder.chronicle()).axes) == 2
    for fighter in ("wader", "lamplighter"):
        seat = bout.enter(fighter, seat="one", at="ford", lives="endless")
        bout.advance(0.5)
        seat.leave()
        bout.advance(0.5)
    chronicle = recorder.chronicle()
    for sheet in (draw_lives(chronicle), draw_story(chronicle), draw_bars(chronicle, "one")):
        assert len(sheet.axes) >= 2
    assert [each.seat for each in summarise(chronicle).seats] == ["one"]


def test_bars_are_drawn_true_against_shown_and_as_they_hang(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "passage")
    sheet = draw_bars(chronicle, "amber", between=(7, 13), ticks=[440, 605])
    life, pane, strip = sheet.axes
    assert (life.get_title(loc="left"), pane.get_title(loc="left")) == (
        "life: health (style bar)",
        "pane: glass (style bar)",
    )
    true, shown = (np.asarray(line.get_ydata()) for line in pane.get_lines()[:2])
    after = 449
    assert true[after] == pytest.approx(0.6) and true[after] <= shown[after] < true[after] + 0.1
    assert life.get_xlim() == (7, 13)
    assert [text for text in texts(strip) if "s" in text] == ["a   7.33 s", "b   10.08 s"]
    frames = [patch for patch in strip.patches if not patch.get_fill()]
    assert len(frames) == 3, "a full pane is not drawn; after the vent both are"


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"seat": "ambr"}, "there is no seat 'ambr' (did you mean 'amber'?); known: amber, sorrel, reed"),
        ({"between": (5, 3)}, "give two times of the bout, from 0 to 41 s; got 5 to 3"),
        ({"ticks": [5000]}, "tick 5000: give ticks of the bout, from 1 to 2460"),
    ],
)
def test_bars_that_cannot_be_drawn_say_why(saltglass: ew.Rulebook, asked: dict[str, Any], says: str) -> None:
    with pytest.raises(ew.OutputError, match=re.escape(says)):
        draw_bars(ew.run(saltglass, "passage"), **asked)


def test_an_unknown_arena_is_told_the_nearest(saltglass: ew.Rulebook) -> None:
    with pytest.raises(ew.RulebookError, match=r"there is no arena 'yrd' \(did you mean 'yard'\?\)"):
        draw_arena(saltglass, "yrd")


@pytest.mark.filterwarnings("error")
def test_a_push_of_which_a_guard_leaves_nothing_is_drawn_as_one(saltglass: ew.Rulebook) -> None:
    rules = saltglass.edit({"fighters.lamplighter.guard.push_share": 0})
    report = rules.knockback_path("sweep", "lamplighter", guarded=True)
    above, _ = draw_knockback(rules, "sweep", "lamplighter", guarded=True).axes
    assert report.speed == 0 and above.get_title(loc="left") == "It stays where it is: nothing is left of the push"


def test_a_guard_goes_up_again_only_after_a_reaction_that_took_it_down(saltglass: ew.Rulebook) -> None:
    def noted(rules: ew.Rulebook) -> bool:
        sheet = draw_reaction(rules, "claws", "lamplighter")
        return any("guard up again" in text for axes in sheet.axes for text in texts(axes))

    assert noted(saltglass)
    assert not noted(saltglass.edit({"fighters.lamplighter.reactions.jolt.locks": ["move", "attack"]}))


def test_variants_of_a_reaction_and_of_a_slide_do_not_cover_each_other(saltglass: ew.Rulebook) -> None:
    key = "fighters.lamplighter.reactions.flinch.seconds"
    variants = [(f"flinch {seconds:g} s", saltglass.edit({key: seconds})) for seconds in (0.3, 0.6, 0.9)]
    sheet = draw_reaction(saltglass, "claws", "lamplighter", variants=variants)
    to_bytes(sheet, ".png")
    drawn: Any = sheet.canvas.get_renderer()  # type: ignore[attr-defined]
    page = sheet.bbox
    for axes in sheet.axes:
        written = [each for each in axes.get_children() if isinstance(each, Text)]
        boxes = [each.get_window_extent(drawn) for each in written if each.get_text()]
        assert all(page.x0 <= box.x0 and box.x1 <= page.x1 for box in boxes), [each.get_text() for each in written]
        assert not any(one.overlaps(other) for number, one in enumerate(boxes) for other in boxes[:number])
    line = draw_knockback(saltglass, "sweep", "lamplighter", variants=variants[1:]).axes[0]
    drawn_lines = [np.asarray(each.get_ydata()) for each in line.lines]
    levels = [float(each[-1]) for each in drawn_lines if len(each) > 9]
    assert len(levels) == len(set(levels)) == 3
