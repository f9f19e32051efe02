"""Every option of the reference of commands, run once by the program itself."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path

import pytest

from emberwound.cli import main as program

PAGE = Path(__file__).parent.parent / "docs" / "commands.md"
SIDE, SHOTS = ("--between", 0, 2), ("--out", "picture.svg")
CALLS: dict[str, list[tuple[object, ...]]] = {
    "demo": [("crossing", "--out", "there", "--json")],
    "run": [
        ("BOOK", "crossing", "--out", "there", "--seed", 4, "--set", "attacks.flare.damage=13", "--why"),
        ("BOOK", "crossing", "--wav", "x.wav"),
        ("BOOK", "crossing", "--json"),
        ("BOOK", "crossing", "--watch", "--speed", 1000),
    ],
    "replay": [("RECORD", "--out", "page.html", "--partial", "--why")],
    "tables": [("RECORD", "--out", "there", "--partial")],
    "check": [("BOOK", "--strict", "--json")],
    "inquest": [
        ("BOOK", "crossing", "--shot", 1, "--json"),
        ("BOOK", "crossing", "--swing", "amber", 360),
        ("BOOK", "crossing", "--order", "amber", 30),
        ("BOOK", "crossing", "--from", "amber", "--to", "reed", "--between", 0, 5),
        ("BOOK", "crossing", "--death", "reed"),
        ("BOOK", "crossing", "--alive", "amber"),
        ("BOOK", "crossing", "--missing", "respawn", "reed"),
        ("BOOK", "crossing", "--push", "amber", "reed"),
        ("RECORD", "--shot", 1, "--against", "BOOK", "--partial"),
    ],
    "wound": [
        ("BOOK", "lance", "wader", "--hurtbox", "head", "--charge", 0.5, "--combo-count", 1, "--pool", "health=9"),
        ("BOOK", "slam", "lamplighter", "--distance", 1, "--blast", "--guarded", "--json"),
        ("BOOK", "sweep", "wader", "--hitbox", "pole", "--set", "attacks.sweep.damage=13"),
        ("BOOK", "--table"),
        ("BOOK", "sweep", "--timing", "--against", "wader"),
    ],
    "new": [("marsh",)],
    "example": [("--json",), ("rollback", "--out", "copied")],
    "schema": [("--out", "schema.json")],
    "prepare": [],
    "draw arena": [("BOOK", "causeway", "--tick", 60, *SHOTS)],
    "draw story": [("RECORD", *SIDE, "--tick", 60, "--partial", *SHOTS)],
    "draw shots": [
        ("RECORD", "--strip", "release", "--shot", 1, "--step", 3, "--partial", *SHOTS),
        ("BOOK", "crossing", *SIDE, "--set", "attacks.flare.shot.speed=19"),
    ],
    "draw lives": [("RECORD", *SIDE, "--partial", *SHOTS)],
    "draw bars": [("RECORD", "--seat", "reed", "--between", 0, 9, "--tick", 60, "--partial", *SHOTS)],
    "draw attack": [
        ("BOOK", "sweep", "--fighter", "lamplighter", "--arena", "causeway", "--tick", 14, *SHOTS),
        ("BOOK", "sweep", "--against", "wader", *SHOTS),
    ],
    "draw knockback": [
        ("BOOK", "sweep", "lamplighter", "--arena", "causeway", "--hitbox", "pole", "--guarded", "--json", *SHOTS),
        ("BOOK", "slam", "wader", "--blast", "--set", "blasts.knell.push.speed=7"),
    ],
    "draw reaction": [("BOOK", "sweep", "wader", "--set", "attacks.sweep.damage=13", *SHOTS, "--json")],
    "draw ragdoll": [("BOOK", "sweep", "wader", "--hurtbox", "head", "--arena", "causeway", *SHOTS)],
    "draw inquest": [
        ("RECORD", "--shot", 1, "--against", "BOOK", "--partial", *SHOTS),
        ("BOOK", "crossing", "--swing", "amber", 360),
        ("BOOK", "crossing", "--order", "amber", 30),
    ],
}


def documented() -> dict[str, list[str]]:
    """The options of each command, as the page lists them."""
    parts = re.split(r"^## `emberwound (.+)`$", PAGE.read_text(encoding="utf-8"), flags=re.MULTILINE)[1:]
    return {
        name: re.findall(r"^\| `(--[\w-]+)", text, flags=re.MULTILINE)
        for name, text in zip(parts[::2], parts[1::2], strict=True)
    }


def test_the_page_lists_every_command_and_each_of_its_options_is_run() -> None:
    page = documented()
    assert page.keys() == CALLS.keys()
    for name, options in page.items():
        given = {each for call in CALLS[name] for each in call}
        assert [each for each in options if each not in given] == [], name


@pytest.fixture(scope="module")
def record(tmp_path_factory: pytest.TempPathFactory, saltglass_path: Path) -> Path:
    folder = tmp_path_factory.mktemp("record")
    with pytest.MonkeyPatch.context() as patch:
        patch.chdir(folder)
        patch.setattr(sys, "argv", ["emberwound", "run", str(saltglass_path), "crossing"])
        with pytest.raises(SystemExit):
            program.main()
    return folder / "emberwound-out" / "crossing.jsonl"


@pytest.mark.parametrize(("name", "call"), [(name, call) for name, calls in CALLS.items() for call in calls])
def test_every_option_of_the_page_is_taken(
    name: str,
    call: tuple[object, ...],
    record: Path,
    saltglass_path: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
) -> None:
    monkeypatch.chdir(tmp_path)
    files = {"BOOK": saltglass_path, "RECORD": record}
    words = [str(files.get(str(each), each)) for each in call]
    monkeypatch.setattr(sys, "argv", ["emberwound", *name.split(), *words])
    with pytest.raises(SystemExit) as ended:
        program.main()
    told = capsys.readouterr()
    assert ended.value.code in (0, None), told.err
    assert told.out
    if "--json" in call:
        json.loads(told.out.partition("written:")[0])


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (["wound", "--tabel"], "No such option: --tabel (Possible options: --table)"),
        (["inquest", "x.toml", "--sho", "3"], "No such option: --sho (Possible options: --shot)"),
        (["run", "x.toml", "--change", "a=1"], "No such option: --change (Possible options: --"),
        (["dmeo"], "demo"),
    ],
)
def test_an_unknown_option_gets_the_nearest_name(
    words: list[str], told: str, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr(sys, "argv", ["emberwound", *words])
    with pytest.raises(SystemExit) as ended:
        program.main()
    assert ended.value.code == 2 and told in capsys.readouterr().err.replace("Did you mean ", "(Possible options: ")
