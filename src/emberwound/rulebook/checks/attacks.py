"""Checks of attacks, and of how they fit the fighters that have them."""

from __future__ import annotations

from itertools import pairwise
from math import hypot
from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.blasts import check_fuse
from emberwound.rulebook.checks.layers import check_layers, layers_named
from emberwound.rulebook.checks.pushes import check_push
from emberwound.rulebook.checks.reading import Findings, items, number, said, table, vector
from emberwound.rulebook.checks.strikes import check_strike
from emberwound.rulebook.checks.timelines import check_timeline

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.outline import Key

CARRIERS = ("shot", "ray", "strike")
"""What may take a wound to its victim."""

FARTHEST_MUZZLE = 100.0
"""Body heights from a fighter beyond which no muzzle is meant."""


def check_attack(found: Findings, name: str) -> None:
    """All that must fit within an attack and with its fighters."""
    key: Key = ("attacks", name)
    attack = table(found.raw, "attacks", name)
    if name == "guard":
        found.report(key, 'the name "guard"', "guard is what a fighter holds; call the attack something else")
    _carrier(found, key, attack)
    _times(found, key, attack)
    check_strike(found, key, attack, found.owners(name))
    check_timeline(found, name)
    check_fuse(found, key, attack, found.owners(name))
    check_push(found, key, attack, travels="strike" not in attack)
    if "push" in attack and not any(each in attack for each in CARRIERS):
        found.report((*key, "push"), "a push with nothing to carry it", "give the attack a shot, a ray or a strike")
    check_layers(found, (*key, "layers"), items(attack.get("layers")), layers_named(found))
    for fighter, owner in found.owners(name):
        _owner(found, key, attack, fighter, owner)


def _carrier(found: Findings, key: Key, attack: dict[str, Any]) -> None:
    """What takes the wound to its victim, if there is a wound."""
    damage = number(attack.get("damage")) or 0.0
    heal = number(attack.get("heal")) or 0.0
    if damage > 0.0 and heal > 0.0:
        found.report((*key, "heal"), f"{heal:g} beside a damage of {damage:g}", "an attack wounds or mends; make two")
    if attack.get("revive") is True and heal == 0.0:
        found.report((*key, "revive"), "true without healing", "give it heal, the points it mends")
    carriers = [each for each in CARRIERS if each in attack]
    _points(found, key, {"damage": damage, "heal": heal}, attack, carriers)
    if len(carriers) > 1:
        found.report(key, " and ".join(carriers), "an attack has one of them; make two attacks")
    for carrier in ("shot", "ray"):
        launch = table(attack, carrier)
        lift = number(launch.get("lift_deg"))
        if lift and launch.get("direction", "aim") == "aim":
            allowed = 'lift_deg raises the facing; set direction = "facing", or leave it out'
            found.report((*key, carrier, "lift_deg"), f"{lift:g} with an aim", allowed)
    shot = table(attack, "shot")
    if (shot.get("on_wall") == "bounce") != ("bounce" in shot):
        seen = "a bounce" if "bounce" in shot else "no bounce"
        allowed = 'on_wall = "bounce" and bounce = { restitution, times } belong together'
        found.report((*key, "shot", "bounce"), seen, allowed)


def _points(
    found: Findings, key: Key, points: dict[str, float], attack: dict[str, Any], carriers: Sequence[str]
) -> None:
    for what, amount in points.items():
        if amount > 0.0 and not carriers:
            found.report(
                (*key, what), f"{amount:g} with nothing to carry it", "give the attack a shot, a ray or a strike"
            )
        of_its_own = all("kind" in box for box in table(attack, "strike", "hitboxes").values()) and "strike" in attack
        if amount > 0.0 and "kind" not in attack and not of_its_own:
            found.report((*key, "kind"), "missing", f"required where {what} is above 0: what kind of wound is it?")
    falloff = table(attack, "falloff")
    near, far = number(falloff.get("near")), number(falloff.get("far"))
    if near is not None and far is not None and near >= far:
        found.report((*key, "falloff", "far"), f"{far:g}", f"it must lie beyond near, {near:g}")
    fighters = table(found.raw, "fighters")
    labels = [str(label) for name in fighters for label in items(table(fighters, name).get("labels"))]
    for label in table(attack, "against"):
        if label not in labels:
            found.unknown((*key, "against", label), "fighter with the label", label, dict.fromkeys(labels))


def _times(found: Findings, key: Key, attack: dict[str, Any]) -> None:
    if "cooldown" in attack and "rate" in attack:
        found.report((*key, "rate"), "a rate and a cooldown", "rate is 1 / cooldown; give one of them")
    rate = number(attack.get("rate"))
    ticks = table(found.raw, "settings").get("tick_rate", 60)
    if rate is not None and isinstance(ticks, int) and rate > ticks:
        allowed = f"allowed: above 0, up to settings.tick_rate, {ticks}: no attack is released twice in a tick"
        found.report((*key, "rate"), f"{rate:g}", allowed)
    if "releases" in attack:
        _ascending(found, (*key, "releases"), items(attack["releases"]), "a release")
    for joint in table(attack, "poses"):
        keys = items(table(attack, "poses").get(joint))
        times = [each.get("at") if isinstance(each, dict) else None for each in keys]
        _ascending(found, (*key, "poses", joint), times, "a place")


def _ascending(found: Findings, key: Key, times: list[Any], what: str) -> None:
    if not times:
        found.report(key, "an empty list", f"give {what}, or leave it out")
    read = [found.seconds(each) for each in times]
    for index, (before, after) in enumerate(pairwise(read), start=1):
        if before is not None and after is not None and after <= before:
            found.report((*key, index), f"{times[index]} after {times[index - 1]}", "times must ascend")


def _owner(found: Findings, key: Key, attack: dict[str, Any], fighter: str, owner: dict[str, Any]) -> None:
    joints, pools = table(owner, "joints"), table(owner, "pools")
    for carrier in ("shot", "ray"):
        place = (*key, carrier, "muzzle")
        muzzle = table(attack, carrier).get("muzzle")
        if isinstance(muzzle, str) and muzzle not in joints:
            found.unknown(place, f"joint of {fighter}", muzzle, joints)
        height, offset = number(table(owner, "body").get("height")), vector(muzzle)
        if offset and height and hypot(*offset) > FARTHEST_MUZZLE * height:
            allowed = f"{fighter} is {height:g} high: allowed within {FARTHEST_MUZZLE * height:g} of its feet"
            found.report(place, said(offset), allowed)
    for joint in table(attack, "poses"):
        if joint not in joints:
            found.unknown((*key, "poses", joint), f"joint of {fighter}", joint, joints)
    for pool, cost in table(attack, "cost").items():
        most = number(table(pools, pool).get("max"))
        if pool not in pools:
            found.unknown((*key, "cost", pool), f"pool of {fighter}", pool, pools)
        elif most is not None and (number(cost) or 0.0) > most:
            allowed = f"{fighter} never holds more than {most:g}; it could never begin this"
            found.report((*key, "cost", pool), str(cost), allowed)


def check_affliction(found: Findings, name: str) -> None:
    """All that must fit within an affliction."""
    key: Key = ("afflictions", name)
    table_ = table(found.raw, "afflictions", name)
    damage, every, seconds = number(table_.get("damage")) or 0.0, table_.get("every"), table_.get("seconds")
    if damage > 0.0 and "kind" not in table_:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    if (damage > 0.0) != ("every" in table_):
        seen = "no damage to deal" if "every" in table_ else f"{damage:g} never dealt"
        found.report((*key, "every"), seen, "damage and every belong together")
    beat, whole = found.seconds(every), found.seconds(seconds)
    if beat is not None and whole is not None and beat > whole:
        found.report((*key, "every"), str(every), f"it would never work: it is over after {seconds} s")
    if "max_stacks" in table_ and table_.get("max_stacks") != 1 and table_.get("stacking") != "add":
        found.report(
            (*key, "max_stacks"), str(table_["max_stacks"]), 'only stacking = "add" has more than one at a time'
        )
