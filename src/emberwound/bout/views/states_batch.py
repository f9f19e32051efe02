"""States of a bout copied tick by tick, and worked out many at once: what recorders keep of `bout.view()`."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from emberwound.bout.attacks.projectiles import place_of
from emberwound.bout.bodies.pools import held_by_many
from emberwound.bout.lives.counters import counted_after
from emberwound.bout.state.layout import Count, SeatMark, index_of_mark
from emberwound.bout.state.queries import hidden_in, is_guarding
from emberwound.geometry.layout import BodyColumn, BodyMark, ShotMark
from emberwound.geometry.pose import poses_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.world import World
    from emberwound.plan import Plan

    Reals = NDArray[np.float64]
    Wholes = NDArray[np.int64]

    Copy = tuple[Wholes, Wholes, Reals, Reals, Reals, Wholes, Reals, NDArray[np.bool_]]

PROTECTED, REACTING, GUARDING = 1, 2, 4
"""The bits of `StateRun.status_bits`."""

Cast = tuple[tuple[str, ...], tuple[int, ...]]
"""The names on the seats of a bout, and the indexes of their fighters."""

BATCH = 1 << 15
"""So many seats, over all their states, are worked out at once: copies are larger than what becomes of them."""
NO_SHOTS = (np.empty(0, np.int64), np.empty((0, 3)))


@dataclass(frozen=True, slots=True)
class StateRun:
    """States in a row with the same cast, of n states and s seats each array (n, s, ...), NaN where no body is."""

    cast: Cast
    positions: Reals
    ahead: Reals
    poses: Reals
    pools: Reals
    scores: Reals
    hidden: Wholes
    status_bits: Wholes


class StateCopier:
    """Copies the moving parts of a bout, state by state, and works them out in runs of one cast."""

    def __init__(self, world: World) -> None:
        self._world = world
        self.ticks: list[int] = []
        self.shots: list[tuple[Wholes, Reals]] = []
        self._runs: list[StateRun] = []
        self._copies: list[Copy] = []
        self._cast: Cast = ((), ())
        self.take()

    def take(self) -> None:
        """Copy the state as it is now."""
        world, counts, block = self._world, self._world.counts, self._world.block
        seats = counts[Count.SEATS]
        marks = block.seat_marks[:, :seats].copy()
        cast = (tuple(world.names), tuple(marks[SeatMark.FIGHTER].tolist()))
        if cast != self._cast or len(self._copies) * seats >= BATCH:
            self._work_out()
            self._cast = cast
        bodies = index_of_mark(marks[SeatMark.BODY])
        guarding = np.zeros(seats, bool)
        for seat in (marks[SeatMark.GUARD] * marks[SeatMark.BODY]).nonzero()[0].tolist():
            guarding[seat] = is_guarding(world, int(bodies[seat]))
        self.ticks.append(counts[Count.TICK])
        self._copies.append(
            (marks, block.body_marks[:, bodies], block.bodies[: BodyColumn.AHEAD + 2, bodies], block.pools[:, bodies],
             block.pools_max[:, bodies], block.pools_since[:, bodies], block.counters[:, :seats].copy(), guarding)
        )  # fmt: skip
        self.shots.append(self._shots_now() if counts[Count.SHOTS_FLYING] else NO_SHOTS)

    def _shots_now(self) -> tuple[Wholes, Reals]:
        block, top = self._world.block, self._world.counts[Count.SHOTS_TOP]
        columns = np.flatnonzero(block.shot_marks[ShotMark.ID, :top])
        places = [place_of(self._world, column) for column in columns.tolist()]
        return block.shot_marks[ShotMark.ID, columns], np.array(places)

    def _work_out(self) -> None:
        """Make a run of the copies at hand, all states of all seats side by side."""
        if not self._copies:
            return
        plan, count = self._world.plan, len(self._copies)
        each = list(zip(*self._copies, strict=True))
        self._copies = []
        seats, marks, bodies, held, maxima, since, counters = (np.concatenate(one, axis=1) for one in each[:7])
        ticks = np.repeat(self.ticks[-count:], seats.shape[1] // count)
        there = seats[SeatMark.BODY] > 0
        pools = np.full((len(held), len(ticks)), np.nan)
        for index in np.unique(marks[BodyMark.MODEL, there]).tolist():
            of = np.flatnonzero(there & (marks[BodyMark.MODEL] == index))
            own, _ = held_by_many(
                plan.fighters[index], marks[:, of], held[:, of], maxima[:, of], since[:, of], ticks[of], plan.tick_rate
            )
            pools[: len(own), of] = own
        status_bits = PROTECTED * (marks[BodyMark.PROTECTED] != 0) + REACTING * (
            there & (marks[BodyMark.REACTION] != 0)
        )
        status_bits += GUARDING * np.concatenate(each[7])
        seconds = np.maximum(ticks - seats[SeatMark.BODY_SINCE], 0) * there / plan.tick_rate
        bodies[:, ~there] = np.nan

        def shaped(array: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.moveaxis(array.reshape(len(array), count, len(ticks) // count), 0, 2)

        self._runs.append(
            StateRun(
                cast=self._cast,
                positions=shaped(bodies[:3]),
                ahead=shaped(bodies[BodyColumn.AHEAD :]),
                poses=shaped(np.where(there, poses_of(marks, ticks), np.nan)[None])[:, :, 0],
                pools=shaped(pools),
                scores=shaped(counted_after(plan, counters, seconds)),
                hidden=np.where(there, hidden_in(plan, marks), 0).reshape(count, -1),
                status_bits=np.where(there, status_bits, 0).reshape(count, -1),
            )
        )

    def runs(self) -> list[StateRun]:
        """All states copied so far, worked out."""
        self._work_out()
        return self._runs

    @property
    def plan(self) -> Plan:
        """The plan of the bout."""
        return self._world.plan

    def cast(self) -> Cast:
        """The names on the seats as they are now, and the indexes of their fighters."""
        world = self._world
        now = world.block.seat_marks[SeatMark.FIGHTER, : len(world.names)].tolist()
        return tuple(world.names), tuple(now)
