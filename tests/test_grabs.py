"""Holding another body, throwing it, and what else ends a hold."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import body_of, only

if TYPE_CHECKING:
    from collections.abc import Callable

BOOK = """
[settings]
max_seats = 6
[kinds.grip]
[fighters.grappler]
body = {{ radius = 0.3, height = 1.8 }}
speed = 2
pools.health = {{ max = 100, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.3], to = [0, 1.5], radius = 0.3 }}
joints.hand = [0.7, 1.2]
attacks = ["clinch", "heave", "kick"]
guard = {{ arc_deg = 180 }}
respawn_seconds = 1
[attacks.clinch]
kind = "grip"
damage = 1
windup = 0.1
active = 0.1
recovery = 0.1
strike.hitboxes.arms = {{ from = [0.6, 1], radius = 0.4 }}
grab = {{ at = {at}, seconds = 1, break_damage = 5 }}
[attacks.heave]
kind = "grip"
damage = 12
windup = 0.2
recovery = 0.1
throw = true
push = {{ distance = 4, apex = 1 }}
[attacks.kick]
kind = "grip"
damage = 6
active = 0.1
strike.hitboxes.foot = {{ from = [0.6, 0.5], radius = 0.3 }}
[arenas.yard]
gravity = 9.81
floor = 0
body_contact = "{contact}"
bounds = {{ low = [-20, 0], high = [20, 10] }}
[arenas.yard.walls.post]
at = [3.5, 1.5]
size = [1, 3]
"""


def opened(
    rate: int = 60, *, at: str = "[0.6, 0.9]", contact: str = "separate", apart: float = 1.0
) -> tuple[ew.Bout, ew.Seat, ew.Seat]:
    rules = ew.Rulebook.parse(BOOK.format(at=at, contact=contact))
    bout = ew.Bout(rules, arena="yard", tick_rate=rate)
    return bout, bout.enter("grappler", seat="a", at=(0, 0)), bout.enter("grappler", seat="b", at=(apart, 0))


def held(rate: int = 60, at: str = "[0.6, 0.9]") -> tuple[ew.Bout, ew.Seat, ew.Seat, ew.events.Grabbed]:
    """A bout in which a holds b."""
    bout, a, b = opened(rate, at=at)
    a.order(press="clinch")
    (grabbed,) = only(ew.events.Grabbed, bout.advance(0.25))
    return bout, a, b, grabbed


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_who_is_grabbed_goes_where_its_holder_goes_until_the_time_is_over(rate: int) -> None:
    bout, a, b, grabbed = held(rate)
    # on from 0.1 s; a ball of 0.4 about 0.6 and a trunk of 0.3 about 1: they touch from the first moment on
    assert (grabbed.seat, grabbed.by, grabbed.attack) == ("b", "a", "clinch")
    assert grabbed.time == pytest.approx(0.1) and grabbed.until_tick == grabbed.tick + 1 + rate
    assert body_of(b).held_by == "a" and "held" in b.states and "holding" in a.states
    assert b.position == pytest.approx((0.6, 0))  # its middle is 0.9 up, so its feet are on the ground
    b.order(move=1, press="kick", hold="guard")
    a.order(move=-1)
    events = bout.advance(0.5)
    (x, _), (hx, _) = b.position or (0, 0), a.position or (0, 0)
    assert hx < -0.5 and x - hx == pytest.approx(-0.6)  # it turned round with what it holds
    (refused,) = only(ew.events.OrderRefused, events)
    assert (refused.seat, refused.reason) == ("b", ew.Reason.HELD)
    events = bout.advance(0.6)
    (ended,) = only(ew.events.GrabEnded, events)
    assert (ended.seat, ended.by, ended.reason) == ("b", "a", ew.Reason.TIME_OVER)
    assert ended.tick == grabbed.until_tick and "held" not in b.states
    before = b.position or (0, 0)
    bout.advance(0.5)
    assert (b.position or (0, 0))[0] > before[0] and "guarding" in b.states  # its orders count again


def test_who_is_held_at_a_joint_hangs_there_and_falls_when_let_go() -> None:
    bout, a, b, _ = held(at='"hand"')
    assert b.position == pytest.approx((0.7, 0.3)) and "airborne" in b.states
    events = bout.advance(1.2)
    assert only(ew.events.GrabEnded, events) and b.position == pytest.approx((0.7, 0))
    assert not only(ew.events.KnockedBack, events) and body_of(a).held_by is None


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_a_throw_lets_go_wounds_and_pushes(rate: int) -> None:
    bout, a, b, _ = held(rate)
    b.order(hold="guard")
    a.order(press="heave")
    events = bout.advance(2)
    (ended,) = only(ew.events.GrabEnded, events)
    (wound,) = only(ew.events.Wounded, events)
    (pushed,) = only(ew.events.KnockedBack, events)
    assert ended.reason is ew.Reason.THROWN and ended.cause == wound.cause and not only(ew.events.Guarded, events)
    assert (wound.attack, wound.amount, wound.hurtbox, wound.time) == ("heave", 12, "whole body", ended.time)
    assert pushed.cause == wound.seq and pushed.velocity[0] > 0
    bout, a, b, _ = held(rate)
    a.order(move=-1)  # away from the wall, to where nothing is in the way
    bout.advance(0.1)
    a.order(press="heave", move=0)
    (landed,) = only(ew.events.Landed, bout.advance(2.1))
    assert (a.position or (0, 0))[0] - 0.6 - landed.position[0] == pytest.approx(4)
    a.order(press="heave")
    refused = only(ew.events.OrderRefused, bout.advance(0.5))
    assert [each.reason for each in refused] == [ew.Reason.HOLDS_NOBODY]


def test_damage_ends_a_hold_as_does_a_knockback_a_death_a_leave_or_a_place() -> None:
    def ends(call: Callable[[ew.Bout, ew.Seat, ew.Seat], object]) -> list[tuple[str | None, str]]:
        bout, a, b, _ = held()
        call(bout, a, b)
        told = [(each.seat, each.reason.value) for each in only(ew.events.GrabEnded, bout.advance(0.3))]
        bout.advance(1.5)  # nothing is left of it
        return told

    assert ends(lambda bout, a, b: a.hurt(4.9, "grip")) == []
    assert ends(lambda bout, a, b: a.hurt(5, "grip")) == [("b", "wounded")]
    assert ends(lambda bout, a, b: b.hurt(50, "grip")) == []
    assert ends(lambda bout, a, b: b.push((3, 3))) == [("b", "knocked_back")]
    assert ends(lambda bout, a, b: a.push((3, 3))) == [("b", "knocked_back")]
    assert ends(lambda bout, a, b: b.place((5, 0))) == [("b", "placed")]
    assert ends(lambda bout, a, b: b.hurt(500, "grip")) == [("b", "victim_died")]
    assert ends(lambda bout, a, b: a.hurt(500, "grip")) == [("b", "owner_died")]
    assert ends(lambda bout, a, b: a.leave()) == [("b", "owner_left")]
    assert ends(lambda bout, a, b: b.leave()) == [("b", "owner_left")]
    bout = held()[0]
    third = bout.enter("grappler", seat="c", at=(-1, 0))
    third.order(press="kick")
    events = bout.advance(0.3)
    (wound,) = only(ew.events.Wounded, events)
    (ended,) = only(ew.events.GrabEnded, events)
    assert (ended.reason, ended.cause, ended.time) == (ew.Reason.WOUNDED, wound.seq, wound.time)


def test_nobody_is_bound_twice_and_a_guard_is_not_held() -> None:
    bout, a, b, _ = held()
    third = bout.enter("grappler", seat="c", at=(1.6, 0), facing="left")
    third.order(press="clinch")
    events = bout.advance(0.3)
    assert {(each.seat, each.by, each.reason) for each in only(ew.events.GrabFailed, events)} == {
        ("b", "c", ew.Reason.ALREADY_BOUND)
    }
    assert body_of(b).held_by == "a" and not only(ew.events.Grabbed, events)
    bout, a, b = opened()
    for seat in (a, b):
        seat.order(press="clinch")
    b.order(facing="left")
    events = bout.advance(0.3)
    assert [each.by for each in only(ew.events.Grabbed, events)] == ["a"]
    assert [each.by for each in only(ew.events.GrabFailed, events)] == ["b"]
    bout, a, b = opened()
    b.order(facing="left", hold="guard")
    a.order(press="clinch")
    events = bout.advance(0.3)
    assert only(ew.events.Guarded, events) and not only(ew.events.Grabbed, events)


def test_a_wall_stops_who_is_held() -> None:
    bout, a, b = opened(apart=1.0, contact="none")
    a.place((2.0, 0))
    b.place((2.6, 0))
    bout.step()
    a.order(press="clinch")
    bout.advance(0.3)
    a.order(move=1)
    bout.advance(0.5)
    (x, _), (hx, _) = b.position or (0, 0), a.position or (0, 0)
    assert hx == pytest.approx(2.7) and x == pytest.approx(2.7)  # a radius of 0.3 before the wall at 3
    a.place((2.25, 0))
    bout.advance(0.1)
    assert b.position == pytest.approx((2.7, 0)), "0.45 before its holder, who would hold it 0.6 before"
    bout.advance(0.5)
    b.order(move=-1)
    bout.advance(0.2)
    assert (b.position or (0, 0))[0] < 2.7  # it is not stuck in it


def test_holds_are_saved_recorded_and_digested() -> None:
    bout, a, *_ = held()
    saved, twin = bout.snapshot(), opened()[0]
    twin.restore(saved)
    a.order(move=1)
    twin.seat("a").order(move=1)
    assert twin.advance(2) == bout.advance(2) and twin.digest() == bout.digest()
    assert held()[0].digest() == held()[0].digest() != bout.digest()
    fresh, first, second = opened()
    recorder = ew.Recorder(fresh)
    first.order(press="clinch")
    fresh.advance(0.3)
    first.order(press="heave", move=-1)
    fresh.advance(2)
    chronicle = recorder.chronicle()
    assert only(ew.events.GrabEnded, chronicle.events) and ew.rerun(chronicle) == chronicle
    assert second.position is not None


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("seconds = 1,", "seconds = 0,", "attacks.clinch.grab.seconds"),
        ("at = [0.6, 0.9]", 'at = "hnd"', 'there is no joint of grappler "hnd" (did you mean'),
        ("at = [0.6, 0.9], ", "", "attacks.clinch.grab.at"),
        ("throw = true", "", "attacks.heave.damage: 12 with nothing to carry it"),
        ("throw = true", "throw = true\nray = { range = 3, muzzle = [0, 1] }", "attacks.heave: ray and throw"),
        ("windup = 0.1", "windup = 0.1\npush = { speed = 3 }", "attacks.clinch.grab: a grab and a push"),
        ("throw = true", "throw = true\ngrab = { at = [0, 0], seconds = 1 }", "attacks.heave.grab: a grab without"),
    ],
)
def test_grabs_that_cannot_be_are_refused(old: str, new: str, told: str) -> None:
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(BOOK.format(at="[0.6, 0.9]", contact="none").replace(old, new, 1))


def test_a_throw_is_asked_about_as_it_hits() -> None:
    rules = ew.Rulebook.parse(
        BOOK.format(at="[0.6, 0.9]", contact="none").replace(
            "1.5], radius = 0.3 }", "1.5], radius = 0.3, multiplier = 2 }"
        )
    )
    report = rules.wound("heave", "grappler")
    assert (report.hurtbox, report.ledger.amount) == ("whole body", 12)
    for circumstance in ({"hurtbox": "trunk"}, {"guarded": True}):
        with pytest.raises(ew.RulebookError, match="heave is a throw"):
            rules.wound("heave", "grappler", **circumstance)
    rows = [row for row in rules.wound_table() if row.attack == "heave"]
    assert {row.hurtbox for row in rows} == {"whole body"} and all(row.damage == 12 for row in rows)


def test_nobody_holds_itself_though_its_strike_hits_its_owner() -> None:
    text = BOOK.format(at="[0.6, 0.9]", contact="none").replace("windup = 0.1\nactive", "hits_owner = true\nactive")
    bout = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    a = bout.enter("grappler", seat="a", at=(0, 0))
    a.order(press="clinch")
    told = bout.advance(0.5)
    assert [each.seat for each in only(ew.events.Wounded, told)] == ["a"]
    assert not only(ew.events.Grabbed, told) and a.position == (0, 0)


@pytest.mark.parametrize("pushed", ["a", "b"])
def test_who_is_knocked_back_in_the_tick_of_a_grab_flies_and_is_not_held(pushed: str) -> None:
    bout, a, _ = opened()
    a.order(press="clinch")
    bout.advance(0.1)
    bout.seat(pushed).push((3 if pushed == "b" else -3, 3))
    told = bout.step()
    (failed,) = only(ew.events.GrabFailed, told)
    assert (failed.by, failed.seat, failed.reason) == ("a", "b", ew.Reason.KNOCKED_BACK)
    assert only(ew.events.KnockedBack, told) and not only(ew.events.Grabbed, told)
    bout.advance(0.2)
    (x, z) = bout.seat(pushed).position or (0, 0)
    assert abs(x - (1 if pushed == "b" else 0)) > 0.5 and z > 0.3


@pytest.mark.parametrize("let_go", [False, True])
def test_a_holder_is_credited_with_the_pit_it_carries_its_victim_into(let_go: bool) -> None:
    """For as long as it holds, and for `credit_seconds` after it let go."""
    pit = "hazards.pit = { at = [-6, 0], half_space = [-1, 0], fatal = true }"
    text = BOOK.format(at="[0.9, 0.9]", contact="none").replace(
        "seconds = 1, b", f"seconds = {2.4 if let_go else 9}, b"
    )
    text = text.replace("[settings]", "[settings]\ncredit_seconds = 0.5")
    text = text.replace("[arenas.yard]", f"[arenas.yard]\n{pit}", 1)
    bout = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    a, b = bout.enter("grappler", seat="a", at=(0, 0)), bout.enter("grappler", seat="b", at=(1, 0))
    a.order(press="clinch")
    bout.advance(0.25)
    a.order(move=-1)
    b.order(move=-1)
    died = only(ew.events.Died, bout.advance(4))[0]
    assert (died.seat, died.attack, died.by, died.credit) == ("b", "pit", None, "a")
    assert died.time > 2
