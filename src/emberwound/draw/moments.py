"""A bout at one moment: everybody as posed, and all shots then in flight with their ways so far."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from emberwound.draw.palette import EMBER, seat_look
from emberwound.draw.stage import draw_fighter, draw_prop
from emberwound.plan.solids import Stance
from emberwound.study.lives import fighter_at
from emberwound.vocabulary.events import Released

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.plan import Plan


def draw_bodies(
    chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, state: int, **look: Any
) -> dict[str, tuple[float, float]]:
    """The props and all living bodies as they were in a state; where in the picture the top of each seat's body is."""
    tracks, lift = chronicle.tracks, plan.space.lift
    for number, prop in enumerate(plan.props):
        place = lift(tracks.positions[state, number].tolist())
        draw_prop(plan, axes, projection, prop, place, plan.space.heading(prop.facing))
    tops: dict[str, tuple[float, float]] = {}
    for index in range(len(plan.props), len(tracks.seats)):
        name = fighter_at(chronicle.events, tracks.seats[index], int(tracks.ticks[state]))
        fighter = plan.fighter(name or "")
        if fighter is None or not tracks.alive[state, index]:
            continue
        heading = tracks.ahead[state, index].tolist()
        place, pose = lift(tracks.positions[state, index].tolist()), int(tracks.poses[state, index])
        stance = Stance(place, heading, pose, int(tracks.hidden[state, index]))
        outlines = draw_fighter(
            plan, axes, projection, fighter.id, stance, seat_look(index - len(plan.props))[0], **look
        )
        spots = np.vstack([*outlines.values(), projection.flat(place)[None]])
        tops[tracks.seats[index]] = (projection.spot(place)[0], float(spots[:, 1].max()))
    return tops


def draw_flying(chronicle: Chronicle, plan: Plan, axes: Axes, projection: Projection, state: int) -> None:
    """All shots in flight in a state, each with its way so far."""
    tracks, lift = chronicle.tracks, plan.space.lift
    began = {event.shot: event.position for event in chronicle.events if isinstance(event, Released)}
    for number in tracks.shot_ids[tracks.shot_states == state].tolist():
        here = (tracks.shot_ids == number) & (tracks.shot_states <= state)
        places = [began[number], *map(tuple, tracks.shot_positions[here].tolist())]
        way = projection.flat([lift(place) for place in places])
        axes.plot(*way.T, color=EMBER, linewidth=1.2, zorder=4)
        axes.plot(*way[-1], marker="o", color=EMBER, markersize=6, zorder=5)
