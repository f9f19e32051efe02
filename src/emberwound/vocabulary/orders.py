"""What a bout was told from outside or by its script: the only things that decide how it goes."""

from __future__ import annotations

from typing import Literal

import msgspec

Source = Literal["host", "script"]
Facing = Literal["left", "right", "foe"] | float


class Input(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all inputs say: the tick that took it, the seat, and whether a host or the bout's script gave it."""

    tick: int
    seat: str
    source: Source


class Enter(Input, frozen=True, kw_only=True, tag="enter"):
    """A seat entered with a fighter, at a named entry or at a point; without a team it is a team of its own.

    Its `lives` are None when they are endless.
    """

    fighter: str
    at: str | tuple[float, ...]
    facing: Facing | None
    lives: int | None
    team: str | None = None


class Order(Input, frozen=True, kw_only=True, tag="order"):
    """A seat was told to move, aim, turn, press, hold or patrol; what is None stayed as it was."""

    move: float | tuple[float, ...] | None = None
    aim: tuple[float, ...] | None = None
    facing: Facing | None = None
    press: str | None = None
    hold: tuple[str, ...] | None = None
    patrol: str | None = None


class Place(Input, frozen=True, kw_only=True, tag="place"):
    """A seat's body was moved by its host; swept unless it was a teleport.

    Without `grounded` floor and walls say whether it stands; without a `posture` it keeps the one it has.
    """

    position: tuple[float, ...]
    velocity: tuple[float, ...] | None = None
    teleport: bool = False
    grounded: bool | None = None
    posture: str | None = None


class Resize(Input, frozen=True, kw_only=True, tag="resize"):
    """The maximum of a pool of a seat's body was changed for this life; the pool keeps its share of it."""

    pool: str
    maximum: float


class Leave(Input, frozen=True, kw_only=True, tag="leave"):
    """A seat leaves the bout in the coming tick, its body and its shots with it."""


class Become(Input, frozen=True, kw_only=True, tag="become"):
    """A seat's next body will be another fighter's."""

    becomes: str


AnyInput = Enter | Order | Place | Resize | Leave | Become
"""Every input there is, as one type to decode into."""
