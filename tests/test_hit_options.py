"""The options of a hit: one table, held by attacks, hitboxes, blasts and hazards, and the same for each of them."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import only, run
from emberwound import Reason, events

BOOK = """
[kinds.iron]
[kinds.fire]

[afflictions.burning]
seconds = 1

[fighters.hewer]
attacks = ["chop", "bomb"]
labels = ["lamp"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
guard = {{ arc_deg = 360, damage_share = 0 }}

[fighters.ghost]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.mist = {{ from = [0, 0.4], radius = 0.3, layer = "mist" }}

[attacks.chop]
active = "2f"
{attack}

[attacks.chop.strike.hitboxes.blade]
from = [0.6, 1]
to = [1.2, 1]
{hitbox}

[attacks.bomb]
blast = "boom"
blast_at = [1, 0.8]

[blasts.boom]
falloff = "even"
{blast}

[arenas.yard]
floor = 0
bounds = {{ low = [-20, -5], high = [20, 20] }}

[arenas.yard.hazards.vent]
at = [2, 0]
schedule = {{ first = 1, on = 9, off = 1 }}
{hazard}
"""

OWN = {"kind": '"iron"', "damage": "10", "guard_class": '"unguardable"'}
HELD: dict[str, dict[str, str]] = {
    "attack": OWN,
    "hitbox": {"radius": "0.2"},
    "blast": {**OWN, "radius": "1"},
    "hazard": {**OWN, "radius": "1"},
}
"""What each place of the book that may hold options has without any."""

OPTIONS = {
    "kind": '"fire"',
    "damage": "30",
    "against": "{ lamp = 2 }",
    "afflicts": '["burning"]',
    "hit_stop": '"12f"',
    "push": "{ speed = 3 }",
}


def yard(place: str, options: dict[str, str], *, team: str = "tide") -> ew.Bout:
    """Amber before reed, who guards, with options of a hit at one place of the book."""
    tables = {name: {**held, **(options if name == place else {})} for name, held in HELD.items()}
    filled = {name: "\n".join(f"{key} = {value}" for key, value in table.items()) for name, table in tables.items()}
    bout = ew.Bout(ew.Rulebook.parse(BOOK.format(**filled), "yard.toml"), arena="yard")
    bout.enter("hewer", at=(0, 0), seat="amber", team="lamps")
    bout.enter("hewer", at=(1.2, 0), seat="reed", facing="left", team=team).order(hold=["guard"])
    bout.step()
    return bout


def hit(bout: ew.Bout, press: str | None) -> list[events.AnyEvent]:
    """What follows a press within a fifth of a second; without one, what the vent does in its first second."""
    if press is None:
        return run(bout, 1.1)
    bout.seat("amber").order(press=press)
    return run(bout, 0.2)


@pytest.mark.parametrize(
    ("place", "press"), [("attack", "chop"), ("hitbox", "chop"), ("blast", "bomb"), ("hazard", None)]
)
def test_every_option_means_the_same_wherever_it_stands(place: str, press: str | None) -> None:
    plain = hit(yard(place, {}), press)
    (wounded,) = only(events.Wounded, plain)
    assert (wounded.kind, wounded.amount, wounded.seat) == ("iron", 10, "reed")
    found = hit(yard(place, OPTIONS), press)
    (wounded,) = only(events.Wounded, found)
    assert (wounded.kind, wounded.amount) == ("fire", 60), "30, twice against a lamp"
    (began,) = only(events.AfflictionBegan, found)
    assert (began.affliction, began.cause) == ("burning", wounded.seq)
    (pushed,) = only(events.KnockedBack, found)
    assert pushed.cause == wounded.seq
    assert abs(pushed.velocity[0]) == pytest.approx(3)
    stops = {each.seat: each.until_tick - each.tick for each in only(events.HitStopBegan, found)}
    assert stops == dict.fromkeys(("amber", "reed") if press == "chop" else ("reed",), 13)


@pytest.mark.parametrize(("place", "press"), [("attack", "chop"), ("blast", "bomb"), ("hazard", None)])
def test_a_hit_without_damage_afflicts_whom_it_touches_and_no_guard_stops(place: str, press: str | None) -> None:
    only_afflicts = {"damage": "0", "afflicts": '["burning"]'}
    (began,) = only(events.AfflictionBegan, hit(yard(place, only_afflicts), press))
    assert (began.seat, began.affliction) == ("reed", "burning")
    guarded = {**only_afflicts, "guard_class": '"ordinary"'}
    assert only(events.AfflictionBegan, hit(yard(place, guarded), press)) == []


@pytest.mark.parametrize("place", ["attack", "hitbox"])
def test_allies_layers_and_guard_are_asked_of_the_hitbox_before_its_attack(place: str) -> None:
    assert only(events.Wounded, hit(yard(place, {}, team="lamps"), "chop")) == []
    assert len(only(events.Wounded, hit(yard(place, {"hits_allies": "true"}, team="lamps"), "chop"))) == 1
    assert only(events.Wounded, hit(yard(place, {"layers": '["mist"]'}), "chop")) == []
    guarded = hit(yard(place, {"guard_class": '"high"'}), "chop")
    assert (len(only(events.Guarded, guarded)), len(only(events.Wounded, guarded))) == (1, 0)


def test_an_owner_is_hit_by_its_own_blast_only_if_the_blast_says_so() -> None:
    for options, hurt in (({"hits_owner": "true"}, {"amber", "reed"}), ({}, {"reed"})):
        found = hit(yard("blast", {**options, "radius": "2"}), "bomb")
        assert {each.seat for each in only(events.Wounded, found)} == hurt


def test_a_blast_before_the_chest_comes_from_the_front() -> None:
    (died,) = only(events.Died, hit(yard("blast", {"damage": "90"}), "bomb"))
    assert (died.seat, died.side) == ("reed", "front")


def test_a_hazard_knows_no_allies_and_no_owner() -> None:
    for key in ("hits_allies", "hits_owner"):
        with pytest.raises(ew.RulebookError, match=rf"hazards.vent.{key}: unknown key"):
            yard("hazard", {key: "true"})
    assert Reason.ALLY.say() == "it does not hit allies"
