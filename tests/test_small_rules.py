"""Rules that are easy to lose: each by what it does to a bout."""

from __future__ import annotations

from math import cos, hypot, radians, sin
from typing import Any

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import Reason, events

BOOK = """
[settings]
tick_rate = 60
buffer = {buffer}
longest_hit_stop = 1
steps = {steps}
[kinds.iron]
[kinds.light]
[afflictions.marked]
seconds = 5
damage_taken_share = 1.5
[afflictions.burning]
kind = "iron"
damage = 10
every = 0.5
seconds = 1.2
stacking = "strongest"
[fighters.hewer]
attacks = ["hew", "mark", "burn", "salve", "jab", "knell", "roll"]
speed = 3
body = {{ radius = 0.3, height = 1.8 }}
restitution = {keep}
pools.health = {{ max = 500, start = {start}, vital = true }}
pools.breath = {{ max = 60, refill = 10, delay = 0.2 }}
guard = {{ perfect = {perfect}, drain = {drain}, pool = "breath", broken = 0.5, push_share = 1, damage_share = 0.5 }}
hurtboxes.trunk = {{ {trunk} }}
[attacks.hew]
kind = "iron"
damage = 10
hit_stop = {stop}
active = 0.05
push = {{ speed = 6, lift_deg = {lift} }}
strike.hitboxes.edge = {{ {edge} }}
[attacks.jab]
kind = "iron"
damage = 1
hit_stop = 0.05
active = 0.05
strike.hitboxes.fist = {{ from = [0.4, 1], to = [1.2, 1], radius = 0.1 }}
[attacks.mark]
afflicts = ["marked"]
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[attacks.burn]
kind = "iron"
afflicts = ["burning"]
charge = {{ seconds = 0.5, damage = 3 }}
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[attacks.salve]
kind = "light"
heal = 20
falloff = {{ near = 1, far = 3, share = 0.5 }}
charge = {{ seconds = 0.5, damage = 3 }}
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[attacks.knell]
kind = "iron"
damage = 10
ray = {{ muzzle = [0.4, 1], range = 9, direction = "facing" }}
[attacks.roll]
active = 0.2
[arenas.yard]
space = "{space}"
{floor}
bounds = {{ low = {low}, high = {high} }}
"""

USUAL: dict[str, Any] = {
    "buffer": 0,
    "steps": "[]",
    "keep": 0,
    "start": 500,
    "perfect": 0,
    "drain": 0,
    "trunk": "from = [0, 0.4], to = [0, 1.2], radius = 0.3",
    "edge": "from = [0.4, 1], to = [1.2, 1], radius = 0.1",
    "stop": 0,
    "lift": 0,
    "space": "side",
    "floor": "floor = 0",
    "low": "[-40, -1]",
    "high": "[40, 20]",
}


def yard(apart: float = 1.0, *, own: Any = None, **parts: Any) -> tuple[ew.Bout, ew.Seat, ew.Seat]:
    """Amber before reed, face to face."""
    rules = ew.Rulebook.parse(BOOK.format(**{**USUAL, **parts}), steps=own)
    bout = ew.Bout(rules, arena="yard")
    flat = rules.book.arenas["yard"].space != "3d"
    amber = bout.enter("hewer", seat="amber", at=(0, 0) if flat else (0, 0, 0))
    reed = bout.enter("hewer", seat="reed", at=(apart, 0) if flat else (apart, 0, 0), facing="left")
    return bout, amber, reed


def lost(bout: ew.Bout, seat: ew.Seat, press: str) -> float:
    """What a press costs reed within a quarter of a second."""
    seat.order(press=press)
    return sum(event.amount for event in only(events.Wounded, run(bout, 0.25)) if event.seat == "reed")


def test_a_mark_multiplies_what_its_victim_takes_and_two_do_so_twice() -> None:
    bout, amber, _ = yard()
    assert lost(bout, amber, "knell") == 10
    lost(bout, amber, "mark")
    assert lost(bout, amber, "knell") == 15
    adds = 'damage_taken_share = 1.5\nstacking = "add"\nmax_stacks = 3'
    text = BOOK.format(**USUAL).replace("damage_taken_share = 1.5", adds)
    bout = ew.Bout(ew.Rulebook.parse(text), arena="yard")
    amber = bout.enter("hewer", at=(0, 0))
    bout.enter("hewer", seat="reed", at=(1, 0), facing="left")
    for _ in range(2):
        lost(bout, amber, "mark")
    assert lost(bout, amber, "knell") == 22.5


def test_healing_falls_off_with_the_distance_and_grows_with_the_charge() -> None:
    for apart, share in ((1.7, 1), (2.7, 0.75), (6, 0.5)):
        bout, amber, _ = yard(apart, start=100)
        amber.order(press="salve")
        (healed,) = only(events.Healed, run(bout, 0.1))
        assert healed.amount == pytest.approx(20 * share, rel=1e-9)
    bout, amber, _ = yard(1.7, start=100)
    amber.order(hold="salve")
    run(bout, 0.25)
    amber.order(hold=())
    (healed,) = only(events.Healed, run(bout, 0.1))
    charge = next(step for step in healed.ledger.steps if step.rule == "charge")
    assert healed.amount == pytest.approx(charge.before * (1 + 2 * 0.5), rel=0.05)


@pytest.mark.parametrize(("perfect", "pushed"), [(0, True), (10, False)])
def test_a_perfect_guard_stops_the_push_too(perfect: float, pushed: bool) -> None:
    bout, amber, reed = yard(perfect=perfect)
    reed.order(hold="guard")
    amber.order(press="hew")
    found = run(bout, 0.2)
    assert only(events.Guarded, found)[0].perfect is not pushed
    assert any(hypot(*event.velocity) > 0 for event in only(events.KnockedBack, found)) is pushed
    assert ((reed.position or (0,))[0] > 1.0) is pushed


@pytest.mark.parametrize(
    ("degrees", "side"), [(44, "front"), (46, "left"), (134, "left"), (136, "back"), (-44, "front"), (-46, "right")]
)
def test_the_front_ends_at_45_degrees_and_the_back_begins_at_135(degrees: float, side: str) -> None:
    """The blow comes from amber, who stands `degrees` to the left of where reed looks."""
    reactions = '[[fighters.hewer.reactions]]\nname = "flinch"\nseconds = 0.1\n[attacks.hew]'
    text = BOOK.format(**{**USUAL, "space": "3d", "low": "[-40, -40, -1]", "high": "[40, 40, 20]"})
    bout = ew.Bout(ew.Rulebook.parse(text.replace("[attacks.hew]", reactions, 1)), arena="yard")
    amber = bout.enter("hewer", at=(0, 0, 0))
    towards = 180 - degrees
    reed = bout.enter("hewer", seat="reed", at=(1, 0, 0), facing=towards)
    del reed
    amber.order(press="hew")
    (began,) = only(events.ReactionBegan, run(bout, 0.1))
    assert began.side == side
    assert hypot(cos(radians(towards)), sin(radians(towards))) == pytest.approx(1)


def test_after_a_hit_stop_refilling_presses_afflictions_and_a_broken_guard_come_as_much_later() -> None:
    """Hit stop of 0.4 s, 24 ticks, against none; the same tick of the blow."""
    told: dict[float, list[Any]] = {}
    for stop in (0, 0.4):
        bout, amber, reed = yard(stop=stop, drain=1, buffer=0.3)
        reed.order(hold="guard")
        steps(bout, 2)
        bout.seat("reed").resize("breath", 5)
        amber.order(press="hew")
        (guarded,) = only(events.Guarded, bout.step())
        assert guarded.broken and reed.pools["breath"] == 0
        back = refilled = 0
        while not back or not refilled:
            bout.step()
            back = back or ("guarding" in reed.states and bout.tick)
            refilled = refilled or (reed.pools["breath"] > 0 and bout.tick)
        told[stop] = [back, refilled]
        bout, amber, reed = yard(1.0, stop=stop, buffer=0.3)
        amber.order(hold="burn")
        steps(bout, 2)
        amber.order(hold=())
        steps(bout, 2)
        amber.order(press="hew")
        found = steps(bout, 1)
        if stop:
            reed.order(press="roll")
        found += run(bout, 3)
        burns = [event.tick for event in only(events.Wounded, found) if event.hurtbox == "whole body"]
        told[stop] += [*burns, only(events.AfflictionEnded, found)[0].tick]
        if stop:
            rolled = [event for event in only(events.AttackBegan, found) if event.seat == "reed"]
            assert [event.attack for event in rolled] == ["roll"], "a press in the freeze is kept, and the buffer waits"
    assert len(told[0]) == 5
    assert told[0.4] == [tick + 24 for tick in told[0]]


def test_of_two_freezes_the_longer_counts() -> None:
    bout, amber, reed = yard(stop=0.3)
    brack = bout.enter("hewer", seat="brack", at=(-0.5, 0))
    amber.order(press="hew")
    first = {event.seat: event.until_tick for event in only(events.HitStopBegan, bout.step())}
    assert first["reed"] == 1 + 18
    brack.order(press="jab")
    found = run(bout, 0.1)
    hit = [event for event in only(events.Wounded, found) if event.by == "brack" and event.seat == "reed"]
    assert hit, "the second blow lands"
    assert [event for event in only(events.HitStopBegan, found) if event.seat == "reed"] == [], (
        "three of eighteen ticks"
    )
    while bout.tick < first["reed"]:
        assert "frozen" in reed.states
        bout.step()
    bout.step()
    assert "frozen" not in reed.states
    bout, amber, reed = yard(stop=0.3)
    brack = bout.enter("hewer", seat="brack", at=(-0.5, 0))
    amber.order(press="jab")
    steps(bout, 2)
    brack.order(press="hew")
    (longer,) = [event for event in only(events.HitStopBegan, bout.step()) if event.seat == "reed"]
    assert longer.until_tick == longer.tick + 1 + 18, "the longer one takes the place of the shorter"


def test_the_strongest_affliction_ignores_a_weaker_newcomer() -> None:
    bout, amber, _ = yard()
    amber.order(hold="burn")
    run(bout, 0.6)
    amber.order(hold=())
    (began,) = only(events.AfflictionBegan, run(bout, 0.2))
    amber.order(hold="burn")
    bout.step()
    amber.order(hold=())
    found = run(bout, 0.25)
    assert only(events.AfflictionBegan, found) == [], "it neither begins nor moves the end"
    found += run(bout, 2)
    burns = {event.amount for event in only(events.Wounded, found) if event.hurtbox == "whole body"}
    assert burns == {30.0}
    assert only(events.AfflictionEnded, found)[0].tick == began.until_tick


def test_the_floor_returns_its_share_of_all_of_the_speed() -> None:
    bout, amber, reed = yard(lift=40, keep=0.6)
    amber.order(press="hew")
    run(bout, 0.02)
    while not only(events.Landed, found := bout.step()):
        pass
    (landed,) = only(events.Landed, found)
    body = bout.view().body(reed.name)
    share, late = 0.6, bout.time - landed.time
    across, up = 6 * cos(radians(40)), 6 * sin(radians(40))
    assert body.velocity == pytest.approx((share * across, share * up - 9.81 * late), rel=1e-6)
    assert "airborne" in reed.states


@pytest.mark.parametrize(("apart", "hits"), [(1.39, True), (1.41, False)])
def test_a_box_hits_a_box_exactly_where_their_faces_meet(apart: float, hits: bool) -> None:
    edge, trunk = "from = [0.8, 1], size = [0.6, 0.4]", "from = [0, 1], size = [0.6, 0.8]"
    bout, amber, _ = yard(apart, edge=edge, trunk=trunk)
    assert (lost(bout, amber, "hew") > 0) is hits
    turned = "from = [0.8, 1], size = [0.6, 0.4], turn_deg = 90"
    bout, amber, _ = yard(1.31 if not hits else 1.29, edge=turned, trunk=trunk)
    assert (lost(bout, amber, "hew") > 0) is hits, "turned, it is as long as it was high"


def test_a_fatal_wound_tells_what_every_pool_lost() -> None:
    pit = "[arenas.yard.hazards.pit]\nat = [5, 0]\nradius = 1\nfatal = true\n"
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(**USUAL) + pit), arena="yard")
    reed = bout.enter("hewer", at=(3, 0))
    reed.place((5, 0))
    (fatal,) = only(events.Wounded, run(bout, 0.1))
    assert [(loss.pool, loss.before, loss.after) for loss in fatal.ledger.losses] == [("health", 500, 0)]
    assert (fatal.amount, fatal.vital_left, fatal.ledger.overkill) == (500, 0, 0)


def test_an_own_step_that_gives_0_leaves_nothing_and_is_told() -> None:
    own = {"hush": (lambda amount, context: 0.0 * amount * (context.attack != ""), "1")}
    bout, amber, reed = yard(steps='["hush"]', own=own)
    amber.order(press="knell")
    (wounded,) = only(events.Wounded, run(bout, 0.1))
    assert wounded.amount == 0 and reed.pools["health"] == 500
    assert ("hush", 10.0, 0.0) in [(step.rule, step.before, step.after) for step in wounded.ledger.steps]


def test_the_points_of_a_knockback_path_slide_as_a_bout_does() -> None:
    bout, amber, reed = yard(lift=30)
    path = ew.Rulebook.of(bout.rules).knockback_path("hew", "hewer")
    amber.order(press="hew")
    (pushed,) = only(events.KnockedBack, run(bout, 1 / 60))
    at = {round((seconds + pushed.time) * 60, 6): (1 + along, height) for seconds, along, height in path.points}
    seen = 0
    for _ in range(120):
        bout.step()
        for tick, place in at.items():
            if abs(tick - bout.tick) < 1e-6:
                assert reed.position == pytest.approx(place, abs=1e-6)
                seen += 1
    slid = [along for seconds, along, height in path.points if seconds > path.landing_seconds and height == 0]
    assert len(slid) > 10 and slid == sorted(slid) and slid[-1] == pytest.approx(path.rest)
    between = path.points[60]
    speed = 6 * cos(radians(30))
    if between[0] > path.landing_seconds:
        late = between[0] - path.landing_seconds
        assert between[1] == pytest.approx(path.landing + speed * late - 6 * late * late, rel=1e-6)


def test_the_nearest_free_spot_is_just_beside_who_stands_there() -> None:
    text = BOOK.format(**USUAL).replace("speed = 3\n", "speed = 3\nrespawn_seconds = 0.5\n", 1)
    pit = "[arenas.yard.hazards.pit]\nat = [30, 0]\nradius = 1\nfatal = true\n"
    bout = ew.Bout(ew.Rulebook.parse(text + pit), arena="yard")
    reed = bout.enter("hewer", seat="reed", at=(0, 0), lives=2)
    run(bout, 0.1)
    reed.place((30, 0), teleport=True)
    run(bout, 0.2)
    bout.enter("hewer", seat="amber", at=(0, 0))
    (stood,) = only(events.Respawned, run(bout, 1))
    assert stood.moved == pytest.approx(0.6, rel=0.1) and stood.moved >= 0.6, (
        "two radii, and no more than a ring further"
    )
    assert abs(stood.position[0]) == pytest.approx(stood.moved) and stood.position[1] == 0
    assert not [event for event in only(events.OrderRefused, run(bout, 0.1)) if event.reason is Reason.DEAD]


def test_easing_refuses_what_has_no_answer() -> None:
    for seconds, half_life in ((-1.0, 1.0), (1.0, -1.0)):
        with pytest.raises(ValueError, match="from 0 up"):
            ew.views.eased(0, 1, seconds, half_life)
    for share, rate in ((0, 60), (1.5, 60), (0.5, 0), (0.5, float("inf"))):
        with pytest.raises(ValueError, match="give a share above 0, up to 1"):
            ew.views.half_life_from_share(share, rate=rate)
    assert (ew.views.half_life_from_share(1.0), ew.views.eased(5, 1, 0.1, 0.0)) == (0.0, 1)


def test_a_story_tells_which_way_somebody_faces(saltglass: ew.Rulebook) -> None:
    story = [line.text for line in ew.study.tell_story(ew.run(saltglass, "yard"))]
    faced = [text.partition("facing ")[2].partition(",")[0] for text in story if " enters at " in text]
    assert faced == ["45 degrees", "225 degrees", "left"]
