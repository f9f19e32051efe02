"""Dying: what a lethal hit ends, and what it leaves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import timeline
from emberwound.bout.bodies import movement, pools, ragdoll
from emberwound.bout.hits import afflictions, grabs, kill_credit, reactions
from emberwound.bout.lives import counters
from emberwound.bout.orders.input_buffer import forget_buffered, press_name, refuse_for_the_dead
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, Timer, number_of
from emberwound.geometry.layout import BodyColumn, BodyMark
from emberwound.vocabulary.events import Died, LifeLost
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.pending import LethalHit
    from emberwound.bout.state.world import World


def die(world: World, lethal: LethalHit) -> Died:
    """Let a body die of its lethal hit: its action ends, it falls, and its seat waits for the next life."""
    block, body = world.block, lethal.body
    after = world.counts[Count.TICK] + 1
    seat = world.seat_of(body)
    fighter = world.fighter_of_seat(seat)
    if queries.lives_of(world, seat) is not None:
        block.seat_marks[SeatMark.LIVES, seat] -= 1
    lives, life = queries.lives_of(world, seat), int(block.seat_marks[SeatMark.LIFE, seat])
    again = lives is None or lives > 0
    if again:
        block.timers[Timer.RESPAWN][seat] = after + fighter.respawn_ticks
        world.wake(after + fighter.respawn_ticks)
    row = reactions.dying(world, body) if fighter.reactions else None
    terms = fighter.reactions[row[0]] if row else None
    kill_credit.note_holder(world, body, lethal.time)
    hurters = kill_credit.lately(world, body, lethal.time)
    died = world.emit(
        Died(
            time=lethal.time,
            seat=world.names[seat],
            by=lethal.by,
            cause=lethal.wound,
            attack=lethal.attack,
            hurtbox=lethal.hurtbox,
            position=world.point(block.bodies[BodyColumn.END : BodyColumn.END + 3, body]),
            overkill=lethal.overkill,
            life=life,
            lives_left=lives,
            respawn_tick=after + fighter.respawn_ticks if again else None,
            credit=hurters[0] if hurters else None,
            helped=tuple(hurters[1:]),
            side=lethal.side,
            reaction=terms.name if terms else None,
            variant=terms.variants[row[1]] if terms and row else None,
        )
    )
    told: Died = world.events[-1]  # type: ignore[assignment]
    timeline.interrupt(world, body, Reason.OWNER_DIED, lethal.time, died)
    grabs.end_of(world, body, Reason.VICTIM_DIED, Reason.OWNER_DIED, lethal.time)
    kept = number_of(int(block.seat_marks[SeatMark.BUFFERED_PRESS, seat]))
    if kept >= 0:
        forget_buffered(world, seat)
        refuse_for_the_dead(world, seat, press_name(world, seat, kept), lethal.time)
    older = queries.corpse_of(world, seat)
    if older is not None:
        timeline.abandon(world, older, Reason.NEWER_CORPSE, lethal.time)
        movement.remove(world, older, Reason.NEWER_CORPSE, lethal.time)
    afflictions.end_all(world, body, Reason.VICTIM_DIED, lethal.time)
    pools.stop_refilling(world, body)
    movement.fall(world, body, died)
    if row:
        reactions.run_on(world, body, *row)
    if fighter.ragdoll:
        ragdoll.start(world, body, fighter.ragdoll)
    block.body_marks[BodyMark.REVIVABLE, body] = again and world.plan.revives
    block.seat_marks[SeatMark.DEATH_SEQ, seat] = died
    for mark in (SeatMark.HELD, SeatMark.REPEATS, SeatMark.TOLD_REASON):
        block.seat_marks[mark, seat] = 0
    if fighter.death_blast >= 0:
        block.timers[Timer.DEATH_BLAST][body] = after
        world.wake(after)
    gone = max(after + fighter.corpse_ticks, int(block.body_marks[BodyMark.STRIKE_OVER, body]))
    block.timers[Timer.CORPSE_GONE][body] = gone
    world.wake(gone)
    counters.end_life(world, seat)
    block.seat_marks[SeatMark.BODY, seat] = 0
    world.counts[Count.DIRTY_POSE_TICKS] = 2
    world.emit(LifeLost(time=lethal.time, seat=told.seat, by=told.credit, cause=died, life=life, lives_left=lives))
    return told
