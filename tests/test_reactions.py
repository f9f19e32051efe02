"""Reactions: which row of the table fits, for how long, what it locks, and what is taken up again after it."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any

import pytest

import emberwound as ew
from conftest import body_of, only, run
from emberwound import Reason, events
from emberwound.combat.reaction import blend
from emberwound.rulebook.terms import reaction_terms
from emberwound.vocabulary.action_state import FOLLOWS, ActionState

RATES = [30, 60, 120, 240]
BOOK = """
[kinds.iron]
[kinds.fire]
[fighters.hewer]
attacks = ["hew", "bump", "flick", "slow"]
speed = 3
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 60, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
hurtboxes.brow = {{ from = [0, 1.6], radius = 0.2, priority = 1 }}
guard = {{ arc_deg = 180, damage_share = 0.5, push_share = 0.2, {guard} }}
{fighter}
{reactions}
[attacks.hew]
kind = "iron"
damage = 10
active = 0.1
strike.hitboxes.edge = {{ from = [0.2, {height}], to = [1.2, {height}], radius = 0.1 }}
push = {{ speed = {speed} }}
[attacks.bump]
kind = "fire"
damage = {bump}
active = 0.1
strike.hitboxes.edge = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.flick]
kind = "iron"
damage = 1
active = 0.1
strike.hitboxes.edge = {{ from = [0.2, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.slow]
windup = 1
{slow}
[arenas.yard]
{arena}
"""
TABLE = """
[[fighters.hewer.reactions]]
name = "jolt"
guarded = true
seconds = 0.2
[[fighters.hewer.reactions]]
name = "stumble"
from = ["back"]
seconds = 0.6
[[fighters.hewer.reactions]]
name = "snap"
hurtboxes = ["brow"]
seconds = 0.5
severity = 2
[[fighters.hewer.reactions]]
name = "burn"
kinds = ["fire"]
damage = 5
seconds = 0.3
[[fighters.hewer.reactions]]
name = "fly"
push = 5
seconds = 0.9
severity = 3
[[fighters.hewer.reactions]]
name = "drop"
dying = true
seconds = 1
variants = ["drop_left", "drop_right"]
[[fighters.hewer.reactions]]
name = "flinch"
seconds = 0.4
variants = ["one", "two", "three"]
blend_in = 0.1
blend_out = 0.2
"""
SIDE = "floor = 0\nbounds = { low = [-20, -1], high = [20, 9] }"
TOP = 'space = "top"\nbounds = { low = [-20, -20], high = [20, 20] }'


def yard(reactions: str = TABLE, *, tick_rate: int = 60, arena: str = SIDE, **parts: Any) -> ew.Bout:
    figures = {"guard": "perfect = 0", "fighter": "", "height": 1, "speed": 0.001, "bump": 6, "slow": "", **parts}
    text = BOOK.format(reactions=reactions, arena=arena, **figures)
    return ew.Bout(ew.Rulebook.parse(text), arena="yard", tick_rate=tick_rate)


def meet(bout: ew.Bout, *, facing: Any = "left", lives: int = 1) -> tuple[ew.Seat, ew.Seat]:
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    return amber, bout.enter("hewer", seat="reed", at=(1, 0), facing=facing, lives=lives)


@pytest.mark.parametrize(
    ("press", "how", "order", "expected"),
    [
        ("hew", {}, {}, "flinch"),
        ("hew", {}, {"hold": "guard"}, "jolt"),
        ("hew", {"height": 1.6}, {}, "snap"),
        ("hew", {"speed": 6}, {}, "fly"),
        ("hew", {"speed": 6}, {"hold": "guard"}, "jolt"),
        ("bump", {}, {}, "burn"),
        ("bump", {"bump": 4}, {}, "flinch"),
        ("hew", {"facing": "right"}, {}, "stumble"),
    ],
)
def test_the_first_row_that_fits_counts(press: str, how: dict[str, Any], order: dict[str, Any], expected: str) -> None:
    facing = how.pop("facing", "left") if "facing" in how else "left"
    bout = yard(**how)
    amber, reed = meet(bout, facing=facing)
    amber.order(press=press)
    if order:
        reed.order(**order)
    (reacted,) = only(events.ReactionBegan, bout.step())
    assert (reacted.reaction, reacted.by, reacted.seat) == (expected, "amber", "reed")
    assert reacted.guarded == (order == {"hold": "guard"})


@pytest.mark.parametrize(
    ("facing", "side"), [(180, "front"), (0, "back"), (90, "left"), (270, "right"), (135, "front"), (46, "back")]
)
def test_sides_are_quadrants_with_ties_to_the_front(facing: float, side: str) -> None:
    bout = yard(arena=TOP)
    amber, _ = meet(bout, facing=facing)
    amber.order(press="hew")
    (reacted,) = only(events.ReactionBegan, bout.step())
    assert reacted.side == ("left" if facing == 46 else side)


@pytest.mark.parametrize(("way", "facing"), [(84.3, 197.5), (5.7, 72.5)])
def test_a_hit_comes_from_the_left_whatever_way_the_attacker_looks(way: float, facing: float) -> None:
    bout = yard(arena=TOP)
    amber = bout.enter("hewer", seat="amber", at=(0, 0), facing=way)
    bout.enter("hewer", seat="reed", at=(cos(radians(way)), sin(radians(way))), facing=facing)
    amber.order(press="hew")
    (reacted,) = only(events.ReactionBegan, bout.step())
    assert reacted.side == "left"


@pytest.mark.parametrize("tick_rate", RATES)
@pytest.mark.parametrize(("let_go", "guarding"), [(None, True), (0.1, False)])
def test_a_guard_is_up_again_after_exactly_the_reaction_if_it_is_still_held(
    tick_rate: int, let_go: float | None, guarding: bool
) -> None:
    bout = yard(tick_rate=tick_rate)
    amber, reed = meet(bout)
    reed.order(hold="guard")
    amber.order(press="hew")
    (reacted,) = only(events.ReactionBegan, bout.step())
    assert "guarding" not in reed.states
    found = run(bout, let_go or 0.1)
    if let_go:
        reed.order(hold=())
    while "jolt" in reed.states:
        found += bout.step()
    assert ("guarding" in reed.states) == guarding
    (recovered,) = only(events.ReactionEnded, found)
    assert (recovered.guarding, recovered.tick) == (guarding, reacted.until_tick)
    assert reacted.until_tick == 1 + round(0.2 * tick_rate)


def test_a_reaction_breaks_off_what_its_fighter_did_and_locks_it() -> None:
    bout = yard()
    amber, reed = meet(bout)
    reed.order(press="slow")
    bout.step()
    amber.order(press="hew")
    found = bout.step()
    assert [event.reason for event in only(events.Interrupted, found)] == [Reason.WOUNDED]
    where = reed.position
    reed.order(move=-1, facing="right", press="flick")
    found = run(bout, 0.3)
    assert reed.position == pytest.approx(where, abs=1e-3)
    assert reed.facing == "left"
    assert [event.reason for event in only(events.OrderRefused, found)] == [Reason.REACTING]
    reed.order(press="flick")
    found = run(bout, 0.2)
    assert [event.attack for event in only(events.AttackBegan, found)] == ["flick"], "kept until the lock is off"
    assert reed.position and where and reed.position[0] < where[0]


def test_severity_and_resisting_attacks_decide_what_gives_way() -> None:
    bout = yard(height=1.6)
    amber, reed = meet(bout)
    amber.order(press="hew")
    bout.step()
    run(bout, 0.1)
    amber.order(press="bump")
    found = run(bout, 0.1)
    assert only(events.Wounded, found)
    assert only(events.ReactionBegan, found) == [], "what is milder does not take its place"
    again = yard()
    amber, _ = meet(again)
    for _ in range(2):
        amber.order(press="hew")
        found = again.step()
        (reacted,) = only(events.ReactionBegan, found)
        assert reacted.reaction == "flinch", "what is as severe takes its place"
        assert not only(events.ReactionEnded, run(again, 0.12))
    steady = yard(slow="withstands_severity = 1")
    amber, reed = meet(steady)
    reed.order(press="slow")
    steady.step()
    amber.order(press="hew")
    found = steady.step()
    assert (only(events.ReactionBegan, found), only(events.Interrupted, found)) == ([], [])


def test_variants_take_turns_over_all_lives_and_the_dying_have_their_own() -> None:
    bout = yard()
    amber, _ = meet(bout, lives=4)
    found: list[events.AnyEvent] = []
    while len(only(events.Died, found)) < 3:
        amber.order(press="hew")
        found += run(bout, 0.6)
    assert bout.tick < 60 * 60
    reacted = [event.variant for event in only(events.ReactionBegan, found) if event.seat == "reed"]
    assert reacted == (["one", "two", "three"] * 9)[: len(reacted)]
    died = only(events.Died, found)
    assert [event.reaction for event in died] == ["drop"] * 3
    assert [event.variant for event in died] == ["drop_left", "drop_right", "drop_left"]


def test_resistance_takes_small_hits_drains_and_refills() -> None:
    bout = yard(fighter="stagger_resistance = { points = 2.5, refill = 10, delay = 0.5 }")
    amber, _ = meet(bout)

    def flicks(gap: float, count: int) -> list[int]:
        told = []
        for _ in range(count):
            amber.order(press="flick")
            told.append(len(only(events.ReactionBegan, run(bout, gap))))
        return told

    assert flicks(0.2, 6) == [0, 0, 1, 0, 0, 1]
    run(bout, 2)
    assert flicks(1, 5) == [0, 0, 0, 0, 0], "what rests is as good as new"


def test_the_blend_rises_stays_and_falls_as_a_function_of_time() -> None:
    bout = yard()
    terms = reaction_terms(bout.rules.book.fighters["hewer"], 60)[-1]
    for seconds, expected in ((-1, 0), (0, 0), (0.05, 0.5), (0.1, 1), (0.2, 1), (0.3, 0.5), (0.399, 0.005), (0.4, 0)):
        assert blend(terms, seconds) == pytest.approx(expected, abs=1e-9)
    amber, reed = meet(bout)
    amber.order(press="hew")
    bout.step()
    seen = []
    while reaction := body_of(reed).reaction:
        seen.append((reaction.seconds, reaction.blend, reaction.part))
        assert reaction.seconds + reaction.seconds_left == pytest.approx(0.4)
        bout.step()
    assert [blended for _, blended, _ in seen] == [blend(terms, seconds) for seconds, _, _ in seen]
    assert len(seen) == 25, "24 whole ticks, and the state at their end"


def test_what_may_follow_what_is_one_table_and_the_documents_show_it() -> None:
    from test_library import ROOT

    text = (ROOT / "docs" / "bouts.md").read_text()
    for state, following in FOLLOWS.items():
        names = ", ".join(each.name.lower() for each in following) or "nothing"
        assert f"| {state.name.lower()} | {names} |" in text
    assert set(FOLLOWS) == set(ActionState)


BESIDE = """
[[fighters.hewer.reactions]]
name = "slowed"
seconds = 1
locks = {locks}
"""


@pytest.mark.parametrize("locks", ["[]", '["move"]', '["guard", "turn"]'])
@pytest.mark.parametrize("charge", ["", "charge = { seconds = 0.1 }"])
def test_an_attack_begins_beside_a_reaction_that_does_not_lock_it(locks: str, charge: str) -> None:
    bout = yard(BESIDE.format(locks=locks), slow=charge)
    amber, reed = meet(bout)
    amber.order(press="flick")
    run(bout, 0.2)
    reaction = body_of(reed).reaction
    assert reaction is not None and reaction.name == "slowed"
    reed.order(hold="slow", move=1)
    run(bout, 0.2)
    reed.order(hold=())
    run(bout, 0.2)
    assert {"slow", "slowed"} <= set(reed.states)
    assert ("moving" in reed.states) is ("move" not in locks)
    told = run(bout, 0.6)
    assert [each.reaction for each in only(events.ReactionEnded, told)] == ["slowed"]
    assert body_of(bout.seat("reed")).reaction is None
    assert "slow" in reed.states, "the attack goes on when the reaction is over"
    run(bout, 1)
    reed.order(press="flick")
    assert only(events.AttackBegan, run(bout, 0.1)), "and its fighter is free after it"


def test_a_strike_of_the_dead_that_still_trades_is_parried_without_a_reaction() -> None:
    row = '[[fighters.hewer.reactions]]\nname = "open"\nparried = true\nseconds = 0.3'
    bout = yard(row, guard="perfect = 9")
    amber, reed = meet(bout)
    reed.place((4, 0), teleport=True)
    reed.order(hold="guard", facing="left")
    run(bout, 0.1)
    amber.order(press="hew")
    bout.step()
    amber.hurt(100, "fire")
    bout.step()
    reed.place((1, 0), teleport=True)
    told = run(bout, 0.5)
    assert [each.perfect for each in only(events.Guarded, told)] == [True] and not only(events.ReactionBegan, told)


def test_a_corpse_goes_through_the_reaction_that_it_died_with() -> None:
    bout = yard()
    amber, reed = meet(bout)
    reed.set_pool("health", 1)
    amber.order(press="hew")
    found: list[events.Died] = []
    while not found:
        found = only(events.Died, bout.step())
    (died,) = found
    (corpse,) = bout.view().corpses
    assert died.reaction == "drop" and corpse.reaction is not None and corpse.states == ()
    assert (corpse.reaction.name, corpse.reaction.variant) == ("drop", "drop_left")
    assert (corpse.reaction.seconds, corpse.reaction.seconds_left) == (0, 1)
    saved = bout.snapshot()
    later = [each for _ in range(61) for each in bout.step()]
    assert not only(events.ReactionEnded, later), "nothing of the dead ends"
    assert all(each.reaction is None for each in bout.view().corpses)
    bout.restore(saved)
    assert bout.view().corpses[0].reaction == corpse.reaction
