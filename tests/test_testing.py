"""What tests of one's own books get: assertions that say what differs, and fixtures that come along with pytest."""

from __future__ import annotations

import re
import subprocess
import sys
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from emberwound.testing import assert_kills, assert_same_bout

if TYPE_CHECKING:
    from pathlib import Path


def test_kills_are_counted_to_the_hit(saltglass: ew.Rulebook) -> None:
    row = next(each for each in saltglass.wound_table() if each.attack == "flare" and each.victim == "wader")
    assert row.hits is not None
    assert_kills(saltglass, "flare", "wader", hits=row.hits, hurtbox=row.hurtbox)
    for hits in (row.hits - 1, row.hits + 1):
        with pytest.raises(AssertionError, match=rf"in {hits} hits?; it kills in {row.hits} hits?"):
            assert_kills(saltglass, "flare", "wader", hits=hits, hurtbox=row.hurtbox)
    immune = saltglass.edit({"fighters.wader.damage_taken": {"ember": 0}})
    with pytest.raises(AssertionError, match="never kills"):
        assert_kills(immune, "flare", "wader", hits=2)
    with pytest.raises(ew.RulebookError, match="flair"):
        assert_kills(saltglass, "flair", "wader", hits=2)
    for wrong in (0, -1, 2.5, "2", None, True):
        with pytest.raises(ValueError, match="hits: give a whole number from 1 up"):
            assert_kills(saltglass, "flare", "wader", hits=wrong)  # type: ignore[arg-type]


def test_a_golden_bout_outlives_what_it_does_not_use(saltglass: ew.Rulebook, tmp_path: Path) -> None:
    golden = ew.run(saltglass, "crossing").save(tmp_path / "golden.jsonl")
    unused = saltglass.edit({"settings.title": "Another", "kinds.dust": {}, "arenas.other": {"bounds": BOUNDS}})
    assert_same_bout(ew.run(unused, "crossing"), golden)
    quiet = saltglass.edit({"cues": {}})
    assert_same_bout(ew.run(quiet, "crossing"), golden)
    nudged = re.sub(rb"(\d\.\d{9})\d+", rb"\1", golden.read_bytes())  # as if rounded by another library
    golden.write_bytes(nudged.replace(b'"numpy":"', b'"numpy":"9.'))
    assert golden.read_bytes() != nudged
    assert_same_bout(ew.run(saltglass, "crossing"), golden)


BOUNDS = {"low": [0, 0], "high": [1, 1]}


def test_the_first_difference_is_told(saltglass: ew.Rulebook) -> None:
    golden = ew.run(saltglass, "crossing")
    stronger = ew.run(saltglass.edit({"attacks.flare.damage": 13}), "crossing")
    with pytest.raises(
        AssertionError, match=r"part at 1\.207 s \(tick 72\)[^\n]*event.*\n.*amount: 12\.0 there, 13\.0 here"
    ):
        assert_same_bout(stronger, golden)
    orders = saltglass.canonical()["bouts"]["crossing"]["orders"]
    later = ew.run(saltglass.edit({"bouts.crossing.orders": orders[:-1]}), "crossing")
    with pytest.raises(AssertionError, match="at the first input that differs"):
        assert_same_bout(later, golden)
    both = ew.run(saltglass.edit({"bouts.crossing.orders": orders[:-1], "attacks.flare.damage": 13}), "crossing")
    with pytest.raises(AssertionError) as earliest:
        assert_same_bout(both, golden)
    first, differing, there, here = str(earliest.value).splitlines()
    assert "part at 1.207 s (tick 72), at the first event that differs" in first and "12.0 there" in differing
    assert there.startswith("  there: base 12 -> ") and here.startswith("  here:  base 13 -> ")
    longer = ew.run(saltglass.edit({"bouts.crossing.seconds": 11}), "crossing")
    with pytest.raises(AssertionError, match=r"ran 630 ticks|event that differs"):
        assert_same_bout(longer, golden)


def test_a_golden_chronicle_of_another_bout_is_refused(saltglass: ew.Rulebook, tmp_path: Path) -> None:
    golden = ew.run(saltglass, "crossing")
    for other in (
        ew.run(saltglass, "vent"),
        ew.run(saltglass, "crossing", seed=99),
        ew.run(saltglass, "crossing", tick_rate=30),
    ):
        with pytest.raises(ew.ChronicleError, match="the golden chronicle is of another bout: its"):
            assert_same_bout(other, golden)
    with pytest.raises(TypeError, match="golden: give a chronicle, or the file of one; got None"):
        assert_same_bout(golden, None)  # type: ignore[arg-type]
    with pytest.raises(ew.ChronicleError, match=r"none\.jsonl"):
        assert_same_bout(golden, tmp_path / "none.jsonl")


TESTS = """
import pytest

def test_the_book(emberwound_rulebook, emberwound_bout, emberwound_chronicle):
    assert emberwound_rulebook.source == "book.toml" and emberwound_bout.arena == "first" and not emberwound_bout.seats
    assert emberwound_chronicle.header.script == "one" and emberwound_chronicle.header.seed == 4

@pytest.mark.emberwound(arena="second", bout="two", seed=9)
def test_what_the_marker_names(emberwound_bout, emberwound_chronicle):
    header = emberwound_chronicle.header
    assert emberwound_bout.arena == "second" and header.script == "two" and header.seed == 9

@pytest.mark.emberwound(book="empty.toml")
def test_no_bout(emberwound_chronicle):
    pass

@pytest.mark.emberwound(book="broken.toml")
def test_broken(emberwound_rulebook):
    pass

@pytest.mark.emberwound(boot="book.toml")
def test_a_misspelt_marker(emberwound_rulebook):
    pass
"""
BOOK = """
[fighters.f]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 3, vital = true }
hurtboxes.all = { from = [0, 1], radius = 0.3 }
[arenas.first]
bounds = { low = [0, 0], high = [9, 9] }
[arenas.second]
bounds = { low = [0, 0], high = [9, 9] }
[bouts.one]
arena = "first"
seconds = 0.1
seed = 4
seats.a = { fighter = "f", at = [1, 0] }
[bouts.two]
arena = "second"
seconds = 0.1
seats.a = { fighter = "f", at = [1, 0] }
"""


def test_fixtures_come_along_and_say_what_is_wrong(tmp_path: Path) -> None:
    (tmp_path / "pytest.ini").write_text("[pytest]\nemberwound_book = book.toml\naddopts = --strict-markers\n")
    (tmp_path / "test_mine.py").write_text(TESTS)
    (tmp_path / "book.toml").write_text(BOOK)
    (tmp_path / "empty.toml").write_text("")
    (tmp_path / "broken.toml").write_text("[settings]\ntick_rat = 60\n")
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "--no-header", "-p", "no:cacheprovider", "-p", "no:xdist"],
        cwd=tmp_path, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert "2 passed, 3 errors" in done.stdout, done.stdout
    assert "empty.toml has no bout" in done.stdout
    assert "tick_rate" in done.stdout and "broken.toml" in done.stdout
    assert "takes book, arena, bout and seed by name; got boot" in done.stdout


def test_the_plugin_costs_other_projects_nothing(tmp_path: Path) -> None:
    (tmp_path / "test_other.py").write_text(
        "import sys\ndef test_light():\n    assert not {'numba', 'numpy', 'pydantic'} & set(sys.modules)\n"
    )
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", "-p", "no:hypothesispytest"],
        cwd=tmp_path, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert "1 passed" in done.stdout, done.stdout
