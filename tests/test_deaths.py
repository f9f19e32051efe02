"""Deaths: what is told of one, who is credited with it, and who hears of it."""

from __future__ import annotations

from typing import Any

import pytest

import emberwound as ew
from conftest import only, run, steps
from emberwound import events

BOOK = """
[settings]
credit_seconds = {credit}
[kinds.iron]
[fighters.hewer]
attacks = ["jab", "heave", "tap"]
guard = {{ damage_share = 0, arc_deg = 360 }}
respawn_seconds = 0.5
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 20, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[attacks.jab]
kind = "iron"
damage = 20
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[attacks.tap]
kind = "iron"
damage = 1
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing", pierce = 9 }}
[attacks.heave]
kind = "iron"
push = {{ speed = 9 }}
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing" }}
[arenas.pier]
floor = 0
bounds = {{ low = [-20, -1], high = [20, 9] }}
hazards.brine = {{ at = [5, 0], half_space = [1, 0], fatal = true }}
"""


def pier(credit: float = 5) -> ew.Bout:
    return ew.Bout(ew.Rulebook.parse(BOOK.format(credit=credit)), arena="pier")


def died(found: list[events.AnyEvent]) -> events.Died:
    (one,) = only(events.Died, found)
    return one


@pytest.mark.parametrize(
    ("at", "looks", "side"), [(-2, "left", "front"), (-2, "right", "back"), (2, "left", "back"), (2, "right", "front")]
)
def test_a_death_tells_who_by_what_where_and_from_which_side(at: float, looks: Any, side: str) -> None:
    bout = pier()
    reed = bout.enter("hewer", seat="reed", at=(0, 0), facing=looks)
    amber = bout.enter("hewer", seat="amber", at=(at, 0), facing="right" if at < 0 else "left")
    amber.order(press="jab")
    told = died(run(bout, 0.5))
    assert (told.seat, told.by, told.credit, told.helped, told.side) == ("reed", "amber", "amber", (), side)
    assert (told.attack, told.hurtbox, told.life, told.overkill) == ("jab", "trunk", 1, 0)
    assert not reed.alive


@pytest.mark.parametrize(("credit", "credited"), [(5, "amber"), (0.05, None)])
def test_who_pushed_a_body_into_what_kills_it_is_credited_for_a_while(credit: float, credited: str | None) -> None:
    bout = pier(credit)
    bout.enter("hewer", seat="reed", at=(4, 0))
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    amber.order(press="heave")
    told = died(run(bout, 2))
    assert (told.seat, told.by, told.attack, told.credit) == ("reed", None, "brine", credited)


def test_a_guarded_blow_counts_one_of_the_own_team_does_not_and_the_last_of_several_is_credited() -> None:
    bout = pier()
    reed = bout.enter("hewer", seat="reed", at=(0, 0), team="tide")
    friend = bout.enter("hewer", seat="friend", at=(-3, 0), team="tide")
    names = ["amber", "flint", "brack"]
    foes = [bout.enter("hewer", seat=name, at=(-1 - n, 0)) for n, name in enumerate(names)]
    reed.order(hold="guard")
    bout.step()
    for foe in (foes[0], foes[2], friend, foes[1]):
        foe.order(press="tap")
        steps(bout, 3)
    assert reed.pools == {"health": 20}
    reed.order(hold=())
    bout.step()
    reed.place((6, 0))
    told = died(run(bout, 0.5))
    assert (told.credit, told.helped) == ("flint", ("brack", "amber"))


def test_whoever_left_is_credited_with_nothing_and_takes_nobody_elses_credit_along() -> None:
    bout = pier()
    bout.enter("hewer", seat="reed", at=(4, 0))
    amber, flint = (bout.enter("hewer", seat=name, at=(at, 0)) for name, at in (("amber", 0), ("flint", 2)))
    bout.advance(6)  # what is forgotten must not seem to be of the start
    for foe in (amber, flint):
        foe.order(press="tap")
        steps(bout, 3)
    flint.leave()
    bout.step()
    bout.seat("reed").place((6, 0))
    told = died(run(bout, 0.5))
    assert (told.credit, told.helped) == ("amber", ())


def test_listeners_hear_of_one_life_of_all_or_once_and_can_be_ended() -> None:
    bout = pier()
    amber = bout.enter("hewer", seat="amber", at=(0, 0))
    reed = bout.enter("hewer", seat="reed", at=(2, 0), lives=4)
    heard: dict[str, list[int]] = {name: [] for name in ("all", "second", "once", "bout_ended", "fourth")}
    ended = bout.on(events.Died, by=amber)(lambda event: heard["bout_ended"].append(event.life))
    bout.on(events.Died, seat=reed)(lambda event: heard["all"].append(event.life))
    bout.on(events.Event, seat=reed, life=2)(lambda event: heard["second"].append(event.seq))
    bout.on(events.Died, once=True)(lambda event: heard["once"].append(event.life))
    bout.on(events.Wounded, seat="reed", life=4)(lambda event: heard["fourth"].append(event.seq))
    told: list[events.AnyEvent] = []
    for life in (1, 2, 3):
        amber.order(press="jab")
        told += run(bout, 1.5)
        if life == 1:
            bout.off(ended)
    assert heard["all"] == [1, 2, 3] and heard["once"] == [1] and heard["bout_ended"] == [1] and heard["fourth"] == []
    mine = [event for event in told if event.seat == "reed"]
    again, fell = only(events.Respawned, mine)[0].seq, only(events.Died, mine)[1].seq
    assert heard["second"] == [event.seq for event in mine if again <= event.seq <= fell]
    with pytest.raises(ew.BoutError, match="does not listen; give what `on` was given"):
        bout.off(ended)
    with pytest.raises(ew.BoutError, match="life: 1 of whom"):
        bout.on(events.Died, life=1)
    with pytest.raises(ew.BoutError, match="life: 3 of seat 'reed' is over; its life is now number 4"):
        bout.on(events.Died, seat=reed, life=3)


OUT = """
[kinds.iron]
[fighters.hewer]
attacks = ["jab", "arrow"]
speed = 3
respawn_seconds = 0.5
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 20, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[props.crate]
body = {{ radius = 0.3, height = 0.5 }}
hurtboxes.boards = {{ from = [0, 0.25], to = [0, 1], radius = 0.25 }}
[attacks.jab]
kind = "iron"
damage = 20
push = {{ speed = 3 }}
ray = {{ range = 9, muzzle = [0.4, 1], direction = "facing", pierce = 5 }}
[attacks.arrow]
kind = "iron"
damage = 20
shot = {{ speed = 2, radius = 0.1, gravity_share = 0, muzzle = [0.4, 1.7], direction = "facing" }}
[arenas.pier]
floor = 0
bounds = {{ low = [-20, -1], high = [20, 9] }}
props.box = {{ prop = "crate", at = [-3, 0] }}
entries.west = {{ at = [0, 0] }}
entries.east = {{ at = [2, 0], facing = "left" }}
{out}
[bouts.duel]
arena = "pier"
seconds = 5
seats.amber = {{ fighter = "hewer", at = "west", team = "lamps" }}
seats.reed = {{ fighter = "hewer", at = "east", lives = {lives}, team = "tide" }}
seats.sedge = {{ fighter = "hewer", at = [14, 0], lives = "endless", team = "{third}" }}
[[bouts.duel.orders]]
time = 0.5
seat = "amber"
press = "jab"
[[bouts.duel.orders]]
time = 1.5
seat = "amber"
press = "jab"
"""


def duel(out: str, lives: int = 2, third: str = "gulls", **how: Any) -> ew.Chronicle:
    rules = ew.Rulebook.parse(OUT.format(out=out, lives=lives, third=third))
    chronicle = ew.run(rules, "duel", **how)
    again = ew.rerun(chronicle)
    assert again.events == chronicle.events and again.end == chronicle.end
    return chronicle


def test_lives_are_lost_one_by_one_and_the_last_puts_a_seat_out() -> None:
    told = duel('elimination_message = "{seat} falls to {by} ({attack}, {arena}, {life})"')
    lost = [(event.seat, event.life, event.lives_left, event.by) for event in only(events.LifeLost, told.events)]
    assert lost == [("reed", 1, 1, "amber"), ("reed", 2, 0, "amber")]
    (out,) = only(events.Eliminated, told.events)
    assert (out.seat, out.by, out.message) == ("reed", "amber", "reed falls to amber (jab, pier, 2)")
    assert out.cause == only(events.Died, told.events)[1].seq
    assert told.end.ticks == 300 and not only(events.BoutEnded, told.events)


@pytest.mark.parametrize(
    ("out", "third", "winner"),
    [
        ('on_elimination = "end"', "gulls", None),
        ('on_elimination = "end"\nelimination_team = "tide"', "gulls", None),
        ('on_elimination = "end"\nelimination_team = "tide"', "lamps", "lamps"),
        ('on_elimination = "last_team"', "lamps", "lamps"),
    ],
)
def test_everything_stops_on_the_tick_that_decides(out: str, third: str, winner: str | None) -> None:
    told = duel(out, third=third)
    (ended,) = only(events.BoutEnded, told.events)
    assert (ended.tick, ended.winner, ended.draw) == (90, winner, False)
    assert told.end.ticks == 91 and told.events[-1] == ended
    bout = ew.Bout.scripted(told.rules, "duel")
    run(bout, 2)
    stood = bout.view().positions.tolist()
    assert bout.over and bout.tick == 120 and bout.seat("reed").out and bout.seat("reed").respawns_in is None
    bout.seat("amber").order(press="jab", move=1)
    assert run(bout, 1) == [] and bout.view().positions.tolist() == stood


def test_a_team_goes_on_while_any_of_it_stands_and_all_out_at_once_is_a_draw() -> None:
    assert not only(events.BoutEnded, duel('on_elimination = "end"\nelimination_team = "tide"', third="tide").events)
    assert not only(events.BoutEnded, duel('on_elimination = "last_team"').events)
    rules = ew.Rulebook.parse(OUT.format(out='on_elimination = "last_team"', lives=1, third="gulls"))
    bout = ew.Bout(rules, arena="pier")
    west, east = bout.enter("hewer", seat="w", at="west"), bout.enter("hewer", seat="e", at="east")
    west.order(press="jab")
    east.order(press="jab")
    found = run(bout, 1)
    assert len(only(events.Eliminated, found)) == 2
    (ended,) = only(events.BoutEnded, found)
    assert ended.draw and ended.winner is None


def test_a_restart_begins_anew_but_for_ticks_and_lives_told() -> None:
    told = duel('on_elimination = "restart"', lives=1)
    (first, second, *_) = only(events.BoutRestarted, told.events)
    assert (first.tick, second.tick) == (30, 61), "the script starts again with the next tick"
    fell = [(event.seat, event.life, event.lives_left) for event in only(events.Died, told.events)]
    assert fell == [("reed", n, 0) for n in range(1, len(fell) + 1)] and len(fell) > 5
    back = [event for event in only(events.Respawned, told.events) if event.tick == 31]
    assert [(event.seat, event.life, event.position) for event in back] == [
        ("amber", 2, (0, 0)),
        ("reed", 2, (2, 0)),
        ("sedge", 2, (14, 0)),
    ]


def test_a_decided_bout_goes_on_for_its_time_and_whoever_then_stands_has_won() -> None:
    told = duel('on_elimination = "end"\nelimination_team = "tide"\nelimination_seconds = 0.5', third="lamps")
    out, (ended,) = only(events.Eliminated, told.events)[0], only(events.BoutEnded, told.events)
    assert ended.tick == out.tick + 30 and ended.winner == "lamps" and told.end.ticks == ended.tick + 1
    again = duel('on_elimination = "restart"\nelimination_seconds = 0.5', lives=1)
    fell, restarted = only(events.Died, again.events)[0], only(events.BoutRestarted, again.events)[0]
    assert restarted.tick == fell.tick + 30
    corpses = [event for event in only(events.BodyRemoved, again.events) if event.tick == restarted.tick]
    assert {event.time for event in corpses} == {restarted.time}
    rules = ew.Rulebook.parse(
        OUT.format(out='on_elimination = "last_team"\nelimination_seconds = 1', lives=1, third="gulls")
    )
    bout = ew.Bout(rules, arena="pier")
    west, east = bout.enter("hewer", seat="w", at="west"), bout.enter("hewer", seat="e", at="east")
    west.order(press="jab")
    run(bout, 0.7)
    assert east.out and not bout.over
    saved = bout.snapshot()
    left = bout.enter("hewer", seat="late", at="east", facing="left", lives=1)
    left.order(press="jab")
    (ended,) = only(events.BoutEnded, run(bout, 2))
    assert (ended.winner, ended.draw) == ("late", False), "the winner of the decision fell while the bout went on"
    bout.restore(saved)
    assert only(events.BoutEnded, run(bout, 2))[0].winner == "w"


def test_a_restart_takes_shots_bodies_and_props_back() -> None:
    bout = ew.Bout(
        ew.Rulebook.parse(OUT.format(out='on_elimination = "restart"', lives=1, third="gulls")), arena="pier"
    )
    amber, reed = bout.enter("hewer", seat="amber", at="west", lives=3), bout.enter("hewer", seat="reed", at="east")
    amber.order(press="arrow", facing="left", move=-1)
    run(bout, 0.3)
    amber.order(press="jab")
    run(bout, 0.5)
    assert bout.props[0].position[0] < -3
    amber.order(press="jab", facing="right")
    found = run(bout, 0.5)
    (restarted,) = only(events.BoutRestarted, found)
    (ended,) = only(events.ShotEnded, [event for event in found if getattr(event, "attack", "") == "arrow"])
    assert ended.reason is ew.Reason.RESTARTED and ended.tick == restarted.tick
    assert {event.seat: event.reason for event in only(events.BodyRemoved, found)} == {
        "amber": ew.Reason.RESTARTED,
        "reed": ew.Reason.RESTARTED,
    }
    assert [bout.props[0].position, amber.position, reed.position] == [(-3, 0), (0, 0), (2, 0)]
    assert (amber.lives_left, reed.lives_left, amber.states) == (3, 1, ())
