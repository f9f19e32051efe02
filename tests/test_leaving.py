"""Seats that leave, become and come again: nothing of them is left behind, and no handle moves a stranger."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import Reason, events

YARD = """
[kinds.iron]

[fighters.hewer]
attacks = ["beam", "bomb", "chop"]
respawn_seconds = 0.2
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }

[fighters.bowman]
attacks = ["chop"]
respawn_seconds = 0.2
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 9, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }

[attacks.beam]
kind = "iron"
damage = 9
ray = { range = 9, muzzle = [0.4, 1] }

[attacks.chop]
kind = "iron"
damage = 9
active = 0.2
strike.hitboxes.blade = { from = [0.3, 1], to = [1.6, 1], radius = 0.3 }

[attacks.bomb]
blast = "boom"
blast_at = [2, 1]

[blasts.boom]
kind = "iron"
damage = 9
radius = 2
falloff = "even"

[arenas.yard]
floor = 0
bounds = { low = [-20, -5], high = [20, 20] }
entries.gate = { at = [-9, 0] }

[bouts.drill]
arena = "yard"
seconds = 5
seats.amber = { fighter = "hewer", at = [0, 0] }
seats.reed = { fighter = "hewer", at = [3, 0] }

[[bouts.drill.orders]]
time = 1
seat = "amber"
press = "beam"
"""
RULES = ew.Rulebook.parse(YARD, "yard.toml")


def yard(*places: float) -> ew.Bout:
    """Fighters a, b, c ... at these places, a tick old."""
    bout = ew.Bout(RULES, arena="yard")
    for name, place in zip("abcde", places, strict=False):
        bout.enter("hewer", at=(place, 0), seat=name, lives=3)
    bout.step()
    return bout


@pytest.mark.parametrize("attack", ["beam", "bomb", "chop"])
@pytest.mark.parametrize("ticks", [0, 1, 7])
def test_whoever_left_is_hit_by_nothing(attack: str, ticks: int) -> None:
    bout = yard(0, 1.5, -9)
    bout.seat("b").leave()
    steps(bout, ticks)
    bout.seat("a").order(press=attack)
    found = run(bout, 0.5)
    assert [each for each in found if isinstance(each, events.Wounded | events.Died | events.LifeLost)] == []
    assert bout.seats == (bout.seat("a"), bout.seat("c"))
    bout.enter("hewer", at=(1.5, 0), seat="d")
    bout.step()
    bout.seat("a").order(press=attack)
    assert [each.seat for each in only(events.Died, run(bout, 0.5))] == ["d"]


@pytest.mark.parametrize("press", ["chop", "beam"])
def test_orders_of_another_fighter_go_by_the_name_of_the_attack(press: str) -> None:
    bout = yard(0, 1.5)
    seat = bout.seat("b")
    seat.become("bowman")
    bout.seat("a").order(press="chop")
    found: list[events.AnyEvent] = []
    while not only(events.Respawned, found):
        if seat.fighter == "hewer":
            seat.order(press=press, hold=[press])
        found = bout.step()
        assert bout.tick < 60
    assert seat.fighter == "bowman"
    found += run(bout, 0.4)
    began = [each.attack for each in only(events.AttackBegan, found) if each.seat == "b"]
    refused = {(each.order, each.reason) for each in only(events.OrderRefused, found) if each.seat == "b"}
    if press == "chop":
        assert set(began) == {"chop"} and refused <= {("press chop", Reason.ATTACKING), ("hold chop", Reason.ATTACKING)}
    else:
        assert began == [] and ("press beam", Reason.OTHER_FIGHTER) in refused


def test_a_scripted_seat_that_leaves_takes_its_orders_with_it() -> None:
    bout = ew.Bout.scripted(RULES, "drill")
    run(bout, 0.5)
    bout.seat("amber").leave()
    found = run(bout, 2)
    assert [type(each).__name__ for each in found] == ["BodyRemoved", "SeatLeft"]


def test_a_handle_of_a_seat_that_left_moves_nobody_and_equals_nobody() -> None:
    bout = yard(0, 3)
    old = bout.seat("a")
    old.leave()
    bout.step()
    for ask in (lambda: old.order(move=1), lambda: old.place((5, 0)), lambda: old.alive, lambda: old.pools, old.leave):
        with pytest.raises(ew.BoutError, match="seat 'a' has left"):
            ask()
    bout.enter("hewer", at=(0, 0), seat="a")
    bout.step()
    new = bout.seat("a")
    assert new != old and hash(new) != hash(old)
    with pytest.raises(ew.BoutError, match="seat 'a' has left"):
        old.order(move=1)
    assert new.alive


def test_a_handle_older_than_a_snapshot_says_that_its_seat_is_not_there() -> None:
    bout = yard(0)
    saved = bout.snapshot()
    late = bout.enter("hewer", at=(3, 0), seat="late")
    bout.step()
    bout.restore(saved)
    for ask in (lambda: late.alive, lambda: late.order(move=1), lambda: late.position):
        with pytest.raises(ew.BoutError, match="seat 'late'"):
            ask()
