"""A bout watched in a terminal while it runs."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import pytest
from rich.console import Console

import emberwound as ew
from conftest import emberwound
from emberwound.draw.watch import Watch
from emberwound.study import tell_story

if TYPE_CHECKING:
    from pathlib import Path


def console(width: int = 80, *, terminal: bool = True) -> Console:
    return Console(file=io.StringIO(), force_terminal=terminal, width=width, height=30, record=True, highlight=False)


def test_the_picture_shows_bars_lives_scores_and_what_happened_at_eighty_columns(saltglass: ew.Rulebook) -> None:
    bout = ew.Bout.scripted(saltglass, "passage")
    shown = console()
    watch = Watch(shown, "The Saltglass Causeway: over the whole causeway", speed=1000)
    bout.watch(watch)
    while bout.time < 10.2:
        bout.step()
    page = Console(file=io.StringIO(), width=80, record=True, highlight=False)
    page.print(watch.picture(bout))
    lines = page.export_text().splitlines()
    assert max(len(line) for line in lines) <= 80
    assert "10.20 s   1 shot in flight" in lines[0]
    assert lines[1].split() == ["seat", "bars", "lives", "pearls", "does"]
    amber, sorrel, reed = (line.split() for line in lines[2:5])
    assert amber[0] == "amber" and amber[-5:] == ["8", "back", "in", "3.5", "s"] and amber[-6] == "1"
    assert sorrel[0] == "sorrel" and "90" in sorrel and "♥♥♥" in reed
    assert any("amber dies to the hazard brine, respawns in 3.7 s" in line for line in lines)
    for _ in range(60):
        bout.step()
    page.print(watch.picture(bout))
    assert "out" in next(line for line in page.export_text().splitlines() if line.startswith("sorrel"))


def test_watching_changes_nothing_and_draws_as_it_goes(saltglass: ew.Rulebook) -> None:
    shown = console()
    with Watch(shown, "vent", speed=30) as watch:
        watched = ew.run(saltglass, "vent", watch=watch)
    assert watched == ew.run(saltglass, "vent") and watch.redraws >= 3
    text = shown.file.getvalue()  # type: ignore[attr-defined]
    assert text.count("vent") >= watch.redraws and "9.00 s" in text


def test_where_there_is_no_terminal_it_is_plain_lines(saltglass: ew.Rulebook) -> None:
    shown = console(terminal=False)
    with Watch(shown, "vent", speed=1) as watch:
        chronicle = ew.run(saltglass, "vent", watch=watch)
    story = [f"{line.time:8.3f}  {line.text}" for line in tell_story(chronicle)]
    assert shown.file.getvalue().splitlines() == story  # type: ignore[attr-defined]


@pytest.mark.parametrize("terminal", [True, False])
def test_a_bout_of_nobody_can_be_watched(saltglass: ew.Rulebook, terminal: bool) -> None:
    bout = ew.Bout(saltglass, arena="yard")
    with Watch(console(terminal=terminal), "nobody", speed=1000) as watch:
        bout.watch(watch)
        bout.advance(0.5)
        page = Console(file=io.StringIO(), width=80, record=True)
        page.print(watch.picture(bout))
    assert "0.50 s   no shots in flight   nobody" in page.export_text()


def test_the_command_watches_and_says_what_goes_with_what(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("run", saltglass_path, "vent", "--watch", "--speed", 50, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    lines = done.stdout.splitlines()
    assert lines[0].startswith("   0.000  amber (lamplighter) enters") and "health left" not in done.stdout
    assert any(line.startswith("life of") for line in lines)
    for asked, says in (
        (["--watch", "--json"], "--watch and --json: give one"),
        (["--speed", 4], "it goes with --watch"),
    ):
        done = emberwound("run", saltglass_path, "vent", *asked, folder=tmp_path)
        assert (done.returncode, done.stdout) == (2, "") and says in done.stderr
