"""Seats with sizes and factors of their own, and fighters whose stages begin as a pool runs low."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import pytest

import emberwound as ew
from conftest import body_of, only, range_rules, range_text

if TYPE_CHECKING:
    from collections.abc import Callable

WAVE = """
[bouts.wave]
arena = "range"
seconds = 4
seats.a = { fighter = "thrower", at = [0, 0], damage_dealt = 1.5 }
seats.weak = { fighter = "post", at = [6, 0], pools = { health = 12, shield = 6 }, lives = 2 }
orders = [{ time = 0, seat = "a", press = "dart", every = 0.5 }]
"""


def test_a_seat_has_pools_and_factors_of_its_own_over_all_its_lives() -> None:
    rules = ew.Rulebook.parse(range_text(damage=8, respawn=0.5) + WAVE)
    chronicle = ew.run(rules, "wave")
    wounds = only(ew.events.Wounded, chronicle.events)
    # 8 × 1.5 = 12: the shield of 6, then 6 of 12 health; the second 6 more and 6 overkill; the next life again
    assert [wound.amount for wound in wounds[:2]] == [12, 12]
    assert [(step.rule, step.before, step.after, step.why) for step in wounds[0].ledger.steps[:2]] == [
        ("base", 8, 8, "ember damage of the attack"),
        ("damage_dealt", 8, 12, "a deals × 1.5"),
    ]
    assert [(loss.pool, loss.before, loss.after) for loss in wounds[0].ledger.losses] == [
        ("shield", 6, 0),
        ("health", 12, 6),
    ]
    first, second = only(ew.events.Died, chronicle.events)
    assert (first.overkill, first.life, second.life) == (6, 1, 2)
    assert [wound.vital_max for wound in wounds] == [12] * len(wounds)
    assert ew.rerun(chronicle) == chronicle
    assert [(each.pools, each.damage_dealt) for each in chronicle.inputs if isinstance(each, ew.records.Enter)] == [
        ({}, 1.5),
        ({"health": 12, "shield": 6}, 1),
    ]


def test_what_a_host_lets_enter_is_scaled_alike_and_restored() -> None:
    rules = range_rules(damage=8).edit({"fighters.thrower.speed": 2.0})

    def opened() -> ew.Bout:
        return ew.Bout(rules, arena="range")

    bout = opened()
    bout.enter("thrower", seat="a", at="line", damage_dealt=0.5, speed_share=0.5)
    post = bout.enter("post", seat="post", at=(6, 0), pools={"health": 12})
    assert post.pools == {"shield": 60, "health": 12} == body_of(post).pool_sizes
    bout.seat("a").order(press="dart", move=1)
    bout.advance(0.25)
    saved, twin = bout.snapshot(), opened()
    twin.restore(saved)
    events = bout.advance(1)
    assert [wound.amount for wound in only(ew.events.Wounded, events)] == [4]
    assert twin.advance(1) == events and twin.digest() == bout.digest()
    assert bout.seat("a").position == pytest.approx((1.25, 0))  # half of 2 a second for 1.25 s
    plain = opened()
    plain.enter("thrower", seat="a", at="line")
    other = plain.enter("post", seat="post", at=(6, 0))
    other.hurt(8, "ember", by="a")  # what its host gives is as the host says
    assert [wound.amount for wound in only(ew.events.Wounded, plain.step())] == [8]


@pytest.mark.parametrize(
    ("call", "told"),
    [
        (lambda bout: bout.enter("post", at=(5, 0), pools={"helth": 3}), "did you mean 'health'?"),
        (lambda bout: bout.enter("post", at=(5, 0), pools={"health": 0}), "pools: health: give a number above 0"),
        (lambda bout: bout.enter("post", at=(5, 0), pools=3), "pools: give a table of pools"),
        (lambda bout: bout.enter("post", at=(5, 0), damage_dealt=-1), "damage_dealt: give a number from 0 to 1e+09"),
        (lambda bout: bout.enter("post", at=(5, 0), speed_share=float("nan")), "speed_share: give a number from 0"),
    ],
)
def test_a_seat_that_cannot_be_so_does_not_enter(call: Callable[[ew.Bout], None], told: str) -> None:
    bout = ew.Bout(range_rules(), arena="range")
    before = bout.digest()
    with pytest.raises(ew.BoutError, match=re.escape(told)):
        call(bout)
    assert bout.digest() == before and bout.seats == ()


STAGES = """
[[fighters.post.stages]]
name = "roused"
below = 0.5
speed_share = 2
attacks = ["kick"]
[[fighters.post.stages]]
name = "cornered"
below = 0.25
damage_dealt = 3
[attacks.kick]
kind = "ember"
damage = 10
cooldown = 0.5
ray = { range = 20, muzzle = [0.6, 1] }
[attacks.nudge]
kind = "ember"
damage = 1
cooldown = 0.5
ray = { range = 20, muzzle = [0.6, 1] }
"""


def boss(rate: int = 60) -> tuple[ew.Bout, ew.Seat]:
    """A post of 100 health that nudges, and kicks once it is hurt; a thrower before it."""
    text = range_text(corpse=0.1, respawn=0.5).replace(
        "[fighters.post]", '[fighters.post]\nspeed = 1\nattacks = ["nudge"]'
    )
    bout = ew.Bout(ew.Rulebook.parse(text + STAGES), arena="range", tick_rate=rate)
    bout.enter("thrower", seat="a", at=(0, 0), pools={"health": 1000})
    pools = {"health": 100, "shield": 1e-6}
    return bout, bout.enter("post", seat="boss", at=(6, 0), facing="left", lives=2, pools=pools)


@pytest.mark.parametrize("rate", [30, 60, 144])
def test_stages_begin_as_a_pool_runs_low(rate: int) -> None:
    bout, post = boss(rate)
    post.order(hold=("nudge", "kick"))
    events = bout.advance(0.4)
    assert [wound.attack for wound in only(ew.events.Wounded, events)] == ["nudge"] and body_of(post).stage is None
    post.hurt(50, "ember", by="a")  # 50 of 100 are not less than half
    assert not only(ew.events.StageBegan, bout.advance(0.2))
    post.hurt(1, "ember", by="a")
    events = bout.advance(1)
    (wound, began) = (only(ew.events.Wounded, events)[0], only(ew.events.StageBegan, events)[0])
    assert (began.stage, began.seat, began.by, began.cause) == ("roused", "boss", "a", wound.seq)
    assert body_of(bout.seat("boss")).stage == "roused"
    assert {each.attack for each in only(ew.events.Wounded, events) if each.by == "boss"} == {"kick"}
    post.heal(40, "ember")  # what began stays for this life
    bout.advance(0.1)
    assert body_of(bout.seat("boss")).stage == "roused"
    post.order(press="nudge", hold=())
    (refused,) = only(ew.events.OrderRefused, bout.advance(1))
    assert refused.reason is ew.Reason.OTHER_STAGE
    post.hurt(70, "ember")
    bout.advance(0.1)
    post.order(press="kick")
    kicked = [each for each in only(ew.events.Wounded, bout.advance(1)) if each.attack == "kick"]
    assert [each.amount for each in kicked] == [30] and body_of(bout.seat("boss")).stage == "cornered"
    assert ("damage_dealt", "in stage cornered × 3") in [(step.rule, step.why) for step in kicked[0].ledger.steps]
    post.hurt(100, "ember")
    bout.advance(4)
    assert post.life == 2 and body_of(bout.seat("boss")).stage is None


@pytest.mark.parametrize("step", [ew.Bout.step, lambda bout: bout.advance(0.5)])
def test_a_stage_begins_when_a_host_sets_its_pool_in_a_quiet_bout_after_a_restore_too(
    step: Callable[[ew.Bout], list[ew.events.AnyEvent]],
) -> None:
    bout, post = boss()
    bout.advance(1)
    post.set_pool("health", 30)
    saved, (twin, _) = bout.snapshot(), boss()
    twin.restore(saved)
    for each in (bout, twin):
        began = only(ew.events.StageBegan, step(each))
        assert [(event.stage, event.tick) for event in began] == [("roused", 60)]


def test_a_blow_that_skips_a_stage_begins_the_last_one_and_one_that_kills_none() -> None:
    bout, post = boss()
    post.hurt(80, "ember")
    events = bout.step()
    assert [each.stage for each in only(ew.events.StageBegan, events)] == ["cornered"]
    saved = bout.snapshot()
    post.order(move=-1)
    bout.advance(0.5)
    x, _ = post.position or (0, 0)
    assert x == pytest.approx(5.5)  # cornered says nothing of speed: the walk is the fighter's own
    twin, _ = boss()
    twin.restore(saved)
    assert body_of(twin.seat("boss")).stage == "cornered" and twin.digest() != bout.digest()
    bout, post = boss()
    post.hurt(200, "ember")
    events = bout.step()
    assert only(ew.events.Died, events) and not only(ew.events.StageBegan, events)


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("below = 0.25", "below = 0.5", "stages[1].below: 0.5; an earlier stage begins at 0.5 already; list them"),
        ('"cornered"', '"roused"', 'stages[1].name: "roused" twice'),
        ('["kick"]', '["kik"]', "stages[0].attacks[0]: there is no attack \"kik\" (did you mean 'kick'?)"),
        ("below = 0.25", 'below = 0.25\npool = "mana"', 'stages[1].pool: there is no pool "mana"'),
        ("below = 0.5", "below = 1.5", "stages[0].below"),
    ],
)
def test_stages_that_cannot_be_are_refused(old: str, new: str, told: str) -> None:
    text = range_text().replace("[fighters.post]", '[fighters.post]\nattacks = ["nudge"]') + STAGES.replace(old, new, 1)
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(text)


@pytest.mark.parametrize(
    ("old", "new", "told"),
    [
        ("health = 12,", "helth = 12,", 'seats.weak.pools.helth: there is no pool of post "helth"'),
        ("health = 12,", "health = 0,", "seats.weak.pools.health"),
        ("damage_dealt = 1.5", "damage_dealt = -1", "seats.a.damage_dealt"),
    ],
)
def test_seats_that_cannot_be_so_are_refused(old: str, new: str, told: str) -> None:
    with pytest.raises(ew.RulebookError, match=re.escape(told)):
        ew.Rulebook.parse(range_text() + WAVE.replace(old, new, 1))
