"""Phase 7: what the wounds lead to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout import (
    afflictions,
    areas,
    attacks,
    bodies,
    conditions,
    credit,
    endings,
    freezes,
    limps,
    pushes,
    reactions,
    scores,
)
from emberwound.bout.block import (
    BODY_OVER,
    DUE_BURST,
    DUE_REMOVE,
    DUE_RESPAWN,
    LAY,
    SEAT_BODY,
    SEAT_CHAIN,
    SEAT_DIED,
    SEAT_HOLD,
    SEAT_KEPT,
    SEAT_LIFE,
    SEAT_LIVES,
    SEAT_TOLD,
    TICK,
)
from emberwound.bout.presses import forget_kept, hurry_kept, press_name, refuse_for_the_dead
from emberwound.geometry.pose import FRAME_END, FRAME_OWNER
from emberwound.vocabulary.events import Died, LifeLost
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.world import Slain, World


def aftermath(world: World) -> None:
    """What wounds broke off, reactions, then deaths in the order of their lethal wounds.

    At a death what the body did breaks off, it falls, the seat's wait begins. Then hit stop, and the pushes of all
    blows; at the end who is out, and what comes of that.
    """
    if world.broken:
        _break_off_all(world)
    if world.hits:
        reactions.settle(world)
    fallen: list[Died] = []
    if world.slain:
        fallen = [_die(world, slain) for slain in world.slain.values()]
        world.slain.clear()
        if world.plan.counters:
            scores.settle(world, fallen)
    world.hits.clear()
    if world.reached:
        areas.settle(world)
    if world.freezes:
        freezes.settle(world)
    if world.shoves:
        pushes.settle(world)
    if fallen:
        endings.settle(world, [died for died in fallen if died.lives_left == 0])


def _break_off_all(world: World) -> None:
    for row, (time, wound) in world.broken.items():
        if row not in world.slain:
            _break_off(world, row, time, wound)
    world.broken.clear()


def _break_off(world: World, row: int, time: float, wound: int) -> None:
    attacks.break_off(world, row, Reason.WOUNDED, time, wound)
    hurry_kept(world, int(world.block.body_marks[FRAME_OWNER, row]) - 1)


def _die(world: World, slain: Slain) -> Died:
    block, row = world.block, slain.row
    after = world.counts[TICK] + 1
    seat = int(block.body_marks[FRAME_OWNER, row]) - 1
    fighter = world.fighter_of_seat(seat)
    if conditions.lives_of(world, seat) is not None:
        block.seat_marks[SEAT_LIVES, seat] -= 1
    lives, life = conditions.lives_of(world, seat), int(block.seat_marks[SEAT_LIFE, seat])
    again = lives is None or lives > 0
    if again:
        block.timers[DUE_RESPAWN][seat] = after + fighter.respawn_ticks
        world.wake(after + fighter.respawn_ticks)
    reaction, variant = reactions.dying(world, row) if fighter.reactions else (None, None)
    hurters = credit.lately(world, row, slain.time)
    died = world.emit(
        Died,
        time=slain.time,
        seat=world.names[seat],
        by=slain.by,
        cause=slain.wound,
        attack=slain.attack,
        hurtbox=slain.hurtbox,
        position=world.point(block.bodies[FRAME_END : FRAME_END + 3, row]),
        overkill=slain.overkill,
        life=life,
        lives_left=lives,
        returns_tick=after + fighter.respawn_ticks if again else None,
        credit=hurters[0] if hurters else None,
        helped=tuple(hurters[1:]),
        side=slain.side,
        reaction=reaction,
        variant=variant,
    )
    told: Died = world.events[-1]  # type: ignore[assignment]
    attacks.break_off(world, row, Reason.OWNER_DIED, slain.time, died)
    kept = int(block.seat_marks[SEAT_KEPT, seat]) - 1
    if kept >= 0:
        forget_kept(world, seat)
        refuse_for_the_dead(world, seat, press_name(world, seat, kept), slain.time)
    older = conditions.corpse_of(world, seat)
    if older is not None:
        attacks.abandon(world, older, Reason.NEWER_CORPSE)
        bodies.remove(world, older, Reason.NEWER_CORPSE)
    afflictions.end_all(world, row, Reason.VICTIM_DIED, slain.time)
    bodies.fall(world, row, died)
    if fighter.limp:
        limps.start(world, row, fighter.limp)
    block.seat_marks[SEAT_DIED, seat] = died
    for mark in (SEAT_HOLD, SEAT_CHAIN, SEAT_TOLD):
        block.seat_marks[mark, seat] = 0
    if fighter.death_blast >= 0:
        block.timers[DUE_BURST][row] = after
        world.wake(after)
    gone = max(after + fighter.corpse_ticks, int(block.body_marks[BODY_OVER, row]))
    block.timers[DUE_REMOVE][row] = gone
    world.wake(gone)
    scores.end_life(world, seat)
    block.seat_marks[SEAT_BODY, seat] = 0
    world.counts[LAY] = 2
    world.emit(LifeLost, time=slain.time, seat=told.seat, by=told.credit, cause=died, life=life, lives_left=lives)
    return told
