"""An inquest names the true cause first, with figures worked out by hand, and tries what would have been enough."""

from __future__ import annotations

import json
import re
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import emberwound
from emberwound import draw
from emberwound.draw.replay import replay_page
from emberwound.study.inquest.answer import CAUSES

if TYPE_CHECKING:
    from pathlib import Path

RANGE = """
[settings]
units = "m"
[kinds.salt]
[kinds.iron]
[cues.thud]
on = ["wounded"]
min_points = 9
[fighters.thrower]
body = { radius = 0.3, height = 1.8 }
speed = 2
pools.health = { max = 40, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.3], radius = 0.3 }
attacks = ["dart", "jab"]
[fighters.straw]
body = { radius = 0.3, height = 1.8 }
speed = 2
pools.health = { max = 20, vital = true }
pools.glass = { max = 50 }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.3], radius = 0.3 }
respawn_seconds = 2
[attacks.dart]
kind = "salt"
damage = 5
cooldown = 0.5
shot = { muzzle = [0.4, 1.2], radius = 0.1, speed = 20, gravity_share = 0, life = 3 }
[attacks.jab]
kind = "iron"
damage = 2
active = 0.2
recovery = 0.3
strike.hitboxes.fist = { from = [0.5, 1.0], to = [0.9, 1.0], radius = 0.1 }
[arenas.pier]
floor = 0
bounds = { low = [-5, -2], high = [25, 12] }
walls.post = { at = [20, 6], size = [1, 1] }
checkpoints.cairn = { at = [9, 0.8], size = [0.6, 1.6], order = 1, respawn_at = [9, 0] }
pickups.shell = { at = [-4, 0.5], radius = 0.2, lives = 1 }
[bouts.watch]
arena = "pier"
seconds = 3
orders = [{ time = 0.5, seat = "lee", aim = [1, 0], press = "dart" }]
[bouts.watch.seats]
lee = { fighter = "thrower", at = [0, 0] }
sedge = { fighter = "straw", at = [5, 0], facing = "left" }
"""


def told(*pairs: tuple[str, str]) -> ew.Chronicle:
    """The record of the range with some of its text replaced; each must be there."""
    text = RANGE
    for old, new in pairs:
        assert old in text, old
        text = text.replace(old, new, 1)
    return ew.run(ew.Rulebook.parse(text, "pier.toml"), "watch")


SHOT = "life = 3 }"
PRESS = '{ time = 0.5, seat = "lee", aim = [1, 0], press = "dart" }'
POOLS = "pools.glass = { max = 50 }"
JAB = ('press = "dart"', 'press = "jab"')


def test_a_shot_that_hits_says_so() -> None:
    answer = ew.inquest(told(), shot=1)
    assert answer.cause.name == "hit" and answer.trial is None
    assert answer.cause.text == "dart hit sedge's trunk at 0.710 s and took 5 health; 15 of 20 left"


def test_a_miss_is_told_with_its_distance_and_the_least_turn_that_hits() -> None:
    answer = ew.inquest(told(("aim = [1, 0]", "aim = [1, 0.3]")), shot=1)
    assert answer.cause.name == "out-of-reach"
    assert answer.cause.gap == pytest.approx((4.6 * 0.3 - 0.1) / 1.09**0.5 - 0.4, abs=1e-3)
    assert answer.cause.text.startswith("dart 1 passed 0.83 m above sedge's trunk at 0.72")
    assert (
        answer.trial is not None
    )  # atan(0.3) = 16.70 degrees; it hits up to atan(0.1 / 4.6) + asin(0.4 / 4.601) = 6.23
    assert answer.trial.change == "aim 10.5 degrees lower" and "dart hit sedge's trunk" in answer.trial.then


@pytest.mark.parametrize(
    ("changes", "cause", "said", "trial"),
    [
        (
            [(SHOT, "life = 0.1 }")],
            "ended:life",
            "2.2 m short of sedge's trunk",
            r"shot\.life = 0\.2\d* instead of 0\.1",
        ),
        ([(SHOT, "range = 3 }")], "ended:range", "1.2 m short of sedge's trunk", r"shot\.range = 4\.[23]"),
        (
            [("at = [20, 6], size = [1, 1]", "at = [3, 1.2], size = [0.2, 0.1]")],
            "ended:wall",
            "hit the wall post",
            r"aim .* degrees (higher|lower)",
        ),
        ([(SHOT, "life = 3, gravity_share = 9 }"), ("gravity_share = 0, ", "")], "ended:floor", "came down", "higher"),
        (
            [("at = [0, 0] }", 'at = [0, 0], team = "a" }'), ('facing = "left" }', 'facing = "left", team = "a" }')],
            "passed-over:ally",
            "lee and sedge are both of team a, and it does not hit allies",
            r"bouts\.watch\.seats\.sedge\.team left out",
        ),
        (
            [
                (SHOT, f"{SHOT}\nlayers = ['core']"),
                (POOLS, f"{POOLS}\nhurtboxes.core = {{ from = [0, 5], radius = 0.1, layer = 'core' }}"),
            ],
            "passed-over:layer",
            "that is on the layer body, which dart does not touch",
            r"attacks\.dart\.layers left out",
        ),
        (
            [(POOLS, f"{POOLS}\ndamage_taken = {{ salt = 0 }}")],
            "immune",
            "for nothing: immune to salt",
            r"damage_taken\.salt left out",
        ),
        ([(POOLS, f"{POOLS}\nflat_reduction = 5")], "zero", "made 5 to 0", r"flat_reduction = 2\.5 instead of 5"),
        ([(POOLS, f"{POOLS}\nroute = ['glass', 'health']")], "absorbed:glass", "5 glass took all of it", None),
        (
            [(POOLS, f"{POOLS}\nguard = {{}}"), (PRESS, f"{PRESS}, {{ time = 0, seat = 'sedge', hold = 'guard' }}")],
            "guarded",
            "met sedge's guard at 0.710 s, which took all of it",
            None,
        ),
    ],
)
def test_what_kept_a_shot_from_hitting_is_named_first(
    changes: list[tuple[str, str]], cause: str, said: str, trial: str | None
) -> None:
    answer = ew.inquest(told(*changes), shot=1)
    assert answer.cause.name == cause, answer
    assert said in answer.cause.text
    assert (answer.trial is None) if trial is None else (answer.trial and re.search(trial, answer.trial.change)), answer
    assert answer.trial is None or "dart hit sedge's trunk" in answer.trial.then


def test_what_passes_through_a_hurtbox_that_is_off_says_so() -> None:
    duck = (
        f'{POOLS}\nattacks = ["duck"]',
        "[attacks.duck]\nactive = 1\nhurtboxes_off.trunk = [{ from = 0, until = 1 }]\n",
    )
    orders = f"{PRESS}, {{ time = 0.4, seat = 'sedge', press = 'duck' }}"
    bout = told((POOLS, duck[0]), ("[attacks.jab]\n", f"{duck[1]}[attacks.jab]\n"), (PRESS, orders))
    answer = ew.inquest(bout, shot=1)
    assert answer.cause.name == "passed-over:window", answer
    assert (
        "dart 1 passed through sedge's trunk at 0.71" in answer.cause.text and "while it was off" in answer.cause.text
    )


def test_a_refused_order_says_why_and_how_much_later_it_begins() -> None:
    bout = told((PRESS, f"{PRESS}, {{ time = 0.7, seat = 'lee', press = 'dart' }}"))
    answer = ew.inquest(bout, order=("lee", 42))
    assert answer.cause.name == "refused:cooldown" and "cooling down for 0.2 s more" in answer.cause.text
    assert answer.trial is not None and answer.trial.change == "pressed 0.3 s later"
    assert answer.trial.then == "lee's dart begins at 1.000 s"
    assert ew.inquest(bout, order=("lee", 30)).cause.name == "hit"
    with pytest.raises(ew.ChronicleError, match=re.escape("lee has no order in tick 33")):
        ew.inquest(bout, order=("lee", 33))


def test_a_swing_says_how_near_it_came_and_from_where_it_hits() -> None:
    answer = ew.inquest(told(JAB, ("at = [5, 0]", "at = [1.5, 0]")), swing=("lee", 35))
    assert answer.cause.name == "out-of-reach" and answer.cause.gap == pytest.approx(0.2)  # 1.5 - 0.3 - (0.9 + 0.1)
    assert answer.cause.text.endswith("at 0.517 s, short of it")
    assert answer.trial is not None and answer.trial.change == "0.21 m nearer to sedge"  # at 0.2 it but touches
    close = ew.inquest(
        told(JAB, ("at = [5, 0]", "at = [0.1, 0]"), ("from = [0.5, 1.0]", "from = [0.8, 1.0]")), swing=("lee", 35)
    )
    assert close.cause.text.endswith(", beyond it"), "0.8 - 0.1 is further than the trunk"
    assert "jab hit sedge's trunk" in answer.trial.then
    assert ew.inquest(told(JAB, ("at = [5, 0]", "at = [1.2, 0]")), swing=("lee", 35)).cause.name == "hit"


def test_every_attempt_of_one_seat_on_another_is_told() -> None:
    orders = "{ time = 0.5, seat = 'lee', aim = [1, 0], press = 'dart', every = 0.4 }"
    answer = ew.inquest(told((PRESS, orders)), attempts=("lee", "sedge"))
    names = [each.cause.name for each in answer.attempts]  # the last one still flies
    assert names.count("hit") == 4 and set(names) == {"hit", "refused:cooldown", "too-late"}
    assert answer.cause.text.startswith(f"{len(names)} attempts of lee on sedge: 4 hit")
    some = ew.inquest(told((PRESS, orders)), attempts=("lee", "sedge"), between=(0.4, 1.1))
    assert some.attempts == tuple(each for each in answer.attempts if each.time <= 1.1)
    assert ew.inquest(told(), attempts=("sedge", "lee")).cause.name == "never-ordered"


def test_how_it_died_and_why_it_lives() -> None:
    kill = told(
        ("damage = 5", "damage = 12"),
        (PRESS, PRESS.replace('press = "dart"', 'press = "dart", every = 0.6, until = 1.5')),
    )
    answer = ew.inquest(kill, death="sedge")
    assert answer.cause.text == "sedge died at 1.310 s of lee's dart, 1.310 s after life 1 began"
    assert answer.lines[0] == "credited to lee" and len(answer.lines) == 3
    assert answer.lines[2].endswith("base 12 -> hurtbox 12 -> overkill 0; 0 of 20 left"), answer.lines
    alive = ew.inquest(told(), alive="sedge")
    assert alive.cause.name == "still-alive" and "5 damage from 1 hit" in alive.cause.text
    assert "15 of 20 health left" in alive.cause.text
    assert ew.inquest(told(), alive="lee").cause.name == "never-ordered"
    missed = ew.inquest(told(("aim = [1, 0]", "aim = [1, 0.3]")), alive="sedge")
    assert missed.cause.name == "out-of-reach" and "nothing hit sedge" in missed.cause.text
    assert (
        ew.inquest(told((POOLS, f"{POOLS}\nroute = ['glass', 'health']")), alive="sedge").cause.name == "absorbed:glass"
    )
    healed = told(("damage = 5", "damage = 12"), ("max = 20, vital = true", "max = 20, vital = true, refill = 40"),
                  (PRESS, PRESS.replace('press = "dart"', 'press = "dart", every = 0.6')))  # fmt: skip
    assert ew.inquest(healed, alive="sedge").cause.name == "healed"
    with pytest.raises(ew.ChronicleError, match="lee never died"):
        ew.inquest(kill, death="lee")


def test_what_is_missing_is_told_and_when_it_comes() -> None:
    deadly = ("damage = 5", "damage = 50")
    once = ew.inquest(told(deadly), missing=("respawn", "sedge"))
    assert once.cause.name == "out-of-lives" and once.trial is not None
    assert once.trial.change == "bouts.watch.seats.sedge.lives = 2 instead of 1"
    assert "sedge respawns at 2.717 s" in once.trial.then  # died at 0.71, 2 s later on the grid
    late = ew.inquest(
        told(deadly, ("at = [5, 0]", "lives = 2, at = [5, 0]"), ("seconds = 3\n", "seconds = 2\n")),
        missing=("respawn", "sedge"),
    )
    assert late.cause.name == "too-late" and "respawns at 2.717 s; the record ends at 2.000 s" in late.cause.text
    assert late.trial is not None and "sedge respawns at 2.717 s at (5.00, 0.00)" in late.trial.then
    assert ew.inquest(told(), missing=("respawn", "sedge")).cause.name == "never-happened"
    cue = ew.inquest(told(), missing=("cue", "sedge"))
    assert cue.cause.text == "wounded came at 0.710 s, but thud asks for 9 points, and it had 5"
    cairn = ew.inquest(told(), missing=("checkpoint", "sedge"))
    assert cairn.cause.name == "out-of-reach" and cairn.cause.gap == pytest.approx(9 - 0.3 - 5.3, abs=1e-3)
    shell = ew.inquest(told(), missing=("pickup", "lee"))
    assert shell.cause.gap == pytest.approx(4 - 0.2 - 0.3, abs=1e-3)
    with pytest.raises(ew.ChronicleError, match="missing: 'door'; allowed: respawn, cue, checkpoint, pickup"):
        ew.inquest(told(), missing=("door", "lee"))


HELD = '{ time = 0.5, seat = "lee", aim = [1, 0], hold = ["jab", "dart"] }'


def test_a_held_attack_behind_another_is_told_with_the_order_that_holds_both() -> None:
    answer = ew.inquest(told((PRESS, HELD)), order=("lee", 30))
    assert answer.cause.name == "held-behind" and answer.trial is None
    assert answer.cause.text.startswith("lee holds dart and jab: of several held attacks")
    assert answer.cause.set_by[0] == 'bouts.watch.orders[0].hold = ["jab", "dart"]'
    rows = ew.inquest(told((PRESS, HELD)), attempts=("lee", "sedge")).attempts
    assert [each.cause.name for each in rows if each.attack == "jab"] == ["held-behind"]


def test_a_push_is_told_with_what_it_came_to_and_an_order_to_walk_with_what_stopped_it() -> None:
    push = ("cooldown = 0.5", "cooldown = 0.5\npush = { distance = 1 }")
    answer = ew.inquest(told(push), push=("lee", "sedge"))
    assert answer.cause.name == "hit" and answer.cause.text.endswith("and came 1 m")
    assert answer.cause.set_by == ("attacks.dart.push = { distance = 1 }",)
    heavy = ew.inquest(told(push, (POOLS, f"{POOLS}\nweight = 500")), push=("lee", "sedge"))
    assert heavy.cause.name == "zero" and heavy.cause.set_by[0] == "fighters.straw.weight = 500" and heavy.trial
    assert ew.inquest(told(), push=("lee", "sedge")).cause.name == "no-push"
    with pytest.raises(ew.ChronicleError, match="lee and lee are one seat"):
        ew.inquest(told(), push=("lee", "lee"))
    post = ("at = [20, 6], size = [1, 1]", "at = [2, 1], size = [0.4, 2]")
    walks = (PRESS, '{ time = 0.5, seat = "lee", move = 1 }')
    answer = ew.inquest(told(post, walks), order=("lee", 30))  # from 0 to 2 - 0.2 - 0.3, at 2 a second
    assert answer.cause.name == "blocked" and "lee walked 1.5 m" in answer.cause.text
    assert answer.cause.text.endswith("the wall post stopped it at 1.250 s")
    assert answer.cause.set_by[0] == "arenas.pier.walls.post = { at = [2, 1], size = [0.4, 2] }"


def test_an_inquest_changes_nothing_and_answers_the_same_again(saltglass: ew.Rulebook) -> None:
    chronicle = ew.run(saltglass, "passage", tick_rate=30)
    before = chronicle.end.digest
    asked = {"attempts": ("amber", "reed"), "between": (0.0, 12.0)}
    first = ew.inquest(chronicle, **asked)  # type: ignore[arg-type]
    assert ew.inquest(chronicle, **asked) == first  # type: ignore[arg-type]
    assert ew.rerun(chronicle).end.digest == before
    assert {each.cause.name.partition(":")[0] for each in first.attempts} <= set(CAUSES)


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({}, "ask one question"),
        ({"shot": 1, "death": "lee"}, "ask one question"),
        ({"shot": 9}, "shot 9: this bout has no shot of that id; the nearest id is 1, of 1 in all"),
        ({"shot": "x"}, "shot: 'x'; give a whole number"),
        ({"swing": ("lee", 9)}, "lee is at no attack in tick 9; the nearest is tick 30, 0.500 s"),
        ({"swing": "lee"}, 'give a seat and a tick, such as ("amber", 120)'),
        ({"alive": "sedg"}, "there is no seat 'sedg' (did you mean 'sedge'?)"),
        ({"attempts": ("lee", "sedge"), "between": (2, 1)}, "give two times in seconds, the earlier first"),
        ({"death": "lee", "between": (1, 2)}, "between goes with attempts"),
    ],
)
def test_questions_that_have_no_answer_are_refused(asked: dict[str, object], said: str) -> None:
    with pytest.raises(ew.ChronicleError, match=re.escape(said)):
        ew.inquest(told(), **asked)  # type: ignore[arg-type]


def test_a_record_of_a_host_is_asked_from_its_start_on() -> None:
    bout = ew.Bout(ew.Rulebook.parse(RANGE), arena="pier")
    recorder = ew.Recorder(bout)
    lee = bout.enter("thrower", seat="lee", at=(0, 0))
    bout.enter("straw", seat="sedge", at=(5, 0))
    bout.advance(0.5)
    lee.order(aim=(1, 0.3), press="dart")
    later = ew.Recorder(bout)
    bout.advance(1)
    answer = ew.inquest(recorder.chronicle(), order=("lee", 30))
    assert answer.cause.name == "out-of-reach" and answer.trial is not None
    assert answer.trial.change == "aim 10.5 degrees lower"
    with pytest.raises(ew.ChronicleError, match="this chronicle begins at tick 30; join it"):
        ew.inquest(later.chronicle(), shot=1)


@pytest.mark.parametrize(
    ("radius", "cause", "said"), [(5, "hit", "burst hit sedge"), (2, "out-of-reach", "burst ended 0.7 m from")]
)
def test_a_blast_of_its_own_is_followed_to_whom_it_reached(radius: int, cause: str, said: str) -> None:
    shot = "shot = { muzzle = [0.4, 1.2], radius = 0.1, speed = 20, gravity_share = 0, life = 3 }"
    blast = f'blast = "burst"\nblast_at = [2, 1]\n[blasts.burst]\nkind = "salt"\ndamage = 3\nradius = {radius}'
    answer = ew.inquest(told((f'kind = "salt"\ndamage = 5\ncooldown = 0.5\n{shot}', blast)), order=("lee", 30))
    assert answer.cause.name == cause and said in answer.cause.text, answer  # from 2 to the trunk at 5, 0.3 wide


def test_inquest_on_the_command_line(tmp_path: Path) -> None:
    (tmp_path / "pier.toml").write_text(RANGE.replace("aim = [1, 0]", "aim = [1, 0.3]"))
    answer = emberwound("inquest", "pier.toml", "--shot", 1, folder=tmp_path)
    assert answer.returncode == 0 and "out-of-reach  dart 1 passed 0.83 m above sedge's trunk" in answer.stdout
    assert "tried: aim 10.5 degrees lower: dart hit sedge's trunk" in answer.stdout
    found = json.loads(emberwound("inquest", "pier.toml", "--shot", 1, "--json", folder=tmp_path).stdout)
    assert found["causes"][0]["name"] == "out-of-reach" and found["trial"]["change"] == "aim 10.5 degrees lower"
    rows = emberwound("inquest", "pier.toml", "--from", "lee", "--to", "sedge", folder=tmp_path).stdout
    assert re.search(r"0.500 s +dart +1 +out-of-reach", rows)
    bad = emberwound("inquest", "pier.toml", "--shot", 7, folder=tmp_path)
    assert bad.returncode == 2 and "the nearest id is 1" in bad.stderr and "Traceback" not in bad.stderr


def test_a_record_whose_book_has_changed_is_asked_only_against_a_named_one(tmp_path: Path) -> None:
    (tmp_path / "pier.toml").write_text(RANGE)
    assert emberwound("run", "pier.toml", "--out", ".", folder=tmp_path).returncode == 0
    asked = ("inquest", "watch.jsonl", "--shot", 1)
    assert "hit  dart hit sedge's trunk" in emberwound(*asked, folder=tmp_path).stdout
    (tmp_path / "pier.toml").write_text(RANGE.replace("aim = [1, 0]", "aim = [1, 0.3]"))
    refused = emberwound(*asked, folder=tmp_path)
    assert (
        refused.returncode == 2
        and "it has changed since, or the bout ran with --set; give --against pier.toml" in refused.stderr
    )
    assert "out-of-reach" in emberwound(*asked, "--against", "pier.toml", folder=tmp_path).stdout
    (tmp_path / "pier.toml").write_text("no book")
    drawn = emberwound("draw", *asked, folder=tmp_path)
    assert drawn.returncode == 2 and "changed since" in drawn.stderr


def test_the_story_and_the_page_tell_why_and_the_demo_asks(tmp_path: Path) -> None:
    (tmp_path / "pier.toml").write_text(RANGE.replace("aim = [1, 0]", "aim = [1, 0.3]"))
    plain = emberwound("run", "pier.toml", folder=tmp_path, columns=200)
    told = emberwound("run", "pier.toml", "--why", folder=tmp_path, columns=200)
    assert "passed 0.83 m" not in plain.stdout
    assert re.search(r"dart 1 left the arena at .*; it passed 0.83 m above sedge's trunk", told.stdout)
    chronicle = ew.run(ew.Rulebook.load(tmp_path / "pier.toml"), "watch")
    assert "out-of-reach" not in replay_page(chronicle), "an inquest is asked for"
    page = replay_page(chronicle, why=True)
    assert '["out-of-reach","dart 1 passed 0.83 m above sedge' in page
    asked = emberwound("demo", "crossing", folder=tmp_path).stdout.splitlines()[-2:]
    assert [re.sub(r".*inquest ", "inquest ", each) for each in asked] == [
        "inquest emberwound-out/saltglass.toml crossing --shot 9",
        "inquest emberwound-out/saltglass.toml crossing --missing respawn brack",
    ]
    answer = emberwound(*asked[1].partition("emberwound ")[2].split(), folder=tmp_path)
    assert answer.returncode == 0 and "tried: " in answer.stdout


def test_the_figures_of_an_inquest_show_the_gap_and_the_lanes(tmp_path: Path) -> None:
    missed = told(("aim = [1, 0]", "aim = [1, 0.3]"))
    _, close = (axes for axes in draw.draw_inquest(missed, shot=1).axes)
    assert "0.826 m" in [text.get_text() for text in close.texts]
    swung = draw.draw_inquest(told(JAB, ("at = [5, 0]", "at = [1.5, 0]")), swing=("lee", 35))
    assert "0.2 m" in [text.get_text() for text in swung.axes[1].texts]
    lanes = draw.draw_inquest(
        told((PRESS, f"{PRESS}, {{ time = 0.7, seat = 'lee', press = 'dart' }}")), order=("lee", 42)
    )
    assert [label.get_text() for label in lanes.axes[0].get_yticklabels()] == ["cooldown", "attack"]
    with pytest.raises(ew.ChronicleError, match="ask one question: shot, swing, order"):
        draw.draw_inquest(missed)
    (tmp_path / "pier.toml").write_text(RANGE)
    drawn = emberwound("draw", "inquest", "pier.toml", "--order", "lee", 30, "--out", "a.png", folder=tmp_path)
    assert drawn.stdout == "written: a.png\n" and (tmp_path / "a.png").stat().st_size > 10_000
    nothing = emberwound("draw", "inquest", "pier.toml", folder=tmp_path)
    assert nothing.returncode == 2 and "give one of --shot, --swing and --order" in nothing.stderr


YARD = """
[kinds.salt]
[fighters.thrower]
body = { radius = 0.3, height = 1.8 }
pools.hearts = { max = 3, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.5], radius = 0.3 }
attacks = ["dart"]
[attacks.dart]
kind = "salt"
damage = 1
shot = { speed = 20, radius = 0.05, muzzle = [0.3, 1.2, 0], direction = "facing", gravity_share = 0, life = 2 }
[arenas.yard]
space = "3d"
floor = 0
bounds = { low = [-9, -9, -1], high = [15, 9, 9] }
[bouts.one]
arena = "yard"
seconds = 2
seats.lee = { fighter = "thrower", at = [0, 0, 0], facing = 10 }
seats.sedge = { fighter = "thrower", at = [6, 0, 0], facing = 180 }
orders = [{ time = 0.5, seat = "lee", press = "dart" }]
"""


def test_what_leaves_by_its_facing_is_tried_turned_and_where_that_is_not_enough_lifted() -> None:
    trial = ew.inquest(ew.run(ew.Rulebook.parse(YARD), "one"), shot=1).trial
    assert trial and trial.change == "facing = 3.3, 6.7 degrees to the right"  # asin(0.35 / 6) = 3.34 degrees
    assert "dart hit sedge's trunk" in trial.then and "took 1 heart; 2 of 3 left" in trial.then
    high = YARD.replace("[0.3, 1.2, 0]", "[0.3, 2.5, 0]")
    trial = ew.inquest(ew.run(ew.Rulebook.parse(high), "one"), shot=1).trial
    assert trial
    said = re.fullmatch(r"facing = ([\d.]+) and attacks.dart.shot.lift_deg = (-[\d.]+)", trial.change)
    assert said, trial.change
    facing, lift = map(float, said.groups())
    turned = high.replace("facing = 10 }", f"facing = {facing} }}").replace(
        '"facing", ', f'"facing", lift_deg = {lift}, '
    )
    assert any(isinstance(each, ew.events.Wounded) for each in ew.run(ew.Rulebook.parse(turned), "one").events)
