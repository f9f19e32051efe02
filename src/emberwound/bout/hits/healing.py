"""Healing: it waits until all wounds of the tick are judged, and may raise the dead."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.hits import afflictions, victims
from emberwound.bout.hits.damage import Struck, resolved
from emberwound.bout.state.layout import Count, SeatMark, Timer, mark_of
from emberwound.combat.terms import Circumstance
from emberwound.geometry.layout import BodyMark
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import Healed

if TYPE_CHECKING:
    from emberwound.bout.state.pending import Hit
    from emberwound.bout.state.world import World


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
                shot=hit.number,
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
