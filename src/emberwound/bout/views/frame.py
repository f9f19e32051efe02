"""What is seen and heard of a bout at a moment, between ticks too: fighters, shots, bars, and cues as they sound.

Arrays lie behind it; objects are made when they are asked for.
"""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property
from typing import TYPE_CHECKING, NoReturn, Protocol, TypeVar

import msgspec
import numpy as np

from emberwound.bout.attacks import projectiles
from emberwound.bout.bodies.pools import held_by_many
from emberwound.bout.state.layout import Count, CueColumn, index_of_mark
from emberwound.bout.views import bars
from emberwound.bout.views.body import body_view
from emberwound.bout.views.parts import areas_of, shot_view, solids_of_areas
from emberwound.geometry.layout import BodyColumn, BodyMark, Presence, ShotMark
from emberwound.vocabulary.errors import BoutError, unknown_name
from emberwound.vocabulary.events import Point

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from emberwound.bout.state.world import WorldState
    from emberwound.bout.views.bars import BarView
    from emberwound.bout.views.body import BodyView
    from emberwound.bout.views.parts import AreaView, ShotView
    from emberwound.plan.solids import Solid

    Reals = NDArray[np.float64]


class CueView(msgspec.Struct, frozen=True, kw_only=True):
    """A cue at this moment: `id` is the `seq` of its event, `hears` the only seat it is for, if not for all.

    `seconds` it has lasted, `seconds_left` it will; `position` is where it came about, where that is known.
    """

    cue: str
    """Which cue of the book."""
    id: int
    """`seq` of its event."""
    medium: str
    """"sound", "flash" or "shake"."""
    hears: str | None
    """The only seat that it is for; none: all."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float
    """Seconds until it ends."""
    pitch: float
    """Pitch in hertz."""
    strength: float
    """How strong it is, from 0 to 1."""
    position: Point | None
    """Where it comes from, where that is known."""


def sounding(world: WorldState) -> tuple[CueView, ...]:
    """All cues that have begun and are not over, in the order in which they were given."""
    now = world.counts[Count.TICK] / world.plan.tick_rate
    begun, over = world.block.cues[CueColumn.STARTS], world.block.cues[CueColumn.ENDS]
    places = ((begun <= now) & (now < over)).nonzero()[0].tolist()
    return tuple(sorted((_view(world, place, now) for place in places), key=lambda view: view.id))


def _view(world: WorldState, place: int, now: float) -> CueView:
    cues = world.plan.cues
    cue = cues[bisect_right(cues, place, key=lambda each: each.first_place) - 1]
    starts, ends, pitch, known, *at = world.block.cues[:, place].tolist()
    seat = (place - cue.first_place) // cue.places
    return CueView(
        cue=cue.name,
        id=int(world.block.cue_numbers[place]) - 1,
        medium=cue.table.medium,
        hears=None if cue.table.audience == "everyone" else world.names[seat],
        seconds=now - starts,
        seconds_left=ends - now,
        pitch=pitch,
        strength=cue.table.strength,
        position=world.point(at) if known else None,
    )


Values = TypeVar("Values", bound="NDArray[np.generic]")


def _frozen(values: Values) -> Values:
    """An array of the view's own that nobody can change."""
    values.flags.writeable = False
    return values


class Named(Protocol):
    """What goes by a name: a handle on a seat or a prop."""

    @property
    def name(self) -> str:
        """The name."""


class View:
    """A frozen picture of a bout between two ticks; it stays as it is while the bout goes on.

    `tick` is the number of ticks run and `time` the seconds. A smooth one has its bodies moved on along their
    velocities, and its shots along their flight, by the part of a tick that `Bout.advance` has kept.

    In bulk, all in the order in which the bodies came: `seats` are names (a prop has its own), `positions` (n, axes),
    `velocities` (n, axes) in lengths a second, `headings` (n, 2) unit directions on the ground, `alive` (n,), and
    `pools`, by the name of a pool the points (n,), NaN for bodies without it.
    """

    _world: WorldState
    _more: float
    _indexes: NDArray[np.int64]

    def __init__(self) -> None:
        raise BoutError("a view comes from bout.view()")

    @property
    def tick(self) -> int:
        """The number of ticks run."""
        return self._world.counts[Count.TICK]

    @property
    def time(self) -> float:
        """Seconds run, with the part of a tick that a smooth view counts in."""
        return (self.tick + self._more) / self._world.plan.tick_rate

    @property
    def arena(self) -> str:
        """The name of the arena."""
        return self._world.plan.arena

    @property
    def axes(self) -> tuple[str, ...]:
        """The axes of all points: ("x", "z") in an arena seen from the side."""
        return self._world.plan.space.axes

    @property
    def over(self) -> bool:
        """Whether the bout has ended."""
        return bool(self._world.counts[Count.OVER])

    @cached_property
    def seats(self) -> tuple[str, ...]:
        """Whose body each is; of a prop its own name."""
        names = self._world.names
        owners = index_of_mark(self._world.block.body_marks[BodyMark.OWNER, self._indexes])
        return tuple(names[owner] for owner in owners.tolist())

    @cached_property
    def positions(self) -> Reals:
        """Where each body stands, (n, axes)."""
        return self._flat(self._places())

    @cached_property
    def velocities(self) -> Reals:
        """How fast each body moves, (n, axes)."""
        return self._flat(self._columns(BodyColumn.VELOCITY, 3))

    @cached_property
    def headings(self) -> Reals:
        """The unit direction on the ground that each body faces, (n, 2)."""
        return _frozen(self._columns(BodyColumn.AHEAD, 2).T)

    @cached_property
    def alive(self) -> NDArray[np.bool_]:
        """Whether each is a living body, (n,): no corpse and no prop."""
        return _frozen(np.asarray(self._world.block.body_marks[BodyMark.PRESENCE, self._indexes] == Presence.LIVE))

    @cached_property
    def pools(self) -> dict[str, Reals]:
        """The points of each pool by its name, (n,) each, NaN for bodies without it."""
        world, block = self._world, self._world.block
        names = dict.fromkeys(pool.name for fighter in world.plan.fighters for pool in fighter.stats.pools)
        found = {name: np.full(len(self._indexes), np.nan) for name in names}
        models = block.body_marks[BodyMark.MODEL, self._indexes]
        for fighter in world.plan.fighters:
            of = (models == fighter.id).nonzero()[0]
            if not of.size or not fighter.stats.pools:
                continue
            at = self._indexes[of]
            ticks = np.full(len(at), self.tick + self._more)
            held, _ = held_by_many(
                fighter,
                block.body_marks[:, at],
                block.pools[:, at],
                block.pools_max[:, at],
                block.pools_since[:, at],
                ticks,
                world.plan.tick_rate,
            )
            for pool, values in zip(fighter.stats.pools, held, strict=True):
                found[pool.name][of] = values
        return {name: _frozen(values) for name, values in found.items()}

    @cached_property
    def bodies(self) -> tuple[BodyView, ...]:
        """All living bodies, in the order in which they came."""
        return tuple(each for each in self._all if each.presence == "living")

    @cached_property
    def corpses(self) -> tuple[BodyView, ...]:
        """All corpses."""
        return tuple(each for each in self._all if each.presence == "corpse")

    @cached_property
    def props(self) -> tuple[BodyView, ...]:
        """All props."""
        return tuple(each for each in self._all if each.presence == "prop")

    def body(self, seat: str | Named) -> BodyView:
        """The living body of a seat, or a prop, by its name or handle. Raises BoutError when there is none."""
        name = getattr(seat, "name", seat)
        for each in self._all if isinstance(name, str) else ():
            if each.seat == name and each.presence != "corpse":
                return each
        raise BoutError(unknown_name("living body of seat", name, [each.seat for each in self.bodies]))

    @cached_property
    def shots(self) -> tuple[ShotView, ...]:
        """All shots in flight, in the order in which they left."""
        return tuple(shot_view(self._world, shot, self._more) for shot in self._flying.tolist())

    @property
    def shot_count(self) -> int:
        """How many shots are in flight."""
        return self._world.counts[Count.SHOTS_FLYING]

    @cached_property
    def shot_positions(self) -> tuple[NDArray[np.int64], Reals]:
        """The ids of all shots in flight (k,), in the order in which they left, and where they are (k, axes)."""
        places = [projectiles.place_of(self._world, shot, self._more) for shot in self._flying.tolist()]
        ids = self._world.block.shot_marks[ShotMark.ID, self._flying]
        return _frozen(ids), self._flat(np.array(places, float).reshape(-1, 3).T)

    @cached_property
    def areas(self) -> tuple[AreaView, ...]:
        """All hazards, then checkpoints, then pickups, each in file order."""
        return areas_of(self._world)

    @cached_property
    def bars(self) -> list[BarView]:
        """The bars of all bodies as plain values to be drawn, body by body, the lowest bar first."""
        return bars.bar_views(self._world, self._more)

    @cached_property
    def cues(self) -> tuple[CueView, ...]:
        """What is to be heard and seen at this moment; each cue's beginning is an event besides."""
        return sounding(self._world)

    @cached_property
    def _flying(self) -> NDArray[np.int64]:
        """The columns of the shots in flight, in the order in which they left."""
        ids = self._world.block.shot_marks[ShotMark.ID]
        columns: NDArray[np.int64] = ids.nonzero()[0]
        return np.asarray(columns[np.argsort(ids[columns])])

    @cached_property
    def _all(self) -> tuple[BodyView, ...]:
        return tuple(body_view(self._world, index, self._more) for index in self._indexes.tolist())

    def _columns(self, first: int, count: int) -> Reals:
        return self._world.block.bodies[first : first + count, self._indexes]

    def _places(self) -> Reals:
        places = self._columns(BodyColumn.START, 3)
        if self._more:
            moves = self._world.block.body_marks[BodyMark.FROZEN_UNTIL, self._indexes] == 0
            more = moves * (self._more / self._world.plan.tick_rate)
            places = places + self._columns(BodyColumn.VELOCITY, 3) * more
        return places

    def _flat(self, vectors: Reals) -> Reals:
        """Vectors (3, n) as points of the arena, (n, axes)."""
        return _frozen(vectors[["xyz".index(axis) for axis in self.axes]].T)

    def __reduce_ex__(self, _protocol: object) -> NoReturn:
        raise BoutError(
            "a view cannot be copied or pickled; it stays as it is, so keep it, or the plain values it gives"
        )

    def __repr__(self) -> str:
        return f"<View of {self.arena}: tick {self.tick}, {len(self._indexes)} bodies, {self.shot_count} shots>"


def view_of(world: WorldState, more: float) -> View:
    """The state at hand, `more` ticks after it."""
    view = View.__new__(View)
    view._world, view._more = world.still(), more  # noqa: SLF001 (this makes it)
    marks = view._world.block.body_marks  # noqa: SLF001
    ids = marks[BodyMark.ID].nonzero()[0]
    view._indexes = ids[np.argsort(marks[BodyMark.ID, ids])] if len(ids) > 1 else ids  # noqa: SLF001
    return view


def area_solids_of(view: View) -> list[Solid]:
    """The shapes of all areas in space, in the order of `View.areas`."""
    return solids_of_areas(view._world)  # noqa: SLF001 (for the floors above)
