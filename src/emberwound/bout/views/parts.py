"""What a body does and bears at a moment, as values: its attack, its reaction, its afflictions, its ragdoll."""

from __future__ import annotations

import msgspec


class ActionView(msgspec.Struct, frozen=True, kw_only=True):
    """The attack that a body is in: `seconds` since it began, `seconds_left` until it is over.

    While it charges up, `charging` is true and `seconds_left` is None: it waits to be let go.
    """

    attack: str
    """Which attack."""
    charging: bool
    """Whether it is held and charges up."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float | None
    """Seconds until it is over; none while it charges up."""


class ReactionView(msgspec.Struct, frozen=True, kw_only=True):
    """A running reaction: its name and variant, the part of the body, its time so far and left, how strong it is."""

    name: str
    """Row of the reaction."""
    variant: str
    """Which of its variants."""
    part: str
    """Part of the body that it moves."""
    seconds: float
    """Seconds since it began."""
    seconds_left: float
    """Seconds until it ends."""
    blend: float
    """How strong it is just then, from 0 to 1."""


class RagdollView(msgspec.Struct, frozen=True, kw_only=True):
    """A ragdoll: the place and velocity of each point, the links between them, and whether it lies still."""

    points: dict[str, tuple[float, ...]]
    """Place of each point."""
    velocities: dict[str, tuple[float, ...]]
    """Velocity of each point, lengths a second."""
    links: tuple[tuple[str, str], ...]
    """Pairs of points that keep their distance."""
    still: bool
    """Whether it lies still."""


class AfflictionView(msgspec.Struct, frozen=True, kw_only=True):
    """An affliction of a body: by whom, how strong, and how long it still lasts."""

    name: str
    """Which affliction."""
    by: str | None
    """Whose it is."""
    strength: float
    """How strong it is."""
    seconds_left: float
    """Seconds until it ends."""
