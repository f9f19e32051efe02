"""Cues: what events give to be heard or seen, by whom, and what of it is too much at once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from emberwound.bout.bodies.pools import stats_of
from emberwound.bout.state.layout import CueColumn, mark_of
from emberwound.bout.state.queries import body_of
from emberwound.bout.state.random import pitch_draw
from emberwound.vocabulary.events import Cue, CueSkipped, Healed, Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from emberwound.bout.state.world import World
    from emberwound.plan.plan import CuePlan
    from emberwound.vocabulary.events import Event

INSTANT = 1e-9
"""Seconds that are no time: sums of exact times differ by less."""


def give(world: World) -> None:
    """Turn this tick's events into cues, in the order of their exact times."""
    told = [event for event in world.events if type(event) in world.plan.cued]
    for event in sorted(told, key=lambda each: (each.time, each.seq)):
        for cue in world.plan.cues:
            if type(event) in cue.on and _counts(world, cue, event):
                _play(world, cue, event)


def forget(world: World, seat: int) -> None:
    """Silence what a seat alone hears; its place goes to another."""
    for cue in world.plan.cues:
        if cue.table.audience != "everyone":
            world.block.cue_ready[cue.first_lane + seat] = 0.0
            first = cue.first_place + seat * cue.places
            world.block.cues[:, first : first + cue.places] = 0.0
            world.block.cue_numbers[first : first + cue.places] = 0


def _counts(world: World, cue: CuePlan, event: Event) -> bool:
    """Whether an event is one that the cue asks for."""
    asked = cue.table
    if asked.attacks and not any(
        getattr(event, each, None) in asked.attacks for each in ("attack", "affliction", "blast")
    ):
        return False
    if asked.kinds and getattr(event, "kind", None) not in asked.kinds:
        return False
    points = _points_of(event, asked.pool)
    if (asked.pool is not None and points == 0.0) or (asked.min_points is not None and points < asked.min_points):
        return False
    return asked.below is None or (isinstance(event, Wounded) and _falls_below(world, event, asked.below, asked.pool))


def _points_of(event: Event, pool: str | None) -> float:
    """The points of a wound or healing, or those that one pool lost or gained by it; 0 for other events."""
    if pool is None or not isinstance(event, Wounded | Healed):
        return float(getattr(event, "amount", 0.0))
    return sum(abs(loss.before - loss.after) for loss in event.ledger.losses if loss.pool == pool)


def _falls_below(world: World, wound: Wounded, share: float, pool: str | None) -> bool:
    """Whether a wound took a pool, or the vital one, from above a share of its size down to it or below."""
    if wound.seat not in world.names:
        return False
    seat = world.names.index_of(wound.seat)
    fighter, body = world.fighter_of_seat(seat), body_of(world, seat)
    terms = fighter.stats if body is None else stats_of(world, body, fighter)
    vital = terms.pools[terms.vital]
    sizes = {each.name: wound.vital_max if each is vital else each.maximum for each in terms.pools}
    losses = [loss for loss in wound.ledger.losses if loss.pool == (pool or vital.name)]
    if not losses:
        return False
    line = share * sizes[losses[0].pool]
    return losses[-1].after <= line < losses[0].before


def _play(world: World, cue: CuePlan, event: Event) -> None:
    """Begin a cue, let it wait, or say why it is silent."""
    hears = {"everyone": None, "victim": event.seat, "striker": event.by}[cue.table.audience]
    if cue.table.audience != "everyone" and hears not in world.names:
        return
    column = world.names.index_of(hears) if hears is not None else 0
    block, lane = world.block, cue.first_lane + column
    first = cue.first_place + column * cue.places
    ready = float(block.cue_ready[lane])
    ends = block.cues[CueColumn.ENDS, first : first + cue.places]
    starts, cuts, place = event.time, None, int(ends.argmin())
    said: dict[str, Any] = {"seat": hears, "by": event.by, "cause": event.seq, "time": event.time, "cue": cue.name}
    if cue.table.overlap == "wait":
        starts = max(starts, ready, float(ends.max()))
    elif starts < ready - INSTANT:
        world.emit(CueSkipped(reason=Reason.CUE_TOO_SOON, **said))
        return
    if cue.table.overlap == "restart":
        cuts = int(block.cue_numbers[place]) - 1 if ends[place] > starts else None
    elif ends[place] > event.time + INSTANT:
        world.emit(CueSkipped(reason=Reason.CUE_FULL, **said))
        return
    pitch = float(cue.table.pitch)
    if cue.table.pitch_spread:
        pitch *= 1.0 + cue.table.pitch_spread * (2.0 * pitch_draw(world, cue.id) - 1.0)
    position = getattr(event, "position", None)
    seq = world.emit(
        Cue(
            medium=cue.table.medium,
            starts=starts,
            ends=starts + cue.seconds,
            pitch=pitch,
            strength=cue.table.strength,
            cuts=cuts,
            position=position,
            **said,
        )
    )
    block.cue_ready[lane] = starts + cue.gap
    block.cue_numbers[first + place] = mark_of(seq)
    column_of = block.cues[:, first + place]
    column_of[: CueColumn.PITCH + 1] = starts, starts + cue.seconds, pitch
    column_of[CueColumn.AT] = position is not None
    column_of[CueColumn.AT + 1 :] = world.plan.space.lift(position) if position is not None else 0.0
