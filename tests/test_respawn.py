"""Standing again: when, where, protected for how long; checkpoints and pickups on the way."""

from __future__ import annotations

from math import dist, hypot
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import draw, events

BOOK = """
[settings]
tick_rate = {tick_rate}
max_seats = 12
[kinds.iron]
[fighters.hewer]
attacks = ["jab"]
speed = 4
respawn_seconds = {respawn}
respawn_protection = {protection}
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 20, vital = true }}
pools.oil = {{ max = 10, start = 4 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
hurtboxes.arm = {{ from = [0.5, 1], radius = 0.1 }}
[attacks.jab]
kind = "iron"
damage = 30
windup = 0.1
cooldown = 0.2
cost = {{ oil = 1 }}
layers = ["body"]
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[arenas.pier]
space = "{space}"
{floor}
{arena}
bounds = {{ low = {low}, high = {high} }}
hazards.pit = {{ at = {pit}, half_space = {beyond}, fatal = true }}
entries.gate = {{ at = {gate}, facing = "left" }}
"""
SPACES: dict[str, dict[str, Any]] = {
    "side": {"low": [-20, -1], "high": [40, 9], "pit": [30, 0], "beyond": [1, 0], "gate": [-5, 0]},
    "top": {"low": [-20, -20], "high": [40, 20], "pit": [30, 0], "beyond": [1, 0], "gate": [-5, 0]},
    "3d": {"low": [-20, -20, -1], "high": [40, 20, 9], "pit": [30, 0, 0], "beyond": [1, 0, 0], "gate": [-5, 0, 0]},
}


def rules(space: str = "side", arena: str = "", **parts: Any) -> ew.Rulebook:
    figures = {"tick_rate": 60, "respawn": 0.5, "protection": 0, **SPACES[space], **parts}
    floor = "" if space == "top" else "floor = 0"
    return ew.Rulebook.parse(BOOK.format(space=space, floor=floor, arena=arena, **figures))


def pier(space: str = "side", arena: str = "", **parts: Any) -> ew.Bout:
    return ew.Bout(rules(space, arena, **parts), arena="pier")


def at(space: str, x: float, y: float = 0) -> tuple[float, ...]:
    return {"side": (x, 0.0), "top": (x, y), "3d": (x, y, 0.0)}[space]


def fall(bout: ew.Bout, seat: ew.Seat, space: str = "side") -> list[events.AnyEvent]:
    """Throw a seat into the pit; the events until it respawns."""
    seat.place(at(space, 35), teleport=True)
    found = steps(bout, 2)
    while not seat.alive and not seat.out:
        found += bout.step()
    return found


@pytest.mark.parametrize("tick_rate", [30, 60, 144, 240, 1000])
@pytest.mark.parametrize("respawn", ["3.7", "0.5", "1e-6", "0"])
def test_the_wait_is_exact_in_ticks_and_can_be_read(tick_rate: int, respawn: str) -> None:
    bout = pier(tick_rate=tick_rate, respawn=respawn)
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives="endless")
    for _ in range(2):
        found = fall(bout, reed)
        died, again = only(events.Died, found)[0], only(events.Respawned, found)[0]
        wait = -(-round(float(respawn) * 1e9) * tick_rate // 10**9)
        assert again.tick == died.tick + 1 + wait == died.respawn_tick
        assert reed.lives_left is None and died.lives_left is None and reed.respawns_in is None
    reed.place((35, 0), teleport=True)
    while reed.alive:
        bout.step()
    assert reed.respawns_in == pytest.approx(wait / tick_rate)


WAYS = ["free", "taken", "walled", "reached", "none"]


@pytest.mark.parametrize("space", list(SPACES))
@pytest.mark.parametrize("way", WAYS)
def test_it_stands_at_the_nearest_free_spot_and_says_that_it_moved(space: str, way: str) -> None:
    spike = {"side": "[0, 0.3]", "top": "[0, 0]", "3d": "[0, 0, 0.3]"}[space]
    size = {"side": "[2, 4]", "top": "[2, 3]", "3d": "[2, 3, 4]"}[space]
    hazard = "hazards.spike = {{ at = {0}, radius = {1}, kind = 'iron', damage = 1, margin = 0.2 }}"
    arena = {
        "walled": f"walls.post = {{ at = {spike}, size = {size} }}",
        "reached": hazard.format(spike, 1),
        "none": hazard.format(spike, 60),
    }.get(way, "")
    bout = pier(space, arena)
    reed = bout.enter("hewer", seat="reed", at=at(space, 0), lives=2)
    if way == "taken":
        bout.step()
        bout.enter("hewer", seat="amber", at=at(space, 0.1))
    again = only(events.Respawned, fall(bout, reed, space))[0]
    away = dist(again.position, at(space, 0))
    assert again.crowded == (way == "none")
    assert again.moved == pytest.approx(away)
    assert bool(away) == (way in ("taken", "walled", "reached"))
    if way == "taken":
        assert dist(again.position, at(space, 0.1)) >= 0.6 - 1e-9 and away < 1
    if way == "reached":
        assert away >= 1 + 0.2 + 0.6 - 1e-9 and away < 2.5, "an arm's length out of its reach"
    if way == "walled":
        assert 1.3 - 1e-6 <= away < 1.9
    assert not [event for event in only(events.Wounded, run(bout, 1)) if event.seat == "reed" and way != "none"]


def test_a_body_on_a_ledge_is_not_moved_off_it() -> None:
    bout = pier(arena="walls.ledge = { at = [0, 1], size = [2, 2] }")
    reed = bout.enter("hewer", seat="reed", at=(0.8, 2), lives=2)
    bout.step()
    bout.enter("hewer", seat="amber", at=(0.9, 2))
    again = only(events.Respawned, fall(bout, reed))[0]
    assert again.position == pytest.approx((0.8 - 0.6, 2))


@pytest.mark.parametrize("tick_rate", [30, 60, 240])
def test_protection_stops_all_but_what_is_fatal_and_ends_in_time(tick_rate: int) -> None:
    bout = pier(tick_rate=tick_rate, protection=0.5)
    reed = bout.enter("hewer", seat="reed", at=(3, 0), lives=5)
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    again = only(events.Respawned, fall(bout, reed))[0]
    assert again.protected_until == again.tick + round(0.5 * tick_rate)
    amber.order(hold="jab")
    (died,) = only(events.Died, run(bout, 1))
    assert died.tick >= again.protected_until and died.tick - again.protected_until < 0.2 * tick_rate + 1
    fall(bout, reed)
    amber.order(hold=())
    reed.place((35, 0), teleport=True)
    assert [event.attack for event in only(events.Died, steps(bout, 2))] == ["pit"]


def test_what_was_held_before_a_death_must_be_pressed_again_and_all_else_is_fresh() -> None:
    bout = pier()
    reed = bout.enter("hewer", seat="reed", at=(0, 0), facing="right", lives=3)
    reed.order(hold="jab", move=1)
    run(bout, 0.5)
    assert reed.pools["oil"] < 4
    found = fall(bout, reed)
    assert reed.pools == {"health": 20, "oil": 4} and reed.facing == "right"
    found = run(bout, 1)
    assert not only(events.AttackBegan, found) and "moving" in reed.states, "a move goes on, a held attack does not"
    reed.order(hold="jab")
    assert only(events.AttackBegan, steps(bout, 1))


CAIRNS = """
checkpoints.first = { at = [3, 0], radius = 0.5, order = 1, respawn_at = [2, 0], facing = "left", refill = ["oil"] }
checkpoints.second = { at = [8, 0], size = [1, 3], order = 2, respawn_at = [7, 0]%s }
checkpoints.third = { at = [13, 0], to = [13, 2], radius = 0.4, order = 3, respawn_at = [12, 0] }
%s
"""


def walk(bout: ew.Bout, seat: ew.Seat, where: float) -> list[events.AnyEvent]:
    """Walk a seat along the ground to a place."""
    ahead = 1 if where > (seat.position or (0,))[0] else -1
    seat.order(move=ahead)
    found: list[events.AnyEvent] = []
    while ahead * (where - (seat.position or (0,))[0]) > 0:
        found += bout.step()
    seat.order(move=0)
    return found + bout.step()


@pytest.mark.parametrize(("rule", "last"), [("furthest", 12), ("latest", 2)])
def test_checkpoints_count_once_and_by_their_rule(rule: str, last: float) -> None:
    bout = pier(arena=CAIRNS % ("", f'checkpoint_rule = "{rule}"'))
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives=9)
    assert only(events.Respawned, fall(bout, reed))[0].position == (0, 0)
    found = walk(bout, reed, 15)
    assert [(event.checkpoint, event.order) for event in only(events.CheckpointReached, found)] == [
        ("first", 1), ("second", 2), ("third", 3)]  # fmt: skip
    assert reed.pools["oil"] == 10
    back = [event.checkpoint for event in only(events.CheckpointReached, walk(bout, reed, 3) + run(bout, 3))]
    assert back == ([] if rule == "furthest" else ["second", "first"]), "the third was the latest already"
    again = only(events.Respawned, fall(bout, reed))[0]
    told = (again.position, again.checkpoint, reed.facing)
    assert told == ((last, 0), *(("third", "right") if last == 12 else ("first", "left")))


def test_a_checkpoint_may_be_for_the_whole_team_and_never_for_the_dead() -> None:
    bout = pier(arena=CAIRNS % (", whole_team = true", "hazards.mine = { at = [13, 0], radius = 1, fatal = true }"))
    reed = bout.enter("hewer", seat="reed", at=(0, 0), team="tide", lives=3)
    sedge = bout.enter("hewer", seat="sedge", at=(-2, 0), team="tide", lives=3)
    amber = bout.enter("hewer", seat="amber", at=(-8, 0), team="lamps", lives=3)
    told = only(events.CheckpointReached, walk(bout, reed, 9))
    assert [(event.seat, event.checkpoint, event.whole_team) for event in told] == [
        ("reed", "first", False), ("reed", "second", True)]  # fmt: skip
    for seat, x in ((sedge, 7), (amber, -8)):
        fall(bout, seat)
        assert seat.position == (x, 0)
    reed.place((13, 0), teleport=True)
    found = steps(bout, 2)
    assert only(events.Died, found) and not only(events.CheckpointReached, found)


def test_who_has_no_checkpoint_stands_again_at_the_arenas_entry_if_it_names_one() -> None:
    bout = pier(arena='respawn_entry = "gate"')
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives=2)
    fall(bout, reed)
    assert (reed.position, reed.facing) == ((-5, 0), "left")


def test_pickups_go_to_the_first_and_come_back_in_time() -> None:
    pickups = """
pickups.flask = { at = [1, 0.5], radius = 0.3, gives = { health = 5, oil = 3 }, returns_after = 0.5 }
pickups.heart = { at = [4, 0.5], radius = 0.3, lives = 2 }
hazards.thorn = { at = [-3, 0.5], radius = 0.2, kind = "iron", damage = 8 }
"""
    bout = pier(arena=pickups)
    reed, amber = bout.enter("hewer", seat="reed", at=(-4, 0)), bout.enter("hewer", seat="amber", at=(9, 0))
    found = walk(bout, reed, 1)
    (flask,) = only(events.PickedUp, found)
    assert (flask.seat, flask.pickup, flask.gained) == ("reed", "flask", {"health": 5, "oil": 3})
    assert reed.pools == {"health": 17, "oil": 7} and not only(events.Healed, found)
    late = [event.time for event in only(events.PickedUp, run(bout, 1.2))]
    assert late == [pytest.approx(flask.time + 0.5)], "it is there again half a second later, to be taken at once"
    assert reed.pools == {"health": 20, "oil": 10}, "and then left, for it would give nothing"
    for place in (-3, 1):
        reed.place((place, 0), teleport=True)
        found = run(bout, 0.1)
    (more,) = only(events.PickedUp, found)
    assert (more.gained, more.counted, reed.pools["health"]) == ({"health": 5, "oil": 0}, {}, 17)
    (heart,) = (event for event in only(events.PickedUp, walk(bout, amber, 3)) if event.seat == "amber")
    assert (heart.seat, heart.lives, heart.lives_left, heart.returns_tick, amber.lives_left) == ("amber", 2, 3, None, 3)
    latecomer = bout.enter("hewer", seat="late", at=(4, 0))
    assert "late" not in {event.seat for event in only(events.PickedUp, run(bout, 0.2))} and latecomer.lives_left == 1


def test_a_spot_is_clear_of_hazards_above_for_hurtboxes_that_rise_above_their_body() -> None:
    rules = ew.Rulebook.parse("""
[kinds.iron]
[fighters.tall]
body = { radius = 0.3, height = 0.5 }
pools.health = { max = 10, vital = true }
hurtboxes.trunk = { from = [0, 0.3], to = [0, 1.2], radius = 0.3 }
respawn_seconds = 0.5
[arenas.pier]
floor = 0
bounds = { low = [-20, -1], high = [20, 9] }
hazards.blade = { at = [0, 2], radius = 0.8, fatal = true }
""")
    bout = ew.Bout(rules, arena="pier")
    seat = bout.enter("tall", seat="reed", at=(0, 0), lives=2)
    found = run(bout, 2)
    (again,) = only(events.Respawned, found)
    assert hypot(again.position[0], 2 - 1.2) > 0.8 + 0.3 and seat.alive  # clear of the blade with its highest hurtbox


def test_checkpoints_pickups_and_spots_run_again_bit_for_bit() -> None:
    book = rules(
        arena=CAIRNS % ("", "pickups.heart = { at = [4, 0.5], radius = 0.3, gives = { oil = 1 }, returns_after = 1 }")
    )
    bout = ew.Bout(book, arena="pier", seed=3)
    recorder = ew.Recorder(bout)
    seats = [bout.enter("hewer", at=(0.5 * n, 0), lives="endless") for n in range(6)]
    rng = np.random.default_rng(5)
    for _ in range(60):
        for seat in seats:
            if seat.alive and rng.uniform() < 0.1:
                seat.place((35, 0), teleport=True)
            seat.order(move=float(rng.uniform(-1, 1)), press="jab" if rng.uniform() < 0.3 else None)
        steps(bout, 7)
    chronicle = recorder.chronicle()
    assert len(only(events.Respawned, chronicle.events)) > 20 and len(only(events.PickedUp, chronicle.events)) > 1
    assert ew.rerun(chronicle).end == chronicle.end


def test_a_seat_that_leaves_takes_all_of_its_own_along_and_makes_room() -> None:
    bout = pier(arena="pickups.heart = { at = [4, 0.5], radius = 0.3, lives = 1 }")
    reed = bout.enter("hewer", seat="reed", at=(0, 0), team="tide", lives=3)
    amber = bout.enter("hewer", seat="amber", at=(4, 0), lives=3)
    run(bout, 0.5)
    reed.order(hold="jab", move=1)
    heard: list[events.Event] = []
    bout.on(events.Event, seat=reed)(heard.append)
    reed.leave()
    found = steps(bout, 1)
    assert heard == [event for event in found if event.seat == "reed"] and isinstance(heard[-1], events.SeatLeft)
    assert [(event.seat, event.reason) for event in only(events.BodyRemoved, found)] == [
        ("reed", ew.Reason.OWNER_LEFT)]  # fmt: skip
    assert [event.seat for event in only(events.SeatLeft, found)] == ["reed"]
    assert bout.seats == (amber,) and amber.lives_left == 4
    with pytest.raises(ew.BoutError, match="seat 'reed' has left the bout"):
        reed.order(move=1)
    assert repr(reed) == "<Seat reed: left the bout>"
    again = bout.enter("hewer", seat="reed", at=(-3, 0))
    later = run(bout, 1)
    assert isinstance(heard[-1], events.SeatLeft), "who takes the place of a seat has listeners of its own"
    assert [again.lives_left, again.life, again.team, list(again.states)] == [1, 1, None, []]
    assert not only(events.AttackBegan, later) and list(again.position or ()) == [-3, 0]
    for number in range(10):
        bout.enter("hewer", seat=f"n{number}", at=(number, 0))
    with pytest.raises(ew.BoutError, match=r"settings\.max_seats is 12"):
        bout.enter("hewer", at=(0, 0))


IMP = """
[fighters.imp]
speed = 1
body = {{ radius = 0.1, height = 0.5 }}
pools.health = {{ max = 3, vital = true }}
hurtboxes.all = {{ from = [0, 0.2], radius = 0.1 }}
"""


def test_a_seat_may_become_another_fighter_with_its_next_body() -> None:
    text = BOOK.replace("[attacks.jab]", IMP + "[attacks.jab]")
    figures = {"tick_rate": 60, "respawn": 0.5, "protection": 0, **SPACES["side"]}
    bout = ew.Bout(ew.Rulebook.parse(text.format(space="side", floor="floor = 0", arena="", **figures)), arena="pier")
    recorder = ew.Recorder(bout)
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives=3)
    reed.become("imp")
    bout.step()
    assert reed.fighter == "hewer"
    again = only(events.Respawned, fall(bout, reed))[0]
    assert (again.fighter, reed.fighter, reed.pools) == ("imp", "imp", {"health": 3})
    with pytest.raises(ew.BoutError, match="there is no attack of imp 'jab'; known: none"):
        reed.order(press="jab")
    with pytest.raises(ew.BoutError, match="there is no fighter 'imb'"):
        reed.become("imb")
    bout.enter("hewer", seat="late", at=(3, 0))
    reed.leave()
    run(bout, 0.5)
    chronicle = recorder.chronicle()
    assert ew.rerun(chronicle).end == chronicle.end
    tracks = chronicle.tracks
    assert tracks.seats == ("reed", "late") and not tracks.alive[-1, 0] and tracks.alive[-1, 1]
    assert set(tracks.pool_names) == {"health", "oil"}
    first, last = tracks.pool("reed", "health"), tracks.pool("reed", "oil")
    assert first[1] == 20 and last[1] == 4, "as a hewer it had both pools"
    back = int(np.searchsorted(tracks.ticks, again.tick + 1))
    assert first[back] == 3 and np.isnan(last[back:]).all(), "as an imp it has no oil"
    assert tracks.pool("late", "oil")[-1] == 4
    _, health = draw.draw_story(chronicle).axes
    shown = [np.asarray(line.get_ydata(), float) for line in health.lines]
    assert any({20.0, 3.0} <= set(line[~np.isnan(line)].tolist()) for line in shown), "both lives of reed are drawn"
