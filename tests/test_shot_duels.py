"""Shots that home, that can be destroyed, and that are sent back; strikes that are parried."""

from __future__ import annotations

import math
import re

import pytest

import emberwound as ew
from conftest import only, run

BOOK = """
[settings]
max_seats = 8
[kinds.ember]
[fighters.slinger]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 30, vital = true }}
hurtboxes.chest = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
attacks = ["stone", "dart", "bat", "beam", "pop"]
guard = {{ perfect = 0.2, arc_deg = 180, reflects = "{reflects}" }}
[[fighters.slinger.reactions]]
name = "open"
parried = true
seconds = 0.6
[attacks.stone]
kind = "ember"
damage = 10
shot = {{ radius = 0.2, speed = 6, gravity_share = 0, muzzle = [0.5, 1], health = 5{stone} }}
[attacks.dart]
kind = "ember"
damage = 2
shot = {{ radius = 0.1, speed = 6, gravity_share = 0, muzzle = [0.5, 1] }}
[attacks.bat]
kind = "ember"
damage = 3
active = 0.5
strike.hitboxes.wood = {{ from = [0.6, 1], radius = 0.5 }}
strike.reflects = {bat}
[attacks.beam]
kind = "ember"
damage = 4
ray = {{ range = 20, muzzle = [0.5, 1] }}
[attacks.pop]
blast = "pop"
blast_at = [3, 1]
[blasts.pop]
kind = "ember"
damage = 6
radius = 1
[arenas.yard]
gravity = 9.81
floor = 0
bounds = {{ low = [-50, 0], high = [50, 20] }}
[arenas.court]
space = "top"
bounds = {{ low = [-50, -50], high = [50, 50] }}
"""


def opened(
    rate: int = 60, *, reflects: str = "never", stone: str = "", bat: str = "false", arena: str = "yard"
) -> ew.Bout:
    return ew.Bout(ew.Rulebook.parse(BOOK.format(reflects=reflects, stone=stone, bat=bat)), arena=arena, tick_rate=rate)


def face_off(bout: ew.Bout, apart: float = 6.0) -> tuple[ew.Seat, ew.Seat]:
    return bout.enter("slinger", seat="a", at=(0, 0)), bout.enter("slinger", seat="b", at=(apart, 0), facing="left")


def time_of_homing(place: tuple[float, float], foe: tuple[float, float], reach: float) -> float:
    """When a shot of 6 a second along +x that turns 3 degrees each 30th of a second is so near to its foe."""
    heading, time, step = 0.0, 0.0, 1 / 3000
    while math.dist(place, foe) > reach:
        time += step
        if round(time / step) % 100 == 0:
            wanted = math.atan2(foe[1] - place[1], foe[0] - place[0])
            heading += max(min(wanted - heading, math.radians(3)), -math.radians(3))
        place = (place[0] + 6 * step * math.cos(heading), place[1] + 6 * step * math.sin(heading))
    return time


@pytest.mark.parametrize("rate", [24, 30, 60, 144])
def test_a_homing_shot_turns_thirty_times_a_second_to_the_nearest_foe_in_range(rate: int) -> None:
    bout = opened(rate, stone=", homing = { turn_deg = 90 }", arena="court")
    a = bout.enter("slinger", seat="a", at=(0, 0), facing=0.0)
    bout.enter("slinger", seat="b", at=(-2, 20), facing=0.0)
    a.order(press="stone")
    bout.advance(0.5)
    bout.step()
    (shot,) = bout.shots
    vx, vy = shot.view.velocity
    assert math.degrees(math.atan2(vy, vx)) == pytest.approx(45)  # 15 turns of 3 degrees
    assert math.hypot(vx, vy) == pytest.approx(6)
    events = bout.advance(6)
    (wound,) = only(ew.events.Wounded, events)
    assert (wound.seat, wound.shot) == ("b", 1)
    assert wound.time == pytest.approx(time_of_homing((0.5, 0), (-2, 20), 0.5), abs=1.5 / rate)
    near = opened(rate, stone=", homing = { turn_deg = 90, range = 5 }", arena="court")
    a = near.enter("slinger", seat="a", at=(0, 0), facing=0.0)
    near.enter("slinger", seat="b", at=(-2, 20), facing=0.0)
    a.order(press="stone")
    near.advance(1)
    assert list(near.shots[0].view.velocity) == [6, 0]


def test_a_homing_shot_follows_the_height_of_its_foe_and_comes_back_from_a_snapshot() -> None:
    bout = opened(stone=", homing = { turn_deg = 360 }")
    a = bout.enter("slinger", seat="a", at=(0, 10))
    bout.enter("slinger", seat="b", at=(9, 0))
    bout.enter("slinger", seat="mate", at=(2, 8), team="ours")
    a.order(press="stone")
    bout.advance(0.2)
    saved, twin = bout.snapshot(), opened(stone=", homing = { turn_deg = 360 }")
    twin.restore(saved)
    events = bout.advance(3)
    assert [wound.seat for wound in only(ew.events.Wounded, events)] == ["mate"]
    assert twin.advance(3) == events and twin.digest() == bout.digest()


def test_shots_strikes_rays_and_blasts_destroy_a_shot_that_can_be() -> None:
    bout = opened()
    a, b = face_off(bout)
    a.order(press="stone")
    b.order(press="dart")  # 5 apart at 12 a second, 0.3 of it their radii: at 4.7 / 12 = 0.3917 s
    events = bout.advance(0.5)
    (struck,) = only(ew.events.ShotStruck, events)
    assert struck.time == pytest.approx(4.7 / 12)
    assert (struck.seat, struck.by, struck.attack, struck.shot, struck.struck) == ("a", "b", "dart", 2, 1)
    assert (struck.amount, struck.left) == (2, 3) and bout.shots[0].view.health == 3
    (ended,) = only(ew.events.ShotEnded, events)
    assert (ended.shot, ended.reason, ended.seat, ended.cause) == (2, ew.Reason.HIT, "a", struck.seq)
    b.order(press="beam")
    events = bout.step()
    assert [(each.amount, each.left) for each in only(ew.events.ShotStruck, events)] == [(4, 0)]
    reasons = {each.shot: each.reason for each in only(ew.events.ShotEnded, events)}
    assert reasons == {1: ew.Reason.DESTROYED, 3: ew.Reason.HIT} and not bout.shots
    a.order(press="stone")
    bout.advance(0.3)
    b.order(press="pop")  # at (3, 1), of radius 1, evenly less; the stone's skin is 0.5 away
    events = bout.step()
    (popped,) = only(ew.events.ShotStruck, events)
    assert popped.attack == "pop" and popped.amount == pytest.approx(3)
    b.order(press="bat")
    a.order(press="stone")
    struck_by_bat = only(ew.events.ShotStruck, bout.advance(1.5))
    assert [(each.struck, each.left) for each in struck_by_bat] == [(4, 0)]  # it was down when the other one came


def test_a_swing_strikes_a_shot_once_and_two_that_can_be_destroyed_wear_each_other_down() -> None:
    bout = opened()
    a, b = face_off(bout, 2.6)
    a.order(press="stone")
    bout.advance(0.1)
    b.order(press="bat")
    events = bout.advance(0.1)
    (struck,) = only(ew.events.ShotStruck, events)
    assert (struck.hitbox, struck.amount, struck.left) == ("wood", 3, 2)
    assert struck.time == pytest.approx((2.6 - 1.6 + 0.0 - 0.0) / 6 - 0.0, abs=0.05)
    assert only(ew.events.Wounded, bout.advance(0.3))[0].seat == "b"
    bout = opened()
    a, b = face_off(bout)
    a.order(press="stone")
    b.order(press="stone")
    events = bout.advance(1)
    assert [(each.seat, each.amount, each.left) for each in only(ew.events.ShotStruck, events)] == [
        ("b", 10, 0),
        ("a", 10, 0),
    ]
    assert {each.reason for each in only(ew.events.ShotEnded, events)} == {ew.Reason.DESTROYED}
    assert not only(ew.events.Wounded, events)


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_a_perfect_guard_sends_a_shot_back_the_way_it_came(rate: int) -> None:
    bout = opened(rate, reflects="perfect")
    a, b = face_off(bout)
    a.order(press="dart")  # from 0.5 to the skin at 6 - 0.3 - 0.1: 5.1 at 6 a second
    bout.advance(0.8)
    b.order(hold="guard")
    events = bout.advance(2)
    (guarded,) = only(ew.events.Guarded, events)
    (back,) = only(ew.events.ShotReflected, events)
    (wound,) = only(ew.events.Wounded, events)
    assert (back.seat, back.by, back.cause, back.reflected_by, back.shot) == ("a", "b", guarded.seq, "guard", 1)
    assert back.time == pytest.approx(5.1 / 6) and list(back.velocity) == [-6, 0]
    assert (wound.seat, wound.by, wound.cause) == ("a", "b", back.seq)
    assert wound.time == pytest.approx(back.time + (5.6 - 0.4) / 6)
    late = opened(rate, reflects="perfect")
    a, b = face_off(late)
    b.order(hold="guard")
    late.advance(0.3)
    a.order(press="dart")
    events = late.advance(2)
    assert only(ew.events.Guarded, events) and not only(ew.events.ShotReflected, events)
    always = opened(rate, reflects="always")
    recorder = ew.Recorder(always)
    a, b = face_off(always)
    a.order(press="dart")
    always.advance(0.1)
    for seat in (a, b):
        seat.order(hold="guard")
    events = always.advance(4)
    assert [each.by for each in only(ew.events.ShotReflected, events)] == ["b", "a", "b", "a"]
    assert len(always.shots) == 1 and ew.rerun(recorder.chronicle()) == recorder.chronicle()


def test_two_guards_in_each_other_end_a_shot_instead_of_sending_it_to_and_fro_for_ever() -> None:
    bout = opened(reflects="always")
    a, b = bout.enter("slinger", seat="a", at=(20, 0), facing="left"), bout.enter("slinger", seat="b", at=(-20, 0))
    thrower = bout.enter("slinger", seat="c", at=(0, 0))
    for each in (a, b):
        each.order(hold="guard")
    thrower.order(press="dart", aim=(1, 0))
    run(bout, 0.4)
    (shot,) = bout.shots
    x, _ = shot.position
    a.place((x - 0.1, 0), teleport=True)
    b.place((x + 0.1, 0), teleport=True)
    told = [type(event).__name__ for event in bout.step()]
    assert told == ["Guarded", "ShotReflected"] * 2 + ["Guarded", "ShotEnded"]


def test_a_swing_that_meets_a_body_and_a_shot_of_one_number_at_one_time_judges_both() -> None:
    bout = opened(bat="true", arena="court")
    bout.enter("slinger", seat="a", at=(0.6, 0.6), facing="left")
    batter = bout.enter("slinger", seat="b", at=(0, 0))
    bout.enter("slinger", seat="c", at=(3, -0.3), facing="left").order(press="dart", aim=(-1, 0))
    bout.step()
    while bout.shots[0].position[0] > 0.7:
        bout.step()
    batter.order(press="bat")
    told = [type(event).__name__ for event in run(bout, 0.1)]
    assert told[:3] == ["AttackBegan", "ShotReflected", "Wounded"]


def test_a_strike_sends_shots_back_and_credit_follows() -> None:
    bout = opened(bat="true", reflects="never")
    a, b = face_off(bout, 3.0)
    a.order(press="stone")
    bout.advance(0.1)
    b.order(press="bat")
    saved, twin = bout.snapshot(), opened(bat="true", reflects="never")
    twin.restore(saved)
    events = bout.advance(1)
    (back,) = only(ew.events.ShotReflected, events)
    # the wood's ball of 0.5 about 2.4 and the stone's 0.2 from 0.5 on: they meet at 1.7
    assert back.position == pytest.approx((1.7, 1)) and back.time == pytest.approx(1.2 / 6)
    assert (back.reflected_by, back.by) == ("bat", "b") and list(back.velocity) == [-6, 0]
    (wound,) = only(ew.events.Wounded, events)
    assert (wound.by, wound.seat, wound.attack, wound.amount) == ("b", "a", "stone", 10)
    (swing,) = only(ew.events.SwingEnded, events)
    assert swing.touched == 1
    assert twin.advance(1) == events
    a.hurt(19.5, "ember")
    bout.step()
    bout.advance(1)
    a.order(press="stone")
    b.order(press="bat")
    (died,) = only(ew.events.Died, bout.advance(1))
    assert (died.seat, died.credit) == ("a", "b")


def test_a_perfect_moment_leaves_the_attacker_open() -> None:
    bout = opened()
    a, b = face_off(bout, 1.2)
    b.order(hold="guard")
    a.order(press="bat")
    events = bout.advance(0.3)
    (guarded,) = only(ew.events.Guarded, events)
    (began,) = only(ew.events.ReactionBegan, events)
    assert guarded.perfect and (began.seat, began.by, began.reaction, began.cause) == ("a", "b", "open", guarded.seq)
    (broken,) = only(ew.events.Interrupted, events)
    assert (broken.seat, broken.reason) == ("a", ew.Reason.PARRIED)
    a.order(press="bat")
    refused = only(ew.events.OrderRefused, bout.advance(0.2))
    assert [each.reason for each in refused] == [ew.Reason.REACTING]
    late = opened()
    a, b = face_off(late, 1.2)
    b.order(hold="guard")
    late.advance(0.3)
    a.order(press="bat")
    assert not only(ew.events.ReactionBegan, late.advance(0.5))  # a guard held long is no parry
    hit = opened()
    a, b = face_off(hit, 1.2)
    a.order(press="bat")
    assert not only(ew.events.ReactionBegan, hit.advance(0.5))  # nor is a hit on its owner


def test_a_blast_that_a_shot_sets_off_ends_another_once() -> None:
    text = BOOK.format(reflects="never", stone="", bat="false").replace("health = 5", "health = 5", 1)
    text = text.replace("damage = 10\n", 'damage = 10\nblast = "pop"\n', 1)
    bout = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    a, b = face_off(bout)
    mate = bout.enter("slinger", seat="m", at=(0, 0.4), team="ours")
    for seat in (a, b, mate):
        seat.order(press="stone")
    events = bout.advance(2)
    ended = [event.shot for event in only(ew.events.ShotEnded, events)]
    assert sorted(ended) == [1, 2, 3]


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("health = 5", "health = 0", "attacks.stone.shot.health"),
        ("health = 5", "health = 5, homing = { turn_deg = -1 }", "attacks.stone.shot.homing.turn_deg"),
        ("health = 5", "health = 5, homing = {}", "attacks.stone.shot.homing.turn_deg"),
        ('reflects = "never"', 'reflects = "often"', 'guard.reflects: "often"'),
        ("reflects = false", 'reflects = "yes"', "attacks.bat.strike.reflects"),
        ("parried = true", "parried = true\nguarded = true", "reactions[0].parried: true with guarded"),
        ("damage = 10", 'damage = 10\nlayers = ["shto"]', 'there is no hurtbox with the layer "shto"'),
    ],
)
def test_what_shots_and_guards_cannot_be_is_refused(old: str, new: str, told: str) -> None:
    text = BOOK.format(reflects="never", stone="", bat="false").replace(old, new, 1)
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(text)
