"""The arithmetic of a wound: worked by hand, and what holds for all of them."""

from __future__ import annotations

from dataclasses import replace
from decimal import ROUND_HALF_UP, Decimal
from math import cos, sin
from typing import TYPE_CHECKING, Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import emberwound as ew
from conftest import range_rules, range_text
from emberwound.combat.hit import resolve
from emberwound.combat.pools import refilled, resized, seconds_until
from emberwound.combat.terms import (
    BodyStats,
    Circumstance,
    FalloffTerms,
    GuardTerms,
    HurtboxTerms,
    OwnStep,
    PoolTerms,
    WoundRules,
    WoundTerms,
)
from emberwound.combat.wound import angle_from_front, covers, rounded, stop

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.vocabulary.ledger import Ledger

HEALTH, SHIELD, PLATE = PoolTerms("health", 90, 90), PoolTerms("shield", 60, 60), PoolTerms("plate", 20, 20)
BODY = BodyStats((HEALTH, SHIELD, PLATE), vital=0)
CHEST, HEAD = HurtboxTerms("chest", 1.0, (1, 0)), HurtboxTerms("head", 1.5, (1, 0))
BARE, PLATED = HurtboxTerms("bare", 1.0, (0,)), HurtboxTerms("plated", 0.5, (2, 1, 0))
EMBER, FULL = WoundTerms(12, "ember"), (90.0, 60.0, 20.0)
DOUBLE = replace(BODY, pools=(HEALTH, replace(SHIELD, share=2.0), PLATE))
HALF = replace(BODY, pools=(HEALTH, replace(SHIELD, share=0.5), PLATE))
PASSED = replace(BODY, pools=(HEALTH, replace(SHIELD, share=0.0), PLATE))
TIGHT = replace(BODY, pools=(HEALTH, replace(SHIELD, overflow=False), PLATE))
MIXED = replace(BODY, pools=(HEALTH, replace(SHIELD, share=0.5), replace(PLATE, share=4.0)))
COMBO, WHOLE = WoundRules(combo_shares=(1.0, 0.8, 0.5)), WoundRules(whole_points=True)
FALLOFF = replace(EMBER, falloff=FalloffTerms(2, 10, 0.25))
STORM = WoundRules(steps=(OwnStep("storm", lambda amount, context: amount + (5 if context.distance > 3 else 0), "1"),))


def hit(**figures: Any) -> Circumstance:
    return Circumstance("flare", "wader", **figures)


def points(amount: float) -> WoundTerms:
    return WoundTerms(amount, "ember")


Case = tuple[WoundTerms, HurtboxTerms, BodyStats, "Sequence[float]", WoundRules, Circumstance, str, str]
PLAIN, HIT = WoundRules(), hit()
WORKED: list[Case] = [
    # the hurtbox: 12 on the body, 12 x 1.5 = 18 on the head, 0 where nothing is taken
    (EMBER, BARE, BODY, FULL, PLAIN, HIT, "base 12, hurtbox 12, pool health 0", "78 60 20"),
    (EMBER, HEAD, BODY, FULL, PLAIN, HIT, "base 12, hurtbox 18, pool shield 0, pool health 0", "90 42 20"),
    (EMBER, replace(BARE, multiplier=0.0), BODY, FULL, PLAIN, HIT, "base 12, hurtbox 0, pool health 0", "90 60 20"),
    # shield first: 75 = 60 + 15; then 75 on 75: dead exactly, no overkill; 80 on 75: 5 over
    (points(75), CHEST, BODY, FULL, PLAIN, HIT, "base 75, hurtbox 75, pool shield 15, pool health 0", "75 0 20"),
    (points(75), CHEST, BODY, (75, 0, 0), PLAIN, HIT, "base 75, hurtbox 75, pool shield 75, pool health 0", "0 0 0"),
    (points(80), CHEST, BODY, (75, 0, 0), PLAIN, HIT, "base 80, hurtbox 80, pool shield 80, pool health 5, overkill 0", "0 0 0"),
    # after death all is overkill, but what a shield still holds
    (points(10), BARE, BODY, (0, 0, 0), PLAIN, HIT, "base 10, hurtbox 10, pool health 10, overkill 0", "0 0 0"),
    (points(10), CHEST, BODY, (0, 4, 0), PLAIN, HIT, "base 10, hurtbox 10, pool shield 6, pool health 6, overkill 0", "0 0 0"),
    # zero damage is legal
    (points(0), CHEST, BODY, FULL, PLAIN, HIT, "base 0, hurtbox 0, pool shield 0, pool health 0", "90 60 20"),
    # falloff 1 to .25 between 2 and 10: whole at 2, 1 - .75 x 4/8 = .625 at 6, .25 from 10 on
    (FALLOFF, BARE, BODY, FULL, PLAIN, hit(distance=2.0), "base 12, hurtbox 12, pool health 0", "78 60 20"),
    (FALLOFF, BARE, BODY, FULL, PLAIN, hit(distance=6.0), "base 7.5, hurtbox 7.5, pool health 0", "82.5 60 20"),
    (FALLOFF, BARE, BODY, FULL, PLAIN, hit(distance=10.0), "base 3, hurtbox 3, pool health 0", "87 60 20"),
    (FALLOFF, BARE, BODY, FULL, PLAIN, hit(distance=500.0), "base 3, hurtbox 3, pool health 0", "87 60 20"),
    # charge x 2, before the hurtbox: 12 x 2 x 1.5 = 36
    (EMBER, HEAD, BODY, FULL, PLAIN, hit(charge=2.0), "base 12, charge 24, hurtbox 36, pool shield 0, pool health 0", "90 24 20"),
    (EMBER, BARE, BODY, FULL, PLAIN, hit(charge=0.5), "base 12, charge 6, hurtbox 6, pool health 0", "84 60 20"),
    # wounds in a row: the 1st whole, the 2nd x .8 = 9.6, the 3rd x .5 = 6, and so the 9th
    (EMBER, BARE, BODY, FULL, COMBO, hit(combo_count=0), "base 12, hurtbox 12, pool health 0", "78 60 20"),
    (EMBER, BARE, BODY, FULL, COMBO, hit(combo_count=1), "base 12, scaling 9.6, hurtbox 9.6, pool health 0", "80.4 60 20"),
    (EMBER, BARE, BODY, FULL, COMBO, hit(combo_count=2), "base 12, scaling 6, hurtbox 6, pool health 0", "84 60 20"),
    (EMBER, BARE, BODY, FULL, COMBO, hit(combo_count=8), "base 12, scaling 6, hurtbox 6, pool health 0", "84 60 20"),
    # labels: x 2 against the tide; two that fit multiply, 12 x 2 x 1.5 = 36; one that does not fit is no step
    (replace(EMBER, against=(("tide", 2.0),)), BARE, replace(BODY, labels=frozenset({"tide"})), FULL, PLAIN, HIT,
     "base 12, hurtbox 12, labels 24, pool health 0", "66 60 20"),
    (replace(EMBER, against=(("tide", 2.0), ("old", 1.5))), BARE, replace(BODY, labels=frozenset({"old", "tide"})), FULL, PLAIN, HIT,
     "base 12, hurtbox 12, labels 24, labels 36, pool health 0", "54 60 20"),
    (replace(EMBER, against=(("tide", 2.0),)), BARE, BODY, FULL, PLAIN, HIT, "base 12, hurtbox 12, pool health 0", "78 60 20"),
    # guard: 30 % of 12 x 1.5 passes, 5.4; nothing passes at 0
    (EMBER, HEAD, BODY, FULL, PLAIN, hit(guard_share=0.3), "base 12, hurtbox 18, guard 5.4, pool shield 0, pool health 0", "90 54.6 20"),
    (EMBER, BARE, BODY, FULL, PLAIN, hit(guard_share=0.0), "base 12, hurtbox 12, guard 0, pool health 0", "90 60 20"),
    # takes: immune, half, and two and a half: 14 of a kind taken at 2.5 is 35
    (EMBER, BARE, replace(BODY, damage_taken={"ember": 0.0}), FULL, PLAIN, HIT, "base 12, hurtbox 12, damage_taken 0, pool health 0", "90 60 20"),
    (EMBER, BARE, replace(BODY, damage_taken={"ember": 0.5}), FULL, PLAIN, HIT, "base 12, hurtbox 12, damage_taken 6, pool health 0", "84 60 20"),
    (points(14), BARE, replace(BODY, damage_taken={"ember": 2.5}), FULL, PLAIN, HIT, "base 14, hurtbox 14, damage_taken 35, pool health 0", "55 60 20"),
    (EMBER, BARE, replace(BODY, damage_taken={"glass": 0.0}), FULL, PLAIN, HIT, "base 12, hurtbox 12, pool health 0", "78 60 20"),
    # flat reduction: 12 - 5 = 7; 12 - 20 leaves min_damage 2; of 1 point no more than that 1 is left; by kind before all others
    (EMBER, BARE, replace(BODY, flat_reduction={"": 5.0}), FULL, PLAIN, HIT, "base 12, hurtbox 12, flat_reduction 7, pool health 0", "83 60 20"),
    (EMBER, BARE, replace(BODY, flat_reduction={"": 20.0}, min_damage=2), FULL, PLAIN, HIT, "base 12, hurtbox 12, flat_reduction 2, pool health 0", "88 60 20"),
    (points(1), BARE, replace(BODY, flat_reduction={"": 20.0}, min_damage=2), FULL, PLAIN, HIT, "base 1, hurtbox 1, flat_reduction 1, pool health 0", "89 60 20"),
    (EMBER, BARE, replace(BODY, flat_reduction={"": 20.0}), FULL, PLAIN, HIT, "base 12, hurtbox 12, flat_reduction 0, pool health 0", "90 60 20"),
    (EMBER, BARE, replace(BODY, flat_reduction={"": 20.0, "ember": 1.0}), FULL, PLAIN, HIT, "base 12, hurtbox 12, flat_reduction 11, pool health 0", "79 60 20"),
    # immune and soaked: min_damage gives nothing back to the immune: min(0, 2) = 0
    (EMBER, BARE, replace(BODY, damage_taken={"ember": 0.0}, flat_reduction={"": 5.0}, min_damage=2), FULL, PLAIN, HIT,
     "base 12, hurtbox 12, damage_taken 0, flat_reduction 0, pool health 0", "90 60 20"),
    # an own step: 5 more from beyond 3
    (EMBER, BARE, BODY, FULL, STORM, hit(distance=4.0), "base 12, hurtbox 12, storm 17, pool health 0", "73 60 20"),
    (EMBER, BARE, BODY, FULL, STORM, hit(distance=3.0), "base 12, hurtbox 12, storm 12, pool health 0", "78 60 20"),
    # rounding, once and last: 7.5 x 1.5 = 11.25 to 11; 2.5 to 3; 2.4 to 2; .5 to 1
    (points(7.5), HEAD, BODY, FULL, WHOLE, HIT, "base 7.5, hurtbox 11.25, rounding 11, pool shield 0, pool health 0", "90 49 20"),
    (points(2.5), BARE, BODY, FULL, WHOLE, HIT, "base 2.5, hurtbox 2.5, rounding 3, pool health 0", "87 60 20"),
    (points(2.4), BARE, BODY, FULL, WHOLE, HIT, "base 2.4, hurtbox 2.4, rounding 2, pool health 0", "88 60 20"),
    (points(0.5), BARE, BODY, FULL, WHOLE, HIT, "base 0.5, hurtbox 0.5, rounding 1, pool health 0", "89 60 20"),
    # shares: a shield of 60 that loses 2 a point damage_taken 30 points of 75; one that loses half damage_taken 75 and has 22.5 left
    (points(75), CHEST, DOUBLE, FULL, PLAIN, HIT, "base 75, hurtbox 75, pool shield 45, pool health 0", "45 0 20"),
    (points(75), CHEST, HALF, FULL, PLAIN, HIT, "base 75, hurtbox 75, pool shield 0, pool health 0", "90 22.5 20"),
    (points(150), CHEST, HALF, FULL, PLAIN, HIT, "base 150, hurtbox 150, pool shield 30, pool health 0", "60 0 20"),
    (points(20), CHEST, PASSED, FULL, PLAIN, HIT, "base 20, hurtbox 20, pool shield 20, pool health 0", "70 60 20"),
    # no overflow: what a shield of 60 cannot take of 75 is lost
    (points(75), CHEST, TIGHT, FULL, PLAIN, HIT, "base 75, hurtbox 75, pool shield 15, lost 0", "90 0 20"),
    # a plate breaks in mid-wound and lets through, its multiplier kept: 100 x .5 = 50 = 20 + 30
    (points(100), PLATED, BODY, FULL, PLAIN, HIT, "base 100, hurtbox 50, pool plate 30, pool shield 0, pool health 0", "90 30 0"),
    # three pools with shares: 100 x .5 = 50; a plate of 20 at 4 a point damage_taken 5; a shield of 12 at .5 damage_taken 24; 21 to health
    (points(100), PLATED, MIXED, (90, 12, 20), PLAIN, HIT, "base 100, hurtbox 50, pool plate 45, pool shield 21, pool health 0", "69 0 0"),
    # a route without the vital pool: what it cannot take is lost
    (points(30), replace(BARE, route=(2,)), BODY, FULL, PLAIN, HIT, "base 30, hurtbox 30, pool plate 10, lost 0", "90 60 0"),
    # everything at once: 20 falls to 12.5 at 6, x 2 charged, x .8 second in a row, x 1.5 head = 30, x 2 tide = 60, x .5 guard,
    # x .5 taken = 15, 4 soaked = 11
    (replace(FALLOFF, damage=20, against=(("tide", 2.0),)), HEAD,
     replace(BODY, labels=frozenset({"tide"}), damage_taken={"ember": 0.5}, flat_reduction={"": 4.0}), FULL, COMBO,
     hit(distance=6.0, charge=2.0, combo_count=1, guard_share=0.5),
     "base 12.5, charge 25, scaling 20, hurtbox 30, labels 60, guard 30, damage_taken 15, flat_reduction 11, pool shield 0, pool health 0", "90 49 20"),
]  # fmt: skip


def told(ledger: Ledger) -> str:
    return ", ".join(f"{step.rule} {round(step.after, 9):g}" for step in ledger.steps)


def deal(
    wound: WoundTerms, hurtbox: HurtboxTerms, stats: BodyStats, values: Any, rules: WoundRules, how: Circumstance
) -> tuple[Ledger, list[float]]:
    """The ledger of one hit, and the pools after it."""
    result = resolve(wound, hurtbox, stats, values, rules, how, strength=1.0)
    return result.ledger, list(result.values)


def mend(
    wound: WoundTerms, stats: BodyStats, route: tuple[int, ...], values: Any, how: Circumstance
) -> tuple[Ledger, list[float]]:
    """The same of healing, by the route alone."""
    return deal(wound, HurtboxTerms("chest", 1.0, route), stats, values, PLAIN, how)


@pytest.mark.parametrize("case", WORKED, ids=range(len(WORKED)))
def test_worked_wounds(case: Case) -> None:
    wound, hurtbox, body, values, wound_rules, circumstance, steps, after = case
    ledger, left = deal(wound, hurtbox, body, values, wound_rules, circumstance)
    assert told(ledger) == steps
    assert left == pytest.approx([float(each) for each in after.split()])


def test_wounds_of_one_tick_are_spent_one_after_the_other() -> None:
    first, values = deal(points(75), CHEST, BODY, FULL, PLAIN, HIT)
    second, values = deal(points(75), CHEST, BODY, values, PLAIN, HIT)
    third, values = deal(points(8), CHEST, BODY, values, PLAIN, HIT)
    assert (first.overkill, second.overkill, third.overkill, values) == (0, 0, 8, [0, 0, 20])


def test_healing_fills_the_vital_pool_first_and_none_past_its_maximum() -> None:
    salve = WoundTerms(30, "salve", heals=True)
    ledger, after = mend(salve, BODY, (1, 0), (80, 55, 0), HIT)
    assert (told(ledger), after) == ("base 30, pool health 20, pool shield 15, lost 0", [90, 60, 0])
    assert (ledger.lost, ledger.amount) == (15, 30)
    assert [(gain.pool, gain.before, gain.after) for gain in ledger.losses] == [("health", 80, 90), ("shield", 55, 60)]
    ledger, after = mend(salve, BODY, (1, 0), (0, 10, 0), HIT)
    assert (told(ledger), after) == ("base 30, lost 0", [0, 10, 0])
    ledger, after = mend(replace(salve, revives=True), BODY, (1, 0), (0, 10, 0), HIT)
    assert after == [30, 10, 0]
    immune = replace(BODY, damage_taken={"salve": 0.0})
    assert mend(salve, immune, (1, 0), (10, 0, 0), HIT)[1] == [10, 0, 0]


@pytest.mark.parametrize("gives", [-1.0, float("nan"), float("inf"), None, True])
def test_an_own_step_must_give_points(gives: Any) -> None:
    wound_rules = WoundRules(steps=(OwnStep("storm", lambda amount, context: gives, "2"),))
    with pytest.raises(ew.EmberwoundError, match=r"own step 'storm' \(version 2\) gave .* for 12 points"):
        deal(EMBER, BARE, BODY, FULL, wound_rules, HIT)


amounts, shares = st.floats(0, 1e6), st.floats(0, 10)
pools = st.builds(
    PoolTerms,
    st.just("pool"),
    st.just(100.0),
    st.just(100.0),
    st.one_of(st.just(0.0), st.floats(0.01, 10)),
    st.booleans(),
)


@given(
    amounts, shares, st.tuples(pools, pools, pools), st.tuples(*[st.floats(0, 100)] * 3), shares, amounts, st.booleans(),
    amounts,
)  # fmt: skip
def test_ledgers_add_up(
    damage: float,
    multiplier: float,
    three: tuple[PoolTerms, ...],
    values: tuple[float, ...],
    takes: float,
    reduction: float,
    whole: bool,
    more: float,
) -> None:
    body = BodyStats(three, 2, damage_taken={"ember": takes}, flat_reduction={"": reduction}, min_damage=1.0)
    box, wound_rules = HurtboxTerms("place", multiplier, (0, 1, 2)), WoundRules(whole_points=whole)
    ledger, left = deal(points(damage), box, body, values, wound_rules, HIT)
    assert all(0.0 <= each <= pool.maximum for each, pool in zip(left, three, strict=True))
    pairs = zip(ledger.steps[:-1], ledger.steps[1:], strict=True)
    assert all(step.after == following.before for step, following in pairs)
    taken = sum(
        (before - after) / pool.share for before, after, pool in zip(values, left, three, strict=True) if pool.share
    )
    assert ledger.amount == pytest.approx(taken + ledger.overkill + ledger.lost, rel=1e-9, abs=1e-6)
    worse = deal(points(damage + more), box, body, values, wound_rules, HIT)[1]
    assert all(a <= b + 1e-9 for a, b in zip(worse, left, strict=True)), "more damage never leaves more"
    healing, mended = mend(WoundTerms(damage, "ember", heals=True), body, (0, 1, 2), values, HIT)
    told = sum(step.before - step.after for step in healing.steps if step.rule == "lost")
    gained = sum(high - low for low, high in zip(values, mended, strict=True))
    assert told + gained == pytest.approx(healing.amount, rel=1e-9, abs=1e-6)
    assert all(low <= high <= 100.0 for low, high in zip(values, mended, strict=True))


def test_half_a_point_that_finds_no_room_is_told_as_lost() -> None:
    body = BodyStats((PoolTerms("health", 100, 100),), 0)
    healing, left = mend(WoundTerms(0.5, "ember", heals=True), body, (0,), (100.0,), HIT)
    assert left == [100.0]
    assert [(step.rule, step.before, step.after) for step in healing.steps][-1] == ("lost", 0.5, 0.0)


@given(st.floats(0, 1e9))
def test_rounding_is_to_the_nearest_and_half_away(amount: float) -> None:
    found = rounded(amount)
    assert found == int(found) and abs(found - amount) <= 0.5 + 1e-9
    assert rounded(int(amount) + 0.5) == int(amount) + 1
    assert rounded(0.4999999) == 0.0


@given(st.lists(st.integers(1, 99), min_size=2, max_size=3))
def test_rounding_takes_products_of_decimals_as_they_are_written(tenths: list[int]) -> None:
    exact, amount = Decimal(1), 1.0
    for each in tenths:
        exact, amount = exact * Decimal(each) / 10, amount * (each / 10)
    assert rounded(amount) == float(exact.to_integral_value(ROUND_HALF_UP))


GUARD = GuardTerms(120, 0.25, frozenset({"ordinary", "high"}), drain=2.0, pool=1, perfect=0.1)


def test_a_guard_covers_its_arc_and_classes_and_costs_what_it_says() -> None:
    for towards, angle in (((1, 0), 0), ((0, 5), 90), ((-1, 0), 180), ((0, 0), 0), ((1, -1), 45)):
        assert angle_from_front((1, 0), towards) == pytest.approx(angle)
    for number in range(300):
        way = (cos(number), sin(number))
        assert angle_from_front(way, (way[0] * 7.1, way[1] * 7.1)) == pytest.approx(0, abs=1e-5), "rounding is no error"
    assert [covers(GUARD, EMBER, angle) for angle in (0, 60, 60.1, 180)] == [True, True, False, False]
    assert not covers(GUARD, replace(EMBER, guard_class="low"), 0)
    assert not covers(GUARD, replace(EMBER, guard_class="unguardable"), 0)
    assert stop(GUARD, 12, 1.0, 60)[:3] == (0.25, 24, False)
    assert stop(GUARD, 30, 1.0, 60)[:3] == (0.25, 60, True), "what breaks a guard counts as guarded"
    assert stop(GUARD, 30, 0.05, 60)[:4] == (0.0, 0.0, False, True), "the perfect moment costs nothing"
    assert stop(replace(GUARD, drain=0.0), 1e6, 1.0, 0)[:3] == (0.25, 0, False)


def test_pools_refill_after_their_delay_in_closed_form() -> None:
    pool = PoolTerms("oil", 20, 20, refill=4, delay=0.5)
    assert [refilled(pool, 5, seconds) for seconds in (0, 0.5, 1.0, 2.5, 99)] == [5, 5, 7, 13, 20]
    assert refilled(pool, 5, 99, dead=True) == 5
    assert (seconds_until(pool, 5, 13), seconds_until(pool, 5, 3), seconds_until(pool, 5, 21)) == (2.5, 0, None)
    assert [resized(*each) for each in ((20, 20, 30), (10, 20, 30), (0, 20, 30))] == [30, 15, 0]


GUARDED = range_text(damage=20).replace(
    "route = [", 'guard = { damage_share = 0.25, drain = 2, pool = "shield" }\nlabels = ["old"]\nroute = ['
)


def test_a_wound_can_be_asked_of_the_rules_alone() -> None:
    rules = ew.Rulebook.parse(GUARDED)
    report = rules.wound("dart", "post", hurtbox="crown", pools={"shield": 10})
    assert str(report).splitlines() == [
        "dart on post's crown: 30",
        "  base               20 -> 20       ember damage of the attack",
        "  hurtbox            20 -> 30       crown × 1.5",
        "  pool shield        30 -> 20       10 of 60 held",
        "  pool health        20 -> 0        90 of 90 held",
        "  left: shield 0, health 70",
    ]
    assert report.to_dict()["after"] == {"shield": 0, "health": 70}
    guarded = rules.wound("dart", "post", guarded=True)
    assert (guarded.ledger.amount, guarded.drained, guarded.guard_breaks) == (5, 40, False)
    assert (guarded.before["shield"], guarded.after["shield"]) == (60, 15)
    assert str(guarded).endswith("left: shield 15, health 90, 40 drained by the guard")
    assert rules.wound("dart", "post", guarded=True, pools={"shield": 40}).guard_breaks
    assert rules.wound("dart", "post", pools={"shield": 0, "health": 20}).kills
    for how, message in (
        ({"hurtbox": "crwn"}, r"no hurtbox of post 'crwn' \(did you mean 'crown'\?\)"),
        ({"pools": {"health": 91}}, "pool health: 91; allowed: 0 to 90"),
        ({"distance": -1}, "distance: -1; allowed: a finite number from 0 up"),
        ({"charge": 0.5}, "charge: 0.5; dart cannot be charged; leave it out"),
    ):
        with pytest.raises(ew.RulebookError, match=message):
            rules.wound("dart", "post", **how)
    with pytest.raises(ew.RulebookError, match=r"no attack 'drat' \(did you mean 'dart'\?\)"):
        rules.wound("drat", "post")
    with pytest.raises(ew.RulebookError, match="thrower has no guard"):
        rules.wound("dart", "thrower", guarded=True)


def test_own_steps_are_registered_and_never_come_from_a_file() -> None:
    text = range_text().replace("max_seats", 'steps = ["storm"]\nmax_seats')
    steps = {"storm": (lambda amount, context: amount * (2 if context.victim == "post" else 1), "1.1")}
    rules = ew.Rulebook.parse(text, steps=steps)
    assert told(rules.wound("dart", "post").ledger) == "base 12, hurtbox 12, storm 24, pool shield 0, pool health 0"
    assert rules.wound("dart", "thrower").ledger.amount == 12
    assert rules.step_versions == {"storm": "1.1"}
    assert rules == ew.Rulebook.parse(text, steps=steps) != range_rules()


def test_the_table_of_a_book_agrees_with_wounds_dealt_one_by_one() -> None:

    rules = range_rules(cooldown=0.5, damage=35)
    rows = {(row.attack, row.victim, row.hurtbox): row for row in rules.wound_table()}
    assert len(rows) == 2 * 3
    row = rows["dart", "post", "crown"]
    assert (row.damage, row.hits, row.seconds, row.per_second) == (52.5, 3, 1.0, 105)
    for (attack, victim, hurtbox), row in rows.items():
        report, hits = rules.wound(attack, victim, hurtbox=hurtbox), 1
        while not report.kills:
            report, hits = rules.wound(attack, victim, hurtbox=hurtbox, pools=report.after), hits + 1
        assert row.hits == hits


def test_a_question_names_its_way_its_layers_and_its_blast() -> None:
    text = range_text(damage=20).replace(
        "[arenas.range]",
        "[blasts.bang]\nradius = 3\nkind = 'ember'\ndamage = 40\npush = { speed = 5 }\n[arenas.range]",
        1,
    )
    rules = ew.Rulebook.parse(text.replace("[attacks.dart]", '[attacks.dart]\nblast = "bang"\nlayers = ["body"]'))
    direct, blast = rules.wound("dart", "post"), rules.wound("dart", "post", blast=True, distance=1.5)
    assert (direct.blast, direct.ledger.amount, blast.blast, blast.ledger.amount) == (None, 20, "bang", 20)
    assert str(blast).splitlines()[0] == "dart (blast bang) on post's trunk: 20"
    assert rules.knockback_path("dart", "post").blast == "bang", "the way that pushes"
    assert rules.knockback_path("dart", "post", distance=1.5).speed == 2.5, "less with the distance"
    for how, message in (
        ({"blast": True, "distance": 4}, "distance: 4; allowed: 0 to 3, its radius"),
        ({"blast": True, "charge": 1}, "charge: 1; no charge makes the blast of dart stronger"),
        ({"hitbox": "edge"}, "there is no hitbox of dart 'edge'; known: none"),
    ):
        with pytest.raises(ew.RulebookError, match=message):
            rules.wound("dart", "post", **how)
    mist = ew.Rulebook.parse(text.replace("[attacks.dart]", '[attacks.dart]\nlayers = ["mist"]').replace(
        "hurtboxes.crown = {", 'hurtboxes.crown = { layer = "mist",'))  # fmt: skip
    assert mist.wound("dart", "post").hurtbox == "crown", "the first hurtbox that it touches"
    with pytest.raises(
        ew.RulebookError, match="layers: 'mist'; dart touches only these, and of thrower chest is on body"
    ):
        mist.wound("dart", "thrower")
    with pytest.raises(ew.RulebookError, match="blast: True; dart has no blast"):
        mist.wound("dart", "post", blast=True)
