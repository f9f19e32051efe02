"""The story's figure, read through its axes."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pytest

import emberwound as ew
from conftest import range_rules
from emberwound import events
from emberwound.draw.files import to_bytes
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
    assert paths.get_title(loc="left").startswith("10 shots, 7 hits")
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
    assert sheet.axes[0].get_title(loc="left").startswith("0 shots, 0 hits")
    assert to_bytes(sheet).startswith(b"\x89PNG")
