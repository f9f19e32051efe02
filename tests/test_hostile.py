"""Hostile input at each door: a book, a chronicle, a call, a command. It is refused in our own words, or it is done."""

from __future__ import annotations

import os
import platform
import random
import re
import subprocess
import sys
from collections.abc import Hashable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from commands import PROGRAM
from conftest import emberwound, range_rules, range_text, steps
from emberwound.chronicle.files import write_whole

HOWS = ("hurtbox", "hitbox", "distance", "charge", "combo_count", "pools", "blast", "guarded")

FIGURES = [
    *(
        "nan",
        "inf",
        "-inf",
        "1e308",
        "5e-324",
        "1e-300",
        "-0.0",
        "-1",
        "1e18",
        "9" * 400,
        "9" * 4301,
        "0x" + "f" * 5000,
    ),
    *('""', '"x"', '"1/0"', '"12f"', '"1e999"', '"-3f"', '"{"', '"{0}"', '"{value!r}"', '"{value:{max}}"', '"$$"'),
    *(
        "true",
        "[]",
        "{}",
        "[1]",
        "[nan, 1]",
        "[1, 2, 3, 4]",
        '["a", "a"]',
        "[" * 332 + "]" * 332,
        "1979-05-27T07:32:00Z",
    ),
    *("100000", "1e-18", "1e-9", "1e6", '"\\ud800"', "{ a = { b = { c = 1 } } }"),
]


def mutated(text: str, rng: random.Random) -> str:
    """A book with a few of its figures replaced, lines lost, doubled and torn."""
    lines = text.splitlines()
    for _ in range(rng.choice([1, 1, 2, 5])):
        at = rng.randrange(len(lines))
        line = lines[at]
        figures = list(re.finditer(r"=\s*([^,={}\[\]]+|\[[^\]]*\])", line))
        sort = rng.random()
        if sort < 0.7 and figures:
            found = rng.choice(figures)
            lines[at] = line[: found.start(1)] + rng.choice(FIGURES) + line[found.end(1) :]
        elif sort < 0.8:
            lines[at] = ""
        elif sort < 0.9:
            lines.insert(at, rng.choice(lines))
        else:
            lines[at] = line[: rng.randrange(len(line) + 1)] + chr(rng.choice([0, 7, 34, 91, 0x2028, 0x1F600])) + line
    return "\n".join(lines)


@pytest.mark.parametrize("seed", range(4))
def test_a_broken_book_is_refused_in_our_own_words_or_its_bouts_run(seed: int) -> None:
    rng = random.Random(seed)
    text = range_text() + (
        '[bouts.drill]\narena = "range"\nseconds = 0.2\nseats.a = { fighter = "thrower", at = "line" }\n'
        'seats.b = { fighter = "post", at = "butts", lives = 2 }\n'
        'orders = [{ time = 0, seat = "a", press = "dart", aim = [1, 0], every = 0.1 }]\n'
    )
    ran = 0
    for _ in range(150):
        try:
            rules = ew.Rulebook.parse(mutated(text, rng), "range.toml")
            for bout in rules.book.bouts:
                ew.run(rules, bout)
                ran += 1
        except ew.EmberwoundError as error:
            assert 0 < len(str(error)) < 20_000
    assert ran > 5


def test_limits_are_told(monkeypatch: pytest.MonkeyPatch) -> None:
    follows = ""
    for n in range(26):
        follows += f"[attacks.a{n}]\nactive = 0.1\n" + "".join(f"follow_ups.a{m} = {{}}\n" for m in range(n + 1, 26))
    many = ", ".join(f'"x{n}"' for n in range(800))
    path = ", ".join(f"[{n % 100}, 0]" for n in range(1001))
    posed = "poses = { hand = [{ at = 0, offset = [0, 0] }] }"
    owner = 'attacks = ["dart", "lob"]'
    for text, message in (
        (range_text().replace(owner, f"attacks = [{many}]"), "801 problems:.*and 761 more"),
        (range_text() + f"[arenas.range.paths]\np = {{ points = [{path}] }}", "1001 points; allowed: up to 1000"),
        (range_text(windup=61).replace("cooldown =", f"{posed}\ncooldown ="), "60 s"),
        (range_text().replace("max = 90", "max = 90" + "0" * 4300, 1), "a number that cannot be read"),
        (range_text().replace("recovery = 0.5", "recovery = 0.5\nx = " + "[" * 30 + "]" * 30), "allowed: 20 levels"),
    ):
        with pytest.raises(ew.RulebookError, match=f"(?s){message}") as caught:
            ew.Rulebook.parse(text)
        assert len(str(caught.value)) < 20_000
    with pytest.raises(ew.RulebookError, match=r"follow_ups|no attack|no owner|fighter"):
        ew.Rulebook.parse(range_text() + follows + "[attacks.a25.follow_ups.nobody]\n")
    monkeypatch.setattr("emberwound.bout.state.block.MOST_BLOCK_BYTES", 1 << 20)
    with pytest.raises(ew.BoutError, match=r"takes 0.0[\d]+ GiB, more than 0; lower settings.max_seats \(2000\)"):
        ew.Bout(ew.Rulebook.parse(range_text().replace("max_seats = 4", "max_seats = 2000")), arena="range")
    with pytest.raises(ew.RulebookError, match=r"steps.'storm'.: .*; give a function and the text of its version"):
        ew.Rulebook.parse(range_text(), steps={"storm": (lambda amount, _: amount, 1.1)})  # type: ignore[dict-item]


def test_hostile_arguments_of_calls_are_refused_and_leave_the_bout_as_it_was() -> None:
    bout = ew.Bout(range_rules(), arena="range")
    amber = bout.enter("thrower", at="line", seat="amber")
    post = bout.enter("post", at="butts", seat="post")
    steps(bout, 3)
    before = bout.digest()
    odd: list[Any] = [
        *(None, True, 5, -1, 10**400, float("nan"), float("inf"), "", "x", "\ud800", "a\nb", b"x", (), (1,), [1, 2, 3]),
        *((10**400, 1), (float("nan"), 0), {"a": 1}, object(), np.array([1, 2, 3]), np.float64("nan")),
        *(1e308, 1j, "nope" * 99),
    ]  # fmt: skip
    calls: list[Any] = [
        *(lambda v, key=key: amber.order(**{key: v}) for key in ("move", "aim", "facing", "press", "hold", "patrol")),
        *(lambda v, key=key: bout.enter("post", at="line", **{key: v}) for key in ("seat", "facing", "team", "lives")),
        lambda v: bout.enter(v, at="line"),
        lambda v: bout.enter("post", at=v),
        lambda v: amber.place(v),
        lambda v: amber.place((1, 0), v),
        lambda v: amber.place((1, 0), teleport=v),
        lambda v: amber.place((1, 0), grounded=v),
        lambda v: amber.place((1, 0), posture=v),
        lambda v: post.resize("shield", v),
        lambda v: post.resize(v, 5),
        lambda v: amber.become(v),
        lambda v: bout.seat(v),
        lambda v: bout.give(v),
        lambda v: bout.on(v),
        lambda v: bout.on(ew.events.Died, life=v, seat="amber"),
        lambda v: bout.watch(v),
        lambda v: bout.restore(v),
        lambda v: bout.off(v),
        lambda v: bout.view().body(v),
        lambda v: ew.Bout(range_rules(), arena=v),
        lambda v: ew.Bout(range_rules(), arena="range", seed=v),
        lambda v: ew.Bout(range_rules(), arena="range", tick_rate=v),
        *(
            lambda v, key=key: range_rules().wound("dart", "post", **{key: v})
            for key in ("hurtbox", "distance", "charge")
        ),
        lambda v: range_rules().wound(v, "post"),
        lambda v: range_rules().wound("dart", v),
        lambda v: range_rules().reaction("dart", v),
        lambda v: range_rules().knockback_path("dart", v),
        lambda v: range_rules().edit({"attacks.dart.damage": v}),
        lambda v: range_rules().edit({v if isinstance(v, Hashable) else "": 1}),  # type: ignore[dict-item]
    ]
    saved = bout.snapshot()
    for call in calls:
        for value in odd:
            try:
                call(value)
            except ew.EmberwoundError as error:
                assert 0 < len(str(error)) < 5_000
                assert bout.digest() == before, "what is refused leaves no trace"
            bout.restore(saved)
    of_numpy: list[Any] = [np.float64(0.1), np.float32(0.1), np.int64(0)]
    for seconds in of_numpy:
        bout.advance(seconds)
    for seconds in odd[3:]:
        with pytest.raises(ew.BoutError):
            bout.advance(seconds)


def test_an_edited_chronicle_is_found_out(saltglass: ew.Rulebook) -> None:
    data = ew.run(saltglass, "crossing").to_bytes()
    for old, new, message in (
        (b'"amount":12.0', b'"amount":13.0', "gives other events"),
        (b'"digest":"', b'"digest":"0', "gives another digest"),
        (b'"place":1', b'"place":2', "another board"),
        (b'"rules_hash":"', b'"rules_hash":"0', "rules_hash differs"),
        (b'"damage":12.0', b'"damage":14.0', "rules_hash differs"),
        (b'"arena":"causeway"', b'"arena":"pans"', "names arena 'pans'"),
        (b'"ticks":630', b'"ticks":1000000000000', "its end is at tick 1000000000000; allowed: 0 to 10000000"),
        (b'"tick_rate":60', b'"tick_rate":0', "line 1: tick_rate: 0; allowed: 1 to 1000"),
        (b'"seed":7', b'"seed":-7', "line 1: seed: -7"),
        (b'"seq":9,', b'"seq":99,', "not numbered one after the other"),
        (b"saltglass", b"salt\xff\xfe", "cannot be read"),
    ):  # fmt: skip
        assert old in data, old
        at = data.rfind(old) if old in (b'"place":1', b'"ticks":630') else data.find(old)
        with pytest.raises(ew.ChronicleError, match=message):
            ew.Chronicle.from_bytes(data[:at] + new + data[at + len(old) :]).completed()


@pytest.mark.parametrize("seed", range(2))
def test_a_torn_chronicle_is_refused_in_our_own_words_or_read(seed: int) -> None:
    rng = random.Random(seed)
    data = ew.run(range_rules_with_a_bout(), "drill").to_bytes()
    for _ in range(150):
        torn = bytearray(data)
        for _ in range(rng.choice([1, 2, 9])):
            at = rng.randrange(len(torn))
            torn[at : at + rng.choice([0, 1, 1, 30])] = rng.choice(
                [b"", b"\xff", b"9", b"-", b"null", b"{}", b'"', b"[[", b"1e999"]
            )
        try:
            chronicle = ew.Chronicle.from_bytes(bytes(torn), partial=rng.random() < 0.3)
            chronicle.completed()
        except ew.EmberwoundError as error:
            assert str(error)


def range_rules_with_a_bout() -> ew.Rulebook:
    """A short scripted bout."""
    return ew.Rulebook.parse(
        range_text() + '[bouts.drill]\narena = "range"\nseconds = 0.3\nseats.a = { fighter = "thrower", at = "line" }\n'
        'seats.b = { fighter = "post", at = "butts" }\n'
        'orders = [{ time = 0, seat = "a", press = "dart", aim = [1, 0] }]\n'
    )


def test_a_terminal_that_cannot_show_or_take_it_is_no_traceback(tmp_path: Path, saltglass_path: Path) -> None:
    for encoding in ("ascii", "cp1252"):
        done = subprocess.run(
            [PROGRAM, "wound", saltglass_path, "flare", "wader"],
            env={**os.environ, "PYTHONIOENCODING": encoding, "COLUMNS": "80"},
            cwd=tmp_path,
            capture_output=True,
            check=False,
        )
        assert (done.returncode, done.stderr) == (0, b"")
    if Path("/dev/full").exists():
        with Path("/dev/full").open("w") as full:
            done = subprocess.run(
                [PROGRAM, "wound", saltglass_path, "--table"], stdout=full, stderr=subprocess.PIPE, check=False
            )
        assert (done.returncode, b"Traceback" in done.stderr) == (2, False)
        assert b"standard output cannot be written: No space left on device" in done.stderr
    closed = subprocess.run(
        f"'{PROGRAM}' wound '{saltglass_path}' --table | head -1", shell=True, capture_output=True, check=False
    )
    assert b"Traceback" not in closed.stderr and closed.stdout.startswith(b"attack")
    for out in ("project [v2]", "out[/x]"):
        told = emberwound("draw", "attack", saltglass_path, "flare", "--out", f"{out}/a.png", folder=tmp_path)
        assert (told.returncode, told.stdout) == (0, f"written: {out}/a.png\n")
        assert (tmp_path / out / "a.png").is_file()
        told = emberwound("run", saltglass_path, "pans", "--out", out, folder=tmp_path)
        assert f"{out}/pans.jsonl" in told.stdout
    wrong = emberwound("replay", tmp_path / out / "pans.jsonl", "crossing", folder=tmp_path)
    assert wrong.returncode == 2 and "is the record of pans, not of 'crossing'; leave the bout out" in wrong.stderr
    odd = os.fsdecode(os.fsencode(tmp_path) + b"/b\xffk.toml")
    Path(odd).write_text("[kinds.x]\n", encoding="utf-8")
    assert ew.Rulebook.load(odd).source == "b?k.toml"
    with pytest.raises(ew.RulebookError, match="null byte"):
        ew.Rulebook.load("a\0b")


def test_files_are_written_whole_with_the_rights_and_links_of_the_place(tmp_path: Path) -> None:
    before = os.umask(0o027)
    try:
        plain = write_whole(tmp_path / "new.txt", b"1")
        assert plain.stat().st_mode & 0o777 == 0o640
        plain.chmod(0o604)
        write_whole(plain, b"2")
        assert (plain.read_bytes(), plain.stat().st_mode & 0o777) == (b"2", 0o604)
    finally:
        os.umask(before)
    (tmp_path / "there").mkdir()
    (tmp_path / "there" / "real.txt").write_bytes(b"old")
    link = tmp_path / "link.txt"
    link.symlink_to(tmp_path / "there" / "real.txt")
    write_whole(link, b"new")
    assert link.is_symlink() and (tmp_path / "there" / "real.txt").read_bytes() == b"new"
    left = tmp_path / ".new.txt.12345.part"
    left.write_bytes(b"half")
    os.utime(left, (0, 0))
    write_whole(plain, b"3")
    assert not left.exists()
    assert sorted(each.name for each in tmp_path.iterdir()) == ["link.txt", "new.txt", "there"]


def test_what_is_left_of_a_killed_writer_is_taken_away_at_once_and_that_of_a_running_one_is_not(tmp_path: Path) -> None:
    killed = subprocess.Popen([sys.executable, "-c", "pass"])
    killed.wait()
    here = platform.node().replace("-", "").replace(".", "") or "here"
    left, running = (tmp_path / f".new.txt.{here}.{pid}.part" for pid in (killed.pid, os.getppid()))
    elsewhere = tmp_path / f".new.txt.anothermachine.{killed.pid}.part"
    for each in (left, running, elsewhere):
        each.write_bytes(b"half")
    write_whole(tmp_path / "new.txt", b"whole")
    assert not left.exists() and running.exists() and elsewhere.exists()


def test_endless_files_deep_lines_and_odd_numbers_are_refused_in_our_own_words(saltglass: ew.Rulebook) -> None:
    device = Path("/dev/zero")
    if device.exists():
        with pytest.raises(ew.RulebookError, match="/dev/zero: a device; give a TOML file that can be read"):
            ew.Rulebook.load(device)
        with pytest.raises(ew.ChronicleError, match="a device; give a chronicle file"):
            ew.Chronicle.load(device)
    lines = ew.run(saltglass, "crossing").to_bytes().splitlines(keepends=True)
    for at in (0, 3):
        deep = b"".join([*lines[:at], b"[" * 100_000 + b"\n", *lines[at:]])
        with pytest.raises(ew.ChronicleError, match="not a chronicle" if at == 0 else "line 4 cannot be read"):
            ew.Chronicle.from_bytes(deep)
    schedule = {"first": "0.1234567890123456789", "on": 1, "off": "1/3"}
    with pytest.raises(ew.RulebookError, match=r"schedule.first: .*whole numbers of one part of a second"):
        saltglass.edit({"arenas.causeway.hazards.vent.schedule": schedule})
    bout = ew.Bout(range_rules(), arena="range")
    odd: Any = np.array([1, 2])
    with pytest.raises(ew.BoutError, match="pools: give a table of pools and their maxima"):
        bout.enter("post", at="line", pools=odd)
    for points in (10**400, float("inf"), "x"):
        text = range_text().replace("[settings]", '[settings]\nsteps = ["storm"]')
        steps: dict[str, Any] = {"storm": (lambda *_, points=points: points, "1")}
        rules = ew.Rulebook.parse(text, steps=steps)
        with pytest.raises(ew.EmberwoundError, match="it must give a finite number from 0 to 1e300"):
            rules.wound("dart", "post")


def test_a_change_on_the_command_line_is_one_line(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("run", saltglass_path, "crossing", "--set", "attacks.flare.damage=1\nx.y=2", folder=tmp_path)
    assert (done.returncode, done.stdout) == (2, "") and "a change is one line" in done.stderr


def test_a_long_row_of_fighters_like_each_other_is_one_problem_in_any_order() -> None:
    rows = [f'[fighters.f{n}]\nlike = "f{n - 1}"\n' for n in range(1, 400)]
    first = range_text().replace("fighters.post", "fighters.f0")
    for text in (first + "".join(rows), first + "".join(reversed(rows))):
        with pytest.raises(ew.RulebookError, match="at most 20 like each other") as raised:
            ew.Rulebook.parse(text)
        assert [each.key for each in raised.value.problems] == ["fighters.f21.like"]
    assert ew.Rulebook.parse(first + "".join(rows[:20])).book.fighters["f20"].body.radius == 0.1
