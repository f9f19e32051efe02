"""Judges what strikes and hazards touch."""

from __future__ import annotations

from math import hypot, inf
from typing import TYPE_CHECKING, NamedTuple

from emberwound.bout.attacks import projectiles
from emberwound.bout.hits import contacts
from emberwound.bout.hits.damage import land
from emberwound.bout.state import queries
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark, mark_of
from emberwound.bout.state.pairs import TOLD
from emberwound.bout.state.pending import Contact, Hit, QueuedContact, Reached, Swing
from emberwound.geometry.layout import BodyColumn, BodyMark, ShapeColumn, ShapeKind, ShapeMark, VolumeMark
from emberwound.vocabulary.clock import CLOSE, exact_ticks, on_grid
from emberwound.vocabulary.events import StrikeBlocked

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from emberwound.bout.state.pairs import Pairs
    from emberwound.bout.state.pending import VolumeContact
    from emberwound.bout.state.world import World
    from emberwound.plan.attack_plans import AttackPlan, StrikePlan
    from emberwound.plan.space import Vector

AFTER_BODIES = 1 << 40
"""Hazards come after all seats."""


def hit_of(swing: Swing, rank: int, touch: VolumeContact) -> Hit:
    """What one hitbox of a swing does; all hits of an owner that stands still are one, but for their distance."""
    hitbox = swing.strike.hitboxes[rank]
    if rank in swing.hits and hitbox.hit.wound.falloff is None:
        return swing.hits[rank]
    source = swing.place(touch.share)
    hit = Hit(
        swing.by,
        swing.attack.name,
        hitbox.hit,
        swing.cause,
        hitbox=hitbox.name,
        charge=swing.charge,
        distance=hypot(touch.position[0] - source[0], touch.position[1] - source[1]),
        source=source,
        striker=swing.striker,
    )
    if not swing.moves:
        swing.hits[rank] = hit
    return hit


def contacts_of(world: World, touches: list[VolumeContact]) -> list[QueuedContact]:
    """The touches that the kernel found, as entries for the judge's queue."""
    if not touches:
        return []
    block, most = world.block, world.plan.most_hitboxes
    ranks = block.volume_marks[VolumeMark.RANK, [touch.volume for touch in touches]].tolist()
    ids, seats = block.shape_marks[[[ShapeMark.BODY], [ShapeMark.OWNER]], [touch.shape for touch in touches]].tolist()
    found: list[QueuedContact] = []
    for touch, rank, victim, seat in zip(touches, ranks, ids, seats, strict=True):
        if touch.volume >= block.first_hazard:
            is_hazard = touch.volume < block.first_hazard + len(world.plan.hazards)
            area = (HazardContact if is_hazard else AreaContact)(touch, index_of_mark(seat))
            found.append(QueuedContact((touch.share, AFTER_BODIES, touch.volume, 0, victim), area, touch.shape))
            continue
        swing = swing_of(world, touch.volume // most)
        if swing is not None:
            order = (touch.share, mark_of(swing.by), swing.cause, rank, victim)
            found.append(QueuedContact(order, StrikeContact(touch, index_of_mark(seat), swing, rank), touch.shape))
    return found


def swing_of(world: World, body: int) -> Swing | None:
    """The swing of a body in this tick, or None."""
    found = world.swings.get(body)
    if found is None:
        attack = queries.attack_of(world, body)
        if attack is None or attack.strike is None:
            return None
        found = world.swings[body] = _open(world, body, attack, attack.strike)
    return found


def _open(world: World, body: int, attack: AttackPlan, strike: StrikePlan) -> Swing:
    block = world.block
    charge = float(block.bodies[BodyColumn.CHARGE, body])
    return Swing(
        body,
        world.seat_of(body),
        attack,
        strike,
        cause=int(block.body_marks[BodyMark.ATTACK_SEQ, body]),
        charge=projectiles.charged(attack, charge, "damage") if attack.charge else None,
        body=block.bodies[BodyColumn.START : BodyColumn.START + 6, body].tolist(),
    )


class StrikeContact(NamedTuple):
    """A touch of a swing: of which seat's body, and by which of its hitboxes."""

    touch: VolumeContact
    seat: int
    swing: Swing
    rank: int

    def judge(self, world: World) -> list[QueuedContact]:
        """It counts once a victim, or again after a while, but not when its owner is beaten too long."""
        return _strike(world, self)


def _strike(world: World, contact: StrikeContact) -> list[QueuedContact]:
    touch, seat, swing, rank = contact
    now, swing_touches = world.counts[Count.TICK], world.block.swing_touches
    tick = now + touch.share
    if is_beaten(world, swing.striker, tick):
        return []
    hit = hit_of(swing, rank, touch)
    if swing.strike.walls_block and _is_walled_off(
        world, swing, touch, hit, told=swing_touches.get(swing.striker, seat) == (TOLD,)
    ):
        swing_touches.put(swing.striker, seat, TOLD)
        return []
    if swing.strike.leaves and _goes_on(swing_touches, swing, seat, tick):
        return []
    world.block.body_marks[BodyMark.SWING_TOUCHED, swing.striker] += 1
    land(world, hit, _contact(world, touch))
    if not swing.strike.rehit:
        if not swing.strike.leaves:
            swing_touches.put(swing.striker, seat, inf)
        return []
    due = on_grid(tick + swing.strike.rehit)
    swing_touches.put(swing.striker, seat, due)
    if due >= now + 1:
        return []
    body = touch.shape // world.plan.most_hurtboxes
    return contacts_of(world, contacts.of_strikes(world, swing.striker, body, touch.share))


def _goes_on(swing_touches: Pairs, swing: Swing, seat: int, tick: float) -> bool:
    """Whether a touch goes on that counts once until it was left; it is kept either way."""
    before = swing_touches.get(swing.striker, seat) or (0.0,)
    swing_touches.put(swing.striker, seat, _held_until(tick + swing.strike.leaves))
    return _is_held(before[0], tick)


def _held_until(tick: float) -> float:
    """What is kept of a contact that counts once until it was left: kernels go on reporting it, as it is below 0."""
    return -(on_grid(tick) - TOLD + 1.0)


def _is_held(kept: float, tick: float) -> bool:
    """Whether a contact has not been over for its time yet."""
    return kept < TOLD and -kept + TOLD - 1.0 >= tick - CLOSE


def is_beaten(world: World, striker: int, tick: float) -> bool:
    """Whether a body was beaten too long before an exact tick of this one for its strike to count."""
    if not (world.lethal_hits or world.interrupted):
        return False
    return tick > _beaten_since(world, striker) + world.plan.trade_ticks + CLOSE


def _beaten_since(world: World, body: int) -> float:
    """The exact tick of the wound of this tick that killed a body or interrupted its action; inf for none."""
    rate = world.plan.tick_rate
    lethal, broken = world.lethal_hits.get(body), world.interrupted.get(body)
    times = [*([lethal.time] if lethal else []), *([broken[0]] if broken else [])]
    return min((exact_ticks(time, rate) for time in times), default=inf)


def _contact(world: World, touch: VolumeContact) -> Contact:
    return Contact(touch.shape, touch.position, (world.counts[Count.TICK] + touch.share) / world.plan.tick_rate)


def _is_walled_off(world: World, swing: Swing, touch: VolumeContact, hit: Hit, *, told: bool) -> bool:
    """Whether a wall stands between the body that strikes, at the height of the touch, and what it touches."""
    x, y, z = swing.place(touch.share)
    height = queries.fighter_of(world, swing.striker).height
    start: Vector = (x, y, min(max(touch.position[2], z), z + height))
    wall = contacts.wall_between(world, start, touch.position)
    if wall is None:
        return False
    if not told:
        body, part = divmod(touch.shape, world.plan.most_hurtboxes)
        world.emit(
            StrikeBlocked(
                time=(world.counts[Count.TICK] + touch.share) / world.plan.tick_rate,
                seat=world.name_of_body(body),
                by=world.names[swing.by],
                cause=swing.cause,
                attack=hit.name,
                hitbox=hit.hitbox or "",
                hurtbox=queries.fighter_of(world, body).hurtboxes[part].name,
                wall=wall,
                position=world.point(touch.position),
            )
        )
    return True


class HazardContact(NamedTuple):
    """A touch of a hazard, of which seat's body."""

    touch: VolumeContact
    seat: int

    def judge(self, world: World) -> list[QueuedContact]:
        """One wound a victim, whatever the hurtbox, and again after its time."""
        return _hazard(world, self.touch, self.seat)


def _hazard(world: World, touch: VolumeContact, seat: int) -> list[QueuedContact]:
    block, volume = world.block, touch.volume
    again = block.again[block.area_of(volume)]
    if seat < len(world.plan.props):
        again[seat] = inf
        return []
    hazard = world.plan.hazards[volume - block.first_hazard]
    tick = world.counts[Count.TICK] + touch.share
    if hazard.leaves:
        before, again[seat] = float(again[seat]), _held_until(tick + hazard.leaves)
        if _is_held(before, tick):
            return []
    hit = Hit(-1, hazard.name, hazard.hit, None, source=_source(world, touch), fatal=hazard.table.fatal)
    land(world, hit, _contact(world, touch))
    if hazard.leaves:
        return []
    again[seat] = on_grid(tick + hazard.rehit)
    if again[seat] >= world.counts[Count.TICK] + 1:
        return []
    body = touch.shape // world.plan.most_hurtboxes
    return contacts_of(world, contacts.of_hazards(world, volume, body, touch.share)[0])


class AreaContact(NamedTuple):
    """A touch of a checkpoint or a pickup, of which seat's body."""

    touch: VolumeContact
    seat: int

    def judge(self, world: World) -> list[QueuedContact]:
        """It is noted; what comes of it is settled after the deaths of the tick."""
        _note_area(world, self.touch, self.seat)
        return []


def _note_area(world: World, touch: VolumeContact, seat: int) -> None:
    again, tick = world.block.again[world.block.area_of(touch.volume)], world.counts[Count.TICK] + touch.share
    place = world.areas - (world.block.volumes.shape[1] - touch.volume) - len(world.plan.hazards)
    if seat < len(world.plan.props) or not _is_for(world, seat, place):
        again[seat] = inf
    elif again[seat] <= tick and not _goes_on_in(world, again, seat, place, tick):
        world.reached.append(Reached(place, seat, touch.shape // world.plan.most_hurtboxes, on_grid(tick)))


def _is_for(world: World, seat: int, place: int) -> bool:
    """Whether a checkpoint or pickup is for the team of a seat."""
    checkpoints = world.plan.checkpoints
    index = place - len(checkpoints)
    teams = checkpoints[place].table.for_teams if index < 0 else world.plan.pickups[index].table.for_teams
    return not teams or world.team_name(int(world.block.seat_marks[SeatMark.TEAM, seat])) in teams


def _goes_on_in(world: World, again: NDArray[np.float64], seat: int, place: int, tick: float) -> bool:
    """Whether a touch of a pickup goes on that gives once until it was left; it is kept either way."""
    index = place - len(world.plan.checkpoints)
    leaves = world.plan.pickups[index].leaves if index >= 0 else 0.0
    if not leaves:
        return False
    before, again[seat] = float(again[seat]), _held_until(tick + leaves)
    return _is_held(before, tick)


def _source(world: World, touch: VolumeContact) -> Vector:
    """Where a hazard's wound comes from: its centre, or straight out of what lies beyond a plane."""
    volumes, column = world.block.volumes, touch.volume
    if volumes[ShapeColumn.KIND, column] == ShapeKind.HALF_SPACE:
        x, y, z = (
            a + b
            for a, b in zip(
                touch.position, volumes[ShapeColumn.AXES : ShapeColumn.AXES + 3, column].tolist(), strict=True
            )
        )
        return (x, y, z)
    start, end = (
        volumes[ShapeColumn.A : ShapeColumn.A + 3, column],
        volumes[ShapeColumn.A_END : ShapeColumn.A_END + 3, column],
    )
    x, y, z = (start + (end - start) * touch.share).tolist()
    return (x, y, z)
