"""Hits of a tick that are judged in columns come to what they come to one by one, to the last bit."""

from __future__ import annotations

import random
from typing import Any

import pytest

import emberwound as ew
from conftest import only
from emberwound import events
from emberwound.bout.hits import side_by_side

ONE_BY_ONE, IN_COLUMNS = 10**9, 1


def book(rng: random.Random, space: str) -> str:
    """A crowd without guards and reactions: shots, strikes and blasts of random figures."""
    falloff = rng.choice(["", 'falloff = "steep"', 'falloff = "linear"', 'falloff = "even"'])
    heading, mode = rng.choice(["radial", "away"]), rng.choice(["add", "set"])
    bounds = {"3d": "low = [-5, -5, -1], high = [5, 5, 9]", "top": "low = [-5, -5], high = [5, 5]"}
    return f"""
[settings]
max_seats = 40
{rng.choice(["", 'rounding = "whole"'])}
{rng.choice(["", 'trade_window = "0f"'])}
[kinds.glass]
[kinds.iron]
{fighter(rng, "moth", '["hard"]')}
{fighter(rng, "crab", "[]")}
[attacks.spray]
kind = "glass"
damage = {rng.choice([1, 3.7, 12])}
rate = 9
against = {{ hard = {rng.choice([0.5, 1.3])} }}
{rng.choice(["", 'push = { speed = 2, heading = "travel", per_point = 0.1 }'])}
{rng.choice(["", "hit_stop = 0.05"])}
shot = {{ radius = 0.1, speed = 30, life = 0.5, gravity_share = 0, muzzle = [0.5, 1], count = 9, fan_deg = 360 }}
[attacks.sweep]
kind = "iron"
damage = {rng.choice([2, 9.1])}
windup = 0.05
active = 0.2
recovery = 0.1
strike.hitboxes.hook = {{ from = [0.2, 1], to = [2.5, 1], radius = 0.4 }}
{rng.choice(["", "strike.rehit_every = 0.05", "strike.rehit_every = 0.01"])}
[attacks.boom]
windup = 0.05
recovery = 0.3
blast = "burst"
blast_at = [0, 1]
[blasts.burst]
radius = 3
kind = "iron"
damage = {rng.choice([5, 30.3])}
{falloff}
push = {{ speed = 3, heading = "{heading}", lift_deg = 20, mode = "{mode}" }}
[arenas.pit]
space = "{space}"
{"floor = 0" if space == "3d" else ""}
bounds = {{ {bounds[space]} }}
"""


def fighter(rng: random.Random, name: str, labels: str) -> str:
    return f"""
[fighters.{name}]
attacks = ["spray", "sweep", "boom"]
speed = 3
weight = {rng.choice([0.7, 2])}
labels = {labels}
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {rng.choice([20, 90])}, vital = true }}
{rng.choice(["", "damage_taken = { iron = 0.3 }"])}
{rng.choice(["", "flat_reduction = { glass = 0.75 }"])}
{rng.choice(["", "guard = { arc_deg = 200, damage_share = 0.5 }"])}
reactions = [{rng.choice(["", '{ name = "reel", seconds = 0.1, push = 2.5 }, { name = "wince", seconds = 0.05 }'])}]
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
hurtboxes.brow = {{ from = [0, 1.6], radius = 0.18, multiplier = 2.3, push_share = 0.5 }}
"""


def fight(seed: int, monkeypatch: pytest.MonkeyPatch, few: int) -> tuple[list[dict[str, Any]], str, dict[str, int]]:
    """All events, the digest at the end, and how many hits each room dealt in columns."""
    rng = random.Random(seed)
    space = rng.choice(["3d", "top"])
    bout = ew.Bout(ew.Rulebook.parse(book(rng, space)), arena="pit", seed=seed)
    for number in range(24):
        at = [rng.uniform(-3, 3), rng.uniform(-3, 3), 0.0][: 3 if space == "3d" else 2]
        team = None if number % 3 else "tide"
        bout.enter(rng.choice(["moth", "crab"]), seat=f"s{number}", at=at, lives="endless", team=team)
    counted = {"judgement": 0, "wide_blasts": 0}
    for room, module in (("judgement", "judges.together"), ("wide_blasts", "wide_blasts")):

        def deal(*given: Any, room: str = room) -> Any:
            counted[room] += len(given[1])
            return side_by_side.deal(*given)

        monkeypatch.setattr(f"emberwound.bout.hits.{module}.deal", deal)
    monkeypatch.setattr(side_by_side, "FEW", few)
    found: list[events.AnyEvent] = []
    for _ in range(70):
        for seat in bout.seats:
            if rng.random() < 0.004:
                holds = bout.rules.book.fighters[seat.fighter].guard and rng.random() < 0.3
                seat.order(hold="guard" if holds else ())
            if rng.random() < 0.15:
                seat.order(press=rng.choice(["spray", "sweep", "boom"]), facing="foe")
        found += bout.step()
    return [event.to_dict() for event in found], bout.digest(), counted


@pytest.mark.parametrize("seed", range(8))
def test_hits_in_columns_come_to_what_they_come_to_one_by_one(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    singly, in_columns = (fight(seed, monkeypatch, few) for few in (ONE_BY_ONE, IN_COLUMNS))
    assert singly[0] == in_columns[0] and singly[1] == in_columns[1]
    assert set(singly[2].values()) == {0} and min(in_columns[2].values()) > 4 and sum(in_columns[2].values()) > 25
    kinds = {event["type"] for event in singly[0]}
    assert kinds >= {"wounded", "died", "shot_ended", "knocked_back", "exploded", "swing_ended"}
    for event in singly[0]:
        if event["type"] == "wounded":
            ledger = event["ledger"]
            lost = sum(loss["before"] - loss["after"] for loss in ledger["losses"])
            assert lost + ledger["overkill"] + ledger["lost"] == pytest.approx(event["amount"])
            assert ledger["steps"][0]["rule"] == "base" and ledger["steps"][-1]["after"] == 0.0


def test_a_ledger_that_nobody_read_is_the_one_somebody_read(monkeypatch: pytest.MonkeyPatch) -> None:
    first, second = (fight(3, monkeypatch, IN_COLUMNS)[0] for _ in range(2))
    assert first == second
    rules = ew.Rulebook.parse(book(random.Random(3), "top"))
    bout = ew.Bout(rules, arena="pit")
    bout.enter("moth", seat="near", at=(0.9, 0)), bout.enter("moth", seat="far", at=(0, 0))
    bout.seat("far").order(press="boom", facing="foe")
    (wound,) = only(events.Wounded, [event for _ in range(30) for event in bout.step()])[:1]
    asked = rules.wound("boom", "moth", blast=True, hurtbox=wound.hurtbox, distance=0.5)
    assert [step.rule for step in wound.ledger.steps] == [step.rule for step in asked.ledger.steps]
    assert wound.ledger == type(wound.ledger)(*(getattr(wound.ledger, name) for name in wound.ledger.__slots__))
