"""What rules answer without a bout is what a bout does: random attacks on random victims in random circumstances."""

from __future__ import annotations

import itertools
import random
from math import dist, hypot, radians, sin
from typing import TYPE_CHECKING, Any

import pytest

import emberwound as ew
from conftest import only, run
from emberwound import events
from emberwound.rulebook.models import Attack, Blast, Fighter, Guard, Hurtbox, Pool
from emberwound.rulebook.outline import table_keys, unwrap

if TYPE_CHECKING:
    from collections.abc import Sequence

BOOK = """
[settings]
tick_rate = {rate}
rounding = "{rounding}"
{combo}
[kinds.iron]
[kinds.salt]
[fighters.striker]
attacks = ["blow"]
labels = ["scaled"]
body = {{ radius = 0.3, height = 1.8 }}
pools.health = {{ max = 90, vital = true }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 1.2], radius = 0.3 }}
[fighters.target]
{victim}
[attacks.blow]
{attack}
[blasts.bang]
radius = 4
falloff = "{falloff}"
hits_direct_victim = true
{blast}
[arenas.yard]
gravity = {gravity}
floor = 0
bounds = {{ low = [-90, -5], high = [90, 90] }}
"""


def hit(rng: random.Random, *headings: str) -> str:
    """The options of a hit that attacks and blasts share; a push that is authored by its path goes along the ground."""
    along = f"distance = {rng.choice([1, 3])}{rng.choice(['', ', apex = 1', ', seconds = 0.4'])}"
    speed = (
        f"speed = {rng.choice([0.5, 3, 20])}, per_point = {rng.choice([0, 0.3])}, lift_deg = {rng.choice([0, 40, 90])}"
    )
    any_way, on_ground = rng.choice(headings), rng.choice(["away", "facing"])
    push = rng.choice([f'heading = "{any_way}", {speed}', f'heading = "{on_ground}", {along}'])
    lines = [
        f'kind = "{rng.choice(["iron", "salt"])}"',
        f'guard_class = "{rng.choice(["ordinary", "ordinary", "low", "unguardable"])}"',
        rng.choice(["", "against = { scaled = 1.5 }"]),
        rng.choice(["", f"push = {{ {push} }}"]),
        rng.choice(["", "", 'layers = ["plate"]', 'layers = ["body"]']),
        rng.choice(["", "hit_stop = 0.05"]),
    ]
    return "\n".join(lines)


def attack(rng: random.Random) -> str:
    """An attack of any sort: a shot, a ray, a strike, or a blast alone."""
    muzzle = f"muzzle = [0.4, {(height := rng.choice([0.7, 1.5]))}], direction = 'facing'"
    own = rng.choice(["", ", damage = 9", ", push = { speed = 7 }"])
    edge = f"{{ from = [0.5, {height}], to = [2, {height}], radius = 0.1{own} }}"
    sorts = {
        "shot": f"shot = {{ {muzzle}, speed = 30, radius = 0.05, gravity_share = 0 }}",
        "ray": f"ray = {{ {muzzle}, range = 9 }}",
        "strike": f"active = '4f'\nstrike.hitboxes.edge = {edge}",
    }
    sort = rng.choice([*sorts, "blast"])
    if sort == "blast":
        return "blast_at = [1, 1]\nblast = 'bang'"
    lines = [
        hit(rng, "away", "towards", "facing", "radial", *(() if sort == "strike" else ("travel",))),
        rng.choice(["damage = 7", "damage = 24.5", "damage = 200", "damage = 0", "heal = 5"]),
        rng.choice(["", "falloff = { near = 0.5, far = 3, share = 0.25 }"]),
        rng.choice(["", "", "charge = { seconds = 0.2, damage = 3 }"]),
        sorts[sort],
    ]
    return "\n".join(lines)


GUARD = """
guard = { arc_deg = 360, damage_share = 0.25, push_share = 0.4, drain = 1, pool = 'breath' }
[[fighters.target.reactions]]
name = "stagger"
guarded = true
breaks = true
seconds = 1
[[fighters.target.reactions]]
name = "brace"
guarded = true
seconds = 0.2
"""


def victim(rng: random.Random) -> str:
    """A fighter with armour, a guard and reactions of any sort."""
    return f"""
weight = {rng.choice([1, 2.5])}
drag = {rng.choice([0, 0.4])}
gravity_share = {rng.choice([1, 1, 0])}
body = {{ radius = 0.3, height = 1.8 }}
labels = {rng.choice(["[]", '["scaled"]'])}
route = ["shell", "health"]
flat_reduction = {rng.choice(["0", "3", "{ salt = 4 }"])}
min_damage = {rng.choice([0, 2])}
damage_taken = {rng.choice(["{}", "{ iron = 0.5 }", "{ salt = 0 }"])}
pools.health = {{ max = 40, start = {rng.choice([40, 12])}, vital = true }}
pools.shell = {{ max = 10, share = {rng.choice([0, 1, 2])}, overflow = {rng.choice(["true", "false"])} }}
pools.breath = {{ max = 9 }}
hurtboxes.trunk = {{ from = [0, 0.4], to = [0, 0.9], radius = 0.3, multiplier = {rng.choice([0, 1, 0.5])} }}
hurtboxes.crest = {{ from = [0, 1.5], radius = 0.25, push_share = 0.5, layer = "plate" }}
{rng.choice(["", "stagger_resistance = { points = 8 }"])}
{rng.choice(["", GUARD])}
[[fighters.target.reactions]]
name = "topple"
push = 5
seconds = 0.7
[[fighters.target.reactions]]
name = "flinch"
damage = 2
hurtboxes = ["trunk"]
seconds = 0.3
[[fighters.target.reactions]]
name = "slump"
kinds = ["iron"]
dying = true
seconds = 1
"""


def scene(rng: random.Random, changes: dict[str, Any]) -> tuple[ew.Rulebook, ew.Bout, ew.Seat, ew.Seat]:
    """A striker before a target, which may hold its guard, long before any blow; the book changed by keys."""
    text = BOOK.format(
        rate=rng.choice([30, 60, 144]),
        rounding=rng.choice(["none", "whole"]),
        combo=rng.choice(["", "combo = { seconds = 3, shares = [1, 0.5, 0.25] }"]),
        falloff=rng.choice(["linear", "steep", "even"]),
        gravity=rng.choice([9.81, 30]),
        victim=victim(rng),
        attack=attack(rng),
        blast=f"damage = {rng.choice([6, 60])}\n{hit(rng, 'away', 'facing', 'radial')}",
    )
    rules = ew.Rulebook.parse(text).edit(changes)
    bout = ew.Bout(rules, arena="yard")
    striker = bout.enter("striker", at=(0, 0))
    target = bout.enter("target", at=(rng.choice([1.2, 1.9]), 0), facing="left", lives="endless")
    if rules.book.fighters["target"].guard and rng.random() < 0.5:
        target.order(hold="guard")
    run(bout, 1)
    return rules, bout, striker, target


def blow(bout: ew.Bout, striker: ew.Seat) -> list[events.AnyEvent]:
    """The striker's attack, charged in full if it can be, and what follows within half a second."""
    if not bout.rules.book.attacks["blow"].charge:
        striker.order(press="blow")
        return run(bout, 0.5)
    striker.order(hold="blow")
    found = run(bout, 0.3)
    striker.order(hold=())
    return found + run(bout, 0.2)


def flown(found: Sequence[events.AnyEvent], told: Any, striker: ew.Seat) -> float:
    """The distance by which a hit counts: of a shot and a ray flown, of a strike on the ground, of a blast from it."""
    source = next((event for event in found if event.seq == told.cause), None)
    while source is not None and not isinstance(source, events.Released | events.Exploded | events.AttackBegan):
        source = next((event for event in found if event.seq == source.cause), None)
    if isinstance(source, events.AttackBegan):
        return abs(float(told.position[0]) - (striker.position or (0.0,))[0])
    assert isinstance(source, events.Released | events.Exploded)
    return dist(told.position, source.position)


HITS = (events.Wounded, events.Guarded, events.Healed)


def ask(seed: int, changes: dict[str, Any] | None = None) -> int:
    """One scene: the hits of its blows, asked of the rules, are what the bout tells; how many were compared."""
    rng = random.Random(seed)
    rules, bout, striker, target = scene(rng, changes or {})
    compared = 0
    for count in range(2):
        pools, guards, start = target.pools, "guarding" in target.states, target.position
        found = blow(bout, striker)
        first = next((each for each in found if isinstance(each, HITS) and each.seat == target.name), None)
        if first is None:
            layers = rules.book.attacks["blow"].layers or rules.book.blasts["bang"].layers
            assert layers, "only layers keep an attack from whom it meets"
            other = {"body": "crest", "plate": "trunk"}[layers[0]]
            with pytest.raises(ew.RulebookError, match=f"touches only these, and of target {other} is on "):
                rules.wound("blow", "target", hurtbox=other)
            return compared
        how: dict[str, Any] = {
            "hurtbox": first.hurtbox,
            "hitbox": first.hitbox,
            "blast": first.attack == "bang",
            "guarded": guards,
            "distance": flown(found, first, striker),
            "charge": 1.0 if rules.book.attacks["blow"].charge else None,
            "combo_count": count if rules.book.settings.combo else 0,
            "pools": pools,
        }
        mine = [event for event in found if event.seat == first.seat]
        _compare_wound(rules, mine, first, how)
        _compare_push(rules, mine, how)
        if count == 0:
            reaction = rules.reaction("blow", "target", **how)
            began = [each.reaction for each in mine if isinstance(each, events.ReactionBegan | events.Died)]
            assert (began or [None])[0] == reaction.reaction
        compared += 1
        if isinstance(first, events.Guarded) and first.broken:
            break
        if not target.alive or target.position != start or "airborne" in target.states:
            break
        run(bout, 0.6)
    return compared


def _compare_wound(rules: ew.Rulebook, mine: Sequence[events.AnyEvent], first: Any, how: dict[str, Any]) -> None:
    report = rules.wound("blow", "target", **how)
    told = [event for event in mine if isinstance(event, events.Wounded | events.Healed)]
    if isinstance(first, events.Guarded):
        assert (report.drained, report.guard_breaks) == pytest.approx((first.drained, first.broken))
    else:
        assert not report.drained and not report.guard_breaks
    assert bool(only(events.Died, mine)) == report.kills
    if not told:
        assert report.ledger.amount == 0.0
        return
    assert [step.rule for step in told[0].ledger.steps] == [step.rule for step in report.ledger.steps]
    assert told[0].ledger.amount == pytest.approx(report.ledger.amount, rel=1e-9)
    assert told[0].vital_left == pytest.approx(report.after["health"], rel=1e-9)


def _compare_push(rules: ew.Rulebook, mine: Sequence[events.AnyEvent], how: dict[str, Any]) -> None:
    pushed = only(events.KnockedBack, mine)
    book = rules.book
    strike = book.attacks["blow"].strike
    own = strike.hitboxes["edge"].push if strike else None
    push = book.blasts["bang"].push if how["blast"] else own or book.attacks["blow"].push
    if push is None:
        with pytest.raises(ew.RulebookError, match="pushes nobody"):
            rules.knockback_path("blow", "target", **how)
        assert not pushed
        return
    path = rules.knockback_path("blow", "target", **how)
    if not pushed:
        assert path.speed == 0.0, "a healing pushes nobody"
        return
    level, rise = pushed[0].velocity
    assert hypot(level, rise) == pytest.approx(path.speed, rel=1e-9)
    if push.heading in ("away", "facing"):
        assert rise == pytest.approx(path.speed * sin(radians(path.lift_deg)), abs=1e-9)


@pytest.mark.parametrize("block", range(6))
def test_the_rules_answer_what_a_bout_does(block: int) -> None:
    assert sum(ask(seed) for seed in range(block * 40, block * 40 + 40)) >= 35


TABLES = {
    "attacks.blow": Attack,
    "blasts.bang": Blast,
    "fighters.target": Fighter,
    "fighters.target.hurtboxes.trunk": Hurtbox,
    "fighters.target.pools.health": Pool,
    "fighters.target.guard": Guard,
}
"""The tables that a hit depends on."""

WITHOUT_A_QUESTION = {"active", "rate", "throw", "windup", "recovery", "radius", "start", "weight"}
"""What would keep the blow from landing, or from being the one asked about."""


@pytest.mark.parametrize("table", TABLES)
def test_every_number_of_the_tables_counts_in_a_bout_as_it_is_told(table: str) -> None:
    """Each key that takes a number or a truth is set to another value, as the models list them."""
    compared, keys = 0, table_keys(TABLES[table])
    numbers = [key for key, kind in keys.items() if unwrap(kind)[0] in (float, int, bool)]
    assert numbers
    for key in sorted(set(numbers) - WITHOUT_A_QUESTION):
        for seed, value in itertools.product(range(4), (0.5, 3, True)):
            try:
                compared += ask(seed, {f"{table}.{key}": value})
            except ew.RulebookError:
                continue  # not a value of this key, or not in this book
            except AssertionError as error:
                error.add_note(f"{table}.{key} = {value}, seed {seed}")
                raise
    assert compared >= 4
