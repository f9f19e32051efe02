"""What a hit does in a running bout: what `combat.hit` makes of it, written into the block and told."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from emberwound.bout.bodies import pools, stages
from emberwound.bout.hits import afflictions, grabs, guard, kill_credit, knockback, reactions, victims
from emberwound.bout.state.pending import HitLocation, LethalHit
from emberwound.combat.hit import HitResult, explained, resolve
from emberwound.combat.reaction import side_of
from emberwound.combat.terms import Circumstance
from emberwound.combat.wound import after_guard, before_guard, spend
from emberwound.geometry.layout import BodyColumn
from emberwound.vocabulary.clock import CLOSE, exact_ticks
from emberwound.vocabulary.events import WHOLE_BODY, PropStruck, Wounded
from emberwound.vocabulary.ledger import ledger_on_demand

if TYPE_CHECKING:
    from collections.abc import Sequence

    from emberwound.bout.hits.victims import Victim
    from emberwound.bout.state.pending import Contact, Hit
    from emberwound.bout.state.world import World
    from emberwound.combat.hit import GuardStance, Stagger
    from emberwound.combat.reaction import Side
    from emberwound.combat.terms import BodyStats, HurtboxTerms
    from emberwound.plan.attack_plans import HitPlan
    from emberwound.plan.fighter_plans import FighterPlan
    from emberwound.vocabulary.ledger import Ledger


def land(world: World, hit: Hit, contact: Contact) -> tuple[int | None, str, str]:
    """Let a hit take effect on the body it touched; the event it ends in, the seat, the hurtbox.

    Healing waits until all wounds of the tick are judged; it then ends in the event of its release.
    """
    body, part = divmod(contact.shape, world.plan.most_hurtboxes)
    victim = victims.of(world, body)
    hurtbox = victim.fighter.hurtboxes[part].name
    where = HitLocation(body, part, contact.position, contact.time)
    if victim.is_plain and hit.plan.is_plain and world.has_plain_wounds and not hit.fatal:
        return _wound_plainly(world, hit, where, victim), victim.seat, hurtbox
    if hit.plan.wound.heals and not victim.fighter.is_prop:
        world.healing.append((hit, where))
        return hit.cause, victim.seat, hurtbox
    return apply(world, hit, where), victim.seat, hurtbox


def apply(world: World, hit: Hit, where: HitLocation) -> int | None:
    """Let a hit do to a body what it does; the event it ends in."""
    victim = victims.of(world, where.body)
    return (_strike_prop if victim.fighter.is_prop else _wound)(world, hit, where, victim)


def _strike_prop(world: World, hit: Hit, where: HitLocation, victim: Victim) -> int:
    """A prop loses no points; it is pushed as strongly as if it had."""
    fighter = victim.fighter
    hurtbox = fighter.hurtboxes[where.part]
    how = Circumstance(hit.name, fighter.name, hit.distance, hit.charge)
    result = resolved(world, hit, hurtbox, fighter.stats, [], how)
    cause = world.emit(
        PropStruck(
            time=where.time,
            seat=victim.seat,
            by=world.name_of(hit.by),
            cause=hit.cause,
            attack=hit.name,
            shot=hit.number,
            hitbox=hit.hitbox,
            hurtbox=hurtbox.name,
            position=world.point(where.position),
        )
    )
    follow(world, hit, where, fighter, result, cause)
    return cause


def _wound(world: World, hit: Hit, where: HitLocation, victim: Victim) -> int | None:
    """Guard, wound and pools, told in that order; then all that follows from them."""
    fighter, stats, plan, time = victim.fighter, victim.stats, hit.plan, where.time
    how = _circumstance(world, hit, where, fighter)
    kill_credit.note_hit(world, victim, hit, time)
    stance = guard.stance(world, hit, where) if stats.guard and not (hit.fatal or hit.lingers or hit.throws) else None
    resists = fighter.stagger_resistance and not hit.lingers
    stagger = reactions.stagger(world, where.body, fighter) if resists else None
    hurtbox = _hurtbox_hit(hit, where, fighter)
    result = resolved(world, hit, hurtbox, stats, victim.values, how, stance, stagger)
    cause, emptied = hit.cause, []
    if result.guard is not None:
        cause = guard.tell(world, hit, where, fighter, result.guard)
        reactions.note_parry(world, hit, where, result.guard, cause)
        emptied += victim.spend(world, result.held)
    emptied += victim.spend(world, result.values)
    amount = result.amount
    if result.guard is None or amount > 0.0:
        cause = world.emit(
            Wounded(
                time=time,
                seat=victim.seat,
                by=world.name_of(hit.by),
                cause=cause,
                attack=hit.name,
                kind=plan.wound.kind,
                shot=hit.number,
                hitbox=hit.hitbox,
                hurtbox=_hurtbox_name(hit, where, fighter),
                position=world.point(where.position),
                amount=amount,
                ledger=result.ledger,
                vital_left=result.values[stats.vital],
                vital_max=stats.pools[stats.vital].maximum,
            )
        )
    if cause is None:
        return None
    if not hit.lingers and (plan.pushes or fighter.reactions or plan.stop_ticks):
        follow(world, hit, where, fighter, result, cause)
    if emptied:
        pools.tell_emptied(world, victim.seat, emptied, cause, time)
    if amount > 0.0:
        _may_interrupt(world, victim, plan.wound.kind, time, cause)
    if plan.afflicts and not result.kills and _afflicts(hit, result):
        afflictions.afflict(world, hit, where, cause)
    if plan.grabs:
        grabs.note(world, hit, where, result, cause)
    if result.kills:
        note_lethal(world, hit, where, fighter, cause).overkill += result.ledger.overkill
    return cause


def _wound_plainly(world: World, hit: Hit, where: HitLocation, victim: Victim) -> int:
    """As `_wound`, of a hit that but takes points and pushes, on a body that has only pools."""
    stats, plan, time = victim.stats, hit.plan, where.time
    kill_credit.note_hit(world, victim, hit, time)
    points, hurtbox, how = _points(world, hit, where, victim)
    values = victim.values
    spent = spend(points, hurtbox, stats, values)
    emptied = victim.spend(world, spent.values)
    why = partial(explained, plan.wound, hurtbox, stats, values, world.plan.wound_rules, how)
    vital = spent.values[stats.vital]
    cause = world.emit(
        Wounded(
            time=time,
            seat=victim.seat,
            by=world.names[hit.by] if hit.by >= 0 else None,
            cause=hit.cause,
            attack=hit.name,
            kind=plan.wound.kind,
            shot=hit.number,
            hitbox=hit.hitbox,
            hurtbox=victim.fighter.hurtboxes[where.part].name,
            position=world.point(where.position),
            amount=spent.amount,
            ledger=ledger_on_demand(spent.amount, spent.overkill, spent.lost, why),
            vital_left=vital,
            vital_max=stats.pools[stats.vital].maximum,
        )
    )
    if plan.stop_ticks:
        _stop(world, hit, where.body, cause)
    if plan.pushes:
        share = hurtbox.push_share * hit.strength
        knockback.gather(world, hit, where, victim.fighter, spent.amount, share, cause)
    if emptied:
        pools.tell_emptied(world, victim.seat, emptied, cause, time)
    if spent.amount > 0.0:
        _may_interrupt(world, victim, plan.wound.kind, time, cause)
    if vital == 0.0:
        note_lethal(world, hit, where, victim.fighter, cause).overkill += spent.overkill
    return cause


def plain_points(
    world: World, plan: HitPlan, name: str, fighter: FighterPlan, part: int, *, by_area: bool = False
) -> tuple[float, HurtboxTerms, Circumstance]:
    """The points of a plain wound that reach the pools, by which hurtbox's terms, and the circumstance.

    For wounds that no distance and no charge changes: they are worked out once in a bout.
    """
    found = world.plain_points.get((id(plan), fighter.id, part, by_area))
    if found is None:
        hurtbox = (fighter.area_hurtboxes if by_area else fighter.hurtboxes)[part]
        how, rules = Circumstance(name, fighter.name), world.plan.wound_rules
        points = before_guard(plan.wound, hurtbox, fighter.stats, rules, how)
        found = (after_guard(points, plan.wound, hurtbox, fighter.stats, rules, how), hurtbox, how)
        world.plain_points[id(plan), fighter.id, part, by_area] = found
    return found


def _points(world: World, hit: Hit, where: HitLocation, victim: Victim) -> tuple[float, HurtboxTerms, Circumstance]:
    plan, fighter = hit.plan, victim.fighter
    if plan.wound.falloff is None and hit.charge is None:
        return plain_points(world, plan, hit.name, fighter, where.part, by_area=hit.by < 0)
    hurtbox, rules = _hurtbox_hit(hit, where, fighter), world.plan.wound_rules
    how = Circumstance(hit.name, fighter.name, hit.distance if plan.wound.falloff else 0.0, hit.charge)
    points = before_guard(plan.wound, hurtbox, victim.stats, rules, how)
    return after_guard(points, plan.wound, hurtbox, victim.stats, rules, how), hurtbox, how


def _may_interrupt(world: World, victim: Victim, kind: str, time: float, cause: int) -> None:
    """Note that a wound of this kind interrupts what a body is doing, if it does; the first one of a tick counts."""
    if victim.attack is not None and kind in victim.attack.interrupted_by:
        world.interrupted.setdefault(victim.body, (time, cause))


def _afflicts(hit: Hit, result: HitResult) -> bool:
    """Whether a hit afflicts: one with damage by taking points, one without by passing the guard."""
    if hit.plan.wound.damage > 0.0:
        return result.amount > 0.0
    return result.guard is None or result.guard.share > 0.0


def _hurtbox_hit(hit: Hit, where: HitLocation, fighter: FighterPlan) -> HurtboxTerms:
    """The hurtbox by whose terms a hit counts: that touched, but for areas and afflictions the whole body."""
    if hit.lingers or hit.throws:
        return fighter.whole_body
    return fighter.hurtboxes[where.part] if hit.by >= 0 else fighter.area_hurtboxes[where.part]


def _hurtbox_name(hit: Hit, where: HitLocation, fighter: FighterPlan) -> str:
    return WHOLE_BODY if hit.lingers or hit.throws else fighter.hurtboxes[where.part].name


def _circumstance(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan) -> Circumstance:
    plan, count = world.plan, None
    if plan.combo_ticks and hit.by >= 0 and not hit.lingers:
        count = _combo_count(world, hit.by, where.body, where.time)
    marked = afflictions.marked(world, where.body) if plan.afflictions else 1.0
    distance = hit.distance if hit.plan.wound.falloff or plan.wound_rules.steps else 0.0
    dealt = stages.dealt(world, hit.by) if hit.by >= 0 and not hit.hosted else ()
    return Circumstance(hit.name, fighter.name, distance, hit.charge, count, marked, dealt=dealt)


def resolved(
    world: World,
    hit: Hit,
    hurtbox: HurtboxTerms,
    stats: BodyStats,
    before: Sequence[float],
    how: Circumstance,
    stance: GuardStance | None = None,
    stagger: Stagger | None = None,
) -> HitResult:
    """What a hit comes to; the same hit in the same circumstance is worked out once in a tick."""
    wound = hit.plan.wound
    key = (id(wound), id(hurtbox), id(stats), how, stance, stagger, hit.strength, hit.fatal, *before)
    found = world.resolved.get(key)
    if found is None:
        result = resolve(
            wound,
            hurtbox,
            stats,
            before,
            world.plan.wound_rules,
            how,
            guard=stance,
            stagger=stagger,
            strength=hit.strength,
            fatal=hit.fatal,
        )
        # The stats are kept beside the result: an id is that of one thing only for as long as the thing lives.
        found = world.resolved[key] = (result, stats)
    return found[0]


def follow(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, result: HitResult, cause: int) -> None:
    """What a hit does besides the wound: hit stop, its push, and what the victim may react to."""
    if hit.plan.stop_ticks:
        _stop(world, hit, where.body, cause)
    speed = 0.0
    if hit.plan.pushes:
        speed = knockback.gather(world, hit, where, fighter, result.amount, result.push_share, cause)
    if fighter.reactions:
        reactions.note(world, hit, where, fighter, (result.amount, speed, cause), result)


def follow_plainly(
    world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, wound: tuple[Ledger, float, float], cause: int
) -> None:
    """What follows from a wound dealt in columns: its ledger, and what the one pool held before and after."""
    ledger, before, after = wound
    if hit.plan.pushes or fighter.reactions or hit.plan.stop_ticks:
        share = fighter.hurtboxes[where.part].push_share * hit.strength
        kills = after == 0.0
        result = HitResult(ledger, None, [before], [after], share, staggers=True, stagger_left=None, kills=kills)
        follow(world, hit, where, fighter, result, cause)
    if after == 0.0:
        note_lethal(world, hit, where, fighter, cause).overkill += ledger.overkill


def _stop(world: World, hit: Hit, victim: int, cause: int) -> None:
    """Note that a hit stops its victim, and who strikes it, for a while; the longest of a tick counts."""
    for body in (victim, hit.striker) if hit.striker >= 0 else (victim,):
        if hit.plan.stop_ticks > world.hit_stops.get(body, (0, 0))[0]:
            world.hit_stops[body] = (hit.plan.stop_ticks, cause)


def note_lethal(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan, cause: int) -> LethalHit:
    """Note that a hit was the last of a body, unless an earlier one was."""
    if where.body not in world.lethal_hits:
        side = None if hit.lingers else _side(world, hit, where)
        hurtbox = _hurtbox_name(hit, where, fighter)
        world.lethal_hits[where.body] = LethalHit(
            where.body, cause, where.time, world.name_of(hit.by), hit.name, hurtbox, side
        )
    return world.lethal_hits[where.body]


def _side(world: World, hit: Hit, where: HitLocation) -> Side:
    """The side of its victim that a hit comes from."""
    heading = world.block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, where.body].tolist()
    space = world.plan.space
    towards = guard.towards_source(world, hit, where)
    return side_of(heading, towards, looks_around=space.looks_around, has_heights=space.has_heights)


def _combo_count(world: World, by: int, body: int, time: float) -> int:
    """How many wounds of this seat on this body came less than the book's time apart before this one."""
    block, plan = world.block, world.plan
    tick = exact_ticks(time, plan.tick_rate)
    last, counted = block.combos.get(by, body)
    count = int(counted) if tick - last < plan.combo_ticks - CLOSE else 0
    block.combos.put(by, body, tick, count + 1)
    return count
