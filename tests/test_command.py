"""The command line, as a user runs it."""

from __future__ import annotations

import contextlib
import json
import os
import pty
import re
import subprocess
import sys
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import emberwound, range_text

if TYPE_CHECKING:
    from pathlib import Path


def test_demo_tells_the_story_and_leaves_chronicle_and_figure(tmp_path: Path) -> None:
    done = emberwound("demo", "--out", "here", folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    chronicle = ew.Chronicle.load(tmp_path / "here" / "passage.jsonl")
    assert ew.rerun(chronicle) == chronicle
    assert (tmp_path / "here" / "passage.png").read_bytes().startswith(b"\x89PNG")
    left = sorted(path.name for path in (tmp_path / "here").iterdir())
    assert left == ["passage.jsonl", "passage.png", "saltglass.toml"]
    told = " ".join(done.stdout.split())
    for sentence in (
        "amber takes pearl: 3 pearls",
        "amber reaches west_cairn",
        "reed dies to amber's sweep, respawns in 3.7 s (222 ticks)",
        "sorrel is lost to the tide: the brine, life 1",
        "amber respawns by west_cairn at (4, 0), life 2",
        "amber is lost to the tide: reed, life 2",
        "the bout restarts",
        "amber reaches mid_cairn for all its team",
        "amber takes ember: 1 life",
        "amber 2 13.72 19.70 west_cairn 0 100 the brine, credited to reed",
        "1 sorrel lamps 20 1",
        "2 amber lamps 16 2",
        "4 flint tide 0 1 out",
        "15 fired = 8 hit + 6 on a wall + 1 restarted + 0 still flying",
    ):
        assert sentence in told, sentence
    times = [float(line.split()[0]) for line in done.stdout.splitlines() if line[:8].strip().replace(".", "").isdigit()]
    assert len(times) > 100 and times == sorted(times), "a story is told in order of time"
    (board,) = [line for line in done.stdout.splitlines() if line.startswith("place")]
    assert board.split() == ["place", "seat", "team", "pearls", "falls"]


def test_a_variant_may_be_named_by_a_short_key(tmp_path: Path, saltglass_path: Path) -> None:
    def drawn(*changes: str) -> subprocess.CompletedProcess[str]:
        options = [word for change in changes for word in ("--set", change)]
        return emberwound(
            "draw", "knockback", saltglass_path, "backsweep", "wader", *options, "--json", folder=tmp_path
        )

    short, whole = drawn("apex=1.6,weight=2"), drawn("attacks.backsweep.push.apex=1.6,fighters.wader.weight=2")
    assert (short.returncode, short.stderr) == (0, "")
    assert short.stdout == whole.stdout != drawn().stdout
    for change, told in (
        ("speed=3", "--set speed: give the whole key: attacks.backsweep.push.speed or fighters.wader.speed"),
        ("apx=3", "--set there is no key 'apx' (did you mean 'apex'?)"),
    ):
        done = drawn(change)
        assert done.returncode == 2 and told in done.stderr, done.stderr


def test_the_demo_overwrites_no_book_that_was_edited(tmp_path: Path) -> None:
    book = tmp_path / "emberwound-out" / "saltglass.toml"
    for said, names in (("", ["saltglass"]), ("", ["saltglass"]), ("left as it is", ["saltglass", "saltglass-2"])):
        if said:
            book.write_text("# mine\n", encoding="utf-8")
        done = emberwound("demo", "ledge", folder=tmp_path)
        assert done.returncode == 0 and (said in done.stderr if said else done.stderr == "")
        assert sorted(path.stem for path in book.parent.glob("*.toml")) == names
    assert book.read_text(encoding="utf-8") == "# mine\n"
    assert ew.Rulebook.load(book.with_stem("saltglass-2")).book.bouts


@pytest.mark.parametrize(
    ("bout", "sentences"),
    [
        (
            "crossing",
            [
                "amber's flare 1 hits reed's body: 12 health lost",
                "amber's flare 3 hits reed's head (12 × 1.5): 18 health lost",
                "reed dies to amber's flare, respawns in 3.7 s (222 ticks)",
                "press flare refused: cooling down for 0.35 s (21 ticks) more",
                "reed respawns at (8, 0), life 2",
                "6 health lost, 12 overkill",
                "brack dies to amber's flare, with no life left",
                "10 fired = 7 hit + 1 on the floor + 1 out of the arena + 1 still flying",
            ],
        ),
        (
            "ledge",
            [
                "amber's flare 2 hit the wall ledge",
                "amber's skipper 4 bounces off the wall ledge",
                "hits flint's body",
                "flint dies to amber's flare",
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
            "vent",
            [
                "the hazard vent hits reed's body: 4 health lost",
                "reed reacts from the front: reel (reel_left) for 0.4 s (24 ticks)",
                "reed is knocked back at 2.5 m/s towards (0.5, 0.87)",
                "brack dies to the hazard tide, with no life left",
                "reed misses with claws",
                "amber's backsweep follows sweep",
                "amber's backsweep is interrupted by damage",
                "amber reacts from the back: stumble",
                "amber's sweep (hook) hits sedge's head (11 × 1.5): 16.5 health lost",
            ],
        ),
        (
            "yard",
            [
                "amber's flare 2 hits warden's plate (12 -> 2 by hurtbox, flat_reduction): 2 bronze lost",
                "amber reacts from the front: open for 0.6 s (36 ticks)",
                "warden's knell explodes at",
                "amber fires beam",
                "hits warden's head (3 -> 9 by hurtbox, damage_taken)",
                "amber guards against flint's shard",
                "warden is smouldering by amber",
                "amber's smouldering hurts warden (3 -> 2 by flat_reduction): 2 health lost",
            ],
        ),
    ],
)
def test_the_other_bouts_of_the_demo_tell_theirs(tmp_path: Path, bout: str, sentences: list[str]) -> None:
    done = emberwound("demo", bout, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    for sentence in sentences:
        assert sentence in " ".join(done.stdout.split()), sentence
    chronicle = ew.Chronicle.load(tmp_path / "emberwound-out" / f"{bout}.jsonl")
    assert ew.rerun(chronicle) == chronicle


def test_pictures_are_drawn_from_books_and_chronicles(tmp_path: Path, saltglass_path: Path) -> None:
    for arguments, file in (
        (["arena", saltglass_path, "yard"], "emberwound-out/arena-yard.png"),
        (["attack", saltglass_path, "claws", "--tick", 0, "--tick", 16], "emberwound-out/attack-claws.png"),
        (["shots", saltglass_path, "pans", "--out", "pans.svg"], "pans.svg"),
        (["arena", saltglass_path, "saltway"], "emberwound-out/arena-saltway.png"),
        (["lives", saltglass_path, "passage"], "emberwound-out/lives-passage.png"),
        (["bars", saltglass_path, "yard", "--between", 1, 6, "--tick", 90], "emberwound-out/bars-yard.png"),
        (["lives", "crossing.jsonl", "--out", "lives.svg"], "lives.svg"),
        (["story", saltglass_path, "passage", "--between", 20, 30, "--out", "story.svg"], "story.svg"),
        (["lives", "cut.jsonl", "--partial", "--out", "cut.svg"], "cut.svg"),
        (["shots", "crossing.jsonl", "--strip", "end", "--shot", 3], "emberwound-out/strip-crossing-3-end.png"),
    ):
        if "crossing.jsonl" in arguments:
            chronicle = ew.run(ew.Rulebook.load(saltglass_path), "crossing")
            whole = chronicle.save(tmp_path / "crossing.jsonl").read_bytes()
            (tmp_path / "cut.jsonl").write_bytes(whole[: len(whole) * 2 // 3])
        done = emberwound("draw", *arguments, folder=tmp_path)
        assert (done.returncode, done.stderr, done.stdout) == (0, "", f"written: {file}\n")
        assert (tmp_path / file).stat().st_size > 10_000


def test_run_gives_json_that_agrees_with_the_chronicle(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("run", saltglass_path, "crossing", "--json", "--seed", 99, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    told = json.loads(done.stdout)
    chronicle = ew.Chronicle.load(tmp_path / "emberwound-out" / "crossing.jsonl")
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
        (["run", "range.toml"], "range.toml has no bout yet; add a table [bouts.NAME] to it"),
        (
            ["run", "SALT"],
            "saltglass.toml has 7 bouts; name one; known: crossing, vent, ledge, sluice, pans, yard, passage",
        ),
        (
            ["run", "SALT", "crosing"],
            "there is no bout 'crosing' (did you mean 'crossing'?); known: crossing, vent, ledge, sluice, pans, yard, passage",
        ),
        (
            ["run", "SALT", "pans", "--out", "typo.toml"],
            "typo.toml: File exists; name a folder that can be written",
        ),
        (["demo", "--out", "/proc/nowhere"], "/proc/nowhere: No such file or directory"),
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
        (["wound", "SALT", "flare"], "name an ATTACK and a VICTIM, or ask for --table or --timing"),
        (["wound", "SALT", "swep", "--timing"], "there is no attack 'swep' (did you mean 'sweep'?)"),
        (
            ["wound", "SALT", "sweep", "wader", "--hitbox", "hok"],
            "there is no hitbox of sweep 'hok' (did you mean 'hook'?); known: hook, pole",
        ),
        (["wound", "SALT", "flare", "wader", "--hitbox", "hook"], "there is no hitbox of flare 'hook'; known: none"),
        (["draw", "attack", "SALT", "claws", "--fighter", "wadre"], "'wadre' (did you mean 'wader'?); known: wader"),
        (
            ["draw", "knockback", "SALT", "flare", "wader"],
            "attacks.flare.push: flare pushes nobody; give the attack a push",
        ),
        (["draw", "knockback", "SALT", "sweep", "wader", "--set", "apex"], "--set apex: give KEY=VALUE, such as"),
        (
            ["draw", "knockback", "SALT", "sweep", "wader", "--set", "attacks.sweep.push.sped=3"],
            "--set attacks.sweep.push.sped=3: attacks.sweep.push.sped: unknown key (did you mean 'speed'?)",
        ),
        (
            ["draw", "ragdoll", "SALT", "sweep", "tidewader"],
            "tidewader is no ragdoll when it dies; give fighters.tidewader a ragdoll table",
        ),
        (
            ["draw", "ragdoll", "SALT", "sweep", "wader", "--hurtbox", "hed"],
            "there is no hurtbox of wader 'hed' (did you mean 'head'?)",
        ),
        (["draw", "reaction", "SALT", "claws", "wadr"], "there is no fighter 'wadr' (did you mean 'wader'?)"),
        (["draw", "attack", "SALT", "claws", "--tick", "99"], "give at most 6 ticks from 0 to 45, where claws is over"),
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


def test_a_first_run_compiles_nothing_and_kernels_can_be_prepared(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path / "jit"))
    ours, theirs = pty.openpty()
    unhurried = "from emberwound.geometry import jit; jit.COMPILE_AFTER, jit.WORTH_SAYING = 1e9, 0.0; "
    program = f"{unhurried}from emberwound.cli.main import main; main()"  # no machine is slow or fast by these
    command = [sys.executable, "-c", program, "demo", "crossing"]
    demo = subprocess.Popen(command, cwd=tmp_path, stdout=subprocess.DEVNULL, stderr=theirs)
    os.close(theirs)
    told = b""
    with contextlib.suppress(OSError):  # it is read to its end while the program runs, as a terminal does
        while chunk := os.read(ours, 10_000):
            told += chunk
    assert demo.wait() == 0
    assert re.search(rb"interpreted for \d+ s; `emberwound prepare` compiles them", told)
    assert not list(tmp_path.glob("jit/*/*"))
    monkeypatch.setenv("NUMBA_DISABLE_JIT", "1")
    prepared = emberwound("prepare", folder=tmp_path, afresh=True)
    assert (prepared.returncode, prepared.stderr) == (0, "")
    assert prepared.stdout == "nothing is compiled: NUMBA_DISABLE_JIT is set\n"


def test_a_wound_and_the_table_of_wounds_are_worked_out_without_a_bout(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound(
        "wound", saltglass_path, "lance", "bellwarden", "--hurtbox", "plate", "--charge", 0.5, folder=tmp_path
    )
    assert (done.returncode, done.stderr) == (0, "")
    for row in (
        "charge 10 15 charged × 1.5",
        "hurtbox 15 3.75 plate × 0.25",
        "labels 3.75 5.625",
        "damage_taken 5.625 2.8125",
    ):
        assert row in " ".join(done.stdout.split()), row
    told = json.loads(
        emberwound("wound", saltglass_path, "flare", "wader", "--pool", "health=9", "--json", folder=tmp_path).stdout
    )
    assert (told["kills"], told["after"], told["ledger"]["overkill"]) == (True, {"health": 0}, 3)
    rows = json.loads(emberwound("wound", saltglass_path, "--table", "--json", folder=tmp_path).stdout)
    rules = ew.Rulebook.load(saltglass_path)
    deaths = [row for row in rows if row["is_death"]]
    assert {row["attack"] for row in deaths} == {"death of bellwarden"} and len(deaths) == 20
    rows = [row for row in rows if not row["is_death"]]
    for row in rows:
        how = {"hurtbox": row["hurtbox"], "blast": row["blast"] is not None}
        assert row["damage"] == rules.wound(row["attack"], row["victim"], **how).ledger.amount
    assert len(rows) == 11 * (4 + 2 + 2 + 3 + 4 + 2 + 3) - 1, "ten attacks and a blast, on all hurtboxes but one"
    beams = {(row["victim"], row["hurtbox"]) for row in rows if row["attack"] == "beam"}
    assert rules.book.attacks["beam"].layers == ("body",) and ("bellwarden", "plate") not in beams
    pole = rules.wound("sweep", "wader", hitbox="pole", hurtbox="head")
    assert (pole.ledger.amount, str(pole).splitlines()[0]) == (9, "sweep (pole) on wader's head: 9")


def test_pushes_and_reactions_are_drawn_with_the_figures_that_are_printed(tmp_path: Path, saltglass_path: Path) -> None:
    rules = ew.Rulebook.load(saltglass_path)
    change = "attacks.backsweep.push.apex=1.6,fighters.wader.slide_deceleration=20"
    arguments = ["draw", "knockback", saltglass_path, "backsweep", "wader", "--set", change]
    done = emberwound(*arguments, folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    changed = rules.edit({"attacks.backsweep.push.apex": 1.6, "fighters.wader.slide_deceleration": 20})
    for each in (rules, changed):
        path = each.knockback_path("backsweep", "wader")
        assert f"{path.apex:.4g} m {path.apex_seconds:.3g} s {path.landing:.4g} m" in " ".join(done.stdout.split())
    assert (tmp_path / "emberwound-out" / "knockback-backsweep-wader.png").stat().st_size > 10_000
    told = json.loads(emberwound(*arguments, "--json", folder=tmp_path).stdout)
    assert [each["variant"] for each in told["variants"]] == ["as in the book", "apex 1.6, slide_deceleration 20"]
    assert told["variants"][1]["push"]["rest"] == changed.knockback_path("backsweep", "wader").rest
    done = emberwound("draw", "reaction", saltglass_path, "claws", "lamplighter", folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    done = emberwound("draw", "ragdoll", saltglass_path, "backsweep", "lamplighter", folder=tmp_path)
    assert (done.returncode, done.stdout.strip()) == (0, "written: emberwound-out/ragdoll-backsweep-lamplighter.png")
    rows = json.loads(
        emberwound("wound", saltglass_path, "--timing", "--against", "lamplighter", "--json", folder=tmp_path).stdout
    )
    claws = next(row for row in rows["against"] if row["attack"] == "claws")
    assert (claws["on_hit"]["reaction"], claws["on_guard"]["reaction"]) == ("flinch", "jolt")
    assert [(claws[case]["hit_ticks"], claws[case]["advantage"]) for case in ("after_hit", "after_guard")] == [
        ([16, 25], -22), ([16, 25], -22)
    ]  # fmt: skip


def test_the_timing_of_attacks_agrees_with_what_happens(tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("wound", saltglass_path, "--timing", folder=tmp_path)
    assert (done.returncode, done.stderr) == (0, "")
    for row in ("release 1: 12", "hitbox hook: 15-22", "invulnerable: 3-17", "cancel roll: 0-11", "39 · 0.65 s"):
        assert row in " ".join(done.stdout.split()), row
    rows = json.loads(emberwound("wound", saltglass_path, "--timing", "--json", folder=tmp_path).stdout)
    rules = ew.Rulebook.load(saltglass_path)
    for row in rows:
        fighter = next(name for name, each in rules.book.fighters.items() if row["attack"] in each.attacks)
        bout = ew.Bout(rules, arena="causeway")
        seat = bout.enter(fighter, at="west")
        seat.order(press=row["attack"])
        found = bout.step()
        while row["attack"] in seat.states:
            found += bout.step()
        assert bout.tick - 1 == row["whole_ticks"], row["attack"]
        (began,) = [event for event in found if isinstance(event, ew.events.AttackBegan)]
        carriers = [window["first_tick"] for window in row["windows"] if window["what"] in ("release", "hitbox")]
        assert began.release_tick == min(carriers, default=began.release_tick)
        released = {event.tick for event in found if isinstance(event, ew.events.Released | ew.events.Exploded)}
        assert released == {window["first_tick"] for window in row["windows"] if window["what"] == "release"}


@pytest.mark.parametrize(
    "arguments", [("--table",), ("--timing",), ("--timing", "--against", "wader"), ("sweep", "wader")], ids=" ".join
)
def test_no_figure_is_cut_off_at_80_columns(arguments: tuple[str, ...], tmp_path: Path, saltglass_path: Path) -> None:
    done = emberwound("wound", saltglass_path, *arguments, folder=tmp_path, columns=80)
    assert done.returncode == 0
    assert "…" not in done.stdout
    assert all(len(line) <= 80 for line in done.stdout.splitlines())


def test_variants_of_a_push_are_named_whole_at_80_columns(tmp_path: Path, saltglass_path: Path) -> None:
    variant = "apex=0.4,slide_deceleration=20"
    push = ("draw", "knockback", saltglass_path, "backsweep", "wader", "--set", variant)
    narrow = emberwound(*push, folder=tmp_path, columns=80).stdout
    assert "2: apex 0.4, slide_deceleration 20" in [line.strip() for line in narrow.splitlines()]
    assert "apex 0.4, slide_deceleration 20 " in emberwound(*push, folder=tmp_path).stdout
