"""The story's figure, read through its axes."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pytest
from matplotlib.collections import PolyCollection

import emberwound as ew
from conftest import range_rules
from emberwound import events
from emberwound.draw.arena import draw_arena
from emberwound.draw.files import to_bytes
from emberwound.draw.shots import draw_shots, draw_strip
from emberwound.draw.story import draw_story

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
    assert paths.get_title(loc="left").startswith("10 shots, 7 of them hit")
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
    assert any(line[:1] == [(14.0, 5.0)] and len(line) == 4 for line in points(top)), "a closed path comes back"


def test_the_strip_shows_the_hand_at_the_muzzle_when_the_shot_leaves(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "crossing")
    released = next(event for event in chronicle.events if isinstance(event, events.Released))
    sheet = draw_strip(chronicle, 1, "release", step=3)
    titles = [axes.get_title(loc="left") for axes in sheet.axes]
    assert titles[4] == f"tick {released.tick}: the release" and titles[0] == f"tick {released.tick - 12}, -12"

    def hand(axes: Axes) -> np.ndarray:
        collections = [each for each in axes.collections if isinstance(each, PolyCollection)]
        outline = collections[0].get_paths()[2].vertices
        return np.asarray(outline)

    gaps = [np.linalg.norm(hand(axes) - released.position, axis=1).min() for axes in sheet.axes]
    assert gaps[4] == pytest.approx(0.08, abs=0.01), "the arm's end is round the muzzle at the release"
    assert min(gaps[:4]) > 0.2
    flown = [[line for line in points(axes) if len(line) > 2] for axes in sheet.axes]
    assert [len(lines) for lines in flown] == [0, 0, 0, 0, 0, 1, 1, 1]
    for moment, message in (("release", "there is no shot 77"), ("start", "there is no moment 'start'")):
        with pytest.raises(ew.ChronicleError, match=message):
            draw_strip(chronicle, 77 if moment == "release" else 1, moment)
    with pytest.raises(ew.ChronicleError, match="shot 10 was still flying"):
        draw_strip(chronicle, 10, "end")


@pytest.mark.parametrize(("bout", "panels"), [("pans", 1), ("yard", 2), ("ledge", 1)])
def test_every_bounce_wound_and_end_is_where_it_happened(saltglass: ew.Rulebook, bout: str, panels: int) -> None:
    chronicle = ew.run(saltglass, bout)
    sheet = draw_shots(chronicle)
    assert len(sheet.axes) == panels
    shown = {tuple(np.round(point, 9)) for line in points(sheet.axes[0]) for point in line}
    plane = chronicle.rules.book.arenas[chronicle.header.arena].plane
    for event in chronicle.events:
        if isinstance(event, events.Bounced | events.Wounded | events.ShotEnded | events.Released):
            assert tuple(np.round(event.position[:2], 9)) in shown, (plane, event)
