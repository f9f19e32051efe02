"""Takes the states of a running bout and makes tracks of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.block import (
    BODY_REACTION,
    SEAT_BODY,
    SEAT_FIGHTER,
    SEAT_GUARD,
    SEAT_SINCE,
    SEATS,
    SHOTS_FLYING,
    SHOTS_TOP,
    TICK,
)
from emberwound.bout.conditions import hidden_in, is_guarding
from emberwound.bout.holdings import held_by
from emberwound.bout.scores import counted_after
from emberwound.bout.shots import place_of
from emberwound.chronicle.tracks import GUARDING, PROTECTED, REACTING, Tracks
from emberwound.geometry.legs import MARK_ID
from emberwound.geometry.pose import FRAME_AHEAD, FRAME_MODEL, FRAME_PROTECTED, pose_rows

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.world import World
    from emberwound.plan.fighter_plans import FighterPlan

    Reals = NDArray[np.float64]
    Wholes = NDArray[np.int64]

    Copy = tuple[Wholes, Wholes, Reals, Reals, Reals, Wholes, Reals, NDArray[np.bool_]]

Cast = tuple[tuple[str, ...], tuple[int, ...]]
"""The names on the seats of a bout, and the numbers of their fighters."""

BATCH = 1 << 15
"""So many seats, over all their states, are worked out at once: copies are larger than what becomes of them."""
NO_SHOTS = (np.empty(0, np.int64), np.empty((0, 3)))


@dataclass(frozen=True, slots=True)
class _Stretch:
    """States in a row with the same cast, of n states and s seats each array (n, s, ...), NaN where no body is."""

    cast: Cast
    positions: Reals
    ahead: Reals
    poses: Reals
    pools: Reals
    scores: Reals
    hidden: Wholes
    conditions: Wholes


class TrackTaker:
    """Copies the moving parts of a block, state by state, and makes tracks of them at the end."""

    def __init__(self, world: World) -> None:
        self._world = world
        self._ticks: list[int] = []
        self._shots: list[tuple[Wholes, Reals]] = []
        self._stretches: list[_Stretch] = []
        self._copies: list[Copy] = []
        self._cast: Cast = ((), ())
        self.take()

    def take(self) -> None:
        """Copy the state as it is now."""
        world, counts, block = self._world, self._world.counts, self._world.block
        seats = counts[SEATS]
        marks = block.seat_marks[:, :seats].copy()
        cast = (tuple(world.names), tuple(marks[SEAT_FIGHTER].tolist()))
        if cast != self._cast or len(self._copies) * seats >= BATCH:
            self._work_out()
            self._cast = cast
        rows = marks[SEAT_BODY] - 1
        guarding = np.zeros(seats, bool)
        for seat in (marks[SEAT_GUARD] * marks[SEAT_BODY]).nonzero()[0].tolist():
            guarding[seat] = is_guarding(world, int(rows[seat]))
        self._ticks.append(counts[TICK])
        self._copies.append(
            (marks, block.body_marks[:, rows], block.bodies[: FRAME_AHEAD + 2, rows], block.pools[:, rows],
             block.pools_max[:, rows], block.pools_since[:, rows], block.counters[:, :seats].copy(), guarding)
        )  # fmt: skip
        self._shots.append(self._shots_now() if counts[SHOTS_FLYING] else NO_SHOTS)

    def _shots_now(self) -> tuple[Wholes, Reals]:
        block, top = self._world.block, self._world.counts[SHOTS_TOP]
        columns = np.flatnonzero(block.shot_marks[MARK_ID, :top])
        places = [place_of(self._world, column) for column in columns.tolist()]
        return block.shot_marks[MARK_ID, columns], np.array(places)

    def _work_out(self) -> None:
        """Make a stretch of the copies at hand, all states of all seats side by side."""
        if not self._copies:
            return
        plan, count = self._world.plan, len(self._copies)
        each = list(zip(*self._copies, strict=True))
        self._copies = []
        seats, marks, bodies, held, maxima, since, counters = (np.concatenate(one, axis=1) for one in each[:7])
        ticks = np.repeat(self._ticks[-count:], seats.shape[1] // count)
        there = seats[SEAT_BODY] > 0
        pools = np.full((len(held), len(ticks)), np.nan)
        for number in np.unique(marks[FRAME_MODEL, there]).tolist():
            of = np.flatnonzero(there & (marks[FRAME_MODEL] == number))
            own, _ = held_by(
                plan.fighters[number], marks[:, of], held[:, of], maxima[:, of], since[:, of], ticks[of], plan.tick_rate
            )
            pools[: len(own), of] = own
        conditions = PROTECTED * (marks[FRAME_PROTECTED] != 0) + REACTING * (marks[BODY_REACTION] != 0)
        conditions += GUARDING * np.concatenate(each[7])
        seconds = np.maximum(ticks - seats[SEAT_SINCE], 0) * there / plan.tick_rate
        bodies[:, ~there] = np.nan

        def shaped(array: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.moveaxis(array.reshape(len(array), count, len(ticks) // count), 0, 2)

        self._stretches.append(
            _Stretch(
                cast=self._cast,
                positions=shaped(bodies[:3]),
                ahead=shaped(bodies[FRAME_AHEAD:]),
                poses=shaped(np.where(there, pose_rows(marks, ticks), np.nan)[None])[:, :, 0],
                pools=shaped(pools),
                scores=shaped(counted_after(plan, counters, seconds)),
                hidden=np.where(there, hidden_in(plan, marks), 0).reshape(count, -1),
                conditions=np.where(there, conditions, 0).reshape(count, -1),
            )
        )

    def tracks(self) -> Tracks:
        """All states taken so far."""
        self._work_out()
        world, count = self._world, len(self._ticks)
        fighters = self._fighters_by_name()
        names = tuple(fighters)
        shape = (count, len(names))
        positions, ahead = np.full((*shape, 3), np.nan), np.full((*shape, 2), np.nan)
        pools, scores = (np.full((*shape, most), np.nan) for most in (world.plan.most_pools, len(world.plan.counters)))
        poses = np.full(shape, np.nan)
        hidden, conditions = np.zeros((2, *shape), np.int64)
        first = 0
        for stretch in self._stretches:
            states = slice(first, first + len(stretch.poses))
            taken = [seat for seat, name in enumerate(stretch.cast[0]) if name]
            to = [names.index(stretch.cast[0][seat]) for seat in taken]
            for whole, part in (
                (positions, stretch.positions), (ahead, stretch.ahead), (poses, stretch.poses), (pools, stretch.pools),
                (scores, stretch.scores), (hidden, stretch.hidden), (conditions, stretch.conditions),
            ):  # fmt: skip
                whole[states, to] = part[:, taken]
            first = states.stop
        for seat, fighter in enumerate(fighters.values()):
            pools[:, seat, len(fighter.bears.pools) :] = np.nan
        columns = ["xyz".index(axis) for axis in world.plan.plane.axes]
        ticks = np.array(self._ticks)
        return Tracks(
            seats=names,
            pool_names=tuple(tuple(pool.name for pool in fighter.bears.pools) for fighter in fighters.values()),
            ticks=ticks,
            times=ticks / world.plan.tick_rate,
            alive=~np.isnan(ahead[:, :, 0]),
            positions=positions[:, :, columns],
            ahead=ahead,
            poses=poses,
            hidden=hidden,
            pools=pools,
            conditions=conditions,
            scores=scores,
            live_shots=np.array([len(ids) for ids, _ in self._shots]),
            shot_states=np.repeat(np.arange(count), [len(ids) for ids, _ in self._shots]),
            shot_ids=np.concatenate([ids for ids, _ in self._shots]),
            shot_positions=np.concatenate([places for _, places in self._shots])[:, columns],
        )

    def _fighters_by_name(self) -> dict[str, FighterPlan]:
        """Every seat that was there, in the order in which they came, with the last fighter it was."""
        world = self._world
        now = world.block.seat_marks[SEAT_FIGHTER, : len(world.names)].tolist()
        casts = dict.fromkeys((*(stretch.cast for stretch in self._stretches), (tuple(world.names), tuple(now))))
        pairs = [pair for names, fighters in casts for pair in zip(names, fighters, strict=True)]
        return {name: world.plan.fighters[number] for name, number in pairs if name}
