"""Dying, leaving and being eliminated: what ends with a body, a seat and a bout."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.attacks import projectiles, timeline
from emberwound.bout.bodies import movement, pools, ragdoll
from emberwound.bout.hits import afflictions, grabs, reactions, victims
from emberwound.bout.lives import counters
from emberwound.bout.orders.input_buffer import forget_buffered, press_name, refuse_for_the_dead
from emberwound.bout.state import queries
from emberwound.bout.state.layout import AfflictionMark, Count, SeatColumn, SeatMark, Timer, index_of_mark, mark_of
from emberwound.geometry.layout import BodyColumn, BodyMark, Presence, ShotMark
from emberwound.vocabulary.clock import NEVER
from emberwound.vocabulary.events import BoutEnded, BoutRestarted, Died, Eliminated, LifeLost, SeatLeft
from emberwound.vocabulary.orders import Enter
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
    victims.note_holder(world, body, lethal.time)
    hurters = victims.hit_lately(world, body, lethal.time)
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
    kept = index_of_mark(int(block.seat_marks[SeatMark.BUFFERED_PRESS, seat]))
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


def leave_all(world: World) -> list[int]:
    """Take the seats that leave out of the bout, at the start of the tick, before anything else; who they were."""
    world.counts[Count.LEAVING] = 0
    seats: list[int] = world.block.seat_marks[SeatMark.LEAVING].nonzero()[0].tolist()
    for seat in seats:
        _leave(world, seat)
    return seats


def _leave(world: World, seat: int) -> None:
    block = world.block
    names = [counter.name for counter in world.plan.counters]
    left_with = dict(zip(names, counters.counted(world, seat), strict=True))
    for shot in (block.shot_marks[ShotMark.OWNER] == mark_of(seat)).nonzero()[0].tolist():
        projectiles.end(world, shot, Reason.OWNER_LEFT, projectiles.place_of(world, shot))
    projectiles.free_ended(world)
    for body in (block.body_marks[BodyMark.OWNER] == mark_of(seat)).nonzero()[0].tolist():
        timeline.abandon(world, body, Reason.OWNER_LEFT)
        grabs.end_of(world, body, Reason.OWNER_LEFT, Reason.OWNER_LEFT)
        afflictions.end_all(world, body, Reason.OWNER_LEFT, world.counts[Count.TICK] / world.plan.tick_rate)
        movement.remove(world, body, Reason.OWNER_LEFT)
    world.emit(SeatLeft(seat=world.names[seat], counters=left_with))
    _forget(world, seat)


def _forget(world: World, seat: int) -> None:
    """Take a seat out of all that remembers it; a team that nobody is of any more is free too."""
    block = world.block
    victims.forget_hits(world, seat)
    block.afflicted_marks[AfflictionMark.BY][block.afflicted_marks[AfflictionMark.BY] == mark_of(seat)] = 0
    block.seat_marks[SeatMark.REVIVED_BY][block.seat_marks[SeatMark.REVIVED_BY] == mark_of(seat)] = 0
    block.combos.forget(seat)
    block.swing_touches.forget_other(seat)
    block.again[:, seat] = 0.0
    team = int(block.seat_marks[SeatMark.TEAM, seat])
    for view in (
        block.seats,
        block.seat_pools,
        block.seat_marks,
        block.counters,
        block.variant_turns,
        block.spread_draws,
    ):
        view[:, seat] = 0
    for timer in block.timers[Timer.ENTER :]:
        timer[seat] = NEVER
    world.names.free(seat)
    if (
        0 < team <= len(world.teams)
        and not (block.seat_marks[SeatMark.TEAM, : world.counts[Count.SEATS]] == team).any()
    ):
        world.teams[team - 1] = ""


KEPT = (SeatMark.FIGHTER, SeatMark.TEAM, SeatMark.LIFE, SeatMark.LIVES_AT_ENTRY, SeatMark.ID)
"""What a seat keeps when a bout restarts."""


def eliminate(world: World, last: list[Died]) -> None:
    """Tell who is out by the last deaths of this tick, and note when a bout that this decides ends or restarts."""
    if not last:
        return
    marks, plan = world.block.seat_marks, world.plan
    for died in last:
        if died.seat is None:
            continue
        marks[SeatMark.ELIMINATED, world.names.index_of(died.seat)] = 1
        fields = {
            "seat": died.seat,
            "by": died.credit or f"the {died.attack}",
            "attack": died.attack,
            "arena": plan.arena,
            "life": died.life,
        }
        message = plan.elimination_message.format_map(fields)
        world.emit(Eliminated(time=died.time, seat=died.seat, by=died.credit, cause=died.seq, message=message))
    if plan.on_elimination != "go_on":
        decide(world)


def decide(world: World) -> None:
    """Note when the bout ends or restarts, if somebody is out and that decides it."""
    if not world.counts[Count.SETTLED_ON] and world.block.seat_marks[SeatMark.ELIMINATED].any() and _is_decided(world):
        world.counts[Count.SETTLED_ON] = world.counts[Count.TICK] + 1 + world.plan.elimination_ticks


def settle_bout(world: World) -> None:
    """End or restart the bout at the end of this tick, as its arena says; the winner is who then stands."""
    if world.plan.on_elimination == "restart":
        _restart(world)
        return
    standing = _teams(world, standing=True)
    world.emit(
        BoutEnded(
            time=(world.counts[Count.TICK] + 1) / world.plan.tick_rate,
            winner=_name(world, int(standing.pop())) if len(standing) == 1 else None,
            draw=not _teams(world, standing=True),
        )
    )
    world.counts[Count.OVER] = 1


def _is_decided(world: World) -> bool:
    plan, everybody = world.plan, _teams(world, standing=False)
    coming = _coming(world) if plan.awaits_late_seats else set()
    standing = _teams(world, standing=True) | coming
    if plan.on_elimination == "last_team":
        return len(everybody | coming) > 1 and len(standing) <= 1
    if plan.elimination_team is None:
        return not coming
    index = _team_called(world, plan.elimination_team)
    return index in everybody and index not in standing


def _coming(world: World) -> set[int | str]:
    """The teams of the seats that the script still brings; one that is not there yet by its name, or by the seat's."""
    if world.script is None:
        return set()
    later = world.script.inputs[world.counts[Count.SCRIPT_CURSOR] :]
    tick = world.counts[Count.TICK] - world.counts[Count.SCRIPT_OFFSET]
    entering = [each for each in later if isinstance(each, Enter) and each.tick > tick]
    return {each.seat if each.team is None else _team_called(world, each.team) for each in entering}


def _team_called(world: World, name: str) -> int | str:
    return mark_of(world.teams.index(name)) if name in world.teams else name


def _teams(world: World, *, standing: bool) -> set[int | str]:
    """The teams of all seats, or of those that are not out."""
    marks = world.block.seat_marks[:, len(world.plan.props) : world.counts[Count.SEATS]]
    marks = marks[:, marks[SeatMark.LIVES_AT_ENTRY] != 0]
    found: set[int | str] = set(
        marks[SeatMark.TEAM, ~(marks[SeatMark.ELIMINATED] != 0)].tolist() if standing else marks[SeatMark.TEAM].tolist()
    )
    return found


def _name(world: World, team: int) -> str | None:
    seats = np.flatnonzero(world.block.seat_marks[SeatMark.TEAM, : world.counts[Count.SEATS]] == team)
    return world.team_name(team) or world.names[int(seats[-1])]


def _restart(world: World) -> None:
    """Take all away that the bout has become, and let every seat enter again with the next tick.

    Ticks and random draws go on; the script begins again.
    """
    block, counts = world.block, world.counts
    counts[Count.SETTLED_ON] = 0
    time = (counts[Count.TICK] + 1) / world.plan.tick_rate
    world.emit(BoutRestarted(time=time))
    for shot in block.shot_marks[ShotMark.ID].nonzero()[0].tolist():
        projectiles.end(world, shot, Reason.RESTARTED, projectiles.place_of(world, shot, 1.0), time=time)
    projectiles.free_ended(world)
    for body in block.body_marks[BodyMark.ID].nonzero()[0].tolist():
        if block.body_marks[BodyMark.PRESENCE, body] == Presence.PROP:
            _put_back(world, body)
        else:
            _clear(world, body, time)
    for seat in range(len(world.plan.props), counts[Count.SEATS]):
        if not world.names[seat]:
            continue
        counters.restart_counters(world, seat)
        marks = block.seat_marks[:, seat]
        kept = marks[list(KEPT)]
        marks[:] = 0
        marks[list(KEPT)] = kept
        marks[SeatMark.LIVES] = marks[SeatMark.LIVES_AT_ENTRY]
        block.seats[SeatColumn.MOVE : SeatColumn.MOVE + 2, seat] = 0.0
        block.seats[SeatColumn.AIM : SeatColumn.AIM + 3, seat] = (1.0, 0.0, 0.0)
        for timer in block.timers[Timer.RESPAWN - 1 :]:
            timer[seat] = NEVER
        block.timers[Timer.RESPAWN][seat] = counts[Count.TICK] + 1
        if world.script is not None and world.names[seat] in world.script.late:
            marks[SeatMark.LEAVING] = counts[Count.LEAVING] = 1
    block.again[:] = 0.0
    block.swing_touches.clear()
    block.taken[:] = 0.0
    counts[Count.SCRIPT_CURSOR], counts[Count.SCRIPT_OFFSET], counts[Count.DIRTY_POSE_TICKS] = (
        0,
        counts[Count.TICK] + 1,
        2,
    )
    counts[Count.NEXT_DUE] = world.soonest()


def _clear(world: World, body: int, time: float) -> None:
    timeline.abandon(world, body, Reason.RESTARTED, time)
    grabs.end_of(world, body, Reason.RESTARTED, Reason.RESTARTED, time)
    afflictions.end_all(world, body, Reason.RESTARTED, time)
    movement.remove(world, body, Reason.RESTARTED, time)


def _put_back(world: World, body: int) -> None:
    """Put a prop where it stood at the start."""
    block = world.block
    place = block.seats[SeatColumn.ENTRY : SeatColumn.ENTRY + 3, world.seat_of(body)]
    for at in (BodyColumn.START, BodyColumn.END):
        block.bodies[at : at + 3, body] = place
    block.bodies[BodyColumn.VELOCITY : BodyColumn.VELOCITY + 3, body] = 0.0
    block.body_marks[[BodyMark.KNOCKBACK, BodyMark.FROZEN_UNTIL], body] = 0
    movement.set_moving(world, body)
