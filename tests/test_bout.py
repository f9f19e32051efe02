"""What a running bout promises: where shots go, what they do, what is refused, who comes back when."""

from __future__ import annotations

import gc
import tracemalloc
from fractions import Fraction
from math import ceil
from typing import Any

import pytest

import emberwound as ew
from conftest import only, range_rules, steps
from emberwound import Reason, events

RATES = (30, 60, 120, 240)


def range_bout(tick_rate: int = 60, **changes: object) -> tuple[ew.Bout, ew.Seat]:
    bout = ew.Bout(range_rules(**changes), arena="range", tick_rate=tick_rate)
    return bout, bout.enter("thrower", seat="amber", at="line")


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_point_comes_down_where_the_textbook_says(tick_rate: int) -> None:
    bout, amber = range_bout(tick_rate, gravity_share=1, muzzle="[0, 0]")
    amber.order(aim=(1, 1), press="dart")
    (ended,) = only(events.ShotEnded, steps(bout, 4 * tick_rate))
    assert ended.reason is Reason.FLOOR
    assert ended.position[0] == pytest.approx(20**2 / 9.81, rel=1e-9)
    assert ended.time == pytest.approx(2 * 20 * 0.5**0.5 / 9.81, rel=1e-9)


@pytest.mark.parametrize("tick_rate", [*RATES, 7, 144, 1000])
@pytest.mark.parametrize("gravity_share", [0, 1])
def test_a_very_fast_shot_hits_a_thin_post(tick_rate: int, gravity_share: float) -> None:
    bout, amber = range_bout(tick_rate, speed=5000, gravity_share=gravity_share)
    bout.enter("post", seat="post", at=(900, 0), facing="left")
    amber.order(press="dart")
    found = steps(bout, tick_rate)
    (wounded,) = only(events.Wounded, found)
    assert wounded.time == pytest.approx((900 - 0.1 - 0.5) / 5000, abs=1e-6)
    assert wounded.position[0] == pytest.approx(899.9, abs=1e-6)
    assert [event.reason for event in only(events.ShotEnded, found)] == [Reason.HIT]


@pytest.mark.parametrize("tick_rate", RATES)
def test_a_post_moved_through_a_hanging_shot_is_hit_on_the_way(tick_rate: int) -> None:
    bout, amber = range_bout(tick_rate, speed=1e-6)
    post = bout.enter("post", seat="post", at=(40, 0))
    amber.order(press="dart")
    bout.step()
    post.place((-40, 0), teleport=True)
    assert not only(events.Wounded, steps(bout, 2)), "a teleport sweeps nothing"
    post.place((40, 0))
    (wounded,) = only(events.Wounded, bout.step())
    share = (0.5 - 0.1 + 40) / 80
    assert wounded.time == pytest.approx((bout.tick - 1 + share) / tick_rate, abs=1e-6)


@pytest.mark.parametrize(
    ("places", "hit"),
    [
        ([(-40, True), (-30, False)], False),
        ([(-40, True), (40, False)], True),
        ([(-40, False), (-30, True)], False),
        ([(-30, True), (20, True)], False),
        ([(-30, False)], True),
    ],
)
def test_only_the_way_after_a_teleport_is_swept(places: list[tuple[float, bool]], hit: bool) -> None:
    bout, amber = range_bout(60, speed=1e-6)
    post = bout.enter("post", seat="post", at=(40, 0))
    amber.order(press="dart")
    bout.step()
    for place, teleport in places:
        post.place((place, 0), teleport=teleport)
    assert bool(only(events.Wounded, bout.step())) == hit
    assert post.position == (places[-1][0], 0)


@pytest.mark.parametrize("facing", ["right", "left"])
def test_muzzle_and_shot_follow_the_facing(facing: Any) -> None:
    bout, amber = range_bout()
    side = 1 if facing == "right" else -1
    amber.order(aim=(1, 0.25))
    bout.step()
    amber.order(facing=facing, press="dart")
    (released,) = only(events.Released, bout.step())
    assert released.position == (0.5 * side, 1.0) and released.velocity
    assert released.velocity[0] * side > 0
    assert released.velocity[1] / released.velocity[0] == pytest.approx(0.25 * side)
    assert amber.facing == facing


def test_an_aim_turns_its_fighter_unless_the_facing_is_given_too() -> None:
    bout, amber = range_bout()
    amber.order(aim=(-1, 0), press="dart")
    (released,) = only(events.Released, bout.step())
    assert (released.position[0], amber.facing) == (-0.5, "left")
    amber.order(aim=(-1, 0), facing="right", press="dart")
    (released,) = only(events.Released, bout.step())
    assert released.velocity
    assert (released.position[0], released.velocity[0], amber.facing) == (0.5, -20.0, "right")
    amber.order(aim=(0, 3), press="dart")
    (released,) = only(events.Released, bout.step())
    assert (released.velocity, amber.facing) == ((0.0, 20.0), "right")


@pytest.mark.parametrize("tick_rate", [*RATES, 144])
@pytest.mark.parametrize(
    ("windup", "recovery", "cooldown"), [("0.2", "0.15", "0.6"), ('"7f"', "1", "0.1"), ("0", "0", "0")]
)
def test_attack_times_count_from_the_press_and_round_up_once(
    tick_rate: int, windup: str, recovery: str, cooldown: str
) -> None:
    bout, amber = range_bout(tick_rate, windup=windup, recovery=recovery, cooldown=cooldown, buffer=0)
    start = Fraction(7, 60) if "f" in windup else Fraction(windup)
    release, whole = ceil(start * tick_rate), ceil((start + Fraction(recovery)) * tick_rate)
    again = max(whole, ceil(Fraction(cooldown) * tick_rate), 1)
    releases = []
    for _ in range(again + release + 1):
        amber.order(press="dart")
        releases += only(events.Released, bout.step())
    assert [event.tick for event in releases][:2] == [release, again + release]


def test_every_press_gets_one_answer() -> None:
    bout, amber = range_bout(windup=0.1, recovery=0.4, cooldown=2)
    presses = {0: "dart", 1: "dart", 4: "dart", 12: "lob", 26: "lob"}
    found = []
    for tick in range(80):
        if tick in presses:
            amber.order(press=presses[tick])
        found += bout.step()
    began = [(event.tick, event.attack) for event in only(events.AttackBegan, found)]
    refused = [(event.tick, event.order, event.reason, event.wait_ticks) for event in only(events.OrderRefused, found)]
    assert began == [(0, "dart"), (30, "lob")]
    assert refused == [
        (10, "press dart", Reason.COOLDOWN, 110),
        (18, "press lob", Reason.ATTACKING, 12),
    ]
    for _ in range(30):
        amber.order(press="dart")
        assert only(events.OrderRefused, bout.step()) == [], "tapping is one press, and waits as long as it goes on"
    assert [event.reason for event in only(events.OrderRefused, steps(bout, 10))] == [Reason.COOLDOWN], "and one answer"
    bout, amber = range_bout(windup=0.1, recovery=0.4, cooldown=2)
    amber.order(press="dart")
    steps(bout, 80)
    amber.order(press="lob")
    amber.order(press="dart")
    found = steps(bout, 7)
    assert [(event.order, event.reason) for event in only(events.OrderRefused, found)] == [
        ("press lob", Reason.REPLACED),
        ("press dart", Reason.COOLDOWN),
    ]
    assert only(events.OrderRefused, found)[1].wait_ticks == 6 + 120 - 6 - (80 + 6)


def test_nobody_shoots_themselves_and_every_shot_ends_once() -> None:
    bout, amber = range_bout(muzzle="[0, 1.0]", speed=0.01, life=0.5, max_shots=2)
    for _ in range(3):
        amber.order(press="dart")
        bout.step()
    amber.order(press="dart")
    (refused,) = only(events.OrderRefused, bout.step())
    assert refused.reason is Reason.SHOTS_FULL
    ended = only(events.ShotEnded, steps(bout, 60))
    assert [(event.shot, event.tick, event.reason) for event in ended] == [
        (1, 30, Reason.LIFE_OVER),
        (2, 31, Reason.LIFE_OVER),
    ]


@pytest.mark.parametrize(
    ("muzzle", "aim", "reason"),
    [
        ("[0, -0.5]", (1, 1), Reason.MUZZLE_IN_FLOOR),
        ("[60, 1]", (1, 1), Reason.MUZZLE_OUT_OF_BOUNDS),
        ("[0, 1]", (0, 1), Reason.OUT_OF_BOUNDS),
        ("[0, 1]", (1, -1), Reason.FLOOR),
    ],
)
def test_shots_that_meet_nobody_say_how_they_ended(muzzle: str, aim: tuple[float, float], reason: Reason) -> None:
    bout, amber = range_bout(muzzle=muzzle, speed=1000)
    if reason is Reason.MUZZLE_OUT_OF_BOUNDS:
        amber.place((980, 0))
        bout.step()
    amber.order(aim=aim, press="dart")
    (ended,) = only(events.ShotEnded, steps(bout, 70))
    assert ended.reason is reason
    if reason is Reason.FLOOR:
        assert ended.position == pytest.approx((1, 0))
    if reason is Reason.OUT_OF_BOUNDS:
        assert ended.position == pytest.approx((0, 1000))


def test_wounds_of_one_tick_are_spent_one_after_the_other() -> None:
    bout, amber = range_bout(damage=75, tick_rate=30, speed=3000)
    beryl = bout.enter("thrower", seat="beryl", at=(20, 0), facing="left")
    post = bout.enter("post", seat="post", at=(10, 0))
    amber.order(press="dart")
    beryl.order(press="dart")
    found = bout.step()
    wounds, deaths = only(events.Wounded, found), only(events.Died, found)
    assert [(event.by, event.vital_left, event.ledger.overkill) for event in wounds] == [
        ("amber", 75, 0),
        ("beryl", 0, 0),
    ]
    assert [(event.cause, event.by, event.overkill) for event in deaths] == [(wounds[1].seq, "beryl", 0)]
    assert deaths[0].seq > max(event.seq for event in wounds)
    assert not post.alive


def test_what_comes_after_the_lethal_wound_of_a_tick_is_overkill_and_nobody_dies_twice() -> None:
    bout, amber = range_bout(damage=200, speed=3000)
    beryl = bout.enter("thrower", seat="beryl", at=(20, 0), facing="left")
    bout.enter("post", seat="post", at=(10, 0))
    amber.order(press="dart")
    beryl.order(press="dart")
    found = steps(bout, 3)
    assert [event.ledger.overkill for event in only(events.Wounded, found)] == [50, 200]
    (died,) = only(events.Died, found)
    assert (died.by, died.overkill) == ("amber", 250)
    amber.order(press="dart")
    assert [event.seat for event in only(events.Wounded, steps(bout, 5))] == ["beryl"], "a corpse stops nothing"


@pytest.mark.parametrize("tick_rate", [*RATES, 144])
def test_the_dead_come_back_on_time_to_the_same_seat_and_listeners(tick_rate: int) -> None:
    bout, amber = range_bout(tick_rate, damage=200, corpse=1)
    post = bout.enter("post", seat="post", at="butts", lives=2)
    heard: list[events.Event] = []
    bout.on(events.Event, seat=post)(heard.append)
    bout.on(events.Wounded, by="amber")(heard.append)
    bout.on(events.Wounded, by=post)(heard.append)
    amber.order(press="dart")
    found = steps(bout, 6 * tick_rate)
    (died,), (again,), (gone,) = (
        only(events.Died, found),
        only(events.Respawned, found),
        only(events.BodyRemoved, found),
    )
    assert again.tick - died.tick - 1 == ceil(3.7 * tick_rate) == (died.respawn_tick or 0) - died.tick - 1
    assert gone.tick - died.tick - 1 == tick_rate
    assert (again.position, again.facing, again.life) == ((10, 0), (-1, 0), 2)
    assert post.pools == {"shield": 60, "health": 90}
    amber.order(press="dart")
    found += steps(bout, 6 * tick_rate)
    assert [event.lives_left for event in only(events.Died, found)] == [1, 0]
    assert not post.alive
    assert heard == [
        each for event in found for each in [event] * ((event.seat == "post") + isinstance(event, events.Wounded))
    ]
    post.order(press=None, facing="left")
    (refused,) = only(events.OrderRefused, bout.step())
    assert (refused.reason, refused.wait_ticks) == (Reason.OUT_OF_LIVES, None)


def test_death_cuts_off_what_was_begun_and_refuses_what_was_kept() -> None:
    bout, amber = range_bout(damage=90, windup=0.2, speed=1000, buffer=1)
    beryl = bout.enter("thrower", seat="beryl", at="butts", lives=2)
    amber.order(press="dart")
    steps(bout, 6)
    beryl.order(press="dart")
    bout.step()
    beryl.order(press="lob")
    found = steps(bout, 6)
    assert [(event.attack, event.reason) for event in only(events.Interrupted, found)] == [("dart", Reason.OWNER_DIED)]
    assert [(event.order, event.reason) for event in only(events.OrderRefused, found)] == [("press lob", Reason.DEAD)]
    beryl.order(press="dart", aim=(1, 1))
    beryl.place((3, 0))
    refused = only(events.OrderRefused, bout.step())
    assert [event.order for event in refused] == ["place", "press dart"]
    back = only(events.Respawned, steps(bout, 240))
    assert [event.tick for event in back] == [bout.tick - 240 + (refused[0].wait_ticks or 0) - 1]
    beryl.order(press="dart")
    velocity = only(events.Released, steps(bout, 20))[0].velocity
    assert velocity and velocity[1] > 0, "the aim given while dead holds"


def test_a_second_corpse_takes_the_first_ones_place() -> None:
    bout, amber = range_bout(damage=200, respawn=0.5, corpse=60)
    bout.enter("post", at="butts", lives=3)
    found = []
    for _ in range(3):
        amber.order(press="dart")
        found += steps(bout, 90)
    assert [event.reason for event in only(events.BodyRemoved, found)] == [Reason.NEWER_CORPSE] * 2
    assert len(only(events.Died, found)) == 3


def test_listeners_that_raise_are_reported_after_the_whole_tick() -> None:
    bout, amber = range_bout()
    heard: list[events.Event] = []

    @bout.on(events.Released)
    def broken(event: events.Released) -> None:
        raise RuntimeError(f"shot {event.shot}")

    bout.on(events.Released)(heard.append)
    bout.on(events.SeatEntered)(lambda event: bout.seat(event.seat or "").order(press="dart"))
    with pytest.raises(ew.ListenerError, match=r"broken raised RuntimeError: shot 1 at event 2 of tick 1") as caught:
        bout.advance(0.5)
    assert [type(event).__name__ for event in caught.value.events] == ["SeatEntered", "AttackBegan", "Released"]
    assert (bout.tick, len(heard), amber.alive) == (2, 1, True)
    bout.advance(0.0)
    assert bout.tick == 30


def test_time_adds_up_exactly_and_only_a_host_caps_it() -> None:
    bout, _ = range_bout()
    for _ in range(1000):
        bout.advance(0.001)
    assert bout.tick == 60
    bout.advance(10)
    assert (bout.tick, bout.dropped_seconds) == (660, 0)
    bout.advance(3600, at_most=0.1)
    assert (bout.tick, bout.time) == (666, 11.1)
    assert bout.dropped_seconds == pytest.approx(3599.9)
    bout.advance(0.5 / 60, at_most=1)
    assert (bout.tick, bout.dropped_seconds) == (666, 0)


@pytest.mark.parametrize(
    ("call", "message"),
    [
        (lambda bout, amber: bout.enter("thrwer", at="line"), r"no fighter 'thrwer' \(did you mean 'thrower'\?\)"),
        (lambda bout, amber: bout.enter("post", at="lime"), r"no entry 'lime' \(did you mean 'line'\?\)"),
        (
            lambda bout, amber: bout.enter("post", at=(0, -1)),
            r"at: \(0, -1\) is outside arena 'range'; allowed: \(-1000, 0\)",
        ),
        (lambda bout, amber: bout.enter("post", at=(0, float("nan"))), r"at: give \(x, z\), finite numbers"),
        (lambda bout, amber: bout.enter("post", at=5), r"at: give \(x, z\)"),
        (lambda bout, amber: bout.enter("post", at="line", seat="amber"), "seat 'amber' is taken"),
        (lambda bout, amber: bout.enter("post", at="line", seat=""), "seat: give a name"),
        (lambda bout, amber: bout.enter("post", at="line", lives=0), "lives: give a whole number from 1"),
        (lambda bout, amber: [bout.enter("post", at="line") for _ in range(4)], "settings.max_seats is 4"),
        (lambda bout, amber: amber.order(), "empty order"),
        (lambda bout, amber: amber.order(press="drat"), r"no attack of thrower 'drat' \(did you mean 'dart'\?\)"),
        (lambda bout, amber: amber.order(aim=(0, 0)), r"aim: \(0, 0\) has no direction"),
        (lambda bout, amber: amber.order(aim=(float("inf"), 0)), "aim: give"),
        (lambda bout, amber: amber.order(facing="up"), "no facing 'up'"),
        (lambda bout, amber: amber.place((5000, 0)), "outside arena"),
        (lambda bout, amber: bout.seat("ambr"), r"did you mean 'amber'\?"),
        (lambda bout, amber: bout.advance(-1), "advance: give seconds from 0 to a million; got -1"),
        (lambda bout, amber: bout.advance(float("nan")), "advance: give seconds"),
        (lambda bout, amber: bout.on("Died"), "on: give a type of event"),
        (lambda bout, amber: ew.Bout(bout.rules, arena="rang"), r"no arena 'rang' \(did you mean 'range'\?\)"),
        (lambda bout, amber: ew.Bout(bout.rules, arena="range", seed=-1), "seed: give a whole number from 0"),
        (lambda bout, amber: ew.Bout(bout.rules, arena="range", tick_rate=0), "tick_rate: give a whole number from 1"),
        (lambda bout, amber: ew.Bout.scripted(bout.rules, "x"), "no bout 'x'; known: none"),
        (
            lambda bout, amber: ew.Bout(bout.rules, arena="range", tick_rate=30).restore(bout.snapshot()),
            "of another bout .tick rate: snapshot 60, bout 30.",
        ),
    ],
)
def test_calls_that_cannot_be_carried_out_say_why_and_change_nothing(call: Any, message: str) -> None:
    bout, amber = range_bout()
    before = bout.digest()
    with pytest.raises(ew.BoutError, match=message):
        call(bout, amber)
    if "max_seats" not in message:
        assert bout.digest() == before


def test_a_digest_tells_apart_what_goes_on_in_another_way() -> None:
    def entered(**figures: Any) -> str:
        bout = ew.Bout(range_rules(), arena="range")
        bout.enter("thrower", **{"at": "line", "seat": "amber", "team": "lamps", **figures})
        bout.step()
        return bout.digest()

    assert entered() == entered()
    others = [entered(team="tide"), entered(seat="reed"), entered(lives=2), entered(at=(0, 1)), entered(facing="left")]
    assert len({entered(), *others}) == len(others) + 1


class Once:
    """An observer that ends itself at its first tick."""

    def __init__(self, bout: ew.Bout) -> None:
        self.ticks = 0
        self.end = bout.watch(self)

    def tick_closed(self, *_told: object) -> None:
        self.ticks += 1
        self.end()


def test_an_observer_that_ends_itself_takes_no_tick_from_the_next() -> None:
    bout, _ = range_bout()
    first = Once(bout)
    recorder = ew.Recorder(bout)
    steps(bout, 5)
    assert first.ticks == 1
    assert ew.rerun(recorder.chronicle()) == recorder.chronicle()


@pytest.mark.parametrize("error", [KeyboardInterrupt(), ValueError(), RuntimeError("storm")])
def test_a_tick_that_was_broken_off_is_never_gone_on_with(error: BaseException) -> None:
    bout, _ = range_bout()
    saved = bout.snapshot()

    class Breaks:
        def tick_closed(self, *_told: object) -> None:
            raise error

    end = bout.watch(Breaks())
    with pytest.raises(type(error)):
        bout.step()
    why = str(error) or type(error).__name__
    for again in (bout.step, bout.snapshot):
        with pytest.raises(ew.BoutError, match=rf"was broken off \({why}\)"):
            again()
    end()
    bout.restore(saved)
    bout.step()
    assert bout.tick == 1


def test_a_listener_may_order_but_not_advance() -> None:
    bout, amber = range_bout()

    @bout.on(events.Released)
    def advance(_event: events.Released) -> None:
        bout.step()

    amber.order(press="dart")
    with pytest.raises(ew.ListenerError, match="may give orders, but not advance it"):
        bout.step()


def test_a_shooter_who_never_stops_leaves_nothing_behind() -> None:
    bout, amber = range_bout(damage=40, cooldown=0.1, corpse=1, respawn=1.5)
    bout.enter("post", at="butts", lives=100_000)
    sizes = []
    for round_ in range(4):
        for tick in range(6_000):
            if tick % 6 == 0:
                amber.order(press="dart", aim=(1, 0.3 * (tick % 5)))
            bout.step()
        sizes.append((len(bout.snapshot().state), len(bout.pending_inputs)))
        if round_ == 0:
            tracemalloc.start()
            gc.collect()
            before = tracemalloc.get_traced_memory()[0]
    gc.collect()
    grown = tracemalloc.get_traced_memory()[0] - before
    tracemalloc.stop()
    assert len(set(sizes)) == 1
    assert grown < 5_000, "18,000 ticks with 3,000 shots keep less than a byte for three ticks"
