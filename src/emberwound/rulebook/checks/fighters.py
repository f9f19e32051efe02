"""Checks of fighters and props: pools and routes, joints, hurtboxes, reactions, ragdolls."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.rulebook.checks.bars import check_bars_of
from emberwound.rulebook.checks.reading import check_joints, check_shape
from emberwound.rulebook.terms import reaction_fit

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from emberwound.rulebook.checks.reading import Findings
    from emberwound.rulebook.models import Fighter, Pool, Reaction
    from emberwound.rulebook.outline import Key


MOST_ATTACKS = 32
MOST_HURTBOXES = 62
MOST_POSTURES = 16
OF_THEMSELVES = ("standing", "airborne")
"""The postures that every fighter has."""


def check_fighter(found: Findings, name: str) -> None:
    """All that must fit within a fighter."""
    key: Key = ("fighters", name)
    fighter = found.book.fighters[name]
    _pools(found, key, fighter)
    check_bars_of(found, name, fighter)
    _hurtboxes(found, key, fighter)
    _stats(found, key, fighter)
    _postures(found, key, fighter)
    check_reactions(found, key, fighter)
    check_ragdoll(found, key, fighter)
    _stages(found, key, fighter)
    found.doubles((*key, "attacks"), fighter.attacks)
    if len(fighter.all_attacks) > MOST_ATTACKS:
        found.report((*key, "attacks"), f"{len(fighter.all_attacks)} attacks", f"allowed: at most {MOST_ATTACKS}")


def _pools(found: Findings, key: Key, fighter: Fighter) -> None:
    vital = [name for name, pool in fighter.pools.items() if pool.vital]
    if len(vital) != 1:
        seen = f"vital pools: {', '.join(vital)}" if vital else "no pool is vital"
        found.report((*key, "pools"), seen, "exactly one pool of a fighter needs vital = true")
    for name, pool in fighter.pools.items():
        _pool(found, (*key, "pools", name), pool)
    if fighter.route is None:
        return
    _pools_named(found, (*key, "route"), fighter.route, fighter)
    if len(vital) == 1 and vital[0] not in fighter.route:
        found.report((*key, "route"), f'"{vital[0]}" is missing', "a wound must be able to reach the vital pool")


def _pool(found: Findings, key: Key, pool: Pool) -> None:
    if pool.start is not None and pool.start > pool.max:
        found.report((*key, "start"), f"{pool.start:g} is above max", f"allowed: 0 to {pool.max:g}")
    if pool.vital and pool.start == 0.0:
        found.report((*key, "start"), "0", "the vital pool must start above 0: at 0 the fighter is dead")


def _hurtboxes(found: Findings, key: Key, fighter: Fighter) -> None:
    boxes = fighter.hurtboxes
    if not boxes:
        found.report((*key, "hurtboxes"), "no hurtbox", "a fighter without a hurtbox can never be hit; give it one")
    if len(boxes) > MOST_HURTBOXES:
        found.report((*key, "hurtboxes"), f"{len(boxes)} hurtboxes", f"allowed: at most {MOST_HURTBOXES}")
    for name, box in boxes.items():
        place: Key = (*key, "hurtboxes", name)
        check_joints(found, place, box, "joint", fighter.joints)
        check_shape(found, place, box)
        _pools_named(found, (*place, "route"), box.route or (), fighter)


def _postures(found: Findings, key: Key, fighter: Fighter) -> None:
    postures = fighter.postures
    if len(postures) > MOST_POSTURES:
        found.report((*key, "postures"), f"{len(postures)} postures", f"allowed: at most {MOST_POSTURES}")
    taken = [*OF_THEMSELVES, "guard", *fighter.all_attacks]
    for name, posture in postures.items():
        if name in taken:
            allowed = "standing and airborne are there of themselves, and orders name attacks and guard: choose another"
            found.report((*key, "postures", name), f'the name "{name}"', allowed)
        for joint in posture.joints:
            if joint not in fighter.joints:
                found.unknown((*key, "postures", name, "joints", joint), "joint", joint, fighter.joints)
    known = [*OF_THEMSELVES, *postures]
    for name, box in fighter.hurtboxes.items():
        place: Key = (*key, "hurtboxes", name, "postures")
        if box.postures == ():
            found.report(place, "an empty list", "it would never be on; name a posture, or leave it out")
        for index, each in enumerate(box.postures or ()):
            if each not in known:
                found.unknown((*place, index), "posture", each, known)
        found.doubles(place, box.postures or ())


def _stages(found: Findings, key: Key, fighter: Fighter) -> None:
    """Each stage needs its pool, attacks that are named once, and to begin after the one before it."""
    names = [stage.name for stage in fighter.stages]
    for index, stage in enumerate(fighter.stages):
        place: Key = (*key, "stages", index)
        if stage.pool is not None and stage.pool not in fighter.pools:
            found.unknown((*place, "pool"), "pool", stage.pool, fighter.pools)
        if stage.name in names[:index]:
            found.report((*place, "name"), f'"{stage.name}" twice', "allowed: each stage has a name of its own")
        found.doubles((*place, "attacks"), stage.attacks or ())
        earlier = [each.below for each in fighter.stages[:index] if each.pool == stage.pool]
        if earlier and stage.below >= min(earlier):
            allowed = f"an earlier stage begins at {min(earlier):g} already; list them from high to low"
            found.report((*place, "below"), f"{stage.below:g}", allowed)


def _pools_named(found: Findings, key: Key, route: Sequence[str], fighter: Fighter) -> None:
    for index, pool in enumerate(route):
        if pool not in fighter.pools:
            found.unknown((*key, index), "pool", pool, fighter.pools)
    found.doubles(key, route)


def _stats(found: Findings, key: Key, fighter: Fighter) -> None:
    """Kinds that are taken more or less of, and what a guard drains."""
    kinds, reductions = found.book.names["kinds"], fighter.flat_reduction
    tables = {
        "damage_taken": fighter.damage_taken,
        "flat_reduction": reductions if isinstance(reductions, dict) else {},
    }
    for what, table in tables.items():
        for kind in table:
            if kind not in kinds:
                found.unknown((*key, what, kind), "kind", kind, kinds)
    found.doubles((*key, "labels"), fighter.labels)
    guard, place = fighter.guard, (*key, "guard", "pool")
    if guard is None:
        return
    if guard.pool is not None and guard.pool not in fighter.pools:
        found.unknown(place, "pool", guard.pool, fighter.pools)
    if guard.drain and guard.pool is None:
        found.report(place, "missing", "required where a guard drains: which pool does it cost?")


OF_FIGHTERS = ("route", "postures")


def check_prop(found: Findings, name: str) -> None:
    """All that must fit within a prop."""
    key: Key = ("props", name)
    prop = found.book.props[name]
    if name in found.book.names["fighters"]:
        found.report(key, f'the name "{name}"', "there is a fighter of that name: choose another")
    if not prop.hurtboxes:
        found.report((*key, "hurtboxes"), "no hurtbox", "a prop without one can never be hit; give it one")
    for hurtbox, part in prop.hurtboxes.items():
        place: Key = (*key, "hurtboxes", hurtbox)
        check_joints(found, place, part, "joint", {})
        check_shape(found, place, part)
        for only in OF_FIGHTERS:
            if getattr(part, only) is not None:
                found.report((*place, only), "on a prop", "only fighters have pools and postures; leave it out")


MOST_POINTS = 64
LEAST_SHARE = 0.001


def check_ragdoll(found: Findings, key: Key, fighter: Fighter) -> None:
    """All that must fit within a fighter's ragdoll."""
    ragdoll = fighter.ragdoll
    if ragdoll is None:
        return
    place: Key = (*key, "ragdoll")
    points, links = ragdoll.points, ragdoll.links
    if not 2 <= len(points) <= MOST_POINTS:
        found.report((*place, "points"), f"{len(points)} points", f"allowed: 2 to {MOST_POINTS}")
    if ragdoll.radius < LEAST_SHARE * fighter.body.height:
        allowed = f"at least a thousandth of its height, {LEAST_SHARE * fighter.body.height:g}"
        found.report((*place, "radius"), f"{ragdoll.radius:g}", allowed)
    for name, at in points.items():
        if isinstance(at, str) and at not in fighter.joints:
            found.unknown((*place, "points", name), "joint", at, fighter.joints)
    if not links:
        found.report((*place, "links"), "an empty list", "give the points links, or leave ragdoll out")
    _links(found, (*place, "links"), points, links)
    _hangs_together(found, (*place, "links"), list(points), links)


def _links(found: Findings, key: Key, points: Mapping[str, object], links: Sequence[tuple[str, str]]) -> None:
    for index, link in enumerate(links):
        for which, end in enumerate(link):
            if end not in points:
                found.unknown((*key, index, which), "point of the ragdoll", end, points)
        if link[0] == link[1]:
            found.report((*key, index), f"{link[0]} with itself", "a link joins two points")


def _hangs_together(found: Findings, key: Key, points: list[str], links: Sequence[tuple[str, str]]) -> None:
    if not points or not links or any(end not in points for link in links for end in link):
        return
    reached = {points[0]}
    for _ in points:
        reached.update(end for link in links if reached.intersection(link) for end in link)
    loose = [name for name in points if name not in reached]
    if loose:
        found.report(key, f"no chain of links from {points[0]} to {loose[0]}", "all points must hang together")


NOT_OF_PARRIES = ("guarded", "breaks", "dying", "damage", "push", "hurtboxes", "sides")


def check_reactions(found: Findings, key: Key, fighter: Fighter) -> None:
    """All that must fit within a fighter's table of reactions."""
    fits = [reaction_fit(row) for row in fighter.reactions]
    for index, row in enumerate(fighter.reactions):
        place: Key = (*key, "reactions", index)
        for which, box in enumerate(row.hurtboxes or ()):
            if box not in fighter.hurtboxes:
                found.unknown((*place, "hurtboxes", which), "hurtbox", box, fighter.hurtboxes)
        lists = (("variants", row.variants), ("from", row.sides), ("hurtboxes", row.hurtboxes), ("kinds", row.kinds))
        for name, given in lists:
            if given == ():
                found.report((*place, name), "an empty list", "name one, or leave it out")
        for name in ("guarded", "breaks"):
            if getattr(row, name) and fighter.guard is None:
                found.report((*place, name), "true without a guard", "this fighter has no guard; give it one")
        _of_parry(found, (*place, "parried"), row)
        for earlier in range(index):
            if fits[earlier].covers(fits[index]):
                said = f"row {earlier} ({fighter.reactions[earlier].name}) fits all that this one fits"
                found.report(
                    place, f"{row.name} can never be reached", f"{said}: put it later", finding="reaction-shadowed"
                )
                break


def _of_parry(found: Findings, key: Key, row: Reaction) -> None:
    """A strike that is parried is no hit on its owner: nothing of one can be asked."""
    asks = [
        name for name in ("guarded", "breaks", "dying", "damage", "push", "hurtboxes", "sides") if getattr(row, name)
    ]
    if row.parried and asks:
        asked = "from" if asks[0] == "sides" else asks[0]
        found.report(key, f"true with {asked}", f"a strike of its own that is parried has no {asked}; give one of them")
