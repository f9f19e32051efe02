"""What a hit does in a running bout: gathered, resolved by `combat.hit`, emitted and followed up; and healing."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.bodies import pools
from emberwound.bout.hits import afflictions, grabs, knockback, reactions, victims
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of
from emberwound.bout.state.pending import HitLocation, LethalHit
from emberwound.combat.hit import resolve
from emberwound.combat.reaction import side_of
from emberwound.combat.terms import Circumstance
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.vocabulary.clock import CLOSE, NEVER, exact_ticks
from emberwound.vocabulary.events import WHOLE_BODY, Healed, PropStruck, Wounded

if TYPE_CHECKING:
    from emberwound.bout.hits.victims import Victim
    from emberwound.bout.state.pending import Contact, Hit
    from emberwound.bout.state.world import World
    from emberwound.combat.hit import GuardStance, HitResult, Stagger
    from emberwound.combat.reaction import Side
    from emberwound.combat.terms import HurtboxTerms
    from emberwound.plan.fighter_plans import FighterPlan


class Struck(NamedTuple):
    """A hit as it meets a body, and all that its outcome depends on.

    What hits, where, and whom; by which hurtbox's terms and in which circumstance; how the victim's guard stands, and
    what it holds against reacting, where either counts.
    """

    hit: Hit
    where: HitLocation
    victim: Victim
    hurtbox: HurtboxTerms
    how: Circumstance
    stance: GuardStance | None = None
    stagger: Stagger | None = None

    @property
    def name(self) -> str:
        """The hurtbox as events name it."""
        hit = self.hit
        return WHOLE_BODY if hit.lingers or hit.throws else self.victim.fighter.hurtboxes[self.where.part].name


def land(world: World, hit: Hit, contact: Contact) -> tuple[int | None, str, str]:
    """Let a hit take effect on the body it touched; the event it ends in, the seat, the hurtbox.

    Healing waits until all wounds of the tick are judged; it then ends in the event of its release.
    """
    body, part = divmod(contact.shape, world.plan.most_hurtboxes)
    victim = victims.of(world, body)
    hurtbox = victim.fighter.hurtboxes[part].name
    where = HitLocation(body, part, contact.position, contact.time)
    if hit.plan.wound.heals and not victim.fighter.is_prop:
        world.healing.append((hit, where))
        return hit.cause, victim.seat, hurtbox
    return _carry_out(world, hit, where, victim), victim.seat, hurtbox


def apply(world: World, hit: Hit, where: HitLocation) -> int | None:
    """Let a hit do to a body what it does; the event it ends in."""
    return _carry_out(world, hit, where, victims.of(world, where.body))


def _carry_out(world: World, hit: Hit, where: HitLocation, victim: Victim) -> int | None:
    """One hit from its touch to its end: gathered, resolved, emitted, and followed by what it brings with it."""
    struck = _gather(world, hit, where, victim)
    result = resolved(world, struck)
    cause, emptied = _emit(world, struck, result)
    if cause is not None:
        _follow(world, struck, result, cause, emptied)
    return cause


def _gather(world: World, hit: Hit, where: HitLocation, victim: Victim) -> Struck:
    """What the outcome of a hit depends on. A prop knows no guard, no credit and no marks."""
    fighter = victim.fighter
    if fighter.is_prop:
        how = Circumstance(hit.name, fighter.name, hit.distance, hit.charge)
        return Struck(hit, where, victim, fighter.hurtboxes[where.part], how)
    victims.note_hit(world, victim, hit, where.time)
    asks_guard = victim.stats.guard and not (hit.fatal or hit.lingers or hit.throws)
    resists = fighter.stagger_resistance and not hit.lingers
    return Struck(
        hit,
        where,
        victim,
        _hurtbox_hit(hit, where, fighter),
        _circumstance(world, hit, where, fighter),
        reactions.guard_stance(world, hit, where) if asks_guard else None,
        reactions.stagger(world, where.body, fighter) if resists else None,
    )


def resolved(world: World, struck: Struck) -> HitResult:
    """What a hit comes to; the same hit in the same circumstance is worked out once in a tick."""
    hit, _, victim, hurtbox, how, stance, stagger = struck
    wound, stats, before = hit.plan.wound, victim.stats, victim.values
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


def _emit(world: World, struck: Struck, result: HitResult) -> tuple[int | None, list[str]]:
    """Let the pools lose what a hit takes, and emit guard and wound; the last event, and the pools that it emptied.

    There is no event where a guard lets nothing of an affliction's wound pass.
    """
    hit, where, victim = struck.hit, struck.where, struck.victim
    if victim.fighter.is_prop:
        return _emit_prop(world, struck), []
    cause, emptied = hit.cause, []
    if result.guard is not None:
        cause = reactions.emit_guarded(world, hit, where, victim.fighter, result.guard)
        reactions.note_parry(world, hit, where, result.guard, cause)
        emptied += victim.spend(world, result.held)
    emptied += victim.spend(world, result.values)
    if result.guard is not None and result.amount == 0.0:
        return cause, emptied
    stats = victim.stats
    wounded = Wounded(
        time=where.time,
        seat=victim.seat,
        by=world.name_of(hit.by),
        cause=cause,
        attack=hit.name,
        kind=hit.plan.wound.kind,
        shot=hit.shot,
        hitbox=hit.hitbox,
        hurtbox=struck.name,
        position=world.point(where.position),
        amount=result.amount,
        ledger=result.ledger,
        vital_left=result.values[stats.vital],
        vital_max=stats.pools[stats.vital].maximum,
    )
    return world.emit(wounded), emptied


def _emit_prop(world: World, struck: Struck) -> int:
    """A prop loses no points; it is pushed as strongly as if it had."""
    hit, where = struck.hit, struck.where
    return world.emit(
        PropStruck(
            time=where.time,
            seat=struck.victim.seat,
            by=world.name_of(hit.by),
            cause=hit.cause,
            attack=hit.name,
            shot=hit.shot,
            hitbox=hit.hitbox,
            hurtbox=struck.hurtbox.name,
            position=world.point(where.position),
        )
    )


def _follow(world: World, struck: Struck, result: HitResult, cause: int, emptied: list[str]) -> None:
    """What a hit brings with it: hit stop, push and reaction, interruption, afflictions, a hold, a death."""
    hit, where, victim, plan = struck.hit, struck.where, struck.victim, struck.hit.plan
    if not hit.lingers:
        _shake(world, struck, result, cause)
    if victim.fighter.is_prop:
        return
    if emptied:
        pools.emit_emptied(world, victim.seat, emptied, cause, where.time)
    if result.amount > 0.0:
        _may_interrupt(world, victim, plan.wound.kind, where.time, cause)
    if plan.afflicts and not result.kills and _afflicts(hit, result):
        afflictions.afflict(world, hit, where, cause)
    if plan.grabs:
        grabs.note(world, hit, where, result, cause)
    if result.kills:
        _note_lethal(world, struck, cause).overkill += result.ledger.overkill


def _shake(world: World, struck: Struck, result: HitResult, cause: int) -> None:
    """Note a hit's hit stop, its push, and what the victim may react to; an affliction's wound has none of them."""
    hit, where, fighter = struck.hit, struck.where, struck.victim.fighter
    if hit.plan.stop_ticks:
        _stop(world, hit, where.body, cause)
    speed = 0.0
    if hit.plan.pushes:
        speed = knockback.gather(world, hit, where, fighter, result.amount, result.push_share, cause)
    if fighter.reactions:
        reactions.note(world, hit, where, fighter, (result.amount, speed, cause), result)


def _may_interrupt(world: World, victim: Victim, kind: str, time: float, cause: int) -> None:
    """Note that a wound of this kind interrupts what a body is doing, if it does; the first one of a tick counts."""
    if victim.attack is not None and kind in victim.attack.table.interrupted_by:
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


def _circumstance(world: World, hit: Hit, where: HitLocation, fighter: FighterPlan) -> Circumstance:
    plan, count = world.plan, None
    if plan.combo_ticks and hit.by >= 0 and not hit.lingers:
        count = _combo_count(world, hit.by, where.body, where.time)
    marked = afflictions.marked(world, where.body) if plan.afflictions else 1.0
    distance = hit.distance if hit.plan.wound.falloff or plan.wound_rules.steps else 0.0
    asks_dealt = world.deals_otherwise and hit.by >= 0 and not hit.hosted
    dealt = pools.damage_dealt(world, hit.by) if asks_dealt else ()
    return Circumstance(hit.name, fighter.name, distance, hit.charge, count, marked, dealt=dealt)


def _stop(world: World, hit: Hit, victim: int, cause: int) -> None:
    """Note that a hit stops its victim, and who strikes it, for a while; the longest of a tick counts."""
    for body in (victim, hit.striker) if hit.striker >= 0 else (victim,):
        if hit.plan.stop_ticks > world.hit_stops.get(body, (0, 0))[0]:
            world.hit_stops[body] = (hit.plan.stop_ticks, cause)


def _note_lethal(world: World, struck: Struck, cause: int) -> LethalHit:
    """Note that a hit was the last of a body, unless an earlier one was."""
    hit, where = struck.hit, struck.where
    if where.body not in world.lethal_hits:
        side = None if hit.lingers else _side(world, hit, where)
        world.lethal_hits[where.body] = LethalHit(
            where.body, cause, where.time, world.name_of(hit.by), hit.name, struck.name, side
        )
    return world.lethal_hits[where.body]


def _side(world: World, hit: Hit, where: HitLocation) -> Side:
    """The side of its victim that a hit comes from."""
    heading = world.block.bodies[BodyColumn.AHEAD : BodyColumn.AHEAD + 2, where.body].tolist()
    space = world.plan.space
    towards = reactions.towards_source(world, hit, where)
    return side_of(heading, towards, looks_around=space.looks_around, has_heights=space.has_heights)


def _combo_count(world: World, by: int, body: int, time: float) -> int:
    """How many wounds of this seat on this body came less than the book's time apart before this one."""
    block, plan = world.block, world.plan
    tick = exact_ticks(time, plan.tick_rate)
    last, counted = block.combos.get(by, body)
    count = int(counted) if tick - last < plan.combo_ticks - CLOSE else 0
    block.combos.put(by, body, tick, count + 1)
    return count


def heal_all(world: World) -> None:
    """Heal what the healing hits of this tick heal, after all its wounds; they undo no death of this tick."""
    for hit, where in world.healing:
        victim = victims.of(world, where.body)
        fighter, stats, before = victim.fighter, victim.stats, victim.values
        hurtbox = fighter.whole_body if hit.lingers else fighter.hurtboxes[where.part]
        how = Circumstance(hit.name, fighter.name, hit.distance, hit.charge)
        result = resolved(world, Struck(hit, where, victim, hurtbox, how))
        after = before if where.body in world.lethal_hits else result.values
        victim.spend(world, after)
        afflictions.cure(world, where.body, hit.plan.wound.kind, where.time)
        healed = world.emit(
            Healed(
                time=where.time,
                seat=victim.seat,
                by=world.name_of(hit.by),
                cause=hit.cause,
                attack=hit.name,
                kind=hit.plan.wound.kind,
                shot=hit.shot,
                hitbox=hit.hitbox,
                hurtbox=hurtbox.name,
                position=world.point(where.position),
                amount=sum(new - old for old, new in zip(before, after, strict=True)),
                ledger=result.ledger,
                vital_left=after[stats.vital],
                vital_max=stats.pools[stats.vital].maximum,
            )
        )
        if before[stats.vital] == 0.0 and after[stats.vital] > 0.0:
            note_revived(world, where.body, hit, healed)
    world.healing.clear()


def note_revived(world: World, body: int, hit: Hit, healed: int) -> None:
    """Let the seat of a corpse that can be revived respawn with the coming tick; the first who revives it counts.

    `healed` is the event of the healing.
    """
    block = world.block
    if not block.body_marks[BodyMark.REVIVABLE, body]:
        return
    seat, soon = world.seat_of(body), world.counts[Count.TICK] + 1
    if not block.seat_marks[SeatMark.REVIVED_SEQ, seat]:
        block.seat_marks[SeatMark.REVIVED_SEQ, seat] = mark_of(healed)
        block.seat_marks[SeatMark.REVIVED_BY, seat] = mark_of(hit.by)
    block.timers[Timer.RESPAWN][seat] = soon
    block.timers[Timer.CORPSE_GONE][body] = NEVER
    world.wake(soon)
