"""What a bout was told from outside or by its script: the only things that can change its course."""

from __future__ import annotations

from typing import Literal

import msgspec

Source = Literal["host", "script"]
Facing = Literal["left", "right"]


class Input(msgspec.Struct, frozen=True, kw_only=True, tag_field="type"):
    """What all inputs say: the tick that took it, the seat, and whether a host or the bout's script gave it."""

    tick: int
    seat: str
    source: Source


class Enter(Input, frozen=True, kw_only=True, tag="enter"):
    """A seat entered with a fighter, at a named entry or at a point."""

    fighter: str
    at: str | tuple[float, ...]
    facing: Facing | None
    lives: int


class Order(Input, frozen=True, kw_only=True, tag="order"):
    """A seat was told to aim, turn or press; what is None stayed as it was."""

    aim: tuple[float, ...] | None = None
    facing: Facing | None = None
    press: str | None = None


class Place(Input, frozen=True, kw_only=True, tag="place"):
    """A seat's body was moved by its host; swept unless it was a teleport."""

    position: tuple[float, ...]
    teleport: bool = False


AnyInput = Enter | Order | Place
"""Every input there is, as one type to decode into."""
