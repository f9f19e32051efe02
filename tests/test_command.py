"""The command line, as a user runs it."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

import emberwound as ew
from conftest import range_text

PROGRAM = Path(sys.executable).parent / "emberwound"


def emberwound(*arguments: object, folder: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [PROGRAM, *map(str, arguments)],
        cwd=folder,
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "PYTHONWARNINGS": "error", "COLUMNS": "140"},
    )


def test_demo_tells_the_story_and_leaves_chronicle_and_figure(tmp_path: Path) -> None:
    done = emberwound("demo", "--out", "here", folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    chronicle = ew.load_chronicle(tmp_path / "here" / "crossing.jsonl")
    assert ew.rerun(chronicle) == chronicle
    assert (tmp_path / "here" / "crossing.png").read_bytes().startswith(b"\x89PNG")
    assert sorted(path.name for path in (tmp_path / "here").iterdir()) == ["crossing.jsonl", "crossing.png"]
    for sentence in (
        "amber's flare 1 hits reed's body: 12 health lost",
        "amber's flare 3 hits reed's head (12 × 1.5): 18 health lost",
        "reed dies of amber's flare, back in 3.7 s (222 ticks)",
        "press flare refused: cooling down for 0.35 s (21 ticks) more",
        "reed stands again at (8, 0), life 2",
        "6 health lost, 12 overkill",
        "brack dies of amber's flare, for good",
        "10 fired = 7 hit + 1 on the floor + 1 out of the arena + 1 still flying",
    ):
        assert sentence in " ".join(done.stdout.split()).replace("  ", " "), sentence


def test_run_gives_json_that_agrees_with_the_chronicle(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("run", saltglass_path, "--json", "--seed", 99, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    told = json.loads(done.stdout)
    chronicle = ew.load_chronicle(tmp_path / "emberwound-out" / "crossing.jsonl")
    assert told["seed"] == chronicle.header.seed == 99
    shots = told["totals"]["shots"]
    assert shots["fired"] == shots["hit"] + sum(shots["ended"].values()) + shots["flying"]
    deaths = {seat["seat"]: seat["deaths"] for seat in told["totals"]["seats"]}
    assert deaths == {"amber": 0, "reed": 1, "brack": 1}
    wounds = [line for line in told["story"] if line["event"] == "wounded"]
    assert [line["left"] for line in wounds] == [
        e.vital_left for e in chronicle.events if isinstance(e, ew.events.Wounded)
    ]


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (["run", "nowhere.toml"], "nowhere.toml: there is no such file"),
        (["run", "broken.toml"], "broken.toml: line 1, column 8: not valid TOML"),
        (["run", "typo.toml"], "typo.toml: settings.tickrate: unknown key (did you mean 'tick_rate'?)"),
        (["run", "range.toml"], "range.toml has 0 bouts; name the one to run; known: none"),
        (["run", "SALT", "crosing"], "there is no bout 'crosing' (did you mean 'crossing'?); known: crossing"),
        (["run", "SALT", "--out", "typo.toml"], "--out typo.toml: File exists; name a folder that can be written"),
        (["demo", "--out", "/proc/nowhere"], "--out /proc/nowhere: No such file or directory"),
        (["demo", "--sed", "3"], "No such option: --sed"),
        (["run", "SALT", "--seed", "-3"], "Invalid value for '--seed'"),
        (["dmeo"], "No such command 'dmeo'"),
    ],
)
def test_mistakes_are_one_message_and_exit_2(
    tmp_path: Path, saltglass_path: Path, arguments: list[str], message: str
) -> None:
    (tmp_path / "broken.toml").write_text("salt = ?")
    (tmp_path / "typo.toml").write_text("[settings]\ntickrate = 60\n")
    (tmp_path / "range.toml").write_text(range_text())
    before = sorted(tmp_path.iterdir())
    done = emberwound(*[str(saltglass_path) if each == "SALT" else each for each in arguments], folder=tmp_path)
    assert (done.returncode, done.stdout) == (2, "")
    assert message in done.stderr
    assert "Traceback" not in done.stderr
    assert sorted(tmp_path.iterdir()) == before, "nothing may be left behind"


def test_a_first_run_says_that_it_prepares_the_kernels(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path / "jit"))
    for said in (1, 0):
        done = emberwound("demo", folder=tmp_path)
        assert done.returncode == 0
        assert done.stderr.count("preparing the contact kernels") == said
