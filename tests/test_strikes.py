"""Strikes: what a turning blade touches and when, once a swing, traded, interrupted, followed, and kept off."""

from __future__ import annotations

from itertools import pairwise
from math import acos, degrees, hypot, radians
from random import Random
from typing import Any

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import Reason, events
from scenes_of_swings import Swings, judge

RATES = [30, 60, 144, 240]

ARENAS = {
    "side": "floor = 0\nbounds = { low = [-40, -1], high = [40, 20] }",
    "top": 'space = "top"\nbounds = { low = [-40, -40], high = [40, 40] }',
    "3d": 'space = "3d"\nfloor = 0\nbounds = { low = [-40, -40, -1], high = [40, 40, 20] }',
}
BOOK = """
[settings]
max_seats = 8
{settings}
[kinds.iron]
[kinds.claw]
[fighters.hewer]
attacks = ["hew", "jab", "duck", "flick"]
speed = 4
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 100, vital = true }}
joints.hand = [0.3, 1.0]
{fighter}
[fighters.hewer.hurtboxes]
trunk = {{ from = [0, 0.4], to = [0, 1.3], radius = 0.3 }}
brow = {{ from = [0, 1.6], radius = 0.2, multiplier = 2, layer = "brow" }}
[fighters.post]
body = {{ radius = 0.05, height = 2 }}
pools.health = {{ max = {post}, vital = true }}
hurtboxes.pole = {{ from = [0, 0], to = [0, 2], radius = 0.05 }}
[attacks.hew]
kind = "iron"
damage = 10
{hew}
[attacks.jab]
kind = "claw"
damage = 7
windup = 0.1
active = 0.1
recovery = 0.2
strike.hitboxes.fist = {{ from = [0.2, 1], to = [0.9, 1], radius = 0.1 }}
{jab}
[attacks.duck]
active = 0.5
{duck}
[attacks.flick]
kind = "iron"
damage = 1
shot = {{ radius = 0.05, speed = 20, gravity_share = 0, muzzle = [0.4, 1], direction = "facing" }}
[arenas.yard]
{arena}
"""
SWEEP = """windup = 0.2
active = 0.2
recovery = 0.3
strike.hitboxes.blade = { from = "hand", radius = 0.08, swing = { from_deg = 90, to_deg = -30, reach = 1.2 } }
"""
REACH = "strike.hitboxes.blade = { from = [0.2, 1], to = [1.2, 1], radius = 0.1 }"


def bout(space: str = "side", *, tick_rate: int = 60, walls: str = "", **parts: str) -> ew.Bout:
    figures = {"settings": "", "fighter": "", "post": "100", "hew": SWEEP, "jab": "", "duck": "", **parts}
    text = BOOK.format(arena=ARENAS[space] + "\n" + walls, **figures)
    return ew.Bout(ew.Rulebook.parse(text), arena="yard", tick_rate=tick_rate)


def pair(made: ew.Bout, apart: float = 1.3, *, victim: str = "hewer", **how: Any) -> tuple[ew.Seat, ew.Seat]:
    """Two that face each other."""
    tail = (0.0,) * (len(made.view().axes) - 1)
    amber = made.enter("hewer", seat="amber", at=(0, *tail))
    return amber, made.enter(victim, seat="reed", at=(apart, *tail), facing=how.get("facing", "left"))


def wounds(found: list[events.AnyEvent]) -> list[tuple[str | None, str | None, str, float]]:
    return [(event.seat, event.hitbox, event.hurtbox, event.amount) for event in only(events.Wounded, found)]


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_tip_at_40_units_a_second_does_not_pass_a_thin_post(tick_rate: int) -> None:
    hew = """active = 0.06
strike.hitboxes.tip = { from = [0, 1], radius = 0.02, swing = { from_deg = 60, to_deg = -60, inner = 1, reach = 1.2 } }
"""
    made = bout(tick_rate=tick_rate, hew=hew)
    amber, _ = pair(made, apart=1.1, victim="post")
    amber.order(press="hew")
    (wounded,) = only(events.Wounded, steps(made, tick_rate))
    assert radians(120) / 0.06 * 1.2 > 40
    angle = acos((1.1 - 0.05 - 0.02) / 1.2)
    assert wounded.time == pytest.approx(0.06 * (60 - degrees(angle)) / 120, abs=1e-9)
    assert wounded.position == pytest.approx((1.05, 1 + 1.2 * (1 - (1.03 / 1.2) ** 2) ** 0.5), abs=1e-6)


@pytest.mark.parametrize("turning", [True, False], ids=["turning", "carried"])
@pytest.mark.parametrize("boxes", [True, False], ids=["boxes", "capsules"])
def test_random_swings_agree_with_many_looks(turning: bool, boxes: bool) -> None:
    told = judge(Swings(2000, 11, turning=turning, boxes=boxes), 200)
    assert told["touched"] > 800
    assert (told["missed"], told["invented"]) == (0, 0)
    assert told["late"] < 1e-9


@pytest.mark.parametrize("space", ["side", "top", "3d"])
@pytest.mark.parametrize("facing", ["right", "left"])
def test_hitboxes_turn_with_the_joint_and_the_facing_in_every_plane(space: str, facing: Any) -> None:
    hew = SWEEP.replace("reach = 1.2", "reach = 1.2, tilt_deg = 90") if space == "top" else SWEEP
    made = bout(space, hew=hew + "poses.hand = [{ at = 0, offset = [0.3, 1] }, { at = 0.4, offset = [0.5, 1] }]\n")
    tail = (0.0,) * (len(made.view().axes) - 1)
    side = 1 if facing == "right" else -1
    amber = made.enter("hewer", seat="amber", at=(0, *tail), facing=facing)
    made.enter("post", seat="ahead", at=(side * 1.6, *tail))
    made.enter("post", seat="behind", at=(-side * 0.9, *tail))
    amber.order(press="hew")
    (wounded,) = only(events.Wounded, run(made, 1))
    assert wounded.seat == "ahead"
    assert 0.2 < wounded.time < 0.4


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_hitbox_is_on_for_its_exact_time_and_not_longer(tick_rate: int) -> None:
    hew = """windup = 0.1
active = 0.37
[attacks.hew.strike.hitboxes.blade]
from = [0.2, 1]
to = [1.2, 1]
radius = 0.1
on = [{ from = 0.13, until = 0.2 }, { from = 0.31, until = 0.47 }]
"""
    for walks_at, expected in ((0.0, 0.13), (0.25, 0.31), (0.5, None)):
        made = bout(tick_rate=tick_rate, hew=hew)
        amber, reed = pair(made, apart=9)
        amber.order(press="hew")
        found = run(made, walks_at)
        reed.place((1.3, 0), teleport=True)
        found += run(made, 2)
        assert [event.time for event in only(events.Wounded, found)] == (
            [] if expected is None else [pytest.approx(expected)]
        )
        (ended,) = only(events.SwingEnded, found)
        assert ended.touched == len(only(events.Wounded, found))


def test_a_swing_wounds_each_victim_once_and_leaves_owner_team_layers_and_the_dead_alone() -> None:
    made = bout(post="5")
    amber = made.enter("hewer", seat="amber", at=(0, 0), team="lamps")
    for seat, team in (("friend", "lamps"), ("foe", None), ("other", "tide")):
        made.enter("hewer", seat=seat, at=(1.3, 0), team=team)
    made.enter("post", seat="frail", at=(1.2, 0))
    amber.order(press="hew")
    found = run(made, 1)
    assert sorted(event.seat or "" for event in only(events.Wounded, found)) == ["foe", "frail", "other"]
    (ended,) = only(events.SwingEnded, found)
    assert (ended.touched, ended.cut_off, ended.by) == (3, False, "amber")
    amber.order(press="hew")
    assert sorted(event.seat or "" for event in only(events.Wounded, run(made, 1))) == ["foe", "other"]
    brows = bout(hew=SWEEP + 'layers = ["brow"]\nhits_allies = true\nhits_owner = true\n')
    amber, _ = pair(brows, apart=1.2)
    amber.order(press="hew")
    assert {hurtbox for _, _, hurtbox, _ in wounds(run(brows, 1))} == {"brow"}


@pytest.mark.parametrize("tick_rate", RATES)
@pytest.mark.parametrize(("every", "hits"), [(0.1, 5), (0.07, 7), (0.001, 490), ("1/7", 4)])
def test_a_victim_in_reach_is_hit_again_at_exact_times(tick_rate: int, every: object, hits: int) -> None:
    written = f'"{every}"' if isinstance(every, str) else every
    hew = f"windup = 0.1\nactive = 0.49\n{REACH}\nstrike.rehit_every = {written}\n"
    made = bout(tick_rate=tick_rate, hew=hew, post="1e9")
    amber, _ = pair(made, victim="post", apart=1)
    amber.order(press="hew")
    times = [event.time for event in only(events.Wounded, run(made, 1))]
    period = 1 / 7 if isinstance(every, str) else float(every)  # type: ignore[arg-type]
    assert len(times) == hits
    assert times[0] == pytest.approx(0.1)
    assert [late - early for early, late in pairwise(times)] == pytest.approx([period] * (len(times) - 1))


def test_the_first_hitbox_of_the_file_counts_of_those_that_touch_at_once() -> None:
    tip = 'tip = { from = [0.9, 1], to = [1.2, 1], radius = 0.1, damage = 25, kind = "claw", guard_class = "high" }'
    shaft = "shaft = { from = [0.2, 1], to = [1.2, 1], radius = 0.1 }"
    for boxes, expected in (((tip, shaft), ("tip", 25.0, "claw")), ((shaft, tip), ("shaft", 10.0, "iron"))):
        lines = "\n".join(f"strike.hitboxes.{box}" for box in boxes)
        made = bout(hew=f"active = 0.1\n{lines}\n")
        amber, _ = pair(made)
        amber.order(press="hew")
        (wounded,) = only(events.Wounded, run(made, 1))
        assert (wounded.hitbox, wounded.amount, wounded.kind) == expected


BLOWS = """windup = 0.5
active = 0.1
recovery = 0.2
strike.hitboxes.blade = { from = [0.2, 1], to = [1.2, 1], radius = 0.1 }
"""


@pytest.mark.parametrize("tick_rate", RATES)
@pytest.mark.parametrize(
    ("late", "trade_window", "both"),
    [(0.0, "1/30", True), (0.01, "1/30", True), (0.03, "1/30", True), (0.033, "1/30", True), (0.034, "1/30", False),
     (0.05, "1/30", False), (0.004, "0", False), (0.0, "0", True), (0.09, "0.1", True), (0.12, "0.1", False)],
)  # fmt: skip
@pytest.mark.parametrize("beats", ["kills", "interrupts"])
def test_a_later_blow_counts_within_the_trade_window_at_every_tick_rate(
    tick_rate: int, late: float, trade_window: str, both: bool, beats: str
) -> None:
    damage = "damage = 100" if beats == "kills" else "damage = 1"
    hew = BLOWS.replace("windup", f'interrupted_by = ["claw"]\n{damage.replace("100", "99")}\nwindup').replace(
        "0.5", f"{0.5 + late}"
    )
    jab = BLOWS.replace("windup", f"{damage}\nwindup")
    text = BOOK.format(
        settings=f'trade_window = "{trade_window}"', fighter="", post=100, duck="", arena=ARENAS["side"], hew="", jab=""
    )
    text = text.replace('kind = "iron"\ndamage = 10\n', f'kind = "iron"\n{hew}').replace(
        'kind = "claw"\ndamage = 7\nwindup = 0.1\nactive = 0.1\nrecovery = 0.2\n', f'kind = "claw"\n{jab}'
    )
    text = text.replace("strike.hitboxes.fist = { from = [0.2, 1], to = [0.9, 1], radius = 0.1 }\n", "")
    made = ew.Bout(ew.Rulebook.parse(text), arena="yard", tick_rate=tick_rate)
    amber, reed = pair(made)
    amber.order(press="hew")
    reed.order(press="jab")
    found = run(made, 2)
    told = {event.seat: event.time for event in only(events.Wounded, found)}
    assert told == pytest.approx({"amber": 0.5, "reed": 0.5 + late} if both else {"amber": 0.5})
    if beats == "interrupts":
        assert [(event.seat, event.reason) for event in only(events.Interrupted, found)] == [("amber", Reason.WOUNDED)]
        assert amber.states == ()
    else:
        assert not amber.alive


@pytest.mark.parametrize(("trade_window", "lands"), [(0, False), (0.002, False), (0.0023, True), (0.1, True)])
def test_a_moving_blade_trades_by_its_exact_time(trade_window: float, lands: bool) -> None:
    """It comes down 2.18 ms after the fist that breaks it off: less than a tick at any of these rates."""
    told = set()
    for tick_rate in RATES:
        hew = 'interrupted_by = ["claw"]\n' + SWEEP
        made = bout(tick_rate=tick_rate, hew=hew, settings=f"trade_window = {trade_window}")
        amber, reed = pair(made, apart=1.2)
        amber.order(press="hew")
        run(made, 1 / 6)
        reed.order(press="jab")
        told.add(tuple((event.by, round(event.time, 9)) for event in only(events.Wounded, run(made, 1))))
    ((fist, *blades),) = told
    assert fist == ("reed", round(1 / 6 + 0.1, 9))
    assert [time for _, time in blades] == pytest.approx([0.26884583] if lands else [])


@pytest.mark.parametrize("seed", range(6))
def test_everything_mirrored_gives_the_mirrored_hits(seed: int) -> None:
    def fight(side: int) -> list[tuple[Any, ...]]:
        made = bout(hew=SWEEP + "strike.rehit_every = 0.05\nlunge = { at = 0.1, seconds = 0.2, speed = 3 }\n")
        looks: Any = ("right", "left")[::side]
        seats = [
            made.enter("hewer", seat=f"s{n}", at=(side * (n * 0.7 + 0.11 * seed - 1), 0), facing=looks[n % 2])
            for n in range(4)
        ]
        found: list[events.AnyEvent] = []
        for turn in range(8):
            for number, seat in enumerate(seats):
                what = ("hew", "jab", None)[(turn * 3 + number * 5 + seed) % 3]
                seat.order(move=side * (((turn + number + seed) % 3) - 1) / 2, press=what)
            found += run(made, 0.2)
        return [
            (event.time, event.by, event.seat, event.hitbox, event.hurtbox, event.amount, side * event.position[0])
            for event in only(events.Wounded, found)
        ]

    right, left = fight(1), fight(-1)
    assert len(right) > 5
    assert right == left


def test_a_wound_of_a_kind_breaks_off_an_attack_and_its_windup() -> None:
    for interrupted, shots in (('["iron"]', 1), ('["claw"]', 0), ("[]", 0)):
        made = bout(hew=f"interrupted_by = {interrupted}\nwindup = 1\nactive = 0.1\n{REACH}\n", fighter="")
        amber, reed = pair(made, apart=3)
        amber.order(press="hew")
        reed.order(press="flick")
        found = run(made, 0.5)
        assert len(only(events.Interrupted, found)) == shots
        assert only(events.SwingEnded, found) == [], "no hitbox had come on"
        assert ("hew" in amber.states) == (shots == 0)


CHAIN = (
    SWEEP
    + """cancels.duck = { from = 0.05, until = 0.15 }
follow_ups.jab = { press = "hew", from = 0.45, until = 0.6 }
"""
)


def begun(found: list[events.AnyEvent]) -> list[tuple[str, float, str | None]]:
    return [(event.attack, round(event.time, 4), event.follows) for event in only(events.AttackBegan, found)]


@pytest.mark.parametrize(
    ("press", "at", "expected", "refused"),
    [
        ("hew", 0.1, ("jab", 0.45, "hew"), None),
        ("hew", 0.5, ("jab", 0.5, "hew"), None),
        ("hew", 0.65, ("hew", 0.7, None), None),
        ("hew", 0.601, None, Reason.ATTACKING),
        ("jab", 0.3, None, Reason.ATTACKING),
        ("duck", 0.1, ("duck", 0.1, "hew"), None),
        ("duck", 0.0, ("duck", 0.05, "hew"), None),
        ("duck", 0.2, None, Reason.ATTACKING),
    ],
)
def test_follow_ups_and_cancels_begin_in_their_time(
    press: str, at: float, expected: tuple[str, float, str | None] | None, refused: Reason | None
) -> None:
    made = bout(hew=CHAIN, settings="buffer = 0.06")
    amber, _ = pair(made, apart=9)
    amber.order(press="hew")
    made.step()
    found = run(made, max(at - 1 / 60, 0.0))
    amber.order(press=press)
    found += run(made, 2)
    assert begun(found) == ([] if expected is None else [expected])
    assert [event.reason for event in only(events.OrderRefused, found)] == ([refused] if refused else [])
    told = only(events.Interrupted, found)
    assert [event.reason for event in told] == ([Reason.FOLLOWED] if expected and expected[2] else [])


def test_a_press_that_waits_to_follow_does_not_wait_longer_when_the_attack_is_broken_off() -> None:
    made = bout(hew='interrupted_by = ["iron"]\n' + CHAIN, settings="buffer = 0.05")
    amber, reed = pair(made, apart=2.5)
    amber.order(press="hew")
    found = run(made, 0.05)
    amber.order(press="hew")
    reed.order(press="flick")
    found += run(made, 1)
    assert [name for name, _, _ in begun(found)] == ["hew", "flick", "hew"]
    (broken,) = [event for event in only(events.Interrupted, found) if event.reason is Reason.WOUNDED]
    again = [event for event in only(events.AttackBegan, found) if event.attack == "hew"][-1]
    assert broken.time < again.time < broken.time + 0.1


ROLL = "invulnerable = [{ until = 0.3 }]\nlunge = { seconds = 0.3, speed = 2 }\n"


def test_a_dodge_is_an_attack_without_hitboxes_and_cannot_be_hurt_in_its_time() -> None:
    made = bout(duck="invulnerable = [{ until = 0.3 }]\n", hew=f"windup = 0.1\nactive = 0.3\n{REACH}\n")
    amber, reed = pair(made)
    amber.order(press="hew")
    reed.order(press="duck")
    (wounded,) = only(events.Wounded, run(made, 1))
    assert wounded.time == pytest.approx(0.3), "the swing was not spent on it"
    shot = bout(duck=ROLL)
    amber, reed = pair(shot, apart=3)
    amber.order(press="flick")
    reed.order(press="duck")
    found = run(shot, 1)
    assert only(events.Wounded, found) == []
    assert Reason.HIT not in [event.reason for event in only(events.ShotEnded, found)]
    assert reed.position == pytest.approx((2.4, 0))


@pytest.mark.parametrize(
    ("order", "hit"),
    [
        ({"facing": "left"}, "brow"),
        ({"hold": "crouching"}, None),
        ({"press": "duck"}, None),
        ({"hold": ("crouching", "guard")}, None),
    ],
)
def test_hurtboxes_are_off_in_postures_and_in_windows_of_an_attack(order: dict[str, Any], hit: str | None) -> None:
    fighter = "postures.crouching = { speed_share = 0.5, joints = { hand = [0.3, 0.5] } }\nguard = { arc_deg = 1 }"
    text = BOOK.format(
        settings="", fighter=fighter, post=100, jab="", arena=ARENAS["side"], hew=SWEEP + 'layers = ["brow"]\n',
        duck="hurtboxes_off = { brow = [{ until = 0.5 }] }\n",
    ).replace('layer = "brow" }', 'layer = "brow", postures = ["standing", "airborne"] }')  # fmt: skip
    made = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    amber, reed = pair(made)
    amber.order(press="hew")
    reed.order(**order)
    found = run(made, 0.5)
    assert [hurtbox for _, _, hurtbox, _ in wounds(found)] == ([hit] if hit else [])
    if "crouching" in str(order):
        assert "crouching" in reed.states
        reed.order(move=-1)
        before = reed.position
        run(made, 0.5)
        assert before and reed.position and before[0] - reed.position[0] == pytest.approx(1.0, abs=0.1)
        reed.order(hold=())
        made.step()
        assert "crouching" not in reed.states


def test_a_wall_blocks_a_strike_where_the_book_says_so_and_says_so_once() -> None:
    walls = "walls.fence = { at = [0.7, 1.5], size = [0.1, 3] }"
    for rule, told in (("pass", 0), ("block", 1)):
        made = bout(walls=walls, hew=f'windup = 0.1\nactive = 0.3\n{REACH}\nstrike.on_wall = "{rule}"\n')
        amber, _ = pair(made, apart=1.3)
        amber.order(press="hew")
        found = run(made, 1)
        assert len(only(events.Wounded, found)) == 1 - told
        assert [(event.wall, event.seat) for event in only(events.StrikeBlocked, found)] == [("fence", "reed")] * told


@pytest.mark.parametrize(("facing", "guarded"), [("left", True), ("right", False)])
def test_a_strike_comes_from_its_owners_body_and_a_guarded_one_is_spent(facing: Any, guarded: bool) -> None:
    made = bout(fighter="guard = { arc_deg = 90, damage_share = 0.3 }")
    amber, reed = pair(made, facing=facing)
    amber.order(press="hew")
    reed.order(hold="guard")
    found = run(made, 1)
    (wounded,) = only(events.Wounded, found)
    assert wounded.amount == pytest.approx((0.3 if guarded else 1.0) * (20 if wounded.hurtbox == "brow" else 10))
    assert [event.hitbox for event in only(events.Guarded, found)] == (["blade"] if guarded else [])


@pytest.mark.parametrize("tick_rate", RATES)
def test_held_strikes_keep_their_cadence(tick_rate: int) -> None:
    made = bout(tick_rate=tick_rate, hew=f"windup = 0.07\nactive = 0.1\nrate = 3\n{REACH}\n", post="1e6")
    amber, _ = pair(made, victim="post", apart=1)
    amber.order(hold="hew")
    times = [event.time for event in only(events.Wounded, steps(made, 4 * tick_rate))]
    assert [late - early for early, late in pairwise(times)] == pytest.approx([1 / 3] * 11)


def test_charges_and_falloff_go_with_strikes() -> None:
    charge = f"charge = {{ seconds = 0.5, damage = 3 }}\nactive = 0.1\n{REACH}\nfalloff = {{ near = 0.5, far = 1.5 }}\n"
    made = bout(hew=charge)
    amber, _ = pair(made, victim="post", apart=1)
    amber.order(hold="hew")
    run(made, 1)
    amber.order(hold=())
    (wounded,) = only(events.Wounded, run(made, 1))
    assert wounded.amount == pytest.approx(30 * (1.5 - 1.0)), "the blade comes on about the post, 1 away"


def test_a_strike_mends_its_own_team() -> None:
    text = BOOK.format(settings="", fighter="", post=100, jab="", duck="", arena=ARENAS["side"], hew=SWEEP)
    made = ew.Bout(ew.Rulebook.parse(text.replace("damage = 10", "heal = 10\nhits_allies = true")), arena="yard")
    amber = made.enter("hewer", seat="amber", at=(0, 0), team="lamps")
    friend = made.enter("hewer", seat="friend", at=(1.3, 0), team="lamps")
    made.enter("hewer", seat="foe", at=(2.2, 0), facing="left").order(press="jab")
    run(made, 0.5)
    assert friend.pools["health"] == 93
    amber.order(press="hew")
    (healed,) = only(events.Healed, run(made, 1))
    assert (healed.seat, healed.hitbox, friend.pools["health"]) == ("friend", "blade", 100)


def test_the_first_touch_lies_where_a_circle_round_the_hand_meets_the_side() -> None:
    made = bout(hew=SWEEP.replace("reach = 1.2", "inner = 1.199, reach = 1.2"))
    amber, _ = pair(made, victim="post", apart=1.4)
    amber.order(press="hew")
    (wounded,) = only(events.Wounded, run(made, 1))
    across = 1.4 - 0.3 - 0.05 - 0.08
    angle = acos(across / 1.2)
    assert wounded.time == pytest.approx(0.2 + 0.2 * (90 - degrees(angle)) / 120, abs=1e-6)
    assert hypot(across, wounded.position[1] - 1.0) == pytest.approx(1.2, abs=1e-6)


def test_what_stands_still_and_just_touches_is_not_struck() -> None:
    for apart, struck in ((1.25, 0), (1.249, 1)):
        made = bout(hew="active = 0.1\nstrike.hitboxes.blade = { from = [0.5, 1], radius = 0.7 }\n")
        amber, _ = pair(made, apart=apart, victim="post")
        amber.order(press="hew")
        assert len(only(events.Wounded, run(made, 0.3))) == struck


EVERY_RATE = [30, 37, 60, 144, 240, 1000]


@pytest.mark.parametrize("tick_rate", EVERY_RATE)
@pytest.mark.parametrize("facing", ["right", "left"])
def test_a_thrust_out_and_back_within_a_tick_hits_at_its_exact_time(tick_rate: int, facing: Any) -> None:
    hew = """active = 0.3
strike.hitboxes.tip = { from = "hand", radius = 0.1 }
poses.hand = [{ at = 0.1, offset = [0.2, 1] }, { at = 0.11, offset = [1.2, 1] }, { at = 0.12, offset = [0.2, 1] }]
"""
    made = bout(tick_rate=tick_rate, hew=hew)
    amber = made.enter("hewer", seat="amber", at=(0, 0), facing=facing)
    made.enter("post", seat="reed", at=(1.1 if facing == "right" else -1.1, 0))
    amber.order(press="hew")
    found = run(made, 0.5)
    (wounded,) = only(events.Wounded, found)
    assert wounded.time == pytest.approx(0.1 + 0.01 * (1.1 - 0.05 - 0.1 - 0.2) / (1.2 - 0.2), abs=1e-9)
    (ended,) = only(events.SwingEnded, found)
    assert (ended.touched, ended.tick) == (1, -(-3 * tick_rate // 10))


@pytest.mark.parametrize("seed", range(12))
def test_what_hangs_on_posed_joints_hits_at_the_same_times_at_every_rate(seed: int) -> None:
    rng = Random(seed)

    def places(count: int) -> str:
        times = sorted(rng.sample(range(1, 299), count))
        return ", ".join(
            f"{{ at = {time / 1000}, offset = [{rng.uniform(-0.2, 1.3):.3f}, {rng.uniform(0.2, 1.8):.3f}] }}"
            for time in times
        )

    shape = [
        'to = "tip", radius = 0.05',
        "size = [0.1, 0.2], turn_deg = 30",
        "radius = 0.05, swing = { from_deg = 90, to_deg = -60, inner = 0.1, reach = 0.3 }",
    ][seed % 3]
    hew = f"""windup = 0.013
active = 0.28
strike.hitboxes.blade = {{ from = "hand", {shape} }}
strike.hitboxes.brand = {{ from = "hand", radius = 0.02, on = [{{ from = 0.05, until = 0.06 }}, {{ from = 0.063, until = 0.1 }}] }}
strike.rehit_every = 0.05
poses.hand = [{places(9)}]
poses.tip = [{places(9)}]
"""  # noqa: E501
    told = []
    for tick_rate in EVERY_RATE:
        made = bout(tick_rate=tick_rate, hew=hew, fighter="joints.tip = [0.3, 1.2]")
        amber, _ = pair(made, apart=0.9, victim="post")
        amber.order(press="hew")
        found = run(made, 0.5)
        told.append([(event.hitbox, round(event.time, 6)) for event in only(events.Wounded, found)])
    assert len(told[0]) >= 2
    assert all(each == told[0] for each in told)


def test_a_frozen_blade_stands_still_and_goes_on_where_it_stood() -> None:
    slow = "hit_stop = 0.2\n" + SWEEP
    made = bout(hew=slow)
    amber, _ = pair(made)
    amber.order(press="hew")
    found: list[events.AnyEvent] = []
    while not only(events.Wounded, found):
        found += made.step()
    tips = []
    for _ in range(14):
        tips.append(made.view().body("amber").hitboxes["blade"].b)
        made.step()
    assert tips[:12] == [tips[0]] * 12
    free = bout(hew=SWEEP)
    amber = free.enter("hewer", seat="amber", at=(0, 0))
    amber.order(press="hew")
    while free.tick < found[-1].tick + 2:
        free.step()
    assert tips[13] == pytest.approx(free.view().body("amber").hitboxes["blade"].b)


def test_a_wall_that_the_striker_stands_in_keeps_nobody_from_it() -> None:
    walls = "walls.fence = { at = [0, 1.5], size = [1, 3] }"
    made = bout(walls=walls, hew=f'active = 0.3\n{REACH}\nstrike.on_wall = "block"\n')
    amber = made.enter("hewer", seat="amber", at=(-2, 0))
    made.enter("hewer", seat="reed", at=(1.3, 0))
    amber.place((0, 0), teleport=True)
    made.step()
    amber.order(press="hew")
    assert [event.seat for event in only(events.Wounded, run(made, 0.5))] == ["reed"]


def test_a_reaction_that_locks_attacks_lets_a_press_wait_no_longer_than_any() -> None:
    table = '[[fighters.hewer.reactions]]\nname = "stun"\nseconds = 0.6\n'
    made = bout(hew=CHAIN, settings="buffer = 0.05", fighter=table)
    amber, reed = pair(made, apart=2.5)
    amber.order(press="hew")
    found = run(made, 0.05)
    amber.order(press="hew")
    reed.order(press="flick")
    found += run(made, 0.5)
    (refused,) = only(events.OrderRefused, found)
    (broken,) = only(events.Interrupted, found)
    assert (refused.seat, refused.reason) == ("amber", Reason.REACTING)
    assert broken.time < refused.time < broken.time + 0.1
