"""Blasts: what sets them off, whom they reach by how much, and what keeps them off."""

from __future__ import annotations

from math import atan2, degrees
from typing import Any

import numpy as np
import pytest

import emberwound as ew
from conftest import only, run
from emberwound import Reason, events

BOOK = """
[settings]
max_seats = 8
[kinds.fire]
[blasts.burst]
radius = 4
kind = "fire"
damage = 40
{blast}
[fighters.caster]
attacks = ["lob", "slam", "beam"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {health}, vital = true }}
hurtboxes.core = {{ from = [0, 1], radius = 0.2 }}
hurtboxes.brow = {{ from = [0, 1.7], radius = 0.1, multiplier = {brow} }}
{fighter}
[fighters.mark]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = {health}, vital = true }}
hurtboxes.core = {{ from = [0, 1], radius = 0.2 }}
hurtboxes.brow = {{ from = [0, 1.7], radius = 0.1, multiplier = {brow} }}
[attacks.lob]
kind = "fire"
damage = {direct}
blast = "burst"
blast_on = {blast_on}
shot = {{ radius = 0, speed = 20, gravity_share = 0, muzzle = [0, 1], direction = "facing", life = {life} }}
[attacks.beam]
blast = "burst"
ray = {{ range = 30, muzzle = [0, 1], direction = "facing" }}
[attacks.slam]
windup = 0.1
blast = "burst"
blast_at = [1, 1]
[arenas.yard]
floor = 0
bounds = {{ low = [-30, -1], high = [30, 20] }}
{walls}
"""


def yard(**parts: Any) -> ew.Bout:
    figures = {"blast": "", "health": 1000, "brow": 0, "fighter": "", "direct": 1, "life": 9, "walls": "",
               "blast_on": '["hit", "end"]', **parts}  # fmt: skip
    return ew.Bout(ew.Rulebook.parse(BOOK.format(**figures)), arena="yard")


def wounds(found: list[events.AnyEvent]) -> dict[str | None, float]:
    return {event.seat: event.amount for event in only(events.Wounded, found) if event.attack == "burst"}


@pytest.mark.parametrize(
    ("falloff", "shares"),
    [("linear", {1: 0.75, 2: 0.5, 3.9: 0.025, 4.1: None}), ("steep", {1: 0.5625, 2: 0.25}), ("even", {1: 1, 3.9: 1})],
)
def test_a_slam_hurts_by_the_distance_to_the_nearest_point(falloff: str, shares: dict[float, float | None]) -> None:
    for apart, share in shares.items():
        bout = yard(blast=f'falloff = "{falloff}"')
        amber = bout.enter("caster", seat="amber", at=(0, 0))
        bout.enter("mark", seat="reed", at=(1 + apart + 0.2, 0))
        amber.order(press="slam")
        told = wounds(run(bout, 0.5))
        assert told == ({} if share is None else {"reed": pytest.approx(40 * share)})


def test_the_best_hurtbox_counts_once_and_owner_and_team_are_left_alone() -> None:
    bout = yard(brow=3)
    amber = bout.enter("caster", seat="amber", at=(0, 0), team="lamps")
    for seat, team in (("reed", None), ("friend", "lamps"), ("sedge", "tide")):
        bout.enter("mark", seat=seat, at=(2, 0), team=team)
    amber.order(press="slam")
    found = run(bout, 0.5)
    assert set(wounds(found)) == {"reed", "sedge"}
    first = next(event for event in only(events.Wounded, found))
    gap = float(np.hypot(1, 0.7) - 0.1)
    assert first.hurtbox == "brow"
    assert first.amount == pytest.approx(40 * 3 * (1 - gap / 4))
    both = yard(blast="hits_allies = true\nhits_owner = true")
    amber = both.enter("caster", seat="amber", at=(0, 0), team="lamps")
    both.enter("mark", seat="friend", at=(2, 0), team="lamps")
    amber.order(press="slam")
    assert set(wounds(run(both, 0.5))) == {"amber", "friend"}


@pytest.mark.parametrize(
    ("how", "press", "told"),
    [
        ({}, "lob", {"sedge"}),
        ({"blast": "hits_direct_victim = true"}, "lob", {"reed", "sedge"}),
        ({"blast_on": '["end"]'}, "lob", set()),
        ({"life": 0.1}, "lob", {"reed"}),
        ({"life": 0.1, "blast_on": '["hit"]'}, "lob", set()),
        ({"walls": "walls.w = { at = [2.5, 1], size = [0.2, 2] }"}, "lob", {"reed"}),
        ({}, "beam", {"sedge"}),
    ],
)
def test_shots_and_rays_set_it_off_where_they_end(how: dict[str, Any], press: str, told: set[str]) -> None:
    bout = yard(**how)
    amber = bout.enter("caster", seat="amber", at=(0, 0))
    bout.enter("mark", seat="reed", at=(5, 0))
    bout.enter("mark", seat="sedge", at=(7, 0))
    amber.order(press=press)
    found = run(bout, 1)
    assert set(wounds(found)) == told
    bursts = only(events.Exploded, found)
    assert len(bursts) <= 1
    for burst in bursts if press == "lob" else ():
        (ended,) = only(events.ShotEnded, found)
        assert (burst.position, burst.shot) == (ended.position, ended.shot)
        assert burst.time == pytest.approx(ended.time)


def test_what_leaves_the_arena_sets_nothing_off() -> None:
    bout = yard()
    bout.enter("caster", seat="amber", at=(28, 0)).order(press="lob")
    found = run(bout, 1)
    assert [event.reason for event in only(events.ShotEnded, found)] == [Reason.OUT_OF_BOUNDS]
    assert not only(events.Exploded, found)


def test_it_pushes_from_its_centre_less_with_the_distance_and_walls_may_stop_it() -> None:
    push = 'push = { speed = 8, heading = "radial" }'
    for walls, rule, reached in (("", "block", True), ("walls.w = { at = [2, 2], size = [0.1, 4] }", "block", False),
                                ("walls.w = { at = [2, 2], size = [0.1, 4] }", "pass", True)):  # fmt: skip
        bout = yard(blast=f'{push}\non_wall = "{rule}"', walls=walls)
        amber = bout.enter("caster", seat="amber", at=(0, 0))
        bout.enter("mark", seat="reed", at=(3.2, 0))
        amber.order(press="slam")
        pushed = only(events.KnockedBack, run(bout, 0.5))
        assert len(pushed) == int(reached)
        for event in pushed:
            assert event.velocity == pytest.approx((4, 0))


def test_a_death_sets_off_a_blast_on_the_next_tick_and_may_set_off_another() -> None:
    bout = yard(fighter='death_blast = "burst"', health=20, direct=30)
    amber = bout.enter("caster", seat="amber", at=(-9, 0))
    for number in range(3):
        bout.enter("caster", seat=f"s{number}", at=(number * 1.5, 0))
    amber.order(press="lob")
    found = run(bout, 2)
    died, bursts = only(events.Died, found), only(events.Exploded, found)
    assert [event.seat for event in died] == ["s0", "s1", "s2"]
    assert [event.tick for event in bursts[1:]] == [event.tick + 1 for event in died]
    assert [event.cause for event in bursts[1:]] == [event.seq for event in died]
    assert [event.by for event in died] == ["amber", "amber", "s0"]
    assert [event.credit for event in died] == ["amber"] * 3, "who caused the first is credited with the chain"


def test_a_chain_that_kills_a_teammate_is_credited_to_whose_blast_it_was() -> None:
    bout = yard(fighter='death_blast = "burst"', health=20, direct=30)
    amber = bout.enter("caster", seat="amber", at=(-9, 0), team="lamps")
    for number, team in enumerate(("tide", "lamps")):
        bout.enter("caster", seat=f"s{number}", at=(number * 1.5, 0), team=team)
    amber.order(press="lob")
    died = only(events.Died, run(bout, 2))
    assert [(event.seat, event.by, event.credit) for event in died] == [("s0", "amber", "amber"), ("s1", "s0", "s0")]


@pytest.mark.parametrize("angle", [30, 90, 150])
def test_a_thrown_body_flies_the_way_the_blast_throws_it(angle: int) -> None:
    bout = yard(
        blast='push = { speed = 6, heading = "away", lift_deg = 90 }'
        if angle == 90
        else "push = { speed = 6, lift_deg = 30 }"
    )
    amber = bout.enter("caster", seat="amber", at=(0, 0))
    bout.enter("mark", seat="reed", at=(2.2 if angle < 90 else -0.2, 0))
    amber.order(press="slam")
    (pushed,) = only(events.KnockedBack, run(bout, 0.5))
    assert degrees(atan2(pushed.velocity[1], pushed.velocity[0])) == pytest.approx(angle)


def test_seen_from_the_top_a_death_explodes_in_the_plane() -> None:
    book = BOOK.format(
        blast="", health=5, brow=0, fighter='death_blast = "burst"', direct=9, life=9, blast_on='["hit"]', walls=""
    )
    book = book.replace("floor = 0\n", 'space = "top"\n').replace("[-30, -1]", "[-30, -30]")
    book = book.replace("[0, 1]", "[0, 0]")
    rules = ew.Rulebook.parse(book).edit({"fighters.mark.pools.health.max": 1000, "attacks.lob.blast": None})
    bout = ew.Bout(rules, arena="yard")
    bout.enter("caster", seat="amber", at=(-9, 0)).order(press="lob")
    bout.enter("caster", seat="wick", at=(0, 0))
    bout.enter("mark", seat="reed", at=(0, 2.2))
    found = run(bout, 1)
    assert wounds(found)["reed"] == pytest.approx(40 * (1 - (2.2 - 0.2) / 4))


@pytest.mark.parametrize(("heading", "rises"), [("away", False), ("radial", True)])
def test_a_corpse_is_thrown_level_unless_radially(heading: str, rises: bool) -> None:
    bout = yard(blast=f'push = {{ speed = 6, heading = "{heading}" }}', health=5)
    bout.enter("caster", seat="amber", at=(0, 0)).order(press="slam")
    bout.enter("mark", seat="reed", at=(2, 0))
    assert only(events.Died, run(bout, 0.5))
    bout.seat("amber").order(press="slam")
    (thrown,) = [event for event in only(events.KnockedBack, run(bout, 0.5)) if event.seat == "reed"]
    assert thrown.velocity[0] > 0
    assert (thrown.velocity[1] != 0) is rises


@pytest.mark.parametrize(("apart", "walls", "thrown"), [(2, False, 1), (2, True, 0), (9, False, 0)])
def test_a_corpse_is_thrown_within_the_radius_and_not_through_a_wall(apart: float, walls: bool, thrown: int) -> None:
    pier = "walls.pier = { at = [1.6, 5], size = [0.2, 12] }" if walls else ""
    bout = yard(blast='on_wall = "block"\npush = { speed = 6 }', health=5, direct=9, walls=pier)
    bout = ew.Bout(ew.Rulebook.of(bout.rules).edit({"attacks.lob.blast": None}), arena="yard")
    bout.enter("caster", seat="amber", at=(0, 0))
    bout.enter("mark", seat="reed", at=(1 + apart, 0))
    bout.enter("caster", seat="wick", at=(apart + 8, 0), facing="left").order(press="lob")
    assert [event.seat for event in only(events.Died, run(bout, 1))] == ["reed"]
    bout.seat("amber").order(press="slam")
    assert [event.seat for event in only(events.KnockedBack, run(bout, 0.2))].count("reed") == thrown
