"""Props: bodies without health that any strike knocks back, and that set nothing off."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import pytest

import emberwound as ew
from conftest import only, run
from emberwound import events

BOOK = """
[settings]
max_seats = 2
[kinds.iron]
[fighters.hewer]
attacks = ["hit", "beam", "dart", "slam", "mend"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 1], radius = 0.3 }}
[props.crate]
weight = {weight}
drag = {drag}
body = {{ radius = 0.4, height = 0.8 }}
hurtboxes.boards = {{ from = [0, 0.5], size = [0.8, 1.0], push_share = {share} }}
[blasts.burst]
radius = 5
push = {{ speed = 8 }}
[attacks.hit]
kind = "iron"
damage = 5
active = 0.1
push = {{ distance = 2, apex = 0.5 }}
hit_stop = 0.1
[attacks.hit.strike.hitboxes]
fist = {{ from = [0.5, 0.5], radius = 0.3 }}
[attacks.beam]
kind = "iron"
damage = 4
push = {{ speed = 1, per_point = 0.5, lift_deg = 30 }}
ray = {{ range = 9, muzzle = [0.4, 0.5], direction = "facing", pierce = 1 }}
[attacks.dart]
kind = "iron"
damage = 4
push = {{ speed = 3, heading = "travel" }}
shot = {{ speed = 20, radius = 0.1, muzzle = [0.4, 0.5], direction = "facing", gravity_share = 0 }}
[attacks.slam]
blast = "burst"
blast_at = [0, 0.5]
[attacks.mend]
kind = "iron"
heal = 3
shot = {{ speed = 20, radius = 0.1, muzzle = [0.4, 0.5], direction = "facing", gravity_share = 0 }}
[arenas.yard]
floor = 0
{vent}
bounds = {{ low = [-20, -1], high = [20, 9] }}
[arenas.yard.props]
box = {{ prop = "crate", at = [1, 0] }}
far = {{ prop = "crate", at = [{far}, 0], facing = "left" }}
"""


def yard(**parts: Any) -> tuple[ew.Bout, ew.Seat]:
    figures = {"weight": 1, "drag": 0, "share": 1, "far": 15, "vent": "", **parts}
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(**figures)), arena="yard")
    return bout, bout.enter("hewer", seat="amber", at=(0, 0))


@pytest.mark.parametrize("attack", ["hit", "beam", "dart"])
@pytest.mark.parametrize("parts", [{}, {"weight": 2.5}, {"share": 0.5, "drag": 0.4}])
def test_what_strikes_a_prop_throws_it_where_its_push_path_leads(attack: str, parts: dict[str, float]) -> None:
    bout, amber = yard(**parts)
    path = ew.Rulebook.of(bout.rules).knockback_path(attack, "crate")
    amber.order(press=attack)
    found = run(bout, 4)
    (struck,) = only(events.PropStruck, found)
    (pushed,) = only(events.KnockedBack, found)
    assert (struck.seat, struck.by, struck.attack, struck.hurtbox) == ("box", "amber", attack, "boards")
    assert (pushed.cause, pushed.seat, pushed.by) == (struck.seq, "box", "amber")
    assert bout.props[0].position == pytest.approx((1 + path.rest, 0), rel=1e-9)
    assert [event.position[0] for event in only(events.Landed, found)] == [
        pytest.approx(1 + each) for each in [path.landing] if path.landing_seconds
    ]
    assert not only(events.Wounded, found) and bout.props[0].body.velocity == (0, 0)


def test_rays_pierce_shots_end_and_hit_stop_holds_both() -> None:
    bout, amber = yard(far=3)
    amber.order(press="beam")
    found = run(bout, 1)
    assert [event.seat for event in only(events.PropStruck, found)] == ["box", "far"]
    bout, amber = yard()
    amber.order(press="dart")
    (ended,) = only(events.ShotEnded, run(bout, 1))
    assert (ended.reason, ended.seat) == (ew.Reason.HIT, "box")
    bout, amber = yard()
    amber.order(press="hit")
    frozen = only(events.HitStopBegan, run(bout, 1))
    assert sorted((event.seat, event.until_tick - event.tick - 1) for event in frozen) == [("amber", 6), ("box", 6)]


def test_a_blast_throws_each_by_its_distance_and_away_from_it() -> None:
    bout, amber = yard(far=-3)
    amber.order(press="slam")
    pushed = {event.seat: event.velocity for event in only(events.KnockedBack, run(bout, 0.2))}
    assert pushed == {"box": pytest.approx((8 * (1 - 0.6 / 5), 0)), "far": pytest.approx((-8 * (1 - 2.6 / 5), 0))}


def test_props_take_no_seat_no_order_no_healing_and_are_nobodys_foe() -> None:
    bout, amber = yard()
    assert [(each.name, each.sort, each.position, each.body.facing) for each in bout.props] == [
        ("box", "crate", (1, 0), "right"),
        ("far", "crate", (15, 0), "left"),
    ]
    assert bout.seats == (amber,)
    with pytest.raises(ew.BoutError, match="there is no seat 'box'"):
        bout.seat("box")
    with pytest.raises(ew.BoutError, match="there is no fighter 'crate'; known: hewer"):
        bout.enter("crate", at=(3, 0))
    with pytest.raises(ew.BoutError, match="seat 'box' is taken"):
        bout.enter("hewer", at=(3, 0), seat="box")
    with pytest.raises(
        ew.RulebookError, match="victim: 'crate'; a prop has no points to lose; ask for its knockback_path"
    ):
        ew.Rulebook.of(bout.rules).wound("hit", "crate")
    bout.enter("hewer", seat="reed", at=(-5, 0))
    with pytest.raises(ew.BoutError, match=r"settings\.max_seats is 2"):
        bout.enter("hewer", at=(3, 0))
    amber.order(facing="foe", press="mend")
    assert not only(events.Healed, run(bout, 1)) and amber.facing == "left", "its only foe is behind it"


def test_hazards_leave_props_alone_and_the_record_runs_again() -> None:
    vent = 'hazards.vent = { at = [1, 0.5], radius = 1, kind = "iron", damage = 1, push = { speed = 9 } }'
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(weight=1, drag=0, share=1, far=3, vent=vent)), arena="yard")
    recorder = ew.Recorder(bout)
    amber = bout.enter("hewer", seat="amber", at=(-3, 0))
    assert not only(events.PropStruck, run(bout, 1))
    amber.place((-0.3, 0))
    bout.step()
    amber.order(press="slam")
    assert {event.seat for event in only(events.KnockedBack, run(bout, 2))} == {"box", "far"}
    chronicle = recorder.chronicle()
    assert ew.rerun(chronicle).end == chronicle.end
    box = chronicle.tracks.positions[:, chronicle.tracks.seats.index("box"), 0]
    assert box[0] == 1 and all(after >= before for before, after in pairwise(box)) and box[-1] > 2
    assert [event.seat for event in only(events.PropPlaced, chronicle.events)] == ["box", "far"]


def test_a_scripted_seat_may_not_have_the_name_of_a_prop() -> None:
    text = (
        "[fighters.a]\nbody = { radius = 0.3, height = 1.8 }\npools.h = { max = 1, vital = true }\n"
        "hurtboxes.t = { from = [0, 1], radius = 0.3 }\n[props.crate]\nbody = { radius = 0.3, height = 0.5 }\n"
        "hurtboxes.b = { from = [0, 0.3], radius = 0.2 }\n[arenas.pier]\nbounds = { low = [-9, 0], high = [9, 9] }\n"
        'props.box = { prop = "crate", at = [1, 0] }\n[bouts.duel]\narena = "pier"\nseconds = 1\n'
        'seats.box = { fighter = "a", at = [0, 0] }\n'
    )
    said = 'bouts.duel.seats.box: a seat named "box"; a prop of arena pier has that name; give it another'
    with pytest.raises(ew.RulebookError, match=said):
        ew.Rulebook.parse(text)
    bout = ew.Bout(ew.Rulebook.parse(text.replace("seats.box", "seats.reed")), arena="pier")
    with pytest.raises(ew.BoutError, match="seat 'box' is taken"):
        bout.enter("a", at=(0, 0), seat="box")
