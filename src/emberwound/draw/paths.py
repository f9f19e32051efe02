"""Shots as lines in a picture: where they left, bounced, wounded and ended."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from emberwound.draw.palette import EMBER, INK, MISS
from emberwound.vocabulary.events import Bounced, Released, ShotEnded, ShotReflected, Wounded
from emberwound.vocabulary.reasons import Reason

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from numpy.typing import NDArray

    from emberwound.chronicle import Chronicle
    from emberwound.draw.projections import Projection
    from emberwound.draw.windows import Window
    from emberwound.plan import Plan

ENDS = {
    Reason.HIT: ("o", "● hit"),
    Reason.FLOOR: ("x", "✕ floor"),
    Reason.WALL: ("s", "■ wall"),
    Reason.OUT_OF_BOUNDS: ("d", "♦ out of the arena"),
    Reason.DESTROYED: ("X", "✖ destroyed"),
    Reason.RANGE_OVER: ("|", "| end of range"),
    Reason.LIFE_OVER: ("*", "★ lifetime over"),
    Reason.MUZZLE_IN_WALL: ("P", "✚ spawned in a wall, the floor or outside"),
    Reason.MUZZLE_IN_FLOOR: ("P", "✚ spawned in a wall, the floor or outside"),
    Reason.MUZZLE_OUT_OF_BOUNDS: ("P", "✚ spawned in a wall, the floor or outside"),
    Reason.OWNER_LEFT: ("H", "⬢ gone with its owner or at a restart"),
    Reason.ENDED_BY_HOST: ("P", "✚ ended by the host"),
    Reason.RESTARTED: ("H", "⬢ gone with its owner or at a restart"),
}
FLYING = (">", "▶ still flying")
BOUNCE = "▼ bounce or sent back"
CLOSE = 0.02
"""Labels of ends nearer to each other than this share of the picture's width are written as one."""


class Flights:
    """The shots and rays of a chronicle, or those that flew, hit and bounced between two times."""

    def __init__(self, chronicle: Chronicle, plan: Plan, between: Window | None = None) -> None:
        self.plan = plan
        self.tracks = chronicle.tracks
        events = chronicle.events
        self.released = [event for event in events if isinstance(event, Released)]
        self.ended = {event.shot: event for event in events if isinstance(event, ShotEnded)}
        self.bounced = [event for event in events if isinstance(event, Bounced | ShotReflected)]
        self.wounded = [event for event in events if isinstance(event, Wounded)]
        if between is not None:
            self._keep(*between)

    def _keep(self, start: float, end: float) -> None:
        """Forget what was over before a time, or began after another."""
        gone = {shot for shot, event in self.ended.items() if event.time < start}
        self.released = [event for event in self.released if event.time <= end and event.shot not in gone]
        kept = {event.shot for event in self.released}
        self.ended = {shot: event for shot, event in self.ended.items() if shot in kept}
        self.bounced = [event for event in self.bounced if start <= event.time <= end]
        self.wounded = [event for event in self.wounded if start <= event.time <= end]

    def path(self, released: Released) -> NDArray[np.float64]:
        """The places (k, 3) of a shot from its release to its end."""
        shot_id = released.shot
        tracks = self.tracks
        flown = tracks.shot_ids == shot_id
        stamped = list(zip(tracks.times[tracks.shot_states[flown]], tracks.shot_positions[flown].tolist(), strict=True))
        stamped.append((released.time, list(released.position)))
        stamped += [(event.time, list(event.position)) for event in self.bounced if event.shot == shot_id]
        end = self.ended.get(shot_id)
        if end is not None:
            stamped.append((end.time + 1e-12, list(end.position)))
        stamped.sort(key=lambda each: each[0])
        return np.array([self.plan.space.lift(place) for _, place in stamped])

    def hits(self) -> int:
        """How many wounded somebody."""
        return len({event.shot for event in self.wounded if event.shot})

    def others(self) -> int:
        """How many wounds were dealt by strikes, hazards and afflictions."""
        return sum(not event.shot for event in self.wounded)

    def key(self) -> str:
        """What the signs mean, of those that are in the picture."""
        found = dict.fromkeys(ENDS[event.reason][1] for event in self.ended.values())
        words = [*found]
        if self.bounced:
            words.append(BOUNCE)
        if len(self.ended) < len(self.released):
            words.append(FLYING[1])
        return "   ".join(words)


def draw_flights(flights: Flights, axes: Axes, projection: Projection, *, numbers: bool = True) -> None:
    """Every path with its release, bounces, wounds and end; numbers at the ends, those of one spot together."""
    low, high = axes.get_xlim()
    spots: dict[tuple[float, float], list[int]] = {}
    for released in flights.released:
        end = flights.ended.get(released.shot)
        path = projection.flat(flights.path(released))
        hit = any(event.shot == released.shot for event in flights.wounded)
        colour = EMBER if hit else MISS
        ray = released.velocity is None
        style = (0, (1, 1)) if ray else "-" if hit else "--"
        axes.plot(*path.T, color=colour, linewidth=1.0 if ray else 1.4, linestyle=style, zorder=4)
        axes.plot(*path[0], marker=".", color=colour, markersize=5, zorder=5)
        marker = FLYING[0] if end is None else ENDS[end.reason][0]
        axes.plot(*path[-1], marker=marker, color=colour, markersize=6, zorder=5)
        x, y = path[-1].tolist()
        near = next((each for each in spots if np.hypot(each[0] - x, each[1] - y) < CLOSE * (high - low)), (x, y))
        spots.setdefault(near, []).append(released.shot)
    lift = flights.plan.space.lift
    places = [(event.position, True) for event in flights.bounced]
    places += [(event.position, False) for event in flights.wounded]
    for place, bounce in places:
        axes.plot(*projection.spot(lift(place)), "v" if bounce else "o", color=MISS if bounce else EMBER, zorder=5)
    if numbers:
        for spot, shots in spots.items():
            axes.annotate(_listed(shots), spot, (-6, 7), textcoords="offset points", ha="center", color=INK, fontsize=9,
                          zorder=6)  # fmt: skip


def _listed(ids: list[int]) -> str:
    """Numbers with runs of three or more drawn together: 1, 4-9."""
    parts: list[str] = []
    run: list[int] = []
    for each in [*sorted(ids), 0]:
        if run and each != run[-1] + 1:
            parts.append(", ".join(map(str, run)) if len(run) < 3 else f"{run[0]}-{run[-1]}")
            run = []
        run.append(each)
    return ", ".join(parts)
