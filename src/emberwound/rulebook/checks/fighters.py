"""Checks of fighters: pools and routes, joints, hurtboxes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.rulebook.checks.bars import check_bars_of
from emberwound.rulebook.checks.parts import check_joints, check_shape
from emberwound.rulebook.checks.ragdoll import check_ragdoll
from emberwound.rulebook.checks.reactions import check_reactions
from emberwound.rulebook.checks.reading import Findings, items, number, table

if TYPE_CHECKING:
    from emberwound.rulebook.outline import Key

MOST_ATTACKS = 32
MOST_HURTBOXES = 62
MOST_POSTURES = 16
OF_THEMSELVES = ("standing", "airborne")
"""The postures that every fighter has."""


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
    check_bars_of(found, name, fighter)
    if "route" in fighter:
        _route(found, (*key, "route"), fighter["route"], pools, vital)
    if fighter.get("hurtboxes") == {}:
        found.report((*key, "hurtboxes"), "no hurtbox", "a fighter without a hurtbox can never be hit; give it one")
    joints = table(fighter, "joints")
    for hurtbox in table(fighter, "hurtboxes"):
        part = table(fighter, "hurtboxes", hurtbox)
        check_joints(found, (*key, "hurtboxes", hurtbox), part, "joint", joints)
        check_shape(found, (*key, "hurtboxes", hurtbox), part)
        own = table(fighter, "hurtboxes", hurtbox).get("route")
        _pools_named(found, (*key, "hurtboxes", hurtbox, "route"), own, pools)
    _bearing(found, key, fighter, pools)
    if len(table(fighter, "hurtboxes")) > MOST_HURTBOXES:
        seen = f"{len(table(fighter, 'hurtboxes'))} hurtboxes"
        found.report((*key, "hurtboxes"), seen, f"allowed: at most {MOST_HURTBOXES}")
    _postures(found, key, fighter)
    check_reactions(found, key, fighter)
    check_ragdoll(found, key, fighter)
    attacks = items(fighter.get("attacks"))
    found.doubles((*key, "attacks"), attacks)
    if len(attacks) > MOST_ATTACKS:
        found.report((*key, "attacks"), f"{len(attacks)} attacks", f"allowed: at most {MOST_ATTACKS}")


def _postures(found: Findings, key: Key, fighter: dict[str, Any]) -> None:
    postures = table(fighter, "postures")
    if len(postures) > MOST_POSTURES:
        found.report((*key, "postures"), f"{len(postures)} postures", f"allowed: at most {MOST_POSTURES}")
    taken = [*OF_THEMSELVES, "guard", *items(fighter.get("attacks"))]
    for posture in postures:
        if posture in taken:
            allowed = "standing and airborne are there of themselves, and orders name attacks and guard: choose another"
            found.report((*key, "postures", posture), f'the name "{posture}"', allowed)
        joints = table(fighter, "joints")
        for joint in table(postures, posture, "joints"):
            if joint not in joints:
                found.unknown((*key, "postures", posture, "joints", joint), "joint", joint, joints)
    known = [*OF_THEMSELVES, *postures]
    for hurtbox in table(fighter, "hurtboxes"):
        place: Key = (*key, "hurtboxes", hurtbox, "postures")
        named = table(fighter, "hurtboxes", hurtbox).get("postures")
        if named == []:
            found.report(place, "an empty list", "it would never be on; name a posture, or leave it out")
        for index, each in enumerate(items(named)):
            if isinstance(each, str) and each not in known:
                found.unknown((*place, index), "posture", each, known)
        found.doubles(place, items(named))


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
    for what in ("damage_taken", "flat_reduction"):
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
