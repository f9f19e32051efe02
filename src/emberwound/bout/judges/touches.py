"""Judges what strikes and hazards touch."""

from __future__ import annotations

from math import hypot, inf
from typing import TYPE_CHECKING

from emberwound.bout import conditions, contacts, shots
from emberwound.bout.block import BODY_BEGAN, BODY_CHARGE, BODY_TOUCHED, TICK
from emberwound.bout.wounds import Blow, Struck, strike
from emberwound.geometry.legs import SHAPE_A, SHAPE_A_END, SHAPE_AXES, SHAPE_BODY, SHAPE_OWNER
from emberwound.geometry.pose import FRAME_OWNER, FRAME_START
from emberwound.geometry.volumes import BEYOND, VOLUME_GROUP, VOLUME_RANK, VOLUME_SHAPE
from emberwound.vocabulary.events import WallBetween

if TYPE_CHECKING:
    from emberwound.bout.contacts import Touch
    from emberwound.bout.judges import Contact
    from emberwound.bout.world import World
    from emberwound.plan.attack_plans import AttackPlan, StrikePlan
    from emberwound.plan.plane import Vector

AFTER_BODIES = 1 << 40
"""Hazards come after all seats."""

TOLD = -1.0
"""What stands for a victim that a wall kept a swing from, and nothing else has happened to."""

CLOSE = 1e-9
"""Ticks nearer to each other than this are one."""


class Swing:
    """What the touches of one swing in a tick share: whose it is, its attack, and where its owner is."""

    __slots__ = ("again", "attack", "blows", "body", "by", "cause", "charge", "moves", "row", "strike")

    def __init__(self, world: World, row: int, attack: AttackPlan, strike: StrikePlan) -> None:
        block = world.block
        self.row = row
        self.attack = attack
        self.strike = strike
        self.body = block.bodies[FRAME_START : FRAME_START + 6, row].tolist()
        self.moves = self.body[:3] != self.body[3:]
        self.by = int(block.body_marks[FRAME_OWNER, row]) - 1
        self.cause = int(block.body_marks[BODY_BEGAN, row])
        self.charge = shots.charged(attack, float(block.bodies[BODY_CHARGE, row]), "damage") if attack.charge else None
        self.again = block.again[row]
        self.blows: dict[int, Blow] = {}

    def place(self, share: float) -> Vector:
        """Where its owner is at a fraction of the tick."""
        ax, ay, az, bx, by, bz = self.body
        return (ax + (bx - ax) * share, ay + (by - ay) * share, az + (bz - az) * share)

    def blow(self, rank: int, touch: Touch) -> Blow:
        """The blow of one of its hitboxes; all those of an owner that stands still are one, but for their distance."""
        hitbox = self.strike.hitboxes[rank]
        far = hitbox.wound.falloff is not None
        if rank in self.blows and not far:
            return self.blows[rank]
        source = self.place(touch.share)
        blow = Blow(
            self.by,
            self.attack.name,
            hitbox.wound,
            self.attack.afflicts,
            self.cause,
            hitbox=hitbox.name,
            charge=self.charge,
            distance=hypot(touch.position[0] - source[0], touch.position[1] - source[1]),
            source=source,
            pushes=hitbox.pushes,
            stop_ticks=self.attack.stop_ticks,
            striker=self.row,
        )
        if not self.moves:
            self.blows[rank] = blow
        return blow


def contacts_of(world: World, touches: list[Touch]) -> list[Contact]:
    """The touches that the kernel found, as entries for the judge's queue."""
    if not touches:
        return []
    block, most = world.block, world.plan.most_hitboxes
    ranks = block.volume_marks[VOLUME_RANK, [touch.volume for touch in touches]].tolist()
    victims, seats = block.shape_marks[[[SHAPE_BODY], [SHAPE_OWNER]], [touch.shape for touch in touches]].tolist()
    found: list[Contact] = []
    for touch, rank, victim, seat in zip(touches, ranks, victims, seats, strict=True):
        if touch.volume >= block.first_hazard:
            judge = judge_hazard if touch.volume < block.first_hazard + len(world.plan.hazards) else judge_area
            found.append((touch.share, AFTER_BODIES, touch.volume, 0, victim, judge, (touch, seat - 1)))
            continue
        swing = _swing(world, touch.volume // most)
        if swing is not None:
            found.append((touch.share, swing.by + 1, swing.cause, rank, victim, judge_strike, (touch, seat - 1, swing)))
    return found


def _swing(world: World, row: int) -> Swing | None:
    found = world.swings.get(row)
    if found is None:
        attack = conditions.attack_of(world, row)
        if attack is None or attack.strike is None:
            return None
        found = world.swings[row] = Swing(world, row, attack, attack.strike)
    return found


def judge_strike(world: World, contact: Contact) -> list[Contact]:
    """Judge one touch of a swing: once a victim, or again after a while, but not when its owner is beaten too long."""
    touch, seat, swing = contact[-1]
    now = world.counts[TICK]
    tick = now + touch.share
    if (world.slain or world.broken) and tick > _beaten_since(world, swing.row) + world.plan.trade_ticks + CLOSE:
        return []
    blow = swing.blow(contact[3], touch)
    if swing.strike.walls_block and _is_walled_off(world, swing, touch, blow, told=swing.again[seat] == TOLD):
        swing.again[seat] = TOLD
        return []
    world.block.body_marks[BODY_TOUCHED, swing.row] += 1
    strike(world, blow, _struck(world, touch))
    if not swing.strike.rehit:
        swing.again[seat] = inf
        return []
    swing.again[seat] = due = later(tick, swing.strike.rehit)
    if due >= now + 1:
        return []
    body = touch.shape // world.plan.most_hurtboxes
    return contacts_of(world, contacts.of_strikes(world, swing.row, body, touch.share))


def later(tick: float, span: float) -> float:
    """An exact tick some ticks later; what rounding leaves beside a whole one is that one."""
    due = tick + span
    return float(round(due)) if abs(due - round(due)) < CLOSE else due


def _beaten_since(world: World, row: int) -> float:
    """The exact tick of the wound of this tick that beat a body or broke off what it was doing; inf for none."""
    rate = world.plan.tick_rate
    slain, broken = world.slain.get(row), world.broken.get(row)
    return min(slain.time * rate if slain else inf, broken[0] * rate if broken else inf)


def _struck(world: World, touch: Touch) -> Struck:
    return Struck(touch.shape, touch.position, (world.counts[TICK] + touch.share) / world.plan.tick_rate)


def _is_walled_off(world: World, swing: Swing, touch: Touch, blow: Blow, *, told: bool) -> bool:
    """Whether a wall stands between the body that strikes, at the height of the touch, and what it touches."""
    x, y, z = swing.place(touch.share)
    height = conditions.fighter_of(world, swing.row).height
    start: Vector = (x, y, min(max(touch.position[2], z), z + height))
    wall = contacts.wall_between(world, start, touch.position)
    if wall is None:
        return False
    if not told:
        body, part = divmod(touch.shape, world.plan.most_hurtboxes)
        world.emit(
            WallBetween,
            time=(world.counts[TICK] + touch.share) / world.plan.tick_rate,
            seat=world.names[int(world.block.body_marks[FRAME_OWNER, body]) - 1],
            by=world.names[swing.by],
            cause=swing.cause,
            attack=blow.name,
            hitbox=blow.hitbox,
            hurtbox=conditions.fighter_of(world, body).hurtboxes[part].name,
            wall=wall,
            position=world.point(touch.position),
        )
    return True


def judge_hazard(world: World, contact: Contact) -> list[Contact]:
    """Judge one touch of a hazard: one wound a victim, whatever the hurtbox, and again after its time."""
    touch, seat = contact[-1]
    block, volume = world.block, touch.volume
    again = block.again[block.volume_marks[VOLUME_GROUP, volume]]
    if seat < len(world.plan.props):
        again[seat] = inf
        return []
    hazard = world.plan.hazards[volume - block.first_hazard]
    blow = Blow(
        -1,
        hazard.name,
        hazard.wound,
        hazard.afflicts,
        None,
        source=_source(world, touch),
        pushes=hazard.pushes,
        fatal=hazard.fatal,
    )
    strike(world, blow, _struck(world, touch))
    again[seat] = later(world.counts[TICK] + touch.share, hazard.rehit)
    if again[seat] >= world.counts[TICK] + 1:
        return []
    body = touch.shape // world.plan.most_hurtboxes
    return contacts_of(world, contacts.of_hazards(world, volume, body, touch.share)[0])


def judge_area(world: World, contact: Contact) -> list[Contact]:
    """Note that a body touches a checkpoint or a pickup; what comes of it is settled after the deaths of the tick."""
    touch, seat = contact[-1]
    again = world.block.again[world.block.volume_marks[VOLUME_GROUP, touch.volume]]
    if seat < len(world.plan.props):
        again[seat] = inf
    elif again[seat] <= world.counts[TICK] + touch.share:
        place = world.plan.areas - (world.block.volumes.shape[1] - touch.volume)
        time = (world.counts[TICK] + touch.share) / world.plan.tick_rate
        world.reached.append((place - len(world.plan.hazards), seat, touch.shape // world.plan.most_hurtboxes, time))
    return []


def _source(world: World, touch: Touch) -> Vector:
    """Where a hazard's wound comes from: its centre, or straight out of what lies beyond a plane."""
    volumes, column = world.block.volumes, touch.volume
    if world.block.volume_marks[VOLUME_SHAPE, column] == BEYOND:
        x, y, z = (
            a + b for a, b in zip(touch.position, volumes[SHAPE_AXES : SHAPE_AXES + 3, column].tolist(), strict=True)
        )
        return (x, y, z)
    start, end = volumes[SHAPE_A : SHAPE_A + 3, column], volumes[SHAPE_A_END : SHAPE_A_END + 3, column]
    x, y, z = (start + (end - start) * touch.share).tolist()
    return (x, y, z)
