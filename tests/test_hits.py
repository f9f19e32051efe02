"""Wounds in a bout: guards, pools that refill and run dry, healing, rows of wounds, distance, own steps."""

from __future__ import annotations

from fractions import Fraction
from itertools import product
from math import ceil
from typing import TYPE_CHECKING, Any

import numpy as np
import pytest

import emberwound as ew
from conftest import body_of, only, steps
from emberwound import Reason, events
from emberwound.bout.hits.passed_over import REASONS
from emberwound.geometry.layout import Layer, MayTouch, Refusal, ShapeMark
from emberwound.geometry.neighbours import refusal

if TYPE_CHECKING:
    from pathlib import Path

BOOK = """
[settings]
{settings}
[kinds.ember]
[kinds.salve]
[fighters.thrower]
attacks = ["dart", "mend", "drink"]
body = {{ radius = 0.3, height = 1.8 }}
pools = {{ health = {{ max = 90, vital = true }}, oil = {{ max = 10, refill = 4, delay = 0.5 }} }}
hurtboxes.chest = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
[fighters.warden]
speed = 2
attacks = ["dart"]
route = ["glass", "health"]
body = {{ radius = 0.3, height = 1.8 }}
guard = {{ {guard} }}
hurtboxes.chest = {{ from = [0, 0.4], to = [0, 1.4], radius = 0.3 }}
hurtboxes.plate = {{ from = [0, 1.7], radius = 0.2, route = ["iron", "health"], multiplier = 0.5 }}
[fighters.warden.pools]
health = {{ max = 90, vital = true }}
glass = {{ max = 30, refill = 10, delay = 1 }}
iron = {{ max = 5 }}
stamina = {{ max = 40 }}
[attacks.dart]
kind = "ember"
damage = {damage}
{dart}
shot = {{ radius = 0, speed = 40, gravity_share = 0, muzzle = [0.3, 1] }}
[afflictions.burning]
kind = "ember"
damage = 3
every = {every}
seconds = {lasts}
{burning}
[afflictions.dazed]
seconds = 1
speed_share = 0.5
damage_taken_share = 1.5
disables_guard = true
cured_by = ["salve"]
[attacks.mend]
kind = "salve"
heal = 20
shot = {{ radius = 0, speed = 40, gravity_share = 0, muzzle = [0.3, 1] }}
[attacks.drink]
cost = {{ oil = 8 }}
[arenas.range]
floor = 0
bounds = {{ low = [-100, -1], high = [100, 100] }}
"""


def field(
    tick_rate: int = 60, guard: str = "damage_share = 0.25", damage: float = 20, dart: str = "", **changes: object
) -> tuple[ew.Bout, ew.Seat, ew.Seat]:
    others = {"settings": "", "every": 0.3, "lasts": 1, "burning": ""} | changes
    text = BOOK.format(guard=guard, damage=damage, dart=dart, **others)
    bout = ew.Bout(ew.Rulebook.parse(text), arena="range", tick_rate=tick_rate)
    amber = bout.enter("thrower", seat="amber", at=(0, 0))
    return bout, amber, bout.enter("warden", seat="post", at=(10, 0), facing="left")


def dart(bout: ew.Bout, seat: ew.Seat, seconds: float = 0.5, press: str = "dart") -> list[events.AnyEvent]:
    seat.order(press=press)
    return steps(bout, round(seconds * bout.tick_rate))


@pytest.mark.parametrize(("facing", "guarded"), [("left", True), ("right", False)])
def test_a_guard_stops_what_comes_from_its_front(facing: Any, guarded: bool) -> None:
    bout, amber, post = field()
    post.order(hold="guard", facing=facing)
    found = dart(bout, amber)
    (wounded,) = only(events.Wounded, found)
    assert wounded.amount == (5 if guarded else 20)
    assert [event.share for event in only(events.Guarded, found)] == [0.25] * guarded
    if guarded:
        assert wounded.cause == only(events.Guarded, found)[0].seq
    post.order(hold=())
    assert only(events.Guarded, dart(bout, amber)) == []


def test_a_guard_that_lets_nothing_through_says_so_and_wounds_nobody() -> None:
    bout, amber, post = field(guard="damage_share = 0")
    post.order(hold="guard")
    found = dart(bout, amber)
    (guarded,), (ended,) = only(events.Guarded, found), only(events.ShotEnded, found)
    assert (guarded.share, guarded.perfect, only(events.Wounded, found)) == (0, False, [])
    assert (ended.reason, ended.cause) == (Reason.HIT, guarded.seq)
    assert post.pools["health"] == 90


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_a_guard_drains_its_pool_breaks_and_comes_back(tick_rate: int) -> None:
    bout, amber, post = field(tick_rate, guard='damage_share = 0, drain = 1.5, pool = "stamina", broken = 0.8')
    post.order(hold="guard")
    (first,) = only(events.Guarded, dart(bout, amber))
    assert (first.drained, first.broken, post.pools["stamina"]) == (30, False, 10)
    found = dart(bout, amber)
    (second,), (emptied,) = only(events.Guarded, found), only(events.PoolEmptied, found)
    assert (second.drained, second.broken, emptied.pool) == (10, True, "stamina")
    assert only(events.Wounded, found) == [], "what breaks a guard counts as guarded"
    waited = bout.tick - second.tick - 1
    assert "guarding" not in post.states
    steps(bout, ceil(0.8 * tick_rate) - waited - 1)
    assert "guarding" not in post.states
    bout.step()
    assert "guarding" in post.states


def test_the_perfect_moment_costs_nothing() -> None:
    bout, amber, post = field(guard='damage_share = 0.5, drain = 1, pool = "stamina", perfect = 0.1')
    amber.order(press="dart")
    steps(bout, 10)
    post.order(hold="guard")
    (guarded,) = only(events.Guarded, steps(bout, 10))
    assert (guarded.perfect, guarded.share, guarded.drained) == (True, 0, 0)
    (guarded,) = only(events.Guarded, dart(bout, amber))
    assert (guarded.perfect, guarded.share, guarded.drained) == (False, 0.5, 20)


@pytest.mark.parametrize("guard_class", ["low", "unguardable"])
def test_classes_that_a_guard_does_not_stop_pass_it(guard_class: str) -> None:
    bout, amber, post = field(guard='classes = ["ordinary", "high"]', dart=f'guard_class = "{guard_class}"')
    post.order(hold="guard")
    found = dart(bout, amber)
    assert only(events.Guarded, found) == []
    assert only(events.Wounded, found)[0].amount == 20


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_pools_refill_in_closed_form_and_costs_wait_for_them(tick_rate: int) -> None:
    bout, amber, post = field(tick_rate, damage=35)
    found = dart(bout, amber, 0.25)
    assert [event.pool for event in only(events.PoolEmptied, found)] == ["glass"]
    hurt = only(events.Wounded, found)[0].tick
    for seconds in (0.5, 1.0, 1.5, 3.0, 5.0):
        while bout.tick < hurt + seconds * tick_rate:
            bout.step()
        assert post.pools["glass"] == pytest.approx(min(max(seconds - 1, 0) * 10, 30), abs=10 / tick_rate)
    amber.order(press="drink")
    bout.step()
    assert amber.pools["oil"] == 2
    amber.order(press="drink")
    (refused,) = only(events.OrderRefused, steps(bout, tick_rate // 5))
    paid = bout.tick - tick_rate // 5 - 1
    assert (refused.reason, refused.pool, refused.needs) == (Reason.COST, "oil", 8)
    assert (refused.wait_ticks or 0) + refused.tick - paid == ceil((0.5 + 6 / 4) * tick_rate)
    amber.order(hold="drink")
    began = only(events.AttackBegan, steps(bout, 3 * tick_rate))
    assert began[0].tick == refused.tick + (refused.wait_ticks or 0), "a hold begins when it can be paid"


def test_a_plate_breaks_in_mid_wound_and_lets_the_rest_through() -> None:
    bout, amber, post = field()
    amber.place((0, 0.7))
    bout.step()
    found = dart(bout, amber)
    (wounded,), (emptied,) = only(events.Wounded, found), only(events.PoolEmptied, found)
    assert (wounded.hurtbox, wounded.amount, emptied.pool) == ("plate", 10, "iron")
    assert post.pools == {"health": 85, "glass": 30, "iron": 0, "stamina": 40}


def test_healing_comes_after_the_wounds_of_its_tick_and_undoes_no_death() -> None:
    bout, amber, post = field(damage=200)
    beryl = bout.enter("thrower", seat="beryl", at=(20, 0), facing="left")
    amber.order(press="dart")
    beryl.order(press="mend")
    found = steps(bout, 20)
    (died,), (healed,) = only(events.Died, found), only(events.Healed, found)
    assert (healed.amount, healed.vital_left, died.tick) == (0, 0, healed.tick)
    assert not post.alive
    bout, amber, post = field(damage=50)
    dart(bout, amber)
    (healed,) = only(events.Healed, dart(bout, amber, press="mend"))
    assert (healed.by, healed.amount, healed.vital_left) == ("amber", 20, 90)
    (healed,) = only(events.Healed, dart(bout, amber, press="mend"))
    assert [gain.pool for gain in healed.ledger.losses] == ["glass"]
    (healed,) = only(events.Healed, dart(bout, amber, press="mend"))
    assert healed.ledger.lost > 0
    assert [post.pools[name] for name in ("health", "glass")] == [90, 30]


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
def test_wounds_in_a_row_are_scaled_by_their_exact_times(tick_rate: int) -> None:
    combo = "combo = { seconds = 0.5, shares = [1, 0.5, 0.25] }"
    bout, amber, _ = field(tick_rate, settings=combo, damage=8)
    amounts = []
    for wait in (0.4, 0.4, 0.4, 0.6, 0.4):
        amounts += [event.amount for event in only(events.Wounded, dart(bout, amber, wait))]
    assert amounts == [8, 4, 2, 2, 8]


def test_the_first_share_of_a_combo_is_that_of_the_first_wound_and_of_no_hazard() -> None:
    bout, amber, _ = field(settings="combo = { seconds = 0.5, shares = [0.5, 0.25] }", damage=8)
    found = dart(bout, amber, 0.4) + dart(bout, amber, 0.4)
    assert [event.amount for event in only(events.Wounded, found)] == [4, 2]
    assert ew.Rulebook.of(bout.rules).wound("dart", "warden").ledger.amount == 4
    assert ew.Rulebook.of(bout.rules).wound("dart", "warden", combo_count=5).ledger.amount == 2
    burnt = field(settings="combo = { seconds = 0.5, shares = [0.5] }", damage=8, dart=BURNING)
    wounds = only(events.Wounded, dart(burnt[0], burnt[1], 3))
    plain = only(events.Wounded, dart(*field(damage=8, dart=BURNING)[:2], 3))
    assert [each.amount for each in wounds] == [4, *(each.amount for each in plain[1:])]


def test_a_wound_falls_off_with_the_distance_flown() -> None:
    bout, amber, _ = field(dart="falloff = { near = 5, far = 15, share = 0 }")
    (wounded,) = only(events.Wounded, dart(bout, amber))
    assert wounded.amount == pytest.approx(20 * (1 - (10 - 0.3 - 0.3 - 5) / 10))
    amber.place((8, 0))
    bout.step()
    assert only(events.Wounded, dart(bout, amber))[0].amount == 20


def test_the_chronicle_knows_its_own_steps_and_asks_for_them(tmp_path: Path) -> None:
    steps_ = {"storm": (lambda amount, context: amount + context.distance, "3")}
    text = BOOK.format(settings='steps = ["storm"]', guard="", damage=20, dart="", every=0.3, lasts=1, burning="")
    bout = ew.Bout(ew.Rulebook.parse(text, steps=steps_), arena="range")
    recorder = ew.Recorder(bout)
    amber = bout.enter("thrower", seat="amber", at=(0, 0))
    bout.enter("warden", seat="post", at=(10, 0))
    (wounded,) = only(events.Wounded, dart(bout, amber))
    assert wounded.amount == pytest.approx(29.4)
    chronicle = recorder.chronicle()
    assert chronicle.header.steps == {"storm": "3"}
    path = chronicle.save(tmp_path / "storm.jsonl")
    assert ew.rerun(ew.Chronicle.load(path, steps_)).to_bytes() == path.read_bytes()
    for given in (None, {"storm": (steps_["storm"][0], "4")}):
        with pytest.raises(ew.ChronicleError, match="ran with the own steps storm 3; load it with them"):
            ew.rerun(ew.Chronicle.load(path, given))


def test_an_own_step_that_raises_breaks_the_tick_and_a_snapshot_mends_it() -> None:
    flaws = [True]
    steps_ = {"storm": (lambda amount, context: 1 / 0 if flaws else amount, "1")}
    text = BOOK.format(settings='steps = ["storm"]', guard="", damage=20, dart="", every=1, lasts=1, burning="")
    bout = ew.Bout(ew.Rulebook.parse(text, steps=steps_), arena="range")
    amber = bout.enter("thrower", seat="amber", at=(0, 0))
    bout.enter("warden", seat="post", at=(10, 0))
    amber.order(press="dart")
    saved = bout.snapshot()
    with pytest.raises(ew.EmberwoundError, match=r"own step 'storm' .version 1. raised ZeroDivisionError"):
        bout.advance(0.5)
    with pytest.raises(ew.BoutError, match=r"was broken off .own step 'storm'.*; restore the bout from a snapshot"):
        bout.step()
    flaws.clear()
    bout.restore(saved)
    assert [event.amount for event in only(events.Wounded, bout.advance(0.5))] == [20]


def test_one_rule_says_what_may_be_touched_and_its_codes_are_the_reasons() -> None:
    assert {Reason[name] for name, code in vars(Refusal).items() if name.isupper() and code} == set(REASONS.values())
    assert all(getattr(Refusal, reason.name) == code for code, reason in REASONS.items())
    for owner, team, layer, options, mine in product((0, 1, 2), (1, 2), (1, 2, Layer.PROTECTED), range(4), (0, 1)):
        marks = np.zeros((ShapeMark.COLUMNS, 1), np.int64)
        marks[ShapeMark.OWNER], marks[ShapeMark.TEAM], marks[ShapeMark.LAYER] = owner, team, layer
        reason = REASONS.get(refusal(1, options, mine, 1, marks, 0))
        if layer == Layer.PROTECTED:
            assert reason is Reason.PROTECTED
        elif layer == 2:
            assert reason is Reason.OTHER_LAYER
        elif owner == mine == 1 and not options & MayTouch.OWNER:
            assert reason is Reason.OWN_BODY
        elif owner == 2 and mine == 1 and team == 1 and not options & MayTouch.TEAM:
            assert reason is Reason.ALLY
        else:
            assert reason is None


def test_a_pool_of_another_size_keeps_its_share_for_this_life() -> None:
    bout, amber, post = field(damage=75)
    recorder = ew.Recorder(bout)
    dart(bout, amber)
    assert post.pools["health"] == 45
    post.resize("health", 180)
    post.resize("glass", 60)
    assert [post.pools[name] for name in ("health", "glass")] == [90, 0]
    assert body_of(post).pool_sizes["health"] == 180
    found = dart(bout, amber)
    (wounded,) = only(events.Wounded, found)
    assert (wounded.vital_left, wounded.vital_max) == (15, 180)
    dart(bout, amber, press="mend")
    assert post.pools["health"] == 35
    steps(bout, 600)
    assert post.pools["glass"] == 60
    chronicle = recorder.chronicle()
    assert ew.rerun(chronicle).to_bytes() == chronicle.to_bytes()
    with pytest.raises(ew.BoutError, match=r"no pool of warden 'helth' \(did you mean 'health'\?\)"):
        post.resize("helth", 5)
    with pytest.raises(ew.BoutError, match="maximum: give a number above 0, up to 1e9; got 0"):
        post.resize("health", 0)


@pytest.mark.parametrize("order", [(0, 1, 2), (2, 1, 0), (1, 2, 0)])
def test_the_order_in_which_fighters_entered_changes_no_wound(order: tuple[int, ...]) -> None:
    combo = "combo = { seconds = 0.5, shares = [1, 0.5] }"
    text = field(settings=combo, damage=9, dart=BURNING)[0].rules
    told = []
    for entered in ((0, 1, 2), order):
        bout = ew.Bout(text, arena="range")
        places = [("thrower", "amber", (0, 0)), ("thrower", "beryl", (2, 0)), ("warden", "post", (10, 0))]
        for number in entered:
            fighter, seat, at = places[number]
            bout.enter(fighter, seat=seat, at=at, team=None if seat == "post" else "lamps")
        found = []
        for number in range(6):
            bout.seat("amber").order(press="dart")
            bout.seat("beryl").order(press="dart")
            found += steps(bout, 11 + number)
        wounds = only(events.Wounded, found)
        told.append([(event.time, event.by, event.attack, event.amount, event.vital_left) for event in wounds])
    assert told[0] == told[1]


BURNING = 'afflicts = ["burning"]'


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240])
@pytest.mark.parametrize(
    ("every", "lasts", "count"), [("0.3", "1", 3), ("0.25", "1", 4), ('"1/7"', "2", 14), ("1", "1", 1)]
)
def test_an_affliction_works_on_its_exact_beat_and_ends(tick_rate: int, every: str, lasts: str, count: int) -> None:
    bout, amber, _ = field(tick_rate, damage=1, dart=BURNING, every=every, lasts=lasts)
    found = dart(bout, amber, 3)
    (began,), (ended,) = only(events.AfflictionBegan, found), only(events.AfflictionEnded, found)
    wounds = [event for event in only(events.Wounded, found) if event.attack == "burning"]
    beat, whole = (Fraction(each.strip('"')) for each in (every, lasts))
    assert [event.tick for event in wounds] == [
        began.tick + 1 + ceil(number * beat * tick_rate) for number in range(1, count + 1)
    ]
    assert ended.tick == began.until_tick == began.tick + 1 + ceil(whole * tick_rate)
    assert (ended.reason, {event.amount for event in wounds}) == (Reason.TIME_OVER, {3})
    assert all(event.by == "amber" and event.cause == began.seq for event in wounds)
    assert began.cause == only(events.Wounded, found)[0].seq


@pytest.mark.parametrize(
    ("rule", "most", "counts", "burns"),
    [("refresh", 1, [1, 1, 1], 4), ("add", 2, [1, 2, 2], 7), ("add", 3, [1, 2, 3], 9), ("strongest", 1, [1, 1, 1], 4)],
)
def test_more_than_one_of_an_affliction_follows_its_rule(rule: str, most: int, counts: list[int], burns: int) -> None:
    bout, amber, _ = field(damage=1, dart=BURNING, burning=f'stacking = "{rule}"\nmax_stacks = {most}')
    found = [event for _ in range(3) for event in dart(bout, amber, 0.2)]
    found += steps(bout, 120)
    assert [event.count for event in only(events.AfflictionBegan, found)] == counts
    assert sum(event.attack == "burning" for event in only(events.Wounded, found)) == burns
    assert len(only(events.AfflictionEnded, found)) == max(counts)


def test_an_affliction_kills_and_ends_with_its_victim() -> None:
    bout, amber, post = field(damage=118, dart=BURNING)
    found = dart(bout, amber, 1)
    (died,), (ended,) = only(events.Died, found), only(events.AfflictionEnded, found)
    assert (died.attack, died.by, died.hurtbox, died.overkill) == ("burning", "amber", "whole body", 1)
    assert (ended.reason, post.alive) == (Reason.VICTIM_DIED, False)
    assert only(events.Wounded, steps(bout, 120)) == []


def test_an_affliction_slows_marks_and_lowers_the_guard_until_it_is_cured() -> None:
    bout, amber, post = field(damage=10, dart='afflicts = ["dazed"]')
    dart(bout, amber, 0.5)
    post.order(hold="guard", move=0.5)
    steps(bout, 12)
    assert post.position and post.position[0] == pytest.approx(10 + 0.2 * 0.5)
    assert "guarding" not in post.states
    (wounded,) = only(events.Wounded, dart(bout, amber, 0.4))
    assert [(step.rule, step.after) for step in wounded.ledger.steps if step.rule == "marked"] == [("marked", 15)]
    found = dart(bout, amber, 0.4, press="mend")
    assert [event.reason for event in only(events.AfflictionEnded, found)] == [Reason.CURED]
    assert "guarding" in post.states


def test_a_guard_that_lets_nothing_through_keeps_afflictions_out_too() -> None:
    bout, amber, post = field(guard="damage_share = 0", dart=BURNING)
    post.order(hold="guard")
    assert only(events.AfflictionBegan, dart(bout, amber, 0.5)) == []


def test_bouts_with_afflictions_run_again_and_from_snapshots() -> None:
    bout, _, post = field(damage=5, dart=BURNING, burning='stacking = "add"\nmax_stacks = 3')
    recorder = ew.Recorder(bout)
    fresh = ew.Bout(bout.rules, arena="range")
    for number in range(40):
        if number == 20:
            fresh.restore(bout.snapshot())
        for each in (bout, fresh)[: 1 if number < 20 else 2]:
            each.seat("amber").order(press="dart" if number % 5 else "mend")
            each.advance(0.07)
    assert bout.digest() == fresh.digest()
    assert post.pools["health"] < 90
    assert recorder.chronicle().end.digest == bout.digest()
