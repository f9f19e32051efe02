"""What the tick rate may change, as docs/bouts.md says it: the table of the demo's bouts, and what a rate cannot do."""

from __future__ import annotations

import re

import pytest

import emberwound as ew
from conftest import HERE, only, range_text
from emberwound import events

RATES = (30, 37, 60, 120, 144, 240, 1000)
EVEN = (30, 60, 120, 240, 1000)
"""Those on whose ticks the demo's orders and times of attacks fall."""


def table() -> dict[str, list[str]]:
    """The documented figures of each bout, a rate each."""
    text = (HERE.parent / "docs" / "bouts.md").read_text(encoding="utf-8")
    (header,) = re.findall(r"^\| points lost in all, deaths \|(.*)\|$", text, re.MULTILINE)
    assert [int(each.replace(",", "")) for each in header.split("|")] == list(RATES)
    rows = re.findall(r"^\| `(\w+)` \|((?: [\d.]+, \d \|){7})$", text, re.MULTILINE)
    return {name: [each.strip() for each in row.strip(" |").split("|")] for name, row in rows}


@pytest.mark.parametrize("bout", ["crossing", "vent", "ledge", "pans", "yard", "passage"])
def test_the_demo_at_seven_rates_is_as_documented_and_the_same_at_those_that_fit(
    saltglass: ew.Rulebook, bout: str
) -> None:
    told, wounds = [], {}
    for rate in RATES:
        found = ew.run(saltglass, bout, tick_rate=rate).events
        hits = only(events.Wounded, found)
        told.append(f"{round(sum(hit.amount for hit in hits), 2):g}, {len(only(events.Died, found))}")
        anew = next((event.tick for event in only(events.BoutRestarted, found)), 10**9)
        wounds[rate] = [
            (hit.seat, hit.by, hit.attack, hit.hitbox, hit.hurtbox, round(hit.amount, 6))
            for hit in hits
            if hit.tick <= anew
        ]
    assert told == table()[bout]
    assert all(wounds[rate] == wounds[EVEN[0]] for rate in EVEN)


def test_what_a_tick_rate_cannot_do_is_refused_for_it() -> None:
    text = range_text().replace("cooldown = 0", "rate = 31").replace(
        "[arenas.range]",
        """
[afflictions.burning]
kind = "ember"
damage = 1
every = 0.03
seconds = 1
[arenas.range]""",
        1,
    )  # fmt: skip
    text += (
        '[arenas.range.hazards.vent]\nat = [50, 0]\nradius = 1\nkind = "ember"\ndamage = 1\n'
        "schedule = { on = 0.01, off = 0.02 }\n"
    )
    rules = ew.Rulebook.parse(text)
    for rate, message in (
        (30, "tick_rate 30: attacks.dart.rate: 31 a second; allowed at 30 ticks a second: at most 30 a second"),
        (32, r"tick_rate 32: afflictions.burning.every: 0.03; allowed at 32 ticks a second: at least 1/32 s, a tick"),
        (33, r"tick_rate 33: afflictions.burning.every: 0.03"),
    ):
        with pytest.raises(ew.BoutError, match=message):
            ew.Bout(rules, arena="range", tick_rate=rate)
    with pytest.raises(ew.BoutError, match=r"arenas.range.hazards.vent.schedule: on for 0.01, off for 0.02"):
        ew.Bout(ew.Rulebook.of(rules).edit({"afflictions.burning.every": 0.04}), arena="range", tick_rate=33)
    with pytest.raises(ew.RulebookError, match=r"attacks.dart.rate: 31 a second; allowed at 30"):
        rules.edit({"settings.tick_rate": 30})
    assert ew.Bout(rules, arena="range", tick_rate=34).tick_rate == 34
