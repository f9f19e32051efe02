"""How far attacks come, which hurtbox they meet, and who can attack first after them: figures by hand."""

from __future__ import annotations

import pytest

import emberwound as ew
from conftest import emberwound as command

SPAR = """
[kinds.blunt]

[fighters.striker]
body = { radius = 0.3, height = 1.8 }
pools.health = { max = 100, vital = true }
hurtboxes.head = { from = [0, 1.7], radius = 0.15, multiplier = 2 }
hurtboxes.trunk = { from = [0, 0.4], to = [0, 1.3], radius = 0.3 }
attacks = ["jab"]
guard = { arc_deg = 180, damage_share = 0.5 }
slide_deceleration = 10
[[fighters.striker.reactions]]
name = "flinch"
guarded = false
seconds = 0.3
[[fighters.striker.reactions]]
name = "brace"
guarded = true
seconds = 0.1

[fighters.thrower]
like = "striker"
attacks = ["dart"]

[attacks.jab]
kind = "blunt"
damage = 10
windup = 0.1
active = 0.1
recovery = 0.1
strike.hitboxes.fist = { from = [0.3, 1], to = [0.9, 1], radius = 0.12 }

[attacks.dart]
kind = "blunt"
damage = 5
windup = 0.2
shot = { speed = 12, gravity_share = 0, radius = 0.05, range = 6, muzzle = [0.4, 1.2], direction = "facing" }

[arenas.mat]
floor = 0
bounds = { low = [-9, -1], high = [9, 5] }
"""


@pytest.fixture(scope="module")
def spar() -> ew.Rulebook:
    return ew.Rulebook.parse(SPAR)


def test_an_attack_reaches_as_far_as_its_hitbox_and_the_hurtbox_it_meets(spar: ew.Rulebook) -> None:
    told = spar.reach("jab", "striker")
    assert (told.by, told.hurtbox, told.touching) == ("striker", "trunk", 0.6)
    assert told.distance == pytest.approx(0.9 + 0.12 + 0.3, abs=1e-4)
    assert spar.reach("dart", "striker").distance == pytest.approx(0.4 + 6 + 0.05 + 0.3, abs=1e-3)
    wide = spar.edit({"attacks.jab.strike.hitboxes.fist": {"from": [0.3, 3.9], "to": [0.9, 3.9], "radius": 0.12}})
    assert (wide.reach("jab", "striker").distance, wide.wound("jab", "striker").met_at) == (None, None)
    with pytest.raises(ew.RulebookError, match="an attack is tried in the space of an arena"):
        ew.Rulebook.parse(SPAR.split("[arenas.mat]", maxsplit=1)[0]).reach("jab", "striker")
    with pytest.raises(ew.RulebookError, match=r"by: 'thrower'; it does not have jab; known: striker"):
        spar.reach("jab", "striker", by="thrower")


def test_a_wound_is_that_of_the_hurtbox_met_first_by_who_stands_in_front(spar: ew.Rulebook) -> None:
    wound = spar.wound("jab", "striker")
    assert (wound.hurtbox, wound.ledger.amount) == ("trunk", 10)
    assert wound.met_at == pytest.approx((0.6 + 1.32) / 2, abs=1e-4)
    assert str(wound).startswith("jab (fist) on striker's trunk (met first, 0.96 in front): 10")
    high = spar.edit({"attacks.jab.strike.hitboxes.fist": {"from": [0.3, 1.75], "to": [0.9, 1.75], "radius": 0.12}})
    assert (high.wound("jab", "striker").hurtbox, high.wound("jab", "striker").ledger.amount) == ("head", 20)
    named = spar.wound("jab", "striker", hurtbox="head")
    assert (named.ledger.amount, named.met_at) == (20, None)


def test_who_attacks_first_counts_what_each_waits_for(spar: ew.Rulebook) -> None:
    """The jab touches on tick 6 of 18: from tick 7 on its owner waits 11 ticks more; a flinch lasts 18, a brace 6."""
    told = spar.advantage("jab", "striker").after_hit
    guarded = spar.advantage("jab", "striker").after_guard
    assert told and guarded
    assert (told.hit_ticks, told.owner_free, told.victim_free, told.advantage) == ((6,), 11, 18, 7)
    assert (guarded.victim_free, guarded.advantage) == (6, -5)
    assert told.follow_lands and (told.follow_lands.attack, told.follow_lands.lands) == ("jab", 11 + 6)
    slow = spar.edit({"attacks.jab.cooldown": 0.6}).advantage("jab", "striker").after_hit
    assert slow and (slow.owner_free, slow.advantage) == (36 - 7, 18 - 29)
    two = spar.edit({"attacks.jab.cooldown": 0.6, "fighters.striker.attacks": ["jab", "dart"]})
    both = two.advantage("jab", "striker").after_hit
    assert both and (both.owner_free, both.advantage) == (11, 7)
    idle = spar.edit({"fighters.thrower.attacks": []}).advantage("jab", "thrower").after_hit
    assert idle and (idle.victim_free, idle.answers) == (18, ())


def test_an_answer_that_a_push_put_out_of_reach_does_not_land(spar: ew.Rulebook) -> None:
    """A jab with a push of 1.2 leaves the two 1.8 apart, beyond the 1.32 of a jab, and within that of a dart."""
    pushing = spar.edit({"attacks.jab.push": {"distance": 1.2}})
    told = pushing.advantage("jab", "striker").after_guard
    assert told and told.answer_lands is None
    (answer,) = told.answers
    assert answer.reach and answer.reach < answer.distance < 1.8 + 1e-6
    far = pushing.advantage("jab", "thrower", by="striker").after_hit
    assert far and far.answer_lands and far.answer_lands.attack == "dart"
    deadly = pushing.edit({"attacks.jab.damage": 500}).advantage("jab", "striker")
    assert deadly.after_hit and not deadly.on_hit.kills


def test_who_attacks_first_is_printed(tmp_path_factory: pytest.TempPathFactory) -> None:
    folder = tmp_path_factory.mktemp("spar")
    (folder / "spar.toml").write_text(SPAR, encoding="utf-8")
    push = ("--set", "attacks.jab.push.distance=1.2")
    done = command("wound", "spar.toml", "--timing", "--against", "striker", *push, folder=folder)
    assert (done.returncode, done.stderr) == (0, "")
    said = " ".join(done.stdout.split())
    assert "jab 1.32 hit flinch 18 11 +7" in said and "jab reaches 1.32 of 1." in said
    done = command("draw", "reaction", "spar.toml", "jab", "striker", *push, folder=folder)
    assert (done.returncode, done.stderr) == (0, "") and "distance 1.2" in done.stdout
    assert "written: emberwound-out/reaction-jab-striker.png" in done.stdout


def test_a_guarded_push_has_a_picture_of_its_own_and_a_bout_that_nobody_survives_says_so(
    tmp_path_factory: pytest.TempPathFactory,
) -> None:
    folder = tmp_path_factory.mktemp("alone")
    pushing = SPAR.replace("[attacks.jab]\n", "[attacks.jab]\npush = { distance = 1.2 }\n", 1)
    (folder / "spar.toml").write_text(pushing, encoding="utf-8")
    for words in ((), ("--guarded",)):
        done = command("draw", "knockback", "spar.toml", "jab", "striker", *words, folder=folder)
        assert (done.returncode, done.stderr) == (0, "")
    drawn = sorted(each.name for each in (folder / "emberwound-out").iterdir())
    assert drawn == ["knockback-jab-striker-guarded.png", "knockback-jab-striker.png"]
    alone = SPAR.replace("floor = 0", 'floor = 0\non_elimination = "end"', 1) + (
        "hazards.pit = { at = [3, 0], radius = 1, fatal = true }\n"
        '[bouts.one]\narena = "mat"\nseconds = 1\nseats.a = { fighter = "striker", at = [3, 0] }\n'
    )
    told = [line.text for line in ew.study.tell_story(ew.run(ew.Rulebook.parse(alone), "one"))]
    assert "the bout is over: nobody is left" in told, told
