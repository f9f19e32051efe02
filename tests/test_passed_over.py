"""Who is touched and left alone: every reason is heard by whoever asks, once for as long as the contact lasts."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import pytest

import emberwound as ew
from conftest import run
from emberwound import Reason, events

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.vocabulary.orders import Input

YARD = """
[kinds.iron]

[fighters.hewer]
attacks = ["chop", "dart", "beam", "bomb", "sigh"]
corpse_seconds = 9
respawn_seconds = 0.2
respawn_protection = 5
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 90, vital = true }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.2], radius = 0.3 }

[fighters.ghost]
corpse_seconds = 9
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 1, vital = true }
hurtboxes.mist = { from = [0, 0.4], to = [0, 1.2], radius = 0.3, layer = "mist" }

[attacks.chop]
kind = "iron"
damage = 3
active = 0.5
strike.hitboxes.blade = { from = [0.2, 1], to = [1.2, 1], radius = 0.2 }

[attacks.dart]
kind = "iron"
damage = 3
layers = ["body"]
shot = { radius = 0.1, speed = 4, gravity_share = 0, muzzle = [0.4, 1] }

[attacks.beam]
kind = "iron"
damage = 3
ray = { range = 5, muzzle = [0.4, 1] }

[attacks.bomb]
blast = "boom"
blast_at = [0, 0]

[attacks.sigh]
kind = "iron"
damage = 3
layers = ["mist"]
shot = { radius = 0.1, speed = 4, gravity_share = 0, muzzle = [0.4, 1] }

[blasts.boom]
radius = 2
damage = 5
kind = "iron"

[arenas.yard]
floor = 0
bounds = { low = [-20, -5], high = [20, 20] }
hazards.vent = { at = [0, 0], radius = 1, kind = "iron", damage = 1, layers = ["mist"] }
"""


class Ear:
    """Hears of every tick, and of all who are passed over."""

    def __init__(self) -> None:
        self.found: list[ew.PassedOver] = []
        self.wounds = 0

    def tick_closed(self, _bout: ew.Bout, _inputs: Sequence[Input], told: Sequence[events.AnyEvent]) -> None:
        self.wounds += sum(isinstance(each, events.Wounded) for each in told)

    def passed_over(self, bout: ew.Bout, found: ew.PassedOver) -> None:
        assert found.tick == bout.tick - 1, "it is told with its tick"
        self.found.append(found)

    def reasons(self, attack: str) -> list[tuple[str, str, Reason]]:
        """Whom an attack passed over, and why, in the order it was told."""
        return [(each.seat, each.hurtbox, each.reason) for each in self.found if each.attack == attack]


def yard(victim: str = "hewer", *, team: str = "tide", at: float = 1.0) -> tuple[ew.Bout, Ear]:
    """Amber, whom nothing stops, and a victim that stands before it."""
    bout = ew.Bout(ew.Rulebook.parse(YARD, "yard.toml"), arena="yard")
    bout.enter("hewer", at=(0, 0), seat="amber", team="lamps")
    bout.enter(victim, at=(at, 0), seat="reed", facing="left", lives=2, team=team)
    ear = Ear()
    bout.watch(ear)
    return bout, ear


@pytest.mark.parametrize("attack", ["chop", "dart", "beam", "bomb"])
def test_allies_are_passed_over_by_every_sort_of_attack(attack: str) -> None:
    bout, ear = yard(team="lamps")
    bout.seat("amber").order(press=attack, aim=(1, 0))
    run(bout, 1)
    name = "boom" if attack == "bomb" else attack
    assert ("reed", "trunk", Reason.ALLY) in ear.reasons(name)
    assert ear.reasons(name).count(("reed", "trunk", Reason.ALLY)) == 1, "told once, though it lasts"
    assert ear.wounds == 0
    (told,) = [each for each in ear.found if each.attack == name and each.seat == "reed"]
    assert told.by == "amber" and (told.shot > 0) is (attack in ("dart", "beam"))
    assert 0 <= told.distance <= 2 and bout.time - 1 <= told.time <= bout.time
    assert told.position[0] == pytest.approx(0.8, abs=0.5)


@pytest.mark.parametrize(("attack", "distance", "time"), [("dart", 0.6, 0.15), ("beam", 0.7, 0.0)])
def test_what_is_passed_over_says_how_far_and_exactly_when(attack: str, distance: float, time: float) -> None:
    bout, ear = yard(team="lamps", at=1.4)
    bout.seat("amber").order(press=attack, aim=(1, 0))
    run(bout, 1)
    (told,) = [each for each in ear.found if each.attack == attack and each.seat == "reed"]
    assert (told.distance, told.time) == pytest.approx((distance, time))


def test_its_owner_is_told_apart_from_its_team() -> None:
    bout, ear = yard(at=9)
    bout.seat("amber").order(press="bomb")
    run(bout, 0.1)
    assert ear.reasons("boom") == [("amber", "trunk", Reason.OWN_BODY)]


def test_layers_are_told_of_shots_and_hazards() -> None:
    bout, ear = yard()
    bout.seat("amber").order(press="sigh", aim=(1, 0))
    run(bout, 0.5)
    assert ("reed", "trunk", Reason.OTHER_LAYER) in ear.reasons("sigh")
    assert ear.reasons("vent") == [("amber", "trunk", Reason.OTHER_LAYER), ("reed", "trunk", Reason.OTHER_LAYER)]
    assert {each.by for each in ear.found if each.attack == "vent"} == {None}


def test_a_victim_is_touched_again_within_one_swing() -> None:
    bout, ear = yard()
    bout.seat("amber").order(press="chop")
    run(bout, 0.4)
    assert ear.wounds == 1
    assert ear.reasons("chop") == [("amber", "trunk", Reason.OWN_BODY), ("reed", "trunk", Reason.TOUCHED_BEFORE)]


def test_the_dead_and_the_protected_are_passed_over() -> None:
    bout, ear = yard()
    reed = bout.seat("reed")
    reed.resize("health", 1)
    bout.seat("amber").order(press="chop")
    run(bout, 0.1)
    assert reed.respawns_in is not None
    assert run(bout, 0.6)
    assert bout.view().body("reed").protected
    bout.seat("amber").order(press="dart", aim=(1, 0))
    run(bout, 0.4)
    reasons = ear.reasons("dart")
    assert ("reed", "trunk", Reason.TARGET_DEAD) in reasons, "its corpse lies there"
    assert ("reed", "trunk", Reason.PROTECTED) in reasons, "its next body stands there"


def test_a_ghost_is_hit_by_what_is_made_for_it_and_by_nothing_else() -> None:
    bout, ear = yard("ghost", at=3)
    for attack in ("dart", "sigh"):
        bout.seat("amber").order(press=attack, aim=(1, 0))
        run(bout, 1)
    assert ear.reasons("dart") == [("reed", "mist", Reason.OTHER_LAYER)]
    assert ear.reasons("sigh") == []
    assert ear.wounds == 1


def test_an_observer_may_have_one_method_alone_and_needs_one() -> None:
    bout, _ = yard(team="lamps")

    class Ends:
        def __init__(self) -> None:
            self.reasons: list[Reason] = []

        def passed_over(self, _bout: ew.Bout, found: ew.PassedOver) -> None:
            self.reasons.append(found.reason)

    ends = Ends()
    end = bout.watch(ends)
    bout.seat("amber").order(press="beam", aim=(1, 0))
    run(bout, 0.1)
    assert Reason.ALLY in ends.reasons
    end()
    end()
    watch: Any = bout.watch
    for what in (None, object(), print):
        with pytest.raises(ew.BoutError, match="watch: give an object with a method tick_closed or passed_over; got"):
            watch(what)
    give: Any = bout.give
    with pytest.raises(ew.BoutError, match="give: give an input as a chronicle records it; got 3"):
        give(3)
    assert run(bout, 0.1) == []


def test_to_listen_changes_nothing_and_it_can_end(saltglass: ew.Rulebook) -> None:
    for name in saltglass.book.bouts:
        heard, alone = ew.Bout.scripted(saltglass, name), ew.Bout.scripted(saltglass, name)
        ear = Ear()
        end = heard.watch(ear)
        assert run(heard, 6) == run(alone, 6)
        assert heard.digest() == alone.digest()
        told = len(ear.found)
        end()
        assert run(heard, 3) == run(alone, 3)
        assert len(ear.found) == told
    bout, ear = yard(team="lamps")
    saved = bout.snapshot()
    bout.seat("amber").order(press="dart", aim=(1, 0))
    run(bout, 1)
    first = list(ear.found)
    ear.found.clear()
    bout.restore(saved)
    bout.seat("amber").order(press="dart", aim=(1, 0))
    run(bout, 1)
    assert [each for each in ear.found if each.attack == "dart"] == [each for each in first if each.attack == "dart"]
