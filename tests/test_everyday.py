"""Small abilities that everyday jobs need, each by its shortest book, with the figures worked out by hand."""

from __future__ import annotations

import json
import math
import re
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import emberwound, only, ragdoll_of, range_rules, range_text

if TYPE_CHECKING:
    from pathlib import Path


def held_for(rules: ew.Rulebook, seconds: float) -> tuple[ew.Bout, ew.Seat, list[float]]:
    """A thrower that holds its dart, and when it let go of each."""
    bout = ew.Bout(rules, arena="range")
    seat = bout.enter("thrower", at="line")
    seat.order(hold="dart")
    return bout, seat, [event.time for event in only(ew.events.Released, bout.advance(seconds))]


def test_an_attack_may_say_that_holding_does_not_repeat_it() -> None:
    assert held_for(range_rules(cooldown=0.5), 2)[2] == [0.0, 0.5, 1.0, 1.5]
    rules = range_rules(cooldown=0.5).edit({"attacks.dart.when_held": "once"})
    bout, seat, released = held_for(rules, 2)
    assert released == [0.0]
    saved = bout.snapshot()
    bout.restore(saved)
    seat.order(hold=())
    assert only(ew.events.Released, bout.advance(0.1)) == []
    seat.order(hold="dart")
    assert [event.time for event in only(ew.events.Released, bout.advance(1))] == [2.1]
    seat.order(hold="dart", press="dart")  # a press is a press, also while it is held
    assert [event.time for event in only(ew.events.Released, bout.advance(1))] == [3.1]


def test_rows_of_reactions_are_edited_by_their_name(saltglass: ew.Rulebook) -> None:
    changed = saltglass.edit({"fighters.wader.reactions.reel.seconds": 0.7})
    rows = {row.name: float(row.seconds.seconds(60)) for row in changed.book.fighters["wader"].reactions}
    assert rows["reel"] == 0.7
    assert changed.edit({"fighters.wader.reactions.reel.seconds": "0.5"}) != changed
    with pytest.raises(ew.RulebookError, match=r"reactions\.reeel\.seconds: a key that leads through what is no table"):
        saltglass.edit({"fighters.wader.reactions.reeel.seconds": 0.7})


def test_commands_take_changes_of_the_book(tmp_path: Path, saltglass_path: Path) -> None:
    def said(*words: object) -> str:
        done = emberwound(*words, folder=tmp_path)
        assert done.returncode == 0, done.stderr
        return done.stdout

    wound = json.loads(said("wound", saltglass_path, "flare", "wader", "--set", "attacks.flare.damage=5", "--json"))
    assert wound["ledger"]["steps"][0]["before"] == 5
    run = json.loads(
        said("run", saltglass_path, "crossing", "--set", "attacks.flare.damage=0.5,settings.title=", "--json")
    )
    assert [each["kills"] for each in run["totals"]["attacks"] if each["attack"] == "flare"] == [0]
    assert run["changes"] == ["attacks.flare.damage=0.5,settings.title="]
    said("run", saltglass_path, "crossing")
    other = said("run", saltglass_path, "crossing", "--set", "attacks.flare.damage=13")
    assert other.splitlines()[0] == "with attacks.flare.damage=13"
    records = {each.name for each in (tmp_path / "emberwound-out").glob("*.jsonl")}
    own = {"crossing-attacks.flare.damage-13.jsonl", "crossing-attacks.flare.damage-0.5-settings.title.jsonl"}
    assert records == {"crossing.jsonl", *own}
    change = "fighters.wader.reactions.reel.seconds=0.7"
    said("draw", "reaction", saltglass_path, "sweep", "wader", "--set", change, "--out", "r.png")
    said("draw", "shots", saltglass_path, "ledge", "--set", "attacks.flare.shot.speed=9", "--out", "s.png")
    for words, told in (
        (("run", saltglass_path, "crossing", "--set", "attacks.flair.damage=1"), "attacks.flair"),
        (("draw", "shots", saltglass_path, "ledge", "--set", "x"), "give KEY=VALUE"),
        (("run", saltglass_path, "ledge", "--set", "a=1", "--set", "b=2"), "joined by commas: --set a=1,b=2"),
        (("draw", "shots", saltglass_path, "ledge", "--strip", "end", "--set", "a=1"), "--strip and --set: give one"),
        (
            ("draw", "shots", "emberwound-out/crossing.jsonl", "--set", "a=1"),
            "is a record, whose rules are as they were",
        ),
    ):
        done = emberwound(*words, folder=tmp_path)
        assert done.returncode == 2 and told in done.stderr, done.stderr


def test_variants_of_a_figure_stand_side_by_side(saltglass: ew.Rulebook) -> None:
    longer = saltglass.edit({"fighters.wader.reactions.reel.seconds": 0.7})
    sheet = ew.draw.draw_reaction(saltglass, "sweep", "wader", variants=[("longer", longer)])
    shown = [axes for axes in sheet.axes if axes.get_visible()]
    assert shown[0].get_title(loc="left").startswith("as in the book") and len(shown) % 2 == 0
    assert "longer" in " ".join(axes.get_title(loc="left") for axes in shown)
    bouts = [ew.run(saltglass, "ledge"), ew.run(saltglass.edit({"attacks.flare.shot.speed": 9}), "ledge")]
    sheet = ew.draw.draw_shots(bouts[0], variants=[("slow", bouts[1])])
    assert [axes.get_title(loc="left").split(":")[0] for axes in sheet.axes] == ["as in the book", "slow"]


def test_the_program_tells_its_version(tmp_path: Path) -> None:
    assert emberwound("--version", folder=tmp_path).stdout == f"emberwound {ew.__version__}\n"


def test_a_hazard_has_a_colour_of_its_own_in_pictures() -> None:
    hazard = '[arenas.range.hazards.tar]\nat = [5, 0]\nradius = 1\nkind = "ember"\ndamage = 1\ncolour = "{}"\n'
    colours = []
    for colour in ("moss", "#123456"):
        rules = ew.Rulebook.parse(range_text() + hazard.format(colour))
        sheet = ew.draw.draw_arena(rules, "range")
        colours += [text.get_color() for text in sheet.axes[0].texts if text.get_text() == "tar"]
    assert colours == ["#3f7d3a", "#123456"]
    with pytest.raises(ew.RulebookError, match=r"hazards\.tar\.colour.*allowed"):
        ew.Rulebook.parse(range_text() + hazard.format("blue"))


def test_a_record_of_a_book_from_before_a_new_key_is_read(saltglass: ew.Rulebook, tmp_path: Path) -> None:
    file = ew.run(saltglass, "vent").save(tmp_path / "vent.jsonl")
    old = file.read_text(encoding="utf-8").replace(',"when_held":"repeat"', "")
    tables = json.loads(old.partition("\n")[0])["rules"]
    from emberwound.rulebook.rules import digest_of

    file.write_text(re.sub(r'"rules_hash":"\w+"', f'"rules_hash":"{digest_of(tables)}"', old), encoding="utf-8")
    assert len(ew.Chronicle.load(file).tracks.ticks) > 100
    file.write_text(re.sub(r'"rules_hash":"\w+"', f'"rules_hash":"{"0" * 64}"', old), encoding="utf-8")
    with pytest.raises(ew.ChronicleError, match="rules_hash differs"):
        _ = ew.Chronicle.load(file).tracks


LIKE = """
[templates.hazards.pool]
kind = "ember"
damage = 3
size = [2, 1]
[templates.walls.step]
size = [1, 0.5]
[fighters.big]
like = "post"
pools.health.max = 120
[fighters.bigger]
like = "big"
weight = 2
[arenas.range.walls.one]
like = "step"
at = [3, 0.25]
[arenas.range.hazards.near]
like = "pool"
at = [5, 0.5]
[arenas.range.hazards.far]
like = "pool"
at = [9, 0.5]
damage = 5
"""


def test_what_is_repeated_is_defined_once_with_keys_overridden() -> None:
    rules = ew.Rulebook.parse(range_text() + LIKE)
    fighters, hazards = rules.book.fighters, rules.book.arenas["range"].hazards
    sizes = {
        name: (each.pools["health"].max, each.pools["shield"].max, each.weight)
        for name, each in fighters.items()
        if name != "thrower"
    }
    assert sizes == {"post": (90, 60, 1), "big": (120, 60, 1), "bigger": (120, 60, 2)}
    assert {name: (each.damage, each.at, each.size) for name, each in hazards.items()} == {
        "near": (3, (5, 0.5), (2, 1)),
        "far": (5, (9, 0.5), (2, 1)),
    }
    plain = ew.Rulebook.from_canonical(rules.canonical())
    assert plain == rules and "templates" not in rules.canonical()
    ten = "".join(f'[fighters.foe{n}]\nlike = "post"\npools.health.max = {n}\n' for n in range(1, 11))
    assert len(ew.Rulebook.parse(range_text() + ten).book.fighters) == 12


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ('like = "big"', 'like = "bgi"', ["fighters.bigger.like: \"bgi\" (did you mean 'big'?)"]),
        ('like = "post"', 'like = "bigger"', ["fighters.bigger.like"]),
        ("damage = 3", 'damage = "x"', ['templates.hazards.pool.damage: "x"']),
        ("damage = 3", "damage = 3\ndamge = 3", ["templates.hazards.pool.damge: unknown key (did you mean 'damage'?)"]),
        (
            "[templates.hazards.pool]",
            "[templates.hazard.pool]",
            ["templates.hazard: no such templates", "near.like", "far.like"],
        ),
        ('like = "pool"', 'like = "pol"', ["arenas.range.hazards.near.like: \"pol\" (did you mean 'pool'?)"]),
        ('like = "step"', "like = 3", ["arenas.range.walls.one.like: 3; allowed: the name of a template of walls"]),
        ("weight = 2", "weight = -2", ["fighters.bigger.weight: -2"]),
        ("health.max = 120", "health.max = 0", ["fighters.big.pools.health.max: 0"]),
    ],
)
def test_a_like_that_leads_nowhere_is_told_once_where_it_was_written(old: str, new: str, told: list[str]) -> None:
    text = range_text() + LIKE.replace(old, new, 1)
    with pytest.raises(ew.RulebookError) as caught:
        ew.Rulebook.parse(text)
    assert len(caught.value.problems) == len(told), caught.value
    assert all(said in str(caught.value) for said in told), caught.value


def pushed(push: str, *, arena: str = "range") -> list[ew.events.KnockedBack]:
    """What a dart with a push does to a thrower 4 away."""
    rules = ew.Rulebook.parse(range_text().replace("[attacks.dart]", f"[attacks.dart]\npush = {{ {push} }}"))
    bout = ew.Bout(rules, arena=arena)
    bout.enter("thrower", seat="a", at=(0, 0)).order(aim=(1, 0), press="dart")
    bout.enter("thrower", seat="b", at=(4, 0), facing="left")
    return only(ew.events.KnockedBack, bout.advance(1))


def test_a_push_may_pull_or_go_a_fixed_way() -> None:
    (pull,) = pushed('heading = "towards", speed = 5')
    assert pull.velocity == pytest.approx((-5, 0))
    (away,) = pushed('heading = "away", speed = 5')
    assert away.velocity == pytest.approx((5, 0))
    (fixed,) = pushed('heading = "fixed", direction = [-3, 4], speed = 5')
    assert fixed.velocity == pytest.approx((-3, 4))
    (upright,) = pushed('heading = "fixed", direction = [0, 2], speed = 3')
    assert upright.velocity == pytest.approx((0, 3))
    for push, told in (
        ('heading = "fixed", speed = 5', "direction: missing; a heading"),
        ("direction = [1, 0], speed = 5", 'heading: "away"; a heading "fixed" goes with a direction'),
        ('heading = "fixed", direction = [0, 0], speed = 5', "direction: no direction"),
        ('heading = "fixed", direction = [1, 0, 0], speed = 5', "direction: 3 numbers"),
        ('heading = "fixed", direction = [1, 0], distance = 5', 'heading: "fixed" and a distance'),
        ('heading = "fixed", direction = [1, 0], speed = 5, lift_deg = 9', "lift_deg: a lift and a direction"),
        ('heading = "toward", speed = 5', "did you mean 'towards'?"),
    ):
        with pytest.raises(ew.RulebookError, match=re.escape(told)):
            pushed(push)
    rules = range_rules().edit({"attacks.dart.push": {"heading": "fixed", "direction": [3, 4], "speed": 5}})
    assert rules.knockback_path("dart", "post").speed == pytest.approx(5)


LATE = """
[bouts.shift]
arena = "range"
seconds = 4
seats.early = { fighter = "thrower", at = [0, 0], until = 3 }
seats.late = { fighter = "post", at = [6, 0], time = 1, until = 2.5 }
orders = [{ time = 0, seat = "early", press = "dart", every = 0.5 }]
"""


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_scripted_seats_enter_at_a_time_and_leave(rate: int) -> None:
    rules = ew.Rulebook.parse(range_text(damage=1) + LATE)
    chronicle = ew.run(rules, "shift", tick_rate=rate)
    entered = {event.seat: event.time for event in only(ew.events.SeatEntered, chronicle.events)}
    left = {event.seat: event.time for event in only(ew.events.SeatLeft, chronicle.events)}
    assert entered == {"early": 0, "late": 1} and left == {"early": 3, "late": 2.5}
    hits = [event.time for event in only(ew.events.Wounded, chronicle.events)]
    assert hits == pytest.approx([1.27, 1.77, 2.27])  # 5.4 away at 20 a second; the one of 2.5 s meets nobody
    assert len(only(ew.events.Released, chronicle.events)) == 6  # 0, 0.5 ... 2.5: it leaves with the one of 3 s
    assert ew.rerun(chronicle) == chronicle


PIT = """
[arenas.range.hazards.pit]
at = [3, 1]
radius = 0.5
fatal = true
schedule = { first = 3.2, on = 0.1, off = 99 }
[bouts.shift.seats.bait]
fighter = "thrower"
at = [3, 0]
"""


def test_a_restart_begins_with_those_who_were_there_first() -> None:
    text = range_text(damage=1).replace("[arenas.range]", '[arenas.range]\non_elimination = "restart"') + LATE + PIT
    rules = ew.Rulebook.parse(text.replace("until = 3 }", "until = 2 }").replace("seconds = 4", "seconds = 9"))
    chronicle = ew.run(rules, "shift")
    (restart,) = only(ew.events.BoutRestarted, chronicle.events)
    entered = only(ew.events.SeatEntered, [event for event in chronicle.events if event.time >= restart.time])
    assert [event.seat for event in entered] == ["early", "late"]
    assert [event.time - restart.time for event in entered] == pytest.approx([0, 1])
    assert ew.rerun(chronicle) == chronicle
    bout, heard = ew.Bout.scripted(rules, "shift"), list[ew.events.Event]()
    bout.on(ew.events.SeatEntered, seat="late")(heard.append)
    bout.advance(9)
    assert heard == [event for event in only(ew.events.SeatEntered, chronicle.events) if event.seat == "late"]
    assert len(heard) == 2, "it hears of its seat again, which has left and is brought back"


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("time = 1,", "time = 4,", "seats.late.time: 4; the bout is over after 4 s"),
        ("until = 2.5", "until = 1", "seats.late.until: 1; it must come after time, 1"),
        ('seat = "early"', 'seat = "late"', "orders[0].time: 0; late enters at 1 s; an order must not come before"),
        (
            "time = 0, seat",
            "time = 3.5, seat",
            "orders[0].time: 3.5; early leaves at 3 s, its `until`; an order must come before",
        ),
    ],
)
def test_orders_to_who_is_not_there_are_refused(old: str, new: str, told: str) -> None:
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(range_text() + LATE.replace(old, new, 1))


def test_what_does_nothing_is_told_when_a_book_is_loaded(tmp_path: Path) -> None:
    idle = """
[attacks.bash]
windup = 0.1
[attacks.tickle]
active = 0.1
strike.hitboxes.hand = { from = [0.5, 1], radius = 0.3 }
[attacks.burst]
releases = [0, 0.1]
lunge = { speed = 3 }
[attacks.duck]
active = 0.3
invulnerable = [{ until = 0.2 }]
[attacks.shove]
active = 0.1
strike.hitboxes.hand = { from = [0.5, 1], radius = 0.3, push = { speed = 3 } }
[attacks.hurl]
throw = true
push = { speed = 3 }
[templates.walls.spare]
size = [1, 1]
[bouts.idle]
arena = "range"
seconds = 1
seats.a = { fighter = "thrower", at = [0, 0] }
orders = [{ time = 0.5, seat = "a", press = "bash" }]
"""
    text = range_text().replace('attacks = ["dart", "lob"]', 'attacks = ["dart", "lob", "bash", "hurl"]') + idle
    rules = ew.Rulebook.parse(text, "idle.toml")
    assert [warning.key for warning in rules.warnings] == [
        "attacks.bash",
        "attacks.tickle.damage",
        "attacks.burst.releases",
        "fighters.thrower.attacks",
        "templates.walls.spare",
    ]
    assert ew.Rulebook.parse(range_text()).warnings == ()
    (tmp_path / "idle.toml").write_text(text, encoding="utf-8")
    done = emberwound("run", "idle.toml", folder=tmp_path)
    assert done.returncode == 0 and done.stderr.count("warning: idle.toml: ") == 5
    assert "warning: idle.toml: attacks.bash: it does nothing" in done.stderr
    assert "a strikes with nothing: bash has no shot, ray, strike or blast" in " ".join(done.stdout.split())


LIMP = """
[blasts.keg]
kind = "ember"
damage = 500
radius = 4
push = { speed = 8, heading = "radial" }
[attacks.keg]
blast = "keg"
blast_at = [3, 1]
[fighters.straw]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 5, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
ragdoll = { points = { head = [0, 1.6], foot = [0, 0.2] }, links = [["head", "foot"]], radius = 0.1 }
"""


def test_the_blast_that_kills_pushes_each_point_by_its_own_distance() -> None:
    text = range_text().replace('attacks = ["dart", "lob"]', 'attacks = ["dart", "lob", "keg"]') + LIMP
    bout = ew.Bout(ew.Rulebook.parse(text), arena="range")
    bout.enter("thrower", seat="a", at=(0, 0)).order(press="keg")
    straw = bout.enter("straw", seat="straw", at=(5, 0))
    events = bout.step()
    assert only(ew.events.Died, events) and only(ew.events.Exploded, events)[0].position == (3, 1)
    limp = ragdoll_of(straw)
    assert limp is not None
    for name, (x, z) in limp.points.items():
        far = math.hypot(x - 3, z - 1)
        speed = 8 * (1 - far / 4)
        assert limp.velocities[name] == pytest.approx((speed * (x - 3) / far, speed * (z - 1) / far))


SPIKES = """
[fighters.walker]
body = { radius = 0.3, height = 1.8 }
speed = 3
pools.hearts = { max = 3, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.4], radius = 0.2 }
[arenas.range.hazards.spikes]
at = [3, 1]
size = [1, 2]
solid = true
kind = "ember"
damage = 1
rehit_every = 0.5
"""


def test_a_solid_hazard_wounds_whom_it_stops_and_throws_it_back() -> None:
    def walked(text: str, seconds: float) -> tuple[list[float], tuple[float, ...]]:
        bout = ew.Bout(ew.Rulebook.parse(range_text() + text), arena="range")
        walker = bout.enter("walker", at=(0, 0))
        walker.order(move=1)
        hits = [event.time for event in only(ew.events.Wounded, bout.advance(seconds))]
        return hits, walker.position or ()

    hits, place = walked(SPIKES, 1.2)
    assert hits[0] == pytest.approx(0.68, abs=0.05) and hits[1] - hits[0] == pytest.approx(0.5)
    assert place == pytest.approx((2.2, 0), abs=1e-3)  # its body of 0.3 stands at the face at 2.5
    assert walked(SPIKES.replace("solid = true", ""), 0.9)[1][0] == pytest.approx(2.7)  # nothing stops it
    thrown, place = walked(SPIKES + "push = { speed = 4, lift_deg = 30 }\n", 0.9)
    assert len(thrown) == 1 and place[0] < 2.1 and place[1] > 0.1
    shots = ew.Bout(ew.Rulebook.parse(range_text() + SPIKES), arena="range")
    shots.enter("thrower", at="line").order(press="dart")
    (ended,) = only(ew.events.ShotEnded, shots.advance(1))
    assert (ended.reason, ended.wall) == (ew.Reason.WALL, "spikes")
    for old, new, told in (
        ("size = [1, 2]", "radius = 1", "spikes.solid: true of what is no box"),
        ("solid = true", 'solid = true\npath = "way"\nspeed = 1', "spikes.path: the path of a wall"),
        (
            "[arenas",
            "[arenas.range.walls.spikes]\nat = [9, 1]\nsize = [1, 1]\n[arenas",
            'a solid hazard named "spikes"',
        ),
    ):
        with pytest.raises(ew.RulebookError, match=re.escape(told)):
            ew.Rulebook.parse(range_text() + SPIKES.replace(old, new, 1))


NETTLES = """
[fighters.walker]
body = { radius = 0.3, height = 1.8 }
speed = 3
pools.hearts = { max = 3, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
[arenas.range.hazards.nettles]
at = [3, 1]
size = [1, 2]
kind = "ember"
damage = 1
rehit_every = "leave"
leave_seconds = 0.3
"""


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_three_hearts_are_three_touches_of_what_counts_once_until_left(rate: int) -> None:
    bout = ew.Bout(ew.Rulebook.parse(range_text() + NETTLES), arena="range", tick_rate=rate)
    walker = bout.enter("walker", at=(1, 0))
    recorder = ew.Recorder(bout)

    def hurt_in(seconds: float, move: float) -> list[float]:
        walker.order(move=move)
        return [event.time for event in only(ew.events.Wounded, bout.advance(seconds))]

    assert hurt_in(0.5, 1) == [pytest.approx(0.4)]  # 1.2 away, the hurtbox 0.3 ahead of its middle
    saved = bout.snapshot()
    assert hurt_in(2, 0) == [], "it stands in them, and that is one touch"
    bout.restore(saved)
    assert hurt_in(2, 0) == []
    assert hurt_in(0.2, -1) == [] and hurt_in(0.2, 1) == [], "out for less than 0.3 s is not out"
    assert hurt_in(0.9, -1) == []
    assert len(hurt_in(1, 1)) == 1
    assert walker.pools == {"hearts": 1}
    hurt_in(2, 1)
    walker.order(move=-1)
    assert only(ew.events.Died, bout.advance(2)) and recorder.chronicle() is not None


FOUNTAIN = """
[arenas.range.pickups.fountain]
at = [3, 1]
size = [1, 2]
gives = { hearts = 1 }
returns_after = "leave"
leave_seconds = 0.3
"""


def test_a_pickup_that_stays_gives_once_until_it_was_left() -> None:
    bout = ew.Bout(ew.Rulebook.parse(range_text() + NETTLES.partition("[arenas")[0] + FOUNTAIN), arena="range")
    walker, other = bout.enter("walker", at=(1, 0)), bout.enter("walker", at=(5, 0))
    recorder = ew.Recorder(bout)
    for seat in (walker, other):
        seat.set_pool("hearts", 0.5)

    def taken_in(seconds: float, move: float) -> list[float]:
        walker.order(move=move)
        return [event.time for event in only(ew.events.PickedUp, bout.advance(seconds))]

    assert taken_in(0.5, 1) == [pytest.approx(0.4)] and walker.pools == {"hearts": 1.5}
    saved = bout.snapshot()
    assert taken_in(1, 0) == []
    bout.restore(saved)
    assert taken_in(1, 0) == [] and walker.pools == {"hearts": 1.5}
    assert taken_in(0.9, -1) == [] and len(taken_in(1, 1)) == 1 and walker.pools == {"hearts": 2.5}
    other.order(move=-1)  # it is there for others meanwhile
    assert [event.seat for event in only(ew.events.PickedUp, bout.advance(0.8))] == [other.name]
    assert recorder.chronicle() is not None


def test_a_strike_may_count_once_until_left() -> None:
    saw = """
[attacks.saw]
kind = "ember"
damage = 1
active = 3
[attacks.saw.strike]
rehit_every = "leave"
leave_seconds = 0.2
hitboxes.blade = { from = [0.5, 1], to = [1.5, 1], radius = 0.1 }
"""
    text = range_text().replace('attacks = ["dart", "lob"]', 'attacks = ["saw"]') + saw
    bout = ew.Bout(ew.Rulebook.parse(text), arena="range")
    bout.enter("thrower", seat="a", at=(0, 0)).order(press="saw")
    post = bout.enter("post", seat="post", at=(1, 0))
    times = [event.time for event in only(ew.events.Wounded, bout.advance(1))]
    for place in ((4, 0), (1, 0)):
        post.place(place, teleport=True)
        times += [event.time for event in only(ew.events.Wounded, bout.advance(0.5))]
    assert times == [0, pytest.approx(1.5)]
    with pytest.raises(ew.RulebookError, match=re.escape('rehit_every: "left"')):
        ew.Rulebook.parse(text.replace('"leave"', '"left"'))
    assert '"leave"' in str(ew.Rulebook.json_schema()["$defs"]["Strike"]).replace("'", '"')


GUN = """
[fighters.gunner]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
joints.shoulder = [0.1, 1.2]
attacks = ["rifle"]
[attacks.rifle]
kind = "ember"
damage = 1
shot = { radius = 0, speed = 20, gravity_share = 0, muzzle = { joint = "shoulder", offset = [0.5, 0.1], turns = true } }
[arenas.hall]
space = "3d"
floor = 0
bounds = { low = [-50, -50, 0], high = [50, 50, 50] }
[arenas.roof]
space = "top"
bounds = { low = [-50, -50], high = [50, 50] }
"""


def released(rules: ew.Rulebook, arena: str, facing: float | str, aim: tuple[float, ...] | None) -> ew.events.Released:
    """What a gunner at the origin releases, with a post 6 away on the x axis."""
    bout = ew.Bout(rules, arena=arena)
    zero = (0, 0) if arena != "hall" else (0, 0, 0)
    gunner = bout.enter("gunner", at=zero)
    bout.enter("post", at=(6, 0) if arena != "hall" else (6, 0, 0))
    gunner.order(facing=facing, aim=aim, press="rifle")  # type: ignore[arg-type]
    (found,) = only(ew.events.Released, bout.step())
    return found


def test_a_muzzle_turns_about_its_joint_with_the_aim_in_all_planes() -> None:
    rules = ew.Rulebook.parse(range_text() + GUN)
    level = released(rules, "range", "right", (1, 0))
    assert level.position == pytest.approx((0.6, 1.3))  # shoulder [0.1, 1.2] and [0.5, 0.1] from there
    up = released(rules, "range", "right", (0, 1))
    assert up.position == pytest.approx((0.0, 1.7))  # ahead is up, and up is back
    left = released(rules, "range", "left", (-1, 0))
    assert left.position == pytest.approx((-0.6, 1.3))
    around = released(rules, "roof", 90.0, (0, 1))
    assert around.position == pytest.approx((0, 0.6))
    steep = released(rules, "hall", 90.0, (0, 1, 1))
    root = math.sqrt(0.5)
    assert steep.position == pytest.approx((0, 0.1 + 0.5 * root - 0.1 * root, 1.2 + 0.5 * root + 0.1 * root))
    still = rules.edit({"attacks.rifle.shot.muzzle.turns": False})
    assert released(still, "range", "right", (0, 1)).position == pytest.approx((0.6, 1.3))


def test_shots_may_go_straight_at_the_nearest_foe_at_its_height() -> None:
    rules = ew.Rulebook.parse(range_text() + GUN).edit({"attacks.rifle.shot.direction": "foe"})
    shot = released(rules, "range", "foe", None)
    way = (6 - 0.1, 1 - 1.2)  # from the shoulder to the middle of a post 2 tall
    assert shot.velocity == pytest.approx(tuple(20 * each / math.hypot(*way) for each in way))
    alone = ew.Bout(rules, arena="range")
    alone.enter("gunner", at=(0, 0), facing="left").order(press="rifle")
    assert only(ew.events.Released, alone.step())[0].velocity == pytest.approx((-20, 0))
    for change, told in (
        (
            {"attacks.rifle.shot.muzzle.joint": "sholder"},
            'muzzle.joint: there is no joint of gunner "sholder"',
        ),
        ({"attacks.rifle.shot.muzzle.offset": [999, 9]}, "muzzle.offset: [999, 9]; gunner is 1.8 high"),
        ({"attacks.rifle.shot.muzzle.turn": True}, "shot.muzzle.turn: unknown key (did you mean 'turns'?)"),
        ({"attacks.rifle.shot.lift_deg": 5}, "lift_deg: 5 with an aim"),
    ):
        with pytest.raises(ew.RulebookError, match=re.escape(told)):
            rules.edit(change)


BARS = """
[fighters.hero]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.4], radius = 0.3 }
attacks = ["spark", "beam"]
bars = ["lives", "spark", "beam", "health"]
respawn_seconds = 0.5
[attacks.spark]
kind = "ember"
damage = 1
cooldown = 1
shot = { radius = 0, speed = 20, muzzle = [0.5, 1] }
[attacks.beam]
kind = "ember"
damage = 1
charge = { seconds = 2, damage = 3 }
ray = { muzzle = [0.5, 1], range = 9 }
[bars.lives]
shows = "lives"
style = "pips"
[bars.spark]
shows = "cooldown"
attack = "spark"
[bars.beam]
shows = "charge"
attack = "beam"
[bars.health]
pool = "health"
"""


def test_bars_show_lives_cooldowns_and_charges() -> None:
    bout = ew.Bout(ew.Rulebook.parse(range_text() + BARS), arena="range")
    hero = bout.enter("hero", at=(0, 0), lives=3)

    def shown() -> dict[str, tuple[float, float, str]]:
        return {each.bar: (each.value, each.share, each.text) for each in bout.view().bars if each.alive}

    bout.step()
    assert shown() == {"lives": (3, 1, "●●●"), "spark": (1, 1, ""), "beam": (0, 0, ""), "health": (9, 1, "")}
    hero.order(press="spark")
    bout.advance(0.5)
    assert shown()["spark"][1] == pytest.approx(0.5, abs=0.02)
    hero.order(hold="beam")
    bout.advance(1)
    assert shown()["beam"][1] == pytest.approx(0.5, abs=0.02) and shown()["spark"][1] == 1
    bout.advance(2)
    assert shown()["beam"][1] == 1
    hero.order(hold=())
    hero.hurt(99, "ember")
    bout.advance(1)
    value, share, text = shown()["lives"]
    assert (value, text) == (2, "●●○") and share == pytest.approx(2 / 3) and shown()["beam"][1] == 0
    endless = bout.enter("hero", seat="endless", at=(5, 0), lives="endless")
    bout.step()
    assert [each.text for each in bout.view().bars if each.seat == endless.name and each.bar == "lives"] == ["●"]


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ('shows = "lives"', 'shows = "lives"\npool = "health"', 'bars.lives.pool: "health"; a bar that shows "lives"'),
        ('pool = "health"', 'shows = "pool"', 'bars.health.pool: missing; required of a bar that shows "pool"'),
        ('shows = "lives"', 'shows = "live"', "did you mean 'lives'?"),
        ('attack = "spark"', 'attack = "sprk"', "did you mean 'spark'?"),
        ('attack = "beam"', 'attack = "spark"', "the charge of spark; attacks.spark has no charge"),
        ('attack = "spark"', 'attack = "beam"', "the cooldown of beam; attacks.beam has none"),
        ('attack = "spark"', 'attack = "dart"', "there is no attack of hero, as the bar spark shows"),
        ('style = "pips"', "trail = {}", "bars.lives.trail: a trail; only pools leave one"),
        ('style = "pips"', 'show = "after_change"', "only pools change at a time"),
    ],
)
def test_bars_that_show_what_is_not_there_are_refused(old: str, new: str, told: str) -> None:
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(range_text() + BARS.replace(old, new, 1))
