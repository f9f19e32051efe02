"""The examples: each runs as its page says, prints what it did, and comes with the package."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

from commands import run_line
from conftest import emberwound
from emberwound import Rulebook
from emberwound.cli.shelf import Example, examples

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT / "tools"))

import gallery  # noqa: E402
import sessions  # noqa: E402


def printed(command: str, folder: Path) -> str:
    """What a command of an example prints in a folder, in a terminal of the width of the gallery."""
    done = run_line(command, folder, {"COLUMNS": gallery.WIDTH})
    assert done.returncode == 0, done.stderr
    return done.stdout


@pytest.mark.parametrize("example", examples(), ids=lambda example: example.name)
def test_an_example_prints_what_it_did_and_draws_its_picture(example: Example, tmp_path: Path) -> None:
    first, *others = gallery.lay_out(example, tmp_path)
    assert sessions.SECONDS.sub("in 0.50s", printed(first, tmp_path)) == example.files["expected.txt"].decode()
    for command in others:
        assert printed(command, tmp_path)
    pictures = [*tmp_path.glob("*.png"), *tmp_path.glob("emberwound-out/*.png")]
    assert pictures and (ROOT / "docs" / "gallery" / f"{example.name}.png").read_bytes().startswith(b"\x89PNG")


def test_examples_are_small_told_apart_and_valid() -> None:
    found = examples()
    folders = {path.name for path in (ROOT / "examples").iterdir() if path.is_dir()}
    assert {each.name for each in found} == folders and len(found) >= 19
    assert len({each.shows for each in found}) == len(found)
    for each in found:
        assert max(content.count(b"\n") for content in each.files.values()) <= 80, each.name
        steps = {"rain": (lambda points, _: points, "1.0")} if each.name == "own-step" else None
        Rulebook.parse(each.files["book.toml"].decode(), each.name, steps)


def test_the_command_lists_them_and_copies_one_out(tmp_path: Path) -> None:
    listed = emberwound("example", folder=tmp_path)
    assert all(each.name in listed.stdout and each.shows in listed.stdout for each in examples())
    done = emberwound("example", "rollback", "--out", "a/b", folder=tmp_path)
    assert done.returncode == 0 and "cd a/b && python script.py" in done.stdout
    (same,) = [each for each in examples() if each.name == "rollback"]
    assert {path.name: path.read_bytes() for path in (tmp_path / "a/b").iterdir()} == same.files


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["example", "rolback"], "there is no example 'rolback' (did you mean 'rollback'?)"),
        (["example", "rollback", "--out", "full"], "full is not empty, and is left as it is"),
        (["example", "rollback", "--out", "file"], "file is not empty, and is left as it is"),
        (["example", "--out", "x"], "--out: name the example to copy"),
        (["new", "2nd"], "new 2nd: allowed: a letter"),
        (["new", "there"], "there.toml is there already, and is left as it is"),
        (["new", "a/b"], "new a/b: allowed"),
        (["schema", "--out", "file/x.json"], "file"),
        (["tables", "none.toml"], "none.toml"),
    ],
)
def test_what_cannot_be_is_said_and_changes_nothing(words: list[str], said: str, tmp_path: Path) -> None:
    (tmp_path / "full").mkdir()
    for name in ("full/held", "file", "there.toml"):
        (tmp_path / name).write_text("held", encoding="utf-8")
    before = sorted(tmp_path.rglob("*"))
    done = emberwound(*words, folder=tmp_path)
    assert done.returncode == 2 and said in done.stderr and "Traceback" not in done.stderr
    assert sorted(tmp_path.rglob("*")) == before
    assert (tmp_path / "there.toml").read_text(encoding="utf-8") == "held"


def test_a_first_book_is_short_says_what_it_means_and_runs(tmp_path: Path) -> None:
    assert emberwound("new", "marsh.toml", folder=tmp_path).returncode == 0
    text = (tmp_path / "marsh.toml").read_text(encoding="utf-8")
    assert 35 <= text.count("\n") <= 50 and text.count("#") >= 8 and "NAME" not in text
    done = emberwound("run", "marsh.toml", folder=tmp_path)
    assert done.returncode == 0 and "target dies to player's ember" in done.stdout
