"""Checks of attacks, their strikes, pushes and blasts, and of how they fit the fighters that have them."""

from __future__ import annotations

from itertools import pairwise
from math import hypot
from typing import TYPE_CHECKING

from emberwound.rulebook.attack_timeline import AttackTimeline
from emberwound.rulebook.checks.reading import Findings, check_joints, check_layers, check_shape, said
from emberwound.rulebook.checks.timelines import check_timeline, check_windows
from emberwound.rulebook.models.attacks import Muzzle

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.rulebook.models import Attack, Fighter, Hitbox, Push
    from emberwound.rulebook.models.tables import Place
    from emberwound.rulebook.outline import Key
    from emberwound.vocabulary.clock import Duration


CARRIERS = ("shot", "ray", "strike", "throw")
"""What may take a wound to its victim."""

CARRY_IT = "give the attack a shot, a ray, a strike or a throw"

FARTHEST_MUZZLE = 100.0
"""Body heights from a fighter beyond which no muzzle is meant."""


def check_attack(found: Findings, name: str) -> None:
    """All that must fit within an attack and with its fighters."""
    key: Key = ("attacks", name)
    attack = found.book.attacks[name]
    if name == "guard":
        found.report(key, 'the name "guard"', "guard is what a fighter holds; call the attack something else")
    _carrier(found, key, attack)
    if _times(found, key, attack):
        check_strike(found, key, attack, found.owners(name))
        check_timeline(found, name)
    check_fuse(found, key, attack, found.owners(name))
    check_push(found, key, attack.push, travels=attack.strike is None)
    if attack.push is not None and not _carriers(attack):
        found.report((*key, "push"), "a push with nothing to carry it", CARRY_IT, finding="carries-nothing")
    check_layers(found, (*key, "layers"), attack.layers)
    _grab(found, (*key, "grab"), attack)
    for fighter, owner in found.owners(name):
        _owner(found, key, attack, fighter, owner)


def _carriers(attack: Attack) -> list[str]:
    return [each for each in CARRIERS if getattr(attack, each)]


def _carrier(found: Findings, key: Key, attack: Attack) -> None:
    """What takes the wound to its victim, if there is a wound."""
    damage, heal = attack.damage, attack.heal
    if damage > 0.0 and heal > 0.0:
        found.report((*key, "heal"), f"{heal:g} beside a damage of {damage:g}", "an attack damages or heals; make two")
    if attack.revive and heal == 0.0:
        found.report((*key, "revive"), "true without healing", "give it heal, the points it heals")
    carriers = _carriers(attack)
    _points(found, key, attack, carriers)
    if len(carriers) > 1:
        found.report(key, " and ".join(carriers), "an attack has one of them; make two attacks")
    for carrier, launch in (("shot", attack.shot), ("ray", attack.ray)):
        if launch is not None and launch.lift_deg and launch.direction != "facing":
            allowed = 'lift_deg raises the facing; set direction = "facing", or leave it out'
            found.report((*key, carrier, "lift_deg"), f"{launch.lift_deg:g} with an aim", allowed)
    shot = attack.shot
    if shot is not None and (shot.on_wall == "bounce") != (shot.bounce is not None):
        seen = "a bounce" if shot.bounce else "no bounce"
        allowed = 'on_wall = "bounce" and bounce = { restitution, times } belong together'
        found.report((*key, "shot", "bounce"), seen, allowed)


def _grab(found: Findings, key: Key, attack: Attack) -> None:
    """Only a strike grabs, and what holds does not throw back."""
    if attack.grab is None:
        return
    if attack.strike is None:
        found.report(key, "a grab without a strike", "it holds whom its strike hits; give the attack a strike")
    if attack.push is not None or any(box.push for box in (attack.strike.hitboxes.values() if attack.strike else ())):
        found.report(key, "a grab and a push", "who is pushed is not held; give the push to the throw")
    for fighter, owner in found.owners(str(key[1])):
        if isinstance(attack.grab.at, str) and attack.grab.at not in owner.joints:
            found.unknown((*key, "at"), f"joint of {fighter}", attack.grab.at, owner.joints)


def _points(found: Findings, key: Key, attack: Attack, carriers: Sequence[str]) -> None:
    boxes = attack.strike.hitboxes.values() if attack.strike else ()
    kinds_of_their_own = attack.strike is not None and all(box.kind is not None for box in boxes)
    for what, amount in (("damage", attack.damage), ("heal", attack.heal)):
        if amount > 0.0 and not carriers:
            found.report((*key, what), f"{amount:g} with nothing to carry it", CARRY_IT, finding="carries-nothing")
        if amount > 0.0 and attack.kind is None and not kinds_of_their_own:
            found.report((*key, "kind"), "missing", f"required where {what} is above 0: what kind of wound is it?")
    falloff = attack.falloff
    if falloff is not None and falloff.near >= falloff.far:
        found.report((*key, "falloff", "far"), f"{falloff.far:g}", f"it must lie beyond near, {falloff.near:g}")
    labels = [label for fighter in found.book.fighters.values() for label in fighter.labels]
    for label in attack.against:
        if label not in labels:
            found.unknown((*key, "against", label), "fighter with the label", label, dict.fromkeys(labels))


def _times(found: Findings, key: Key, attack: Attack) -> bool:
    """Times that fit each other; whether the attack has a timeline at all."""
    if attack.cooldown is not None and attack.rate is not None:
        found.report((*key, "rate"), "a rate and a cooldown", "rate is 1 / cooldown; give one of them")
    ticks = found.book.settings.tick_rate
    if attack.rate is not None and attack.rate > ticks:
        allowed = f"allowed: above 0, up to settings.tick_rate, {ticks}: no attack is released twice in a tick"
        found.report((*key, "rate"), f"{attack.rate:g}", allowed)
    _ascending(found, (*key, "releases"), attack.releases, "a release")
    for joint, keys in attack.poses.items():
        _ascending(found, (*key, "poses", joint), [each.at for each in keys], "a place")
    return bool(attack.releases)


def _ascending(found: Findings, key: Key, times: Sequence[Duration], what: str) -> None:
    if not times:
        found.report(key, "an empty list", f"give {what}, or leave it out")
    for index, (before, after) in enumerate(pairwise(times), start=1):
        if found.seconds(after) <= found.seconds(before):
            found.report((*key, index), f"{after.written()} after {before.written()}", "times must ascend")


def _owner(found: Findings, key: Key, attack: Attack, fighter: str, owner: Fighter) -> None:
    for carrier, launch in (("shot", attack.shot), ("ray", attack.ray)):
        if launch is not None:
            _muzzle(found, (*key, carrier, "muzzle"), launch.muzzle, fighter, owner)
    for joint in attack.poses:
        if joint not in owner.joints:
            found.unknown((*key, "poses", joint), f"joint of {fighter}", joint, owner.joints)
    for pool, cost in attack.cost.items():
        if pool not in owner.pools:
            found.unknown((*key, "cost", pool), f"pool of {fighter}", pool, owner.pools)
        elif cost > owner.pools[pool].max:
            allowed = f"{fighter} never holds more than {owner.pools[pool].max:g}; it could never begin this"
            found.report((*key, "cost", pool), f"{cost:g}", allowed, finding="cost-above-pool")


def _muzzle(found: Findings, key: Key, muzzle: Place | Muzzle, fighter: str, owner: Fighter) -> None:
    height = owner.body.height
    joint = muzzle.joint if isinstance(muzzle, Muzzle) else muzzle if isinstance(muzzle, str) else None
    offset = muzzle.offset if isinstance(muzzle, Muzzle) else (0.0, 0.0) if isinstance(muzzle, str) else muzzle
    if joint is not None and joint not in owner.joints:
        where: Key = (*key, "joint") if isinstance(muzzle, Muzzle) else key
        found.unknown(where, f"joint of {fighter}", joint, owner.joints)
    if hypot(*offset) > FARTHEST_MUZZLE * height:
        allowed = f"{fighter} is {height:g} high: allowed within {FARTHEST_MUZZLE * height:g} of its feet"
        found.report((*key, "offset") if isinstance(muzzle, Muzzle) else key, said(offset), allowed)


def check_affliction(found: Findings, name: str) -> None:
    """All that must fit within an affliction."""
    key: Key = ("afflictions", name)
    affliction = found.book.afflictions[name]
    damage, every = affliction.damage, affliction.every
    if damage > 0.0 and affliction.kind is None:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    if (damage > 0.0) != (every is not None):
        seen = f"{damage:g} never dealt" if every is None else "no damage to deal"
        found.report((*key, "every"), seen, "damage and every belong together")
    if every is not None and found.seconds(every) > found.seconds(affliction.seconds):
        allowed = f"it would never work: it is over after {affliction.seconds.written()} s"
        found.report((*key, "every"), str(every.written()), allowed)
    if affliction.max_stacks != 1 and affliction.stacking != "add":
        allowed = 'only stacking = "add" has more than one at a time'
        found.report((*key, "max_stacks"), str(affliction.max_stacks), allowed)


def check_blast(found: Findings, name: str) -> None:
    """All that must fit within a blast."""
    key: Key = ("blasts", name)
    blast = found.book.blasts[name]
    if blast.damage > 0.0 and blast.kind is None:
        found.report((*key, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
    if blast.damage == 0.0 and blast.push is None and not blast.afflicts:
        found.report(key, "a blast that does nothing", "give it damage, a push, or something it afflicts with")
    check_push(found, key, blast.push, travels=False)
    check_layers(found, (*key, "layers"), blast.layers)


def check_fuse(found: Findings, key: Key, attack: Attack, owners: Sequence[tuple[str, Fighter]]) -> None:
    """What sets off an attack's blast: the ends of its shots and rays, or its releases at a place."""
    flies = attack.shot is not None or attack.ray is not None
    if attack.blast is not None and not flies and attack.blast_at is None:
        allowed = "give the attack a shot or a ray that carries it, or blast_at, the place it goes off at"
        found.report((*key, "blast"), "a blast that nothing sets off", allowed)
    if attack.blast_at is not None and (attack.blast is None or flies):
        seen = "a place beside a shot or a ray" if flies else "a place without a blast"
        found.report((*key, "blast_at"), seen, "it is where a blast goes off that nothing carries")
    for fighter, owner in owners:
        if isinstance(attack.blast_at, str) and attack.blast_at not in owner.joints:
            found.unknown((*key, "blast_at", "from"), f"joint of {fighter}", attack.blast_at, owner.joints)


def check_strike(found: Findings, key: Key, attack: Attack, owners: Sequence[tuple[str, Fighter]]) -> None:
    """All that must fit within a strike, with its attack's times, and with its fighters."""
    if attack.strike is None:
        return
    boxes = attack.strike.hitboxes
    if not boxes:
        found.report(
            (*key, "strike", "hitboxes"),
            "no hitbox",
            "a strike without a hitbox never hits; give it one",
            finding="hitbox-never-on",
        )
    timeline = AttackTimeline.of(attack, found.book.settings.frame_rate)
    if timeline.windup == timeline.active:
        allowed = "required with a strike: how long, after the windup, its hitboxes may be on"
        found.report((*key, "active"), "no active time", allowed, finding="hitbox-never-on")
    for name, box in boxes.items():
        place: Key = (*key, "strike", "hitboxes", name)
        check_shape(found, place, box)
        if timeline.windup != timeline.active and box.on is not None:
            active = (timeline.windup, timeline.active)
            check_windows(found, (*place, "on"), box.on, active, "the attack that is active", needed=True)
        _swing(found, place, box)
        check_push(found, place, box.push, travels=False)
        check_layers(found, (*place, "layers"), box.layers)
        if box.damage and box.kind is None and attack.kind is None:
            found.report((*place, "kind"), "missing", "required where damage is above 0: what kind of wound is it?")
        for fighter, owner in owners:
            check_joints(found, place, box, f"joint of {fighter}", owner.joints)


def _swing(found: Findings, key: Key, box: Hitbox) -> None:
    swing = box.swing
    if swing is None:
        return
    for end in ("to", "size"):
        if getattr(box, end) is not None:
            allowed = f"what swings lies from inner to reach from its place `from`; leave `{end}` out"
            found.report((*key, end), f"a swing and `{end}`", allowed)
    if swing.inner > swing.reach:
        found.report((*key, "swing", "inner"), f"{swing.inner:g}", f"allowed: 0 up to its reach, {swing.reach:g}")
    if swing.from_deg == swing.to_deg:
        allowed = "it begins there: what does not turn needs no swing"
        found.report((*key, "swing", "to_deg"), f"{swing.to_deg:g}", allowed)


def check_push(found: Findings, holder: Key, push: Push | None, *, travels: bool) -> None:
    """All that must fit within the push of an attack, a hitbox or a hazard; `travels` says whether it flies."""
    if push is None:
        return
    key: Key = (*holder, "push")
    speeds = [name for name in ("speed", "per_point") if getattr(push, name)]
    if bool(speeds) == (push.distance is not None):
        seen = f"{' and '.join(speeds)} and a distance" if speeds else "neither a speed nor a distance"
        found.report(key, seen, "give speed (and per_point), or the distance it goes, and the rest follows")
    arcs = [name for name in ("apex", "seconds") if getattr(push, name) is not None]
    for name in arcs:
        if push.distance is None:
            found.report((*key, name), f"{name} without a distance", "it says how the way there is: give a distance")
    if len(arcs) > 1:
        found.report((*key, "seconds"), "an apex and seconds", "one follows from the other; give one of them")
    if push.distance is not None and push.lift_deg:
        found.report((*key, "lift_deg"), "a lift and a distance", "the lift follows from apex or seconds; leave it out")
    _heading(found, key, push, travels=travels)
    for arena, each in found.book.arenas.items():
        if arcs and each.space != "top" and each.gravity == 0.0:
            allowed = f"arena {arena} has no gravity: nothing comes down there; give the distance alone"
            found.report((*key, arcs[0]), _written(push, arcs[0]), allowed)


def _written(push: Push, arc: str) -> str:
    return f"{push.apex:g}" if arc == "apex" or push.seconds is None else str(push.seconds.written())


def _heading(found: Findings, key: Key, push: Push, *, travels: bool) -> None:
    if push.heading == "travel" and not travels:
        allowed = 'only shots and rays travel; allowed here: "away", "towards", "facing", "radial", "fixed"'
        found.report((*key, "heading"), '"travel"', allowed)
    if push.distance is not None and push.heading in ("travel", "radial", "fixed"):
        allowed = 'a distance is along the ground: "away", "towards" or "facing"'
        found.report((*key, "heading"), f'"{push.heading}" and a distance', allowed)
    if (push.heading == "fixed") is (push.direction is None):
        where, seen = ("direction", "missing") if push.direction is None else ("heading", f'"{push.heading}"')
        found.report((*key, where), seen, 'a heading "fixed" goes with a direction, such as [1, 0]')
    if push.direction is not None:
        _direction(found, key, push, push.direction)


def _direction(found: Findings, key: Key, push: Push, direction: Sequence[float]) -> None:
    if not any(direction):
        found.report((*key, "direction"), "no direction", "give a number other than 0")
    if push.lift_deg:
        found.report((*key, "lift_deg"), "a lift and a direction", "the direction says how it rises; leave it out")
    for arena, each in found.book.arenas.items():
        if len(direction) != (3 if each.space == "3d" else 2):
            seen = f"{len(direction)} numbers"
            found.report((*key, "direction"), seen, f"arena {arena} is seen in another space: leave out or add one")
