"""Reviving: healing that raises a corpse, by strike, ray and shot; which body, which life, which events."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import only, run
from emberwound import Reason, events

BOOK = """
[kinds.iron]
[kinds.light]

[fighters.lamplighter]
attacks = ["chop", "touch", "beam", "flask", "salve"]
respawn_seconds = {respawn}
corpse_seconds = {corpse}
respawn_protection = 0.5
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
pools.breath = {{ max = 50 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}

[attacks.chop]
kind = "iron"
damage = 200
strike.hitboxes.blade = {{ from = [0.6, 1], to = [1.2, 1], radius = 0.1 }}
active = "2f"
[attacks.touch]
kind = "light"
heal = 30
revive = true
hits_allies = true
active = "2f"
strike.hitboxes.palm = {{ from = [0.6, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.beam]
kind = "light"
heal = 30
revive = true
hits_allies = true
ray = {{ muzzle = [0.4, 1], range = 6, direction = "facing" }}
[attacks.flask]
kind = "light"
heal = 30
revive = true
hits_allies = true
shot = {{ muzzle = [0.4, 1], radius = 0.05, speed = 30, gravity_share = 0, direction = "facing" }}
[attacks.salve]
kind = "light"
heal = 30
hits_allies = true
ray = {{ muzzle = [0.4, 1], range = 6, direction = "facing" }}

[arenas.yard]
floor = 0
bounds = {{ low = [-20, -5], high = [20, 20] }}
"""


def yard(*, respawn: float = 60, corpse: float = 60, lives: int = 3, healer: str = "shore") -> ew.Bout:
    """Wick has just been killed by a foe at his right, and a healer stands at his left."""
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(respawn=respawn, corpse=corpse)), arena="yard")
    bout.enter("lamplighter", at=(1, 0), facing="left", seat="wick", lives=lives, team="shore")
    bout.enter("lamplighter", at=(2, 0), facing="left", seat="foe", team="tide")
    bout.enter("lamplighter", at=(0, 0), facing="right", seat="reed", team=healer)
    bout.seat("foe").order(press="chop")
    assert only(events.Died, run(bout, 0.5))
    return bout


@pytest.mark.parametrize("attack", ["touch", "beam", "flask"])
def test_a_corpse_within_reach_stands_up_again_where_it_lies_in_its_next_life(attack: str) -> None:
    bout = yard()
    before = ew.Rulebook.of(bout.rules).wound("touch", "lamplighter", pools={"health": 0})
    bout.seat("reed").order(press=attack)
    found = run(bout, 0.5)
    [healed] = only(events.Healed, found)
    [stood] = only(events.Respawned, found)
    assert (healed.amount, healed.vital_left) == (before.ledger.amount, before.after["health"])
    assert (stood.by, stood.cause, stood.life, stood.position) == ("reed", healed.seq, 2, (1.0, 0.0))
    assert stood.tick == healed.tick + 1
    assert stood.protected_until == stood.tick + 30
    assert only(events.BodyRemoved, found)[0].reason is Reason.REVIVED
    wick = bout.seat("wick")
    assert (wick.alive, wick.lives_left, wick.pools) == (True, 2, {"health": 30.0, "breath": 50.0})
    assert wick.respawns_in is None
    assert not only(events.Respawned, run(bout, 70))


def test_what_only_heals_leaves_a_corpse_alone_and_says_so() -> None:
    bout = yard()
    seen: list[tuple[str, Reason]] = []

    class Watcher:
        def passed_over(self, _bout: ew.Bout, found: ew.PassedOver) -> None:
            seen.append((found.seat, found.reason))

    bout.watch(Watcher())
    bout.seat("reed").order(press="salve")
    found = run(bout, 0.5)
    assert ("wick", Reason.TARGET_DEAD) in seen
    assert [event.seat for event in only(events.Healed, found)] == ["foe"]
    seen.clear()
    bout.seat("reed").order(press="beam")
    assert only(events.Respawned, run(bout, 0.5))
    assert seen == []


@pytest.mark.parametrize(
    ("how", "revived"),
    [
        ({}, True),
        ({"corpse": 0.25}, False),
        ({"lives": 1}, False),
        ({"respawn": 0.25}, False),
        ({"healer": "tide"}, True),
    ],
)
def test_who_can_be_revived(how: dict[str, object], revived: bool) -> None:
    """A corpse that lies there, of a seat with a life left that has not respawned, by whoever the attack may touch."""
    bout = yard(**how)  # type: ignore[arg-type]
    bout.seat("reed").order(press="touch")
    assert [event.by for event in only(events.Respawned, run(bout, 0.5))] == ["reed"] * revived


def test_a_restored_bout_revives_alike_and_a_healer_that_left_is_not_named() -> None:
    bout = yard()
    bout.seat("reed").order(press="beam")
    before = bout.snapshot()
    told = [event.to_dict() for event in run(bout, 1)]
    bout.restore(before)
    assert [event.to_dict() for event in run(bout, 1)] == told
    bout.restore(before)
    while not only(events.Healed, bout.step()):
        pass
    bout.seat("reed").leave()
    [stood] = only(events.Respawned, bout.step())
    assert (stood.seat, stood.by) == ("wick", None)


def test_two_healers_of_one_tick_add_up_and_the_first_is_named() -> None:
    bout = yard()
    bout.enter("lamplighter", at=(1.5, 0), facing="left", seat="asa", team="shore")
    bout.step()
    for name in ("reed", "asa"):
        bout.seat(name).order(press="beam")
    found = run(bout, 0.5)
    wick = [event.amount for event in only(events.Healed, found) if event.seat == "wick"]
    assert wick == [30.0, 30.0]
    assert [(event.seat, event.by) for event in only(events.Respawned, found)] == [("wick", "reed")]
    assert bout.seat("wick").pools["health"] == 60.0


def test_who_lives_on_a_single_point_is_healed_and_lives_on() -> None:
    rules = ew.Rulebook.parse(BOOK.format(respawn=60, corpse=60)).edit({"attacks.chop.damage": 89})
    bout = ew.Bout(rules, arena="yard")
    wick = bout.enter("lamplighter", at=(1, 0), facing="left", seat="wick", team="shore")
    bout.enter("lamplighter", at=(2, 0), facing="left", seat="foe", team="tide").order(press="chop")
    bout.enter("lamplighter", at=(0, 0), facing="right", seat="reed", team="shore")
    run(bout, 0.5)
    assert wick.pools["health"] == 1
    bout.seat("reed").order(press="touch")
    assert only(events.Respawned, run(bout, 0.5)) == []
    assert (wick.life, wick.pools["health"]) == (1, 31)


@pytest.mark.parametrize("attack", ["touch", "flask"])
def test_what_revives_heals_once_though_its_victim_stands_in_a_new_body(attack: str) -> None:
    """A palm that is on for half a second, and a slow flask that passes through whom it heals."""
    book = BOOK.replace('active = "2f"\nstrike.hitboxes.palm', "active = 0.5\nstrike.hitboxes.palm")
    book = book.replace("respawn_protection = 0.5", "").replace("speed = 30", "speed = 2, pierce = 3")
    bout = ew.Bout(ew.Rulebook.parse(book.format(respawn=60, corpse=60)), arena="yard")
    bout.enter("lamplighter", at=(1, 0), facing="left", seat="wick", lives=3, team="shore")
    bout.enter("lamplighter", at=(2, 0), facing="left", seat="foe", team="tide")
    bout.enter("lamplighter", at=(0, 0), facing="right", seat="reed", team="shore")
    bout.seat("foe").order(press="chop")
    run(bout, 0.5)
    bout.seat("reed").order(press=attack)
    told = only(events.Healed, run(bout, 1))
    assert [(each.seat, each.amount) for each in told if each.seat == "wick"] == [("wick", 30)]


def test_pools_of_the_dead_hold_what_they_had_refilled_to_and_so_does_who_is_revived() -> None:
    text = BOOK.format(respawn=60, corpse=60).replace(
        "pools.breath = { max = 50 }", 'pools.breath = { max = 50, refill = 10 }\nbars = ["wind"]'
    )
    text = text.replace("[kinds.iron]", '[bars.wind]\npool = "breath"\nhalf_life = 0\n[kinds.iron]')
    text = text.replace("[attacks.chop]\n", "[attacks.chop]\ncost = { breath = 20 }\n")
    bout = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    bout.enter("lamplighter", at=(1, 0), facing="left", seat="wick", lives=3, team="shore")
    bout.enter("lamplighter", at=(2, 0), facing="left", seat="foe", team="tide")
    bout.enter("lamplighter", at=(0, 0), facing="right", seat="reed", team="shore")
    bout.seat("wick").order(press="chop", facing="left")
    run(bout, 3)
    bout.seat("foe").order(press="chop")
    assert [each.seat for each in only(events.Died, run(bout, 1))] == ["wick"]
    assert [(bar.seat, bar.share) for bar in bout.view().bars if bar.seat == "wick"] == [("wick", 1.0)]
    [corpse] = bout.view().corpses
    assert corpse.pools["breath"] == 50 == bout.view().pools["breath"][bout.view().seats.index("wick")]
    bout.seat("reed").order(press="touch")
    run(bout, 0.2)
    assert bout.seat("wick").pools == {"health": 30, "breath": 50}
