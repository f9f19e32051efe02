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
    left = sorted(path.name for path in (tmp_path / "here").iterdir())
    assert left == ["crossing.jsonl", "crossing.png", "saltglass.toml"]
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


@pytest.mark.parametrize(
    ("bout", "sentences"),
    [
        (
            "ledge",
            [
                "amber's flare 2 struck the wall ledge",
                "amber's skipper 4 bounces off the wall ledge",
                "hits flint's body",
                "flint dies of amber's flare",
            ],
        ),
        (
            "pans",
            [
                "amber charges lance",
                "amber's lance 11 hits reed's body (10 -> 20 by charge)",
                "amber's lance 11 hits sedge's body (10 -> 20 by charge)",
                "amber: press beam refused: not while guarding",
            ],
        ),
        (
            "yard",
            [
                "amber's flare 2 hits warden's plate (12 -> 2 by hurtbox, soak): 2 bronze lost",
                "warden's bronze is empty",
                "amber sends out beam",
                "hits warden's head (3 -> 9 by hurtbox, takes)",
                "amber guards against flint's shard",
                "warden is smouldering by amber",
                "amber's smouldering works on warden (3 -> 2 by soak): 2 health lost",
            ],
        ),
    ],
)
def test_the_other_bouts_of_the_demo_tell_theirs(tmp_path: Path, bout: str, sentences: list[str]) -> None:
    done = emberwound("demo", bout, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    for sentence in sentences:
        assert sentence in " ".join(done.stdout.split()), sentence
    chronicle = ew.load_chronicle(tmp_path / "emberwound-out" / f"{bout}.jsonl")
    assert ew.rerun(chronicle) == chronicle


def test_pictures_are_drawn_from_books_and_chronicles(tmp_path: Path, saltglass_path: Path) -> None:
    for arguments, file in (
        (["arena", saltglass_path, "yard"], "emberwound-out/arena-yard.png"),
        (["shots", saltglass_path, "pans", "--out", "pans.svg"], "pans.svg"),
        (["shots", "crossing.jsonl", "--strip", "end", "--shot", 3], "emberwound-out/strip-crossing-3-end.png"),
    ):
        if "crossing.jsonl" in arguments:
            chronicle = ew.run(ew.Rulebook.load(saltglass_path), "crossing")
            ew.save_chronicle(chronicle, tmp_path / "crossing.jsonl")
        done = emberwound("draw", *arguments, folder=tmp_path)
        assert (done.returncode, done.stderr, done.stdout) == (0, "", f"written: {file}\n")
        assert (tmp_path / file).stat().st_size > 10_000


def test_run_gives_json_that_agrees_with_the_chronicle(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("run", saltglass_path, "crossing", "--json", "--seed", 99, folder=tmp_path)
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
        (["run", "range.toml"], "range.toml has 0 bouts; name one; known: none"),
        (["run", "SALT"], "saltglass.toml has 4 bouts; name one; known: crossing, ledge, pans, yard"),
        (
            ["run", "SALT", "crosing"],
            "there is no bout 'crosing' (did you mean 'crossing'?); known: crossing, ledge, pans, yard",
        ),
        (
            ["run", "SALT", "pans", "--out", "typo.toml"],
            "--out typo.toml: File exists; name a folder that can be written",
        ),
        (["demo", "--out", "/proc/nowhere"], "--out /proc/nowhere: No such file or directory"),
        (["demo", "--sed", "3"], "No such option: --sed"),
        (["run", "SALT", "--seed", "-3"], "Invalid value for '--seed'"),
        (["draw", "arena", "SALT", "yrad"], "there is no arena 'yrad' (did you mean 'yard'?)"),
        (
            ["draw", "shots", "SALT", "pans", "--strip", "end", "--shot", "999"],
            "there is no shot 999 in this bout; known: 1, 2",
        ),
        (["draw", "shots", "SALT", "pans", "--out", "pans.jpg"], "a figure is written as .png or .svg; got '.jpg'"),
        (["draw", "shots", "nowhere.jsonl"], "nowhere.jsonl: No such file or directory; give a chronicle file"),
        (["draw", "shots", "SALT", "pans", "--strip", "start"], "Invalid value for '--strip'"),
        (["wound", "SALT", "flare"], "name an ATTACK and a VICTIM, or ask for --table"),
        (
            ["wound", "SALT", "flare", "wadr"],
            "there is no fighter 'wadr' (did you mean 'wader'?); known: lamplighter, wader",
        ),
        (["wound", "SALT", "flare", "wader", "--pool", "health"], "--pool health: give name=value, such as health=30"),
        (["wound", "SALT", "flare", "wader", "--distance", "nan"], "distance: nan; allowed: a finite number from 0 up"),
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


def test_a_wound_and_the_table_of_wounds_are_worked_out_without_a_bout(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound(
        "wound", saltglass_path, "lance", "bellwarden", "--hurtbox", "plate", "--charge", 0.5, folder=tmp_path
    )
    assert (done.returncode, done.stderr) == (0, "")
    for row in (
        "charge 10 15 charged × 1.5",
        "hurtbox 15 3.75 plate × 0.25",
        "labels 3.75 5.625",
        "takes 5.625 2.8125",
    ):
        assert row in " ".join(done.stdout.split()), row
    told = json.loads(
        emberwound("wound", saltglass_path, "flare", "wader", "--pool", "health=9", "--json", folder=tmp_path).stdout
    )
    assert (told["kills"], told["after"], told["ledger"]["overkill"]) == (True, {"health": 0}, 3)
    rows = json.loads(emberwound("wound", saltglass_path, "--table", "--json", folder=tmp_path).stdout)
    rules = ew.Rulebook.load(saltglass_path)
    for row in rows:
        assert row["damage"] == rules.wound(row["attack"], row["victim"], hurtbox=row["hurtbox"]).ledger.amount
    assert len(rows) == 7 * (3 + 2 + 2 + 3 + 3)
