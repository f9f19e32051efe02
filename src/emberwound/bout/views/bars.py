"""Bars: how a host shows the pools of bodies, worked out when asked from what changed last."""

from __future__ import annotations

import msgspec


class BarView(msgspec.Struct, frozen=True, gc=False):
    """A bar as a host draws it; shares are from 0 to 1, lengths the arena's.

    `rect` is (left, bottom, width, height) seen from the body's feet, across and up; `at` is the middle of that in the
    arena. `share` is true, `shown` glides after it, `trail` is where the last losses began and drains to it. `pips` are
    how full each pip is shown, `segments` the shares at which it is divided.
    """

    seat: str
    """Whose bar."""
    bar: str
    """Which bar of the book."""
    pool: str
    """Pool that it shows; "" of one that shows lives, a cooldown or a charge."""
    style: str
    """"bar", "pips", "number" or "ring"."""
    value: float
    """Points in the pool, lives left, or the share of a cooldown or a charge."""
    maximum: float
    """The most of that."""
    share: float
    """True share, from 0 to 1."""
    shown: float
    """Share to be shown, which eases towards the true one."""
    trail: float
    """Share from which the last losses drain."""
    visible: bool
    """Whether it is to be shown."""
    rect: tuple[float, float, float, float]
    """(left, bottom, width, height) seen from the body's feet, across and up."""
    at: tuple[float, ...]
    """Middle of the rectangle in the arena."""
    text: str
    """What it says."""
    pips: tuple[float, ...]
    """How full each pip is shown, from 0 to 1."""
    segments: tuple[float, ...]
    """Shares at which it is divided."""
    colour: str
    """Colour as "#rrggbb"."""
    pattern: str
    """Pattern of its shade."""
    outline: float
    """Width of its outline."""
    outline_colour: str
    """Colour of its outline, as "#rrggbb"."""
    alive: bool
    """Whether its body lives."""
