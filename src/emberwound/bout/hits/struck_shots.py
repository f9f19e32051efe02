"""What hits do to shots that can be destroyed, and the blasts that shots carry: both set each other off."""

from __future__ import annotations

from typing import TYPE_CHECKING

from emberwound.bout.attacks import projectiles
from emberwound.bout.bodies import stages
from emberwound.bout.hits import contacts, shots_met
from emberwound.bout.hits.blasts import explode
from emberwound.bout.hits.knockback import share_at
from emberwound.bout.state.layout import Count, SeatMark, mark_of, number_of
from emberwound.bout.state.pending import Hit, PendingBlast
from emberwound.combat.terms import BodyStats, Circumstance, HurtboxTerms
from emberwound.combat.wound import after_guard, before_guard
from emberwound.geometry.layout import ShotColumn, ShotMark
from emberwound.vocabulary.events import ShotStruck
from emberwound.vocabulary.limits import SHOT_LAYER
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.hits.shots_met import MetShot
    from emberwound.bout.state.world import World
    from emberwound.plan.space import Vector

SKIN, NO_STATS = HurtboxTerms(SHOT_LAYER, 1.0, ()), BodyStats((), 0)


def points(world: World, hit: Hit, attack: str) -> float:
    """The points that a hit takes off a shot of an attack: as of a body that nothing protects."""
    dealt = stages.dealt(world, hit.by) if hit.by >= 0 else ()
    how = Circumstance(hit.name, attack, hit.distance, hit.charge, None, dealt=dealt)
    wound, rules = hit.plan.wound, world.plan.wound_rules
    return after_guard(before_guard(wound, SKIN, NO_STATS, rules, how), wound, SKIN, NO_STATS, rules, how)


def hurt(world: World, hit: Hit, shot: MetShot, position: Vector, time: float, remembered: int) -> int:
    """Take a hit's points off what a shot can still take; at 0 it ends, with its blast. The event.

    `remembered` is the event that began what hit it: that hits it once.
    """
    block, column, mark = world.block, shot.column, shot.mark
    attack = projectiles.attack_of(world, column)
    amount = points(world, hit, attack.name)
    left = max(float(block.shots[ShotColumn.HEALTH, column]) - amount, 0.0)
    block.shots[ShotColumn.HEALTH, column] = left
    block.shot_marks[ShotMark.STRUCK_BEFORE, column] = block.shot_marks[ShotMark.STRUCK_BY, column]
    block.shot_marks[ShotMark.STRUCK_BY, column] = remembered
    cause = world.emit(
        ShotStruck(
            time=time,
            seat=world.names[number_of(mark[ShotMark.OWNER])],
            by=world.name_of(hit.by),
            cause=hit.cause,
            attack=hit.name,
            shot=hit.number,
            hitbox=hit.hitbox,
            struck=mark[ShotMark.ID],
            struck_attack=attack.name,
            position=world.point(position),
            amount=amount,
            left=left,
        )
    )
    if left == 0.0:
        projectiles.end(world, column, Reason.DESTROYED, position, mark, time=time, cause=cause)
        burst(world, mark, "end", position, time, -1)
    return cause


def burst(world: World, mark: list[int], on: str, position: Vector, time: float, spared: int) -> None:
    """Let what a shot carries go off at once, if it does so at this sort of end."""
    attack = world.plan.fighters[mark[ShotMark.FIGHTER]].attacks[mark[ShotMark.SLOT]]
    if attack.blast < 0 or on not in attack.blast_on:
        return
    share = min(max(time * world.plan.tick_rate - world.counts[Count.TICK], 0.0), 1.0)
    seat, number = number_of(mark[ShotMark.OWNER]), mark[ShotMark.ID]
    set_off(
        world,
        PendingBlast(attack.blast, seat, share, position, mark[ShotMark.RELEASE_SEQ], spared=spared, number=number),
    )


def set_off(world: World, blast: PendingBlast) -> None:
    """Let a blast go off: all bodies that it reaches, then the shots that it may destroy, by their numbers."""
    cause = explode(world, blast)
    if not world.shots_can_be_struck or not world.counts[Count.SHOTS_FLYING]:
        return
    plan, time = world.plan.blasts[blast.blast], (world.counts[Count.TICK] + blast.share) / world.plan.tick_rate
    team = int(world.block.seat_marks[SeatMark.TEAM, blast.by]) if blast.by >= 0 else -1
    whose = plan.hit.layers, plan.hit.options, mark_of(blast.by), team
    targets = [shot for shot in shots_met.flying(world) if shots_met.may_hit(world, *whose, shot)]
    for gap, shot in shots_met.within(blast.place, blast.share, plan.radius, targets):
        position = shot.place(blast.share)
        walled = plan.walls_block and contacts.wall_between(world, blast.place, position)
        if walled or shot.column in world.ended_shots:
            continue
        hit = Hit(blast.by, plan.name, plan.hit, cause, number=blast.number, distance=gap, blast=blast,
                  strength=share_at(plan, gap))  # fmt: skip
        hurt(world, hit, shot, position, time, cause)
