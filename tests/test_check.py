"""A check of a book finds what does nothing, or something seldom meant, and nothing in a sound one."""

from __future__ import annotations

import json
import random
import re
from pathlib import Path
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import emberwound
from emberwound.rulebook.load import lines_of
from emberwound.study.check.survey import FINDINGS
from random_books import book
from sound_books import sound_book

if TYPE_CHECKING:
    from collections.abc import Callable

ROOT = Path(__file__).parent.parent

SOUND = (Path(__file__).parent / "pier.toml").read_text(encoding="utf-8")


def changed(*pairs: tuple[str, str]) -> str:
    """The sound book with some of its text replaced; each must be there."""
    text = SOUND
    for old, new in pairs:
        assert old in text, old
        text = text.replace(old, new, 1)
    return text


def added(table: str, *lines: str) -> tuple[str, str]:
    """That lines are added to one of its tables."""
    return f"[{table}]\n", f"[{table}]\n" + "".join(f"{line}\n" for line in lines)


TOP = """
[kinds.salt]
[fighters.imp]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 20, vital = true }
hurtboxes.trunk = { from = [0, 0], radius = 0.3 }
attacks = ["bat"]
[attacks.bat]
kind = "salt"
damage = 2
active = 0.2
cooldown = 0.5
push = { speed = 2, lift_deg = 30 }
strike.hitboxes.arm = { from = [0, 0], radius = 0.1, swing = { from_deg = -40, to_deg = 40, reach = 1, tilt_deg = 90 } }
[arenas.pit]
space = "top"
bounds = { low = [-9, -9], high = [9, 9] }
[bouts.one]
arena = "pit"
seconds = 2
orders = [{ time = 0, seat = "a", press = "bat" }]
seats.a = { fighter = "imp", at = [0, 0], team = "a" }
seats.b = { fighter = "imp", at = [1, 0], team = "b" }
"""
BLADE = "attacks.hook.strike.hitboxes.blade.from"

BROKEN: dict[str, tuple[str, str]] = {
    "refused": (changed(("damage = 4", "damge = 4")), "attacks.dart.damge"),
    "hurts-nobody": (
        changed(
            ("lives = 2 }", 'lives = 2, team = "lamps" }'),
            ('fighter = "reed", at', 'fighter = "reed", team = "lamps", at'),
        ),
        "bouts.watch.seats.lee.team",
    ),
    "zero-wound": (changed(added("fighters.reed", "flat_reduction = 5")), "fighters.reed.flat_reduction"),
    "no-damage": (changed(("damage = 5\n", "")), "attacks.hook.damage"),
    "held-behind": (
        changed(
            (
                '{ time = 1, seat = "lee", press = "lamp" }',
                '{ time = 1, seat = "lee", hold = ["lamp", "dart"], until = 2 }',
            )
        ),
        "bouts.watch.orders[1].hold",
    ),
    "after-the-end": (changed(("cooldown = 1\n", "cooldown = 10\n")), "attacks.lamp.cooldown"),
    "own-step": ('[settings]\nsteps = ["rain"]\n' + SOUND, "settings.steps[0]"),
    "strike-behind": (changed(("from = [0.4, 1.0], to = [1.1, 1.0]", "from = [-0.9, 1.0]")), BLADE),
    "capacity-too-small": (
        "[settings]\nmax_shots = 5\n" + changed(("speed = 14 }", "speed = 14, count = 6, spread_deg = 9 }")),
        "attacks.dart.shot.count",
    ),
    "never-hittable": (
        changed(
            *[
                (
                    f"[0, {top}], radius = {wide} }}\n{after}",
                    f'[0, {top}], radius = {wide}, postures = ["airborne"] }}\n{after}',
                )
                for top, wide, after in ((1.65, 0.15, "hurtboxes.trunk"), (1.3, 0.3, "joints"))
            ],
        ),
        "fighters.reed.hurtboxes.head.postures",
    ),
    "no-ground": (changed(("floor = 0\n", "gravity = 9.81\n")), "arenas.pier.entries.west.at"),
    "patrol-at-wall": (
        changed(
            ("points = [[6, 0], [9, 0]]", "points = [[6, 0], [19, 0]]"),
            ('{ time = 3, seat = "sedge", press = "hook" }', '{ time = 0, seat = "sedge", patrol = "beat" }'),
        ),
        "bouts.watch.orders[3].patrol",
    ),
    "no-heights": (TOP, "attacks.bat.push.lift_deg"),
    "cue-never": (changed(('on = ["wounded"]\n', 'on = ["wounded"]\nmin_points = 90\n')), "cues.clang.min_points"),
    "carries-nothing": (changed(('shot = { muzzle = "hand", radius = 0.1, speed = 14 }', "")), "attacks.dart.damage"),
    "attack-unused": (
        changed(('"dart", "lamp", "hook"]', '"dart", "hook"]'), ('press = "lamp"', 'press = "dart"')),
        "attacks.lamp",
    ),
    "template-unused": (SOUND + "[templates.walls.post]\nsize = [1, 1]\n", "templates.walls.post"),
    "kind-unused": (SOUND + "[kinds.brine]\n", "kinds.brine"),
    "fighter-unused": (SOUND + '[fighters.wader]\nlike = "reed"\n', "fighters.wader"),
    "arena-unused": (SOUND + "[arenas.yard]\nbounds = { low = [0, 0], high = [9, 9] }\n", "arenas.yard"),
    "endless-shot": (
        changed(("speed = 14 }", "speed = 0.5, gravity_share = 0, life = 90 }")),
        "attacks.dart.shot.life",
    ),
    "short-shot": (changed(("speed = 14 }", "speed = 14, range = 3 }")), "attacks.dart.shot.range"),
    "muzzle-in-wall": (
        changed(
            ("at = [8, 0]", "at = [13.6, 0]"),
            ('facing = "left"', 'facing = "right"'),
            ('press = "hook" },\n]', 'press = "dart" },\n]'),
            ("[0.4, 1.2] }\nattacks", "[0.6, 1.2] }\nattacks"),
        ),
        "attacks.dart.shot.muzzle",
    ),
    "muzzle-behind": (changed(("hand = [0.4, 1.2]", "hand = [-0.4, 1.2]")), "attacks.dart.shot.muzzle"),
    "hits-own-body": (
        changed(("hand = [0.4, 1.2]", "hand = [0.2, 1.2]"), added("attacks.dart", "hits_owner = true")),
        "attacks.dart.shot.muzzle",
    ),
    "late-release": (changed(("windup = 0.1", "windup = 1.5")), "attacks.dart.windup"),
    "hitbox-never-on": (changed(("active = 0.1", "active = 0")), "attacks.hook.active"),
    "double-window": (
        changed(
            (
                "radius = 0.1 }\n[arenas",
                "radius = 0.1, on = [{ from = 0.2, until = 0.27 }, { from = 0.25, until = 0.3 }] }\n[arenas",
            )
        ),
        "attacks.hook.strike.hitboxes.blade.on[1]",
    ),
    "cost-above-pool": (changed(("oil = 5 }", "oil = 12 }")), "attacks.lamp.cost.oil"),
    "guard-total": (
        changed(
            ('guard = { arc_deg = 120, damage_share = 0.2, drain = 1, pool = "glass" }', "guard = { arc_deg = 360 }")
        ),
        "fighters.keeper.guard",
    ),
    "immortal": (
        changed(
            ("max = 20, vital = true", "max = 20, vital = true, refill = 30"),
        ),
        "fighters.reed.pools.health.refill",
    ),
    "unreachable-height": (
        changed(("from = [0.4, 1.0], to = [1.1, 1.0]", "from = [0.4, 2.2], to = [1.1, 2.2]")),
        "attacks.hook",
    ),
    "unreachable-hurtbox": (
        changed(
            (
                "hurtboxes.head = { from = [0, 1.65], radius = 0.15 }",
                'hurtboxes.head = { from = [0, 1.65], radius = 0.15, layer = "veil" }',
            ),
            *(added(f"attacks.{each}", 'layers = ["body"]') for each in ("dart", "lamp", "hook")),
            ("rehit_every = 0.5 }", 'rehit_every = 0.5, layers = ["body"] }'),
        ),
        "fighters.reed.hurtboxes.head.layer",
    ),
    "oversized-hurtbox": (
        changed(("[0, 1.3], radius = 0.3", "[0, 1.3], radius = 3")),
        "fighters.keeper.hurtboxes.trunk",
    ),
    "gap-in-hurtboxes": (changed(("to = [0, 1.3]", "to = [0, 0.6]")), "fighters.keeper.hurtboxes.head"),
    "nested-hurtbox": (
        changed(("multiplier = 1.5 }", "multiplier = 1.5 }\nhurtboxes.heart = { from = [0, 1], radius = 0.1 }")),
        "fighters.keeper.hurtboxes.heart",
    ),
    "untouched-pool": (changed(("pools.oil", "pools.breath = { max = 5 }\npools.oil")), "fighters.keeper.pools.breath"),
    "endless-shield": (changed(("refill = 1, delay = 2", "refill = 30")), "fighters.keeper.pools.glass.refill"),
    "reaction-shadowed": (changed(('kinds = ["salt"], ', "")), "fighters.keeper.reactions[1]"),
    "reaction-lock": (
        changed(('name = "reel", kinds = ["salt"], seconds = 0.2', 'name = "reel", kinds = ["salt"], seconds = 0.9')),
        "fighters.keeper.reactions[0].seconds",
    ),
    "knockback-out-of-bounds": (
        changed(("speed = 2, lift_deg = 30", "speed = 30, lift_deg = 45")),
        "attacks.hook.push",
    ),
    "hazard-behind-wall": (
        changed(
            ("hazards.vent", 'hazards.thorn = { at = [15, 1], size = [2, 2], kind = "salt", damage = 2 }\nhazards.vent')
        ),
        "arenas.pier.hazards.thorn",
    ),
    "hazard-every-tick": (
        changed(("rehit_every = 0.5 }", "rehit_every = 0.01 }")),
        "arenas.pier.hazards.vent.rehit_every",
    ),
    "fatal-entry": (
        changed(
            (
                '[4, 0.3], radius = 0.3, kind = "salt", damage = 2, rehit_every = 0.5',
                "[0.4, 0.3], radius = 0.3, fatal = true",
            )
        ),
        "arenas.pier.entries.west.at",
    ),
    "entry-in-wall": (
        changed(("walls.stone", "walls.post = { at = [-0.4, 1], size = [0.4, 2] }\nwalls.stone")),
        "arenas.pier.entries.west.at",
    ),
    "checkpoint-unreachable": (
        changed(("at = [2, 0.8], size", "at = [2, 6.8], size")),
        "arenas.pier.checkpoints.cairn.at",
    ),
    "checkpoint-in-air": (
        changed(("respawn_at = [1, 0]", "respawn_at = [1, 3]")),
        "arenas.pier.checkpoints.cairn.respawn_at",
    ),
    "spawn-in-reach": (
        changed(("respawn_protection = 1\n", ""), ("at = [8, 0]", "at = [1.2, 0]")),
        "fighters.keeper.respawn_protection",
    ),
    "endless-lives": (
        changed(("lives = 2 }", 'lives = "endless" }'), ('at = "east" }', 'at = "east", lives = "endless" }')),
        "bouts.watch.seats.lee.lives",
    ),
    "cue-every-tick": (
        changed(("gap = 0.1", "gap = 0"), ("rehit_every = 0.5 }", "rehit_every = 0.06 }")),
        "cues.clang.gap",
    ),
    "bar-of-idle-pool": (
        changed(
            ("pools.oil", "pools.breath = { max = 5 }\npools.oil"), ('pool = "glass"\ngap', 'pool = "breath"\ngap')
        ),
        "bars.pane",
    ),
    "bars-overlap": (changed(('pool = "glass"\ngap = 0.05', 'pool = "glass"\ngap = 0')), "bars.pane.gap"),
    "off-grid-time": (changed(("cooldown = 0.5", "cooldown = 0.55555")), "attacks.dart.cooldown"),
    "scale-mismatch": (changed(("[arenas.pier]\n", "[arenas.pier]\ngravity = 0.05\n")), "arenas.pier.gravity"),
    "order-to-nobody": (changed(("{ time = 3, seat", "{ time = 30, seat")), "bouts.watch.orders[3].time"),
}


@pytest.fixture(scope="module")
def checked(tmp_path_factory: pytest.TempPathFactory) -> Callable[[str], list[ew.study.Finding]]:
    """Checks a text as a file."""
    file = tmp_path_factory.mktemp("books") / "book.toml"

    def check(text: str) -> list[ew.study.Finding]:
        file.write_text(text)
        return ew.Rulebook.check_file(file)

    return check


def test_every_finding_has_a_book_that_shows_it_and_nothing_is_found_in_a_sound_one(
    checked: Callable[[str], list[ew.study.Finding]],
) -> None:
    assert set(BROKEN) == set(FINDINGS)
    assert checked(SOUND) == []


@pytest.mark.parametrize("name", BROKEN)
def test_what_is_broken_is_found_by_name_and_place(name: str, checked: Callable[[str], list[ew.study.Finding]]) -> None:
    text, key = BROKEN[name]
    found = checked(text)
    assert (name, key) in [(each.name, each.key) for each in found], found
    first = next(each for each in found if each.name == name)
    assert first.why == FINDINGS[name][1] and first.what and first.advice
    assert first.line is not None and re.search(r"\w+", text.splitlines()[first.line - 1])


def test_what_is_shipped_is_sound(saltglass_path: Path) -> None:
    books = [saltglass_path, *sorted((ROOT / "examples").glob("*/book.toml"))]
    found = {book.parent.name: ew.Rulebook.check_file(book) for book in books if book.parent.name != "own-step"}
    assert len(found) > 20 and not any(found.values()), found


def test_what_asks_for_heights_is_told_of_only_where_there_are_none(
    checked: Callable[[str], list[ew.study.Finding]],
) -> None:
    every = TOP.replace("tilt_deg = 90", "tilt_deg = 0").replace("speed = 2, lift_deg = 30", "distance = 2, apex = 1")
    every = every.replace(
        'attacks = ["bat"]',
        'attacks = ["bat"]\nreactions = [{ name = "squash", from = ["above"], seconds = 0.1 }, '
        '{ name = "tumble", airborne = true, seconds = 0.1 }]\n'
        'hurtboxes.sole = { from = [0, 0], radius = 0.3, postures = ["airborne"] }',
    )
    found = [each.key for each in checked(every) if each.name == "no-heights"]
    assert found == [
        "fighters.imp.reactions[0].from",
        "fighters.imp.reactions[1].airborne",
        "fighters.imp.hurtboxes.sole.postures",
        "attacks.bat.push.apex",
        "attacks.bat.strike.hitboxes.arm.swing.tilt_deg",
    ]
    side = every.replace('space = "top"\n', "floor = 0\n").replace("low = [-9, -9]", "low = [-9, -1]")
    assert not [each for each in checked(side) if each.name == "no-heights"]


def test_rules_without_a_text_are_checked_too_and_have_no_lines() -> None:
    rules = ew.Rulebook.parse(SOUND).edit({"attacks.dart.windup": 2})
    (found,) = rules.check()
    assert (found.name, found.key, found.line) == ("late-release", "attacks.dart.windup", None)
    assert str(found).startswith("rulebook: attacks.dart.windup: late-release: what it does first comes 2 s after")


def test_check_on_the_command_line(tmp_path: Path) -> None:
    book = tmp_path / "pier.toml"
    book.write_text(BROKEN["late-release"][0])
    told = emberwound("check", "pier.toml", folder=tmp_path)
    assert told.returncode == 0 and "1 warning" in told.stdout, told
    assert re.search(r"warning late-release +pier.toml:\d+ +attacks.dart.windup", told.stdout)
    assert emberwound("check", "pier.toml", "--strict", folder=tmp_path).returncode == 1
    (found,) = json.loads(emberwound("check", "pier.toml", "--json", folder=tmp_path).stdout)
    assert found["line"] == book.read_text().splitlines().index("windup = 1.5") + 1
    book.write_text(BROKEN["order-to-nobody"][0])
    told = emberwound("check", "pier.toml", folder=tmp_path)
    assert told.returncode == 1 and "1 error" in told.stdout and not told.stderr
    book.write_text(SOUND)
    assert emberwound("check", "pier.toml", folder=tmp_path).stdout == "pier.toml: nothing found\n"


@pytest.mark.parametrize(
    ("text", "told"),
    [("[fighters.keeper\n", "not valid TOML"), ("x = 1\n", "unknown key"), ("", "nothing found")],
)
def test_what_is_no_book_is_told_of_and_not_thrown(text: str, told: str, tmp_path: Path) -> None:
    (tmp_path / "pier.toml").write_text(text)
    answer = emberwound("check", "pier.toml", folder=tmp_path)
    assert told in answer.stdout and "Traceback" not in answer.stderr
    missing = emberwound("check", "peir.toml", folder=tmp_path)
    assert missing.returncode == 2 and "did you mean 'pier.toml'" in missing.stderr


def test_the_lines_of_every_key_are_those_of_the_text(saltglass_path: Path) -> None:
    text = saltglass_path.read_text(encoding="utf-8")
    lines, found = text.splitlines(), lines_of(text)
    assert lines[found["attacks.sweep.strike.hitboxes.hook.swing"] - 1].startswith("hook = ")
    assert lines[found["fighters.lamplighter.reactions[2].name"] - 1] == 'name = "crumple"'
    assert lines[found["attacks.flare.poses.hand[2].at"] - 1].strip() == '{ at = "12f", offset = [0.45, 1.4] },'
    odd = (
        "a = [[1, 2], [3.5, 'x']] # [b]\n\"q.r\" = '''\nx = 1\n'''\n[[b.c]]\nd = {e = [\n{f=1},\n]}\n[[b.c]]\nd.e = 1\n"
    )
    first, second = {"a": 1, "a[0]": 1, "a[0][0]": 1, "a[0][1]": 1, "a[1]": 1, "a[1][0]": 1, "a[1][1]": 1}, {"q.r": 2}
    rows = {"b": 5, "b.c": 5, "b.c[0]": 5, "b.c[0].d": 6, "b.c[0].d.e": 6, "b.c[0].d.e[0]": 7, "b.c[0].d.e[0].f": 7}
    assert lines_of(odd) == first | second | rows | {"b.c[1]": 9, "b.c[1].d": 10, "b.c[1].d.e": 10}


@pytest.mark.parametrize("seeds", [6, pytest.param(40, marks=pytest.mark.long)])
def test_nothing_is_found_in_random_sound_books_and_no_book_breaks_a_check(seeds: int) -> None:
    for seed in range(seeds):
        assert ew.Rulebook.parse(sound_book(seed)).check() == [], seed
    for seed in range(seeds):
        rng = random.Random(seed)
        found = ew.Rulebook.parse(book(rng, rng.choice(["side", "top", "3d"]))).check()
        assert all(each.name in FINDINGS and each.what and each.line for each in found)
