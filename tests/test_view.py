"""The picture of the moment: what it shows, that it stays as it is, and that all who show a bout show the same."""

from __future__ import annotations

from math import cos, hypot, radians, sin
from typing import TYPE_CHECKING

import msgspec
import numpy as np
import pytest

import emberwound as ew
from conftest import Kind, only, run, steps
from emberwound import events

if TYPE_CHECKING:
    from collections.abc import Iterator

DUEL = """
[settings]
frame_rate = 60

[kinds.iron]

[bars.life]
pool = "health"
shades = [{ colour = "rose" }]

[cues.clang]
on = ["wounded"]

[afflictions.tarred]
seconds = 2
speed_share = 0.5

[fighters.hewer]
bars = ["life"]
speed = 2
attacks = ["chop", "dart", "draw_bow", "maul", "arc"]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 20, vital = true }
pools.oil = { max = 10, refill = 2 }
joints.hand = [0.4, 1.2]
hurtboxes.head = { from = [0, 1.6], radius = 0.2 }
hurtboxes.trunk = { from = [0, 0.3], to = [0, 1.2], radius = 0.3 }
stagger_resistance = { points = 9 }
guard = { arc_deg = 180, damage_share = 0 }

[[fighters.hewer.reactions]]
name = "reel"
seconds = "30f"
damage = 5
blend_in = "10f"

[attacks.chop]
kind = "iron"
damage = 6
hit_stop = "6f"
windup = "6f"
active = "12f"
recovery = "42f"
cooldown = 2
afflicts = ["tarred"]
strike.hitboxes.blade = { from = [0.6, 1], to = [1.2, 1], radius = 0.2 }

[attacks.maul]
kind = "iron"
damage = 12
active = "2f"
strike.hitboxes.fist = { from = [0.6, 1], to = [1.2, 1], radius = 0.2 }

[attacks.arc]
kind = "iron"
damage = 1
active = "12f"
strike.hitboxes.edge.from = [0.2, 1]
strike.hitboxes.edge.radius = 0.1
strike.hitboxes.edge.swing = { from_deg = 90, to_deg = 0, inner = 0.5, reach = 1.5 }

[attacks.dart]
kind = "iron"
damage = 1
recovery = 0.2
cost.oil = 5
shot = { radius = 0.1, speed = 5, gravity_share = 0, muzzle = "hand", life = 2 }

[attacks.draw_bow]
kind = "iron"
damage = 1
charge = { seconds = 1, damage = 2 }
shot = { radius = 0.1, speed = 5, muzzle = "hand" }

[arenas.yard]
gravity = 10
floor = 0
bounds = { low = [-20, -5], high = [20, 20] }
checkpoints.cairn = { at = [-8, 0], radius = 1, order = 1, respawn_at = [-8, 0] }
pickups.flask = { at = [0, 0], radius = 0.5, gives = { oil = 1 }, returns_after = 1 }
props.crate = { prop = "crate", at = [12, 0] }

[arenas.yard.hazards.vent]
at = [8, 0]
size = [1, 1]
kind = "iron"
damage = 1
rehit_every = 1
schedule = { on = 1, off = 1 }

[props.crate]
body = { radius = 0.4, height = 0.8 }
hurtboxes.wood = { from = [0, 0.4], radius = 0.4 }
"""


def until(bout: ew.Bout, kind: type[Kind]) -> list[Kind]:
    """Run up to the first events of a type, within five seconds."""
    for _ in range(5 * bout.tick_rate):
        if found := only(kind, bout.step()):
            return found
    raise AssertionError(f"no {kind.__name__} in 5 s")


@pytest.fixture
def bout() -> ew.Bout:
    made = ew.Bout(ew.Rulebook.parse(DUEL, "duel.toml"), arena="yard")
    made.enter("hewer", at=(0, 0), seat="amber", team="lamps")
    made.enter("hewer", at=(1.2, 0), seat="reed", facing="left", team="tide")
    made.step()
    return made


def test_a_body_shows_what_it_does_with_its_times(bout: ew.Bout) -> None:
    amber = bout.seat("amber")
    body = bout.view().body("amber")
    assert (body.fighter, body.life, body.presence, body.posture) == ("hewer", 1, "living", "standing")
    assert (body.position, body.facing, body.heading, body.velocity) == ((0, 0), "right", (1, 0), (0, 0))
    assert (body.action, body.reaction, body.afflictions, body.states) == (None, None, (), ())
    assert body.cooldowns == {"chop": 0, "dart": 0, "draw_bow": 0, "maul": 0, "arc": 0}
    assert (body.pools, body.pool_sizes, body.stagger_left) == ({"health": 20, "oil": 10},) * 2 + (9,)
    assert body.joints == {"hand": pytest.approx((0.4, 1.2))}
    amber.order(press="chop")
    steps(bout, 4)
    action = bout.view().body("amber").action
    assert action is not None and (action.attack, action.charging) == ("chop", False)
    assert (action.seconds, action.seconds_left) == pytest.approx((4 / 60, 56 / 60))
    assert bout.view().body("amber").hitboxes == {}
    found = steps(bout, 3)
    (wounded,) = only(events.Wounded, found)
    view = bout.view()
    amber_now, reed = view.body("amber"), view.body("reed")
    assert wounded.tick == view.tick - 1
    (blade,) = amber_now.hitboxes.values()
    assert (blade.shape, blade.radius) == ("capsule", 0.2)
    assert (*blade.a, *blade.b) == pytest.approx((0.6, 1, 1.2, 1))
    assert amber_now.frozen_seconds == reed.frozen_seconds == 6 / 60
    assert reed.states == ("frozen",), "the damage is under what its stagger resistance holds"
    assert reed.stagger_left == 9 - 6
    assert reed.pools["health"] == 14
    assert [(each.name, each.by, each.strength) for each in reed.afflictions] == [("tarred", "amber", 1)]
    assert amber_now.cooldowns["chop"] == pytest.approx(2 - 7 / 60, abs=1 / 60)
    before = amber_now.action
    steps(bout, 5)
    assert bout.view().body("amber").action == before, "its own clock stands still in a hit stop"
    steps(bout, 60)
    assert bout.view().body("amber").action is None


def test_a_swinging_hitbox_is_where_it_has_turned_to(bout: ew.Bout) -> None:
    bout.seat("amber").order(press="arc")
    for tick in range(1, 12):
        bout.step()
        edge, angle = bout.view().body("amber").hitboxes["edge"], radians(90 * (1 - tick / 12))
        for place, away in ((edge.a, 0.5), (edge.b, 1.5)):
            assert place == pytest.approx((0.2 + away * cos(angle), 1 + away * sin(angle)))
        assert edge.shape == "capsule" and edge.radius == 0.1


def test_a_reaction_a_charge_and_a_guard_are_seen_while_they_last(bout: ew.Bout) -> None:
    amber, reed = bout.seat("amber"), bout.seat("reed")
    amber.order(press="maul")
    (began,) = until(bout, events.ReactionBegan)
    reaction = bout.view().body("reed").reaction
    assert reaction is not None
    assert (reaction.name, reaction.part, reaction.blend) == ("reel", "all", 0)
    assert reaction.seconds_left * 60 == pytest.approx(
        began.until_tick - bout.view().body("reed").frozen_seconds * 60 - bout.tick
    )
    run(bout, 1)
    assert bout.view().body("reed").reaction is None
    reed.order(hold=["draw_bow"])
    steps(bout, 31)
    action = bout.view().body("reed").action
    assert action is not None
    assert (action.attack, action.charging, action.seconds_left) == ("draw_bow", True, None)
    assert action.seconds == pytest.approx(31 / 60)
    assert "charging" in bout.view().body("reed").states
    reed.order(hold=[])
    run(bout, 1)
    reed.order(hold=["guard"])
    bout.step()
    assert bout.view().body("reed").guarding and "guarding" in bout.view().body("reed").states


def test_arrays_and_objects_say_the_same(saltglass: ew.Rulebook) -> None:
    for name in saltglass.book.bouts:
        bout = ew.Bout.scripted(saltglass, name)
        for _ in range(7):
            run(bout, 1)
            view = bout.view()
            bodies = (*view.bodies, *view.corpses, *view.props)
            by_id = sorted(bodies, key=lambda each: each.id)
            assert list(view.seats) == [each.seat for each in by_id]
            assert view.positions.tolist() == [list(each.position) for each in by_id]
            assert view.velocities.tolist() == [list(each.velocity) for each in by_id]
            assert view.headings.tolist() == [list(each.heading) for each in by_id]
            assert view.alive.tolist() == [each.presence == "living" for each in by_id]
            for place, body in enumerate(by_id):
                held = {pool: values[place] for pool, values in view.pools.items() if not np.isnan(values[place])}
                assert held == pytest.approx(body.pools), body
            numbers, places = view.shot_positions
            assert numbers.tolist() == [each.id for each in view.shots]
            assert view.shot_count == len(numbers) == len(view.shots)
            assert dict(zip(numbers.tolist(), map(tuple, places.tolist()), strict=True)) == {
                each.id: pytest.approx(each.position) for each in view.shots
            }
            assert view.bars == bout.view().bars and view.cues == bout.view().cues
            for seat in bout.seats:
                if seat.alive:
                    body = view.body(seat.name)
                    assert (body.position, body.facing, body.states) == (seat.position, seat.facing, seat.states)
                    assert (body.pools, body.life) == (seat.pools, seat.life)


def told(view: ew.views.View) -> Iterator[object]:
    """All that a view has to tell, worked out now."""
    yield (view.tick, view.time, view.over, view.seats, view.shots, view.areas, view.bars, view.cues)
    yield [array.tolist() for array in (view.positions, view.velocities, view.headings, view.alive)]
    yield {name: values.tolist() for name, values in view.pools.items()}
    for body in (*view.bodies, *view.corpses, *view.props):
        names = [name for name in dir(body) if not name.startswith("_") and name != "stance"]
        yield {name: getattr(body, name) for name in names}


@pytest.mark.parametrize("name", ["crossing", "passage", "yard"])
def test_a_view_stays_as_it_is_while_the_bout_goes_on(saltglass: ew.Rulebook, name: str) -> None:
    bout, twin = ew.Bout.scripted(saltglass, name), ew.Bout.scripted(saltglass, name)
    for seconds in (3.15, 5, 9):
        run(bout, seconds)
        run(twin, seconds)
        kept, read_at_once = bout.view(), list(told(twin.view()))
        saved = bout.snapshot()
        run(bout, 2)
        assert repr(list(told(kept))) == repr(read_at_once), "read late, it says what it said"
        bout.restore(saved)
        assert bout.digest() == twin.digest(), "looking changes nothing"


def test_a_smooth_view_moves_on_what_moves(bout: ew.Bout) -> None:
    amber = bout.seat("amber")
    amber.order(move=-1, press="dart")
    bout.advance(0.1)
    bout.advance(0.4 / 60)
    plain, smooth = bout.view(), bout.view(smooth=True)
    part = smooth.time - plain.time
    assert 0 < part < 1 / 60
    for still, moved in zip(plain.bodies, smooth.bodies, strict=True):
        assert moved.position == pytest.approx(np.array(still.position) + part * np.array(still.velocity))
    assert smooth.body("amber").position != plain.body("amber").position
    (shot,), (later,) = plain.shots, smooth.shots
    assert hypot(*np.subtract(later.position, shot.position)) == pytest.approx(5 * part)
    assert (later.seconds - shot.seconds, shot.seconds_left - later.seconds_left) == pytest.approx((part, part))


def test_areas_props_and_corpses_are_in_the_picture(bout: ew.Bout) -> None:
    bout.seat("amber").order(facing="left", press="dart")
    run(bout, 0.5)
    view = bout.view()
    assert [(each.name, each.sort) for each in view.areas] == [
        ("vent", "hazard"),
        ("cairn", "checkpoint"),
        ("flask", "pickup"),
    ]
    vent, cairn, flask = view.areas
    assert (vent.solid.shape, vent.solid.half_sizes[0], cairn.solid.shape) == ("box", 0.5, "capsule")
    assert vent.on and not flask.on, "amber stands on the flask and took it"
    run(bout, 0.6)
    assert not bout.view().areas[0].on
    assert bout.view().body("crate").presence == "prop"
    bout.seat("reed").place((8, 0), teleport=True)
    bout.seat("reed").resize("health", 0.5)
    until(bout, events.Died)
    view = bout.view()
    (corpse,) = view.corpses
    assert (corpse.seat, corpse.hurtboxes, corpse.states) == ("reed", {}, ())
    assert corpse.seconds_left is not None and corpse.seconds_left > 0
    with pytest.raises(ew.BoutError, match=r"no living body of seat 'reed'.*known: amber"):
        view.body("reed")


def test_views_are_plain_data_that_json_can_hold(bout: ew.Bout) -> None:
    bout.seat("amber").order(facing="left", press="dart")
    run(bout, 0.1)
    view = bout.view()
    whole = {
        "shots": view.shots,
        "areas": view.areas,
        "bars": view.bars,
        "bodies": [{"action": each.action, "hurtboxes": each.hurtboxes} for each in view.bodies],
    }
    read = msgspec.json.decode(msgspec.json.encode(whole))
    assert read["shots"][0]["by"] == "amber"
    assert set(read["bodies"][0]["hurtboxes"]) == {"head", "trunk"}
    assert repr(view) == f"<View of yard: tick {bout.tick}, 3 bodies, 1 shots>"
