"""Where everything was, state by state, as arrays."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

if TYPE_CHECKING:
    from numpy.typing import NDArray


@dataclass(frozen=True, eq=False, repr=False)
class Tracks:
    """The states of a bout: n of them, of s seats; the first is the one before the first tick recorded.

    `ticks` (n,) numbers them, `times` (n,) are their seconds. `alive` (n, s); `positions` (n, s, axes), `ahead`
    (n, s, 2) the heading on the ground, `poses` (n, s) the row of the plan's joint tracks, and `pools` (n, s, names)
    are NaN where there is no living body, or no pool of that one of `pool_names`. `hidden` (n, s) has a bit for each
    hurtbox that is off.
    `status_bits` (n, s) has a bit each for PROTECTED, REACTING and GUARDING; `scores` (n, s, counters) are NaN where
    there is no such seat.
    `live_shots` (n,) counts shots in flight; `shot_states`, `shot_ids` (m,) and `shot_positions` (m, axes) list them:
    the index of the state, the shot's number, and where it was.
    """

    seats: tuple[str, ...]
    pool_names: tuple[str, ...]
    ticks: NDArray[np.int64]
    times: NDArray[np.float64]
    alive: NDArray[np.bool_]
    positions: NDArray[np.float64]
    ahead: NDArray[np.float64]
    poses: NDArray[np.float64]
    hidden: NDArray[np.int64]
    pools: NDArray[np.float64]
    status_bits: NDArray[np.int64]
    scores: NDArray[np.float64]
    live_shots: NDArray[np.int64]
    shot_states: NDArray[np.int64]
    shot_ids: NDArray[np.int64]
    shot_positions: NDArray[np.float64]

    def __repr__(self) -> str:
        shots = len(np.unique(self.shot_ids))
        times = f"{self.times[0]:g} to {self.times[-1]:g} s" if len(self.times) else "no time"
        return f"<Tracks of {', '.join(self.seats)}: {len(self.ticks)} states from {times}, {shots} shots>"

    def shot(self, number: int) -> NDArray[np.float64]:
        """The places of one shot at the states in which it flew, (k, axes)."""
        found: NDArray[np.float64] = self.shot_positions[self.shot_ids == number]
        return found

    def pool(self, seat: str, name: str) -> NDArray[np.float64]:
        """What a pool of a seat held, state by state, (n,); NaN where it had no living body with such a pool."""
        found: NDArray[np.float64] = self.pools[:, self.seats.index(seat), self.pool_names.index(name)]
        return found

    def join(self, later: Tracks) -> Tracks:
        """These states and those that go on from the last of them."""
        seats = tuple(dict.fromkeys((*self.seats, *later.seats)))
        names = tuple(dict.fromkeys((*self.pool_names, *later.pool_names)))

        def spread(tracks: Tracks, array: NDArray[Any], fill: float) -> NDArray[Any]:
            found = np.full((array.shape[0], len(seats), *array.shape[2:]), fill, array.dtype)
            found[:, [seats.index(name) for name in tracks.seats]] = array
            return found

        def with_pools(tracks: Tracks) -> Tracks:
            found = np.full((*tracks.pools.shape[:2], len(names)), np.nan)
            found[:, :, [names.index(name) for name in tracks.pool_names]] = tracks.pools
            return replace(tracks, pools=found)

        mine, later = with_pools(self), with_pools(later)

        def both(name: str, fill: float = np.nan) -> NDArray[Any]:
            first, second = spread(mine, getattr(mine, name), fill), spread(later, getattr(later, name), fill)
            return np.concatenate([first, second[1:]])

        kept = later.shot_states > 0
        return Tracks(
            seats=seats,
            pool_names=names,
            ticks=np.concatenate([self.ticks, later.ticks[1:]]),
            times=np.concatenate([self.times, later.times[1:]]),
            alive=both("alive", fill=0),
            positions=both("positions"),
            ahead=both("ahead"),
            poses=both("poses"),
            hidden=both("hidden", fill=0),
            pools=both("pools"),
            status_bits=both("status_bits", fill=0),
            scores=both("scores"),
            live_shots=np.concatenate([self.live_shots, later.live_shots[1:]]),
            shot_states=np.concatenate([self.shot_states, later.shot_states[kept] + len(self.ticks) - 1]),
            shot_ids=np.concatenate([self.shot_ids, later.shot_ids[kept]]),
            shot_positions=np.concatenate([self.shot_positions, later.shot_positions[kept]]),
        )
