"""Checks of fighters: pools and routes, joints, hurtboxes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.reading import Findings, items, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

MOST_ATTACKS = 32


def check_fighter(found: Findings, name: str) -> None:
    """All that must fit within a fighter."""
    key: Key = ("fighters", name)
    fighter = table(found.raw, "fighters", name)
    pools = table(fighter, "pools")
    vital = [pool for pool in pools if table(pools, pool).get("vital") is True]
    if "pools" in fighter and len(vital) != 1:
        seen = f"vital pools: {', '.join(vital)}" if vital else "no pool is vital"
        found.report((*key, "pools"), seen, "exactly one pool of a fighter needs vital = true")
    for pool in pools:
        _pool(found, (*key, "pools", pool), table(pools, pool))
    if "route" in fighter:
        _route(found, (*key, "route"), fighter["route"], pools, vital)
    if fighter.get("hurtboxes") == {}:
        found.report((*key, "hurtboxes"), "no hurtbox", "a fighter without a hurtbox can never be hit; give it one")
    joints = table(fighter, "joints")
    for hurtbox in table(fighter, "hurtboxes"):
        _hurtbox(found, (*key, "hurtboxes", hurtbox), table(fighter, "hurtboxes", hurtbox), joints)
        own = table(fighter, "hurtboxes", hurtbox).get("route")
        _pools_named(found, (*key, "hurtboxes", hurtbox, "route"), own, pools)
    _bearing(found, key, fighter, pools)
    attacks = items(fighter.get("attacks"))
    found.doubles((*key, "attacks"), attacks)
    if len(attacks) > MOST_ATTACKS:
        found.report((*key, "attacks"), f"{len(attacks)} attacks", f"allowed: at most {MOST_ATTACKS}")


def _pool(found: Findings, key: Key, pool: dict[str, Any]) -> None:
    most, start = number(pool.get("max")), number(pool.get("start"))
    if most is not None and start is not None and start > most:
        found.report((*key, "start"), f"{start:g} is above max", f"allowed: 0 to {most:g}")
    if pool.get("vital") is True and start == 0.0:
        found.report((*key, "start"), "0", "the vital pool must start above 0: at 0 the fighter is dead")


def _route(found: Findings, key: Key, route: Any, pools: dict[str, Any], vital: list[str]) -> None:
    names = _pools_named(found, key, route, pools)
    if len(vital) == 1 and vital[0] not in names:
        found.report(key, f'"{vital[0]}" is missing', "a wound must be able to reach the vital pool")


def _pools_named(found: Findings, key: Key, route: Any, pools: dict[str, Any]) -> list[str]:
    names = [each for each in items(route) if isinstance(each, str)]
    for index, pool in enumerate(names):
        if pool not in pools:
            found.unknown((*key, index), "pool", pool, pools)
    found.doubles(key, names)
    return names


def _bearing(found: Findings, key: Key, fighter: dict[str, Any], pools: dict[str, Any]) -> None:
    """Kinds that are taken or soaked, and what a guard drains."""
    kinds = table(found.raw, "kinds")
    for what in ("takes", "soak"):
        for kind in table(fighter, what):
            if kind not in kinds:
                found.unknown((*key, what, kind), "kind", kind, kinds)
    found.doubles((*key, "labels"), items(fighter.get("labels")))
    guard, place = table(fighter, "guard"), (*key, "guard", "pool")
    pool = guard.get("pool")
    if isinstance(pool, str) and pool not in pools:
        found.unknown(place, "pool", pool, pools)
    if number(guard.get("drain")) and pool is None:
        found.report(place, "missing", "required where a guard drains: which pool does it cost?")


def _hurtbox(found: Findings, key: Key, hurtbox: dict[str, Any], joints: dict[str, Any]) -> None:
    for end in ("from", "to"):
        place = hurtbox.get(end)
        if isinstance(place, str) and place not in joints:
            found.unknown((*key, end), "joint", place, joints)
    if ("radius" in hurtbox) == ("size" in hurtbox):
        seen = "radius and size" if "size" in hurtbox else "neither radius nor size"
        found.report(key, seen, "a sphere or capsule has a radius, a box has a size; give one of them")
    if "size" in hurtbox and "to" in hurtbox:
        found.report((*key, "to"), "a box with a second end", "a box lies round its place `from`; leave `to` out")
    if number(hurtbox.get("turn_deg")) and "size" not in hurtbox:
        found.report((*key, "turn_deg"), "a turn of what is no box", "only a box, with a size, can be turned")
    size = items(hurtbox.get("size"))
    if any((number(each) or 0.0) <= 0.0 for each in size):
        found.report((*key, "size"), f"[{', '.join(map(str, size))}]", "each size of a box must be above 0")
