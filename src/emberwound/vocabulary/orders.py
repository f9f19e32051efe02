"""What a bout was given from outside or by its script: the only things that decide how it goes."""

from __future__ import annotations

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, ClassVar, Literal

import msgspec

Source = Literal["host", "script"]
Facing = Literal["left", "right", "foe"] | float


class Input(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all inputs say: the tick that took it, the seat, and whether a host or the bout's script gave it.

    `script_keys` are the keys of a timed order of a script that give it, by the field that each becomes. `in_tick` says
    that the coming tick does it; what is not so is done as soon as it is given.
    """

    script_keys: ClassVar[dict[str, str]] = {}
    in_tick: ClassVar[bool] = False

    tick: int
    """Tick that took it."""
    seat: str
    """Which seat."""
    source: Source
    """Who gave it."""


class Enter(Input, frozen=True, kw_only=True, tag="enter"):
    """A seat entered with a fighter, at a named entry or at a point; without a team it is a team of its own.

    Its `lives` are None when they are endless.
    """

    fighter: str
    """With which fighter."""
    at: str | tuple[float, ...]
    """Where: an entry or a point."""
    facing: Facing | None
    """Which way it faces."""
    lives: int | None
    """How many lives; none of endless ones."""
    team: str | None = None
    """Its team."""
    pools: dict[str, float] = {}
    """Maximum of those of its pools that are not as large as its fighter's."""
    damage_dealt: float = 1.0
    """Factor on the damage of all that it hits with."""
    speed_share: float = 1.0
    """Factor on its walking speed."""


class Order(Input, frozen=True, kw_only=True, tag="order"):
    """A seat was ordered to move, aim, turn, press, hold or patrol; what is None stayed as it was."""

    script_keys = {name: name for name in ("move", "aim", "facing", "press", "hold", "patrol")}

    move: float | tuple[float, ...] | None = None
    """Walk that way."""
    aim: tuple[float, ...] | None = None
    """Aim that way."""
    facing: Facing | None = None
    """Face that way."""
    press: str | None = None
    """Begin an attack."""
    hold: tuple[str, ...] | None = None
    """Hold these."""
    patrol: str | None = None
    """Walk along this path."""


class Place(Input, frozen=True, kw_only=True, tag="place"):
    """A seat's body was moved by its host; swept unless it was a teleport.

    Without `grounded` floor and walls say whether it stands; without a `posture` it keeps the one it has.
    """

    script_keys = {"position": "place", "teleport": "teleport"}

    position: tuple[float, ...]
    """Where."""
    velocity: tuple[float, ...] | None = None
    """The velocity it is said to have."""
    teleport: bool = False
    """Whether the way there is not swept."""
    grounded: bool | None = None
    """Whether it stands."""
    posture: str | None = None
    """Posture that it holds."""


class Resize(Input, frozen=True, kw_only=True, tag="resize"):
    """The maximum of a pool of a seat's body was changed for this life; the pool keeps its share of it."""

    pool: str
    """Which pool."""
    maximum: float
    """The most points it now holds."""


class SetPool(Input, frozen=True, kw_only=True, tag="set_pool"):
    """A pool of a seat's body was set by its host."""

    pool: str
    """Which pool."""
    value: float
    """The points it now holds."""


class Push(Input, frozen=True, kw_only=True, tag="push"):
    """A seat's body is pushed by its host in the coming tick."""

    in_tick = True

    velocity: tuple[float, ...]
    """Velocity along the axes of the arena."""
    mode: Literal["set", "add"]
    """Whether it replaces the velocity the body has, or is added."""


class Hurt(Input, frozen=True, kw_only=True, tag="hurt"):
    """A seat's body is wounded by its host in the coming tick, through the same ledger as by a hit."""

    in_tick = True

    points: float
    """Points of the wound, before anything changes them."""
    kind: str
    """Kind of the wound."""
    name: str
    """What stands as its attack."""
    by: str | None = None
    """Seat that is credited."""


class Heal(Input, frozen=True, kw_only=True, tag="heal"):
    """A seat's body is healed by its host in the coming tick."""

    in_tick = True

    points: float
    """Points it heals."""
    kind: str
    """Kind of the healing."""
    name: str
    """What stands as its attack."""
    by: str | None = None
    """Seat that is credited."""


class EndShot(Input, frozen=True, kw_only=True, tag="end_shot"):
    """A shot of a seat is ended by its host with the coming tick."""

    in_tick = True

    shot: int
    """Its id."""


class Leave(Input, frozen=True, kw_only=True, tag="leave"):
    """A seat leaves the bout in the coming tick, its body and its shots with it."""


class Become(Input, frozen=True, kw_only=True, tag="become"):
    """A seat's next body will be another fighter's."""

    becomes: str
    """Which fighter."""


INPUTS: tuple[type[Input], ...] = tuple(Input.__subclasses__())
"""Every input there is."""

if TYPE_CHECKING:
    AnyInput = Input
else:
    AnyInput = reduce(or_, INPUTS)
    """Every input there is, as one type to decode into."""
